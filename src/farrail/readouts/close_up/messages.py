"""What is said about close-up."""

import math
from dataclasses import dataclass

from farrail.language import say, say_n
from farrail.readouts.finding import FindingText
from farrail.readouts.names import scale_name


@dataclass(frozen=True)
class NoFocus(FindingText):
    """No focus at any distance."""

    kind = "closeup.no_focus"
    needs_extension: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        reason = (
            say("Reversed, it is closer to the sensor than its focal length; add extension.")
            if self.needs_extension
            else say("The subject would be inside the lenses: remove a close-up lens or a tube.")
        )
        return say("This arrangement cannot focus at any distance."), reason


@dataclass(frozen=True)
class OutsideFocusRange(FindingText):
    """A subject outside the focus range."""

    kind = "closeup.outside_window"
    wanted_mm: float
    near_mm: float
    far_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        side = say("nearer") if self.wanted_mm < self.near_mm else say("farther")
        reach = (
            say("{near_mm:.0f mm} on", near_mm=self.near_mm)
            if math.isinf(self.far_mm)
            else say("{near_mm:.0f length} to {far_mm:.0f mm}", near_mm=self.near_mm, far_mm=self.far_mm)
        )
        at = say("{wanted_mm:.0f mm}", wanted_mm=self.wanted_mm) if self.wanted_mm > 0.0 else say("inside the lenses")
        return (
            say("A subject at {at} is out of the focus range ({side}).", at=at, side=side),
            say(
                "Focus range from the front glass: {reach}; {side} cannot be focused. Move, or change the parts.",
                reach=reach,
                side=side,
            ),
        )


@dataclass(frozen=True)
class PartInTheWay(FindingText):
    """A subject inside what is ahead of the lens."""

    kind = "closeup.hood_in_the_way"
    distance_mm: float
    reach_mm: float
    part: str

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The subject would be {distance_mm:.0f mm} inside {part}.",
                distance_mm=self.reach_mm - self.distance_mm,
                part=self.part,
            ),
            say(
                "The working distance is {distance_mm:.0f mm} and it reaches {reach_mm:.0f mm} "
                "beyond the glass: take it off.",
                distance_mm=self.distance_mm,
                reach_mm=self.reach_mm,
            ),
        )


@dataclass(frozen=True)
class TooCloseToLight(FindingText):
    """A subject too close to light."""

    kind = "closeup.too_near_to_light"
    distance_mm: float
    reach_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "Only {reach_mm:.0f mm} stay between the train and the subject: hard to light.",
                reach_mm=self.distance_mm - self.reach_mm,
            ),
            say(
                "Light from the side or with a ring light, or use a longer lens for "
                "more working distance at the same size."
            ),
        )


@dataclass(frozen=True)
class TimesLabel(FindingText):
    """What a label in times means."""

    kind = "closeup.label"
    label: str
    lens: str
    dioptres: float
    magnification: float
    gain: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The “{label}” on {lens} means +{dioptres:g} dioptres, not {dioptres:g}x magnification.",
                label=self.label,
                lens=self.lens,
                dioptres=self.dioptres,
            ),
            say(
                "All of it together reaches {scale_name} on this lens, {gain:.1f} times what the "
                "lens alone reaches at its closest focus.",
                scale_name=scale_name(self.magnification),
                gain=self.gain,
            ),
        )


@dataclass(frozen=True)
class SoftCorners(FindingText):
    """Soft corners of close-up lenses."""

    kind = "closeup.quality"
    count: int
    dioptres: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say_n(
                "{count} close-up lens of {dioptres:.1f} dioptres: expect soft, coloured corners.",
                "{count} close-up lenses of {dioptres:.1f} dioptres in all: expect soft, coloured corners.",
                self.count,
                count=self.count,
                dioptres=self.dioptres,
            ),
            say("Stop down to f/8 or f/11, or take an achromat; a longer lens needs less power for the same size."),
        )


@dataclass(frozen=True)
class CloseUpOrder(FindingText):
    """Close-up lenses in a poor order."""

    kind = "closeup.order"
    lens: str

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{lens} is the strongest but is not next to the lens.", lens=self.lens),
            say("The strongest one closest to the lens gives better corners."),
        )


@dataclass(frozen=True)
class LongerGainsMore(FindingText):
    """A longer lens gains more."""

    kind = "closeup.longer_gains_more"
    magnification: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "At infinity these close-up lenses give m {magnification:.2f} on this lens.",
                magnification=self.magnification,
            ),
            say("That is focal length times dioptres: a longer lens gains more by the same close-up lens."),
        )


@dataclass(frozen=True)
class Diffraction(FindingText):
    """Diffraction."""

    kind = "closeup.diffraction"
    f_number: float
    effective: float
    limit: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "Diffraction softens the picture: f/{f_number:.3g} acts as f/{effective:.3g}.",
                f_number=self.f_number,
                effective=self.effective,
            ),
            say(
                "Past f/{limit:.2g} diffraction limits sharpness. Open up and focus-stack for depth.",
                limit=self.limit,
            ),
        )


@dataclass(frozen=True)
class CropInstead(FindingText):
    """What cropping would leave."""

    kind = "closeup.crop_instead"
    share: float
    bare: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "Cropping the lens alone to this field would leave {share:.0f} % of the pixels, at no cost in light.",
                share=100.0 * self.share,
            ),
            say("At its closest focus the lens alone reaches {scale_name}.", scale_name=scale_name(self.bare)),
        )


@dataclass(frozen=True)
class ClosestFocusAssumed(FindingText):
    """An assumed closest focus."""

    kind = "closeup.nearest_assumed"
    lens: str
    magnification: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "How near {lens} focuses is assumed (1:{magnification:.0f}): measure this one first.",
                lens=self.lens,
                magnification=1.0 / self.magnification,
            ),
            say(
                "Focus on a ruler at the closest distance; enter the width in frame and its "
                "distance from the filter thread."
            ),
        )


@dataclass(frozen=True)
class PupilPlaceAssumed(FindingText):
    """Working distances that rest on an assumed pupil."""

    kind = "closeup.place_assumed"
    lens: str

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("Working distances assume where the entrance pupil of {lens} is.", lens=self.lens),
            say(
                "To fix this: focus a ruler at the closest distance; enter the width in frame and "
                "its distance from the filter thread."
            ),
        )
