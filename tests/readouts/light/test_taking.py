"""The part named is the one whose change would help: against taking each part away, one by one, ray by ray."""

import math

import numpy as np
import pytest

from farrail.readouts.read import Readout
from farrail.train.train import MountedPart
from tests.readouts.front.test_front import disc, lens, stack

DEPTH = 30.0
CORNER = math.hypot(18.0, 12.0)


def rays(focal: float, n: float) -> tuple[np.ndarray, np.ndarray]:
    radius = focal / n / 2.0
    side = np.linspace(-radius, radius, 201)
    x, y = np.meshgrid(side, side)
    inside = x**2 + y**2 <= radius**2
    return x[inside], y[inside]


def drawn(seed: int) -> tuple[Readout, list[tuple[float, float, float]], float]:
    """A random stack of discs on a wide lens: what is read, each disc's clear diameter and its two ends, the focal."""
    dice = np.random.default_rng(seed)
    focal, rows, parts, at = float(dice.choice([16.0, 20.0, 24.0])), [], [], 0.0
    for number in range(int(dice.integers(2, 5))):
        long = float(dice.uniform(3.0, 12.0))
        # About as wide as the corner's bundle needs there, a little more or less.
        needed = 2.0 * (DEPTH + at + long) * CORNER / focal
        clear = round(needed + float(dice.uniform(-4.0, 4.0)), 2)
        rows.append((clear, at, at + long))
        parts.append(disc(f"d{number}", clear, long))
        at += long
    found = stack(*(p.id for p in parts), parts=tuple(parts), on=lens(focal, None, DEPTH), f_number=2.8)
    return found, rows, focal


def share(rows: list[tuple[float, float, float]], focal: float, height: float) -> float:
    x, y = rays(focal, 2.8)
    passed = np.ones(x.size, dtype=bool)
    for clear, low, high in rows:
        for ahead in (low, high):
            passed &= np.hypot(x + (DEPTH + ahead) * height / focal, y) <= clear / 2.0
    return float(passed.mean())


@pytest.mark.parametrize("seed", range(60))
def test_the_part_named_gains_most_when_it_is_taken_away(seed: int) -> None:
    found, rows, focal = drawn(seed)
    limiting = found.front.limiting
    of_light = found.light.limiting
    now = share(rows, focal, CORNER)
    if now > 0.999:
        return
    assert limiting is not None
    assert of_light is not None
    assert limiting.part.id == of_light.placed.part.id, "Front and Light agree"
    assert found.light.taking is not None
    x, y = found.light.taking.point_mm
    height = math.hypot(x, y)
    here = share(rows, focal, height)
    gains = [share(rows[:n] + rows[n + 1 :], focal, height) - here for n in range(len(rows))]
    named = int(limiting.part.id[1:])
    assert gains[named] >= max(gains) - 0.012
    if max(gains) < 0.002:
        # None gains alone: the named one still limits once the others are gone.
        alone = [share([row], focal, height) for row in rows]
        assert alone[named] <= min(alone) + 0.012


def test_a_plate_that_takes_all_is_named_and_not_the_window_with_room_to_spare() -> None:
    wide, tight = disc("window", 140.0, 12.0), disc("plate", 92.0, 4.0)
    found = stack("window", "plate", parts=(wide, tight), on=lens(20.0, None, DEPTH))
    assert found.front.limiting is not None
    assert found.light.limiting is not None
    assert found.front.limiting.part.id == found.light.limiting.placed.part.id == "plate"


def test_a_bump_between_the_sweep_s_steps_decides_and_a_shade_does_not() -> None:
    """The first clean focal length is the last crossing, found by trying every tenth of a millimetre."""
    for clear in (70.0, 76.0, 82.0, 90.0):
        on = lens(14.0, 40.0, 33.0)
        found = stack("tube", parts=(disc("tube", clear, 14.0),), on=on, focal=24.0)
        front = found.front
        fine = np.arange(14.0, 40.0, 0.05)
        stops = -np.log2(np.maximum(front.light_over(fine), 1e-9))
        bad = np.flatnonzero(stops > 0.1 + 0.005)
        last = fine[bad[-1]] if bad.size else 14.0
        assert front.now.first_clean_mm == pytest.approx(last, abs=0.15)


def test_a_stack_of_one_names_it() -> None:
    found = stack(MountedPart(part="tube"), parts=(disc("tube", 60.0, 14.0),), on=lens(20.0, None, DEPTH))
    assert found.front.limiting is not None
    assert found.front.limiting.part.id == "tube"
    assert stack(parts=(), on=lens(20.0, None, DEPTH)).front.limiting is None
