"""Mixed stacks of discs, rectangles and covers against polygon clipping, and the worked cases of docs/models.md."""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st
from shapely import affinity

from farrail.optics.illumination import (
    enlarged,
    frame_points_mm,
    illumination_at,
    loss_alone,
    natural_falloff,
    relative_illumination,
)
from farrail.optics.pupils import ApertureImage, Pupil, clear_diameter_needed_mm, project
from farrail.optics.shapes import light_fraction

SEGMENTS = 256  # polygons fine relative to the pupil


def polygon(o: ApertureImage, pupil: Pupil, point: tuple[float, float]) -> shapely.Geometry:
    """An opening projected on the unit pupil by the formulas of docs/models.md, section 2."""
    if o.front:
        scale = 2 * pupil.f_number / pupil.focal_length_mm
        cx, cy = (
            c * scale + q * o.distance_mm * scale / pupil.focal_length_mm
            for c, q in zip(o.centre_mm, point, strict=True)
        )
    else:
        s = pupil.exit_distance_mm / o.distance_mm
        radius = pupil.exit_distance_mm / (2 * pupil.f_number)
        scale = s / radius
        cx, cy = ((c * s + q * (1 - s)) / radius for c, q in zip(o.centre_mm, point, strict=True))
    if o.half_height_mm is None:
        return shapely.Point(cx, cy).buffer(o.radius_mm * scale, quad_segs=SEGMENTS)
    w, h = o.radius_mm * scale, o.half_height_mm * scale
    box = shapely.box(-w, -h, w, h)
    return affinity.translate(affinity.rotate(box, o.angle_rad, origin=(0, 0), use_radians=True), cx, cy)


def by_polygons(pupil: Pupil, apertures: list[ApertureImage], points: np.ndarray) -> np.ndarray:
    whole = shapely.Point(0, 0).buffer(1.0, quad_segs=SEGMENTS)
    if pupil.obstruction:
        whole = whole.difference(shapely.Point(0, 0).buffer(pupil.obstruction, quad_segs=SEGMENTS))
    found = []
    for point in points:
        open_part, light = whole, 0.0
        for o in apertures:
            if o.passes is None:
                open_part = open_part.intersection(polygon(o, pupil, tuple(point)))
        covers = [o for o in apertures if o.passes is not None]
        # Piece by piece: each part of the pupil with the covers that are over it.
        pieces = [(open_part, 1.0)]
        for o in covers:
            shape, passes = polygon(o, pupil, tuple(point)), o.passes or 0.0
            pieces = [(p.difference(shape), t) for p, t in pieces] + [
                (p.intersection(shape), t * passes) for p, t in pieces
            ]
        # Of outlines that coincide the clipper may leave a sliver of negative area.
        light = sum(max(p.area, 0.0) * t for p, t in pieces)
        found.append(light / whole.area)
    return np.array(found)


shape = st.builds(
    ApertureImage,
    radius_mm=st.floats(5, 22),
    distance_mm=st.floats(6, 60),
    front=st.just(False),
    half_height_mm=st.one_of(st.none(), st.floats(5, 18)),
    centre_mm=st.tuples(st.floats(-3, 3), st.floats(-3, 3)),
    angle_rad=st.floats(-1.5, 1.5),
    passes=st.one_of(st.none(), st.none(), st.floats(0, 0.9)),
)


@settings(max_examples=150, deadline=None)
@example(
    stack=[
        ApertureImage(radius_mm=5.0, distance_mm=6.0, half_height_mm=5.0, centre_mm=(3.0, 3.0), angle_rad=1.0),
        ApertureImage(radius_mm=6.0, distance_mm=6.0, half_height_mm=5.0, centre_mm=(3.0, 3.0), angle_rad=0.0625),
    ],
    obstruction=0.0, f_number=5.0,
)  # fmt: skip
@given(st.lists(shape, min_size=1, max_size=5), st.sampled_from([0.0, 0.35]), st.floats(2.5, 8))
def test_random_stacks_against_polygon_clipping(
    stack: list[ApertureImage], obstruction: float, f_number: float
) -> None:
    # Outlines that coincide are beyond the polygon clipper, not beyond the engine.
    assume(len({(o.radius_mm, o.distance_mm) for o in stack}) == len(stack))
    pupil = Pupil(f_number, 200.0, 400.0, obstruction)
    points = frame_points_mm(24.0, 16.0, 4, 3)
    ours = illumination_at(pupil, stack, points)
    # The wished error, 2e-3 at worst, holds of a stack of openings; each cover adds an area with an error of its own.
    covers = sum(o.passes is not None for o in stack)
    assert np.abs(ours - by_polygons(pupil, stack, points)).max() < 2e-3 * 2**covers


