"""What stars and the far horizon say of the spacing."""

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Corner, Observation, Off, numbers, words
from farrail.parts.field_info import FieldInfo
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import ShortStars
from farrail.readouts.corner_stars import rule_of
from farrail.readouts.read import Readout
from farrail.readouts.spacing.focuser_and_guider import travel_of
from farrail.readouts.spacing.grounds import State, WithTubes
from farrail.units import mm_to_metres

# So far a spacing may be off round stars and an eye still call them round; common practice, no source.
STARS_OFF_MM = 0.2


class StarShape(StrEnum):
    """How corner stars look."""

    ROUND = "round"
    RADIAL = "radial"
    TANGENTIAL = "tangential"


class CornerStars(Observation):
    """How stars in the corners look with the spacing as placed."""

    kind_name = N_("corner stars")
    calibrates = N_("the back focus of the corrector")
    rank = 50

    kind: Literal["corner_stars"] = "corner_stars"
    shape: Annotated[StarShape, FieldInfo("Shape", "Round; drawn out from the middle; drawn out around it", "")]
    corners: Annotated[tuple[Corner, ...], Field(max_length=4), FieldInfo("Corners", "None: all equal", "")] = ()
    elongation: Annotated[
        Annotated[float, Field(ge=1.0, le=50.0)] | None,
        FieldInfo("Length over width", "The longest star", ""),
    ] = None
    off_mm: Annotated[Off, FieldInfo("± spacing", "Spacing error that still looks the same, ±")] = STARS_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether a corrector or telescope asks for a distance."""
        need = readout.spacing.requirement
        return need is not None and not need.is_lens and readout.spacing.error_mm is not None

    def compared(self, readout: Readout) -> Compared | None:
        """Return the shape beside the one predicted: round within tolerance, else by the corrector's own rule."""
        spacing = readout.spacing
        error, tolerance = spacing.error_mm, spacing.tolerance_mm
        if error is None or tolerance is None:
            return words(self.shape, None, spacing.provenance)
        if abs(error) <= tolerance:
            return words(self.shape, StarShape.ROUND, spacing.provenance)
        rule = rule_of(readout)
        if rule is None:
            # Which way they point is not known: only round or not round can be held against it.
            told = None if self.shape is not StarShape.ROUND else "not_round"
            return words(self.shape, told or self.shape, spacing.provenance)
        short = error < 0.0
        return words(self.shape, shape_of(rule, short=short), spacing.provenance)

    @property
    def one_sided(self) -> bool:
        """Whether only some corners show it: a tilt, which no spacing mends."""
        return 0 < len(self.corners) < 4


def shape_of(rule: ShortStars, *, short: bool) -> StarShape:
    """Return how stars look on one side of the right spacing."""
    radial = (rule is ShortStars.RADIAL) is short
    return StarShape.RADIAL if radial else StarShape.TANGENTIAL


class FocusReached(Observation):
    """Whether the train comes to a focus at all."""

    kind_name = N_("focus reached or not")
    rank = 60

    kind: Literal["focus_reached"] = "focus_reached"
    reached: Annotated[bool, FieldInfo("Reached", "At infinity, on a star or a far edge", "")] = True

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether there is a camera."""
        return readout.layout.camera is not None

    def compared(self, readout: Readout) -> Compared | None:
        """Return what happened beside what the spacing and the focuser's travel say."""
        told = {True: "reached", False: "not_reached", None: None}
        return words(told[self.reached] or "", told[infinity_reached(readout)], readout.spacing.provenance)


def infinity_reached(readout: Readout) -> bool | None:
    """Return whether a train focuses at infinity; None where nothing says so."""
    verdict = readout.verdict
    if isinstance(readout.layout.optic, CameraLens) and readout.layout.corrector is None:
        if verdict.state is State.UNJUDGED:
            return None
        if isinstance(verdict.ground, WithTubes):
            return readout.spacing.extension.whole_mm <= 0.0
        return verdict.met
    travel = travel_of(readout.layout)
    return None if travel is None else travel.reached


class InfinityMark(Observation):
    """Where a lens's ring is when the far horizon is sharp."""

    kind_name = N_("infinity at a mark")
    rank = 70

    kind: Literal["infinity_mark"] = "infinity_mark"
    # None: at the infinity mark itself.
    mark_m: Annotated[
        Annotated[float, Field(gt=0.0, le=10_000.0)] | None,
        FieldInfo("Focus ring at", "Distance on its scale; empty for the infinity mark", "m"),
    ] = None
    off_share: Annotated[
        Annotated[float, Field(ge=0.0, le=1.0)], FieldInfo("± share", "Uncertainty of the scale, as a share", "")
    ] = 0.3

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether a lens is before a camera."""
        return readout.spacing.focusing is not None and readout.spacing.error_mm is not None

    def compared(self, readout: Readout) -> Compared | None:
        """Return the mark beside the one at which a ring makes up for a sensor too near."""
        predicted = mark_of(readout)
        if self.mark_m is None:
            told = None if predicted is None else "at_infinity" if predicted == float("inf") else "before_infinity"
            return words("at_infinity", told, readout.spacing.provenance)
        if predicted is None or predicted == float("inf"):
            return words("before_infinity", None if predicted is None else "at_infinity", readout.spacing.provenance)
        return numbers(self.mark_m, predicted, "m", self.off_share * predicted, readout.spacing.provenance)


# So little too short shows on no scale.
AT_THE_MARK_MM = 0.02


def mark_of(readout: Readout) -> float | None:
    """Return at which distance of its scale, in metres, a lens's ring is when infinity is sharp; None: never."""
    spacing = readout.spacing
    focusing, error = spacing.focusing, spacing.error_mm
    if focusing is None or error is None or infinity_reached(readout) is False:
        return None
    short = -error
    if short <= AT_THE_MARK_MM:
        return float("inf")
    return mm_to_metres(focusing.mark_mm(short))
