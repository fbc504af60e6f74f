"""What is ahead of a lens, by rays drawn one by one through its entrance pupil; and limits met exactly."""

import math

import numpy as np
import pytest

from farrail.errors import BadInput
from farrail.optics.close_up import (
    effective_f_number,
    extended_magnification,
    through_close_up,
)
from farrail.optics.exposure import density_of_stops
from farrail.optics.focus_stack import MOST_FRAMES, focus_stack
from farrail.optics.illumination import illumination_at, onset_height_mm, relative_illumination
from farrail.optics.oblique import Directions
from farrail.optics.power import Power
from farrail.optics.projection import Projection
from farrail.optics.pupils import ApertureImage, Pupil

FOCAL, N = 16.0, 4.0
# The angle at which each law places an image height; textbook definitions of the projections.
LAWS = {
    "rectilinear": math.atan,
    "stereographic": lambda h: 2.0 * math.atan(h / 2.0),
    "equidistant": lambda h: h,
    "equisolid": lambda h: 2.0 * math.asin(h / 2.0),
    "orthographic": math.asin,
}


def light_by_rays(opening: ApertureImage, place: tuple[float, float], projection: Projection) -> float:
    """Return the share of rays from the scene, spread over the entrance pupil, that pass an opening ahead of it."""
    radius = FOCAL / (2.0 * N)
    u, v = np.meshgrid(*[np.linspace(-radius, radius, 801)] * 2)
    inside = np.hypot(u, v) <= radius
    height = math.hypot(*place)
    slope = math.tan(LAWS[projection](height / FOCAL))
    # A point right and up on the sensor, seen from behind, is left and down in the scene, as seen from there too.
    across = slope * opening.distance_mm / (height or 1.0)
    x, y = u - across * place[0], v - across * place[1]
    cx, cy = opening.centre_mm
    turned = opening.angle_rad
    a = (x - cx) * math.cos(turned) + (y - cy) * math.sin(turned)
    b = -(x - cx) * math.sin(turned) + (y - cy) * math.cos(turned)
    if opening.half_height_mm is None:
        passes = np.hypot(a, b) <= opening.radius_mm
    else:
        passes = (np.abs(a) <= opening.radius_mm) & (np.abs(b) <= opening.half_height_mm)
    return float((passes & inside).sum() / inside.sum())


@pytest.mark.parametrize("projection", LAWS)
@pytest.mark.parametrize("place", [(6.0, 0.0), (-4.0, 7.0), (9.0, -6.0)])
def test_an_opening_ahead_by_rays(projection: Projection, place: tuple[float, float]) -> None:
    pupil = Pupil(N, 60.0, FOCAL, directions=Directions(projection))
    slope = math.tan(LAWS[projection](math.hypot(*place) / FOCAL))
    partial = 0
    for distance in (12.0, 31.0):
        lever = slope * distance
        ring = ApertureImage(lever + 0.3, distance, front=True)
        slid = ApertureImage(lever * 0.9 + 0.8, distance, front=True, centre_mm=(1.5, -2.0))
        frame = ApertureImage(lever * 0.8, distance, front=True, half_height_mm=lever * 0.6, angle_rad=0.3)
        for opening in (ring, slid, frame):
            rays = light_by_rays(opening, place, projection)
            found = float(illumination_at(pupil, [opening], np.array([place]))[0])
            assert found == pytest.approx(rays, abs=5e-3)
            partial += 0.05 < rays < 0.95
            if opening.centred:
                heights = np.array([math.hypot(*place)])
                assert float(relative_illumination(pupil, [opening], heights)[0]) == pytest.approx(rays, abs=5e-3)
    # Two of them at least cut the pupil, else nothing would be shown.
    assert partial >= 2


def test_something_far_ahead_of_a_lens_appears_in_its_focal_plane() -> None:
    for power in (Power(285.0, 90.0), Power(-120.0, 40.0)):
        assert power.image_of(math.inf) == (power.focal_mm, 0.0)
        # Gauss' lens formula with a place far away comes to the same.
        far = 1e9
        image = 1.0 / (1.0 / power.focal_mm - 1.0 / far)
        assert power.image_of(far)[0] == pytest.approx(image, abs=1e-6)
        assert image == pytest.approx(power.focal_mm, abs=1e-3)


