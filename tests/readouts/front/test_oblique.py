"""What an oblique ray meets ahead of a lens: against rays drawn one by one through plates, rings and a moved pupil."""

import math
from typing import Any

import numpy as np
import pytest

from farrail.optics.oblique import Directions, glass_shortens_mm
from farrail.parts.connections import Bayonet
from farrail.parts.provenance import measured, published
from farrail.readouts.read import Readout
from farrail.train.train import Laid
from tests.readouts.front.test_front import disc, holder, ids, lens, ring, sheet, stack

RING = 40.0  # clear radius of the ring that shows, mm
AHEAD, DEPTH, N = 30.0, 33.0, 8.0


def pupil_points(focal: float, n: float = N) -> tuple[np.ndarray, np.ndarray]:
    """Places all over an entrance pupil."""
    radius = focal / n / 2.0
    side = np.linspace(-radius, radius, 801)
    x, y = np.meshgrid(side, side)
    inside = x**2 + y**2 <= radius**2
    return x[inside], y[inside]


def tube(clear: float, **conditions: Any) -> Readout:
    """A lens of 16 mm with one ring 30 mm long ahead of it, wide but for its front end."""
    on = lens(16.0, None, DEPTH, **conditions)
    return stack("tube", parts=(disc("tube", clear, AHEAD),), on=on, focal=None)


@pytest.mark.parametrize(("angle", "shorter"), [(30, 0.790), (40, 0.885), (50, 1.018), (55, 1.101)])
def test_a_plate_shortens_the_lever(angle: float, shorter: float) -> None:
    theta = math.radians(angle)
    inside = math.asin(math.sin(theta) / 1.5168)
    # A ray drawn: 2 mm of glass carry it 2·tan θ' to the side where air would carry it 2·tan θ.
    drawn = 2.0 - 2.0 * math.tan(inside) / math.tan(theta)
    assert drawn == pytest.approx(shorter, abs=1e-3)
    assert float(glass_shortens_mm(np.array(theta), 2.0, 1.5168)) == pytest.approx(drawn, abs=1e-12)


def corner_direction(focal: float, height: float, d: float = 0.0) -> float:
    return height / focal / (1.0 + d)


def share_through(focal: float, lever: float, tangent: float, clear: float) -> float:
    x, y = pupil_points(focal)
    return float(np.mean(np.hypot(x + lever * tangent, y) <= clear / 2.0))


HEIGHT = math.hypot(18.0, 12.0)


@pytest.mark.parametrize("less", [-0.8, 0.0, 0.8])
def test_walk_and_distortion_move_the_corner_as_rays_do(less: float) -> None:
    """The ring's front end, 30 mm ahead of the seat, against a pupil drawn where it has walked to."""
    ways: tuple[tuple[dict[str, Any], float, float], ...] = (
        ({"pupil_walk_mm": measured(0.0)}, 0.0, 0.0),
        ({"pupil_walk_mm": measured(4.0)}, 4.0, 0.0),
        ({"distortion_percent": published(-4.0)}, 0.0, -0.04),
        ({"pupil_walk_mm": measured(2.5), "distortion_percent": published(2.0)}, 2.5, 0.02),
    )
    for known, walked, distorted in ways:
        lever, tangent = AHEAD + DEPTH - walked, corner_direction(16.0, HEIGHT, distorted)
        # As wide as the corner's bundle reaches at its middle, or a little more or less.
        clear = 2.0 * (lever * tangent + less)
        found = tube(clear, **known)
        truth = share_through(16.0, lever, tangent, clear)
        assert 0.02 < truth < 0.98
        assert 2.0**-found.front.corner_stops == pytest.approx(truth, abs=2e-3)
        assert found.light.corner_ri == pytest.approx(truth, abs=2e-3)


def test_walk_grows_as_the_square_of_the_field_angle() -> None:
    # Walk is told at the corner and falls as the square of the angle: half way out a quarter of it is left.
    directions = Directions("rectilinear", HEIGHT, walk_mm=4.0)
    full = math.atan(HEIGHT / 16.0)
    half = directions.walked_mm(np.array(full / 2.0), 16.0)
    assert float(half) == pytest.approx(1.0)


