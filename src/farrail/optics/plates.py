"""What a plane plate of glass does to a converging beam: the focus moves away from the optic.

Source of all formulas here: Smith, *Modern Optical Engineering*, "Plane parallel plates", and Welford,
*Aberrations of Optical Systems*, which give the same expressions; cited from memory of the standard results.
"""

import math

from farrail.errors import BadInput
from farrail.language import N_
from farrail.units import nm_to_mm

SOURCE = N_("plane-parallel plate (Smith, Modern Optical Engineering)")


def paraxial_shift_mm(thickness_mm: float, index: float) -> float:
    """Return how far a plate moves the paraxial focus away from the optic: ``t (1 - 1/n)``.

    Args:
        thickness_mm: plate thickness t, zero or more.
        index: refractive index n, at least 1.

    Raises:
        BadInput: thickness negative or not finite, or index below 1.
    """
    _check(thickness_mm, index)
    return thickness_mm * (1.0 - 1.0 / index)


def marginal_shift_mm(thickness_mm: float, index: float, f_number: float) -> float:
    """Return the shift for the edge ray of a cone: ``t [1 - cos u / sqrt(n² - sin² u)]``, ``tan u = 1/(2N)``.

    Args:
        thickness_mm: plate thickness t, zero or more.
        index: refractive index n, at least 1.
        f_number: N of the cone in which the plate is, above 0.3.

    Raises:
        BadInput: an argument outside its range.
    """
    _check(thickness_mm, index)
    check_f_number(f_number)
    u = math.atan(1.0 / (2.0 * f_number))
    return thickness_mm * (1.0 - math.cos(u) / math.sqrt(index**2 - math.sin(u) ** 2))


def spherical_aberration_mm(thickness_mm: float, index: float, f_number: float) -> float:
    """Return the plate's longitudinal spherical aberration: how much farther it sends the edge ray than the paraxial.

    To third order ``t (n² − 1) / (8 n³ N²)``; this is the exact difference of the two shifts.

    Raises:
        BadInput: an argument outside its range.
    """
    return marginal_shift_mm(thickness_mm, index, f_number) - paraxial_shift_mm(thickness_mm, index)


def tolerable_aberration_mm(f_number: float, wavelength_nm: float = 550.0) -> float:
    """Return the longitudinal spherical aberration that leaves a quarter wave at best focus: ``16 λ N²``.

    Raises:
        BadInput: the f-number is not one of an optic.
    """
    check_f_number(f_number)
    return 16.0 * nm_to_mm(wavelength_nm) * f_number**2


def reduced_thickness_mm(thickness_mm: float, index: float) -> float:
    """Return the air distance ``t/n`` in which a cone narrows as much as it does in the plate.

    Raises:
        BadInput: thickness negative or not finite, or index below 1.
    """
    _check(thickness_mm, index)
    return thickness_mm / index


def check_f_number(f_number: float) -> None:
    """Refuse an f-number that no optic has.

    Raises:
        BadInput: not finite, or not between 0.3 and 1000.
    """
    if not (math.isfinite(f_number) and 0.3 <= f_number <= 1000.0):
        raise BadInput("An f-number of {f_number:g} cannot be used; give one between 0.3 and 1000.", f_number=f_number)


def _check(thickness_mm: float, index: float) -> None:
    if not (math.isfinite(thickness_mm) and 0.0 <= thickness_mm <= 1000.0):
        raise BadInput(
            "A glass thickness of {thickness_mm:g} mm cannot be used; give 0 to 1000 mm.",
            thickness_mm=thickness_mm,
        )
    if not (math.isfinite(index) and 1.0 <= index <= 5.0):
        raise BadInput(
            "A refractive index of {index:g} cannot be used; glass is between 1 and 5 (1.52 is common).",
            index=index,
        )