@pytest.mark.parametrize("between", [0.002, 0.01, 0.05, 0.2, 0.8])
def test_rectangles_turned_a_little_against_each_other(between: float) -> None:
    """Edges that are nearly along the chords make their lengths leap: the chords are turned, and made more of."""
    rng = np.random.default_rng(round(between * 1000))
    points = frame_points_mm(24.0, 16.0, 4, 3)
    worst = 0.0
    for _ in range(25):
        turn = float(rng.uniform(-1.5, 1.5))
        stack = [
            ApertureImage(radius_mm=float(rng.uniform(3, 9)), distance_mm=float(rng.uniform(6, 40)),
                    half_height_mm=float(rng.uniform(3, 9)), centre_mm=(float(rng.uniform(-3, 3)), 0.0),
                    angle_rad=turn + between * number)
            for number in range(2)
        ]  # fmt: skip
        pupil = Pupil(float(rng.uniform(2.5, 8)), 200.0, 400.0)
        worst = max(
            worst, float(np.abs(illumination_at(pupil, stack, points) - by_polygons(pupil, stack, points)).max())
        )
    assert worst < 1.5e-3


def test_the_error_over_many_stacks_stays_within_what_is_wished() -> None:
    rng = np.random.default_rng(5)
    errors = []
    for _ in range(40):
        stack = []
        for _ in range(6):
            height = rng.uniform(8, 16) if rng.random() < 0.5 else None
            centre = (rng.normal(0, 1), rng.normal(0, 1))
            stack.append(
                ApertureImage(rng.uniform(8, 20), rng.uniform(10, 60), False, height, centre, rng.uniform(-1, 1))
            )  # fmt: skip
        pupil, points = Pupil(4.0, 200.0, 400.0), frame_points_mm(24.0, 16.0, 5, 4)
        errors.append(illumination_at(pupil, stack, points) - by_polygons(pupil, stack, points))
    error = np.concatenate(errors)
    assert np.abs(error).max() < 2e-3
    assert math.sqrt((error**2).mean()) < 4e-4


def test_centred_discs_come_out_the_same_as_by_the_profile() -> None:
    pupil = Pupil(3.9, 780.0, 780.0, 0.3)
    discs = [ApertureImage(13.5, 26.5), ApertureImage(12.0, 18.0), ApertureImage(40.0, 60.0, front=True)]
    points = frame_points_mm(24, 16, 9, 7)
    profile = relative_illumination(pupil, discs, np.hypot(points[:, 0], points[:, 1]))
    mixed = light_fraction(project(pupil, discs, points), obstruction=pupil.obstruction)
    assert np.abs(profile - mixed).max() < 1.5e-3


# Exact values from docs/models.md, computed there from the lens formula of two circles.
@pytest.mark.parametrize(
    ("n", "length", "distance", "clear", "height", "ri"),
    [
        (3.9, 780.0, 26.5, 27.0, 11.09, 0.94958),
        (3.9, 780.0, 26.5, 25.0, 11.09, 0.79873),
        (3.9, 780.0, 26.5, 31.0, 11.09, 1.0),
        (400 / 203, 400.0, 20.0, 28.0, 9.9, 0.97884),
        (400 / 203, 400.0, 20.0, 28.0, 11.2, 0.86837),
        (400 / 203, 400.0, 20.0, 28.0, 14.0, 0.54856),
    ],
)
def test_the_worked_cases(n: float, length: float, distance: float, clear: float, height: float, ri: float) -> None:
    pupil = Pupil(n, length, length)
    found = illumination_at(pupil, [ApertureImage(clear / 2, distance)], np.array([[height, 0.0], [0.0, -height]]))
    assert found == pytest.approx([ri, ri], abs=6e-6)


def test_two_front_discs_of_a_wide_lens() -> None:
    pupil = Pupil(8.0, 40.0, 16.0)  # the exit pupil does not matter in front
    stack = [ApertureImage(37.0, 22.0 + 8.0, front=True), ApertureImage(48.0, 22.0 + 22.0, front=True)]
    heights = np.array([17.2, 17.4, 18.0, 17.05, 17.85])
    points = np.stack([heights, np.zeros(5)], axis=1)
    assert illumination_at(pupil, stack, points) == pytest.approx([0.9051, 0.5930, 0.0, 1.0, 0.0], abs=6e-5)


def test_a_prism_s_edge_takes_a_corner_to_what_docs_models_says() -> None:
    # Half plane 8 mm from the axis at x 45, f/5, L 400: RI .894 at the corner it belongs to.
    prism = ApertureImage(50.0, 45.0, half_height_mm=50.0, centre_mm=(0.0, 58.0), passes=0.0)
    pupil = Pupil(5.0, 400.0, 400.0)
    found = illumination_at(pupil, [prism], np.array([[0.0, 4.6], [0.0, -4.6], [0.0, 0.0]]))
    assert found[1] == pytest.approx(1.0)
    assert found[0] < found[2] <= 1.0
    s = 400 / 45
    radius = 400 / 10
    for height in (4.6, 8.0):
        edge = (8.0 * s + height * (1 - s)) / radius
        exact = 1 - (math.acos(max(min(edge, 1), -1)) - edge * math.sqrt(max(1 - edge**2, 0))) / math.pi
        ours = illumination_at(pupil, [prism], np.array([[0.0, height]]))[0]
        assert ours == pytest.approx(exact, abs=1e-6)


