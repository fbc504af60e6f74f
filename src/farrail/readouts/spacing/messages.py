"""What is said about spacing, the focuser and guide cameras."""

from dataclasses import dataclass
from enum import StrEnum

from farrail.language import joined, say
from farrail.quantities import signed_length, unit_word
from farrail.readouts.finding import FindingText
from farrail.readouts.spacing.focuser_and_guider import Guiding, Hung, Travel
from farrail.readouts.spacing.model import GlassLine, Line, Requirement
from farrail.readouts.spacing.names import datum_name, glass_name, line_name, requirement_name
from farrail.readouts.spacing.verdict import Verdict


class Doubtful(StrEnum):
    """Which input is assumed."""

    LENGTH = "length"
    REQUIREMENT = "requirement"
    WINDOW = "window"
    GLASS_THICKNESS = "glass_thickness"
    GLASS = "glass"


@dataclass(frozen=True)
class SpacingMissed(FindingText):
    """A verdict on spacing that is not met."""

    verdict: Verdict

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return self.verdict.sentences


class TooShort(SpacingMissed):
    """The sensor is too close to its optic."""

    kind = "spacing.short"


class TooLong(SpacingMissed):
    """The sensor is too far from its optic."""

    kind = "spacing.long"


class NoRoom(SpacingMissed):
    """Too far, and there is no spacer left to take out."""

    kind = "spacing.no_room"


class SpacingNotJudged(SpacingMissed):
    """Nothing says where the sensor must be."""

    kind = "spacing.not_judged"


@dataclass(frozen=True)
class CorrectorPlace(FindingText):
    """A corrector at a wrong distance from its telescope."""

    kind = "spacing.telescope_to_corrector"
    corrector: str
    error_mm: float
    tolerance_mm: float | None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        side = say("near") if self.error_mm < 0 else say("far")
        limit = (
            say("allowed ±{tolerance_mm:.2f mm}", tolerance_mm=self.tolerance_mm)
            if self.tolerance_mm is not None
            else say("no tolerance is given")
        )
        return (
            say(
                "{corrector} sits {error_mm:.2f mm} too {side} on the telescope.",
                corrector=self.corrector,
                error_mm=abs(self.error_mm),
                side=side,
            ),
            say("Change the parts between the telescope and the corrector; {limit}.", limit=limit),
        )


@dataclass(frozen=True)
class PublishedDiffer(FindingText):
    """Published figures that differ."""

    kind = "spacing.published_disagree"
    requirement: Requirement
    low_mm: float
    high_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "Published {requirement_name} figures differ: {low_mm:.2f length} to {high_mm:.2f mm}.",
                requirement_name=requirement_name(self.requirement),
                low_mm=self.low_mm,
                high_mm=self.high_mm,
            ),
            say(
                "{value:.2f mm} is in use; choose another in Spacing, or test on stars and "
                "keep the figure with round corner stars.",
                value=self.requirement.distance.value,
            ),
        )


@dataclass(frozen=True)
class FiltersLeaveTolerance(FindingText):
    """Filters of a set that leave the tolerance."""

    kind = "spacing.filter_leaves_tolerance"
    filters: tuple[str, ...]
    error_mm: float
    tolerance_mm: float
    least_mm: float
    most_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if self.least_mm > self.most_mm:
            serves = say("No one spacing serves all of them; refocus between them, or set it for the one used most.")
        else:
            ends = say(
                "{least_mm:.2f length} to {most_mm:.2f mm}", least_mm=abs(self.least_mm), most_mm=abs(self.most_mm)
            )
            ends = (
                ends
                if self.least_mm >= 0.0
                else say(
                    "{most_mm:.2f length} to {least_mm:.2f mm}", most_mm=abs(self.most_mm), least_mm=abs(self.least_mm)
                )
            )
            verb = say("Adding") if self.least_mm >= 0.0 else say("Taking out")
            serves = say("{verb} {ends} keeps every filter within it.", verb=verb, ends=ends)
        return (
            say(
                "With {listed} the sensor leaves the tolerance ({error} {unit}).",
                listed=", ".join(self.filters),
                error=signed_length(self.error_mm),
                unit=unit_word("mm"),
            ),
            say(
                "The set's glass shifts differ; allowed ±{tolerance_mm:.2f mm}. {serves}",
                tolerance_mm=self.tolerance_mm,
                serves=serves,
            ),
        )


