"""Filters: round ones in cells or bare, and square or rectangular ones that slide into a slot."""

from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Literal

from farrail.language import N_, say
from farrail.optics.exposure import stops_of_density
from farrail.parts.base import FixedLength, PartBase
from farrail.parts.connections import Connection, Gender, Plain, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.glass import Glass, Plate
from farrail.parts.in_beam import Aperture, ApertureRole, GlassPiece, GlassRole, Installation, LightLoss, LossReason
from farrail.parts.not_entered import Default, Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import (
    Density,
    Diameter,
    Length,
    Quantity,
    RefractiveIndex,
    Span,
    Stops,
    Wavelength,
    assumed,
    unknown,
    weakest,
)
from farrail.parts.usual import COMMON, FILTER_THREADS_MM, IN, OUT, Usual, crown, key, rim, size

# A polariser turned for its effect takes 1 to 2 stops until a person measures it (common practice, no source).
POLARISER_STOPS = unknown(1.0, 2.0, "1 to 2 stops until measured")
# Name, size across, clear aperture, cell thread or None for bare glass, thickness of the glass, of the cell.
ROUND_FILTERS = (
    ('1.25"', 30.0, 26.0, (28.5, 0.6), 2.0, 6.0),
    (N_("31 mm"), 31.0, 29.0, None, 2.0, 2.0),
    (N_("36 mm"), 36.0, 34.0, None, 2.0, 2.0),
    ('2"', 50.0, 45.0, (48.0, 0.75), 2.0, 6.0),
    (N_("50 mm"), 50.0, 48.0, None, 3.0, 3.0),
)
SHEETS_MM = ((75, 75), (75, 100), (85, 85), (85, 110), (100, 100), (100, 150), (130, 130), (130, 170), (150, 150),
             (150, 170), (165, 165), (165, 200))  # fmt: skip


def polariser_default(*, polariser: bool, stops: Quantity | None) -> Iterator[Default]:
    """Yield the interval of a polariser's light loss if it is not entered."""
    if polariser and stops is None and isinstance(POLARISER_STOPS.in_use, Span):
        yield Default.of_span("polariser_stops", POLARISER_STOPS.in_use)


def loss_of_filter(
    density: Quantity | None, *, polariser: bool, graded: bool, narrow: bool, polariser_stops: Quantity | None = None
) -> LightLoss:
    """Return what a filter costs in light from what its box says.

    Args:
        density: its optical density, None where none is given.
        polariser: whether it polarises.
        graded: whether its density runs from with a clear aperture of dark.
        narrow: whether it passes a narrow band only.
        polariser_stops: what a polariser takes, as measured; None: 1 to 2.
    """
    turned = POLARISER_STOPS if polariser_stops is None else polariser_stops
    if density is not None:
        stops = stops_of_density(density.value)
        if graded:
            clear = turned.value if polariser else 0.0
            origin = weakest([density.origin, turned.origin]) if polariser else density.origin
            more = turned if polariser else None
            return LightLoss(clear, origin, LossReason.SKY_DENSITY, stops, density.value, _ends(0.0, 0.0, more))
        low, high = stops_of_density(density.low), stops_of_density(density.high)
        if polariser:
            # A grey filter and a polariser in one: both take their share, once.
            total, origin = stops + turned.value, weakest([density.origin, turned.origin])
            reason, ends = LossReason.DENSITY_AND_POLARISER, _ends(low, high, turned)
            return LightLoss(total, origin, reason, None, density.value, ends)
        return LightLoss(stops, density.origin, LossReason.DENSITY, None, density.value, _ends(low, high, None))
    if polariser:
        return LightLoss(turned.value, turned.origin, LossReason.POLARISER, ends=_ends(0.0, 0.0, turned))
    if narrow:
        return LightLoss(None, Origin.ASSUMED, LossReason.PASSBAND)
    return LightLoss(0.0, Origin.ASSUMED, LossReason.CLEAR)


def _ends(low: float, high: float, more: Quantity | None) -> tuple[float, float] | None:
    """Return both ends of what is unknown of a loss; None where it is one number."""
    if more is not None:
        low, high = low + more.low, high + more.high
    return None if low == high else (low, high)


