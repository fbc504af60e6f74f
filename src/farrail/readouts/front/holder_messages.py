"""What is said about holders, square filters and polarisers."""

from dataclasses import dataclass

from farrail.language import N_, joined, say
from farrail.quantities import mm_or_none
from farrail.readouts.finding import FindingText
from farrail.readouts.front.polariser import PolariserAt
from farrail.train.train import Sky

PLACES = {
    PolariserAt.OUTERMOST: N_("outermost"),
    PolariserAt.ON_LENS: N_("on the lens"),
    PolariserAt.BEHIND_SHEETS: N_("behind the square filters"),
    PolariserAt.IN_SLOT: N_("in a slot"),
}


@dataclass(frozen=True)
class FreeSlots(FindingText):
    """Slots left in a holder."""

    kind = "front.slots"
    holder: str
    free: int

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        left = (
            say("no slot")
            if self.free <= 0
            else say("one slot")
            if self.free == 1
            else say("{free} slots", free=self.free)
        )
        more = (
            say("Another filter needs an extra slot module.")
            if self.free <= 0
            else say("An unused slot adds depth: remove one slot to reduce vignetting.")
        )
        return say("{holder} has {left} left.", holder=self.holder, left=left), more


@dataclass(frozen=True)
class DropInTooWide(FindingText):
    """A drop-in filter that does not fit."""

    kind = "front.drop_in"
    filter: str
    holder: str
    wide_mm: float
    accepts_mm: float | None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{filter} does not drop into {holder}.", filter=self.filter, holder=self.holder),
            say(
                "Its width is {wide_mm:.1f mm}; the holder accepts {mm_or_none}.",
                wide_mm=self.wide_mm,
                mm_or_none=mm_or_none(self.accepts_mm),
            ),
        )


@dataclass(frozen=True)
class SheetTooThick(FindingText):
    """A square filter too thick for its slot."""

    kind = "front.thick_sheet"
    sheet: str
    slot: int
    thick_mm: float
    slot_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{sheet} is too thick for slot {slot}.", sheet=self.sheet, slot=self.slot),
            say(
                "It is {thick_mm:.1f mm} thick; the slot accepts {slot_mm:.1f mm}. A "
                "slot for thick filters solves this.",
                thick_mm=self.thick_mm,
                slot_mm=self.slot_mm,
            ),
        )


@dataclass(frozen=True)
class SheetWidth(FindingText):
    """A square filter of another width than its holder."""

    kind = "front.sheet_width"
    sheet: str
    holder: str
    wide_mm: float
    accepts_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        word = say("wider") if self.wide_mm > self.accepts_mm else say("narrower")
        return say("{sheet} is {word} than {holder} accepts.", sheet=self.sheet, word=word, holder=self.holder), say(
            "{wide_mm:.0f mm} against {accepts_mm:.0f mm}.", wide_mm=self.wide_mm, accepts_mm=self.accepts_mm
        )


@dataclass(frozen=True)
class GasketAway(FindingText):
    """A gasket away from its plate."""

    kind = "front.gasket"
    sheet: str
    holder: str
    baffle: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if not self.baffle:
            return (
                say("{holder} has no plate for the gasket of {sheet}.", holder=self.holder, sheet=self.sheet),
                say("Stray light comes in from behind: shade the holder's back, or use a holder with a plate there."),
            )
        return (
            say("{sheet} belongs in the rearmost slot.", sheet=self.sheet),
            say("Its gasket seals against the plate behind it; further out stray light comes in from behind."),
        )


@dataclass(frozen=True)
class NoGasket(FindingText):
    """A dense sheet that nothing seals."""

    kind = "front.no_gasket"
    sheet: str
    stops: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return say("{sheet} has no gasket: stray light can come in from behind.", sheet=self.sheet), say(
            "Through {stops:.0f} stops the exposure is long, and light between filter and lens shows as a pale patch. "
            "Shade the holder and cover the viewfinder, or use a filter with a gasket.",
            stops=self.stops,
        )


@dataclass(frozen=True)
class SheetsOverlap(FindingText):
    """Square filters that would overlap in their slots."""

    kind = "front.sheets_overlap"
    sheet: str
    other: str
    overlap_mm: float
    pitch_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "{sheet} and {other} overlap by {overlap_mm:.1f mm} in their slots.",
                sheet=self.sheet,
                other=self.other,
                overlap_mm=self.overlap_mm,
            ),
            say(
                "The slots are {pitch_mm:g mm} apart, centre to centre. Leave a slot free between "
                "them, or measure the slots.",
                pitch_mm=self.pitch_mm,
            ),
        )


@dataclass(frozen=True)
class SlotOutside(FindingText):
    """A slot outside its holder's body."""

    kind = "front.slot_outside"
    holder: str
    slot: int
    outside_mm: float
    long_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "Slot {slot} of {holder} is {outside_mm:.1f mm} outside its body.",
                slot=self.slot,
                holder=self.holder,
                outside_mm=self.outside_mm,
            ),
            say(
                "The body is {long_mm:g mm} long: measure the position of the first slot and the distance to the next.",
                long_mm=self.long_mm,
            ),
        )


