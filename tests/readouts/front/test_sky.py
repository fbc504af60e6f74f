"""A polariser on a train's sky: when it is said, from which field of view on, and how a turned camera sees it."""

from typing import Any

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.front.polarised_sky import PolarisedSky, polarised_sky_of
from farrail.readouts.read import Readout, read
from farrail.train.train import Sky

WORKBOOK = demo_workbook()


def stacks(focal: float, sky: Sky | None = None, **train: Any) -> Readout:
    stack = WORKBOOK.train("sea-stacks")
    conditions = stack.conditions.model_copy(update={"focal_mm": focal, "sky": sky})
    return read(stack.model_copy(update={"conditions": conditions, **train}), WORKBOOK.by_id)


def sky_of(readout: Readout) -> PolarisedSky:
    found = polarised_sky_of(readout.front)
    assert found is not None
    return found


def test_the_band_is_told_below_28_mm_and_its_bound_belongs_to_it() -> None:
    # 21.63 of half a diagonal against 21.65: 28 mm on the full frame is just narrower than the rule's 43.3 mm.
    for focal, told in ((17.0, True), (27.9, True), (28.2, False), (35.0, False)):
        kinds = [f.kind for f in stacks(focal).findings]
        assert ("front.polarised_sky" in kinds) is told
    bare = stacks(17.0, front_stack=())
    assert polarised_sky_of(bare.front) is None
    assert "front.sky_uneven_stops" not in bare.figures


def test_the_worked_values_come_out_of_a_laid_train() -> None:
    # models.md 10, f 17 and the Sun at 90° and 60°.
    assert sky_of(stacks(17.0)).marks == pytest.approx((1.496, 2.123, 3.322, 2.123, 1.496), abs=6e-4)
    sixty = sky_of(stacks(17.0, Sky(sun_right_deg=60.0)))
    assert sixty.marks == pytest.approx((2.492, 3.210, 2.031, 1.270, 1.065), abs=6e-4)
    finding = next(f for f in stacks(17.0).findings if f.kind == "front.polarised_sky")
    head, reason = finding.sentences
    assert "1.8 stops across the frame when the Sun is 90° to the right, 20° high" in head
    assert "assumed" in reason
    given = next(f for f in stacks(17.0, Sky()).findings if f.kind == "front.polarised_sky")
    assert "assumed" not in given.sentences[1]


def test_a_camera_turned_clockwise_sees_the_world_turn_the_other_way() -> None:
    # Turned by 90°, the frame's upper edge is where the level frame's right edge was.
    level, turned = sky_of(stacks(17.0, Sky(sun_right_deg=60.0))), sky_of(
        stacks(17.0, Sky(sun_right_deg=60.0), camera_turned_deg=90.0)
    )  # fmt: skip
    import numpy as np

    right = level.stops_at(np.array([12.0]), np.array([0.0]))
    upper = turned.stops_at(np.array([0.0]), np.array([12.0]))
    assert upper == pytest.approx(right, abs=1e-9)
    # The same turn of the polariser in the world is the same picture.
    by_hand = Sky(sun_right_deg=60.0, polariser_deg=30.0)
    a, b = sky_of(stacks(17.0, by_hand)), sky_of(stacks(17.0, by_hand, camera_turned_deg=90.0))
    assert b.stops_at(np.array([0.0]), np.array([12.0])) == pytest.approx(
        a.stops_at(np.array([12.0]), np.array([0.0])), abs=1e-9
    )


def test_a_sky_that_is_not_polarised_is_even() -> None:
    haze = sky_of(stacks(17.0, Sky(most_polarised=0.0)))
    assert haze.uneven_stops == pytest.approx(0.0, abs=1e-9)
    assert haze.marks[0] == pytest.approx(1.0)
