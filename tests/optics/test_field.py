"""Field, passband, tilt, plates and powered parts against docs/models.md and general libraries."""

import math

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given
from hypothesis import strategies as st

from farrail.errors import BadInput
from farrail.optics.field import (
    angle_of_view_deg,
    covered_fraction,
    length_on_sensor_mm,
    pixel_scale_arcsec,
    pixels_across,
    rectangle_in_circle_mm,
)
from farrail.optics.passband import edge_shift_nm, line_transmission, mean_shift_nm
from farrail.optics.plates import spherical_aberration_mm, tolerable_aberration_mm
from farrail.optics.power import Power
from farrail.optics.tilt import allowed_tilt_deg, corner_defocus_mm, shim_across_mm


def test_angles_of_view_of_common_lenses() -> None:
    # Handbook tables of the 24 × 36 mm frame (from memory): 50 mm 39.6° × 27.0°, diagonal 46.8°; 85 mm 28.6°.
    assert angle_of_view_deg(36, 50) == pytest.approx(39.6, abs=0.05)
    assert angle_of_view_deg(24, 50) == pytest.approx(27.0, abs=0.05)
    assert angle_of_view_deg(math.hypot(36, 24), 50) == pytest.approx(46.8, abs=0.05)
    assert angle_of_view_deg(math.hypot(36, 24), 85) == pytest.approx(28.6, abs=0.05)
    assert pixel_scale_arcsec(0.00376, 430) == pytest.approx(206.265 * 3.76 / 430, rel=1e-5)
    assert length_on_sensor_mm(angle_of_view_deg(20, 430), 430) == pytest.approx(20)
    assert pixels_across(23.5, 0.00376) == 6250


@given(st.floats(1, 60), st.floats(1, 60), st.floats(1, 120))
def test_cover_of_a_frame_against_polygons(width: float, height: float, diameter: float) -> None:
    frame = shapely.box(-width / 2, -height / 2, width / 2, height / 2)
    circle = shapely.Point(0, 0).buffer(diameter / 2, quad_segs=512)
    exact = frame.intersection(circle).area / frame.area
    assert covered_fraction(width, height, diameter) == pytest.approx(exact, abs=2e-5)
    aside = shapely.affinity.translate(frame, width / 3.0, -height / 5.0)
    exact = aside.intersection(circle).area / frame.area
    assert covered_fraction(width, height, diameter, width / 3.0, -height / 5.0) == pytest.approx(exact, abs=2e-5)
    w, h = rectangle_in_circle_mm(width, height, diameter)
    assert math.hypot(w, h) <= max(diameter, 0) + 1e-9
    assert w <= width + 1e-9
    assert w * height == pytest.approx(h * width)


@pytest.mark.parametrize(
    ("centre", "index", "n", "edge", "mean"),
    [
        (656.3, 2.0, 2.0, 4.844, 2.468), (656.3, 2.0, 2.8, 2.540, 1.283), (656.3, 2.0, 4.0, 1.263, 0.635),
        (656.3, 2.0, 7.0, 0.417, 0.209), (656.3, 1.5, 2.0, 8.636, 4.396), (500.7, 2.0, 2.0, 3.695, 1.883),
        (500.7, 2.0, 4.0, 0.964, 0.484),
    ],
)  # fmt: skip
def test_passband_shifts(centre: float, index: float, n: float, edge: float, mean: float) -> None:
    assert edge_shift_nm(centre, index, n) == pytest.approx(edge, abs=6e-4)
    assert mean_shift_nm(centre, index, n) == pytest.approx(mean, abs=6e-4)
    with_hole = mean_shift_nm(centre, index, n, obstruction=0.4)
    assert with_hole == pytest.approx(mean * 1.16, rel=0.02)


def test_the_line_may_be_lost_while_its_mean_shift_is_inside() -> None:
    # docs/models.md: f/2.8, 3 nm wide, n 2: the mean shift 1.28 nm is inside the half width and only 58 % passes.
    flat = line_transmission(656.3, 656.3, 3.0, 2.0, 2.8)
    assert flat == pytest.approx(0.58, abs=0.01)
    # Gaussian by direct integration over the pupil (trapezoid in scratch, independent of the rings).
    r = np.linspace(0, 1, 20001)
    sine = np.sin(np.arctan(r / 5.6))
    away = 656.3 * (1 - np.sqrt(1 - (sine / 2) ** 2))
    through = np.exp(-4 * math.log(2) * (away / 3.0) ** 2)
    exact = np.trapezoid(through * 2 * r, r)
    assert line_transmission(656.3, 656.3, 3.0, 2.0, 2.8, band="gaussian") == pytest.approx(exact, abs=1e-4)
    assert line_transmission(656.3, 656.3, 3.0, 2.0, 10.0) == pytest.approx(1.0)


