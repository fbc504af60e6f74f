"""Rulers at an angle, drawn with a perspective of their own: the interval holds the width, and askew is said."""

import math

import numpy as np
import pytest

from farrail.frames.picture import Picture
from farrail.frames.ruler import read_ruler
from farrail.frames.words import ruler_words
from tests.frames.how_often import COUNT, WANTED

COLUMNS, ROWS, SENSOR_MM = 1200, 800, 36.0


def rule(width_mm: float, turned_deg: float, sideways: float, upward: float, seed: int) -> Picture:
    """A rule of which so much fills the middle row, turned, larger at one end and one side by a share."""
    dice = np.random.default_rng(seed)
    y, x = np.mgrid[0:ROWS, 0:COLUMNS].astype(float)
    u, v, turn = (x - COLUMNS / 2) / COLUMNS, (y - ROWS / 2) / COLUMNS, math.radians(turned_deg)
    along, across = u * math.cos(turn) - v * math.sin(turn), u * math.sin(turn) + v * math.cos(turn)
    scale = 1.0 + sideways * along + upward * across
    marks = width_mm * along / scale + 100.0 + dice.uniform(0.0, 1.0)
    number, up = np.floor(marks), across / scale + 0.25
    long = np.where(number % 10 == 0, 0.25, np.where(number % 5 == 0, 0.2, 0.14))
    ink = (marks - number < 0.2) & (up > 0.0) & (up < long)
    light = np.where(ink, 0.25, 0.85) * (1.0 - 0.15 * (y / ROWS)) * 20_000.0
    return Picture(dice.normal(light, np.sqrt(light)).astype(np.float32), 1e9)


@pytest.mark.parametrize(("turned_deg", "perspective"), [(0.0, 0.0), (6.0, 0.0), (0.0, 0.06), (6.0, 0.06)])
def test_the_width_is_in_its_interval(turned_deg: float, perspective: float) -> None:
    dice, held = np.random.default_rng(4), 0
    for seed in range(COUNT):
        width = float(dice.uniform(20.0, 60.0))
        turned = float(dice.uniform(-turned_deg, turned_deg))
        sideways, upward = dice.uniform(-perspective, perspective, 2)
        reading = read_ruler(rule(width, turned, sideways, upward, seed), SENSOR_MM)
        assert reading is not None
        held += reading.width_mm.low <= width <= reading.width_mm.high
        if not perspective:
            assert abs(reading.turned_deg) == pytest.approx(abs(turned), abs=1.0)
            assert reading.width_mm.value == pytest.approx(width, rel=0.005)
    assert held >= WANTED * COUNT


def test_a_rule_that_is_not_square_is_said_to_be() -> None:
    (askew, *_) = ruler_words(read_ruler(rule(40.0, 6.0, 0.0, 0.0, 1), SENSOR_MM))
    assert askew.startswith("The rule is not square: turned 6.")
    (square, *_) = ruler_words(read_ruler(rule(40.0, 0.5, 0.0, 0.0, 1), SENSOR_MM))
    assert "of the rule fill" in square
