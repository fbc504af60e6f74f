"""Frames of stars trailed by field rotation, each trail summed from points of its own arc."""

import math

import numpy as np

from farrail.frames.picture import Picture

COLUMNS, ROWS, WIDE_MM, HIGH_MM = 1200, 800, 24.0, 16.0
POINTS = np.linspace(-0.5, 0.5, 15)


def rotated_stars(centre_px: tuple[float, float], corner_px: float, seed: int) -> Picture:
    """Return stars of a field that turns about a place.

    Args:
        centre_px: from the picture's middle, right and down.
        corner_px: how long the trail in the farthest corner is.
        seed: of the dice.
    """
    dice = np.random.default_rng(seed)
    frame = np.full((ROWS, COLUMNS), 60.0)
    corners = [(sx * COLUMNS / 2, sy * ROWS / 2) for sx in (-1, 1) for sy in (-1, 1)]
    far = max(math.hypot(x - centre_px[0], y - centre_px[1]) for x, y in corners)
    turn, sigma = corner_px / far, 3.5 / 2.355
    places = zip(dice.uniform(15, COLUMNS - 15, 350), dice.uniform(15, ROWS - 15, 350), strict=True)
    for (x, y), light in zip(places, 10.0 ** dice.uniform(4.2, 5.4, 350), strict=True):
        right, down = x - COLUMNS / 2 - centre_px[0], y - ROWS / 2 - centre_px[1]
        rows, columns = np.mgrid[int(y) - 12 : int(y) + 13, int(x) - 12 : int(x) + 13]
        inside = (rows >= 0) & (rows < ROWS) & (columns >= 0) & (columns < COLUMNS)
        star = np.zeros(rows.shape)
        for at in POINTS:
            away = (columns - x + turn * at * down) ** 2 + (rows - y - turn * at * right) ** 2
            star += np.exp(-away / (2 * sigma**2))
        frame[rows[inside], columns[inside]] += light * star[inside] / (POINTS.size * 2 * math.pi * sigma**2)
    return Picture(dice.normal(frame, np.sqrt(frame + 9.0)).astype(np.float32), 60_000.0)
