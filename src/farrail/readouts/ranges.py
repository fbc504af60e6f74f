"""Ranges that hold: a readout over the box of everything its train does not know.

Each unknown is first moved to its two ends alone: this shows which subjects depend on which unknowns. Each subject is
then evaluated over the box of its own unknowns only, at corners and at points spread evenly (a sequence of low
discrepancy), and each figure's least and greatest are followed from the best point found, one unknown at a time.
Tolerances are something else, random and known: they are stacked up apart and do not enter here.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import product
from math import inf, isfinite, isinf, nan

from farrail.cancel import Stopped, never
from farrail.errors import FarRailError
from farrail.parts.base import Optic
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.figure import Figure
from farrail.readouts.read import Readout
from farrail.readouts.unknowns import Unknown, unknowns_of, with_values
from farrail.train.layout import Layout, build_layout
from farrail.train.rows import Shelf
from farrail.train.train import Side, Train

Point = tuple[float, ...]
Values = Mapping[str, float]
# What is evaluated, by subject: the figures of a subject rest on the same unknowns.
Subjects = Mapping[str, Callable[[Readout], Values]]
# What leads the search and is no answer itself.
GUIDE = "_"
OWN_MARGIN = f"{GUIDE}margin_of_"
# Figures that say "never" where they are None.
NEVER = ("front.first_clean_mm", "front.visible_mm")
# Up to so many unknowns all corners of the box are tried; with more those that each figure's own slopes point to.
ALL_CORNERS = 4
# Points spread through the box: so many, and more for each unknown.
SPREAD, SPREAD_EACH = 4, 1
# From the best points found, how far an unknown inside its range is moved when an extreme is followed, in shares of it.
MOVES = (0.25, 0.08, 0.025, 0.006)
# The search for extremes of one subject ends after this many evaluations, plus this many for each unknown.
FOLLOWED, FOLLOWED_EACH = 60, 25
BISECTIONS, HALVINGS = 24, 10


@dataclass(frozen=True)
class Spread:
    """What a figure may be.

    Attributes:
        low: least.
        high: greatest finite value.
        spans_on: the unknown that moves it most.
        or_never: whether there are values of the unknowns at which it is never reached.
    """

    low: float
    high: float
    spans_on: Unknown | None
    or_never: bool = False

    @property
    def width(self) -> float:
        """How far apart its ends are."""
        if self.or_never:
            return inf
        return 0.0 if self.low == self.high else self.high - self.low


def both_ends(own: tuple[float, float] | None, spread: Spread | None) -> tuple[float, float] | None:
    """Return the whole interval of a figure: its own ends, and those that the train's unknowns give it."""
    both = [pair for pair in (own, None if spread is None else (spread.low, spread.high)) if pair is not None]
    return (min(low for low, _ in both), max(high for _, high in both)) if both else None


def with_spread(figure: Figure, spreads: Mapping[str, Spread]) -> Figure:
    """Return a figure with what its train's unknowns make of it.

    Args:
        figure: as read.
        spreads: intervals by id.
    """
    if isinstance(figure.value, tuple):
        sides = [spreads.get(element(figure.id, n)) for n in range(len(figure.value))]
        if not any(sides):
            return figure
        ends = [
            (float(one), float(one)) if side is None else (side.low, side.high)
            for one, side in zip(figure.value, sides, strict=True)
        ]
        return replace(figure, spans=tuple(ends))
    spread = spreads.get(figure.id)
    own = (figure.low, figure.high) if figure.low is not None and figure.high is not None else None
    both = both_ends(own, spread)
    if both is None:
        return figure
    never = figure.or_never or (spread is not None and spread.or_never)
    return replace(figure, low=both[0], high=both[1], or_never=never)


def element(key: str, number: int) -> str:
    """Return the id under which one of several numbers of a figure has its range."""
    return f"{key}[{number}]"


def _numbers(figures: Mapping[str, Figure]) -> dict[str, float]:
    """Return the numbers of figures: of sides of a frame each, of what is never reached infinity."""
    found: dict[str, float] = {}
    for key, figure in figures.items():
        value = figure.value
        if isinstance(value, float | int):
            found[key] = float(value)
        elif isinstance(value, tuple):
            found |= {element(key, n): float(one) for n, one in enumerate(value)}
        elif value is None and figure.kind in NEVER:
            found[key] = inf
    return found


