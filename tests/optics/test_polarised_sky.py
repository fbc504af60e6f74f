"""A polariser on a wide sky: worked values, and photons sent one by one through an ideal polariser."""

import math

import numpy as np
import pytest

from farrail.optics.polarised_sky import (
    darkest_axis_rad,
    degree_of_polarisation,
    passed,
    sight_lines,
    stops_of,
    sun_direction,
)

# Level camera, 36 mm wide, Sun 20° high, P_max 0.8, darkest in the middle: left edge, quarter, middle, quarter, right
# edge, in stops (models.md 10; worked out apart from this code).
WORKED = [
    (17.0, 90.0, (1.496, 2.123, 3.322, 2.123, 1.496)),
    (35.0, 90.0, (2.154, 2.821, 3.322, 2.821, 2.154)),
    (17.0, 60.0, (2.492, 3.210, 2.031, 1.270, 1.065)),
]


@pytest.mark.parametrize(("focal", "right", "stops"), WORKED)
def test_the_worked_values_across_the_frame(focal: float, right: float, stops: tuple[float, ...]) -> None:
    sun = sun_direction(20.0, right)
    sight = sight_lines(np.linspace(-18.0, 18.0, 5), np.zeros(5), focal, "rectilinear")
    found = stops_of(passed(sight, sun, 0.8, darkest_axis_rad(sun)))
    assert found == pytest.approx(stops, abs=6e-4)


def test_the_degree_is_greatest_at_right_angles_to_the_sun_and_none_toward_it() -> None:
    sun = sun_direction(0.0, 0.0)
    for angle, share in ((0.0, 0.0), (90.0, 0.8), (180.0, 0.0), (45.0, 0.8 * 0.5 / 1.5)):
        line = np.array([math.sin(math.radians(angle)), 0.0, math.cos(math.radians(angle))])
        assert float(degree_of_polarisation(line, sun, 0.8)) == pytest.approx(share, abs=1e-12)


def test_a_camera_looking_up_sees_the_sun_lower() -> None:
    # Sun 20° high straight ahead, camera 20° up: in the middle of the picture. To the right it stays where it is.
    assert sun_direction(20.0, 0.0, 20.0) == pytest.approx([0.0, 0.0, 1.0], abs=1e-12)
    assert sun_direction(0.0, 90.0, 35.0) == pytest.approx([1.0, 0.0, 0.0], abs=1e-12)
    assert sun_direction(90.0, 12.0, 0.0) == pytest.approx([0.0, 1.0, 0.0], abs=1e-12)


@pytest.mark.parametrize("seed", range(6))
def test_light_waves_sent_through_one_by_one(seed: int) -> None:
    """Half-polarised light as many waves: a share 1 − P swings anyhow across the ray, the rest along s × u."""
    dice = np.random.default_rng(seed)
    sun = sun_direction(float(dice.uniform(0, 60)), float(dice.uniform(-180, 180)))
    focal, axis = float(dice.uniform(12, 60)), float(dice.uniform(-math.pi, math.pi))
    x, y = float(dice.uniform(-18, 18)), float(dice.uniform(-12, 12))
    sight = np.array([x, y, focal]) / math.sqrt(x * x + y * y + focal * focal)
    cosine = float(sight @ sun)
    polarised = 0.8 * (1.0 - cosine**2) / (1.0 + cosine**2)
    one = np.cross(sight, sun)
    one /= np.linalg.norm(one)
    other = np.cross(sight, one)
    count = 400_000
    turns = dice.uniform(0.0, 2.0 * math.pi, count)
    turns[: int(polarised * count)] = 0.0
    waves = np.cos(turns)[:, None] * one + np.sin(turns)[:, None] * other
    # The sheet absorbs what swings along the direction, across the ray, that is at right angles to its axis.
    wire = np.array([math.cos(axis), math.sin(axis), 0.0])
    wire -= (wire @ sight) * sight
    wire /= np.linalg.norm(wire)
    share = float(((waves @ wire) ** 2).mean())
    found = float(passed(sight_lines(np.array(x), np.array(y), focal, "rectilinear"), sun, 0.8, axis))
    assert found == pytest.approx(share, abs=3e-3)


def test_the_darkest_turn_is_the_darkest_of_all() -> None:
    for right in (-140.0, -60.0, 10.0, 90.0):
        sun = sun_direction(25.0, right)
        middle = np.array([0.0, 0.0, 1.0])
        best = float(passed(middle, sun, 0.8, darkest_axis_rad(sun)))
        others = [float(passed(middle, sun, 0.8, turn)) for turn in np.linspace(0.0, math.pi, 181)]
        assert best == pytest.approx(min(others), abs=1e-3)
        assert best <= min(others) + 1e-12


def test_toward_the_sun_and_for_a_fisheye_nothing_breaks() -> None:
    ahead = sun_direction(0.0, 0.0)
    assert darkest_axis_rad(ahead) == 0.0
    assert float(passed(np.array([0.0, 0.0, 1.0]), ahead, 0.8, 0.3)) == pytest.approx(0.5)
    edge = sight_lines(np.array([0.0, 12.0 * math.pi / 2.0]), np.zeros(2), 12.0, "equidistant")
    assert edge == pytest.approx(np.array([[0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]), abs=1e-12)
