"""What on the shelf fits at a joint, or in the place of a part, and the error each would leave."""

from collections import Counter
from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.parts.base import TubePart
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.registry import Part
from farrail.readouts.spacing.model import Spacing
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Side, Train


@dataclass(frozen=True)
class Fit:
    """One part that mates at a place.

    Attributes:
        part: the part.
        flipped: whether it mates only when flipped.
        error_mm: placed less required once it is there; None where nothing is required.
    """

    part: Part
    flipped: bool
    error_mm: float | None


def fits_at(train: Train, shelf: Shelf, side: Side, index: int, *, instead: bool = False) -> list[Fit]:
    """Return the parts that mate at a joint, or in the place of a part, smallest error first.

    Args:
        train: the train as it is.
        shelf: parts by id.
        side: which row.
        index: the joint before the row's part of this index, or that part itself.
        instead: replace the part at `index` rather than insert before it.

    Returns:
        Parts of which one is still free, that make no joint of the train worse.
    """
    row = train.row(side)
    used = Counter(train.part_ids())
    standing = row[index].part if instead and index < len(row) else None
    touched = {index, index + 1} if instead else {index}
    before = [j for j in build_layout(train, shelf).joints if j.mismatch is not None]
    mendable = sum(j.side is side and j.index in touched for j in before)
    fits = []
    for part in shelf.values():
        if not isinstance(part, TubePart) or part.status not in AT_HAND:
            continue
        if part.id == standing or used[part.id] >= part.owned:
            continue
        for flipped in (False, True):
            laid = MountedPart(part=part.id, flipped=flipped)
            if instead:
                seat = row[index]
                laid = laid.model_copy(update={"filters": seat.filters, "in_beam": seat.in_beam})
            changed = (*row[:index], laid, *row[index + instead :])
            trial = train.model_copy(update={side.value: changed})
            try:
                layout = build_layout(trial, shelf)
            except FarRailError:
                continue
            if sum(j.mismatch is not None for j in layout.joints) <= len(before) - mendable:
                fits.append(Fit(part, flipped, Spacing(layout).error_mm))
                break
    return sorted(fits, key=lambda f: (f.error_mm is None, abs(f.error_mm or 0.0), f.part.name))
