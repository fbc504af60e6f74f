"""Which of several trains is better in a figure: only where what they are for says so, and the difference matters.

What matters are facts of the trade: a tenth of a stop in a corner is hardly seen, a spacing within its tolerance is as
good as any other within it (common practice, no source).
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.figure import Figure
from farrail.readouts.read import Readout

# Both ends of an interval; None for a number that is certain.
Ends = tuple[float, float] | None
Cost = Callable[[float], float]
SAME = 1e-6
# Two close-ups fill the frame with about the same where they differ by less than this share.
SAME_SIZE = 0.05


class Purpose(StrEnum):
    """What a train is for."""

    NIGHT = "night"
    LANDSCAPE = "landscape"
    CLOSE_UP = "close_up"


class Better(StrEnum):
    """Which of two numbers is the better one."""

    LOWER = "lower"
    HIGHER = "higher"
    # As near as possible to what was asked for; the figure has its own cost.
    FITTING = "fitting"


@dataclass(frozen=True)
class Rule:
    """When a figure makes one train better than another.

    Attributes:
        better: which number is.
        matters: by how much at least; less is alike.
        share: whether that is a share of the better value.
        purposes: for which trains; all of those compared must be for one of them.
        in_focus: whether only trains that are all in focus are ranked by it.
    """

    better: Better
    matters: float
    share: bool = False
    purposes: frozenset[Purpose] = frozenset(Purpose)
    in_focus: bool = False


_NIGHT, _LANDSCAPE, _CLOSE_UP = ({purpose} for purpose in Purpose)
# In the order in which they decide; of all other figures that depends on what one wants.
RULES: dict[str, Rule] = {
    "not_mating": Rule(Better.LOWER, 0.5),
    "spacing.error_mm": Rule(Better.FITTING, 0.01),
    "closeup.magnification": Rule(Better.FITTING, 0.02, purposes=frozenset(_CLOSE_UP)),
    "front.first_clean_mm": Rule(Better.LOWER, 0.5, purposes=frozenset(_LANDSCAPE)),
    "light.corner_stops": Rule(Better.LOWER, 0.1),
    "light.image_circle_margin_mm": Rule(Better.FITTING, 0.1),
    "closeup.working_distance_mm": Rule(Better.HIGHER, 0.05, share=True, purposes=frozenset(_CLOSE_UP)),
    "light.train_shadow": Rule(Better.LOWER, 1.0, purposes=frozenset(_NIGHT)),
    "exposure.total_stops": Rule(Better.LOWER, 0.1, purposes=frozenset(_NIGHT | _CLOSE_UP)),
    "front.sky_uneven_stops": Rule(Better.LOWER, 0.1, purposes=frozenset(_LANDSCAPE)),
    "spacing.stack_worst_mm": Rule(Better.LOWER, 0.02, purposes=frozenset(_NIGHT), in_focus=True),
    "ahead_mm": Rule(Better.LOWER, 1.0, purposes=frozenset(_LANDSCAPE)),
    "to_pay": Rule(Better.LOWER, 0.5),
    "parts": Rule(Better.LOWER, 0.5, in_focus=True),
    "mass_g": Rule(Better.LOWER, 0.05, share=True, in_focus=True),
}


def purpose_of(readout: Readout) -> Purpose:
    """Return what a train is for, by its optic and what brings it closer."""
    if not isinstance(readout.layout.optic, CameraLens):
        return Purpose.NIGHT
    close = readout.close_up
    return Purpose.CLOSE_UP if close.active and close.equipped else Purpose.LANDSCAPE


def best_by_rule(
    kind: str, values: Sequence[float | None], readouts: Sequence[Readout], figures: Sequence[Figure | None]
) -> tuple[int, ...]:
    """Return the numbers of the trains that are better in a figure or fact; () where none is.

    Args:
        kind: of the figure, or the key of the fact.
        values: one a train; None where it has none.
        readouts: the trains.
        figures: the figures with their intervals; None for facts that are none.
    """
    rule = RULES.get(kind)
    if rule is None or not {purpose_of(one) for one in readouts} <= rule.purposes:
        return ()
    if rule.in_focus and not all(one.verdict.met for one in readouts):
        return ()
    if kind == "closeup.working_distance_mm" and not _same_size(readouts):
        return ()
    costs = [_cost_of(kind, rule.better, one) for one in readouts]
    if any(cost is None for cost in costs):
        return ()
    return best_of(values, [cost for cost in costs if cost is not None], figures, rule.matters, share=rule.share)


def _same_size(readouts: Sequence[Readout]) -> bool:
    """Whether close-ups fill the frame with about the same: only then is more room better."""
    sizes = [one.close_up.now.magnification for one in readouts]
    return all(size > 0.0 for size in sizes) and max(sizes) <= min(sizes) * (1.0 + SAME_SIZE)


def _cost_of(kind: str, better: Better, readout: Readout) -> Cost | None:
    """Return how a train's value is ranked, less is better; None where nothing says what is wanted."""
    if better is Better.LOWER:
        return lambda value: value
    if better is Better.HIGHER:
        return lambda value: -value
    if kind == "spacing.error_mm":
        allowed = readout.spacing.allowed_mm
        if allowed is None:
            return None
        low, high = allowed
        return lambda value: max(low - value, value - high, 0.0)
    if kind == "closeup.magnification":
        wide = readout.layout.train.conditions.subject_width_mm
        if wide is None or readout.layout.camera is None:
            return None
        wanted = readout.layout.camera.sensor_width_mm.value / wide
        return lambda value: abs(math.log(value / wanted)) if value > 0.0 else math.inf
    # A circle larger than the frame needs is as good as any other that is.
    return lambda value: max(-value, 0.0)


