"""Findings about spacing: the miss, figures that disagree, filters that leave the tolerance, what to measure first."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.parts.base import Adjustable
from farrail.parts.glass import Plate
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.spacing.grounds import NoOwnFocus, NoRequirement, State
from farrail.readouts.spacing.messages import (
    AssumedDecides,
    CorrectorPlace,
    Doubtful,
    EmptySlot,
    FiltersLeaveTolerance,
    NoRoom,
    PublishedDiffer,
    SettingOutOfRange,
    SpacingMissed,
    SpacingNotJudged,
    TooLong,
    TooShort,
    WindowNotStated,
)
from farrail.readouts.spacing.model import Counted, GlassLine, Line, LineKind, Requirement, Spacing
from farrail.readouts.spacing.verdict import Verdict
from farrail.train.layout import Layout

# How far off an assumed value may be when it states no tolerance; common practice, no source.
ASSUMED_DOUBT = 0.10
MISSES: dict[State, type[SpacingMissed]] = {State.SHORT: TooShort, State.LONG: TooLong, State.NO_ROOM: NoRoom}


def spacing_findings(spacing: Spacing, verdict: Verdict) -> Iterator[Finding]:
    """Yield the findings about a train's spacing."""
    yield from _miss(spacing, verdict)
    yield from _telescope(spacing)
    yield from _disagreement(spacing)
    yield from _filters(spacing)
    yield from _empty_slot(spacing)
    yield from _deciding_assumption(spacing)
    yield from _window(spacing)
    yield from _settings(spacing)


def _miss(spacing: Spacing, verdict: Verdict) -> Iterator[Finding]:
    part = spacing.requirement.part if spacing.requirement is not None else ""
    if verdict.state in MISSES:
        yield Finding(MISSES[verdict.state](verdict), Severity.STOP, part=part, figure="spacing.error_mm")
    elif verdict.state is State.UNJUDGED:
        expected = spacing.layout.reversed or isinstance(verdict.ground, NoOwnFocus)
        severity = Severity.NOTE if expected else Severity.LOOK
        lacking = isinstance(verdict.ground, NoRequirement)
        yield Finding(
            SpacingNotJudged(verdict), severity, part=spacing.layout.optic.id if lacking else part,
            value="back_focus_mm" if lacking else "",
        )  # fmt: skip


def _telescope(spacing: Spacing) -> Iterator[Finding]:
    error, corrector = spacing.telescope_error_mm, spacing.layout.corrector
    if error is None or corrector is None or not isinstance(corrector.part, Corrector):
        return
    allowed = corrector.part.telescope_tolerance_mm
    if abs(error) > (allowed.value if allowed is not None else 0.0) + 1e-9:
        tolerance = None if allowed is None else allowed.value
        yield Finding(
            CorrectorPlace(corrector=corrector.part.name, error_mm=error, tolerance_mm=tolerance), Severity.LOOK,
            corrector.place, corrector.part.id, figure="spacing.telescope_error_mm",
        )  # fmt: skip


def _disagreement(spacing: Spacing) -> Iterator[Finding]:
    need = spacing.requirement
    band = need.distance.published_band if need is not None else None
    if need is not None and band is not None:
        yield Finding(
            PublishedDiffer(requirement=need, low_mm=band[0], high_mm=band[1]),
            Severity.LOOK,
            part=need.part,
            figure="spacing.required_mm",
        )


def _filters(spacing: Spacing) -> Iterator[Finding]:
    tolerance, need = spacing.tolerance_mm, spacing.requirement
    if tolerance is None or need is None or len(spacing.filters) < 2:
        return
    leaving = [f for f in spacing.filters if abs(f.error_mm) > tolerance + 1e-9 and not f.in_beam]
    if leaving and spacing.within_tolerance:
        worst = max(leaving, key=lambda f: abs(f.error_mm))
        yield Finding(
            FiltersLeaveTolerance(
                filters=tuple(f.label for f in leaving),
                error_mm=worst.error_mm,
                tolerance_mm=tolerance,
                least_mm=max(-tolerance - f.error_mm for f in spacing.filters),
                most_mm=min(tolerance - f.error_mm for f in spacing.filters),
            ),
            Severity.LOOK,
            part=worst.part,
        )


@dataclass(frozen=True)
class _Doubt:
    """One assumed input, whose it is, and how far it may move the error, in mm."""

    part: str
    what: Doubtful
    of: Line | Requirement | GlassLine
    moves_mm: float

    @property
    def field(self) -> str:
        """The path of the value of its part."""
        if isinstance(self.of, Line):
            return self.of.path
        if isinstance(self.of, Requirement):
            return "back_focus_mm"
        return "window.allowed_for" if self.what is Doubtful.WINDOW else f"{self.of.path}.thickness_mm"


