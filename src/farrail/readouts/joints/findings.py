"""Findings about joints, and about using more of a part than there is."""

from collections import Counter
from collections.abc import Iterator

from farrail.parts.inventory_item import AT_HAND, Status
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.seats import FilterSeat
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.joints.messages import (
    BayonetAngle,
    CellTooLarge,
    DoesNotFit,
    ExampleParts,
    FilterHeld,
    JointsNotJudged,
    MoreThanOwned,
    NosepiecePlace,
    NotAtHand,
    ThreadBottoms,
)
from farrail.train.layout import Layout
from farrail.train.placed import Place, Placed
from farrail.train.rotation import rotations_of
from farrail.train.seating import Cause
from farrail.train.train import Side


def joint_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each joint that does not mate."""
    for joint in layout.joints:
        if joint.mismatch is not None:
            yield Finding(
                DoesNotFit(joint, joint.mismatch), Severity.STOP, Place(joint.side, joint.index),
                at_joint=True, which=f"{joint.side.value}.{joint.index}",
            )  # fmt: skip
    unseen = [j for j in layout.joints if j.left is not None and j.right is not None
              and not (j.left.known and j.right.known)]  # fmt: skip
    if unseen:
        first = unseen[0]
        yield Finding(
            JointsNotJudged(joints=tuple(unseen)), Severity.NOTE, Place(first.side, first.index), at_joint=True
        )


def seating_findings(layout: Layout) -> Iterator[Finding]:
    """Yield what keeps shoulders apart, and the filters held between two rings."""
    for gap in layout.gaps:
        place, which = Place(Side.REAR, gap.index), f"{gap.index}"
        if gap.cause is Cause.BOTTOMS:
            yield Finding(
                ThreadBottoms(gap=gap), Severity.LOOK, place, at_joint=True,
                figure="spacing.laid_mm", which=which,
            )  # fmt: skip
        elif gap.cause is Cause.UNKNOWN_PLACE:
            yield Finding(NosepiecePlace(), Severity.LOOK, place=place, at_joint=True, which=which)
    for placed in layout.rear:
        if placed.held is not None:
            yield _held(placed)


def _held(placed: Placed) -> Finding:
    held = placed.held
    assert held is not None
    return Finding(
        FilterHeld(
            filter=placed.part.name,
            before=held.before.part.name,
            after=held.after.part.name,
            out_of_cell=placed.laid.out_of_cell,
            known=held.known,
        ),
        Severity.NOTE,
        placed.place,
        placed.part.id,
        which=f"{placed.index}",
    )


def rotation_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each part that a bayonet holds at another angle than it is said to have."""
    for rotated in rotations_of(layout):
        if rotated.wanted_deg is not None:
            yield Finding(
                BayonetAngle(rotated=rotated), Severity.LOOK, Place(Side.REAR, rotated.index),
                rotated.part, which=f"{rotated.index}",
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
                ("wide", part.cell_mm, seat.seat_diameter_mm),
                ("thick", part.path_length_mm.value, seat.seat_thickness_mm),
            )
            for side, has, most in sizes:
                if most is not None and has > most.value + 1e-9:
                    yield Finding(
                        CellTooLarge(filter=part.name, seat=seat.name, side=side, has_mm=has, accepts_mm=most.value),
                        Severity.STOP,
                        Place(placed.side, placed.index, slot),
                        part.id,
                        which=f"{placed.index}.{slot + 1}.{side}",
                    )


def ownership_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each part that is not available, or used more often than it is owned."""
    examples = [layout.parts[one].name for one in dict.fromkeys(layout.train.part_ids())
                if layout.parts[one].status is Status.EXAMPLE]  # fmt: skip
    if examples:
        yield Finding(ExampleParts(names=tuple(examples)), Severity.NOTE)
    for part_id, used in Counter(layout.train.part_ids()).items():
        part = layout.parts[part_id]
        if part.status is Status.EXAMPLE:
            continue
        if part.status not in AT_HAND:
            yield Finding(NotAtHand(part=part.name, status=part.status), Severity.LOOK, part=part_id, which=part_id)
        elif used > part.owned:
            yield Finding(
                MoreThanOwned(part=part.name, used=used, owned=part.owned), Severity.LOOK, part=part_id, which=part_id
            )
