"""A camera lens near and far from its register: what its focusing ring makes up for, by sums of thin lenses."""

import re
from typing import Any

import pytest

from farrail.parts.connections import Connection, Gender
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterWheel
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import assumed, measured, published, unknown
from farrail.planning.plan import window_of
from farrail.readouts.read import Readout, read
from farrail.readouts.spacing.grounds import BeyondFocusing, ByFocusing, State
from farrail.train.train import Conditions, MountedPart, Train
from tests.readouts.light.test_pupils import BAYONET
from tests.train.gear import ENDS, bare_filter, drawer, laid, reducer, spacer


def lens_on(length: float, **lens: Any) -> Readout:
    """A lens of 24 mm and register 44 on an adapter so long, before a camera whose sensor is 6.5 mm behind."""
    ends = {g: Connection(standard=BAYONET, gender=g) for g in (Gender.INTERNAL, Gender.EXTERNAL)}
    values: dict[str, Any] = {"focal_length_mm": published(24.0), **lens}
    optic = CameraLens(
        id="lens", name="lens", outer_diameter_mm=75, rear=ends[Gender.EXTERNAL], f_number=published(2.8),
        flange_focal_distance_mm=published(44.0), entrance_pupil_depth_mm=measured(20.0), pupil_ratio=measured(2.0),
        **values,
    )  # fmt: skip
    ring = Adapter(id="ring", name="ring", outer_diameter_mm=70, front=ends[Gender.INTERNAL],
                   rear=ends[Gender.EXTERNAL], path_length_mm=measured(length))  # fmt: skip
    camera = Camera(
        id="cam", name="cam", outer_diameter_mm=90, front=ends[Gender.INTERNAL], flange_to_sensor_mm=measured(6.5),
        sensor_width_mm=published(23.5), sensor_height_mm=published(15.7),
    )  # fmt: skip
    train = Train(id="t", name="t", optic="lens", rear_train=(MountedPart(part="ring"),), camera="cam",
                  conditions=Conditions(f_number=4.0))  # fmt: skip
    return read(train, {"lens": optic, "ring": ring, "cam": camera})


def focuses(focal: float, short: float, drawn_out: float) -> float | None:
    """Where a thin lens drawn out so far sees sharply with its sensor so much too near; None: nowhere."""
    image = focal + drawn_out - short
    return None if image < focal - 1e-9 else float("inf") if image <= focal + 1e-9 else 1 / (1 / focal - 1 / image)


def test_far_too_near_its_register_nothing_comes_to_a_focus() -> None:
    """Register 44, adapter 19, camera 6.5: 18.5 mm short; a ring that travels 3.6 mm does not save it."""
    found = lens_on(19.0, nearest_magnification=published(0.15))
    assert found.spacing.error_mm == pytest.approx(-18.5)
    assert focuses(24.0, 18.5, 0.15 * 24.0) is None
    assert found.verdict.state is State.SHORT
    assert isinstance(found.verdict.ground, BeyondFocusing)
    assert found.verdict.headline == "The train is 18.50 mm too short: it cannot focus."
    assert "travels 3.6 mm (closest focus 0.15x)" in found.verdict.detail
    assert found.stops


def test_a_little_too_near_is_focused_away_and_nearness_is_what_it_costs() -> None:
    found = lens_on(37.5 - 1.44, nearest_magnification=published(0.15))
    assert isinstance(found.verdict.ground, ByFocusing)
    # Infinity at 1.44 mm of travel; at the end of 3.6 mm the image is 2.16 mm beyond f: m = 0.09.
    assert focuses(24.0, 1.44, 1.44) == float("inf")
    assert pytest.approx(0.09) == (0.15 * 24.0 - 1.44) / 24.0
    assert "drops from 0.15x to 0.09x" in found.verdict.detail
    assert not found.stops


@pytest.mark.parametrize(("short", "good"), [(0.5, True), (0.72, True), (0.75, False), (3.0, False)])
def test_a_lens_of_unknown_nearness_is_given_a_little_and_it_is_said(short: float, good: bool) -> None:
    found = lens_on(37.5 - short)
    assert (found.verdict.state is State.GOOD) == good
    assert "not known" in found.verdict.detail
    # A travel that is not entered never stops a train; one beyond the largest it can have does (0.35 × 24 mm).
    assert not found.stops
    assert isinstance(lens_on(37.5 - 8.5).verdict.ground, BeyondFocusing)


