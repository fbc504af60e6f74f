"""The chord engine's quicker ways against its plain ones and against points thrown at the pupil."""

import numpy as np
import pytest

from farrail.optics import clipping


def openings(seed: int, points: int, count: int) -> tuple[clipping.Array, clipping.Array, clipping.Array]:
    chance = np.random.default_rng(seed)
    return (
        chance.uniform(-0.8, 0.8, (points, count)), chance.uniform(-0.8, 0.8, (points, count)),
        chance.uniform(0.3, 1.9, count),
    )  # fmt: skip


@pytest.mark.parametrize("obstruction", [0.0, 0.35])
def test_all_openings_in_one_pass_leave_what_one_after_another_leave(
    monkeypatch: pytest.MonkeyPatch, obstruction: float
) -> None:
    for seed in range(20):
        x, y, radius = openings(seed, 7, 40)
        at_once = clipping.open_fraction(x / 6.0, y / 6.0, radius + 0.4, obstruction=obstruction)
        monkeypatch.setattr(clipping, "AT_ONCE", 0)
        one_by_one = clipping.open_fraction(x / 6.0, y / 6.0, radius + 0.4, obstruction=obstruction)
        monkeypatch.undo()
        assert np.array_equal(at_once, one_by_one)


@pytest.mark.parametrize("obstruction", [0.0, 0.35])
def test_each_opening_alone_against_points_thrown_at_the_pupil(obstruction: float) -> None:
    """Brute force: the share of even points within the pupil's ring that are within the opening too."""
    grid = np.linspace(-1.0, 1.0, 801)
    px, py = (axis.ravel() for axis in np.meshgrid(grid, grid))
    ring = (px**2 + py**2 <= 1.0) & (px**2 + py**2 >= obstruction**2)
    px, py = px[ring], py[ring]
    x, y, radius = openings(3, 5, 9)
    each = clipping.open_fraction_each(x, y, radius, obstruction=obstruction)
    assert each.shape == (5, 9)
    for place in range(5):
        for number in range(9):
            inside = (px - x[place, number]) ** 2 + (py - y[place, number]) ** 2 <= radius[number] ** 2
            assert each[place, number] == pytest.approx(inside.mean(), abs=2e-3)


def test_an_opening_beside_the_pupil_leaves_nothing_and_a_wide_one_all() -> None:
    each = clipping.open_fraction_each(np.array([[3.0, 0.1]]), np.zeros((1, 2)), np.array([1.5, 2.0]))
    assert each.tolist() == [[0.0, 1.0]]
