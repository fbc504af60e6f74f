"""How long a star is drawn out toward the corner by a wrong spacing, and how wide by defocus; a model, no source.

The long axis grows with the square of the distance from the middle: l = √(s² + s₀²((1 + K·|e|·r²)² − 1)), s₀ in focus,
s with defocus, e the spacing error in mm, r 1 in the corner. K is common practice for correctors, no source.
"""

import math

import numpy as np

from farrail.optics.clipping import Array

# Half the width of a star at half maximum in deviations of a normal distribution: FWHM = 2√(2 ln 2)·σ.
FWHM = 2.0 * math.sqrt(2.0 * math.log(2.0))
LONGER_PER_MM = 0.9


def long_sigma(short: Array, in_focus: float, spacing_mm: float, radius: Array) -> Array:
    """Return the deviation along a star's long axis.

    Args:
        short: deviation across it, defocus included.
        in_focus: deviation of a star in focus, same unit.
        spacing_mm: error of the spacing, mm.
        radius: distance from the middle, 1 in the corner.
    """
    drawn = (1.0 + LONGER_PER_MM * abs(spacing_mm) * np.square(radius)) ** 2 - 1.0
    return np.asarray(np.hypot(short, in_focus * np.sqrt(drawn)))


def defocused_sigma(in_focus: float, blur_diameter: Array) -> Array:
    """Return the deviation of a star spread over a disc: a disc's deviation is a quarter of its width."""
    return np.asarray(np.hypot(in_focus, np.asarray(blur_diameter) / 4.0))