def _guide(readout: Readout, side: Side | None = None) -> dict[str, float]:
    """Return the least margin of all apertures, and each one's own.

    Without vignetting the illumination is flat: the least margin has a slope to follow. The others show which unknowns
    can matter at all: one that moves an ample aperture may decide once another unknown has narrowed it.
    """
    margins = [i.has_mm - i.needed_mm for i in readout.light.imaged if side is None or i.placed.side is side]
    own = {f"{OWN_MARGIN}{number}_mm": margin for number, margin in enumerate(margins)}
    return {f"{GUIDE}margin_mm": min(margins, default=0.0), **own}


def _main_spacing(readout: Readout) -> dict[str, float]:
    error = readout.spacing.error_mm
    return {} if error is None else {"spacing.error_mm": error}


def _main_light(readout: Readout) -> dict[str, float]:
    light = readout.light.corner_ri
    return {} if light is None else {"light.corner_ri": light} | _guide(readout)


def _main_front(readout: Readout) -> dict[str, float]:
    if not readout.front.judged:
        return {}
    return {"front.corner_loss_stops": readout.front.corner_stops} | _guide(readout, Side.FRONT)


def _main_close_up(readout: Readout) -> dict[str, float]:
    close = readout.close_up
    if not close.active or not close.now.focused:
        return {}
    return {
        "closeup.magnification": close.now.magnification,
        "closeup.working_distance_mm": close.now.distance_mm,
        "closeup.effective_f_number": close.effective_f_number,
    }


def _main_exposure(readout: Readout) -> dict[str, float]:
    return {"exposure.total_stops": readout.exposure.total_stops} if readout.exposure.shares else {}


# The figures that decide, without the work of all others; and every figure that is a number.
MAIN: Subjects = {
    "spacing": _main_spacing,
    "light": _main_light,
    "front": _main_front,
    "close_up": _main_close_up,
    "exposure": _main_exposure,
}
EVERY: Subjects = {
    "spacing": lambda readout: _numbers(readout.spacing_figures),
    "light": lambda readout: _numbers(readout.light_figures) | _guide(readout),
    "front": lambda readout: (
        _numbers(readout.front_figures) | (_guide(readout, Side.FRONT) if readout.front.judged else {})
    ),
    "close_up": lambda readout: _numbers(readout.close_up_figures),
    "exposure": lambda readout: _numbers(readout.exposure_figures),
    "field": lambda readout: _numbers(readout.field_figures),
}


def values_of(readout: Readout, subjects: Subjects = MAIN) -> dict[str, float]:
    """Return the figures of some subjects that are numbers."""
    found: dict[str, float] = {}
    for evaluate in subjects.values():
        found |= evaluate(readout)
    return found


@dataclass
class Box:
    """A train with what is unknown of it, and everything evaluated so far."""

    train: Train
    shelf: Shelf
    subjects: Subjects = field(default_factory=lambda: MAIN)
    known: dict[str, dict[Point, Values]] = field(default_factory=dict)
    _last: tuple[Point, Readout | None] | None = None

    @cached_property
    def layout(self) -> Layout:
        """The train at its typical values."""
        return build_layout(self.train, self.shelf)

    @cached_property
    def unknowns(self) -> tuple[Unknown, ...]:
        """What is unknown."""
        return unknowns_of(self.layout)

    def readout_at(self, point: Point) -> Readout:
        """Return the readout at a point of the box, each unknown at a share of its range.

        Raises:
            FarRailError: the train cannot be judged there.
        """
        values = {unknown: unknown.at(share) for unknown, share in zip(self.unknowns, point, strict=True)}
        shelf = with_values(self.layout.parts, values)
        optic = self.layout.optic
        moved = {u.part for u, share in zip(self.unknowns, point, strict=True) if share != u.typical_share}
        if isinstance(optic, CameraLens) and moved <= {optic.id}:
            # No part moves: the trace of the layout still holds.
            lens = shelf[optic.id]
            assert isinstance(lens, Optic)
            rows = replace(self.layout, optic=lens, parts=shelf)
            rows.__dict__["trace"] = self.layout.trace
            return Readout(rows)
        return Readout(build_layout(self.train, shelf))

    def at(self, subject: str, point: Point) -> Values:
        """Return a subject's figures at a point; none where the train cannot be judged there."""
        known = self.known.setdefault(subject, {})
        if point not in known:
            if self._last is None or self._last[0] != point:
                try:
                    self._last = point, self.readout_at(point)
                except FarRailError:
                    self._last = point, None
            readout = self._last[1]
            try:
                known[point] = {} if readout is None else self.subjects[subject](readout)
            except FarRailError:
                known[point] = {}
        return known[point]

    @cached_property
    def typical(self) -> Point:
        """The point of typical values."""
        return tuple(unknown.typical_share for unknown in self.unknowns)


