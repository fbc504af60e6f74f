"""How far the sensor may be from focus before anyone can say, and what a misplaced lens still reaches."""

import math

from farrail.errors import BadInput
from farrail.language import N_
from farrail.optics.plates import check_f_number
from farrail.units import nm_to_mm

DEPTH_OF_FOCUS_SOURCE = N_("quarter-wave depth of focus, ±2λN² (Smith, Modern Optical Engineering)")
DEFAULT_WAVELENGTH_NM = 550.0


def depth_of_focus_mm(f_number: float, wavelength_nm: float = DEFAULT_WAVELENGTH_NM) -> float:
    """Return the half depth of focus ``2 λ N²`` (a quarter wave of defocus), to either side.

    Args:
        f_number: N of the cone that reaches the sensor.
        wavelength_nm: λ, 100 to 20,000 nm.

    Raises:
        BadInput: an argument outside its range.
    """
    check_f_number(f_number)
    if not (math.isfinite(wavelength_nm) and 100.0 <= wavelength_nm <= 20_000.0):
        raise BadInput(
            "A wavelength of {wavelength_nm:g} nm cannot be used; give 100 to 20000 nm.",
            wavelength_nm=wavelength_nm,
        )
    return 2.0 * nm_to_mm(wavelength_nm) * f_number**2


def farthest_focus_mm(focal_length_mm: float, long_by_mm: float) -> float:
    """Return how far away, at most, a camera lens still focuses when its sensor is too far behind it.

    Newton's form of the conjugate equation, ``x x' = f²``: the image already is `long_by_mm` behind the
    infinity focus, so the farthest sharp subject is about ``f²/e`` in front of the front focal point.

    Args:
        focal_length_mm: f, above zero.
        long_by_mm: e, the excess of placed over required distance; zero or less reaches infinity.
    """
    if long_by_mm <= 0.0:
        return math.inf
    return focal_length_mm**2 / long_by_mm
