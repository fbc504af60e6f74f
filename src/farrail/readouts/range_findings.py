"""What follows from ranges: whether a judgement depends on what is not known, and at which value it turns."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

from farrail.readouts.finding import Finding, Severity
from farrail.readouts.front.model import CLEAN_STOPS
from farrail.readouts.light.findings import LOOK_STOPS
from farrail.readouts.ranges import MAIN, Box, Spread, Subjects, flips_at, spreads_over
from farrail.readouts.read import Readout
from farrail.readouts.unknowns import Unknown
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.units import stops_lost

# A range narrower than this is not worth a word; common practice, no source.
WORTH_STOPS = 0.1


@dataclass(frozen=True)
class RangeReport:
    """What a train's unknowns make of its figures.

    Attributes:
        train: the train they are of.
        spreads: the range of each figure that rests on something unknown, by id.
        findings: what depends on it.
    """

    train: Train
    spreads: Mapping[str, Spread] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()


def range_report(
    train: Train, shelf: Shelf, subjects: Subjects = MAIN, stopped: Callable[[], bool] = lambda: False
) -> RangeReport:
    """Return the ranges of a train and what depends on them; arguments as for `ranges_of`."""
    box = Box(train, shelf, subjects)
    spreads = spreads_over(box, stopped)
    if not spreads or stopped():
        return RangeReport(train, spreads)
    return RangeReport(train, spreads, tuple(_findings(box, spreads)))


def _findings(box: Box, spreads: Mapping[str, Spread]) -> Iterator[Finding]:
    light = spreads.get("light.corner_ri")
    if light is not None:
        ends = stops_lost(max(light.high, 0.0)), stops_lost(max(light.low, 0.0))
        yield from _one(
            box, light, "light.depends", ends, LOOK_STOPS, "light.corner_stops",
            lambda readout: stops_lost(readout.light.corner_ri or 0.0) <= LOOK_STOPS,
        )  # fmt: skip
    front = spreads.get("front.corner_loss_stops")
    if front is not None:
        yield from _one(
            box, front, "front.depends", (front.low, front.high), CLEAN_STOPS, "front.corner_loss_stops",
            lambda readout: readout.front.corner_stops <= CLEAN_STOPS,
        )  # fmt: skip
    spacing = spreads.get("spacing.error_mm")
    if spacing is not None:
        yield from _spacing(box, spacing)


def _one(
    box: Box, spread: Spread, kind: str, stops: tuple[float, float], limit: float, figure: str,
    holds: Callable[[Readout], bool],
) -> Iterator[Finding]:  # fmt: skip
    low, high = stops
    turns = low <= limit < high
    if spread.spans_on is None or not (turns or high - low > WORTH_STOPS):
        return
    flips = flips_at(box, spread.spans_on, holds) if turns else None
    values = {"low_stops": low, "high_stops": high, "limit_stops": limit, "turns": turns, "flips_at": flips}
    severity = Severity.LOOK if turns else Severity.NOTE
    yield Finding(kind, severity, {**values, **_named(box, spread.spans_on)}, part=spread.spans_on.part, figure=figure)


def _spacing(box: Box, spread: Spread) -> Iterator[Finding]:
    readout = Readout(box.layout)
    within = [_within(readout, error) for error in (spread.low, readout.spacing.error_mm or 0.0, spread.high)]
    if spread.spans_on is None or None in within or len(set(within)) == 1:
        return
    flips = flips_at(box, spread.spans_on, lambda one: bool(one.spacing.within_tolerance))
    values = {"low_mm": spread.low, "high_mm": spread.high, "flips_at": flips}
    yield Finding(
        "spacing.depends", Severity.LOOK, {**values, **_named(box, spread.spans_on)}, part=spread.spans_on.part,
        figure="spacing.error_mm",
    )  # fmt: skip


def _within(readout: Readout, error_mm: float) -> bool | None:
    """Return whether an error would be borne; None where nothing says so."""
    allowed = readout.spacing.allowed_mm
    return None if allowed is None else allowed[0] - 1e-9 <= error_mm <= allowed[1] + 1e-9


def _named(box: Box, unknown: Unknown) -> dict[str, object]:
    part = box.shelf[unknown.part]
    return {"part": part.name, "kind": type(part), "path": unknown.path}