@pytest.mark.parametrize("less", [-0.7, 0.1, 0.8])
def test_a_sheet_between_ring_and_lens_brings_the_ring_nearer(less: float) -> None:
    """Each ray from the pupil to a ring ahead of a sheet is refracted at both faces of the sheet."""
    tangent = HEIGHT / 20.0
    inside = math.asin(math.sin(math.atan(tangent)) / 1.5)
    # From the pupil: 33 behind the seat; ring 4, holder 14, tube 20; of these 4 mm are glass.
    aside = (DEPTH + 4.0 + 14.0 + 20.0 - 4.0) * tangent + 4.0 * math.tan(inside)
    clear = 2.0 * (aside + less)
    glass = sheet("s", 190.0, 190.0, 4.0)
    hold = holder("h", 14.0, 7.0, 8.0, slots=1, window_width_mm=measured(188.0), window_height_mm=measured(188.0))
    hold = hold.model_copy(update={"clear_aperture_mm": measured(188.0), "sheet_width_mm": published(190.0)})
    laid = (Laid(part="r"), Laid(part="h", filters=("s",)), Laid(part="tube"))
    parts = (ring("r", 4.0, 200.0), hold, disc("tube", clear, 20.0), glass)
    found = stack(*laid, parts=parts, on=lens(20.0, None, DEPTH), focal=None)
    x, y = pupil_points(20.0)
    passed = np.hypot(x + aside, y) <= clear / 2.0
    assert 0.02 < float(np.mean(passed)) < 0.98
    assert 2.0**-found.front.corner_stops == pytest.approx(float(np.mean(passed)), abs=3e-3)


def test_only_what_the_stack_adds_to_a_lens_s_own_vignetting_is_told() -> None:
    """The cat's eye of a front glass 6 mm behind the seat, with and without a ring, counted point by point."""
    own: dict[str, Any] = {"front_element_mm": measured(73.0), "front_element_depth_mm": measured(6.0)}
    x, y = pupil_points(16.0)
    tangent = corner_direction(16.0, HEIGHT)
    clear = 2.0 * ((DEPTH + AHEAD) * tangent + 0.2)
    found = tube(clear, **own)
    glass = np.hypot(x + (DEPTH - 6.0) * tangent, y) <= 36.5
    ring_ahead = np.hypot(x + (DEPTH + AHEAD) * tangent, y) <= clear / 2.0
    bare, whole = float(np.mean(glass)), float(np.mean(glass & ring_ahead))
    assert 0.05 < bare < 0.999
    assert 2.0**-found.front.corner_stops == pytest.approx(whole / bare, abs=4e-3)
    assert found.light.corner_ri == pytest.approx(whole / bare, abs=4e-3)
    assert found.front.corner_stops < tube(clear).front.corner_stops
    assert "front.own_vignetting" not in ids(found)
    wide_open = stack("tube", parts=(disc("tube", clear, AHEAD),), on=lens(16.0, None, DEPTH), f_number=5.6)
    assert "front.own_vignetting" in ids(wide_open)
    # Told by its loss alone, the lens is given a glass that takes just that, wide open.
    x, y = pupil_points(16.0, 4.0)
    lossy = tube(400.0, corner_loss_stops=published(1.5))
    glass_image = lossy.front.own_glass
    assert glass_image is not None
    share = np.mean(np.hypot(x + (DEPTH - glass_image.depth_mm) * tangent, y) <= glass_image.image.radius_mm)
    assert -math.log2(float(share)) == pytest.approx(1.5, abs=0.02)
    assert lossy.front.corner_stops == pytest.approx(0.0, abs=1e-6)


def test_a_camera_turned_behind_a_holder_turns_the_frame_against_it() -> None:
    """A window 42 mm wide and open above: along the frame's short side it is clear, along the long one it is not."""
    hold = holder("h", 12.0, 6.0, 8.0, slots=1, window_width_mm=measured(42.0))
    parts = (ring("r", 4.0, 200.0), hold)
    on = lens(35.0, None, 25.0)
    level = stack("r", "h", parts=parts, on=on, focal=None)
    mount = on.rear.model_copy(update={"standard": Bayonet(name="44 mm SLR bayonet", throat_mm=42, mark_deg=90.0)})
    upright = stack("r", "h", parts=parts, on=on.model_copy(update={"rear": mount}), focal=None)
    x, _ = pupil_points(35.0)
    # The window's front face stands 16 mm ahead of the seat, 41 mm ahead of the pupil.
    for found, across in ((level, 18.0), (upright, 12.0)):
        passed = np.abs(x + 41.0 * across / 35.0) <= 21.0
        assert 2.0**-found.front.corner_stops == pytest.approx(float(np.mean(passed)), abs=3e-3)
        assert found.light.corner_ri == pytest.approx(float(np.mean(passed)), abs=3e-3)
    assert level.front.corner_stops != upright.front.corner_stops
