"""Findings about joints, and about using more of a part than there is."""

from collections import Counter
from collections.abc import Iterator

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


def ownership_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each part used more often than it is owned."""
    for part_id, used in Counter(layout.train.part_ids()).items():
        part = layout.filters[part_id]
        if used > part.owned:
            have = "none is" if part.owned == 0 else f"only {part.owned} is" if part.owned == 1 else f"{part.owned} are"
            yield Finding(
                f"shelf.used_more_than_owned:{part_id}", Severity.LOOK,
                f"{part.name} is used {used}× and {have} owned.",
                "Take one out, or raise the count on the shelf once another is bought.", part_id,
            )  # fmt: skip
