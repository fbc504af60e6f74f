"""What is said about a front stack and the corners: vignetting, the pupil, rules of thumb."""

from dataclasses import dataclass

from farrail.language import joined, say
from farrail.quantities import focal_or_none
from farrail.readouts.finding import FindingText
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.names import aperture_name, loss_name
from farrail.readouts.unknown_field import LossRange
from farrail.train.placed import PlacedAperture

# Focal lengths between which a front stack is first free of vignetting; None: never.
Band = tuple[float | None, float | None]


def _clean_from(first_clean_mm: float | None) -> str:
    if first_clean_mm is None:
        return say("nowhere in its range")
    return say("from {first_clean_mm:.1f} mm on", first_clean_mm=first_clean_mm)


@dataclass(frozen=True)
class NoLens(FindingText):
    """A front stack ahead of a telescope."""

    kind = "front.no_lens"

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("There is a front stack ahead of a telescope."),
            say("Its pupil is the objective itself: what is ahead of it is not judged here."),
        )


@dataclass(frozen=True)
class NothingHolds(FindingText):
    """A lens without a thread to hold a front stack."""

    kind = "front.nothing_holds"
    lens: str
    part: str

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{lens} has no filter thread to hold {part}.", lens=self.lens, part=self.part),
            say("Give its front connection in Parts, or use a slip-on holder made for it."),
        )


@dataclass(frozen=True)
class FocalOutside(FindingText):
    """A focal length the zoom does not reach."""

    kind = "front.focal_outside"
    lens: str
    wanted_mm: float
    low_mm: float
    high_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{lens} cannot be set to {wanted_mm:g} mm.", lens=self.lens, wanted_mm=self.wanted_mm),
            say(
                "It reaches from {low_mm:g} to {high_mm:g} mm; set a focal length between.",
                low_mm=self.low_mm,
                high_mm=self.high_mm,
            ),
        )


@dataclass(frozen=True)
class FieldTooWide(FindingText):
    """A field wider than anything flat ahead of it."""

    kind = "front.field_too_wide"
    angle_deg: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The corner looks {angle_deg:.0f}° to the side, beyond anything flat ahead of the lens.",
                angle_deg=self.angle_deg,
            ),
            say("Any holder vignettes; crop, or judge by the part of the frame within 89°."),
        )


def _darkens_over_range(name: str, focal_mm: float, over: LossRange) -> tuple[str, str]:
    between = say("{low:.2f} to {high}", low=over.low_stops, high=loss_name(over.high_stops))
    if over.low_stops <= CLEAN_STOPS:
        title = say(
            "{name} may darken the corners at {focal_mm:g} mm: {between}.",
            name=name,
            focal_mm=focal_mm,
            between=between,
        )
    else:
        title = say(
            "{name} darkens the corners at {focal_mm:g} mm: {between}.", name=name, focal_mm=focal_mm, between=between
        )
    return title, over.first


def darkens(name: str, focal_mm: float, stops: float) -> str:
    """Return how much a part darkens the corners at a focal length.

    Args:
        name: the part's.
        focal_mm: the focal length.
        stops: light lost in the darkest corner; infinity where none is left.
    """
    if stops == float("inf"):
        return say("{name} makes the corners black at {focal_mm:g} mm.", name=name, focal_mm=focal_mm)
    return say(
        "{name} darkens the corners by {stops:.2f} stops at {focal_mm:g} mm.", name=name, stops=stops, focal_mm=focal_mm
    )


@dataclass(frozen=True)
class DarkensCorners(FindingText):
    """A front stack that darkens the corners."""

    kind = "front.shows"
    aperture: PlacedAperture
    focal_mm: float
    lost_stops: float
    first_clean_mm: float | None
    over: LossRange | None = None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if self.over is not None:
            return _darkens_over_range(self.aperture.part.name, self.focal_mm, self.over)
        return (
            darkens(self.aperture.part.name, self.focal_mm, self.lost_stops),
            say(
                "Its {aperture_name} causes most of it. Free of vignetting {clean_from}.",
                aperture_name=aperture_name(self.aperture),
                clean_from=_clean_from(self.first_clean_mm),
            ),
        )


