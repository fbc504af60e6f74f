"""Many close-up arrangements at once, each against ray matrices made here from refraction and travel alone.

Matrices: Gerrard and Burch, *Introduction to Matrix Methods in Optics* (cited from memory).
"""

import math

import numpy as np
import pytest
from tests.reference.rays import conjugate, lens, travel

from farrail.errors import BadInput
from farrail.optics.close_up import stack_matrix, through_close_up
from farrail.optics.close_up_systems import CloseUpSystems

NAMES = (
    "far_focal_mm", "near_focal_mm", "own_magnification", "principal_mm", "pupil_ratio", "shortest_mm", "longest_mm",
    "converter", "first_mm", "a", "b", "c", "d", "front_mm", "reversed", "near_principal_mm", "f_number", "near_cone",
    "pupil_depth_mm", "coupled_pupil_mm", "coupled_at_mm",
)  # fmt: skip
PLAIN = {"pupil_ratio": 1.0, "converter": 1.0, "f_number": 4.0, "near_cone": 1.0, "coupled_pupil_mm": math.inf}


def one(*lenses: tuple[float, float], **given: float) -> CloseUpSystems:
    values = {name: PLAIN.get(name, 0.0) for name in NAMES} | given
    if "near_focal_mm" not in given:
        values["near_focal_mm"] = values["far_focal_mm"]
    if "near_principal_mm" not in given:
        values["near_principal_mm"] = values["principal_mm"]
    values |= dict(zip("abcd", stack_matrix(lenses), strict=True))
    return CloseUpSystems(**{name: np.array([value]) for name, value in values.items()})


@pytest.mark.parametrize("seed", range(40))
def test_any_arrangement_agrees_with_its_ray_matrices(seed: int) -> None:
    rng = np.random.default_rng(seed)
    f, near, m0 = float(rng.uniform(28, 200)), float(rng.uniform(0.75, 1.0)), float(rng.uniform(0.1, 1.0))
    s, extension, focus_position = float(rng.uniform(-10, 40)), float(rng.uniform(0, 70)), float(rng.uniform(0.05, 1))
    lenses = [(float(rng.uniform(1, 6)), float(rng.uniform(2, 9))) for _ in range(rng.integers(0, 4))]
    first = float(rng.uniform(1, 6))
    table = one(*lenses, far_focal_mm=f, near_focal_mm=f * near, own_magnification=m0, principal_mm=s,
                shortest_mm=extension, longest_mm=extension, first_mm=first)  # fmt: skip
    point = table.at(np.array([focus_position]))
    focal = f * (1.0 + (near - 1.0) * focus_position)
    row: list[np.ndarray] = []
    for number in range(len(lenses) - 1, -1, -1):
        row.append(lens(1000.0 / lenses[number][0]))
        row.append(travel(lenses[number][1] if number else first + s))
    if not lenses:
        row.append(travel(first + s))
    row += [lens(focal), travel(focal * (1.0 + m0 * focus_position) + extension)]
    distance, magnification = conjugate(*row)
    assert point.magnification[0] == pytest.approx(magnification, rel=1e-9)
    assert point.distance_mm[0] == pytest.approx(distance, rel=1e-9)
    # And back: the drive is found again from either.
    assert table.position_for(point.magnification)[0] == pytest.approx(focus_position, abs=1e-7)
    assert table.position_for_distance(point.distance_mm)[0] == pytest.approx(focus_position, abs=1e-7)


def test_worked_examples() -> None:
    """Values of exact matrices, worked independently."""
    macro = {"far_focal_mm": 72.5, "own_magnification": 1.0, "shortest_mm": 69.0, "longest_mm": 69.0}
    near = np.ones(1)
    tubes = one(**macro).at(near)
    assert tubes.magnification[0] == pytest.approx(1.95172, abs=5e-6)
    assert tubes.distance_mm[0] == pytest.approx(109.647, abs=5e-4)
    assert tubes.stops[0] == pytest.approx(3.1231, abs=5e-5)
    with_lens = one((10.0, 0.0), first_mm=40.0, **macro).at(near)
    assert with_lens.distance_mm[0] == pytest.approx(41.0539, abs=5e-5)
    assert with_lens.magnification[0] == pytest.approx(3.31103, abs=5e-6)
    assert 4.0 * with_lens.darker[0] == pytest.approx(11.8069, abs=5e-5)
    far = one((2.0, 0.0), far_focal_mm=200.0).at(np.zeros(1))
    assert (far.distance_mm[0], far.magnification[0]) == pytest.approx((500.0, 0.4))
    five = one((5.0, 0.0), far_focal_mm=100.0, own_magnification=1.0, first_mm=15.0).at(near)
    assert (five.distance_mm[0], five.magnification[0]) == pytest.approx((96.1039, 1.9250), abs=5e-5)
    coupled = one((20.0, 0.0), far_focal_mm=200.0, first_mm=30.0).at(np.zeros(1))
    assert (coupled.magnification[0], coupled.distance_mm[0]) == pytest.approx((4.0, 50.0))
    reversed = one(far_focal_mm=28.0, shortest_mm=47.0, longest_mm=47.0, reversed=1.0).at(near)
    assert reversed.magnification[0] == pytest.approx(1.67857, abs=5e-6)
    assert reversed.distance_mm[0] == pytest.approx(44.6809, abs=5e-5)


