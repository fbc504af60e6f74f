"""The verdict on a train's spacing, as a value; `text` makes its sentences."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from farrail.optics.focus import depth_of_focus_mm
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Origin
from farrail.readouts.spacing.model import Spacing


class State(StrEnum):
    """What the spacing comes to."""

    GOOD = "good"
    SHORT = "short"
    LONG = "long"
    NO_ROOM = "no room"
    UNJUDGED = "not judged"


class Ground(StrEnum):
    """On what ground a verdict stands."""

    NO_CAMERA = "no_camera"
    REVERSED = "reversed"
    NO_REQUIREMENT = "no_requirement"
    NO_TOLERANCE = "no_tolerance"
    TOLERANCE = "tolerance"
    EXTENSION = "extension"
    FLANGE = "flange"
    FOCUSING = "focusing"
    FOCUSING_UNKNOWN = "focusing_unknown"
    NO_OWN_FOCUS = "no_own_focus"
    BEYOND_FOCUSING = "beyond_focusing"
    INFINITY_LOST = "infinity_lost"


@dataclass(frozen=True)
class Verdict:
    """The verdict on a train's spacing.

    Attributes:
        state: in one word.
        ground: what it stands on.
        miss_mm: by how much the sensor misses at the end that decides, negative too short; None where nothing says.
        values: the quantities and names its sentences need.
    """

    state: State
    ground: Ground
    miss_mm: float | None = None
    values: Mapping[str, Any] = field(default_factory=dict, hash=False)

    @property
    def met(self) -> bool:
        """Whether the requirement is met."""
        return self.state is State.GOOD


def verdict_on(spacing: Spacing) -> Verdict:
    """Judge a train's spacing at the worst end of whatever is unknown."""
    if spacing.layout.camera is None:
        return Verdict(State.UNJUDGED, Ground.NO_CAMERA)
    error, need = spacing.error_mm, spacing.requirement
    if spacing.layout.reversed:
        return Verdict(State.UNJUDGED, Ground.REVERSED)
    optic = spacing.layout.optic
    if isinstance(optic, CameraLens) and not optic.focuses_itself:
        values = {"optic": optic.name, "flange_mm": optic.flange_focal_distance_mm.value, "laid_mm": spacing.laid_mm}
        return Verdict(State.UNJUDGED, Ground.NO_OWN_FOCUS, values=values)
    if need is None or error is None:
        return Verdict(State.UNJUDGED, Ground.NO_REQUIREMENT, values={"optic": spacing.layout.optic.name})
    low, high = spacing.error_range_mm or (error, error)
    if need.is_lens:
        return _lens_verdict(spacing, low, high)
    tolerance = spacing.tolerance_mm
    if tolerance is None:
        return Verdict(State.UNJUDGED, Ground.NO_TOLERANCE, error, {"requirement": need})
    values = {
        "tolerance_mm": tolerance, "spread": high - low > 1e-9, "turns_mm": max(abs(low), abs(high)),
        "assumed": need.tolerance is not None and need.tolerance.origin is Origin.ASSUMED,
        "depth_mm": depth_of_focus_mm(spacing.f_number), "owner": need.owner, "low_mm": low, "high_mm": high,
    }  # fmt: skip
    if spacing.within_tolerance:
        return Verdict(State.GOOD, Ground.TOLERANCE, error, values)
    worst = low if abs(low) > abs(high) else high
    if worst < 0:
        return Verdict(State.SHORT, Ground.TOLERANCE, worst, values)
    over = spacing.shortest_mm - (spacing.required_mm or 0.0)
    state = State.NO_ROOM if over > tolerance else State.LONG
    return Verdict(state, Ground.TOLERANCE, worst, {**values, "over_mm": over})


def _lens_verdict(spacing: Spacing, low: float, high: float) -> Verdict:
    allowed, focusing = spacing.allowed_mm, spacing.focusing
    assert allowed is not None
    assert focusing is not None
    short, tubes = -low, spacing.extension.tubes_mm
    values = {"focusing": focusing, "left": focusing.left(max(short, 0.0)), "tubes_mm": tubes}
    if spacing.within_tolerance:
        if tubes and short < 0.005:
            return Verdict(State.GOOD, Ground.EXTENSION, 0.0, values)
        if short < 0.005:
            return Verdict(State.GOOD, Ground.FLANGE, 0.0)
        return Verdict(State.GOOD, Ground.FOCUSING, low, values)
    if high > allowed[1] + 1e-9:
        over = spacing.shortest_mm - (spacing.required_mm or 0.0)
        state = State.NO_ROOM if over > 0 else State.LONG
        return Verdict(state, Ground.INFINITY_LOST, high, {"farthest_mm": spacing.farthest_focus_mm})
    if short <= focusing.largest_mm + 1e-9:
        # How far its ring travels was not entered: it may or may not reach.
        return Verdict(State.UNJUDGED, Ground.FOCUSING_UNKNOWN, low, values)
    return Verdict(State.SHORT, Ground.BEYOND_FOCUSING, low, values)
