"""How tolerances of stacked parts add up.

A tolerance ±t is read as the half width of a uniform distribution, whose standard deviation is ``t/sqrt(3)``.
"""

import math
from collections.abc import Sequence

import numpy as np

from farrail.language import N_

# Half the width that holds 95 % of a normal distribution, in standard deviations.
TWO_SIDED_95 = 1.959964

# How finely the density of a sum is built over its half width.
CONVOLUTION_STEPS = 400

SOURCE = N_("worst case Σt; 95 % half width 2·sqrt(Σt²/3), uniform distributions added in quadrature")


def worst_case_mm(tolerances_mm: Sequence[float]) -> float:
    """Return the sum of all half widths: no stack of these parts can be further off."""
    return math.fsum(tolerances_mm)


def root_sum_square_mm(tolerances_mm: Sequence[float]) -> float:
    """Return the 95 % half width of the stack, never above the worst case."""
    spread = 2.0 * math.sqrt(math.fsum(t * t for t in tolerances_mm) / 3.0)
    return min(spread, worst_case_mm(tolerances_mm))


def chance_within(error_mm: float, allowed_mm: tuple[float, float], tolerances_mm: Sequence[float]) -> float:
    """Return how likely an error stays between two limits when every part may be off by its tolerance.

    Each half width is a uniform distribution; the density of their sum is found by convolution on an even grid.

    Args:
        error_mm: the error of the parts as they are shown.
        allowed_mm: the limits.
        tolerances_mm: the half widths.
    """
    widths = [t for t in tolerances_mm if t > 0.0]
    low, high = allowed_mm
    if not widths:
        return 1.0 if low - 1e-9 <= error_mm <= high + 1e-9 else 0.0
    step = max(math.fsum(widths), 1e-6) / CONVOLUTION_STEPS
    density = np.ones(1)
    for width in widths:
        # A box as wide as the tolerance, its two ends counted by the share of a cell they cover.
        whole = max(width / step - 0.5, 0.0)
        count = int(whole)
        box = np.ones(2 * count + 3)
        box[0] = box[-1] = whole - count
        density = np.convolve(density, box / box.sum())
    half = (density.size - 1) // 2
    edges = (np.arange(density.size + 1) - half - 0.5) * step + error_mm
    inside = np.clip(np.minimum(edges[1:], high) - np.maximum(edges[:-1], low), 0.0, step) / step
    return float(min((density * inside).sum(), 1.0))
