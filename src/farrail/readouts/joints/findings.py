"""Findings about joints, and about using more of a part than there is."""

from collections import Counter
from collections.abc import Iterator

from farrail.parts.base import AT_HAND
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.seats import FilterSeat
from farrail.readouts.finding import Finding, Severity
from farrail.train.layout import Layout
from farrail.train.placed import Placed
from farrail.train.rotation import rotations_of
from farrail.train.seating import BOTTOMS, UNKNOWN_PLACE
from farrail.train.train import Side


def joint_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each joint that does not mate."""
    for joint in layout.joints:
        if joint.mismatch is not None:
            yield Finding(
                f"joint.mismatch:{joint.side.value}.{joint.index}", Severity.STOP,
                f"{joint.left_name} does not fit {joint.right_name}.",
                f"{joint.mismatch[0].upper()}{joint.mismatch[1:]}.",
                joint=joint.index if joint.side is Side.REAR else None,
            )  # fmt: skip


def seating_findings(layout: Layout) -> Iterator[Finding]:
    """Yield what keeps shoulders apart, and the filters held between two rings."""
    for gap in layout.gaps:
        if gap.cause == BOTTOMS:
            yield Finding(
                f"joint.thread_bottoms:{gap.index}", Severity.LOOK,
                f"A thread bottoms: the shoulders stay {gap.length.value:.2f} mm apart.",
                f"{gap.length.in_use.note[0].upper()}{gap.length.in_use.note[1:]}. The gap is in the running total; "
                f"a shim of {gap.length.value:.2f} mm there makes it firm.",
                joint=gap.index, figure="spacing.laid_mm",
            )  # fmt: skip
        elif gap.cause == UNKNOWN_PLACE:
            yield Finding(
                f"joint.nosepiece_place:{gap.index}", Severity.LOOK,
                "How far the nosepiece is pushed in is not known.",
                "A screw holds it wherever it was left; it is taken as pushed home. Measure how far it stands out, and "
                "write that into the running total.",
                joint=gap.index,
            )  # fmt: skip
    for placed in layout.rear:
        if placed.held is not None:
            yield _held(placed)


def _held(placed: Placed) -> Finding:
    assert placed.held is not None
    before, after = placed.held.before.part.name, placed.held.after.part.name
    taken = (
        " Take the glass out of its cell over a soft cloth, by its edge, with gloves."
        if placed.laid.out_of_cell
        else ""
    )
    known = "" if placed.held.known else " Both engagements decide what it adds: look how deep the threads go."
    return Finding(
        f"joint.filter_held:{placed.index}", Severity.NOTE,
        f"{placed.part.name} is held between {before} and {after}.",
        f"Close the rings until the glass just stops rattling, never tight: glass under a ring breaks.{taken}{known}",
        placed.part.id,
    )  # fmt: skip


def turn_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each part that a bayonet holds at another angle than it is said to have."""
    for turned in rotations_of(layout):
        if turned.wanted_deg is not None:
            yield Finding(
                f"joint.bayonet_turn:{turned.index}", Severity.LOOK,
                f"The {turned.bayonet} holds {turned.name} at {turned.angle_deg:g}°, not at {turned.wanted_deg:g}°.",
                "A bayonet locks at one angle. Turn at a threaded joint, or lay a rotator ahead of it.",
                turned.part, joint=turned.index,
            )  # fmt: skip


def cell_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each filter of a set that does not go into its seat, with both numbers."""
    for placed in layout.rear:
        seat = placed.part
        if not isinstance(seat, FilterSeat):
            continue
        for slot, filter_id in enumerate(placed.laid.filters):
            part = layout.parts.get(filter_id or "")
            if not isinstance(part, RoundFilter):
                continue
            sizes = (
                ("wide", part.outer_diameter_mm, seat.seat_diameter_mm),
                ("thick", part.path_length_mm.value, seat.seat_thickness_mm),
            )
            for word, has, most in sizes:
                if most is not None and has > most.value + 1e-9:
                    yield Finding(
                        f"joint.filter_cell:{placed.index}.{slot + 1}.{word}", Severity.STOP,
                        f"{part.name} is too {word} for {seat.name}.",
                        f"Its cell measures {has:.2f} mm and the seat takes {most.value:.2f} mm. Some cells are made "
                        "oversize: measure both before forcing anything.",
                        part.id,
                    )  # fmt: skip


def ownership_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each part that is not at hand, or used more often than it is owned."""
    for part_id, used in Counter(layout.train.part_ids()).items():
        part = layout.parts[part_id]
        if part.status not in AT_HAND:
            yield Finding(
                f"shelf.not_at_hand:{part_id}", Severity.LOOK, f"{part.name} is {part.status.value}.",
                "Lay another in its place, or change its status on the shelf once it is here.", part_id,
            )  # fmt: skip
        elif used > part.owned:
            have = "none is" if part.owned == 0 else f"only {part.owned} is" if part.owned == 1 else f"{part.owned} are"
            yield Finding(
                f"shelf.used_more_than_owned:{part_id}", Severity.LOOK,
                f"{part.name} is used {used}× and {have} owned.",
                "Take one out, or raise the count on the shelf once another is bought.", part_id,
            )  # fmt: skip