def test_verdict_and_planner_go_by_one_rule() -> None:
    for near in (0.02, 0.05, 0.15):
        found = lens_on(37.5, nearest_magnification=published(near))
        window = window_of(found.spacing)
        low = (window.low_um - window.aim_um) / 1000.0
        assert found.spacing.allowed_mm is not None
        assert found.spacing.allowed_mm[0] <= low + 1e-9
        assert lens_on(37.5 + low, nearest_magnification=published(near)).verdict.state is State.GOOD


def test_the_farthest_focus_of_a_zoom_uses_what_it_is_set_to() -> None:
    found = lens_on(38.0, longest_focal_mm=published(70.0))
    train = found.layout.train
    far = read(train.model_copy(update={"conditions": Conditions(f_number=4.0, focal_mm=70.0)}), found.layout.parts)
    # f²/e, Newton: 0.5 mm too far.
    assert found.spacing.farthest_focus_mm == pytest.approx(24.0**2 / 0.5)
    assert far.spacing.farthest_focus_mm == pytest.approx(70.0**2 / 0.5)


def test_a_tolerance_nobody_gave_is_named_with_the_depth_of_focus_and_where_it_turns() -> None:
    optics = reducer().model_copy(update={"lens_focal_mm": None, "spacing_tolerance_mm": assumed(0.5)})
    found = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(optics, spacer("a", 40.3)))
    told = found.verdict.detail
    assert found.verdict.state is State.GOOD
    assert "assumed to be allowed ±0.50" in told
    assert "the verdict changes at ±0.30 mm" in told
    # Depth of focus 2·λ·N², 550 nm at f/4: 0.0176 mm.
    assert "±0.018 mm" in told
    given = optics.model_copy(update={"spacing_tolerance_mm": published(0.5)})
    assert (
        "assumed"
        not in laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(given, spacer("a", 40.3))).verdict.detail
    )


def test_an_empty_slot_in_the_beam_says_what_it_means() -> None:
    wheel = FilterWheel(id="w", name="Wheel", slots=3, path_length_mm=measured(20), seat_mm=measured(8), **ENDS)
    optics = reducer().model_copy(update={"lens_focal_mm": None})
    row = MountedPart(part="w", filters=("filter", None, None), in_beam=1)
    found = laid(
        MountedPart(part="reducer"), row, MountedPart(part="a"), parts=(optics, wheel, bare_filter(), spacer("a", 20.0))
    )
    (told,) = (f for f in found.findings if f.kind == "spacing.empty_slot")
    assert told.title == "Slot 2 of Wheel is empty and in the beam."
    # 3 mm of index 1.5 move it one millimetre.
    assert "up to 1.00 mm out" in told.reason
    filled = laid(MountedPart(part="reducer"), row.model_copy(update={"in_beam": 0}), MountedPart(part="a"),
                  parts=(optics, wheel, bare_filter(), spacer("a", 20.0)))  # fmt: skip
    assert not [f for f in filled.findings if f.kind == "spacing.empty_slot"]


def test_what_to_add_makes_it_land_at_both_ends_of_what_is_unknown() -> None:
    """Glass of 1 to 3 mm, index 1.5: 0.33 to 1.00 mm more is asked for; both ends of the advice are tried."""
    optics = reducer().model_copy(update={"lens_focal_mm": None, "spacing_tolerance_mm": published(0.5)})
    glass = bare_filter()
    loose = glass.model_copy(update={"glass": glass.glass.model_copy(update={"thickness_mm": unknown(1.0, 3.0)})})
    parts = (optics, drawer(), loose)
    row = (MountedPart(part="reducer"), MountedPart(part="drawer", filters=("filter",)))
    found = laid(*row, MountedPart(part="a"), parts=(*parts, spacer("a", 10.0)))
    assert found.verdict.state is State.SHORT
    told = re.search(r"Add ([\d.]+) to ([\d.]+) mm behind reducer", found.verdict.detail)
    assert told is not None
    for more in (float(told[1]), float(told[2])):
        then = laid(*row, MountedPart(part="a"), parts=(*parts, spacer("a", round(10.0 + more, 3))))
        assert then.spacing.error_range_mm is not None
        assert max(abs(end) for end in then.spacing.error_range_mm) <= 0.5 + 0.006
