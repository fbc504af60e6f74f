"""`far-rail log`, `far-rail calibrate` and `far-rail compare`: observations, calibration, trains side by side."""

import math
from dataclasses import asdict
from pathlib import Path
from typing import Any

from farrail.cli.edit import locked
from farrail.cli.printing import FINE, print_json, shortened
from farrail.errors import BadInput
from farrail.exchange.csv_log import log_to_csv, read_log_csv
from farrail.language import joined, say, say_n
from farrail.logbook.beside import compared_then
from farrail.logbook.better import Ends, ends_of
from farrail.logbook.compare_words import ability_words, cell_words, deciding_words, line_label, wish_words
from farrail.logbook.learning.doubts import contested, doubts_of, without_outvoted
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found, Refused
from farrail.logbook.learning.spacing_stars import back_focus_of, ladder_of, works_as_it_lies
from farrail.logbook.next_best import next_best
from farrail.logbook.observation import Compared, Observation
from farrail.logbook.seen_words import seen_words
from farrail.logbook.side_by_side import LEAST, MOST, Column, SideBySide
from farrail.logbook.words import (
    difference_words,
    doubt_words,
    found_words,
    ladder_words,
    next_words,
    refused_words,
    works_words,
)
from farrail.parts.kinds.telescopes import Corrector
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.workbook.edits.learnt import TakeOver, shelf_with
from farrail.workbook.edits.log import ImportObservations
from farrail.workbook.store import read_file, read_text, write_file
from farrail.workbook.workbook import Workbook

SOME_BAD = 1


def evidence_of(workbook: Workbook) -> Evidence:
    """Return a workbook's log with what its states and its shelf say."""
    return Evidence.of(workbook.log, workbook.states_by_id, workbook.by_id)


def run(file: Path, train: str | None, *, as_json: bool, as_csv: bool) -> int:
    """Print the log, of one train or of all; returns the exit code.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    key = None if train is None else workbook.train(train).id
    log = [seen for seen in workbook.log if key is None or seen.train == key]
    log.sort(key=lambda seen: (seen.day, seen.time))
    if as_csv:
        print(log_to_csv(log, workbook.states_by_id), end="")
        return FINE
    sides = [compared_then(seen, workbook.states_by_id[seen.state]) for seen in log]
    if as_json:
        print_json({"entries": [_data(seen, side) for seen, side in zip(log, sides, strict=True)]})
        return FINE
    if not log:
        print(say("The log is empty."))
    for seen, side in zip(log, sides, strict=True):
        state = workbook.states_by_id[seen.state]
        line = difference_words(side)
        print(f"{seen.day}  {state.train.name}: {seen_words(seen, state.by_id)}{f'. {line}' if line else ''}")
    return FINE


def _data(seen: Observation, side: Compared | None) -> dict[str, Any]:
    compared = None if side is None else {
        "observed": side.observed, "predicted": side.predicted, "difference": side.difference, "unit": side.unit,
        "agreement": side.agreement.value, "rests_on": side.rests_on.value,
    }  # fmt: skip
    return {**seen.model_dump(mode="json", exclude_defaults=True), "id": seen.id, "compared": compared}


def bring_in(file: Path, table: Path) -> int:
    """Write the observations of a table into a workbook; returns the exit code, 1 where a row was left out.

    Raises:
        FarRailError: a file cannot be read or written, or the table is none.
    """
    opened = read_file(file)
    rows = read_log_csv(read_text(table), opened.workbook)
    good = tuple(row.edit for row in rows if row.edit is not None)
    same = sum(row.same for row in rows)
    for row in rows:
        if row.edit is None and not row.same:
            print(say("Line {line}: {reason}", line=row.line, reason=row.reason))
    if good:
        write_file(file, ImportObservations(good).apply(opened.workbook), opened.digest)
    line = say_n(
        "{count} observation saved, {count_2} left out.",
        "{count} observations saved, {count_2} left out.",
        len(good),
        count=len(good),
        count_2=len(rows) - len(good) - same,
    )
    print(joined(line, say("{count} in the log already.", count=same) if same else ""))
    return FINE if len(good) + same == len(rows) else SOME_BAD


def calibrate(file: Path, train: str, *, as_json: bool) -> int:
    """Print what the log calibrates of a train's parts, what it cannot say yet, and what to look at next.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    one, evidence, shelf = workbook.train(train), evidence_of(workbook), workbook.by_id
    doubts = doubts_of(evidence)
    evidence = without_outvoted(evidence, doubts)
    found, refused = learn(evidence, one)
    ladders = [ladder for part_id in dict.fromkeys(one.part_ids()) if isinstance(part := shelf[part_id], Corrector)
               and (ladder := ladder_of(evidence, part, back_focus_of(one, shelf, part.id))) is not None]  # fmt: skip
    unsure = contested(doubts)
    best = next_best(one, shelf_with(workbook, [item for item in found if not unsure & set(item.seen)]))
    if as_json:
        print_json({
            "found": {item.key: _found(item) for item in found},
            "refused": [_refused(item, workbook) for item in refused],
            "doubts": [asdict(doubt) for doubt in doubts],
            "next_spacing": [{"part": ladder.corrector, "add_mm": ladder.add_mm, "done": ladder.done,
                              "low_mm": ladder.low_mm, "high_mm": ladder.high_mm} for ladder in ladders],
            "next_best": [{"figure": item.open.figure, "kind": item.kind or None, "part": item.part or None,
                           "path": item.path or None, "left": item.left} for item in best],
        })  # fmt: skip
        return FINE
    if not (found or refused or ladders or best):
        print(say("Nothing to calibrate yet: log what you see with this train."))
    works = works_as_it_lies(evidence, one)
    if works is not None:
        print(works_words(works))
    for doubt in doubts:
        print(doubt_words(doubt, workbook.log_by_id, shelf))
    for value in found:
        print(f"{found_words(value, shelf)}  ({value.key})")
    for untold in refused:
        print(refused_words(untold, shelf))
    for ladder in ladders:
        print(ladder_words(ladder, shelf))
    for one_best in best:
        print(next_words(one_best, shelf))
    return FINE


