"""What an oblique ray meets ahead of a lens: against rays drawn one by one through plates, rings and a moved pupil."""

import math
from typing import Any

import numpy as np
import pytest

from farrail.optics.oblique import Directions, glass_shortens_mm
from farrail.parts.connections import Bayonet, Connection, Gender, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.in_beam import ApertureRole
from farrail.parts.kinds.ahead import Hood
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.provenance import measured, published
from farrail.readouts.read import Readout
from farrail.train.train import MountedPart
from tests.readouts.front.test_front import IN, OUT, disc, holder, ids, lens, ring, sheet, stack

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
    # Walk is shown at the corner and falls as the square of the angle: half way out a quarter of it is left.
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
    laid = (MountedPart(part="r"), MountedPart(part="h", filters=("s",)), MountedPart(part="tube"))
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
    # Shown by its loss alone, the lens is given a glass that takes just that, wide open.
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
    # The window's front face is 16 mm ahead of the seat, 41 mm ahead of the pupil.
    for found, across in ((level, 18.0), (upright, 12.0)):
        passed = np.abs(x + 41.0 * across / 35.0) <= 21.0
        assert 2.0**-found.front.corner_stops == pytest.approx(float(np.mean(passed)), abs=3e-3)
        assert found.light.corner_ri == pytest.approx(float(np.mean(passed)), abs=3e-3)
    assert level.front.corner_stops != upright.front.corner_stops


def test_a_mounted_filter_is_a_tube_and_bare_glass_has_two_faces() -> None:
    """The front rim of a filter shows as early as that of an adapter as long and as wide."""
    mounted = round_filter(78.0, 9.0)
    as_filter = stack("f", parts=(mounted,), on=lens(14.0, 40.0, DEPTH), focal=24.0)
    as_adapter = stack("tube", parts=(disc("tube", 78.0, 9.0),), on=lens(14.0, 40.0, DEPTH), focal=24.0)
    one, other = as_filter.front.now.first_clean_mm, as_adapter.front.now.first_clean_mm
    assert one is not None
    assert other is not None
    # Its own glass, 2 mm, brings the rim nearer by a little: 1 mm at such angles, so half a millimetre of focal length.
    assert other - 0.6 < one < other
    assert [a.role for a in as_filter.front.placed] == [
        ApertureRole.FRONT_END, ApertureRole.CLEAR, ApertureRole.REAR_END
    ]  # fmt: skip
    bare = round_filter(78.0, 2.0, bare=True)
    found = stack("f", parts=(bare,), on=lens(14.0, 40.0, DEPTH), focal=24.0).front.placed
    assert [a.z_mm for a in found] == pytest.approx([found[1].z_mm - 2.0, found[1].z_mm])


def test_a_step_inside_decides_wherever_it_stands() -> None:
    """A ring of 60 mm inside a tube of 30 mm: where no one says where, its worst place is shown."""
    tangent = HEIGHT / 20.0
    x, y = pupil_points(20.0)
    wide = disc("tube", 300.0, AHEAD, step_clear_mm=measured(2.0 * (DEPTH + 20.0) * tangent))
    for at, ahead in ((10.0, 20.0), (25.0, 5.0), (None, 30.0)):
        part = wide if at is None else wide.model_copy(update={"step_at_mm": measured(at)})
        found = stack("tube", parts=(part,), on=lens(20.0, None, DEPTH), focal=None)
        assert part.step_clear_mm is not None
        truth = np.mean(np.hypot(x + (DEPTH + ahead) * tangent, y) <= part.step_clear_mm.value / 2.0)
        assert found.light.corner_ri == pytest.approx(float(truth), abs=3e-3)


def test_a_petal_hood_reaches_less_far_at_the_corners_and_turns_with_the_lens() -> None:
    """Each corner against a tube as long as the petals reach in its direction."""
    x, y = pupil_points(20.0)
    hood = Hood(
        id="hood", name="hood", outer_diameter_mm=160, front=thread(95, 1, IN), rear=thread(95, 1, OUT),
        path_length_mm=measured(40.0), corner_reach_mm=measured(22.0), side_reach_mm=measured(15.0),
        clear_aperture_mm=measured(119.0),
    )  # fmt: skip
    on = lens(20.0, None, DEPTH)
    straight = stack("hood", parts=(hood.model_copy(update={"corner_reach_mm": None, "side_reach_mm": None}),), on=on)
    right = stack("hood", parts=(hood,), on=on)
    turned = stack(MountedPart(part="hood", turned_deg=90.0), parts=(hood,), on=on)
    diagonal = math.atan2(12.0, 18.0)
    for found, reach in (
        (straight, 40.0), (right, 22.0),
        # Turned by a quarter the corner is as far from the sides as it place from above: between 22 and 40 mm.
        (turned, 22.0 + 18.0 * (math.pi / 2.0 - 2.0 * diagonal) / (math.pi / 2.0 - diagonal)),
    ):  # fmt: skip
        tangent = HEIGHT / 20.0
        truth = float(np.mean(np.hypot(x + (DEPTH + reach) * tangent, y) <= 59.5))
        assert 2.0**-found.front.corner_stops == pytest.approx(truth, abs=3e-3)
        assert found.light.corner_ri == pytest.approx(truth, abs=3e-3)


def round_filter(clear: float, long: float, *, bare: bool = False) -> RoundFilter:
    end = Connection(standard=Plain(diameter_mm=clear + 2.0), gender=Gender.NONE, engagement_mm=0.0)
    ends = (end, end) if bare else (thread(95, 1, IN), thread(95, 1, OUT))
    return RoundFilter(
        id="f", name="f", outer_diameter_mm=clear + 2.0, front=ends[0], rear=ends[1], path_length_mm=measured(long),
        clear_aperture_mm=measured(clear), glass=Plate(thickness_mm=measured(2.0), index=measured(1.5168)),
    )  # fmt: skip
