"""What a verdict on spacing rests on: typed records, each of which says the verdict in words when it is shown."""

from dataclasses import dataclass
from enum import StrEnum

from farrail.language import joined, say
from farrail.quantities import signed_length, unit_word
from farrail.readouts.spacing.model import Focusing, Requirement
from farrail.readouts.spacing.names import datum_name
from farrail.units import mm_to_metres

# An error that two decimals show as nothing.
ZERO_MM = 0.005


class State(StrEnum):
    """What the spacing comes to."""

    GOOD = "good"
    SHORT = "short"
    LONG = "long"
    NO_ROOM = "no room"
    UNJUDGED = "not judged"


@dataclass(frozen=True)
class Ground:
    """What a verdict rests on."""

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict in one sentence with the number in it, and what it rests on or what to do.

        Args:
            state: the verdict in one word.
            miss_mm: by how much the sensor misses, negative too short; 0 where nothing says.
        """
        raise NotImplementedError


class NoCamera(Ground):
    """There is no camera."""

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return say("No camera ends this train."), say("Add a camera at its right end.")


class Reversed(Ground):
    """A reversed lens has no required distance."""

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return (
            say("A reversed lens has no required distance."),
            say("The distance from its thread to the sensor sets the magnification: see Close-up."),
        )


@dataclass(frozen=True)
class NoOwnFocus(Ground):
    """A lens that does not focus by itself, such as an enlarging lens."""

    optic: str
    flange_mm: float
    actual_mm: float

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return (
            say("{optic} does not focus by itself: its distance sets the magnification.", optic=self.optic),
            say(
                "{actual_mm:.2f mm} from its flange to the sensor, infinity at {flange_mm:.2f mm}: see Close-up.",
                actual_mm=self.actual_mm,
                flange_mm=self.flange_mm,
            ),
        )


@dataclass(frozen=True)
class NoRequirement(Ground):
    """The optic has no back focus."""

    optic: str

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return (
            say("No back focus is given, so spacing cannot be judged."),
            say("{optic} has no published back focus: bring it to focus with the focuser.", optic=self.optic),
        )


@dataclass(frozen=True)
class NoTolerance(Ground):
    """Nothing says how large the error may be."""

    requirement: Requirement

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        title = (
            say("The train is {miss:.2f mm} too short.", miss=-miss_mm)
            if miss_mm < 0
            else say("The train is {miss:.2f mm} too long.", miss=miss_mm)
        )
        return title, say(
            "{datum_name}: no tolerance is given, so it is not known whether that error is acceptable.",
            datum_name=datum_name(self.requirement),
        )


@dataclass(frozen=True)
class Tolerance(Ground):
    """The error against the tolerance, at the worst end of what is unknown.

    Attributes:
        owner: whose tolerance it is.
        tolerance_mm: half width.
        assumed: whether it is only assumed.
        depth_mm: the depth of focus, half width.
        low_mm: lower end of the error.
        high_mm: its upper end.
        over_mm: by how much the train is too long without any spacer or shim.
    """

    owner: str
    tolerance_mm: float
    assumed: bool
    depth_mm: float
    low_mm: float
    high_mm: float
    over_mm: float = 0.0

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        allowed = (
            say("assumed to be allowed ±{tolerance_mm:.2f length}", tolerance_mm=self.tolerance_mm)
            if self.assumed
            else say("allowed ±{tolerance_mm:.2f length}", tolerance_mm=self.tolerance_mm)
        )
        if state is State.GOOD:
            return self._within(miss_mm), joined(
                say(
                    "{signed} {unit}, {allowed} {unit}.",
                    signed=signed_length(miss_mm),
                    unit=unit_word("mm"),
                    allowed=allowed,
                ),
                self._assumed(),
            )
        worst = say(" at its worst end") if self.high_mm - self.low_mm > 1e-9 else ""
        if state is State.SHORT:
            return (
                say("The train is {miss:.2f mm} too short{worst}.", miss=-miss_mm, worst=worst),
                joined(
                    say(
                        "{to_add} behind {owner}; {allowed} {unit}.",
                        unit=unit_word("mm"),
                        to_add=self._to_add(),
                        owner=self.owner,
                        allowed=allowed,
                    ),
                    self._assumed(),
                ),
            )
        if state is State.NO_ROOM:
            return (
                say("The train is {miss:.2f mm} too long{worst}, and there is no room.", miss=miss_mm, worst=worst),
                say(
                    "Without any spacer or shim it would still be {over_mm:.2f mm} too long; a thinner part is needed.",
                    over_mm=self.over_mm,
                ),
            )
        return say("The train is {miss:.2f mm} too long{worst}.", miss=miss_mm, worst=worst), joined(
            say("Take {miss:.2f mm} out; {allowed} {unit}.", miss=miss_mm, unit=unit_word("mm"), allowed=allowed),
            self._assumed(),
        )

    def _within(self, miss_mm: float) -> str:
        if abs(miss_mm) < ZERO_MM:
            return say("The sensor is at the required back focus.")
        if miss_mm < 0:
            return say("The train is {miss:.2f mm} too short, within tolerance.", miss=-miss_mm)
        return say("The train is {miss:.2f mm} too long, within tolerance.", miss=miss_mm)

    def _to_add(self) -> str:
        """Return what to add so that the sensor lands all that is unknown; about, where no one length does."""
        least, most = -self.low_mm - self.tolerance_mm, -self.high_mm + self.tolerance_mm
        if least > most:
            return say("Add about {most:.2f mm}", most=(least + most) / 2.0)
        return say("Add {least:.2f length} to {most:.2f mm}", least=max(least, 0.0), most=most)

    def _assumed(self) -> str:
        """Return what to say of an assumed tolerance: the depth of focus, and where the verdict would turn."""
        if not self.assumed:
            return ""
        return say(
            "No tolerance is given: the depth of focus is ±{depth_mm:.3f mm} here, and the "
            "verdict changes at ±{turns_mm:.2f mm}.",
            depth_mm=self.depth_mm,
            turns_mm=max(abs(self.low_mm), abs(self.high_mm)),
        )


@dataclass(frozen=True)
class WithTubes(Ground):
    """Extension tubes hold the lens away on purpose."""

    tubes_mm: float

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return (
            say("{tubes_mm:.2f mm} of extension, as intended; no infinity focus.", tubes_mm=self.tubes_mm),
            say("See Close-up for what it reaches."),
        )


class AtFlange(Ground):
    """The sensor is where the lens's mount wants it."""

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return say("The sensor is at the lens's flange focal distance."), say("Infinity is reached.")