def ranges_of(train: Train, shelf: Shelf, subjects: Subjects = MAIN, stopped: Stopped = never) -> dict[str, Spread]:
    """Return the range of each figure that rests on something unknown; {} where nothing is unknown.

    Args:
        train: the train.
        shelf: parts by id.
        subjects: the figures to work out.
        stopped: returns True once the work is cancelled; the result is then {}.
    """
    return spreads_over(Box(train, shelf, subjects), stopped)


def spreads_over(box: Box, stopped: Stopped = never) -> dict[str, Spread]:
    """Return the range of each figure over a box; arguments as for `ranges_of`."""
    count = len(box.unknowns)
    if not count:
        return {}
    ends = [(_moved(box.typical, n, 0.0), _moved(box.typical, n, 1.0)) for n in range(count)]
    for point in (box.typical, *(point for pair in ends for point in pair)):
        for subject in box.subjects:
            box.at(subject, point)
        if stopped():
            return {}
    found: dict[str, Spread] = {}
    for subject in box.subjects:
        search = _Search(box, subject, ends, stopped)
        if not search.run():
            return {}
        found |= search.spreads()
    return found


@dataclass
class _Search:
    """The search for the extremes of one subject's figures."""

    box: Box
    subject: str
    ends: list[tuple[Point, Point]]
    stopped: Stopped

    @cached_property
    def moved(self) -> list[tuple[Values, Values]]:
        """The figures with each unknown alone at either end."""
        return [(self._at(low), self._at(high)) for low, high in self.ends]

    @cached_property
    def moving(self) -> list[int]:
        """The numbers of the unknowns that move any of the figures."""
        here = self._at(self.box.typical)
        if not any(value == value for value in here.values()):
            # Without figures at the typical values every unknown may matter.
            return list(range(len(self.moved)))
        return [n for n, pair in enumerate(self.moved) if any(_differ(here, there) for there in pair)]

    def run(self) -> bool:
        """Search; returns False if the work is cancelled."""
        if not self.moving:
            return True
        for point in (*self._corners(), *self._spread()):
            self._at(point)
            if self.stopped():
                return False
        most = len(self._known) + FOLLOWED + FOLLOWED_EACH * len(self.moving)
        for key in self._figures:
            if key.startswith(OWN_MARGIN):
                continue
            for largest in (False, True):
                if len(self._known) < most:
                    self._follow(key, largest)
            if self.stopped():
                return False
        return True

    def spreads(self) -> dict[str, Spread]:
        """Return what was found of each figure."""
        told = [key for key in self._figures if not key.startswith(GUIDE)]
        return {key: spread for key in told if (spread := self._spread_of(key)) is not None}

    def _at(self, point: Point) -> Values:
        return self.box.at(self.subject, point)

    @property
    def _known(self) -> dict[Point, Values]:
        return self.box.known[self.subject]

    @property
    def _figures(self) -> list[str]:
        """The figures found anywhere, in reading order."""
        return list(dict.fromkeys(key for values in self._known.values() for key in values))

    def _with(self, shares: Iterable[float]) -> Point:
        """Return the typical point with the unknowns that matter at some shares."""
        point = list(self.box.typical)
        for number, share in zip(self.moving, shares, strict=True):
            point[number] = share
        return tuple(point)

    def _corners(self) -> list[Point]:
        """Return the corners to try: all, or with many unknowns those that each figure's slopes point to."""
        if len(self.moving) <= ALL_CORNERS:
            return [self._with(shares) for shares in product((0.0, 1.0), repeat=len(self.moving))]
        wanted: dict[Point, None] = {}
        for key in self._figures:
            pairs = [self.moved[number] for number in self.moving]
            up = tuple(float(high.get(key, 0.0) > low.get(key, 0.0)) for low, high in pairs)
            wanted[self._with(up)] = None
            wanted[self._with(1.0 - share for share in up)] = None
        return list(wanted)

    def _spread(self) -> list[Point]:
        """Return points spread evenly through the box: multiples of the powers of a generalised golden ratio, wrapped.

        Source: additive recurrences of low discrepancy (Roberts's R sequence); cited from memory.
        """
        count, root = len(self.moving), 2.0
        for _ in range(60):
            root = (1.0 + root) ** (1.0 / (count + 1))
        steps = [(1.0 / root) ** (n + 1) for n in range(count)]
        points = range(1, SPREAD + SPREAD_EACH * count + 1)
        return [self._with((0.5 + step * number) % 1.0 for step in steps) for number in points]

    def _follow(self, key: str, largest: bool) -> None:
        """Move from the best point found toward a greater extreme, one unknown at a time, until none helps."""
        sign = 1.0 if largest else -1.0

        def worth(point: Point) -> float:
            value = self._at(point).get(key)
            return -inf if value is None or value != value else sign * value

        best = max(self._known, key=worth)
        if worth(best) == inf or worth(best) <= worth(self.box.typical):
            return
        improved = True
        while improved:
            improved = False
            for number in self.moving:
                for share in _nearby(best[number]):
                    tried = _moved(best, number, share)
                    if tried != best and not isfinite(worth(tried)) and worth(tried) < 0.0:
                        # No figure there (the subject is inside the glass): the extreme is where that begins.
                        tried = self._valid_toward(best, number, share, key)
                    if tried != best and worth(tried) > worth(best):
                        best, improved = tried, True

    def _valid_toward(self, best: Point, number: int, share: float, key: str) -> Point:
        """Return the last point on the way from one where a figure is known to one where it is not."""
        known, beyond = best[number], share
        for _ in range(HALVINGS):
            middle = (known + beyond) / 2.0
            value = self._at(_moved(best, number, middle)).get(key)
            known, beyond = (known, middle) if value is None or value != value else (middle, beyond)
        return _moved(best, number, known)

    def _extremes(self, key: str) -> tuple[Point, Point]:
        """Return the points where a figure is least and greatest."""
        known = [point for point, values in self._known.items() if values.get(key, nan) == values.get(key, nan)]
        return min(known, key=lambda point: self._known[point][key]), max(known, key=lambda p: self._known[p][key])

    def _moves(self, key: str, point: Point, number: int) -> float:
        """Return how far a figure moves from a point when one unknown goes back to its typical value."""
        there = self._at(_moved(point, number, self.box.typical[number]))
        return _distance(self._known[point].get(key), there.get(key))

    def _spread_of(self, key: str) -> Spread | None:
        found = [values[key] for values in self._known.values() if key in values and values[key] == values[key]]
        if not found:
            return None
        low, high = min(found), max(found)
        if low == high or (isfinite(low) and isfinite(high) and high - low <= 1e-9 * max(abs(low), abs(high), 1e-3)):
            return None
        finite = [value for value in found if isfinite(value)]
        never = key in NEVER and isinf(high)
        if never and finite:
            high = max(finite)
        by = [_distance(low_end.get(key), high_end.get(key)) for low_end, high_end in self.moved]
        if not any(distance > 0.0 for distance in by):
            # No unknown moves it alone from the typical values: the one that moves it most from either extreme.
            by = [max(self._moves(key, point, number) for point in self._extremes(key)) for number in range(len(by))]
        most = max(range(len(by)), key=by.__getitem__)
        return Spread(low, high, self.box.unknowns[most] if by[most] > 0.0 else None, never)