def test_a_cover_s_transmission_weighs_the_area_it_covers() -> None:
    pupil = Pupil(4.0, 100.0, 100.0)
    half = ApertureImage(60.0, 20.0, half_height_mm=30.0, centre_mm=(0.0, 30.0), passes=0.25)
    assert illumination_at(pupil, [half], np.array([[0.0, 0.0]]))[0] == pytest.approx(0.625, abs=1e-9)
    twice = [half, ApertureImage(60.0, 20.0, half_height_mm=30.0, centre_mm=(0.0, 30.0), passes=0.5)]
    assert illumination_at(pupil, twice, np.array([[0.0, 0.0]]))[0] == pytest.approx((1 + 0.125) / 2, abs=1e-9)


def test_a_decentred_opening_darkens_one_side_and_is_named() -> None:
    pupil = Pupil(4.0, 200.0, 400.0)
    off, wide = ApertureImage(14.0, 20.0, centre_mm=(2.0, 0.0)), ApertureImage(30.0, 40.0)
    right, left = illumination_at(pupil, [off, wide], np.array([[11.0, 0.0], [-11.0, 0.0]]))
    assert left < right
    shares = loss_alone(pupil, [off, wide], np.array([[11.0, 0.0], [-11.0, 0.0]]))
    assert shares[0][0] == pytest.approx(1 - left)
    assert shares[0][1] == 1
    assert shares[1] == (0.0, 0)


@pytest.mark.parametrize(
    ("n", "length", "diagonal", "x", "needed"),
    [
        (780 / 200, 780.0, 22.18, 26.5, 28.2213), (400 / 203, 400.0, 28.0, 20.0, 36.750),
        (4.0, 100.0, 43.27, 17.5, 40.0727), (4.0, 60.0, 43.27, 17.5, 35.0246), (5.0, 400.0, 43.27, 55.0, 48.3204),
        (4.0, math.inf, 43.27, 30.0, 50.770),
    ],
)  # fmt: skip
def test_needed_diameters(n: float, length: float, diagonal: float, x: float, needed: float) -> None:
    assert clear_diameter_needed_mm(n, length, diagonal, x) == pytest.approx(needed, abs=6e-4)


def test_two_filters_of_the_trade() -> None:
    # Common practice, no source: a 34 mm disc 16 mm before the sensor serves a 16 mm diagonal, and a 28.3 mm one at
    # f/4.9 too; it needs at most 31.6 where the pupil is nearer than the sensor is wide.
    assert clear_diameter_needed_mm(4.9, 400.0, 16.0, 16.0) < 28.3
    for length in (60.0, 120.0, 400.0, math.inf):
        assert clear_diameter_needed_mm(4.9, length, 16.0, 16.0) <= 31.6


def test_natural_falloff_is_the_fourth_power_of_the_cosine() -> None:
    heights = np.array([0.0, 10.0, 20.0])
    assert natural_falloff(50.0, heights) == pytest.approx([math.cos(math.atan(h / 50.0)) ** 4 for h in heights])
    assert natural_falloff(math.inf, heights).tolist() == [1.0, 1.0, 1.0]


def test_a_coarse_grid_is_enlarged_to_within_a_thousandth() -> None:
    pupil = Pupil(4.0, 200.0, 400.0)
    stack = [
        ApertureImage(12.0, 20.0, centre_mm=(0.8, -0.5)),
        ApertureImage(15.0, 9.0, half_height_mm=10.5, angle_rad=0.2),
    ]
    coarse = illumination_at(pupil, stack, frame_points_mm(24, 16, 73, 49)).reshape(49, 73)
    x = (np.arange(96) + 0.5) / 96 * 24 - 12
    y = 8 - (np.arange(64) + 0.5) / 64 * 16
    points = np.stack([g.ravel() for g in np.meshgrid(x, y)], axis=1)
    fine = illumination_at(pupil, stack, points).reshape(64, 96)
    error = np.abs(enlarged(coarse, 96, 64) - fine)
    assert error.max() < 5e-3
    assert math.sqrt((error**2).mean()) < 1e-3


REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "ray_trace.json").read_text())
# The tracer counts rays of a disc of 97,741: its own shares are good to about 1.5e-3.
TRACED = 1.5e-3


@pytest.mark.parametrize("case", REFERENCE["rear"])
def test_apertures_behind_the_optic_against_a_general_ray_tracer(case: dict[str, float]) -> None:
    pupil = Pupil(case["f_number"], case["pupil_mm"], case["pupil_mm"])
    found = illumination_at(
        pupil, [ApertureImage(case["clear_mm"] / 2, case["distance_mm"])], np.array([[0.0, case["height_mm"]]])
    )
    assert found[0] == pytest.approx(case["ri"], abs=TRACED)


@pytest.mark.parametrize("case", REFERENCE["front"])
def test_discs_ahead_of_the_lens_against_a_general_ray_tracer(case: dict[str, Any]) -> None:
    pupil = Pupil(case["f_number"], 60.0, case["focal_mm"])
    stack = [ApertureImage(clear / 2, distance, front=True) for clear, distance in case["discs"]]
    found = illumination_at(pupil, stack, np.array([[0.0, case["height_mm"]]]))
    assert found[0] == pytest.approx(case["ri"], abs=TRACED)
