"""What fits at a joint: against building the train with every part of the shelf, one by one."""

from collections import Counter

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.parts.base import TubePart
from farrail.parts.inventory_item import AT_HAND
from farrail.planning.fitting import fits_at
from farrail.train.layout import build_layout
from farrail.train.train import MountedPart, Side

BOOK = demo_workbook()


def one_by_one(train_id: str, side: Side, index: int, *, instead: bool) -> set[tuple[str, bool]]:
    """Return each part, and whether flipped, that leaves no more joints apart than there are without it."""
    train, shelf = BOOK.train(train_id), BOOK.by_id
    row, used = train.row(side), Counter(train.part_ids())
    apart = [joint for joint in build_layout(train, shelf).joints if joint.mismatch is not None]
    here = {index, index + 1} if instead else {index}
    allowed = len(apart) - sum(joint.side is side and joint.index in here for joint in apart)
    found = set()
    for part in shelf.values():
        own = instead and row[index].part == part.id
        if not isinstance(part, TubePart) or part.status not in AT_HAND or own or used[part.id] >= part.owned:
            continue
        for flipped in (False, True):
            placed = MountedPart(part=part.id, flipped=flipped)
            if instead:
                placed = placed.model_copy(update={"filters": row[index].filters, "in_beam": row[index].in_beam})
            changed = (*row[:index], placed, *row[index + instead :])
            try:
                layout = build_layout(train.model_copy(update={side.value: changed}), shelf)
            except FarRailError:
                continue
            if sum(joint.mismatch is not None for joint in layout.joints) <= allowed:
                found.add((part.id, flipped))
                break
    return found


@pytest.mark.parametrize("train_id", [train.id for train in BOOK.trains])
def test_what_fits_is_what_builds_without_a_joint_apart(train_id: str) -> None:
    train = BOOK.train(train_id)
    for side in Side:
        count = len(train.row(side))
        places = [(index, False) for index in range(count + 1)] + [(index, True) for index in range(count)]
        for index, instead in places[::3]:
            found = fits_at(train, BOOK.by_id, side, index, instead=instead)
            assert {(fit.part.id, fit.flipped) for fit in found} == one_by_one(train_id, side, index, instead=instead)