@dataclass(frozen=True)
class AssumedDecides(FindingText):
    """An assumed value that decides the verdict."""

    kind = "spacing.assumed_decides"
    what: Doubtful
    of: Line | Requirement | GlassLine
    moves_mm: float
    flips_at_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The result depends on {input}, which is only assumed. Measure it first.",
                input=_input(self.what, self.of),
            ),
            say(
                "It can shift the error by up to {moves_mm:.2f mm}; beyond {flips_at_mm:.2f mm} "
                "the train is out of tolerance.",
                moves_mm=self.moves_mm,
                flips_at_mm=self.flips_at_mm,
            ),
        )


def _input(what: Doubtful, of: Line | Requirement | GlassLine) -> str:
    if isinstance(of, Line):
        return say("the length of {line_name}", line_name=line_name(of))
    if isinstance(of, Requirement):
        return say(
            "the {requirement_name} of {datum_name}", requirement_name=requirement_name(of), datum_name=datum_name(of)
        )
    if what is Doubtful.WINDOW:
        return say("whether the camera's flange distance already includes its window")
    glass = glass_name(of)
    return (
        say("the glass thickness of {glass}", glass=glass)
        if what is Doubtful.GLASS_THICKNESS
        else say("the glass of {glass}", glass=glass)
    )


@dataclass(frozen=True)
class WindowNotStated(FindingText):
    """A camera window whose maker does not say whether it is included."""

    kind = "spacing.window_silent"
    shift_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("The camera's window ({shift_mm:.2f mm} of shift) is taken as allowed for.", shift_mm=self.shift_mm),
            say("Its maker does not say whether the published flange-to-sensor distance includes it."),
        )


@dataclass(frozen=True)
class SettingOutOfRange(FindingText):
    """An adjustable part set beyond its range."""

    kind = "spacing.setting"
    part: str
    setting_mm: float
    shortest_mm: float
    longest_mm: float
    used_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{part} cannot be set to {setting_mm:.2f mm}.", part=self.part, setting_mm=self.setting_mm),
            say(
                "It reaches from {shortest_mm:.2f length} to {longest_mm:.2f mm}; {used_mm:.2f length} is used.",
                shortest_mm=self.shortest_mm,
                longest_mm=self.longest_mm,
                used_mm=self.used_mm,
            ),
        )


@dataclass(frozen=True)
class OutOfTravel(FindingText):
    """Focus beyond the focuser's travel."""

    kind = "spacing.focuser_out_of_travel"
    travel: Travel

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        needed = self.travel.needed_mm
        if needed < 0:
            return (
                say("Focus is {needed:.1f mm} inside the focuser's inner stop.", needed=-needed),
                say("Take length out of the train, or use a part that needs less; racking in further is not possible."),
            )
        beyond = needed - (self.travel.travel_mm or 0.0)
        return (
            say("Focus is {beyond:.1f mm} beyond the focuser's travel.", beyond=beyond),
            say("Add {beyond:.1f mm} or more ahead of the train with an extension.", beyond=beyond),
        )


@dataclass(frozen=True)
class NoImage(FindingText):
    """A powered part that forms no image."""

    kind = "spacing.no_image"
    part: str
    focal_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{part} forms no image at the sensor.", part=self.part),
            say("Its focal length is {focal_mm:g} mm: the sensor must be closer than that.", focal_mm=self.focal_mm),
        )


@dataclass(frozen=True)
class GuideNoRoom(FindingText):
    """A guide sensor without room."""

    kind = "spacing.guide_no_room"
    guide: Guiding

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The guide sensor cannot reach the main camera's focus: its position is {spacing_mm:.1f mm} inside.",
                spacing_mm=-self.guide.spacing_mm,
            ),
            say("Put length between the guider and the main camera, or use a shorter guide port."),
        )