@dataclass(frozen=True)
class ByFocusing(Ground):
    """The lens's own focusing makes up for what is missing.

    Attributes:
        focusing: what the ring can do.
        left: magnification that is left at closest focus; None where it is not known.
    """

    focusing: Focusing
    left: float | None

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        short, focusing = -miss_mm, self.focusing
        title = say("The train is {short:.2f mm} too short, which focusing makes up for.", short=short)
        # Newton: drawn out by e a lens is focused at f²/e.
        mark = say("{mm_to_metres:.3g} m", mm_to_metres=mm_to_metres(focusing.mark_mm(short)))
        if self.left is None:
            return title, say(
                "Infinity is reached with the ring near {mark}. How near the lens focuses is not "
                "known; {travel_mm:.1f mm} of travel are taken.",
                mark=mark,
                travel_mm=focusing.travel_mm,
            )
        return title, say(
            "Infinity is reached with the ring near {mark}, {short:.2f length} of "
            "{travel_mm:.1f mm} into its travel; the closest focus drops from {nearest:.2f}x "
            "to {left:.2f}x.",
            mark=mark,
            short=short,
            travel_mm=focusing.travel_mm,
            nearest=focusing.nearest,
            left=self.left,
        )


@dataclass(frozen=True)
class FocusingUnknown(Ground):
    """How far the focusing ring travels was not entered: it may or may not reach infinity."""

    focusing: Focusing

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        return (
            say("{short:.2f mm} too short: infinity depends on how far the focusing ring travels.", short=-miss_mm),
            say(
                "The magnification at closest focus is not known; its travel can be 0 to {largest_mm:.1f mm}. "
                "Enter it.",
                largest_mm=self.focusing.largest_mm,
            ),
        )


@dataclass(frozen=True)
class BeyondFocusing(Ground):
    """More is missing than focusing can make up for."""

    focusing: Focusing

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        short, focusing = -miss_mm, self.focusing
        known = (
            say(
                "its ring travels {travel_mm:.1f mm} (closest focus {nearest:.2f}x)",
                travel_mm=focusing.travel_mm,
                nearest=focusing.nearest,
            )
            if focusing.nearest is not None
            else say(
                "how far its ring travels is not known, {travel_mm:.1f mm} are taken", travel_mm=focusing.travel_mm
            )
        )
        return (
            say("The train is {short:.2f mm} too short: it cannot focus.", short=short),
            say(
                "Focusing cannot make up for that: {known}. Add {short:.2f mm} between lens and camera.",
                known=known,
                short=short,
            ),
        )


@dataclass(frozen=True)
class InfinityLost(Ground):
    """The lens is farther from the sensor than its mount wants."""

    farthest_mm: float | None

    def sentences(self, state: State, miss_mm: float) -> tuple[str, str]:
        """Return the verdict and what it rests on."""
        farthest = (
            ""
            if self.farthest_mm is None
            else say(
                "; the farthest sharp subject is at about {farthest:.3g} m", farthest=mm_to_metres(self.farthest_mm)
            )
        )
        return (
            say("The train is {miss:.2f mm} too long: infinity is lost.", miss=miss_mm),
            say("A lens cannot focus past its flange distance{farthest}.", farthest=farthest),
        )
