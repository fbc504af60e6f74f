"""Signs in the spacing sums that a slip could turn, each by a person's sum."""

import pytest

from farrail.parts.glass import Plate, PrintedShift
from farrail.parts.provenance import measured, published, unknown
from farrail.readouts.spacing.focuser_and_guider import guiding_of, travel_of
from farrail.readouts.spacing.messages import AssumedDecides
from farrail.train.train import MountedPart
from tests.train.gear import bare_filter, drawer, guider, laid, reducer, spacer


def test_an_unknown_requirement_spreads_the_error_the_other_way() -> None:
    # 40 + 20 placed; between 55 and 58 required: at most 5 too long, at least 2.
    corrector = reducer().model_copy(update={"back_focus_mm": unknown(55.0, 58.0)})
    readout = laid(MountedPart(part="reducer"), MountedPart(part="tube"), parts=(corrector, spacer("tube", 40.0)))
    assert readout.spacing.error_range_mm == pytest.approx((2.0, 5.0))


def test_an_unknown_length_spreads_the_error_its_own_way() -> None:
    tube = spacer("tube", 40.0).model_copy(update={"path_length_mm": unknown(39.0, 42.0)})
    readout = laid(MountedPart(part="reducer"), MountedPart(part="tube"), parts=(reducer(), tube))
    assert readout.spacing.error_range_mm == pytest.approx((39.0 + 20.0 - 60.0, 42.0 + 20.0 - 60.0))


def test_half_an_unknown_span_is_what_it_may_be_off() -> None:
    tube = spacer("tube", 40.0).model_copy(update={"path_length_mm": unknown(39.0, 42.0)})
    readout = laid(MountedPart(part="reducer"), MountedPart(part="tube"), parts=(reducer(), tube))
    loosest = readout.spacing.loosest
    assert loosest is not None
    assert (loosest.part, loosest.half_width_mm) == ("tube", 1.5)
    told = next(f for f in readout.findings if f.kind == "spacing.assumed_decides")
    assert isinstance(told.text, AssumedDecides)
    assert (told.part, told.text.moves_mm) == ("tube", 1.5)


def test_glass_lets_the_focuser_out_further() -> None:
    # The bare focus is 100 behind the shoulder; 30 + 20 + 20 placed; 3 mm of n 1.5 put it 1 mm farther away.
    scope = {"focal_plane_mm": measured(100.0), "focuser_travel_mm": measured(80.0)}
    row = (MountedPart(part="tube"), MountedPart(part="drawer", filters=("filter",)))
    with_glass = laid(*row, parts=(spacer("tube", 30.0), drawer(), bare_filter()), scope=scope)
    travel = travel_of(with_glass.layout)
    assert travel is not None
    assert travel.needed_mm == pytest.approx(100.0 + 1.0 - 70.0)


def test_a_guide_sensor_stands_as_far_as_the_main_one_along_its_own_branch() -> None:
    # Prism 5 behind the front of 16: 11 + 40 + 20 to the sensor, less 1 for glass behind it, 25 to the port.
    port = guider(guide_port_mm=measured(25.0))
    filter_ = bare_filter()
    row = (MountedPart(part="guider"), MountedPart(part="drawer", filters=("filter",)), MountedPart(part="tube"))
    readout = laid(*row, parts=(port, drawer(), filter_, spacer("tube", 20.0)))
    assert guiding_of(readout.layout)[0].spacing_mm == pytest.approx(11.0 + 20.0 + 20.0 + 20.0 - 1.0 - 25.0)
    # Flipped, the prism is 5 from the rear.
    flipped = laid(row[0].model_copy(update={"flipped": True}), *row[1:], parts=(port, drawer(), filter_,
                                                                                spacer("tube", 20.0)))  # fmt: skip
    assert guiding_of(flipped.layout)[0].spacing_mm == pytest.approx(5.0 + 20.0 + 20.0 + 20.0 - 1.0 - 25.0)


def test_a_printed_shift_stacks_up_with_its_own_tolerance() -> None:
    printed = bare_filter().model_copy(update={"glass": PrintedShift(focus_shift_mm=published(0.7, 0.05))})
    row = (MountedPart(part="reducer"), MountedPart(part="drawer", filters=("filter",)), MountedPart(part="tube"))
    readout = laid(*row, parts=(reducer(), drawer(), printed, spacer("tube", 20.0)))
    assert sum(readout.spacing.tolerances_mm) == pytest.approx(0.05)
    plate = bare_filter().model_copy(update={"glass": Plate(thickness_mm=published(3.0, 0.3), index=published(1.5))})
    readout = laid(*row, parts=(reducer(), drawer(), plate, spacer("tube", 20.0)))
    assert sum(readout.spacing.tolerances_mm) == pytest.approx(0.1)