@dataclass(frozen=True)
class TransitionOutside(FindingText):
    """A graduated filter whose transition is outside the picture."""

    kind = "front.line_outside"
    sheet: str
    above: bool
    slide_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        title = (
            say("The transition of {sheet} is above the picture.", sheet=self.sheet)
            if self.above
            else say("The transition of {sheet} is below the picture.", sheet=self.sheet)
        )
        detail = (
            say("It has no effect there. Slide the filter down by {slide_mm:.0f mm}.", slide_mm=abs(self.slide_mm))
            if self.above
            else say(
                "It darkens the whole picture. Slide the filter up by {slide_mm:.0f mm}.", slide_mm=abs(self.slide_mm)
            )
        )
        return title, detail


@dataclass(frozen=True)
class SheetEdge(FindingText):
    """A square filter's edge in the picture."""

    kind = "front.sheet_edge"
    sheet: str
    needed_mm: tuple[float, float]
    corners: bool
    wide_mm: float
    high_mm: float
    shift_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if not self.corners:
            return (
                say("No filter can cover the corners of this frame; {sheet} leaves them free.", sheet=self.sheet),
                say(
                    "They look beyond anything flat. The middles of the sides need {needed_mm:.0f length} × "
                    "{needed_mm_2:.0f mm} there; crop, or use a longer focal length.",
                    needed_mm=self.needed_mm[0],
                    needed_mm_2=self.needed_mm[1],
                ),
            )
        return (
            say("The edge of {sheet} shows in the picture.", sheet=self.sheet),
            say(
                "Filter size needed there: {needed_mm:.0f length} × {needed_mm_2:.0f mm}; this one "
                "is {wide_mm:.0f length} × {high_mm:.0f mm}, slid by {shift_mm:g mm}.",
                needed_mm=self.needed_mm[0],
                needed_mm_2=self.needed_mm[1],
                wide_mm=self.wide_mm,
                high_mm=self.high_mm,
                shift_mm=self.shift_mm,
            ),
        )


@dataclass(frozen=True)
class NoSolarFilter(FindingText):
    """Dense filters and the Sun."""

    kind = "front.sun"
    filter: str

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{filter} is no solar filter.", filter=self.filter),
            say(
                "Never point a lens or your eye at the Sun through neutral density or "
                "polarising filters; use a certified "
                "solar filter over the whole front."
            ),
        )


@dataclass(frozen=True)
class SquarePolariserWithGrad(FindingText):
    """A square polariser with a graduated filter."""

    kind = "front.square_polariser_with_grad"
    polariser: str
    order_right: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        extra = "" if self.order_right else say("Put the graduated filter outermost, ahead of the polariser.")
        return (
            say(
                "{polariser} turns with the holder: the graduated filter leaves it 0° and 90° only.",
                polariser=self.polariser,
            ),
            joined(say("A square polariser has no turn of its own."), extra, say("A round one turns freely.")),
        )


def sun_words(sky: Sky) -> str:
    """Return where the Sun is, in words."""
    side = say("right") if sky.sun_right_deg >= 0.0 else say("left")
    if abs(sky.sun_right_deg) < 0.5:
        bearing = say("straight ahead")
    elif abs(sky.sun_right_deg) > 179.5:
        bearing = say("straight behind")
    else:
        bearing = say("{sun_right_deg:.0f}° to the {side}", sun_right_deg=abs(sky.sun_right_deg), side=side)
    return say("{bearing}, {sun_high_deg:.0f}° high", bearing=bearing, sun_high_deg=sky.sun_high_deg)


@dataclass(frozen=True)
class UnevenSky(FindingText):
    """A polariser on a wide sky."""

    kind = "front.polarised_sky"
    polariser: str
    uneven_stops: float
    marks: tuple[float, ...]
    sky: Sky
    given: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        left, _, middle, _, right = self.marks
        where = say("when the Sun is {sun_words}", sun_words=sun_words(self.sky))
        rests = "" if self.given else say("The Sun's position is assumed: enter it under Filters, Sky.")
        return (
            say(
                "{polariser} darkens a clear sky unevenly: {uneven_stops:.1f} stops across the frame {where}.",
                polariser=self.polariser,
                uneven_stops=self.uneven_stops,
                where=where,
            ),
            joined(
                say(
                    "It costs {left:.1f} stops at the left edge, {middle:.1f} in the centre, {right:.1f} "
                    "at the right. Rotate it away from its darkest, or frame narrower.",
                    left=left,
                    middle=middle,
                    right=right,
                ),
                rests,
            ),
        )


@dataclass(frozen=True)
class PolariserPlace(FindingText):
    """Where a polariser is."""

    kind = "front.polariser_place"
    polariser: str
    at: PolariserAt
    depth_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        turns = say("turns with the holder") if self.at is PolariserAt.IN_SLOT else say("turns freely")
        return (
            say("{polariser} is {places} and {turns}.", polariser=self.polariser, places=PLACES[self.at], turns=turns),
            say(
                "Stack depth with it: {depth_mm:.1f mm}. Outermost, light meets it first; behind "
                "the square filters it adds less depth. Both are common: compare the fixes.",
                depth_mm=self.depth_mm,
            ),
        )
