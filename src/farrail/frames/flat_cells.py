"""Cells of a flat: those in the shadow of dust, and the darkest corner."""

import math

import numpy as np
from numpy.typing import NDArray

from farrail.optics.clipping import Array
from farrail.parts.kinds.cameras import Camera

# A cell is compared with those so many cells on both sides; darker by so many times the noise, and by this share, it is
# in the shadow of dust. More of the frame than this is not dust.
MOTE_CELLS, MOTE_NOISE, MOTE_DEPTH, MOST_MOTES = 4, 3.0, 0.0015, 0.15


def dusty_cells(light: Array, sigma: Array, shape: tuple[int, int]) -> NDArray[np.bool_]:
    """Return which cells are in the shadow of dust, (K,): darker than the light on both sides, in every direction.

    Vignetting darkens toward the edge, so a cell in it is never darker than the mean of two opposite ones.
    """
    grid = np.where(np.isfinite(light), light, 0.0).reshape(shape)
    rows, columns = shape
    found = np.zeros(shape, dtype=bool)
    reach = MOTE_CELLS
    if min(shape) <= 2 * reach:
        return found.ravel()
    inner = grid[reach:-reach, reach:-reach]
    dips = np.full(inner.shape, np.inf)
    for down, right in ((0, reach), (reach, 0), (reach, reach), (reach, -reach)):
        one = grid[reach + down : rows - reach + down, reach + right : columns - reach + right]
        other = grid[reach - down : rows - reach - down, reach - right : columns - reach - right]
        dips = np.minimum(dips, (one + other) / 2.0 - inner)
    noise = sigma.reshape(shape)[reach:-reach, reach:-reach]
    found[reach:-reach, reach:-reach] = dips > np.maximum(MOTE_NOISE * noise, MOTE_DEPTH * inner)
    return np.asarray(found.ravel() if found.mean() < MOST_MOTES else np.zeros(found.size, dtype=bool))


def darkest_corner(share: Array, places: Array, camera: Camera) -> tuple[float, tuple[int, int]]:
    """Return how many stops the darkest corner loses, and which corner of the picture it is."""
    half = np.array([camera.sensor_width_mm.value, camera.sensor_height_mm.value]) / 2.0
    worst, which = 1.0, (1, 1)
    for right in (1, -1):
        for up in (1, -1):
            # The picture is upside down on the sensor.
            corner = np.array([-right, -up]) * half
            near = np.argsort(np.hypot(*(places - corner).T))[:4]
            seen = float(np.median(share[near]))
            if seen < worst:
                worst, which = seen, (right, up)
    return (-math.log2(worst) if worst > 0.0 else math.inf), which
