"""`far-rail steps FILE --train NAME`: how a train goes together, step by step."""

import math
from pathlib import Path

from farrail.assembly.cautions import cautions_of
from farrail.assembly.model import Step
from farrail.assembly.stages import Start
from farrail.assembly.steps import minutes_of, steps_of
from farrail.cli.printing import FINE, print_json
from farrail.language import say
from farrail.planning.practice_words import practice_words
from farrail.planning.practices import practices_of
from farrail.readouts.read import read
from farrail.text.pack import pack_rows, packed_mass
from farrail.text.steps import STAGES, STARTS, TOOLS, caution_words, step_words
from farrail.workbook.store import read_file


def run(file: Path, train: str, *, start: Start, as_json: bool) -> int:
    """Print the steps of a train and its cautions; returns the exit code.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    readout = read(workbook.train(train), workbook.by_id)
    layout = readout.layout
    steps, cautions = steps_of(layout, start), cautions_of(layout)
    customs = practices_of(readout.front, workbook.by_id)
    done = {tick.step: tick.day for tick in layout.train.ticks}
    if as_json:
        print_json(
            {
                "train": layout.train.id, "start": start.value, "minutes": minutes_of(steps),
                "steps": [_data(step, done.get(step.key)) for step in steps],
                "either_way": [
                    {"key": one.key, "part": one.part, "ways": [
                        {"key": way.key, "first_clean_mm": way.first_clean_mm,
                         "corner_stops": way.corner_stops if math.isfinite(way.corner_stops) else None,
                         "as_it_lies": way.here} for way in one.ways
                    ]} for one in customs
                ],
                "cautions": [{"key": one.key, "text": " ".join(caution_words(one))} for one in cautions],
            }
        )  # fmt: skip
        return FINE
    print(
        say(
            "{name}, {starts}: {count} steps, about {minutes_of:.0f} minutes",
            name=layout.train.name,
            starts=STARTS[start],
            count=len(steps),
            minutes_of=minutes_of(steps),
        )
    )
    stage = None
    for step in steps:
        if step.stage is not stage:
            stage = step.stage
            print(f"\n{STAGES[stage]}")
        words = step_words(step)
        tool = "" if step.tool is None else f" [{TOOLS[step.tool]}]"
        print(f" {step.number:2}. {words.what}{tool}\n     {words.how} {words.why}")
    print(say("\nCautions"))
    for caution in cautions:
        print(f"  {' '.join(caution_words(caution))}")
    for head, lines in map(practice_words, customs):
        print(say("\nDone either way: {head}", head=head))
        for line in lines:
            print(f"  {line}")
    return FINE


def _data(step: Step, day: str | None) -> dict[str, object]:
    words = step_words(step)
    place = step.hit.place
    return {
        "key": step.key, "rule": step.rule, "stage": step.stage.value, "what": words.what, "how": words.how,
        "why": words.why, "tool": step.tool.value if step.tool is not None else None, "minutes": step.minutes,
        "part": step.hit.part or None, "done": day, "joint": step.hit.joint,
        "place": None if place is None else {"side": place.side.value, "index": place.index, "slot": place.slot},
    }  # fmt: skip


def pack(file: Path, trains: list[str], *, as_json: bool) -> int:
    """Print what to pack for trains; returns the exit code.

    Raises:
        FarRailError: the file or a train cannot be read.
    """
    workbook = read_file(file).workbook
    readouts = [read(workbook.train(name), workbook.by_id) for name in trains]
    rows = pack_rows(readouts, workbook.by_id)
    if as_json:
        print_json({"parts": rows})
        return FINE
    for row in rows:
        note = f" ({row['note']})" if row["note"] else ""
        many = f"{row['count']} × " if row["count"] != 1 else ""
        print(f"{'   ' if row['into'] else ''}☐ {many}{row['name']}{note}")
    if mass := packed_mass(readouts, workbook.by_id):
        print(mass)
    return FINE
