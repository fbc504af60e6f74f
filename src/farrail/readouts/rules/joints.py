"""Findings about joints, and about using more of a part than there is."""

from collections import Counter
from collections.abc import Iterator

from farrail.parts.kinds import AT_HAND, FilterSeat, RoundFilter
from farrail.readouts.finding import Finding, Severity
from farrail.train.layout import Layout
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


def cell_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each filter of a set that does not go into its seat, with both numbers."""
    for placed in layout.rear:
        seat = placed.part
        if not isinstance(seat, FilterSeat):
            continue
        for slot, filter_id in enumerate(placed.laid.filters):
            part = layout.filters.get(filter_id or "")
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
        part = layout.filters[part_id]
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
