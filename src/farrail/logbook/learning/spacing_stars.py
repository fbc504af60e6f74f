"""The true back focus of a corrector from corner stars at several spacings, and the next shim to try.

Stars look round while the spacing is within its tolerance of the true back focus, and are drawn out one way beyond it
and the other way short of it. Which way is which is known by the corrector, or by one's own stars: only one of the two
rules fits two different shapes. What is left is a range for the true back focus, each place in it weighted by how well
it explains every evening (a posterior on a grid, flat before).
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from farrail.logbook.kinds.stars import CornerStars, StarShape, shape_of
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused, Settles, Why
from farrail.logbook.state import alike, as_laid
from farrail.optics.clipping import Array
from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.kinds.telescopes import Corrector, ShortStars
from farrail.parts.kinds.tubes import Shim, Spacer
from farrail.parts.registry import Part
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Train

# How far beyond the spacings tried the true one is sought, and how finely.
REACH_MM, GRID_MM = 3.0, 0.01
# How much better one rule must explain the stars than the other to be believed.
BELIEVED = 20.0
LEAST_OFF_MM = 0.02


@dataclass(frozen=True)
class Trial:
    """One spacing and how the stars looked: what the corrector's back focus would be if they had been round."""

    seen: CornerStars
    back_focus_mm: float


@dataclass(frozen=True)
class Ladder:
    """What to try next.

    Attributes:
        corrector: whose spacing it is.
        rule: how stars look where it is too short; None while that is not known.
        learnt: whether the stars themselves show the rule.
        tried: spacings and shapes, shortest first.
        low_mm: lower end of the true back focus; None while it is open.
        high_mm: upper end.
        add_mm: how much longer to make the train next, negative shorter; 0 where it is done or no one can say.
        done: the range is narrower than twice the tolerance or the shelf's smallest step.
        step_mm: the shelf's smallest spacer or shim; None without one.
        of_this_train: whether it is counted from a train as it is, and not from the spacing tried last.
    """

    corrector: PartId
    rule: ShortStars | None
    learnt: bool
    tried: tuple[Trial, ...]
    low_mm: float | None
    high_mm: float | None
    add_mm: float
    done: bool
    step_mm: float | None
    of_this_train: bool = False


@dataclass(frozen=True)
class _Belief:
    """The posterior of the true back focus."""

    grid: Array
    weight: Array
    rule: ShortStars | None
    learnt: bool
    contradictory: bool

    def quantile(self, share: float) -> float:
        total = np.cumsum(self.weight)
        return float(np.interp(share * total[-1], total, self.grid))

    @property
    def open_below(self) -> bool:
        """Whether it may be below all that was looked at."""
        return bool(self.weight[:10].max() > 0.2 * self.weight.max())

    @property
    def open_above(self) -> bool:
        """Whether it may be above all that was looked at."""
        return bool(self.weight[-10:].max() > 0.2 * self.weight.max())


def tried_with(evidence: Evidence, corrector: PartId) -> list[Trial]:
    """Return the spacings tried with a corrector; stars of single corners say of tilt and are left out."""
    found = []
    for seen in evidence.log:
        if not isinstance(seen, CornerStars) or seen.one_sided or seen.state not in evidence.states:
            continue
        readout = evidence.readout_of(seen)
        need, error = readout.spacing.requirement, readout.spacing.error_mm
        if need is None or error is None or need.part != corrector or need.is_lens:
            continue
        found.append(Trial(seen, error + need.distance.value))
    return sorted(found, key=lambda tried: tried.back_focus_mm)


def learn_back_focus(evidence: Evidence, corrector: Corrector) -> Iterator[Learnt]:
    """Yield the true back focus of a corrector as its stars say it, or why they do not."""
    tried = tried_with(evidence, corrector.id)
    if not tried:
        return
    belief, seen_by = _belief(corrector, tried), tuple(one.seen.id for one in tried)
    place = (corrector.id, "back_focus_mm")
    if belief.contradictory:
        yield Refused(*place, Why.CONTRADICTORY, Settles.AGAIN, seen_by)
    elif belief.rule is None and any(one.seen.shape is not StarShape.ROUND for one in tried):
        yield Refused(*place, Why.WAY_UNKNOWN, Settles.OTHER_SPACING, seen_by)
    elif belief.open_below or belief.open_above:
        settles = Settles.LONGER_SPACING if belief.open_above else Settles.SHORTER_SPACING
        yield Refused(*place, Why.ONE_SIDED, settles, seen_by)
    else:
        total = belief.weight.sum()
        value = float((belief.grid * belief.weight).sum() / total)
        yield Found(*place, value, belief.quantile(0.025), belief.quantile(0.975), "mm", seen_by)


def culprit_among(corrector: Corrector, tried: Sequence[Trial]) -> str | None:
    """Return the one evening without which the others agree; None where they agree, or several might be wrong."""
    if len(tried) < 3 or not _belief(corrector, tried).contradictory:
        return None
    rest = [[one for one in tried if one is not left_out] for left_out in tried]
    sound = [n for n, some in enumerate(rest) if not _belief(corrector, some).contradictory]
    return tried[sound[0]].seen.id if len(sound) == 1 else None


