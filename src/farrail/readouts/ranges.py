"""Ranges that hold: a readout over the box of everything its train does not know.

The unknowns are varied one at a time, to their corners, and over points spread evenly through the box (a sequence of
low discrepancy); then each figure's least and greatest are sought further from the best points found. Tolerances are
something else, random and known: they are stacked up apart and do not enter here.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import product
from math import isfinite, isinf

from farrail.errors import FarRailError
from farrail.readouts.figure import Figure
from farrail.readouts.read import Readout, read
from farrail.readouts.unknowns import Unknown, unknowns_of, with_values
from farrail.train.rows import Shelf
from farrail.train.train import Train

Point = tuple[float, ...]
Values = Mapping[str, float]
Evaluate = Callable[[Readout], Values]
# What leads the search and is no answer itself.
GUIDE = "_"
# Up to so many unknowns all corners of the box are tried; with more those that each figure's own slopes point to.
ALL_CORNERS = 4
# Points spread through the box: so many, and more for each unknown.
SPREAD, SPREAD_EACH = 4, 1
# From the best points found, how far each unknown is moved when an extreme is sought further, in shares of its range.
MOVES = (0.25, 0.08)
# What has no other extreme within its range but its ends: it is not sought further between them.
MOST_SOUGHT = 6
BISECTIONS = 24


@dataclass(frozen=True)
class Spread:
    """What a figure may be.

    Attributes:
        low: least.
        high: greatest.
        spans_on: the unknown that moves it most.
    """

    low: float
    high: float
    spans_on: Unknown | None

    @property
    def width(self) -> float:
        """How far apart its ends lie."""
        return 0.0 if self.low == self.high else self.high - self.low


def ends_of(figure: Figure, spread: Spread | None) -> tuple[float, float] | None:
    """Return both ends of what a figure may be: its own range, and what the train's unknowns make of it."""
    own = (figure.low, figure.high) if figure.low is not None and figure.high is not None else None
    both = [pair for pair in (own, None if spread is None else (spread.low, spread.high)) if pair is not None]
    return (min(low for low, _ in both), max(high for _, high in both)) if both else None


def every_figure(readout: Readout) -> dict[str, float]:
    """Return every figure that is a number."""
    found = {key: figure.number for key, figure in readout.figures.items() if isinstance(figure.value, float)}
    return found | {key: value for key, value in main_figures(readout).items() if key.startswith(GUIDE)}


def main_figures(readout: Readout) -> dict[str, float]:
    """Return the figures that decide, without the work of all others."""
    found: dict[str, float] = {}
    error, light = readout.spacing.error_mm, readout.light.corner_ri
    if error is not None:
        found["spacing.error_mm"] = error
    if light is not None:
        found["light.corner_ri"] = light
        # Where nothing is cut yet the light itself says nothing of which way it goes.
        found[f"{GUIDE}light.margin_mm"] = min((i.has_mm - i.needed_mm for i in readout.light.imaged), default=0.0)
    if readout.front.judged:
        found["front.corner_loss_stops"] = readout.front.corner_stops
    if readout.close_up.active and readout.close_up.now.focused:
        found["closeup.magnification"] = readout.close_up.now.magnification
        found["closeup.working_distance_mm"] = readout.close_up.now.distance_mm
    if readout.exposure.shares:
        found["exposure.total_stops"] = readout.exposure.total_stops
    return found


@dataclass
class Box:
    """A train with what is unknown of it, and everything evaluated so far."""

    train: Train
    shelf: Shelf
    evaluate: Evaluate = main_figures
    known: dict[Point, Values] = field(default_factory=dict)

    @cached_property
    def unknowns(self) -> tuple[Unknown, ...]:
        """What is unknown."""
        return unknowns_of(read(self.train, self.shelf).layout)

    def readout_at(self, point: Point) -> Readout:
        """Return the readout at a point of the box, each unknown at a share of its range."""
        values = {unknown: unknown.at(share) for unknown, share in zip(self.unknowns, point, strict=True)}
        return read(self.train, with_values(self.shelf, values))

    def at(self, point: Point) -> Values:
        """Return the figures at a point; none where the train cannot be judged there."""
        if point not in self.known:
            try:
                self.known[point] = self.evaluate(self.readout_at(point))
            except FarRailError:
                self.known[point] = {}
        return self.known[point]

    @property
    def middle(self) -> Point:
        """The middle of the box."""
        return (0.5,) * len(self.unknowns)


