"""What follows from ranges: whether a judgement depends on what is not known, and at which value it turns."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import inf

from farrail.cancel import Stopped, never
from farrail.readouts.figure import Figure
from farrail.readouts.finding import SEVERITY_ORDER, Finding, FindingText, Severity
from farrail.readouts.front.messages import DarkensCorners
from farrail.readouts.light.findings import LOOK_STOPS, STOP_STOPS
from farrail.readouts.light.messages import Clips, FilterTooSmall, GuideDarkened
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS
from farrail.readouts.range_messages import FrontDepends, LightDepends, LossDepends, SpacingDepends
from farrail.readouts.ranges import MAIN, Box, Spread, Subjects, flips_at, spreads_over, with_spread
from farrail.readouts.read import Readout
from farrail.readouts.unknown_field import LossRange, UnknownField
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
        shelf: parts by id.
    """

    train: Train | None
    spreads: Mapping[str, Spread] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    shelf: Shelf = field(default_factory=dict)

    def figures(self, figures: Mapping[str, Figure]) -> dict[str, Figure]:
        """Return figures of the train with their intervals."""
        return {key: with_spread(figure, self.spreads) for key, figure in figures.items()}

    @cached_property
    def ends(self) -> dict[str, tuple[float, float]]:
        """Both ends of each interval, by the id of its figure."""
        return {key: (spread.low, spread.high) for key, spread in self.spreads.items()}

    def spread_of(self, key: str) -> Spread | None:
        """Return the interval of a figure; None if no unknown affects it."""
        return self.spreads.get(key)

    @cached_property
    def corner_loss_stops(self) -> tuple[float, float] | None:
        """Both ends of the loss at the darkest corner; None where nothing unknown affects it."""
        light, front = self.spread_of("light.corner_ri"), self.spread_of("front.corner_loss_stops")
        if light is not None:
            return _lost_between(light)
        return None if front is None else (front.low, front.high)

    def judged(self, findings: Iterable[Finding]) -> tuple[Finding, ...]:
        """Return findings as they hold over the whole interval of what they are about, the gravest first.

        A finding that holds at one end only is marked as possible and is never a stop.
        """
        found = (_over_range(finding, self.spreads, self.shelf) for finding in findings)
        return tuple(sorted(found, key=lambda f: SEVERITY_ORDER[f.severity]))


NO_RANGES = RangeReport(None)

# Of findings about an amount of light lost: from how many stops on they stop a train.
STOPS_AT: Mapping[type[FindingText], float] = {
    Clips: STOP_STOPS,
    FilterTooSmall: STOP_STOPS,
    DarkensCorners: VISIBLE_STOPS,
    GuideDarkened: inf,
}


def _over_range(finding: Finding, spreads: Mapping[str, Spread], shelf: Shelf) -> Finding:
    """Return a finding with the interval of the light it is about, as severe as its better end."""
    text = finding.text
    if not isinstance(text, Clips | FilterTooSmall | DarkensCorners | GuideDarkened):
        return finding
    key = finding.figure.replace("light.needed.", "light.loss.").replace("_mm", "_stops")
    spread = spreads.get(key)
    if spread is None or spread.high - spread.low < WORTH_STOPS / 2.0:
        return finding
    severity = finding.severity
    if spread.low <= STOPS_AT[type(text)]:
        severity = max(severity, Severity.LOOK, key=lambda one: SEVERITY_ORDER[one])
    needed = spreads.get(finding.figure) if finding.figure.startswith("light.needed.") else None
    over = LossRange(
        spread.low, spread.high, None if needed is None else (needed.low, needed.high),
        None if spread.spans_on is None else _field_of(shelf, spread.spans_on),
    )  # fmt: skip
    return replace(finding, severity=severity, text=replace(text, over=over))


def range_report(train: Train, shelf: Shelf, subjects: Subjects = MAIN, stopped: Stopped = never) -> RangeReport:
    """Return the ranges of a train and what depends on them; arguments as for `ranges_of`."""
    box = Box(train, shelf, subjects)
    spreads = spreads_over(box, stopped)
    if not spreads or stopped():
        return RangeReport(train, spreads, shelf=shelf)
    return RangeReport(train, spreads, tuple(_findings(box, spreads)), shelf)


def _findings(box: Box, spreads: Mapping[str, Spread]) -> Iterator[Finding]:
    light = spreads.get("light.corner_ri")
    if light is not None:
        yield from _one(
            box, light, LightDepends, _lost_between(light), LOOK_STOPS, "light.corner_stops",
            lambda readout: stops_lost(readout.light.corner_ri or 0.0) <= LOOK_STOPS,
        )  # fmt: skip
    front = spreads.get("front.corner_loss_stops")
    if front is not None:
        yield from _one(
            box, front, FrontDepends, (front.low, front.high), CLEAN_STOPS, "front.corner_loss_stops",
            lambda readout: readout.front.corner_stops <= CLEAN_STOPS,
        )  # fmt: skip
    spacing = spreads.get("spacing.error_mm")
    if spacing is not None:
        yield from _spacing(box, spacing)


def _lost_between(light: Spread) -> tuple[float, float]:
    """Return the least and the most stops lost for an interval of relative illumination."""
    return stops_lost(max(light.high, 0.0)), stops_lost(max(light.low, 0.0))


def _one(
    box: Box, spread: Spread, text: type[LossDepends], stops: tuple[float, float], limit: float, figure: str,
    holds: Callable[[Readout], bool],
) -> Iterator[Finding]:  # fmt: skip
    low, high = stops
    turns = low <= limit < high
    if spread.spans_on is None or not (turns or high - low > WORTH_STOPS):
        return
    flips = flips_at(box, spread.spans_on, holds) if turns else None
    severity = Severity.LOOK if turns else Severity.NOTE
    said = text(low, high, turns, flips, _field_of(box.shelf, spread.spans_on))
    yield Finding(said, severity, part=spread.spans_on.part, figure=figure, value=spread.spans_on.field)


def _spacing(box: Box, spread: Spread) -> Iterator[Finding]:
    readout = Readout(box.layout)
    within = [_within(readout, error) for error in (spread.low, readout.spacing.error_mm or 0.0, spread.high)]
    if spread.spans_on is None or None in within or len(set(within)) == 1:
        return
    flips = flips_at(box, spread.spans_on, lambda one: bool(one.spacing.within_tolerance))
    said = SpacingDepends(spread.low, spread.high, flips, _field_of(box.shelf, spread.spans_on))
    yield Finding(
        said, Severity.LOOK, part=spread.spans_on.part, figure="spacing.error_mm", value=spread.spans_on.field
    )


def _within(readout: Readout, error_mm: float) -> bool | None:
    """Return whether an error would be allowed; None where nothing says so."""
    allowed = readout.spacing.allowed_mm
    return None if allowed is None else allowed[0] - 1e-9 <= error_mm <= allowed[1] + 1e-9


def _field_of(shelf: Shelf, unknown: Unknown) -> UnknownField:
    part = shelf[unknown.part]
    return UnknownField(part.name, type(part), unknown.path)
