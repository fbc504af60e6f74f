"""The distance between principal planes lengthens the way from subject to sensor."""

import pytest

from farrail.parts.origin import Origin
from farrail.parts.provenance import measured, published
from tests.readouts.close_up.test_close_up import MACRO, readout


@pytest.mark.parametrize(("hiatus", "whole"), [(12.0, 412.0), (-12.0, 388.0)])
def test_a_lens_of_100_mm_at_its_own_size(hiatus: float, whole: float) -> None:
    # Handbook form, models.md 5: object to image f(2 + m + 1/m) + hiatus; f 100, hiatus 12, m 1: 412.
    lens = MACRO.model_copy(
        update={
            "id": "hundred", "focal_length_mm": published(100.0), "hiatus_mm": measured(hiatus),
            "nearest_mm": published(whole), "nearest_magnification": published(1.0), "near_points": (),
            "pair_distance_mm": None, "pair_width_mm": None, "pair_frame_mm": None,
        }
    )  # fmt: skip
    close = readout("hundred", parts=(lens,)).close_up
    assert close.system is not None
    # Nearest distance and magnification then belong to a lens that keeps its focal length.
    assert close.system.near.near_focal_mm == pytest.approx(100.0)
    near = close.near
    assert near.magnification == pytest.approx(1.0)
    set_near = readout("hundred", parts=(lens,), focus_mm=close.focus_for(1.0)).close_up
    assert set_near.subject_to_sensor_mm == pytest.approx(whole, abs=0.05)


def test_a_wide_lens_stands_longer_than_its_focal_length() -> None:
    # A barrel 97 mm long on a 44 mm flange distance: from its front to the sensor is 141 mm, no matter what its planes.
    lens = MACRO.model_copy(
        update={
            "id": "wide", "focal_length_mm": published(17.0), "barrel_length_mm": 97.0, "hiatus_mm": None,
            "entrance_pupil_depth_mm": measured(30.0), "pupil_ratio": published(2.0), "nearest_mm": None,
            "nearest_magnification": published(0.12), "near_points": (), "pair_distance_mm": None,
            "pair_width_mm": None, "pair_frame_mm": None,
        }
    )  # fmt: skip
    close = readout("wide", parts=(lens,)).close_up
    near = close.near
    set_near = readout("wide", parts=(lens,), focus_mm=close.focus_for(1.0))
    # The barrel draws out by m·f = 2.04 mm besides.
    assert set_near.close_up.subject_to_sensor_mm == pytest.approx(
        near.distance_mm + 97.0 + 44.0 + 0.12 * 17.0, abs=0.05
    )
    assert set_near.close_up_figures["closeup.subject_to_sensor_mm"].provenance is Origin.ASSUMED
