"""Shapes a section is drawn from: lens barrels and symbolic glass; nothing is computed from them."""

from farrail.parts.connections import Connection
from farrail.parts.lens_shapes import triplet

Point = tuple[float, float]


def barrel(z0: float, z1: float, outer: float, bore: float, mount: Connection) -> tuple[Point, ...]:
    """Return a lens barrel's wall from its thread to its mount, closed there by the plate that carries it.

    A lens flipped runs the other way: `z1` is then the smaller.
    """
    way = 1.0 if z1 > z0 else -1.0
    radius = min(mount.standard.size_mm / 2.0, outer)
    throat, plate = radius - 1.6, min(3.0, abs(z1 - z0) / 4.0) * way
    end = z1 + mount.drawn_engagement_mm * way
    return (
        (z0, outer), (z1, outer), (z1, radius), (end, radius), (end, throat),
        (z1 - plate, throat), (z1 - plate, bore), (z0, bore),
    )  # fmt: skip


def lens_elements(z0: float, z1: float, bore: float) -> tuple[tuple[Point, ...], ...]:
    """Return a camera lens's symbolic lenses; `z1` is the smaller where it is flipped."""
    way = 1.0 if z1 > z0 else -1.0
    return tuple(tuple((z0 + way * z, y) for z, y in lens) for lens in triplet(abs(z1 - z0), bore))