def apply_values(file: Path, train: str, keys: list[str]) -> int:
    """Put calibrated values into their parts and save; the earlier version stays as a backup. Returns the exit code.

    Args:
        file: the workbook.
        train: name or id of the train whose parts are calibrated.
        keys: of the values, as `calibrate` and its JSON give them; a part's name or id stands for all of its values.

    Raises:
        FarRailError: nothing was changed.
    """
    lock = locked(file)
    try:
        opened = read_file(file)
        workbook = opened.workbook
        evidence = evidence_of(workbook)
        found, _ = learn(without_outvoted(evidence, doubts_of(evidence)), workbook.train(train))
        picked: list[Found] = []
        for key in keys:
            part = workbook.by_id.get(key)
            names = {key.casefold()} | ({part.name.casefold()} if part is not None else set())
            meant = [item for item in found if item.key == key or item.part == key
                     or workbook.by_id[item.part].name.casefold() in names]  # fmt: skip
            if not meant:
                known = ", ".join(item.key for item in found) or say("none")
                raise BadInput("“{key}” is not calibrated; the values are: {known}.", key=key, known=known)
            picked += [item for item in meant if item not in picked]
        write_file(file, TakeOver(tuple(picked)).apply(workbook), opened.digest)
    finally:
        lock.release()
    for item in picked:
        print(say("Applied: {words}", words=found_words(item, workbook.by_id)))
    return FINE


def _found(item: Found) -> dict[str, Any]:
    return {"value": item.value, "low": item.low, "high": item.high, "unit": item.unit, "from": list(item.seen),
            "taken": item.taken.value}  # fmt: skip


def _refused(item: Refused, workbook: Workbook) -> dict[str, Any]:
    return {"path": item.key, "why": item.why.value, "would_settle": item.settles.value, "from": list(item.seen),
            "sentence": refused_words(item, workbook.by_id)}  # fmt: skip


# Columns of the comparison are as wide as what is in them, within these limits.
NARROW, WIDE = 22, 36


def compare(file: Path, trains: list[str], *, as_json: bool) -> int:
    """Print two to four trains side by side; returns the exit code.

    Raises:
        FarRailError: the file or a train cannot be read, or there are too few or too many.
    """
    workbook = read_file(file).workbook
    if not LEAST <= len(trains) <= MOST:
        raise BadInput("Give two to four trains with commas between; these are {count}.", count=len(trains))
    found = [workbook.train(name) for name in trains]
    if len({train.id for train in found}) < len(found):
        raise BadInput("A train cannot be compared with itself; name two to four different ones.")
    shelf, prices = workbook.by_id, workbook.kit_prices
    side = SideBySide(tuple(
        Column(train, shelf, train.name, prices, range_report(train, shelf, EVERY)) for train in found
    ))  # fmt: skip
    if as_json:
        print_json({
            "trains": [train.id for train in found],
            "lines": [{"key": line.key, "values": [_finite(v) for v in line.values], "better": list(line.best),
                       "ranges": [_range(ends) for ends in line.ends],
                       "differs": line.differs} for line in side.lines],
            "deciding": None if side.deciding is None else side.deciding.key,
            "missing": [{"part": part.id, "count": count, "price": part.price} for part, count in side.wishes],
            "alone": [[{"ability": one.key, "value": one.value, "range": _range(ends_of(one.figure)),
                        "best_other": one.best_other} for one in side.lets_alone(n)] for n in range(len(found))],
        })  # fmt: skip
        return FINE
    print(deciding_words(side, [column.name for column in side.columns]))
    lines = [line for line in side.lines if line.differs]
    wide = max(len(line_label(line)) for line in lines) if lines else 10
    table = [
        [f"{cell_words(line, n)}{' better' if n in line.best else ''}" for n in range(len(found))] for line in lines
    ]
    width = min(max([NARROW, *(len(cell) for cells in table for cell in cells)]), WIDE)
    print(f"{'':{wide}}  " + "  ".join(f"{shortened(column.name, width):>{width}}" for column in side.columns))
    for line, cells in zip(lines, table, strict=True):
        print(f"{line_label(line):{wide}}  " + "  ".join(f"{shortened(cell, width):>{width}}" for cell in cells))
    for number, column in enumerate(side.columns):
        for ability in side.lets_alone(number):
            print(f"{column.name}: {ability_words(ability)}")
    for name, price in wish_words(side, workbook.kit_prices):
        print(say("Missing: {name}  {price}", name=name, price=price))
    return FINE


def _range(ends: Ends) -> list[float | None] | None:
    return None if ends is None else [_finite(end) for end in ends]


def _finite(value: float | None) -> float | None:
    return value if value is not None and math.isfinite(value) else None