@pytest.mark.parametrize("projection", LAWS)
def test_where_a_ring_ahead_begins_to_show(projection: Projection) -> None:
    # The steepest ray past the pupil's far edge just grazes the ring: f·law(atan((R − r)/D)).
    inverse = {
        "rectilinear": math.tan, "stereographic": lambda t: 2.0 * math.tan(t / 2.0), "equidistant": lambda t: t,
        "equisolid": lambda t: 2.0 * math.sin(t / 2.0), "orthographic": math.sin,
    }  # fmt: skip
    ring, pupil = ApertureImage(17.0, 25.0, front=True), Pupil(N, 60.0, FOCAL, directions=Directions(projection))
    angle = math.atan((ring.radius_mm - FOCAL / (2.0 * N)) / ring.distance_mm)
    assert onset_height_mm(pupil, ring) == pytest.approx(FOCAL * inverse[projection](angle), abs=1e-6)


@pytest.mark.parametrize(("half", "aside"), [(1.2, 0.0), (1.2, 0.5), (1.9, 0.3), (0.6, 1.1)])
@pytest.mark.parametrize("upright", [False, True])
def test_a_slit_narrower_than_the_pupil(half: float, aside: float, upright: bool) -> None:
    # Two chords of a circle: the area left of x is a·√(r² − x²) … in closed form, any handbook of mathematics.
    radius = FOCAL / (2.0 * N)

    def left_of(x: float) -> float:
        x = min(max(x, -radius), radius)
        return x * math.sqrt(radius**2 - x * x) + radius**2 * math.asin(x / radius)

    exact = (left_of(aside + half) - left_of(aside - half)) / (math.pi * radius**2)
    wide, high = (50.0, half) if upright else (half, 50.0)
    centre = (0.0, aside) if upright else (aside, 0.0)
    slit = ApertureImage(wide, 10.0, front=True, half_height_mm=high, centre_mm=centre)
    found = illumination_at(Pupil(N, 60.0, FOCAL), [slit], np.array([[0.0, 0.0]]))
    assert float(found[0]) == pytest.approx(exact, abs=2e-3)


def test_limits_hold_where_they_are_met_exactly() -> None:
    with pytest.raises(BadInput, match="makes no image"):
        Power(100.0, 0.0)
    with pytest.raises(BadInput, match="makes no image"):
        Power(100.0, 100.0)
    assert extended_magnification(50.0, 1e5) == pytest.approx(2000.0)
    assert effective_f_number(2.8, 0.0, 1.0) == pytest.approx(2.8)
    step = 0.5
    assert focus_stack(1.0 + MOST_FRAMES * step, 1.0, 0.5).frames == MOST_FRAMES + 1
    with pytest.raises(BadInput, match="more than"):
        focus_stack(1.0 + (MOST_FRAMES + 1) * step, 1.0, 0.5)
    assert extended_magnification(1e6, 0.0, 100.0) == 100.0
    with pytest.raises(BadInput):
        extended_magnification(1e6 * (1.0 + 1e-12), 0.0)
    with pytest.raises(BadInput):
        extended_magnification(0.0, 10.0)
    with pytest.raises(BadInput, match=r"would be 0\.0 mm behind"):
        through_close_up(1000.0, [(2.0, 0.0), (2.0, 1.0 / (1.0 / 1000.0 + 2.0 / 1000.0))])
    with pytest.raises(BadInput, match=r"would be 10\.0 mm behind"):
        through_close_up(1000.0, [(2.0, 0.0), (2.0, 1.0 / (1.0 / 1000.0 + 2.0 / 1000.0) + 10.0)])
    assert density_of_stops(33.0) == pytest.approx(33.0 * math.log10(2.0), abs=1e-3)
    for stops in (-0.01, 33.01, math.nan, math.inf):
        with pytest.raises(BadInput, match="give 0 to 33"):
            density_of_stops(stops)
    assert effective_f_number(4.0, 1.0, 1.0) == pytest.approx(8.0)
    for magnification in (-0.01, math.nan, math.inf):
        with pytest.raises(BadInput, match="cannot be used"):
            effective_f_number(4.0, magnification, 1.0)
    # Twenty-one frames, one every three seconds, take a minute and three seconds.
    assert focus_stack(11.0, 1.0, 0.5).frames == 21
    assert focus_stack(11.0, 1.0, 0.5).time_s(3.0) == pytest.approx(63.0)


@pytest.mark.parametrize("focal", [0.0, 1e-170, -50.0, math.inf, math.nan])
def test_what_is_no_focal_length_is_refused_in_a_sentence(focal: float) -> None:
    with pytest.raises(BadInput, match=r"focal length of .* mm at the sensor is not possible"):
        Pupil(4.0, 100.0, focal)
