"""A narrow passband in a cone: the further a ray is inclined, the shorter the wavelength that passes.

λ(u) = λ0·sqrt(1 − (sin u/n)²), with n the coating's effective index (standard formula of interference filters; Smith,
*Modern Optical Engineering*, cited from memory). Over a cone the line is weighed with the area of each ring of the
pupil.
"""

import math
from typing import Literal

import numpy as np

from farrail.errors import BadInput
from farrail.language import N_
from farrail.optics.plates import check_f_number

SOURCE = N_("λ0·sqrt(1 − (sin u / n)²), averaged over the pupil's area (interference filter in a cone)")
Band = Literal["flat-top", "gaussian"]
RINGS = 400
# Of a field point's tilted cone.
FIELD_RINGS, FIELD_SPOKES = 120, 96


def edge_shift_nm(centre_nm: float, index: float, f_number: float) -> float:
    """Return how far the passband of the edge ray is below its nominal wavelength.

    Raises:
        BadInput: an argument outside its range.
    """
    _check(centre_nm, index)
    check_f_number(f_number)
    u = math.atan(1.0 / (2.0 * f_number))
    return centre_nm * (1.0 - math.sqrt(1.0 - (math.sin(u) / index) ** 2))


def mean_shift_nm(centre_nm: float, index: float, f_number: float, obstruction: float = 0.0) -> float:
    """Return the mean shift over the pupil's area; about half the edge's, times 1 + ε².

    Args:
        centre_nm: nominal wavelength.
        index: the coating's effective index.
        f_number: N.
        obstruction: ε, central obstruction as a fraction of the pupil's diameter.

    Raises:
        BadInput: an argument outside its range.
    """
    _check(centre_nm, index)
    return float(_shifts_nm(centre_nm, index, _ring_slopes(f_number, obstruction, RINGS)).mean())


def line_transmission(
    line_nm: float, centre_nm: float, width_nm: float, index: float, f_number: float, *,
    obstruction: float = 0.0, band: Band = "flat-top",
) -> float:  # fmt: skip
    """Return the fraction of a spectral line that a passband lets through in a cone, its peak counted as 1.

    Args:
        line_nm: the line.
        centre_nm: the passband's nominal centre, for a ray along the axis.
        width_nm: full width at half maximum.
        index: the coating's effective index.
        f_number: N of the cone.
        obstruction: central obstruction as a fraction of the pupil's diameter.
        band: the passband's shape.

    Raises:
        BadInput: an argument outside its range.
    """
    _check(centre_nm, index, width_nm)
    shifts = _shifts_nm(centre_nm, index, _ring_slopes(f_number, obstruction, RINGS))
    return float(_through(line_nm - (centre_nm - shifts), width_nm, band).mean())


def line_transmission_at(
    line_nm: float, centre_nm: float, width_nm: float, index: float, f_number: float, chief_slope: float, *,
    obstruction: float = 0.0, band: Band = "flat-top",
) -> tuple[float, float]:  # fmt: skip
    """Return the fraction of a line that passes for a field point whose chief ray is tilted, and the mean shift in nm.

    The slopes of its rays are the cone's, up to 1/(2N) all round, about the chief ray's own: h/L at height h for an
    exit pupil L away.

    Args:
        line_nm: the line.
        centre_nm: the passband's nominal centre, for a ray along the axis.
        width_nm: full width at half maximum.
        index: the coating's effective index.
        f_number: N of the cone.
        chief_slope: tangent of the chief ray's tilt.
        obstruction: central obstruction as a fraction of the pupil's diameter.
        band: the passband's shape.

    Raises:
        BadInput: an argument outside its range.
    """
    _check(centre_nm, index, width_nm)
    radius = _ring_slopes(f_number, obstruction, FIELD_RINGS)[:, None]
    turn = ((np.arange(FIELD_SPOKES) + 0.5) / FIELD_SPOKES * 2.0 * np.pi)[None, :]
    slope = np.hypot(radius * np.cos(turn) - chief_slope, radius * np.sin(turn))
    shifts = _shifts_nm(centre_nm, index, slope)
    return float(_through(line_nm - (centre_nm - shifts), width_nm, band).mean()), float(shifts.mean())


def _through(away_nm: np.ndarray, width_nm: float, band: Band) -> np.ndarray:
    """Return what a passband lets through so far from its centre, its peak counted as 1."""
    if band == "flat-top":
        return np.asarray((np.abs(away_nm) <= width_nm / 2.0).astype(float))
    return np.asarray(np.exp(-4.0 * math.log(2.0) * (away_nm / width_nm) ** 2))


def _ring_slopes(f_number: float, obstruction: float, count: int) -> np.ndarray:
    """Return the slopes of the rays of so many rings of the pupil, all of the same area."""
    check_f_number(f_number)
    if not 0.0 <= obstruction < 1.0:
        raise BadInput(
            "An obstruction of {obstruction:g} of the diameter cannot be used; give 0 to below 1.",
            obstruction=obstruction,
        )
    edges = np.sqrt(np.linspace(obstruction**2, 1.0, count + 1))
    return np.asarray(np.sqrt((edges[1:] ** 2 + edges[:-1] ** 2) / 2.0) / (2.0 * f_number))


def _shifts_nm(centre_nm: float, index: float, slope: np.ndarray) -> np.ndarray:
    """Return how far the passband of rays of these slopes is below its nominal wavelength."""
    sine = slope / np.sqrt(1.0 + slope * slope)
    return np.asarray(centre_nm * (1.0 - np.sqrt(1.0 - (sine / index) ** 2)))


def _check(centre_nm: float, index: float, width_nm: float = 1.0) -> None:
    if not (math.isfinite(centre_nm) and 100.0 <= centre_nm <= 20_000.0):
        raise BadInput("A wavelength of {centre_nm:g} nm cannot be used; give 100 to 20000 nm.", centre_nm=centre_nm)
    if not (math.isfinite(index) and 1.0 <= index <= 5.0):
        raise BadInput("An effective index of {index:g} cannot be used; coatings are between 1.4 and 2.2.", index=index)
    if not (math.isfinite(width_nm) and 0.1 <= width_nm <= 1000.0):
        raise BadInput("A passband width of {width_nm:g} nm cannot be used; enter 0.1 to 1000 nm.", width_nm=width_nm)
