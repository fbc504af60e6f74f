"""What is ahead of a lens: adapter rings, holders with slots, coupling rings, hoods.

In a front stack a part's front faces the scene and its rear the lens.
"""

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_, say, say_n
from farrail.parts.base import FixedLength, Housing, PartBase
from farrail.parts.connections import Connection, OnlyFits, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.in_beam import Aperture, ApertureRole, GlassPiece, GlassRole, Installation
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.provenance import Diameter, Length, Offset, assumed
from farrail.parts.usual import COMMON, FILTER_THREADS_MM, IN, OUT, Usual, key, rim, size

# Widths of sheets that holders are made for, with the widest lens thread their rings are made in; common practice.
SYSTEMS_MM = ((75.0, 67), (85.0, 77), (100.0, 86), (130.0, 105), (150.0, 105))
# A ring's seat of a system of that width.
SEAT_SHARE = 0.86
_HOLDER = OnlyFits(name="100 mm holder", diameter_mm=86.0)
# What a holder's rails cover of a sheet at each side where nothing was entered; common practice, no source.
RAIL_MM = 2.5
# How much wider or narrower than its slot, and thicker, a sheet may be; common practice, no source.
WIDTH_PLAY_MM, THICKNESS_PLAY_MM = 0.5, 0.05
# A window open above and below is taken as this high.
OPEN_MM = 600.0


def _seat(system_mm: float) -> OnlyFits:
    """Return what joins rings and holders of a system."""
    return OnlyFits(name=f"{system_mm:g} mm holder", diameter_mm=system_mm * SEAT_SHARE)


