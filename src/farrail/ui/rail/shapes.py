"""Shapes a section is drawn from: lens barrels and symbolic glass; nothing is computed from them."""

from farrail.parts.connections import Connection
from farrail.parts.kinds import CloseUpLens

Point = tuple[float, float]


def barrel(z0: float, z1: float, outer: float, bore: float, mount: Connection) -> tuple[Point, ...]:
    """Return a lens barrel's wall from its thread to its mount, closed there by the plate that carries it.

    A lens turned round runs the other way: `z1` is then the smaller.
    """
    way = 1.0 if z1 > z0 else -1.0
    radius = min(mount.standard.size_mm / 2.0, outer)
    throat, plate = radius - 1.6, min(3.0, abs(z1 - z0) / 4.0) * way
    end = z1 + mount.drawn_engagement_mm * way
    return (
        (z0, outer), (z1, outer), (z1, radius), (end, radius), (end, throat),
        (z1 - plate, throat), (z1 - plate, bore), (z0, bore),
    )  # fmt: skip


def _curve(z: float, bulge: float, radius: float, steps: int = 8) -> list[Point]:
    """Return a surface from the axis to its rim; `bulge` is how far the axis point stands out."""
    return [(z + bulge * (1.0 - (i / steps) ** 2), radius * i / steps) for i in range(steps + 1)]


def _element(z0: float, z1: float, radius: float, front_bulge: float, rear_bulge: float) -> tuple[Point, ...]:
    return tuple(_curve(z0, -front_bulge, radius) + list(reversed(_curve(z1, rear_bulge, radius))))


def corrector_elements(z0: float, z1: float, bore: float) -> tuple[tuple[Point, ...], ...]:
    """Return two symbolic lenses; their true shapes are not known and nothing is computed from them."""
    length, radius = z1 - z0, bore
    first, second = z0 + length * 0.28, z0 + length * 0.55
    return (
        _element(first, first + length * 0.10, radius, length * 0.03, length * 0.02),
        _element(second, second + length * 0.12, radius, -length * 0.02, length * 0.01),
    )


def close_up_elements(z0: float, z1: float, bore: float, part: CloseUpLens) -> tuple[tuple[Point, ...], ...]:
    """Return a close-up lens's glass: bulging the more the stronger it is, in two halves where it is an achromat."""
    thick = (z1 - z0) * 0.4
    bulge = min(0.02 * part.dioptres.value * bore, thick + 3.0)
    middle = (z0 + z1) / 2.0
    front, rear = middle - thick / 2.0, middle + thick / 2.0
    if not part.achromat:
        return (_element(front, rear, bore, bulge, -bulge * 0.3),)
    return _element(front, middle, bore, bulge, -bulge * 0.4), _element(middle, rear, bore, bulge * 0.4, bulge * 0.1)


def lens_elements(z0: float, z1: float, bore: float) -> tuple[tuple[Point, ...], ...]:
    """Return three symbolic lenses of a camera lens."""
    length = z1 - z0
    return (
        _element(z0 + length * 0.14, z0 + length * 0.24, bore, length * 0.05, length * 0.0),
        _element(z0 + length * 0.42, z0 + length * 0.49, bore * 0.62, length * 0.0, -length * 0.02),
        _element(z0 + length * 0.70, z0 + length * 0.82, bore * 0.72, length * 0.02, length * 0.03),
    )