def _belief(corrector: Corrector, tried: Sequence[Trial]) -> _Belief:
    places = np.array([one.back_focus_mm for one in tried])
    grid = np.arange(places.min() - REACH_MM, places.max() + REACH_MM, GRID_MM)
    tolerance = max(corrector.spacing_tolerance_mm.value, LEAST_OFF_MM)
    rules = (corrector.short_stars,) if corrector.short_stars is not None else tuple(ShortStars)
    weights = [_weight(grid, tried, tolerance, rule) for rule in rules]
    sums = [float(weight.sum()) for weight in weights]
    if max(sums) <= 0.0:
        return _Belief(grid, np.ones_like(grid), None, False, contradictory=True)
    if len(rules) == 1:
        return _Belief(grid, weights[0], rules[0], learnt=False, contradictory=False)
    best = int(np.argmax(sums))
    if sums[best] >= BELIEVED * max(sums[1 - best], 1e-300):
        return _Belief(grid, weights[best], rules[best], learnt=True, contradictory=False)
    return _Belief(grid, weights[0] + weights[1], None, learnt=False, contradictory=False)


def _weight(grid: Array, tried: Sequence[Trial], tolerance: float, rule: ShortStars) -> Array:
    """Return how likely all shapes are for each true back focus."""
    weight = np.ones_like(grid)
    for one in tried:
        off = max(one.seen.off_mm, LEAST_OFF_MM)
        error = one.back_focus_mm - grid
        # The eye judges the error with something between −off and +off added, all alike likely.
        short = np.clip((off - tolerance - error) / (2.0 * off), 0.0, 1.0)
        long = np.clip((off - tolerance + error) / (2.0 * off), 0.0, 1.0)
        shapes = {shape_of(rule, short=True): short, shape_of(rule, short=False): long}
        weight = weight * shapes.get(one.seen.shape, np.clip(1.0 - short - long, 0.0, 1.0))
    return weight


def back_focus_of(train: Train, shelf: Shelf, corrector: PartId) -> float | None:
    """Return the back focus that a train gives a corrector as it is, glass counted; None where it has none."""
    spacing = read(train, shelf).spacing
    need, error = spacing.requirement, spacing.error_mm
    return None if need is None or error is None or need.part != corrector else error + need.distance.value


@dataclass(frozen=True)
class Works:
    """A train whose stars were round as it is.

    Attributes:
        day: when they were last looked at.
        spare_mm: how far the spacing may still move either way; None where no tolerance is known.
    """

    day: str
    spare_mm: float | None


def works_as_it_lies(evidence: Evidence, train: Train) -> Works | None:
    """Return that a train is best left as it is: its stars were round so, and none has been seen otherwise since."""
    laid = as_laid(train)
    mine = [
        seen for seen in evidence.log
        if isinstance(seen, CornerStars) and seen.state in evidence.states
        and evidence.states[seen.state].train.id == train.id and alike(evidence.states[seen.state].train, laid)
    ]  # fmt: skip
    last = max(mine, key=lambda seen: (seen.day, seen.time), default=None)
    # One round corner says nothing of the others.
    if last is None or last.shape is not StarShape.ROUND or last.one_sided:
        return None
    spacing = read(train, evidence.shelf).spacing
    error, tolerance = spacing.error_mm, spacing.tolerance_mm
    spare = None if error is None or tolerance is None else tolerance - abs(error)
    return Works(last.day, spare if spare is not None and spare > 0.0 else None)


def ladder_of(evidence: Evidence, corrector: Corrector, here_mm: float | None = None) -> Ladder | None:
    """Return what to try next with a corrector; None where its stars were never looked at.

    Args:
        evidence: all that was seen.
        corrector: the corrector.
        here_mm: the back focus of the train that is to be changed; None: the one tried last.
    """
    tried = tried_with(evidence, corrector.id)
    if not tried:
        return None
    belief = _belief(corrector, tried)
    step = smallest_step(evidence.shelf.values())
    tolerance = max(corrector.spacing_tolerance_mm.value, LEAST_OFF_MM)
    low = None if belief.open_below or belief.contradictory else belief.quantile(0.025)
    high = None if belief.open_above or belief.contradictory else belief.quantile(0.975)
    last = max(tried, key=lambda one: (one.seen.day, one.seen.time, one.seen.id)).back_focus_mm
    last = last if here_mm is None else here_mm
    known = belief.rule is not None or all(one.seen.shape is StarShape.ROUND for one in tried)
    done = low is not None and high is not None and known and (
        high - low <= max(2.0 * tolerance, step or 0.0) and low <= last <= high
    )  # fmt: skip
    add = 0.0 if done or belief.contradictory else _next(belief, tried, tolerance, last, low, high)
    return Ladder(
        corrector.id, belief.rule, belief.learnt, tuple(tried), low, high, add, bool(done), step, here_mm is not None
    )


def _next(
    belief: _Belief, tried: Sequence[Trial], tolerance: float, last: float, low: float | None, high: float | None
) -> float:
    """Return how much longer to go next: to the middle of a closed range, else beyond the open end."""
    if low is not None and high is not None:
        return (low + high) / 2.0 - last
    if belief.rule is None:
        # Which way is unknown: a second spacing, far enough that the shape must change or fade, says.
        return 2.0 * tolerance
    beyond = max(2.0 * tolerance, 0.5)
    if high is None:
        return tried[-1].back_focus_mm + beyond - last
    return tried[0].back_focus_mm - beyond - last


def smallest_step(parts: Iterable[Part]) -> float | None:
    """Return the thinnest spacer or shim available, mm; None without one."""
    thin = [
        part.path_length_mm.value
        for part in parts
        if isinstance(part, Shim | Spacer) and part.status in AT_HAND and part.path_length_mm.value > 0.0
    ]
    return min(thin, default=None)
