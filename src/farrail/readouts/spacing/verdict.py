"""The verdict on a train's spacing, and its mark on the drawing."""

from dataclasses import dataclass, replace

from farrail.language import local_number, say, say_n
from farrail.optics.focus import depth_of_focus_mm
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.readouts.spacing.grounds import (
    ZERO_MM,
    AtFlange,
    BeyondFocusing,
    ByFocusing,
    FocusingUnknown,
    Ground,
    InfinityLost,
    NoCamera,
    NoOwnFocus,
    NoRequirement,
    NoTolerance,
    Reversed,
    State,
    Tolerance,
    WithTubes,
)
from farrail.readouts.spacing.model import Spacing


@dataclass(frozen=True)
class Verdict:
    """The verdict on a train's spacing.

    Attributes:
        state: in one word.
        ground: what it rests on.
        miss_mm: by how much the sensor misses at the end that decides, negative too short; None where nothing says.
    """

    state: State
    ground: Ground
    miss_mm: float | None = None

    @property
    def met(self) -> bool:
        """Whether the requirement is met."""
        return self.state is State.GOOD

    @property
    def sentences(self) -> tuple[str, str]:
        """The verdict in one sentence with the number in it, and what it rests on or what to do."""
        return self.ground.sentences(self.state, self.miss_mm or 0.0)

    @property
    def headline(self) -> str:
        """One sentence with the number in it."""
        return self.sentences[0]

    @property
    def detail(self) -> str:
        """What it rests on, or what to do."""
        return self.sentences[1]

    @property
    def mark(self) -> str:
        """The miss as the drawing writes it, such as "1.68 short"; "" where nothing says."""
        miss = self.miss_mm
        if miss is None:
            return ""
        if abs(miss) < ZERO_MM:
            return local_number("0.00")
        if miss < 0:
            return say("{miss:.2f length} short", miss=-miss)
        return say("{miss:.2f length} long", miss=miss)


def landing(verdict: Verdict, joints_apart: int) -> tuple[str, str]:
    """Return what the drawing writes of a train within tolerance, and what keeps it from that, "" for nothing.

    Args:
        verdict: the verdict on its spacing.
        joints_apart: how many of its joints do not mate.
    """
    if not joints_apart:
        return say("in focus, {mark}", mark=verdict.mark), ""
    why = say_n("{count} joint does not mate", "{count} joints do not mate", joints_apart, count=joints_apart)
    return say("would be in focus, {mark}", mark=verdict.mark), why


def verdict_on(spacing: Spacing) -> Verdict:
    """Judge a train's spacing at the worst end of all that is unknown."""
    if spacing.layout.camera is None:
        return Verdict(State.UNJUDGED, NoCamera())
    error, need = spacing.error_mm, spacing.requirement
    if spacing.layout.reversed:
        return Verdict(State.UNJUDGED, Reversed())
    optic = spacing.layout.optic
    if isinstance(optic, CameraLens) and not optic.focuses_itself:
        ground = NoOwnFocus(optic.name, optic.flange_focal_distance_mm.value, spacing.actual_mm)
        return Verdict(State.UNJUDGED, ground)
    if need is None or error is None:
        return Verdict(State.UNJUDGED, NoRequirement(optic.name))
    low, high = spacing.error_range_mm or (error, error)
    if need.is_lens:
        return _lens_verdict(spacing, low, high)
    tolerance = spacing.tolerance_mm
    if tolerance is None:
        return Verdict(State.UNJUDGED, NoTolerance(need), error)
    assumed = need.tolerance is not None and need.tolerance.origin is Origin.ASSUMED
    against = Tolerance(need.owner, tolerance, assumed, depth_of_focus_mm(spacing.f_number), low, high)
    if spacing.within_tolerance:
        return Verdict(State.GOOD, against, error)
    worst = low if abs(low) > abs(high) else high
    if worst < 0:
        return Verdict(State.SHORT, against, worst)
    over = spacing.shortest_mm - (spacing.required_mm or 0.0)
    state = State.NO_ROOM if over > tolerance else State.LONG
    return Verdict(state, replace(against, over_mm=over), worst)


def _lens_verdict(spacing: Spacing, low: float, high: float) -> Verdict:
    allowed, focusing = spacing.allowed_mm, spacing.focusing
    assert allowed is not None
    assert focusing is not None
    short, tubes = -low, spacing.extension.tubes_mm
    if spacing.within_tolerance:
        if tubes and short < ZERO_MM:
            return Verdict(State.GOOD, WithTubes(tubes), 0.0)
        if short < ZERO_MM:
            return Verdict(State.GOOD, AtFlange(), 0.0)
        return Verdict(State.GOOD, ByFocusing(focusing, focusing.left(short)), low)
    if high > allowed[1] + 1e-9:
        over = spacing.shortest_mm - (spacing.required_mm or 0.0)
        state = State.NO_ROOM if over > 0 else State.LONG
        return Verdict(state, InfinityLost(spacing.farthest_focus_mm), high)
    if short <= focusing.largest_mm + 1e-9:
        # How far its ring travels was not entered: it may or may not reach.
        return Verdict(State.UNJUDGED, FocusingUnknown(focusing), low)
    return Verdict(State.SHORT, BeyondFocusing(focusing), low)
