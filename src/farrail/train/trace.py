"""What the light meets on its way through a train, in one ordered list: apertures, glass and power at their places."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeAlias

from farrail.parts.in_beam import ThinLens
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.train.placed import Place, Placed, PlacedAperture, PlacedGlass, placed_aperture
from farrail.train.rows import Rows
from farrail.train.train import Side


@dataclass(frozen=True)
class PlacedLens:
    """A powered part of the rear train as a thin lens at its place; its power follows from the sensor's place."""

    placed: Placed
    lens: ThinLens
    z_mm: float


TraceElement: TypeAlias = PlacedAperture | PlacedGlass | PlacedLens


@dataclass(frozen=True)
class Trace:
    """Everything between the scene and the sensor that does something to the light, in the order it is met."""

    met: tuple[TraceElement, ...]

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


@dataclass(frozen=True)
class TracedRows(Rows):
    """A placed train's rows with what the light meets on them."""

    @cached_property
    def trace(self) -> Trace:
        """What the light meets from the scene to the sensor, in one list."""
        return trace_of(self)

    @cached_property
    def glass(self) -> tuple[PlacedGlass, ...]:
        """The glass between the datum and the sensor, in the order the light meets it."""
        first = -1 if self.corrector is None else self.corrector.index + 1
        return tuple(g for g in self.trace.glass if g.place.side is Side.REAR and g.place.index >= first)

    @property
    def apertures(self) -> tuple[PlacedAperture, ...]:
        """All clear apertures in the way of the light, in the order it meets them."""
        return self.trace.apertures


def trace_of(rows: Rows) -> Trace:
    """Return what the light meets in a placed train."""
    return Trace(tuple(_met(rows)))


def met_in(placed: Placed, rows: Rows | None = None) -> list[TraceElement]:
    """Return what a placed part puts into the beam, toward the scene first."""
    filled = placed.filled(rows.parts if rows is not None else {})
    found: list[TraceElement] = [placed_aperture(placed, aperture) for aperture in placed.part.apertures(filled)]
    lens = placed.part.thin_lens()
    if lens is not None and placed.side is Side.REAR:
        at = lens.at.value if lens.at is not None else (placed.z_rear_mm - placed.z_front_mm) / 2.0
        found.append(PlacedLens(placed, lens, placed.on_rail_mm(at)))
    for piece in placed.part.glass_pieces(filled):
        at = piece.at_mm + piece.thick_mm if placed.laid.flipped else piece.at_mm
        place = replace(placed.place, slot=piece.slot)
        found.append(
            PlacedGlass(
                piece.owner,
                piece.glass,
                placed.on_rail_mm(at),
                piece.diameter_mm,
                piece.role,
                place,
                piece.shift_mm,
                piece.included,
            )
        )
    # Python's sort is stable: what is at one place keeps the part's own order. So does a recessed ring, whose rear
    # is ahead of its front.
    return sorted(found, key=_z_mm) if placed.z_rear_mm >= placed.z_front_mm else found


def _z_mm(met: TraceElement) -> float:
    return met.z_front_mm if isinstance(met, PlacedGlass) else met.z_mm


def _met(rows: Rows) -> Iterator[TraceElement]:
    for placed in reversed(rows.front):
        yield from met_in(placed, rows)
    if isinstance(rows.optic, Telescope):
        for role, clear, ahead in rows.optic.drawtube():
            z, place = rows.optic_rear_mm - ahead, Place(Side.REAR, -1)
            yield PlacedAperture(rows.optic, role, clear, "drawtube_clear_mm", z, z, z, place, clear.origin)
    gelatin = rows.train.conditions.gelatin_mm
    if isinstance(rows.optic, CameraLens) and rows.optic.gelatin_slot and gelatin is not None and not rows.reversed:
        sheet, place = rows.optic.gelatin(gelatin), Place(Side.REAR, -1)
        yield PlacedGlass(rows.optic, sheet.glass, rows.optic_rear_mm, sheet.diameter_mm, sheet.role, place)
    for placed in rows.rear:
        yield from met_in(placed, rows)
    camera = rows.camera
    piece = camera.window_glass() if camera is not None else None
    if piece is not None:
        place = Place(Side.REAR, len(rows.rear))
        at = rows.flange_mm + piece.at_mm
        yield PlacedGlass(
            piece.owner, piece.glass, at, piece.diameter_mm, piece.role, place, included=piece.included
        )  # fmt: skip