def _empty_slot(spacing: Spacing) -> Iterator[Finding]:
    """Yield a finding where a wheel or set has filters and the empty slot is in the beam."""
    for placed in spacing.layout.behind_datum:
        held = [f for f in placed.laid.filters if f is not None]
        if not isinstance(placed.part, FilterSeat) or not held or placed.laid.filter_in_beam is not None:
            continue
        shifts = [f.shift_mm for f in spacing.filters if f.part in held]
        yield Finding(
            EmptySlot(
                seat=placed.part.name, slot=placed.laid.in_beam + 1, count=len(held), shift_mm=max(shifts, default=0.0)
            ),
            Severity.NOTE,
            placed.place,
            placed.part.id,
            which=placed.part.id,
        )


def _deciding_assumption(spacing: Spacing) -> Iterator[Finding]:
    error, need = spacing.error_mm, spacing.requirement
    if error is None or need is None:
        return
    limits = spacing.allowed_mm
    if limits is None:
        return
    to_limit = min(abs(error - limit) for limit in limits)
    deciding = [d for d in _doubts(spacing) if d.moves_mm > 0.0 and d.moves_mm >= to_limit]
    if deciding:
        first = max(deciding, key=lambda d: d.moves_mm)
        yield Finding(
            AssumedDecides(what=first.what, of=first.of, moves_mm=first.moves_mm, flips_at_mm=to_limit), Severity.LOOK,
            part=first.part, figure="spacing.error_mm", value=first.field,
        )  # fmt: skip


def _doubts(spacing: Spacing) -> Iterator[_Doubt]:
    shared = shares_register(spacing.layout)
    for line in spacing.lines:
        if line.length.origin is Origin.ASSUMED and not (shared and line.kind is LineKind.CAMERA):
            yield _Doubt(line.part, Doubtful.LENGTH, line, _play(line.length))
    need = spacing.requirement
    if need is not None and need.distance.origin is Origin.ASSUMED and not shared:
        yield _Doubt(need.part, Doubtful.REQUIREMENT, need, _play(need.distance))
    for item in spacing.glass_lines:
        if item.why is Counted.MAKER_SILENT:
            yield _Doubt(item.part, Doubtful.WINDOW, item, item.glass.shift_mm)
        elif item.counted and item.glass.origin is Origin.ASSUMED:
            thick = isinstance(item.glass, Plate) and item.glass.thickness_mm.origin is Origin.ASSUMED
            what = Doubtful.GLASS_THICKNESS if thick else Doubtful.GLASS
            yield _Doubt(item.part, what, item, item.glass.shift_mm * ASSUMED_DOUBT)


def shares_register(layout: Layout) -> bool:
    """Whether lens and camera are counted from one and the same mount.

    Its flange focal distance is on both sides of the sum then: any, it moves the sensor and where the lens wants it
    alike, and no one needs to measure it.
    """
    optic, camera = layout.optic, layout.camera
    if not isinstance(optic, CameraLens) or camera is None:
        return False
    if optic.flange_focal_distance_mm.value != camera.flange_to_sensor_mm.value:
        return False
    if optic.rear.known and camera.front.known:
        return optic.rear.standard == camera.front.standard
    # Nothing was entered at one of them: tubes between keep a mount, an adapter changes it.
    return all(
        placed.front.standard == placed.rear.standard if placed.front.known else not isinstance(placed.part, Adapter)
        for placed in layout.behind_datum
    )


def _play(quantity: Quantity) -> float:
    """Return how far an assumed quantity may be from the value in use."""
    if isinstance(quantity.in_use, Span):
        return (quantity.high - quantity.low) / 2.0
    return quantity.tolerance or quantity.value * ASSUMED_DOUBT


def _window(spacing: Spacing) -> Iterator[Finding]:
    for item in spacing.glass_lines:
        if item.why is Counted.MAKER_SILENT:
            yield Finding(
                WindowNotStated(shift_mm=item.glass.shift_mm), Severity.NOTE, part=item.part,
                figure="spacing.glass_shift_mm", value="window.allowed_for",
            )  # fmt: skip


def _settings(spacing: Spacing) -> Iterator[Finding]:
    for placed in spacing.layout.rear:
        part, setting = placed.part, placed.laid.setting_mm
        if isinstance(part, Adjustable) and setting is not None and abs(setting - placed.length.value) > 1e-9:
            yield Finding(
                SettingOutOfRange(
                    part=part.name,
                    setting_mm=setting,
                    shortest_mm=part.shortest_mm.value,
                    longest_mm=part.longest_mm.value,
                    used_mm=placed.length.value,
                ),
                Severity.STOP,
                placed.place,
                part.id,
                which=f"{placed.index}",
            )
