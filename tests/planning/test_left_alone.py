"""What a planner leaves alone: a tilt plate, always; a loose part that is to be kept as it is, on request."""

import math

import pytest
from tests.planning.test_plan import IN, OUT, bench, spacer
from tests.train.gear import ENDS, laid
from tests.train.gear import spacer as tube

from farrail.errors import EditRefused
from farrail.parts.connections import thread
from farrail.parts.kinds.tubes import AdjustableSpacer, TiltPlate
from farrail.parts.provenance import measured, published
from farrail.planning.plan import plan
from farrail.readouts.read import read
from farrail.train.train import MountedPart
from farrail.workbook.edits.laying import KeepPart
from farrail.workbook.workbook import Workbook


def test_a_tilt_plate_stays_and_is_never_laid_by_the_planner() -> None:
    front, rear = thread(48.0, 0.75, IN), thread(42.0, 0.75, OUT)
    plate = TiltPlate(id="plate", name="plate", outer_diameter_mm=70, front=front, rear=rear,
                      path_length_mm=measured(10.0), most_tilt_deg=published(0.5), owned=3)  # fmt: skip
    train, shelf = bench([plate, spacer("ten", 42.0, 10.0)], 37.5, 0.1)
    # Only the plate leads from 48 to 42 mm: not placed by the planner, no matter what it would fix.
    assert not plan(train, shelf).proposals
    with_it = train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part="plate"))})
    made = plan(with_it, shelf)
    assert [one.part for one in made.proposals[0].train.rear_train] == ["corrector", "plate", "ten"]


def test_how_far_a_tilt_plate_moves_a_corner() -> None:
    plate = TiltPlate(id="plate", name="Kittiwake tilt plate", path_length_mm=measured(10.0),
                      most_tilt_deg=published(0.5), **ENDS)  # fmt: skip
    readout = laid(MountedPart(part="plate"), MountedPart(part="tube"), parts=(plate, tube("tube", 20.0)))
    # 36 × 24 mm: 21.63 mm from the middle to a corner.
    moved = 1000.0 * math.hypot(18.0, 12.0) * math.tan(math.radians(0.5))
    assert readout.figures["light.tilt_plate.plate_um"].number == pytest.approx(moved)
    told = next(f for f in readout.findings if f.kind == "light.tilt_plate")
    assert told.sentences[0] == "Kittiwake tilt plate tilts up to 0.5°: it moves a corner by 189 µm at most."
    # f/4: ±2·0.00055·16 mm over 21.63 mm are 0.047°.
    assert "0.047° keep the corners in focus" in told.sentences[1]


def test_an_adjustable_spacer_keeps_its_setting_on_request() -> None:
    front, rear = thread(48.0, 0.75, IN), thread(42.0, 0.75, OUT)
    turn = AdjustableSpacer(id="turn", name="turn", outer_diameter_mm=60, front=front, rear=rear,
                            shortest_mm=measured(8.0), longest_mm=measured(16.0))  # fmt: skip
    train, shelf = bench([turn, spacer("two", 42.0, 2.0), spacer("three", 42.0, 3.0)], 30.5, 0.1)
    train = train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part="turn", setting_mm=11.0))})
    # 13.0 mm are wanted: turning does it alone; held at 11.0, the 2 mm spacer must.
    assert plan(train, shelf).proposals[0].names == ("turn at 13.00",)
    book = Workbook(name="mine", shelf=tuple(shelf.values()), trains=(train,))
    held = KeepPart("t", 1, kept=True).apply(book)
    made = plan(held.train("t"), held.by_id)
    assert made.proposals[0].names == ("two",)
    assert [one.setting_mm for one in made.proposals[0].train.rear_train if one.part == "turn"] == [11.0]
    assert read(made.proposals[0].train, held.by_id).spacing.error_mm == pytest.approx(0.0, abs=1e-6)
    assert KeepPart("t", 1, kept=False).apply(held) == book
    with pytest.raises(EditRefused, match="Only spacers"):
        KeepPart("t", 0, kept=True).apply(book)