def test_plate_aberration_to_third_order_and_exactly() -> None:
    for n, exact in ((2.0, 11.35), (4.0, 2.893), (5.6, 1.481), (10.0, 0.465)):
        assert 1000 * spherical_aberration_mm(1.0, 1.5168, n) == pytest.approx(exact, abs=6e-3)
    third = (1.5168**2 - 1) / (8 * 1.5168**3 * 100)
    assert spherical_aberration_mm(1.0, 1.5168, 10.0) == pytest.approx(third, rel=0.02)
    assert tolerable_aberration_mm(2.0) == pytest.approx(16 * 0.00055 * 4)


def test_tilt_budget() -> None:
    assert 1000 * corner_defocus_mm(21.63, 0.1) == pytest.approx(37.75, abs=0.01)
    assert corner_defocus_mm(21.63, 0.1) / 4 * 1000 == pytest.approx(9.438, abs=0.01)
    tilt = allowed_tilt_deg(21.63, 4.0)
    assert corner_defocus_mm(21.63, tilt) == pytest.approx(2 * 0.00055 * 16)
    assert allowed_tilt_deg(21.63, 4.0, 0.00376) == pytest.approx(math.degrees(math.atan(4 * 0.00376 / 21.63)))
    assert shim_across_mm(54.0, tilt) == pytest.approx(54 * 2 * 0.00055 * 16 / 21.63)


def test_a_reducer_against_ray_matrices() -> None:
    # ABCD: a converging beam whose native focus is s behind a thin lens of focal length f.
    focal, reducer, d = 600.0, 200.0, 60.0
    power = Power(reducer, d)
    s = power.native_focus_mm
    assert 1 / d == pytest.approx(1 / s + 1 / reducer)
    assert power.magnification == pytest.approx(d / s)
    # The objective, focal − s before the lens, seen through it: matrix of propagation, lens, propagation.
    a = focal - s
    b, scale = power.image_of(a)
    x = d - b
    matrix = np.array([[1, b], [0, 1]]) @ np.array([[1, 0], [-1 / reducer, 1]]) @ np.array([[1, a], [0, 1]])
    assert matrix[0, 1] == pytest.approx(0, abs=1e-9)  # conjugate planes
    assert matrix[0, 0] == pytest.approx(scale)
    # The cone at the sensor: the imaged objective over its distance is the new f-number.
    assert abs(x / (abs(scale) * 150.0)) == pytest.approx(focal * power.magnification / 150.0)
    barlow = Power(-100.0, 100.0)
    assert barlow.magnification == pytest.approx(2.0)
    # What is in the front focal plane appears endlessly far, under the angle of its size over the focal length.
    far, larger = Power(200.0, 50.0).image_of(200.0)
    assert abs(far) > 1e9
    assert larger / far == pytest.approx(-1.0 / 200.0)


@pytest.mark.parametrize(
    "call",
    [
        lambda: angle_of_view_deg(0, 50), lambda: angle_of_view_deg(36, -1), lambda: pixel_scale_arcsec(0.0, 100),
        lambda: length_on_sensor_mm(180, 50), lambda: covered_fraction(10, 10, math.nan),
        lambda: edge_shift_nm(5.0, 2.0, 4.0), lambda: mean_shift_nm(656.3, 0.5, 4.0),
        lambda: mean_shift_nm(656.3, 2.0, 0.2), lambda: mean_shift_nm(656.3, 2.0, 4.0, 1.0),
        lambda: line_transmission(656.3, 656.3, 0.0, 2.0, 4.0), lambda: allowed_tilt_deg(0.0, 4.0),
        lambda: allowed_tilt_deg(20.0, 4.0, 0.0), lambda: corner_defocus_mm(20.0, 90.0), lambda: Power(0.0, 50.0),
        lambda: Power(50.0, 60.0), lambda: Power(200.0, -5.0), lambda: spherical_aberration_mm(-1.0, 1.5, 4.0),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_one_sentence(call: object) -> None:
    with pytest.raises(BadInput) as caught:
        call()  # type: ignore[operator]
    assert str(caught.value).endswith(".")
    assert "nan" not in str(caught.value).replace("cannot", "") or "nan mm" in str(caught.value)
