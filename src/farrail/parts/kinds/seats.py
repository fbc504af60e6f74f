"""Housings with a seat for a filter: drawers and wheels."""

from collections.abc import Iterator
from itertools import product
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_, say
from farrail.parts.base import Housing, PartBase
from farrail.parts.connections import thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.in_beam import Aperture, ApertureRole, GlassPiece, GlassRole, Installation, Outline
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.provenance import Diameter, Length, Offset, assumed, unknown, weakest
from farrail.parts.registers import t_mount
from farrail.parts.usual import COMMON, HOUSING_THREADS, IN, OUT, Usual, key, size

# Cells that drawers and wheels take, by what they are called; common practice, no source.
CELLS_MM = ((28.5, N_("1.25 in")), (31.2, N_("31 mm")), (36.2, N_("36 mm")), (50.4, N_("2 in")))


class FilterSeat(Housing):
    """A part with a seat for a filter.

    `seat_mm` runs from the front face to the filter's front surface; `seat_aperture_mm` is the mask or ledge
    that holds the filter, when it is narrower than the filter itself; `seat_diameter_mm` and `seat_thickness_mm` are
    the largest cell it takes.
    """

    module = True

    seat_mm: Annotated[
        Length,
        FieldInfo("Front face to filter", "To the filter's front surface; 6 to 12 if not visible", group=Group.HOLDS),
    ]
    seat_aperture_mm: Annotated[
        Diameter | None,
        FieldInfo("Seat, clear aperture", "Opening of the mask that holds the filter", group=Group.HOLDS),
    ] = None
    # A rectangular seat is `seat_aperture_mm` wide and this high; None: a round one.
    seat_aperture_height_mm: Annotated[Diameter | None, FieldInfo("Seat, height if rectangular", group=Group.HOLDS)] = (
        None
    )
    # How far the seat's middle is off the axis, toward the part's top.
    seat_offset_mm: Annotated[
        Offset | None, FieldInfo("Seat off the axis, up", "Offset of its centre", group=Group.HOLDS)
    ] = None
    seat_diameter_mm: Annotated[
        Diameter | None, FieldInfo("Filter diameter accepted", "The widest cell that goes in", group=Group.HOLDS)
    ] = None
    seat_thickness_mm: Annotated[
        Length | None, FieldInfo("Accepts filters, thick", "The thickest cell that goes in", group=Group.HOLDS)
    ] = None

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the seat's ledge and the filter in it."""
        inside = _round(filled)
        thick = inside.glass.drawn_thickness_mm if inside is not None else 0.0
        low, high = self.seat_mm.low, self.seat_mm.high
        origin = weakest([self.seat_mm.origin, filled.length.origin])
        centre = (0.0, self.seat_offset_mm.value if self.seat_offset_mm is not None else 0.0)
        if self.seat_aperture_mm is not None:
            yield Aperture(
                self, ApertureRole.SEAT, self.seat_aperture_mm, "seat_aperture_mm", low, high, origin,
                height=self.seat_aperture_height_mm, centre_mm=centre, thick_mm=thick,
            )  # fmt: skip
        if inside is not None:
            yield Aperture(
                inside, ApertureRole.IN_BEAM, inside.clear_width(), "clear_aperture_mm", low, high, origin,
                centre_mm=centre, thick_mm=thick,
            )  # fmt: skip

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        """Yield the glass of the filter in the beam."""
        inside = _round(filled)
        if inside is not None:
            middle = (self.seat_mm.low + self.seat_mm.high) / 2.0
            yield GlassPiece(
                inside, GlassRole.FILTER, inside.glass, middle, inside.outer_diameter_mm, slot=filled.in_beam
            )

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return the hollow in which its tray or carousel runs."""
        return Outline(hollow=True)


def _round(filled: Installation) -> RoundFilter | None:
    inside = filled.seated
    return inside if isinstance(inside, RoundFilter) else None


class FilterDrawer(FilterSeat):
    """A housing with one exchangeable filter."""

    kind_name = N_("filter drawer")
    rank = 100

    kind: Literal["filter_drawer"] = "filter_drawer"
    # How far from the axis its handle reaches; it must pass the neighbours when the drawer is drawn.
    handle_reach_mm: Annotated[
        Length | None, FieldInfo("Handle, from the axis", "It must pass the neighbours when drawn", group=Group.BODY)
    ] = None

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return its hollow and how far its handle reaches."""
        handle = self.handle_reach_mm
        return Outline(hollow=True, reach_mm=0.0 if handle is None else handle.value)

    @classmethod
    def template(cls) -> "FilterDrawer":
        """Return one of M42."""
        return cls(
            id="new-drawer", name=say("New filter drawer"), outer_diameter_mm=66, front=t_mount(IN), rear=t_mount(OUT),
            path_length_mm=assumed(20), seat_mm=assumed(9),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual filters in each usual thread; where its seat is no one knows before it is opened."""
        for diameter, pitch in HOUSING_THREADS:
            for across, name in CELLS_MM:
                if across > diameter:
                    continue
                part = cls(
                    id=key("drawer", diameter, across),
                    name=say("Drawer M{diameter:g}, {name} filters", diameter=diameter, name=name),
                    outer_diameter_mm=diameter + 24.0,
                    front=thread(diameter, pitch, IN),
                    rear=thread(diameter, pitch, OUT),
                    path_length_mm=size(20.0),
                    seat_mm=unknown(6.0, 12.0, say("not opened yet")),
                    seat_diameter_mm=size(across),
                )
                yield Usual(say("filter drawers"), part, COMMON)


class FilterWheel(FilterSeat):
    """A housing that turns one of several filters into the beam."""

    kind_name = N_("filter wheel")
    rank = 110

    kind: Literal["filter_wheel"] = "filter_wheel"
    slots: Annotated[int, Field(ge=1, le=24), FieldInfo("Slots", "Number of filters it holds", "", Group.HOLDS)]

    @property
    def slot_count(self) -> int:
        """How many filters it takes."""
        return self.slots

    @classmethod
    def template(cls) -> "FilterWheel":
        """Return a wheel of five."""
        return cls(
            id="new-wheel", name=say("New filter wheel"), outer_diameter_mm=150, front=t_mount(IN), rear=t_mount(OUT),
            slots=5, path_length_mm=assumed(20), seat_mm=assumed(9),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual filters in each usual thread; where its seat is no one knows before it is opened."""
        for diameter, pitch in HOUSING_THREADS:
            for (across, name), slots in product(CELLS_MM, (5, 7)):
                if across > diameter:
                    continue
                part = cls(
                    id=key("wheel", diameter, across, slots),
                    name=say(
                        "Wheel M{diameter:g}, {slots} × {name} filters", diameter=diameter, slots=slots, name=name
                    ),
                    outer_diameter_mm=(slots + 1.0) * across * 0.75,
                    front=thread(diameter, pitch, IN),
                    rear=thread(diameter, pitch, OUT),
                    path_length_mm=size(20.0),
                    seat_mm=unknown(6.0, 12.0, say("not opened yet")),
                    seat_diameter_mm=size(across),
                    slots=slots,
                )
                yield Usual(say("filter wheels"), part, COMMON)
