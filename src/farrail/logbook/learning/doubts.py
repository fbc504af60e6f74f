"""Entries that contradict the others: a slip of the pen must not become a calibrated value.

Readings of the same thing, made with the same train set the same way, are compared with their median. One that is off
by several times what such readings may be off is outvoted by the others and left out. Where there is no
majority, a value that rests on them waits for a person. Of corner stars the one evening is named without which the
others agree.
"""

import math
from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from statistics import median

from farrail.logbook.kinds.front import Darkening, ExitPupilInFrame, OpeningInFrame, PupilInFrame
from farrail.logbook.kinds.lengths import PathLength
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.model import Evidence
from farrail.logbook.learning.spacing_stars import culprit_among, tried_with
from farrail.logbook.observation import Observation
from farrail.parts.kinds.telescopes import Corrector

# A reading is questioned from so many times its own uncertainty on, or the spread of the others; and from this share of
# the median on: neighbouring evenings are never alike.
DOUBTFUL, LEAST_SHARE = 4.0, 0.02
# What a meter may be off, in stops: a third.
STOPS_OFF = 1.0 / 3.0

# The number a kind measures, how far it may be off, and its unit.
Measure = Callable[[Observation], tuple[float, float, str]]


def _stops_of(seen: Observation) -> tuple[float, float, str]:
    assert isinstance(seen, FilterStops)
    return math.log2(seen.with_s / seen.without_s), max(seen.off_stops, STOPS_OFF), "stops"


def _field(name: str, off: str, unit: str) -> Measure:
    def measure(seen: Observation) -> tuple[float, float, str]:
        return float(getattr(seen, name)), float(getattr(seen, off)), unit

    return measure


# What is calibrated from, and is the same each time: a ruler or a subject at any other focus is not.
MEASURES: dict[type[Observation], Measure] = {
    Darkening: _field("focal_mm", "off_mm", "mm"),
    PupilInFrame: _field("depth_mm", "off_mm", "mm"),
    ExitPupilInFrame: _field("distance_mm", "off_mm", "mm"),
    OpeningInFrame: _field("value_mm", "off_mm", "mm"),
    PathLength: _field("length_mm", "off_mm", "mm"),
    FieldWidth: _field("width_mm", "off_mm", "mm"),
    FilterStops: _stops_of,
}
# Fields that say under which circumstances something was measured: of readings compared they are the same.
CIRCUMSTANCES = ("state", "level", "judged", "corners", "part", "path", "first", "last", "f_number")


@dataclass(frozen=True)
class Doubt:
    """An entry that contradicts others.

    Attributes:
        seen: the entry.
        residual: how far it is from what the others say, in `unit`; None where that is no number.
        unit: of it.
        outvoted: whether the others agree with each other; else there is no majority.
        others: the entries it contradicts.
    """

    seen: str
    residual: float | None
    unit: str
    outvoted: bool
    others: tuple[str, ...]


def doubts_of(evidence: Evidence) -> tuple[Doubt, ...]:
    """Return the entries that contradict others; those set aside are not looked at."""
    groups: dict[tuple[object, ...], list[Observation]] = defaultdict(list)
    for seen in evidence.log:
        if type(seen) in MEASURES and seen.state in evidence.states and getattr(seen, "nearest", True):
            groups[_circumstances(seen)].append(seen)
    found = [doubt for group in groups.values() for doubt in _doubts_in(group)]
    with_stars = [evidence.states[seen.state].train for seen in evidence.log
                  if isinstance(seen, CornerStars) and seen.state in evidence.states]  # fmt: skip
    for part_id in dict.fromkeys(part_id for train in with_stars for part_id in train.part_ids()):
        part = evidence.shelf.get(part_id)
        if isinstance(part, Corrector):
            tried = tried_with(evidence, part.id)
            culprit = culprit_among(part, tried)
            if culprit is not None:
                others = tuple(one.seen.id for one in tried if one.seen.id != culprit)
                found.append(Doubt(culprit, None, "", True, others))
    return tuple(found)


def without_outvoted(evidence: Evidence, doubts: tuple[Doubt, ...]) -> Evidence:
    """Return the evidence without the entries that the others outvote."""
    out = {doubt.seen for doubt in doubts if doubt.outvoted}
    return replace(evidence, log=tuple(seen for seen in evidence.log if seen.id not in out)) if out else evidence


def contested(doubts: tuple[Doubt, ...]) -> frozenset[str]:
    """Return the entries without a majority: a value that rests on one is applied only when a person includes it."""
    return frozenset(doubt.seen for doubt in doubts if not doubt.outvoted)


def _circumstances(seen: Observation) -> tuple[object, ...]:
    # What a zoom was set to is a circumstance, unless it is what was measured.
    focal = None if isinstance(seen, Darkening) else seen.focal_mm
    return type(seen), focal, *(getattr(seen, name, None) for name in CIRCUMSTANCES)


def _doubts_in(group: list[Observation]) -> Iterator[Doubt]:
    if len(group) < 2:
        return
    measured = [MEASURES[type(seen)](seen) for seen in group]
    values = [value for value, _, _ in measured]
    middle = median(values)
    spread = 1.4826 * median([abs(value - middle) for value in values]) if len(group) > 3 else 0.0
    far = [
        abs(value - middle) > DOUBTFUL * max(off, spread, LEAST_SHARE * abs(middle) / 2.0)
        for value, off, _ in measured
    ]  # fmt: skip
    if len(group) == 2:
        # The median of two is their mean: half the difference is off from it.
        offs = math.hypot(measured[0][1], measured[1][1])
        far = [abs(values[0] - values[1]) > DOUBTFUL * max(offs, LEAST_SHARE * abs(middle) / 2.0)] * 2
    majority = 2 * sum(far) < len(group)
    names = [seen.id for seen in group]
    for seen, (value, _, unit), is_far in zip(group, measured, far, strict=True):
        if is_far or (any(far) and not majority):
            rest = median([one for one, other in zip(values, names, strict=True) if other != seen.id])
            yield Doubt(seen.id, value - rest, unit, majority, tuple(name for name in names if name != seen.id))