def test_pupil_ratio_either_way_round() -> None:
    """A −60 | 20 stop 10 | +40 lens: f 48, p 1.77778; N 32 at m .416667 acts as 39.500, reversed as .97917 N."""
    m = {"far_focal_mm": 48.0, "shortest_mm": 20.0, "longest_mm": 20.0, "pupil_ratio": 1.7777778}
    assert 32.0 * one(**m).at(np.ones(1)).darker[0] == pytest.approx(39.5, abs=5e-4)
    assert one(reversed=1.0, **m).at(np.ones(1)).darker[0] == pytest.approx(0.97917, abs=5e-6)


def test_a_stack_with_gaps() -> None:
    lenses = [(3.0, 0.0), (2.0, 5.0), (1.0, 5.0)]
    a, b, c, d = stack_matrix(lenses)
    assert -1000.0 * c == pytest.approx(5.9302, abs=5e-5)
    assert a * d - b * c == pytest.approx(1.0)
    gain, at = a - 260.0 * c, (260.0 * d - b) / (a - 260.0 * c)
    assert (at, gain) == pytest.approx((95.043, 2.5219), abs=5e-4)
    seen = through_close_up(260.0, lenses)
    assert (at, gain) == pytest.approx((seen.distance_mm, seen.gain))
    with pytest.raises(BadInput, match="spreads light"):
        stack_matrix([(-2.0, 0.0)])


def test_infinity_bellows_and_what_does_not_focus() -> None:
    bare = one(far_focal_mm=50.0, own_magnification=0.1)
    assert math.isinf(bare.at(np.zeros(1)).distance_mm[0])
    assert bare.at(np.zeros(1)).magnification[0] == 0.0
    bellows = one(far_focal_mm=100.0, shortest_mm=30.0, longest_mm=130.0)
    drives = np.linspace(0.0, 1.0, 5)[None, :]
    assert bellows.at(drives).magnification[0] == pytest.approx([0.3, 0.55, 0.8, 1.05, 1.3])
    assert np.isnan(bellows.position_for(np.array([1.4]))[0])
    assert np.isnan(bellows.position_for(np.array([0.2]))[0])
    inside = one(far_focal_mm=20.0, principal_mm=30.0, shortest_mm=80.0, longest_mm=80.0).at(np.ones(1))
    assert np.isnan(inside.distance_mm[0])
    assert np.isnan(inside.magnification[0])
    assert np.isnan(one(far_focal_mm=50.0).position_for_distance(np.array([-3.0]))[0])


@pytest.mark.parametrize("wanted", [1.05, 1.1, 1.2])
def test_a_window_whose_near_end_is_inside_the_lens_is_used_as_far_as_it_focuses(wanted: float) -> None:
    """Two focal lengths of extension: against two thousand places of the window."""
    system = one(far_focal_mm=50.0, own_magnification=0.5, principal_mm=90.0, front_mm=0.0, shortest_mm=52.0,
                 longest_mm=52.0)  # fmt: skip
    places = np.linspace(0.0, 1.0, 2001)
    sizes = np.array([system.at(np.array([place])).magnification[0] for place in places])
    assert math.isnan(sizes[-1])
    assert not math.isnan(sizes[0])
    found = float(system.position_for(np.array([wanted]))[0])
    if wanted > np.nanmax(sizes):
        assert math.isnan(found)
        return
    assert found == pytest.approx(float(np.interp(wanted, sizes[~np.isnan(sizes)], places[~np.isnan(sizes)])), abs=1e-3)