@dataclass(frozen=True)
class FrontClean(FindingText):
    """A front stack free of vignetting."""

    kind = "front.clean"
    focal_mm: float
    first_clean_mm: float | None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return say("The front stack is free of vignetting at {focal_mm:g} mm.", focal_mm=self.focal_mm), say(
            "Free of vignetting {clean_from}.", clean_from=_clean_from(self.first_clean_mm)
        )


def _first_clean_band(band_mm: Band) -> str:
    low, high = band_mm
    return (
        say("at any of them")
        if low == high
        else say("{low} to {high}", low=focal_or_none(low), high=focal_or_none(high))
    )


@dataclass(frozen=True)
class PupilAssumed(FindingText):
    """An assumed entrance pupil."""

    kind = "front.pupil_assumed"
    band_mm: Band
    walks: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        walks = (
            say("Seen from the corner it may be closer to the front; find it for that direction as well.")
            if self.walks
            else ""
        )
        return (
            say(
                "The entrance pupil is only assumed: free of vignetting {first_clean_band}.",
                first_clean_band=_first_clean_band(self.band_mm),
            ),
            joined(
                say(
                    "Find the no-parallax point: pivot until near and far objects stay aligned, and note "
                    "its distance behind the filter thread."
                ),
                walks,
                say("Or note at which focal length a known holder first darkens a corner."),
            ),
        )


@dataclass(frozen=True)
class PupilShift(FindingText):
    """An entrance pupil whose shift toward the corner is not known."""

    kind = "front.pupil_walk"
    band_mm: Band

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The entrance pupil's shift toward the corner is not known: free of vignetting {first_clean_band}.",
                first_clean_band=_first_clean_band(self.band_mm),
            ),
            say(
                "On wide lenses it is closer to the front, seen from the corner. Find the "
                "no-parallax point with the subject in the corner, or note the focal length at "
                "which this stack first darkens a corner."
            ),
        )


@dataclass(frozen=True)
class OwnVignetting(FindingText):
    """A lens's own vignetting that is not known."""

    kind = "front.own_vignetting"
    lens: str
    f_number: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "What {lens} itself loses in the corner at f/{f_number:g} is not known.",
                lens=self.lens,
                f_number=self.f_number,
            ),
            say(
                "Where the lens's own rim already darkens the corner, the stack adds less than "
                "shown. Enter its corner loss wide open, or the clear diameter and depth of its "
                "front glass."
            ),
        )


@dataclass(frozen=True)
class StandardRingOnWide(FindingText):
    """A standard ring on a wide lens."""

    kind = "front.standard_ring_on_wide"
    ring: str
    limit_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{ring} is a standard adapter ring on a wide-angle lens.", ring=self.ring),
            say(
                "At {limit_mm:.0f} mm or less on this frame a recessed ring is usual; dimensions here are assumed.",
                limit_mm=self.limit_mm,
            ),
        )


@dataclass(frozen=True)
class ProtectionFilter(FindingText):
    """A protection filter under a holder."""

    kind = "front.protection_filter"
    filter: str
    limit_mm: float
    length_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{filter} is still fitted at {limit_mm:.0f} mm or less.", filter=self.filter, limit_mm=self.limit_mm),
            say("It sets the holder {length_mm:.1f mm} further out: take it off first.", length_mm=self.length_mm),
        )


@dataclass(frozen=True)
class CoupledOnWide(FindingText):
    """Coupled holders on a wide lens."""

    kind = "front.coupled_on_wide"
    limit_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("Two coupled holders turn on their own on a lens wider than normal."),
            say(
                "The stack is long: from about {limit_mm:.0f} mm on it usually stays out of this frame.",
                limit_mm=self.limit_mm,
            ),
        )