def best_of(
    values: Sequence[float | None], costs: Sequence[Cost], figures: Sequence[Figure | None] = (),
    matters: float = 0.0, *, share: bool = False,
) -> tuple[int, ...]:  # fmt: skip
    """Return the numbers of the best values; () where all are alike, or their intervals overlap.

    Args:
        values: one a column; None where it has none.
        costs: how each column's value is ranked, less is better.
        figures: those with the intervals of the values; () where all are certain.
        matters: by how much at least the best must be ahead.
        share: whether that is a share of the best value.
    """
    known = {n: value for n, value in enumerate(values) if value is not None and not math.isnan(value)}
    if len(known) < 2:
        return ()
    ranked = {n: costs[n](value) for n, value in known.items()}
    best = min(ranked.values())
    least = matters * abs(best) if share else matters
    winners = tuple(n for n, cost in ranked.items() if same(cost, best) or cost - best < least)
    rest = [n for n in known if n not in winners]
    span = {n: _costs(value, ends_of(figures[n]) if figures else None, costs[n]) for n, value in known.items()}
    sure = all(span[n][1] < span[other][0] for n in winners for other in rest)
    return winners if rest and sure else ()


def _costs(value: float, ends: Ends, cost: Cost) -> tuple[float, float]:
    """Return the least and greatest cost of a value over its interval; what fits best may be inside it."""
    low, high = ends or (value, value)
    found = [cost(one) for one in (low, value, high)]
    # A cost falls to one level range and rises after it, so that leaving out the worse third keeps its lowest.
    while math.isfinite(high - low) and high - low > SAME * max(abs(low), abs(high), 1.0):
        left, right = low + (high - low) / 3.0, high - (high - low) / 3.0
        here, there = cost(left), cost(right)
        found += [here, there]
        low, high = (low, right) if here <= there else (left, high)
    return min(found), max(found)


def ends_of(figure: Figure | None) -> Ends:
    """Return the interval of a figure; None where it is certain. What may never be reached has no upper end."""
    if figure is None:
        return None
    if figure.low is None or figure.high is None:
        return (figure.number, math.inf) if figure.or_never and isinstance(figure.value, float) else None
    return (figure.low, math.inf) if figure.or_never else (figure.low, figure.high)


def same(one: float | None, other: float | None) -> bool:
    """Whether two values are equal but for rounding; infinite is like nothing but itself."""
    if one is None or other is None:
        return one is other
    if math.isinf(one) or math.isinf(other):
        return one == other
    return abs(one - other) <= SAME * max(abs(one), abs(other), 1.0)
