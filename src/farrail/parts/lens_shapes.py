"""Symbolic lenses for the drawing; their true shapes are not known and nothing is computed from them.

Each is a closed outline in the part's own coordinates: (z behind its front, height above the axis).
"""

from farrail.parts.in_beam import Polyline


def _curve(z: float, bulge: float, radius: float, steps: int = 8) -> list[tuple[float, float]]:
    """Return a surface from the axis to its rim; `bulge` is how far the axis point is out."""
    return [(z + bulge * (1.0 - (i / steps) ** 2), radius * i / steps) for i in range(steps + 1)]


def element(z0: float, z1: float, radius: float, front_bulge: float, rear_bulge: float) -> Polyline:
    """Return one lens between two planes; the bulges are how far its surfaces are out on the axis."""
    return tuple(_curve(z0, -front_bulge, radius) + list(reversed(_curve(z1, rear_bulge, radius))))


def pair(span_mm: float, bore_mm: float) -> tuple[Polyline, ...]:
    """Return the two lenses a corrector or teleconverter is drawn with."""
    first, second = span_mm * 0.28, span_mm * 0.55
    return (
        element(first, first + span_mm * 0.10, bore_mm, span_mm * 0.03, span_mm * 0.02),
        element(second, second + span_mm * 0.12, bore_mm, -span_mm * 0.02, span_mm * 0.01),
    )


def triplet(span_mm: float, bore_mm: float) -> tuple[Polyline, ...]:
    """Return the three lenses a camera lens is drawn with."""
    return (
        element(span_mm * 0.14, span_mm * 0.24, bore_mm, span_mm * 0.05, 0.0),
        element(span_mm * 0.42, span_mm * 0.49, bore_mm * 0.62, 0.0, -span_mm * 0.02),
        element(span_mm * 0.70, span_mm * 0.82, bore_mm * 0.72, span_mm * 0.02, span_mm * 0.03),
    )


def close_up(span_mm: float, bore_mm: float, dioptres: float, *, achromat: bool) -> tuple[Polyline, ...]:
    """Return a close-up lens's glass: bulging the more the stronger it is, in two halves where it is an achromat."""
    thick = span_mm * 0.4
    bulge = min(0.02 * dioptres * bore_mm, thick + 3.0)
    middle = span_mm / 2.0
    front, rear = middle - thick / 2.0, middle + thick / 2.0
    if not achromat:
        return (element(front, rear, bore_mm, bulge, -bulge * 0.3),)
    return element(front, middle, bore_mm, bulge, -bulge * 0.4), element(
        middle, rear, bore_mm, bulge * 0.4, bulge * 0.1
    )
