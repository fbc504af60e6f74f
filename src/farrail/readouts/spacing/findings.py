"""Findings about spacing: the miss, figures that disagree, filters that leave the tolerance, what to measure first."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.parts.base import Adjustable
from farrail.parts.glass import Plate
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import Origin, Quantity, Span
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.spacing.model import Counted, Spacing
from farrail.readouts.spacing.verdict import State, verdict_on

# How far off an assumed value may be when it states no tolerance; common practice, no source.
ASSUMED_DOUBT = 0.10


def spacing_findings(spacing: Spacing) -> Iterator[Finding]:
    """Yield the findings about a train's spacing."""
    yield from _miss(spacing)
    yield from _telescope(spacing)
    yield from _disagreement(spacing)
    yield from _filters(spacing)
    yield from _deciding_assumption(spacing)
    yield from _window(spacing)
    yield from _settings(spacing)


def _miss(spacing: Spacing) -> Iterator[Finding]:
    verdict = verdict_on(spacing)
    part = spacing.requirement.part if spacing.requirement is not None else ""
    ids = {State.SHORT: "spacing.short", State.LONG: "spacing.long", State.NO_ROOM: "spacing.no_room"}
    if verdict.state in ids:
        yield Finding(
            ids[verdict.state], Severity.STOP, verdict.headline, verdict.detail, part, figure="spacing.error_mm"
        )
    elif verdict.state is State.UNJUDGED:
        severity = Severity.NOTE if spacing.layout.reversed else Severity.LOOK
        yield Finding("spacing.not_judged", severity, verdict.headline, verdict.detail, part)


def _telescope(spacing: Spacing) -> Iterator[Finding]:
    error, corrector = spacing.telescope_error_mm, spacing.layout.corrector
    if error is None or corrector is None or not isinstance(corrector.part, Corrector):
        return
    allowed = corrector.part.telescope_tolerance_mm
    if abs(error) > (allowed.value if allowed is not None else 0.0) + 1e-9:
        side = "near" if error < 0 else "far"
        limit = f"allowed ±{allowed.value:.2f} mm" if allowed is not None else "no tolerance is given"
        yield Finding(
            "spacing.telescope_to_corrector", Severity.LOOK,
            f"{corrector.part.name} sits {abs(error):.2f} mm too {side} on the telescope.",
            f"Change what lies between the telescope and the corrector; {limit}.",
            corrector.part.id, figure="spacing.telescope_error_mm",
        )  # fmt: skip


def _disagreement(spacing: Spacing) -> Iterator[Finding]:
    need = spacing.requirement
    band = need.distance.published_band if need is not None else None
    if need is not None and band is not None:
        yield Finding(
            "spacing.published_disagree", Severity.LOOK,
            f"Published {need.name} figures differ: {band[0]:.2f} to {band[1]:.2f} mm.",
            f"{need.distance.value:.2f} is in use; choose another in the Spacing station, or let the stars decide.",
            need.part, figure="spacing.required_mm",
        )  # fmt: skip


def _filters(spacing: Spacing) -> Iterator[Finding]:
    tolerance, need = spacing.tolerance_mm, spacing.requirement
    if tolerance is None or need is None or len(spacing.filters) < 2:
        return
    leaving = [f for f in spacing.filters if abs(f.error_mm) > tolerance + 1e-9 and not f.in_beam]
    if leaving and spacing.within_tolerance:
        worst = max(leaving, key=lambda f: abs(f.error_mm))
        names = ", ".join(f.label for f in leaving)
        yield Finding(
            "spacing.filter_leaves_tolerance", Severity.LOOK,
            f"With {names} the sensor leaves the tolerance ({worst.error_mm:+.2f} mm).".replace("-", "−"),
            f"The set's glass shifts differ; allowed ±{tolerance:.2f} mm. A spacing between them may serve all.",
            worst.part,
        )  # fmt: skip


@dataclass(frozen=True)
class _Doubt:
    """One assumed input and how far it may move the error, in mm."""

    part: str
    what: str
    moves_mm: float


def _deciding_assumption(spacing: Spacing) -> Iterator[Finding]:
    error, tolerance, need = spacing.error_mm, spacing.tolerance_mm, spacing.requirement
    if error is None or need is None:
        return
    limits = (0.0,) if need.is_lens else (-tolerance, tolerance) if tolerance is not None else ()
    if not limits:
        return
    to_limit = min(abs(error - limit) for limit in limits)
    deciding = [d for d in _doubts(spacing) if d.moves_mm > 0.0 and d.moves_mm >= to_limit]
    if deciding:
        first = max(deciding, key=lambda d: d.moves_mm)
        yield Finding(
            "spacing.assumed_decides", Severity.LOOK,
            f"{first.what} is assumed, and it decides: measure this one first.",
            f"It may move the sensor by {first.moves_mm:.2f} mm; the verdict flips at {to_limit:.2f} mm.",
            first.part, figure="spacing.error_mm",
        )  # fmt: skip


def _doubts(spacing: Spacing) -> Iterator[_Doubt]:
    for line in spacing.lines:
        if line.length.origin is Origin.ASSUMED:
            yield _Doubt(line.part, f"The length of {line.label}", _play(line.length))
    need = spacing.requirement
    if need is not None and need.distance.origin is Origin.ASSUMED:
        yield _Doubt(need.part, f"The {need.name} of {need.datum}", _play(need.distance))
    for item in spacing.glass_lines:
        if item.why is Counted.MAKER_SILENT:
            yield _Doubt(item.part, "That the camera's distance allows for its window", item.glass.shift_mm)
        elif item.counted and item.glass.origin is Origin.ASSUMED:
            if isinstance(item.glass, Plate) and item.glass.thickness_mm.origin is Origin.ASSUMED:
                yield _Doubt(item.part, f"The glass thickness of {item.label}", item.glass.shift_mm * ASSUMED_DOUBT)
            else:
                yield _Doubt(item.part, f"The glass of {item.label}", item.glass.shift_mm * ASSUMED_DOUBT)


def _play(quantity: Quantity) -> float:
    """Return how far an assumed quantity may lie from the value in use."""
    if isinstance(quantity.in_use, Span):
        return (quantity.high - quantity.low) / 2.0
    return quantity.tolerance or quantity.value * ASSUMED_DOUBT


def _window(spacing: Spacing) -> Iterator[Finding]:
    for item in spacing.glass_lines:
        if item.why is Counted.MAKER_SILENT:
            yield Finding(
                "spacing.window_silent", Severity.NOTE,
                f"The camera's window ({item.glass.shift_mm:.2f} mm of shift) is taken as allowed for.",
                "Its maker does not say whether the published flange-to-sensor distance includes it.",
                item.part, figure="spacing.glass_shift_mm",
            )  # fmt: skip


def _settings(spacing: Spacing) -> Iterator[Finding]:
    for placed in spacing.layout.rear:
        part, setting = placed.part, placed.laid.setting_mm
        if isinstance(part, Adjustable) and setting is not None and abs(setting - placed.length.value) > 1e-9:
            yield Finding(
                f"spacing.setting:{placed.index}", Severity.STOP,
                f"{part.name} cannot be set to {setting:.2f} mm.",
                f"It reaches from {part.shortest_mm.value:.2f} to {part.longest_mm.value:.2f} mm; "
                f"{placed.length.value:.2f} is used.",
                part.id,
            )  # fmt: skip
