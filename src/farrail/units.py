"""Conversions, the only place where one unit becomes another."""

import math

MM_PER_INCH = 25.4
NM_PER_MM = 1e6
MICROMETRES_PER_MM = 1e3
MM_PER_METRE = 1e3


def inches_to_mm(length_in: float) -> float:
    """Return a length given in inches in millimetres (exact by definition of the inch)."""
    return length_in * MM_PER_INCH


def mm_to_inches(length_mm: float) -> float:
    """Return a length given in millimetres in inches (exact by definition of the inch)."""
    return length_mm / MM_PER_INCH


def mm_to_feet(length_mm: float) -> float:
    """Return a length given in millimetres in feet (twelve inches)."""
    return length_mm / (12.0 * MM_PER_INCH)


def nm_to_mm(length_nm: float) -> float:
    """Return a length given in nanometres in millimetres."""
    return length_nm / NM_PER_MM


def mm_to_micrometres(length_mm: float) -> float:
    """Return a length given in millimetres in micrometres."""
    return length_mm * MICROMETRES_PER_MM


def mm_to_metres(length_mm: float) -> float:
    """Return a length given in millimetres in metres."""
    return length_mm / MM_PER_METRE


def stops_lost(transmitted: float) -> float:
    """Return the stops (factors of two) of light lost when the fraction `transmitted` arrives.

    Nothing arriving is an infinite number of stops.
    """
    return math.inf if transmitted <= 0.0 else -math.log2(min(transmitted, 1.0)) + 0.0
