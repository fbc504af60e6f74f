"""What was seen of one thing over many evenings: a series of readings, their predictions, and when something moved."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from farrail.errors import FarRailError
from farrail.logbook.beside import compared_then
from farrail.logbook.kinds.evening import DustSeen, Moved
from farrail.logbook.learning.model import Evidence, Found
from farrail.logbook.observation import Compared, Measure, Observation
from farrail.logbook.seen_words import LEVELS, seen_words
from farrail.logbook.state import State, alike
from farrail.logbook.value_names import Names, part_name, value_name
from farrail.parts.inventory_item import PartId
from farrail.quantities import headed

Sides = Mapping[str, Compared | None]
# So many deviations a change is before it is named.
SURE_LEAP = 4.0


@dataclass(frozen=True)
class Reading:
    """One reading of a series.

    Attributes:
        seen: id of the observation.
        day: when it was made.
        value: what was seen.
        off: half the width of what holds it.
        predicted: what its train predicted then; None where nothing was.
        aside: whether it was set aside.
    """

    seen: str
    day: date
    value: float
    off: float
    predicted: float | None
    aside: bool


@dataclass(frozen=True)
class Series:
    """Readings of one thing with one train, by day.

    Attributes:
        key: by which it is found again.
        name: what was measured.
        unit: of all values.
        readings: by day.
        stays_mm: whether they are focal lengths.
    """

    key: tuple[str, ...]
    name: str
    unit: str
    readings: tuple[Reading, ...]
    stays_mm: bool = False


@dataclass(frozen=True)
class Mark:
    """A day on which something moved, and what."""

    day: date
    words: str


def series_of(log: Iterable[Observation], states: Mapping[PartId, State], train: PartId, names: Names,
              sides: Sides | None = None) -> tuple[Series, ...]:  # fmt: skip
    """Return what was measured with a train on two or more days, most often measured first.

    Args:
        log: all observations.
        states: kept states by id.
        train: whose readings are meant.
        names: parts by id.
        sides: comparisons that were made already, by observation.
    """
    found: dict[tuple[str, ...], list[tuple[Observation, Measure, float | None]]] = {}
    for seen in log:
        if seen.train != train:
            continue
        measures = list(seen.measures())
        side = (sides or {}).get(seen.id)
        if side is None and not type(seen).only_words:
            side = compared_then(seen, states[seen.state])
        if side is not None and isinstance(side.observed, float) and not measures:
            kind = type(seen).kind_name
            measures = [Measure(kind, side.observed, side.off, side.unit, side.stays_mm)]
        for number, measure in enumerate(measures):
            predicted = side.predicted if side is not None and number == 0 else None
            key = (measure.name.id, *([] if measure.common else [seen.kind, *seen.series]))
            usable = predicted if isinstance(predicted, float) and np.isfinite(predicted) else None
            found.setdefault(key, []).append((seen, measure, usable))
    every = [_series(key, rows, names) for key, rows in found.items()]
    return tuple(
        sorted((one for one in every if len({r.day for r in one.readings}) > 1), key=lambda s: -len(s.readings))
    )


def _series(
    key: tuple[str, ...], rows: Sequence[tuple[Observation, Measure, float | None]], names: Names
) -> Series:  # fmt: skip
    first, measure, _ = rows[0]
    readings = sorted(
        (Reading(seen.id, date.fromisoformat(seen.day), one.value, one.off, predicted, seen.aside)
         for seen, one, predicted in rows),
        key=lambda reading: reading.day,
    )  # fmt: skip
    return Series(key, _name(first, measure, names), measure.unit, tuple(readings), measure.stays_mm)


def _name(seen: Observation, measure: Measure, names: Names) -> str:
    """Return what a series is called: what is measured, and of what."""
    words = headed(str(measure.name))
    level = getattr(seen, "level", None)
    parts = [part_name(one, names) for one in seen.parts_named()]
    path = getattr(seen, "path", "")
    about = [*parts, *([str(LEVELS[level])] if level in LEVELS else [])]
    if path and parts:
        return f"{parts[0]}: {value_name(names.get(next(seen.parts_named())), path)}"
    return f"{words}: {', '.join(about)}" if about else words


def residuals_of(found: Found, evidence: Evidence, shelf: Names) -> Series | None:
    """Return what is left between each reading a calibrated value rests on and what the value predicts of it.

    Args:
        found: the value.
        evidence: what was seen, its shelf with the value in use.
        shelf: parts by id, for names.

    Returns:
        None where the readings are words, not numbers.
    """
    readings, unit, stays_mm = [], "", False
    for seen in evidence.log:
        if seen.id not in found.seen:
            continue
        try:
            side = seen.compared(evidence.readout_of(seen))
        except FarRailError:
            continue
        if side is None or side.difference is None:
            continue
        unit, stays_mm = side.unit, side.stays_mm
        readings.append(
            Reading(seen.id, date.fromisoformat(seen.day), side.difference, side.off, 0.0, seen.aside)
        )  # fmt: skip
    if not readings:
        return None
    name = value_name(shelf.get(found.part), found.path, found.focal_mm)
    return Series((found.key,), name, unit, tuple(sorted(readings, key=lambda one: one.day)), stays_mm)


def marks_of(log: Iterable[Observation], states: Mapping[PartId, State], train: PartId) -> tuple[Mark, ...]:
    """Return the days on which something of a train moved: written down, or seen from its states."""
    mine = sorted((seen for seen in log if seen.train == train), key=lambda seen: (seen.day, seen.time))
    marks = {}
    before: State | None = None
    for seen in mine:
        state = states[seen.state]
        day = date.fromisoformat(seen.day)
        if isinstance(seen, Moved | DustSeen):
            marks[day] = Mark(day, seen_words(seen, state.by_id))
        elif before is not None and not alike(before.train, state.train):
            marks.setdefault(day, Mark(day, ""))
        before = state
    return tuple(marks[day] for day in sorted(marks))


def leap_of(series: Series) -> tuple[date, float] | None:
    """Return after which day a series changed most clearly, and by how much; None where nothing speaks for a change.

    The two sides' weighted means are compared at every day; the greatest difference counts when it is more than four of
    its own deviations, and more than the readings' scatter on either side explains.
    """
    used = [one for one in series.readings if not one.aside]
    if len(used) < 4 or not all(one.off > 0.0 for one in used):
        return None
    values = np.array([one.value for one in used])
    sigma = np.array([one.off / np.sqrt(3.0) for one in used])
    best: tuple[float, date, float] | None = None
    for cut in range(2, len(used) - 1):
        if used[cut - 1].day == used[cut].day:
            continue
        low, high = _mean(values[:cut], sigma[:cut]), _mean(values[cut:], sigma[cut:])
        sure = abs(high[0] - low[0]) / np.hypot(low[1], high[1])
        if sure > SURE_LEAP and (best is None or sure > best[0]):
            best = (float(sure), used[cut].day, high[0] - low[0])
    return None if best is None else (best[1], best[2])


def _mean(values: np.ndarray, sigma: np.ndarray) -> tuple[float, float]:
    weight = 1.0 / sigma**2
    mean = float((values * weight).sum() / weight.sum())
    scatter = float(np.sqrt((weight * (values - mean) ** 2).sum() / max(values.size - 1, 1)))
    return mean, float(np.sqrt(1.0 / weight.sum())) * max(scatter, 1.0)