def _nearby(share: float) -> tuple[float, ...]:
    """Return the shares to try: from an end the other end and a step inside; from inside, both ends and small steps."""
    if share in (0.0, 1.0):
        return (1.0 - share, abs(share - MOVES[0]))
    return (0.0, 1.0, *(min(max(share + step * move, 0.0), 1.0) for move in MOVES for step in (1.0, -1.0)))


def _differ(here: Values, there: Values) -> bool:
    return here.keys() != there.keys() or any(_distance(here[key], there[key]) > 0.0 for key in here)


def flips_at(box: Box, unknown: Unknown, holds: Callable[[Readout], bool]) -> float | None:
    """Return at which value of an unknown a judgement turns, the others typical; None where it does not.

    Args:
        box: the train.
        unknown: which is moved from its lower to its upper end.
        holds: the judgement.
    """
    number = box.unknowns.index(unknown)

    def at(share: float) -> bool:
        return holds(box.readout_at(_moved(box.typical, number, share)))

    low, high = 0.0, 1.0
    first = at(low)
    if at(high) == first:
        return None
    for _ in range(BISECTIONS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if at(middle) == first else (low, middle)
    return unknown.at((low + high) / 2.0)


def _moved(point: Point, number: int, share: float) -> Point:
    return (*point[:number], min(max(share, 0.0), 1.0), *point[number + 1 :])


def _distance(one: float | None, other: float | None) -> float:
    """Return how far apart two values are; an infinity on one side is farther than any number."""
    if one is None or other is None or one == other:
        return 0.0
    return float("inf") if isinf(one) or isinf(other) else abs(one - other)
