"""The chord engine against exact cases, a polygon clipper, and worked values."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from farrail.optics.clipping import FINE_CHORDS, lens_area, open_fraction
from farrail.optics.illumination import loss_alone, loss_last, map_of_profile, onset_height_mm, relative_illumination
from farrail.optics.pupils import ApertureImage, Pupil, clear_diameter_needed_mm


def by_polygons(x: np.ndarray, y: np.ndarray, radius: np.ndarray, obstruction: float = 0.0) -> np.ndarray:
    """The same fraction by clipping fine polygons, one point at a time."""
    pupil = shapely.Point(0, 0).buffer(1.0, quad_segs=256)
    if obstruction:
        pupil = pupil.difference(shapely.Point(0, 0).buffer(obstruction, quad_segs=256))
    found = []
    for row_x, row_y in zip(x, y, strict=True):
        shape = pupil
        for cx, cy, r in zip(row_x, row_y, radius, strict=True):
            shape = shape.intersection(shapely.Point(cx, cy).buffer(r, quad_segs=256))
        found.append(shape.area / pupil.area)
    return np.array(found)


@pytest.mark.parametrize(("chords", "allowed"), [(FINE_CHORDS, 1.6e-3), (10, 3.5e-3)])
@pytest.mark.parametrize("obstruction", [0.0, 0.35])
def test_many_discs_against_polygon_clipping(chords: int, allowed: float, obstruction: float) -> None:
    rng = np.random.default_rng(72)
    x, y = rng.uniform(-0.6, 0.6, (2, 120, 7))
    radius = rng.uniform(0.8, 1.3, 7)
    ours = open_fraction(x, y, radius, chords=chords, obstruction=obstruction)
    assert np.abs(ours - by_polygons(x, y, radius, obstruction)).max() < allowed


def test_lens_area_against_polygon_clipping() -> None:
    for distance, radius in ((0.3, 1.0), (1.2, 0.7), (0.1, 0.5), (2.5, 1.0), (0.0, 1.0)):
        whole = shapely.Point(0, 0).buffer(1.0, quad_segs=512)
        exact = whole.intersection(shapely.Point(distance, 0).buffer(radius, quad_segs=512)).area
        assert float(lens_area(np.array(distance), np.array(radius), 1.0)) == pytest.approx(exact, abs=2e-5)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.floats(-2, 2), st.floats(-2, 2), st.floats(0.05, 3)), min_size=1, max_size=6),
    st.floats(0.0, 0.9),
)
def test_a_fraction_stays_a_fraction_and_more_openings_never_brighten(
    discs: list[tuple[float, float, float]], obstruction: float
) -> None:
    x, y, r = (np.array([[d[i] for d in discs]]) for i in range(3))
    fractions = [
        float(open_fraction(x[:, :n], y[:, :n], r[0, :n], obstruction=obstruction)[0]) for n in range(len(discs) + 1)
    ]
    assert fractions[0] == pytest.approx(1.0)
    assert all(0.0 <= f <= 1.0 for f in fractions)
    # Chords err a little where many outlines cross; a brightening beyond that would be a fault.
    assert all(after <= before + 0.02 for before, after in itertools.pairwise(fractions))


# Values computed independently with exact formulas (docs/models.md, section 2).
@pytest.mark.parametrize(
    ("f_number", "exit_mm", "diagonal", "distance", "needed"),
    [
        (780 / 200, 780, 22.18, 26.5, 28.2213), (400 / 203, 400, 28, 20, 36.750), (4, 100, 43.27, 17.5, 40.0727),
        (4, 60, 43.27, 17.5, 35.0246), (5, 400, 43.27, 55, 48.3204), (4, float("inf"), 43.27, 30, 50.770),
    ],
)  # fmt: skip
def test_clear_diameter_needed(
    f_number: float, exit_mm: float, diagonal: float, distance: float, needed: float
) -> None:
    assert clear_diameter_needed_mm(f_number, exit_mm, diagonal, distance) == pytest.approx(needed, abs=6e-5)


def test_clear_diameter_of_a_filter_from_practice() -> None:
    # Common practice, no source: 200 mm aperture, 780 mm focal length, 22.18 mm diagonal, 26.5 mm away: 28.22 mm.
    assert clear_diameter_needed_mm(780 / 200, 780, 22.18, 26.5) == pytest.approx(28.22, abs=5e-3)


@pytest.mark.parametrize(("clear", "expected"), [(27, 0.94958), (25, 0.79873), (31, 1.0)])
def test_case_one_a_single_rear_disc(clear: float, expected: float) -> None:
    ri = relative_illumination(Pupil(3.9, 780, 780), [ApertureImage(clear / 2, 26.5)], np.array([11.09]))
    assert ri[0] == pytest.approx(expected, abs=1e-5)


def test_case_two_a_fast_rear_cone() -> None:
    ri = relative_illumination(Pupil(400 / 203, 400, 400), [ApertureImage(14, 20)], np.array([9.9, 11.2, 14.0]))
    assert ri == pytest.approx([0.97884, 0.86837, 0.54856], abs=1e-5)


def test_case_three_two_front_discs() -> None:
    apertures = [ApertureImage(37, 22 + 8, front=True), ApertureImage(48, 22 + 22, front=True)]
    ri = relative_illumination(Pupil(8, 100, 16), apertures, np.array([17.2, 17.4, 18.0, 21.0]))
    assert ri[:2] == pytest.approx([0.9051, 0.5930], abs=1e-4)
    assert list(ri[2:]) == [0.0, 0.0]
    assert onset_height_mm(Pupil(8, 100, 16), apertures[1]) == pytest.approx(17.091, abs=1e-3)
    for focal, expected in ((20, 0.6993), (21, 1.0)):
        corner = relative_illumination(Pupil(8, 100, focal), apertures, np.array([21.635]))
        assert corner[0] == pytest.approx(expected, abs=1e-4)


def test_front_and_rear_clip_opposite_sides_of_the_pupil() -> None:
    pupil, height = Pupil(4, 100, 50), np.array([15.0])
    front, rear = ApertureImage(14.0, 30.0, front=True), ApertureImage(13.5, 25.0)
    lost_front = 1 - relative_illumination(pupil, [front], height)[0]
    lost_rear = 1 - relative_illumination(pupil, [rear], height)[0]
    both = 1 - relative_illumination(pupil, [front, rear], height)[0]
    assert 0.05 < lost_front < 0.6
    assert 0.05 < lost_rear < 0.6
    assert both == pytest.approx(lost_front + lost_rear, abs=5e-3)


def test_attribution_names_what_each_takes() -> None:
    pupil = Pupil(3.9, 780, 780)
    narrow, wide = ApertureImage(12.5, 26.5), ApertureImage(20.0, 40.0)
    corner = np.array([[11.09, 0.0]])
    alone = loss_alone(pupil, [narrow, wide], corner)
    assert alone == [(pytest.approx(1 - 0.79873, abs=1e-5), 0), (0.0, 0)]
    assert loss_last(pupil, [narrow, wide], corner, alone) == [pytest.approx(alone[0][0], abs=1e-6), 0.0]


def test_the_map_of_centred_openings_is_the_profile_turned() -> None:
    pupil, apertures = Pupil(2.0, 90, 85), [ApertureImage(13.0, 20.0), ApertureImage(12.0, 17.0)]
    heights = np.linspace(0, 14.2, 512)
    profile = relative_illumination(pupil, apertures, heights)
    frame = map_of_profile(heights, profile, 23.5, 15.7, 96, 64)
    x = (95.5 / 96 - 0.5) * 23.5
    y = (63.5 / 64 - 0.5) * 15.7
    corner = relative_illumination(pupil, apertures, np.array([np.hypot(x, y)]))[0]
    assert frame.shape == (64, 96)
    assert frame[-1, -1] == pytest.approx(corner, abs=1e-3)
    assert frame[-1, -1] == pytest.approx(frame[0, 0])
    assert frame[0, 0] < frame[32, 48]
