"""What stands on a build sheet, as plain data: the ledger, findings, steps by stage, cautions, what to pack."""

from collections import Counter

from farrail.assembly.cautions import cautions_of
from farrail.assembly.steps import minutes_of, steps_of
from farrail.parts.registry import Part
from farrail.planning.customs import customs_of
from farrail.readouts.read import Readout
from farrail.text.customs import custom_words
from farrail.text.findings import reason_of, text_of
from farrail.text.names import glass_name, line_name, requirement_name
from farrail.text.steps import STAGES, TOOLS, caution_words, told
from farrail.text.values import headed, mass_words, signed
from farrail.text.verdicts import detail, headline
from farrail.train.rows import Shelf

# An error that two decimals show as nothing.
LANDED_MM = 0.005
MARKS = {"measured": "● measured", "published": "□ published", "assumed": "△ assumed"}


def sheet_data(readout: Readout, workbook: str, day: str, shelf: Shelf | None = None) -> dict[str, object]:
    """Return what a build sheet of a train says.

    Args:
        readout: the train, read.
        workbook: name of its workbook.
        day: the day it is printed on.
        shelf: what is at hand, for what is done in two ways; None: only what the train has.
    """
    layout = readout.layout
    steps = steps_of(layout)
    done = {tick.step for tick in layout.train.ticks}
    stages: list[dict[str, object]] = []
    for stage, title in STAGES.items():
        mine = [
            {"key": s.key, "number": s.number, **vars(told(s)), "tool": TOOLS[s.tool] if s.tool is not None else "",
             "done": s.key in done}
            for s in steps if s.stage is stage
        ]  # fmt: skip
        if mine:
            stages.append({"title": title, "steps": mine})
    return {
        "train": layout.train.name, "key": layout.train.id, "workbook": workbook, "day": day,
        "verdict": headline(readout.verdict), "detail": detail(readout.verdict), "stopped": readout.stops,
        "ledger": ledger_rows(readout),
        "findings": [{"judgement": text_of(one), "reason": reason_of(one)} for one in readout.findings],
        "stages": stages, "minutes": f"{max(minutes_of(steps), 1.0):.0f}",
        "customs": [custom_words(one) for one in customs_of(readout.front, layout.parts if shelf is None else shelf)],
        "cautions": [caution_words(one) for one in cautions_of(layout)], "pack": pack_rows([readout]),
        "mass": packed_mass([readout]),
    }  # fmt: skip


def ledger_rows(readout: Readout) -> list[dict[str, str]]:
    """Return the running total from the datum to the sensor, and what is required, line by line."""
    spacing = readout.spacing
    rows = [
        {"name": headed(line_name(line)), "length": f"{line.length.value:.2f}", "to_here": f"{line.to_here_mm:.2f}",
         "origin": MARKS[str(line.length.origin)]}
        for line in spacing.lines
    ]  # fmt: skip
    need, required, error = spacing.requirement, spacing.required_mm, spacing.error_mm
    if need is not None:
        rows.append({"name": headed(requirement_name(need)), "length": "", "to_here": f"{need.distance.value:.2f}",
                     "origin": MARKS[str(need.distance.origin)]})  # fmt: skip
    for glass in spacing.glass_lines:
        if glass.counted:
            shift, origin = f"+{glass.glass.shift_mm:.2f}", MARKS[str(glass.glass.origin)]
            rows.append({"name": f"Glass of {glass_name(glass)}", "length": shift, "to_here": "", "origin": origin})
    if required is not None and error is not None:
        rows.append({"name": "Required", "length": "", "to_here": f"{required:.2f}", "origin": ""})
        side = "" if abs(error) < LANDED_MM else "too short" if error < 0.0 else "too long"
        told_error = "0.00" if not side else signed(error)
        rows.append({"name": "Error", "length": "", "to_here": told_error, "origin": side})
    return rows


def pack_rows(readouts: list[Readout]) -> list[dict[str, object]]:
    """Return what to pack for trains, shared parts once, then the tools their steps need and small spares."""
    tools: dict[str, str] = {}
    for readout in readouts:
        for step in steps_of(readout.layout):
            if step.tool is not None:
                tools[step.tool.value] = TOOLS[step.tool]
    rows: list[dict[str, object]] = [
        {"key": part.id, "name": part.name, "count": count, "note": _mass(part.mass_g)}
        for part, count in _taken(readouts)
    ]
    rows += [{"key": f"tool-{key}", "name": headed(name), "count": 1, "note": ""} for key, name in tools.items()]
    spares = "knobs, screws, a gasket, cloths, caps for every end"
    return [*rows, {"key": "spares", "name": "Small spares", "count": 1, "note": spares}]


def _taken(readouts: list[Readout]) -> list[tuple[Part, int]]:
    """Return the parts of trains and how many: what two share is taken once; what one has twice, twice."""
    counts: Counter[str] = Counter()
    parts: dict[str, Part] = {}
    for readout in readouts:
        counts |= Counter(readout.layout.train.part_ids())
        parts |= readout.layout.parts
    return [(parts[part_id], count) for part_id, count in counts.items()]


def _mass(mass_g: float | None) -> str:
    return "" if mass_g is None else mass_words(mass_g)


def packed_mass(readouts: list[Readout]) -> str:
    """Return what all parts of trains weigh together, with how many nobody has weighed; "" where none has been."""
    taken = _taken(readouts)
    known = sum(count * part.mass_g for part, count in taken if part.mass_g is not None)
    missing = sum(count for part, count in taken if part.mass_g is None)
    if not known:
        return ""
    if not missing:
        return f"All parts together {mass_words(known)}."
    return f"What is weighed comes to {mass_words(known)}; {missing} {'part is' if missing == 1 else 'parts are'} not."