class RoundFilter(FixedLength):
    """A round filter: its path length is that of its cell, or of the bare glass when unmounted."""

    kind_name = N_("round filter")
    rank = 120

    kind: Literal["round_filter"] = "round_filter"
    glass: Annotated[Glass, FieldInfo("Glass", "Its plate, or the focus shift printed on its box", group=Group.GLASS)]
    # A narrow passband: its nominal centre and full width at half maximum, and the coating's effective index.
    line_nm: Annotated[
        Wavelength | None,
        FieldInfo("Centre wavelength", "For narrowband filters", "nm", Group.PASSBAND),
    ] = None
    passband_nm: Annotated[
        Wavelength | None,
        FieldInfo("Full width at half maximum", "For narrowband filters", "nm", Group.PASSBAND),
    ] = None
    effective_index: Annotated[
        RefractiveIndex | None,
        FieldInfo("Coating's effective index", "About 2 where the box is silent", "", Group.PASSBAND),
    ] = None
    polariser: Annotated[bool, FieldInfo("Polariser", group=Group.PASSBAND)] = False
    polariser_stops: Annotated[
        Stops | None,
        FieldInfo(
            "Light lost by the polariser", "Metered with and without it; 1 to 2 until then", "stops", Group.PASSBAND
        ),
    ] = None
    # Optical density of a grey filter; None: as good as clear.
    density: Annotated[
        Density | None, FieldInfo("Density", "Optical density; stops or percent can be typed too", "", Group.PASSBAND)
    ] = None
    # Of a mounted filter: from its front rim to its glass; None: in the middle of its cell.
    glass_depth_mm: Annotated[
        Length | None, FieldInfo("Front rim to glass", "Depth of the glass in its ring", group=Group.GLASS)
    ] = None
    # The glass without its cell; None: no one has taken it out.
    glass_diameter_mm: Annotated[
        Diameter | None, FieldInfo("Diameter of the bare glass", "Diameter of the bare glass", group=Group.GLASS)
    ] = None

    @property
    def bare(self) -> bool:
        """Whether it has no cell of its own."""
        return isinstance(self.front.standard, Plain) and isinstance(self.rear.standard, Plain)

    def without_cell(self) -> "RoundFilter":
        """Return the filter as bare glass; itself when it has no cell.

        Without a known diameter the glass is taken as wide as its clear aperture and 1 mm (common practice, no source).
        """
        if self.bare:
            return self
        clear = self.clear_aperture_mm
        narrow = clear.value + 1.0 if clear is not None else max(self.clear_width().value + 1.0, 1.0)
        wide = self.glass_diameter_mm.value if self.glass_diameter_mm is not None else narrow
        end = Connection(standard=Plain(diameter_mm=wide), gender=Gender.NONE, engagement_mm=0.0)
        glass = self.glass
        thick = glass.thickness_mm if isinstance(glass, Plate) else assumed(glass.drawn_thickness_mm)
        update = {"front": end, "rear": end, "outer_diameter_mm": wide, "path_length_mm": thick}
        return self.model_copy(update=update)

    @property
    def cell_mm(self) -> float:
        """How wide its cell is, or the glass itself where it has none: by its rim, never by what is drawn."""
        rim = self.front.standard
        return rim.diameter_mm if self.bare and isinstance(rim, Plain) else self.outer_diameter_mm

    def clear_width(self) -> Quantity:
        """Return its clear aperture, or an assumed one: of bare glass from its rim, of a mounted one from its thread.

        An unmounted filter is usually usable to within 1 mm of its edge; common practice, no source.
        """
        if self.clear_aperture_mm is not None:
            return self.clear_aperture_mm
        if self.bare:
            return assumed(max(self.cell_mm - 2.0, 0.1), note=say("its size less 1 mm all round"))
        if not (self.front.known or self.rear.known):
            return assumed(max(self.outer_diameter_mm - 6.0, 0.1), note=say("its rim less 3 mm all round"))
        narrower = min(self._bores, key=lambda bore: bore.value)
        return assumed(narrower.value, note=say("the narrower of its two ends"))

    def end_aperture(self, filled: Installation, *, front: bool) -> Iterator[Aperture]:
        """Yield a face of the bare glass, or the rim or thread of a mounted filter."""
        if not self.bare:
            yield from super().end_aperture(filled, front=front)
            return
        role, at = (ApertureRole.FRONT_END, 0.0) if front else (ApertureRole.REAR_END, filled.span_mm)
        yield Aperture(self, role, self.clear_width(), "clear_aperture_mm", at, at, filled.length.origin)

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the glass of a mounted filter; bare glass is its two faces."""
        if not self.bare:
            at, thick = self._glass_at_mm(filled), self.glass.drawn_thickness_mm
            yield Aperture(
                self, ApertureRole.CLEAR, self.clear_width(), "clear_aperture_mm", at, at, filled.length.origin,
                thick_mm=thick,
            )  # fmt: skip

    def _glass_at_mm(self, filled: Installation) -> float:
        """Return where its glass begins behind its front face; in the middle where nothing was entered."""
        if self.glass_depth_mm is not None and not self.bare:
            return self.glass_depth_mm.value
        return filled.span_mm / 2.0 - self.glass.drawn_thickness_mm / 2.0

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        """Yield its glass at its depth."""
        yield GlassPiece(self, GlassRole.FILTER, self.glass, self._glass_at_mm(filled), self.clear_width().value)

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield the light loss of a polariser whose loss is not entered."""
        yield from polariser_default(polariser=self.polariser, stops=self.polariser_stops)

    def light_loss(self) -> LightLoss:
        """Return what it costs in light."""
        return loss_of_filter(
            self.density, polariser=self.polariser, graded=False, narrow=self.passband_nm is not None,
            polariser_stops=self.polariser_stops,
        )  # fmt: skip

    @classmethod
    def template(cls) -> "RoundFilter":
        """Return bare glass of 36 mm."""
        return cls(
            id="new-filter", name=say("New filter"), outer_diameter_mm=36, front=rim(36), rear=rim(36),
            path_length_mm=assumed(2), glass=Plate(thickness_mm=assumed(2), index=assumed(1.5168)),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual cells and bare sizes, then those that screw on lenses."""
        for name, wide, clear, cell, glass, thick in ROUND_FILTERS:
            ends = (rim(wide), rim(wide)) if cell is None else (thread(*cell, IN), thread(*cell, OUT))
            part = cls(
                id=key("filter", name),
                name=say("Filter {name}", name=name),
                outer_diameter_mm=wide, front=ends[0], rear=ends[1],
                path_length_mm=size(thick), clear_aperture_mm=size(clear), glass=crown(glass),
            )  # fmt: skip
            yield Usual(say("round filters"), part, say("{common}; clear {clear:g} mm", common=COMMON, clear=clear))
        for across in FILTER_THREADS_MM:
            pitch = 1.0 if across >= 105 else 0.75
            part = cls(
                id=key("screw-filter", across),
                name=say("Screw-in filter {across} mm", across=across),
                outer_diameter_mm=across + 3.0,
                front=thread(across, pitch, IN), rear=thread(across, pitch, OUT), path_length_mm=size(5.0),
                clear_aperture_mm=size(across - 4.0), glass=crown(2.0),
            )  # fmt: skip
            yield Usual(
                say("filter threads"),
                part,
                say("M{across}×{pitch:g}, {common}", across=across, pitch=pitch, common=COMMON),
            )


class Gradation(StrEnum):
    """How a sheet's density runs from top to bottom."""

    NONE = "none"
    HARD = "hard"
    MEDIUM = "medium"
    SOFT = "soft"
    REVERSE = "reverse"


class SheetFilter(PartBase):
    """A square or rectangular filter that slides into a holder's slot."""

    kind_name = N_("square filter")
    rank = 165

    kind: Literal["sheet_filter"] = "sheet_filter"
    width_mm: Annotated[Diameter, FieldInfo("Width", group=Group.SHEET)]
    height_mm: Annotated[Diameter, FieldInfo("Height", group=Group.SHEET)]
    glass: Annotated[Glass, FieldInfo("Glass", "Its plate, or the focus shift printed on its box", group=Group.GLASS)]
    # Optical density of the dark part; None: a clear or coloured sheet.
    density: Annotated[
        Density | None,
        FieldInfo("Density", "Density of the dark part; stops or per cent can be typed too", "", Group.SHEET),
    ] = None
    gradation: Annotated[Gradation, FieldInfo("Gradation", "Kind of transition", group=Group.SHEET)] = Gradation.NONE
    # How far its gradation takes to run from with a clear aperture of dark; None: usual for its kind.
    transition_mm: Annotated[
        Length | None, FieldInfo("Transition", "Width of the transition between clear and dark", group=Group.SHEET)
    ] = None
    polariser: Annotated[bool, FieldInfo("Polariser", group=Group.SHEET)] = False
    polariser_stops: Annotated[
        Stops | None,
        FieldInfo(
            "Light lost by the polariser", "Metered with and without it; 1 to 2 until then", "stops", Group.SHEET
        ),
    ] = None
    # A soft frame on its rear that keeps stray light out; it belongs against the holder's plate.
    gasket: Annotated[bool, FieldInfo("Gasket", "A soft frame on its rear", group=Group.SHEET)] = False

    # A narrower sheet may be held in a frame as wide as the holder's sheets.
    frame_width_mm: Annotated[
        Diameter | None, FieldInfo("Width in its frame", "An adapter frame that fits a wider holder", group=Group.SHEET)
    ] = None

    @property
    def slides_mm(self) -> float:
        """How wide what slides into a slot is: the frame it is held in, else the sheet itself."""
        return self.width_mm.value if self.frame_width_mm is None else self.frame_width_mm.value

    @property
    def graded(self) -> bool:
        """Whether it is a graduated filter."""
        return self.gradation is not Gradation.NONE

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield the light loss of a polariser whose loss is not entered."""
        yield from polariser_default(polariser=self.polariser, stops=self.polariser_stops)

    def light_loss(self) -> LightLoss:
        """Return what it costs in light; of a graduated one its clear part, and its dark part beside it."""
        return loss_of_filter(
            self.density, polariser=self.polariser, graded=self.graded, narrow=False,
            polariser_stops=self.polariser_stops,
        )  # fmt: skip

    @classmethod
    def template(cls) -> "SheetFilter":
        """Return a sheet of 100 by 150 mm."""
        return cls(
            id="new-sheet", name=say("New square filter"), outer_diameter_mm=100, width_mm=assumed(100),
            height_mm=assumed(150), glass=Plate(thickness_mm=assumed(2), index=assumed(1.5168)),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual sheets."""
        for width, height in SHEETS_MM:
            part = cls(
                id=key("sheet", width, height),
                name=say("Filter {width} × {height} mm", width=width, height=height),
                outer_diameter_mm=float(width),
                width_mm=size(width), height_mm=size(height), glass=crown(2.0),
            )  # fmt: skip
            yield Usual(say("square filters"), part, COMMON)
