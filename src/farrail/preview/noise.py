"""Value noise for scenes drawn by code: the same numbers from the same seed on every machine."""

from typing import Any, TypeAlias

import numpy as np
from numpy.typing import NDArray

# Values over a picture; single precision where nothing else is said, true or false in masks.
Plane: TypeAlias = NDArray[Any]
# Sides of the table of random values that noise is read from; a power of two.
TABLE = 256


def noise(x: Plane, y: Plane, seed: int, octaves: int) -> Plane:
    """Return smooth noise from 0 to 1 over two coordinates, octaves of half the size and strength added.

    Args:
        x: first coordinate; one cell of the coarsest octave is 1 wide.
        y: second coordinate, broadcast against x.
        seed: which noise.
        octaves: how many sizes are added.
    """
    table = np.random.default_rng(seed).random((TABLE, TABLE), dtype=np.float32)
    total = np.zeros(np.broadcast_shapes(x.shape, y.shape), dtype=np.float32)
    weight, strength = 0.0, 1.0
    for octave in range(octaves):
        u, v = x * np.float32(2**octave), y * np.float32(2**octave)
        left, low = np.floor(u), np.floor(v)
        across, up = u - left, v - low
        across, up = across * across * (3.0 - 2.0 * across), up * up * (3.0 - 2.0 * up)
        i, j = left.astype(np.int32) & (TABLE - 1), low.astype(np.int32) & (TABLE - 1)
        i_next, j_next = (i + 1) & (TABLE - 1), (j + 1) & (TABLE - 1)
        below = table[i, j] + (table[i_next, j] - table[i, j]) * across
        above = table[i, j_next] + (table[i_next, j_next] - table[i, j_next]) * across
        total += np.float32(strength) * (below + (above - below) * up)
        weight, strength = weight + strength, strength / 2.0
    return total / np.float32(weight)
