"""The log as a table: CSV out and in, one observation a row.

Out: every observation with what was predicted beside it. In: a row names its kind, its train and its day; its other
columns are the kind's own fields. A train is taken as it is when the table is read.
"""

import csv
import io
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from farrail.errors import BadInput, EditRefused
from farrail.exchange.csv_shelf import guarded
from farrail.language import say
from farrail.logbook.beside import compared_then
from farrail.logbook.entered import entered, with_tolerance
from farrail.logbook.observation import Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.state import State, state_on
from farrail.logbook.words import difference_words
from farrail.parts.written import Written
from farrail.train.train import Train
from farrail.workbook.edits.log import WriteDown, made
from farrail.workbook.workbook import Workbook

LEADING = ("kind", "day", "time", "train", "place", "weather")
TOLD = ("predicted", "agreement", "difference", "sentence")
MOST_ROWS = 20_000
MOST_BYTES = 20_000_000
_DAY = re.compile(r"^\d{4}-\d{2}-\d{2}$")


def log_to_csv(log: Sequence[Observation], states: dict[str, State], *, delimiter: str = ",") -> str:
    """Return observations as CSV with the columns they use, and beside each what was predicted then."""
    rows = [{name: text for name, text in _cells(seen).items() if text} for seen in log]
    used = {name for row in rows for name in row}
    columns = [*LEADING, *sorted(used - set(LEADING)), *TOLD]
    sheet = io.StringIO()
    writer = csv.DictWriter(sheet, columns, restval="", delimiter=delimiter)
    writer.writeheader()
    for seen, row in zip(log, rows, strict=True):
        compared = compared_then(seen, states[seen.state])
        told: dict[str, str] = {}
        if compared is not None:
            predicted, difference = compared.predicted, compared.difference
            told = {
                "predicted": "" if predicted is None else _text(predicted), "agreement": compared.agreement,
                "difference": "" if difference is None else _text(difference), "sentence": difference_words(compared),
            }  # fmt: skip
        writer.writerow({name: guarded(text) for name, text in (row | told).items()})
    return sheet.getvalue()


def _cells(seen: Observation) -> dict[str, str]:
    data = seen.model_dump(mode="json", exclude_defaults=True, exclude={"id", "state"})
    return {"kind": seen.kind, **{name: _text(value) for name, value in data.items() if name != "kind"}}


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.10g}"
    if isinstance(value, list | tuple):
        return " ".join(str(one) for one in value)
    return str(value)


@dataclass(frozen=True)
class LogRow:
    """One row of a table that was read: the edit that writes it down, or why it makes none.

    Attributes:
        line: its line in the file, the header being 1.
        edit: what writes it down; None for a bad row.
        reason: why it is bad.
        same: whether the log has this very observation already: nothing is lost by leaving the row out.
    """

    line: int
    edit: WriteDown | None
    reason: str = ""
    same: bool = False


def read_log_csv(text: str, workbook: Workbook) -> tuple[LogRow, ...]:
    """Read a table of observations; nothing is written down yet.

    Raises:
        BadInput: it is no table, or has no columns “kind”, “train” and “day”.
    """
    if len(text) > MOST_BYTES:
        raise BadInput("That table is larger than 20 MB; split it.")
    dialect = ";" if text.partition("\n")[0].count(";") > text.partition("\n")[0].count(",") else ","
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), delimiter=dialect, strict=True)
    try:
        names = [name.strip() for name in reader.fieldnames or ()]
        missing = [name for name in ("kind", "train", "day") if name not in names]
        if missing:
            raise BadInput(
                "The table has no column “{missing}”; its first line names kind, train, day and what was seen.",
                missing=missing[0],
            )
        return tuple(_rows(reader, workbook))
    except csv.Error as error:
        raise BadInput(
            "The table cannot be read at line {line_num}: {error}; save it as CSV again.",
            line_num=reader.line_num,
            error=error,
        ) from None


