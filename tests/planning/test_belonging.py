"""Where a part belongs, against placing it everywhere and looking at both its joints."""

import random

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.base import TubePart
from farrail.parts.connections import Gender, Plain, not_known, thread, why_not
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured
from farrail.planning.belonging import places_for
from farrail.train.layout import build_layout
from farrail.train.train import MountedPart, Side

BOOK = demo_workbook()
SHELF = BOOK.by_id


def by_hand(train_id: str, part: TubePart) -> set[tuple[Side, int]]:
    """Return every joint of the rear row where a part mates with both neighbours one way round or the other."""
    train = BOOK.train(train_id)
    found = set()
    for index in range(len(train.rear_train) + 1):
        for flipped in (False, True):
            row = (*train.rear_train[:index], MountedPart(part=part.id, flipped=flipped), *train.rear_train[index:])
            joints = build_layout(train.model_copy(update={"rear_train": row}), {**SHELF, part.id: part}).joints
            mine = [j for j in joints if j.side is Side.REAR and j.index in (index, index + 1)]
            if all(j.left is None or j.right is None or why_not(j.left, j.right) is None for j in mine):
                found.add((Side.REAR, index))
    return found


@pytest.mark.parametrize("train_id", ["witch-broom", "lantern-wheel", "brae-cooled"])
def test_rings_go_where_both_their_ends_mate(train_id: str) -> None:
    dice = random.Random(15)
    threads = [(42.0, 0.75), (48.0, 0.75), (54.0, 0.75)]
    for number in range(24):
        one, other = dice.choice(threads), dice.choice(threads)
        ends = (thread(*one, dice.choice([Gender.INTERNAL, Gender.EXTERNAL])),
                thread(*other, dice.choice([Gender.INTERNAL, Gender.EXTERNAL])))  # fmt: skip
        ring = Spacer(id=f"ring-{number}", name="Ring", outer_diameter_mm=58, front=ends[0], rear=ends[1],
                      path_length_mm=measured(4))  # fmt: skip
        places = places_for(BOOK.train(train_id), {**SHELF, ring.id: ring}, ring)
        assert {(p.side, p.index) for p in places if p.side is Side.REAR} == by_hand(train_id, ring)
        # The place nearest the camera is the likeliest.
        assert [p.index for p in places] == sorted((p.index for p in places), reverse=True)


def test_what_nobody_has_looked_at_may_go_anywhere() -> None:
    ring = Spacer(id="ring", name="Ring", outer_diameter_mm=58, front=not_known(), rear=not_known(),
                  path_length_mm=measured(4))  # fmt: skip
    train = BOOK.train("witch-broom")
    assert len(places_for(train, {**SHELF, "ring": ring}, ring)) == len(train.rear_train) + 1


def test_glass_goes_into_the_seat_and_sheets_into_slots() -> None:
    glass = next(p for p in SHELF.values() if isinstance(p, RoundFilter) and isinstance(p.front.standard, Plain))
    places = places_for(BOOK.train("witch-broom"), SHELF, glass)
    assert [(p.side, p.slot is not None) for p in places] == [(Side.REAR, True)]
    sheet = next(p for p in SHELF.values() if isinstance(p, SheetFilter) and p.width_mm.value == 100)
    train = BOOK.train("sea-stacks")
    emptied = tuple(laid.model_copy(update={"filters": (None,) * len(laid.filters)}) for laid in train.front_stack)
    slots = places_for(train.model_copy(update={"front_stack": emptied}), SHELF, sheet)
    assert slots
    assert all(p.side is Side.FRONT and p.slot == 0 for p in slots)
    full = places_for(BOOK.train("witch-broom"), SHELF, sheet)
    assert full == ()
