"""How far a sensor may be tilted before a corner leaves the depth of focus, and what that is in shim.

A tilt a puts the corner h·tan a out of focus, a blur of that over N (Smith, *Modern Optical Engineering*, from memory).
"""

import math

from farrail.errors import BadInput
from farrail.language import N_
from farrail.optics.focus import DEFAULT_WAVELENGTH_NM, depth_of_focus_mm
from farrail.optics.plates import check_f_number

SOURCE = N_("corner defocus h·tan a against ±2λN², or against a blur of one pixel, h·tan a / N")


def corner_defocus_mm(half_diagonal_mm: float, tilt_deg: float) -> float:
    """Return how far a tilt puts the frame's corner out of focus.

    Raises:
        BadInput: no frame, or a tilt of 90° or more.
    """
    if not half_diagonal_mm > 0.0:
        raise BadInput("A tilt has no effect without a frame; give a half diagonal above zero.")
    if not 0.0 <= abs(tilt_deg) < 90.0:
        raise BadInput("A tilt of {tilt_deg:g}° cannot be used; give less than 90°.", tilt_deg=tilt_deg)
    return half_diagonal_mm * math.tan(math.radians(abs(tilt_deg)))


def allowed_tilt_deg(
    half_diagonal_mm: float, f_number: float, pixel_mm: float | None = None,
    wavelength_nm: float = DEFAULT_WAVELENGTH_NM,
) -> float:  # fmt: skip
    """Return the tilt at which the corner reaches a quarter wave, or a blur of one pixel where a pixel is given.

    Raises:
        BadInput: an argument outside its range.
    """
    check_f_number(f_number)
    if not half_diagonal_mm > 0.0:
        raise BadInput("A tilt has no effect without a frame; give a half diagonal above zero.")
    if pixel_mm is not None and not pixel_mm > 0.0:
        raise BadInput("A pixel of {pixel_mm:g} mm cannot be used; give one above zero.", pixel_mm=pixel_mm)
    reach = depth_of_focus_mm(f_number, wavelength_nm) if pixel_mm is None else f_number * pixel_mm
    return math.degrees(math.atan(reach / half_diagonal_mm))


def shim_across_mm(flange_mm: float, tilt_deg: float) -> float:
    """Return how thick a shim at one side of a flange makes a tilt: diameter times tan a."""
    return flange_mm * math.tan(math.radians(tilt_deg))