def _rows(reader: "csv.DictReader[str]", workbook: Workbook) -> Iterator[LogRow]:
    trains = {key: train for train in workbook.trains for key in (train.id, train.name)}
    known = {_told(seen) for seen in workbook.log}
    for count, raw in enumerate(reader):
        if count >= MOST_ROWS:
            raise BadInput("The table has more than {most_rows} rows; split it.", most_rows=MOST_ROWS)
        if None in raw:
            yield LogRow(reader.line_num, None, "it has more cells than the header has columns")
            continue
        row = {str(name).strip(): (text or "").strip().removeprefix("'") for name, text in raw.items()}
        if not any(row.values()):
            continue
        try:
            edit = _edit(row, trains, workbook)
            if _told(edit) in known:
                yield LogRow(reader.line_num, None, say("it is in the log already"), same=True)
            else:
                yield LogRow(reader.line_num, edit)
        except (EditRefused, BadInput) as error:
            yield LogRow(reader.line_num, None, str(error))


def _told(one: WriteDown | Observation) -> str:
    """Return what an observation says, in one text by which equal ones are known."""
    if isinstance(one, WriteDown):
        one = made(one.kind, {"id": "x", "train": one.train_id, "state": "x", "day": one.day, **one.values})
    return one.model_dump_json(exclude={"id", "state", "aside"})


def _edit(row: dict[str, str], trains: dict[str, Train], workbook: Workbook) -> WriteDown:
    kind = OBSERVATIONS.get(row["kind"])
    if kind is None:
        raise BadInput(
            "The kind “{row}” is not known; known are {listed}.", row=row["kind"][:40], listed=", ".join(OBSERVATIONS)
        )
    train = trains.get(row["train"])
    if train is None:
        raise BadInput("There is no train “{row}”; use a name or id of the workbook.", row=row["train"][:60])
    day = checked_day(row["day"])
    values: dict[str, Any] = {}
    tolerances: dict[str, float] = {}
    for name, text in row.items():
        if text and name not in ("kind", "train", "day", "id", "state", *TOLD):
            value = _value(kind, name, text)
            if isinstance(value, Written):
                tolerances[name] = value.tolerance
                value = int(value.low) if "float" not in str(kind.model_fields[name].annotation) else value.low
            values[name] = value
    values = with_tolerance(kind, values, tolerances)
    made(kind, {"id": "x", "train": train.id, "state": "x", "day": day, **values})
    then = state_on(workbook.states, train, day)
    return WriteDown(kind, train.id, day, values, None if then is None else then.id)


def checked_day(text: str, today: date | None = None) -> str:
    """Return a day as it is kept.

    Raises:
        BadInput: it is no day, or is in the future.
    """
    try:
        day = date.fromisoformat(text) if _DAY.match(text) else None
    except ValueError:
        day = None
    if day is None:
        raise BadInput("“{text}” is no day; write 2026-10-03.", text=text[:30])
    if day > (today or date.today()):
        raise BadInput("{text} is in the future; enter the day of the observation.", text=text)
    return text


def _value(kind: type[Observation], name: str, text: str) -> Any:
    """Return a cell as the kind's field takes it.

    Raises:
        BadInput: the kind has no such field, or a number is none.
    """
    info = kind.model_fields.get(name)
    if info is None:
        raise BadInput(
            "“{kind_name}” has no column “{name}”; leave it empty.", kind_name=kind.kind_name, name=name[:40]
        )
    if name == "corners":
        return tuple(text.split())
    annotation = str(info.annotation)
    if info.annotation is bool:
        if text.lower() not in ("yes", "no", "true", "false"):
            raise BadInput("“{text}” in “{name}” is neither yes nor no.", text=text[:30], name=name)
        return text.lower() in ("yes", "true")
    if "float" in annotation or "int" in annotation:
        return entered(kind, name, text)
    return text
