"""What stands ahead of a lens, by rays drawn one by one through its entrance pupil; and limits met exactly."""

import math

import numpy as np
import pytest

from farrail.errors import BadInput
from farrail.optics.close_up import effective_f_number, extended_magnification
from farrail.optics.focus_stack import MOST_FRAMES, focus_stack
from farrail.optics.illumination import illumination_at, relative_illumination
from farrail.optics.power import Power
from farrail.optics.projection import Projection
from farrail.optics.pupils import ApertureImage, Pupil

FOCAL, N = 16.0, 4.0
# The angle at which each law lays an image height; textbook definitions of the projections.
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
    # A point right and up on the sensor, seen from behind, lies left and down in the scene, as seen from there too.
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
    pupil = Pupil(N, 60.0, FOCAL, projection=projection)
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
        place, size = power.seen_through(math.inf)
        assert (place, size) == (power.distance_mm - power.focal_mm, 0.0)
        # Gauss' lens formula with a place far away comes to the same.
        far = 1e9
        image = 1.0 / (1.0 / power.focal_mm - 1.0 / far)
        near = power.seen_through(far)
        assert near[0] == pytest.approx(power.distance_mm - image, abs=1e-6)
        assert near[0] == pytest.approx(place, abs=1e-3)


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