@dataclass(frozen=True)
class GuidePlace(FindingText):
    """Where a guide sensor focuses."""

    kind = "spacing.guide_place"
    guide: Guiding

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The guide sensor focuses {spacing_mm:.1f mm} behind the port of {name}.",
                spacing_mm=self.guide.spacing_mm,
                name=self.guide.name,
            ),
            say("Add a guide camera (right-click the guider) to see which spacers it needs."),
        )


@dataclass(frozen=True)
class GuideMisfit(FindingText):
    """A guide camera that does not mate."""

    kind = "spacing.guide_misfit"
    guide: Guiding
    hung: Hung
    misfit: tuple[str, str]

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        one, other = self.misfit
        return (
            say(
                "{camera} does not mate on the port of {name}: {one_} against {other}.",
                camera=self.hung.camera,
                name=self.guide.name,
                one_=one,
                other=other,
            ),
            say("Add an adapter between them, or replace one of the parts."),
        )


@dataclass(frozen=True)
class GuideOutOfFocus(FindingText):
    """A guide camera out of focus."""

    kind = "spacing.guide_error"
    guide: Guiding
    hung: Hung
    tolerance_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        off = self.hung.error_mm
        distance = say(
            "The guide sensor is {actual_mm:.2f mm} behind the port; {required_mm:.2f mm} are needed.",
            actual_mm=self.hung.own_mm + self.hung.between_mm,
            required_mm=self.guide.spacing_mm,
        )
        if off < 0.0:
            low, high = max(-off - self.tolerance_mm, 0.0), -off + self.tolerance_mm
            title = say(
                "{camera} is {off:.2f mm} too short of the guide port to focus with the main camera.",
                camera=self.hung.camera,
                off=-off,
            )
            action = say("Add {low:.2f length} to {high:.2f mm} between port and camera.", low=low, high=high)
            return title, f"{distance} {action}"
        title = say(
            "{camera} is {off:.2f mm} too long on the guide port to focus with the main camera.",
            camera=self.hung.camera,
            off=off,
        )
        if self.hung.between_mm > 0.0:
            action = say(
                "Remove length between port and camera, or add {off:.2f mm} between the guider and the main camera.",
                off=off,
            )
        else:
            action = say("Add {off:.2f mm} between the guider and the main camera.", off=off)
        return title, f"{distance} {action}"


@dataclass(frozen=True)
class GuideInFocus(FindingText):
    """A guide camera in focus."""

    kind = "spacing.guide_focuses"
    guide: Guiding
    hung: Hung
    tolerance_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        drawn = self.guide.spacing_mm - self.hung.own_mm - self.hung.between_mm
        out = say("Draw the port out by {drawn:.2f mm}.", drawn=drawn) if drawn > self.tolerance_mm else ""
        return (
            say(
                "{camera} focuses with the main camera: {error_mm:.2f mm} too short, within ±{tolerance_mm:.2f mm}.",
                camera=self.hung.camera,
                error_mm=-self.hung.error_mm,
                tolerance_mm=self.tolerance_mm,
            )
            if self.hung.error_mm < 0.0
            else say(
                "{camera} focuses with the main camera: {error_mm:.2f mm} too long, within ±{tolerance_mm:.2f mm}.",
                camera=self.hung.camera,
                error_mm=self.hung.error_mm,
                tolerance_mm=self.tolerance_mm,
            ),
            joined(out, say("The tolerance is assumed; guide stars that stay round are the test.")),
        )


@dataclass(frozen=True)
class EmptySlot(FindingText):
    """An empty slot in the beam."""

    kind = "spacing.empty_slot"
    seat: str
    slot: int
    count: int
    shift_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        filters = say("its filter is") if self.count == 1 else say("its {count} filters are", count=self.count)
        return (
            say("Slot {slot} of {seat} is empty and in the beam.", slot=self.slot, seat=self.seat),
            say(
                "These figures are without glass there; {filters} in the table of filters. A "
                "filter moves the focus up to {shift_mm:.2f mm} out.",
                filters=filters,
                shift_mm=self.shift_mm,
            ),
        )
