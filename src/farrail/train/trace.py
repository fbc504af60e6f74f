"""What the light meets on its way through a train, in one ordered list: apertures, glass and power at their places."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, TypeAlias

from farrail.parts.in_beam import ThinLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.train.placed import Place, Placed, PlacedAperture, PlacedGlass, placed_aperture
from farrail.train.train import Side

if TYPE_CHECKING:
    from farrail.train.layout import Layout


@dataclass(frozen=True)
class PlacedLens:
    """A powered part of the rear train as a thin lens at its place; its power follows from the sensor's place."""

    placed: Placed
    lens: ThinLens
    z_mm: float


Met: TypeAlias = PlacedAperture | PlacedGlass | PlacedLens


@dataclass(frozen=True)
class Trace:
    """Everything between the scene and the sensor that does something to the light, in the order it is met."""

    met: tuple[Met, ...]

    @cached_property
    def apertures(self) -> tuple[PlacedAperture, ...]:
        """The clear apertures."""
        return tuple(m for m in self.met if isinstance(m, PlacedAperture))

    @cached_property
    def glass(self) -> tuple[PlacedGlass, ...]:
        """The glass, ahead of the optic and behind it."""
        return tuple(m for m in self.met if isinstance(m, PlacedGlass))

    @cached_property
    def lenses(self) -> tuple[PlacedLens, ...]:
        """The powered parts of the rear train."""
        return tuple(m for m in self.met if isinstance(m, PlacedLens))


def trace_of(layout: "Layout") -> Trace:
    """Return what the light meets in a laid train."""
    return Trace(tuple(_met(layout)))


def met_in(placed: Placed, layout: "Layout | None" = None) -> list[Met]:
    """Return what a laid part puts into the beam, toward the scene first."""
    filled = placed.filled(layout.parts if layout is not None else {})
    found: list[Met] = [placed_aperture(placed, aperture) for aperture in placed.part.apertures(filled)]
    lens = placed.part.thin_lens()
    if lens is not None and placed.side is Side.REAR:
        at = lens.at.value if lens.at is not None else (placed.z_rear_mm - placed.z_front_mm) / 2.0
        found.append(PlacedLens(placed, lens, placed.on_rail_mm(at)))
    for piece in placed.part.glass_pieces(filled):
        at = piece.at_mm + piece.thick_mm if placed.laid.flipped else piece.at_mm
        place = replace(placed.place, slot=piece.slot)
        found.append(
            PlacedGlass(
                piece.owner, piece.glass, placed.on_rail_mm(at), piece.diameter_mm, piece.role, place, piece.shift_mm
            )
        )
    # Python's sort is stable: what stands at one place keeps the part's own order. So does a recessed ring, whose rear
    # lies ahead of its front.
    return sorted(found, key=_z_mm) if placed.z_rear_mm >= placed.z_front_mm else found


def _z_mm(met: Met) -> float:
    return met.z_front_mm if isinstance(met, PlacedGlass) else met.z_mm


def _met(layout: "Layout") -> Iterator[Met]:
    for placed in reversed(layout.front):
        yield from met_in(placed, layout)
    if isinstance(layout.optic, Telescope):
        for role, clear, ahead in layout.optic.drawtube():
            z, place = layout.optic_rear_mm - ahead, Place(Side.REAR, -1)
            yield PlacedAperture(layout.optic, role, clear, "drawtube_clear_mm", z, z, z, place, clear.origin)
    for placed in layout.rear:
        yield from met_in(placed, layout)
    camera = layout.camera
    piece = camera.window_glass() if camera is not None else None
    if piece is not None:
        place = Place(Side.REAR, len(layout.rear))
        yield PlacedGlass(
            piece.owner, piece.glass, layout.flange_mm + piece.at_mm, piece.diameter_mm, piece.role, place
        )
