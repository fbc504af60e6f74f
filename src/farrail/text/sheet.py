"""What is on a build sheet, as plain data: the ledger, findings, steps by stage, cautions, what to pack."""

from farrail.assembly.cautions import cautions_of
from farrail.assembly.steps import minutes_of, steps_of
from farrail.language import N_, local_number, say
from farrail.optics.exposure import time_words
from farrail.planning.practice_words import practice_words
from farrail.planning.practices import practices_of
from farrail.quantities import headed, signed_length, unit_word
from farrail.readouts.finding import Severity
from farrail.readouts.headlines import train_headline
from farrail.readouts.read import Readout
from farrail.readouts.spacing.names import glass_name, line_name, requirement_name
from farrail.text.pack import pack_rows, packed_mass
from farrail.text.steps import STAGES, TOOLS, caution_words, step_words
from farrail.train.rows import Shelf

# An error that two decimals show as nothing.
LANDED_MM = 0.005
SEVERITY_MARKS = {Severity.STOP: "◆", Severity.LOOK: "▲", Severity.NOTE: "○"}
MARKS = {"measured": N_("● measured"), "published": N_("□ published"), "assumed": N_("△ assumed")}


def sheet_data(readout: Readout, workbook: str, day: str, shelf: Shelf | None = None) -> dict[str, object]:
    """Return what a build sheet of a train says.

    Args:
        readout: the train, read.
        workbook: name of its workbook.
        day: the day it is printed on.
        shelf: what is available, for what is done in two ways; None: only what the train has.
    """
    layout = readout.layout
    first, rest = train_headline(readout)
    steps = steps_of(layout)
    done = {tick.step for tick in layout.train.ticks}
    stages: list[dict[str, object]] = []
    for stage, title in STAGES.items():
        mine = [
            {"key": s.key, "number": s.number, **vars(step_words(s)), "done": s.key in done,
             "tool": str(TOOLS[s.tool]) if s.tool is not None else ""}
            for s in steps if s.stage is stage
        ]  # fmt: skip
        if mine:
            stages.append({"title": str(title), "steps": mine})
    return {
        "train": layout.train.name, "key": layout.train.id, "workbook": workbook, "day": day,
        "verdict": first, "detail": rest, "worst": worst_of(readout), "used": used_words(readout),
        "slots": slot_rows(readout),
        "ledger": ledger_rows(readout), "length_unit": unit_word("mm"),
        "findings": [
            {"judgement": one.title, "reason": one.reason, "severity": one.severity.value,
             "mark": SEVERITY_MARKS[one.severity]} for one in readout.findings
        ],
        "stages": stages, "minutes": say("{minutes_of:.0f}", minutes_of=max(minutes_of(steps), 1.0)),
        "customs": [
            practice_words(one) for one in practices_of(readout.front, layout.parts if shelf is None else shelf)
        ],
        "cautions": [caution_words(one) for one in cautions_of(layout)], "pack": pack_rows([readout], shelf),
        "mass": packed_mass([readout], shelf),
    }  # fmt: skip


def worst_of(readout: Readout) -> str:
    """Return how bad the worst finding is: stop, look, or good."""
    severities = {one.severity for one in readout.findings}
    return next((one.value for one in (Severity.STOP, Severity.LOOK) if one in severities), "good")


def used_words(readout: Readout) -> str:
    """Return how the train is used, in one line: focal length, aperture, and the exposure without and with filters."""
    order, exposure = readout.layout.first_order, readout.exposure
    listed = [say("{focal:g} mm, f/{number:.3g}", focal=round(order.own_focal_length.value, 1),
                number=order.f_number.value)]  # fmt: skip
    metered, longer = readout.layout.train.conditions.metered_s, exposure.time_s
    if metered is not None and longer is not None and exposure.total_stops > 0.0:
        listed.append(
            say("metered {bare}, with everything on {whole}", bare=time_words(metered), whole=time_words(longer))
        )
    return say("Used at {listed}.", listed="; ".join(listed))


def slot_rows(readout: Readout) -> list[dict[str, str]]:
    """Return what is in which slot: filters of wheels and drawers, sheets of holders with how far they are slid."""
    layout, rows = readout.layout, []
    for placed in (*layout.front, *layout.rear):
        for slot, part_id in enumerate(placed.laid.filters):
            part = layout.parts.get(part_id or "")
            slid = placed.laid.shift_mm(slot)
            where = say("{holder}, slot {number}", holder=placed.part.name, number=slot + 1)
            name = say("empty") if part is None else part.name
            rows.append(
                {
                    "where": where,
                    "holder": placed.part.name,
                    "slot": str(slot + 1),
                    "name": name,
                    "slid": say("slid {mm:+.0f} mm", mm=slid) if slid else "",
                }
            )
    return rows


def ledger_rows(readout: Readout) -> list[dict[str, str]]:
    """Return the running total from the datum to the sensor, and what is required, line by line."""
    spacing = readout.spacing
    rows = [
        {
            "name": headed(line_name(line)),
            "length": say("{value:.2f length}", value=line.length.value),
            "to_here": say("{to_here_mm:.2f length}", to_here_mm=line.to_here_mm),
            "origin": str(MARKS[line.length.origin]),
        }
        for line in spacing.lines
    ]
    need, required, error = spacing.requirement, spacing.required_mm, spacing.error_mm
    if need is not None:
        rows.append(
            {
                "name": headed(requirement_name(need)),
                "length": "",
                "to_here": say("{value:.2f length}", value=need.distance.value),
                "origin": str(MARKS[need.distance.origin]),
            }
        )
    for glass in spacing.glass_lines:
        if glass.counted:
            shift, origin = say("+{shift_mm:.2f length}", shift_mm=glass.glass.shift_mm), str(MARKS[glass.glass.origin])
            rows.append(
                {
                    "name": say("Glass of {glass_name}", glass_name=glass_name(glass)),
                    "length": shift,
                    "to_here": "",
                    "origin": origin,
                }
            )
    if required is not None and error is not None:
        rows.append(
            {
                "name": say("Required"),
                "length": "",
                "to_here": say("{required:.2f length}", required=required),
                "origin": "",
            }
        )
        side = "" if abs(error) < LANDED_MM else say("too short") if error < 0.0 else say("too long")
        told_error = local_number("0.00") if not side else signed_length(error)
        rows.append({"name": say("Error"), "length": "", "to_here": told_error, "origin": side})
    return rows