class HolderRing(Housing):
    """Carries a holder on a lens; its length is where the holder's seat is ahead of the lens's thread seat.

    A recessed ring puts it behind: its length is negative, and its skirt reaches over the barrel.
    """

    kind_name = N_("holder ring")
    rank = 130
    stands_ahead = True

    kind: Literal["holder_ring"] = "holder_ring"
    path_length_mm: Annotated[
        Offset, FieldInfo("Length", "Thread seat to holder seat; negative for a recessed ring", group=Group.LENGTH)
    ]

    @classmethod
    def template(cls) -> "HolderRing":
        """Return a standard ring of 77 mm."""
        return cls(
            id="new-holder-ring", name=say("New holder ring"), outer_diameter_mm=92,
            front=Connection(standard=_HOLDER, gender=OUT), rear=thread(77.0, 0.75, OUT), path_length_mm=assumed(5),
            clear_aperture_mm=assumed(73),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield standard and recessed rings of each system for the usual lens threads."""
        for system, widest in SYSTEMS_MM:
            for across in (a for a in FILTER_THREADS_MM if a <= widest):
                for own, word, long in (("standard", say("standard"), 6.0), ("wide-angle", say("wide-angle"), -1.5)):
                    part = cls(
                        id=key("holder-ring", system, across, own),
                        name=say(
                            "Ring {across} mm, {word}, {system:g} mm system", across=across, word=word, system=system
                        ),
                        outer_diameter_mm=max(system * 0.9, across + 6.0),
                        front=Connection(standard=_seat(system), gender=OUT),
                        rear=thread(across, 0.75, OUT),
                        path_length_mm=size(long),
                        clear_aperture_mm=size(across - 4.0),
                    )
                    yield Usual(
                        say("holder rings"), part, say("{common}; measure how far it sticks out", common=COMMON)
                    )


class FilterHolder(Housing):
    """Holds sheet filters in slots, one behind the other, and perhaps a round filter dropped in behind them.

    Slot 0 is the rearmost: `first_slot_mm` runs from the rear face to its middle, `slot_pitch_mm` on to the next. The
    window is what frame and rails leave free; without a height it is open above and below.
    """

    kind_name = N_("filter holder")
    rank = 140
    stands_ahead = True

    kind: Literal["filter_holder"] = "filter_holder"
    slots: Annotated[int, Field(ge=0, le=6), FieldInfo("Slots", "Number of filters it holds", "", Group.HOLDS)] = 2
    sheet_width_mm: Annotated[Diameter, FieldInfo("Filter width accepted", group=Group.HOLDS)]
    slot_thickness_mm: Annotated[
        Length, FieldInfo("Slots, thick", "Greatest filter thickness of a slot", group=Group.HOLDS)
    ]
    # One slot may be thicker or thinner than the others.
    other_slot: Annotated[
        int,
        Field(ge=0, le=6),
        FieldInfo("Slot of another thickness", "Slot number; the rearmost is number 1, none is 0", "", Group.HOLDS),
    ] = 0
    other_slot_thickness_mm: Annotated[
        Length | None, FieldInfo("… its thickness", "Greatest filter thickness of that slot", group=Group.HOLDS)
    ] = None
    slot_pitch_mm: Annotated[Length, FieldInfo("Slot to slot", "Middle to middle", group=Group.HOLDS)]
    first_slot_mm: Annotated[
        Length, FieldInfo("Rear face to first slot", "To the middle of the rearmost", group=Group.HOLDS)
    ]
    window_width_mm: Annotated[
        Diameter | None, FieldInfo("Window, width", "Free opening between frame and rails", group=Group.APERTURE)
    ] = None
    window_height_mm: Annotated[
        Diameter | None, FieldInfo("Window, high", "Left out where it is open above and below", group=Group.APERTURE)
    ] = None
    # Takes a round filter this wide behind the sheets, its middle so far ahead of the rear face.
    drop_in_mm: Annotated[
        Diameter | None, FieldInfo("Drop-in filter accepted, diameter", "Behind the square filters", group=Group.HOLDS)
    ] = None
    drop_in_at_mm: Annotated[
        Length | None, FieldInfo("… ahead of the rear face", "To its middle", group=Group.HOLDS)
    ] = None
    # A plate behind the rearmost slot that keeps stray light out; a gasket seals against it.
    baffle: Annotated[bool, FieldInfo("Plate against stray light", "Behind the rearmost slot", group=Group.HOLDS)] = (
        False
    )

    @property
    def slot_count(self) -> int:
        """How many sheets it takes."""
        return self.slots

    def slot_thick_mm(self, slot: int) -> float:
        """Return how thick a sheet a slot takes."""
        other = self.other_slot_thickness_mm
        return other.value if other is not None and slot == self.other_slot - 1 else self.slot_thickness_mm.value

    def accepts(self, sheet: SheetFilter, slot: int) -> bool:
        """Return whether a sheet, with the frame it is held in, goes into a slot."""
        narrow = abs(sheet.slides_mm - self.sheet_width_mm.value) <= WIDTH_PLAY_MM
        return narrow and sheet.glass.drawn_thickness_mm <= self.slot_thick_mm(slot) + THICKNESS_PLAY_MM

    def slot_at_mm(self, slot: int, span_mm: float) -> float:
        """Return where the middle of a slot is behind the front face."""
        return span_mm - self.first_slot_mm.value - slot * self.slot_pitch_mm.value

    def end_aperture(self, filled: Installation, *, front: bool) -> Iterator[Aperture]:
        """Yield its rear opening, of its fitting less a wall where not measured; its front is its window."""
        if not front:
            yield from super().end_aperture(filled, front=False)

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield its window where the slots end and at each slot, and the drop-in filter."""
        rails = assumed(
            max(self.sheet_width_mm.value - 2.0 * RAIL_MM, 0.1), note=say("width of the filter minus its rails")
        )
        width = self.window_width_mm if self.window_width_mm is not None else rails
        height = (
            self.window_height_mm if self.window_height_mm is not None else assumed(OPEN_MM, note=say("open above"))
        )
        origin = filled.length.origin
        places = [(ApertureRole.WINDOW, -1, 0.0)]
        places += [(ApertureRole.SLOT, n, self.slot_at_mm(n, filled.span_mm)) for n in reversed(range(self.slots))]
        for role, slot, at in places:
            yield Aperture(self, role, width, "window_width_mm", at, at, origin, slot, height)
        if isinstance(filled.dropped, RoundFilter):
            clear, at = filled.dropped.clear_width(), self._drop_in_place_mm(filled)
            yield Aperture(filled.dropped, ApertureRole.DROPPED_IN, clear, "clear_aperture_mm", at, at, clear.origin)

    def _drop_in_place_mm(self, filled: Installation) -> float:
        at = self.drop_in_at_mm.value if self.drop_in_at_mm is not None else self.first_slot_mm.value / 2.0
        return filled.span_mm - at

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        """Yield its sheets and what is dropped in behind them."""
        for slot, sheet in enumerate(filled.seats):
            if isinstance(sheet, SheetFilter):
                at = self.slot_at_mm(slot, filled.span_mm) - sheet.glass.drawn_thickness_mm / 2.0
                wide, shift = sheet.height_mm.value, filled.shift_mm(slot)
                yield GlassPiece(sheet, GlassRole.SHEET, sheet.glass, at, wide, slot, shift)
        if isinstance(filled.dropped, RoundFilter):
            glass = filled.dropped.glass
            at = self._drop_in_place_mm(filled) - glass.drawn_thickness_mm / 2.0
            yield GlassPiece(filled.dropped, GlassRole.FILTER, glass, at, filled.dropped.outer_diameter_mm)

    @classmethod
    def template(cls) -> "FilterHolder":
        """Return a holder of two slots for 100 mm sheets."""
        return cls(
            id="new-holder", name=say("New filter holder"), outer_diameter_mm=112, front=rim(100),
            rear=Connection(standard=_HOLDER, gender=IN), path_length_mm=assumed(14), slots=2,
            sheet_width_mm=assumed(100), slot_thickness_mm=assumed(2), slot_pitch_mm=assumed(5),
            first_slot_mm=assumed(5),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield holders of one to three slots for the usual widths of sheets."""
        for system, _ in SYSTEMS_MM:
            for slots in (1, 2, 3):
                part = cls(
                    id=key("holder", system, slots),
                    name=say_n(
                        "Holder {system:g} mm, {slots} slot",
                        "Holder {system:g} mm, {slots} slots",
                        slots,
                        system=system,
                        slots=slots,
                    ),
                    outer_diameter_mm=system + 12.0,
                    front=rim(system),
                    rear=Connection(standard=_seat(system), gender=IN),
                    path_length_mm=size(6.0 + 5.0 * slots),
                    slots=slots,
                    sheet_width_mm=size(system),
                    slot_thickness_mm=size(2.0),
                    slot_pitch_mm=size(5.0),
                    first_slot_mm=size(5.0),
                )
                yield Usual(say("filter holders"), part, COMMON)


class CouplingRing(FixedLength):
    """Joins a second holder that turns on its own."""

    kind_name = N_("coupling ring")
    rank = 150
    stands_ahead = True

    kind: Literal["coupling_ring"] = "coupling_ring"

    @classmethod
    def template(cls) -> "CouplingRing":
        """Return one for holders of 100 mm."""
        return cls(
            id="new-coupling", name=say("New coupling ring"), outer_diameter_mm=112, front=rim(100), rear=rim(100),
            path_length_mm=assumed(6),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield one of each system."""
        for system, _ in SYSTEMS_MM:
            part = cls(
                id=key("coupling", system),
                name=say("Coupling ring, {system:g} mm system", system=system),
                outer_diameter_mm=system + 12.0,
                front=rim(system),
                rear=rim(system),
                path_length_mm=size(6.0),
            )
            yield Usual(say("coupling rings"), part, COMMON)


class Hood(FixedLength):
    """A hood or shade, open to the scene: a tube, one whose front is cut out in petals, or a rectangular one.

    Its length is its longest reach, above and below. `corner_reach_mm` and `side_reach_mm` say how far it reaches in
    the direction of the frame's corners and of its sides; it turns with the lens.
    """

    kind_name = N_("hood")
    rank = 160
    stands_ahead = True

    kind: Literal["hood"] = "hood"
    corner_reach_mm: Annotated[
        Length | None,
        FieldInfo("Reach at the corners", "Petal hood: seat to rim toward the frame's corners",
             group=Group.LENGTH),
    ] = None  # fmt: skip
    side_reach_mm: Annotated[
        Length | None, FieldInfo("Reach at the sides", "Petal hood: seat to rim at left and right", group=Group.LENGTH)
    ] = None
    window_width_mm: Annotated[
        Diameter | None, FieldInfo("Opening, width", "Rectangular hood: opening at its front", group=Group.APERTURE)
    ] = None
    window_height_mm: Annotated[
        Diameter | None, FieldInfo("Opening, high", "Rectangular hood: opening at its front", group=Group.APERTURE)
    ] = None

    def end_aperture(self, filled: Installation, *, front: bool) -> Iterator[Aperture]:
        """Yield its front, as cut or rectangular, or its rear."""
        wide, high = self.window_width_mm, self.window_height_mm
        if front and wide is not None and high is not None:
            yield Aperture(
                self, ApertureRole.WINDOW, wide, "window_width_mm", 0.0, 0.0, filled.length.origin, height=high
            )
            return
        cut = self._cut(filled) if front else ()
        yield from (replace(one, cut_mm=cut) for one in super().end_aperture(filled, front=front))

    def _cut(self, filled: Installation) -> tuple[float, float] | tuple[()]:
        """Return by how much it reaches less far at the corners and at the sides; () for a straight one."""
        corner, side = self.corner_reach_mm, self.side_reach_mm
        if corner is None and side is None:
            return ()
        longest = filled.length.value
        at_corner = longest if corner is None else corner.value
        at_side = at_corner if side is None else side.value
        return max(longest - at_corner, 0.0), max(longest - at_side, 0.0)

    @classmethod
    def template(cls) -> "Hood":
        """Return one that screws into 77 mm."""
        return cls(
            id="new-hood", name=say("New hood"), outer_diameter_mm=90, front=rim(84), rear=thread(77.0, 0.75, OUT),
            path_length_mm=assumed(25), clear_aperture_mm=assumed(80),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield hoods that screw into the usual lens threads."""
        for across in FILTER_THREADS_MM:
            for long in (20.0, 40.0):
                part = cls(
                    id=key("hood", across, long),
                    name=say("Hood {across} mm, {long:g} mm long", across=across, long=long),
                    outer_diameter_mm=across + 12.0,
                    front=rim(across + 8.0),
                    rear=thread(across, 0.75, OUT),
                    path_length_mm=size(long),
                    clear_aperture_mm=size(across + 2.0),
                )
                yield Usual(say("hoods"), part, COMMON)
