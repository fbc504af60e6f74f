"""What is shown of a part or joint on the rail: as a tip under the pointer, and aloud."""

from collections.abc import Mapping

from farrail.language import say
from farrail.parts.registry import Part
from farrail.quantities import unit_word
from farrail.readouts.names import mismatch_phrase
from farrail.readouts.read import Readout
from farrail.train.train import Side, Train
from farrail.ui.rail.section import Body, Section
from farrail.ui.selection import Selection


def told_of(
    place: Selection, train: Train | None, readout: Readout | None, section: Section | None, shelf: Mapping[str, Part]
) -> tuple[str, str]:
    """Return the name of a part or joint, and its figures: length and provenance, thread and whether it mates."""
    if train is None:
        return "", ""
    if not place.joint:
        row = train.row(place.side)
        part = shelf.get(row[place.index].part) if place.index < len(row) else None
        bodies = () if section is None else section.bodies
        body = next((one for one in bodies if (one.side, one.index) == (place.side, place.index)), None)
        told = (
            ""
            if body is None
            else say(
                "{length_text} {unit}, {origin}", length_text=body.length_text, unit=unit_word("mm"), origin=body.origin
            )
        )
        return ("" if part is None else part.name), told
    for joint in () if readout is None else readout.layout.joints:
        if (joint.side, joint.index) == (place.side, place.index):
            mates = mismatch_phrase(joint.mismatch) if joint.mismatch else say("mates")
            return say(
                "Joint, {left_name} to {right_name}", left_name=joint.left_name, right_name=joint.right_name
            ), f"{joint.label}, {mates}"
    return say("Joint, no part behind it"), ""


def tip_of(place: tuple[Side, int] | None, body: Body | None, readout: Readout) -> str:
    """Return the tip of a joint or a part under the pointer; "" for neither."""
    for joint in readout.layout.joints if place is not None else ():
        if place == (joint.side, joint.index):
            trouble = f"\n{mismatch_phrase(joint.mismatch)}" if joint.mismatch else ""
            return say(
                "{left_name} to {right_name}\n{label}{trouble}",
                left_name=joint.left_name,
                right_name=joint.right_name,
                label=joint.label,
                trouble=trouble,
            )
    return (
        ""
        if body is None
        else say(
            "{name}\n{length_text} {unit}, {origin}",
            name=body.name,
            length_text=body.length_text,
            unit=unit_word("mm"),
            origin=body.origin,
        )
    )