def ranges_of(
    train: Train, shelf: Shelf, evaluate: Evaluate = main_figures, stopped: Callable[[], bool] = lambda: False
) -> dict[str, Spread]:
    """Return the range of each figure that rests on something unknown; {} where nothing is unknown.

    Args:
        train: the train.
        shelf: parts by id.
        evaluate: what is wanted of a readout.
        stopped: asked now and then whether the answer is still wanted; {} then.
    """
    box = Box(train, shelf, evaluate)
    count = len(box.unknowns)
    if not count:
        return {}
    ends = [(_moved(box.middle, n, 0.0), _moved(box.middle, n, 1.0)) for n in range(count)]
    moved = [tuple(box.at(point) for point in pair) for pair in ends]
    if stopped():
        return {}
    figures = _figures(box)
    for point in (*_corners(figures, moved, count), *_spread(count, SPREAD + SPREAD_EACH * count)):
        box.at(point)
        if stopped():
            return {}
    for key in figures[:MOST_SOUGHT]:
        for largest in (False, True):
            _seek(box, key, largest)
    told = [key for key in _figures(box) if not key.startswith(GUIDE)]
    return {key: spread for key in told if (spread := _spread_of(box, key, moved)) is not None}


def flips_at(box: Box, unknown: Unknown, holds: Callable[[Readout], bool]) -> float | None:
    """Return at which value of an unknown a judgement turns, the others in the middle; None where it does not.

    Args:
        box: the train.
        unknown: which is moved from its lower to its upper end.
        holds: the judgement.
    """
    number = box.unknowns.index(unknown)

    def at(share: float) -> bool:
        return holds(box.readout_at(_moved(box.middle, number, share)))

    low, high = 0.0, 1.0
    first = at(low)
    if at(high) == first:
        return None
    for _ in range(BISECTIONS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if at(middle) == first else (low, middle)
    return unknown.at((low + high) / 2.0)


def _figures(box: Box) -> list[str]:
    """Return the figures found anywhere, in reading order."""
    return list(dict.fromkeys(key for values in box.known.values() for key in values))


def _moved(point: Point, number: int, share: float) -> Point:
    return (*point[:number], min(max(share, 0.0), 1.0), *point[number + 1 :])


def _corners(figures: Iterable[str], moved: list[tuple[Values, ...]], count: int) -> list[Point]:
    """Return the corners to try: all of few, else those where each figure's slopes say its ends lie."""
    if count <= ALL_CORNERS:
        return list(product((0.0, 1.0), repeat=count))
    wanted: dict[Point, None] = {}
    for key in figures:
        up = tuple(float(pair[1].get(key, 0.0) > pair[0].get(key, 0.0)) for pair in moved)
        wanted[up] = None
        wanted[tuple(1.0 - share for share in up)] = None
    return list(wanted)


def _spread(count: int, points: int) -> list[Point]:
    """Return points spread evenly through the box: multiples of the powers of a generalised golden ratio, wrapped.

    Source: additive recurrences of low discrepancy (Roberts's R sequence); cited from memory.
    """
    root = 2.0
    for _ in range(60):
        root = (1.0 + root) ** (1.0 / (count + 1))
    steps = [(1.0 / root) ** (n + 1) for n in range(count)]
    return [tuple((0.5 + step * (number + 1)) % 1.0 for step in steps) for number in range(points)]


def _seek(box: Box, key: str, largest: bool) -> None:
    """Move from the best point found toward a greater extreme, each unknown a little, then less.

    Where that is a corner of the box the figure rises toward it from all that was tried: there it ends.
    """
    sign = 1.0 if largest else -1.0

    def worth(point: Point) -> float:
        value = box.at(point).get(key)
        return -float("inf") if value is None or value != value else sign * value

    best = max(box.known, key=worth)
    if all(share in (0.0, 1.0) for share in best) or worth(best) <= worth(box.middle):
        return
    for move in MOVES:
        for number in range(len(best)):
            for step in (move, -move):
                tried = _moved(best, number, best[number] + step)
                if tried != best and worth(tried) > worth(best):
                    best = tried


def _spread_of(box: Box, key: str, moved: list[tuple[Values, ...]]) -> Spread | None:
    found = [values[key] for values in box.known.values() if key in values and values[key] == values[key]]
    if not found:
        return None
    low, high = min(found), max(found)
    if low == high or (isfinite(low) and isfinite(high) and high - low <= 1e-9 * max(abs(low), abs(high), 1e-3)):
        return None
    by = [_distance(pair[0].get(key), pair[1].get(key)) for pair in moved]
    most = max(range(len(by)), key=by.__getitem__)
    return Spread(low, high, box.unknowns[most] if by[most] > 0.0 else None)


def _distance(one: float | None, other: float | None) -> float:
    """Return how far apart two values are; an infinity on one side is farther than any number."""
    if one is None or other is None or one == other:
        return 0.0
    return float("inf") if isinf(one) or isinf(other) else abs(one - other)
