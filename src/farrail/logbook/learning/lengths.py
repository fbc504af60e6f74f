"""Lengths of parts from lengths measured across several of them, in one train or in several that share a part."""

from collections.abc import Iterator

import numpy as np

from farrail.logbook.kinds.lengths import PathLength, gap_before
from farrail.logbook.learning.model import (
    WORST_CONDITION,
    Evidence,
    Found,
    Learnt,
    Refused,
    Settles,
    Why,
    least_squares,
    uniform_sigma,
)
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.base import FixedLength
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span

Place = tuple[PartId, str]


def learn_lengths(evidence: Evidence) -> Iterator[Learnt]:
    """Yield what measured lengths calibrate of the parts whose own length nothing was entered or published."""
    rows: list[tuple[str, dict[Place, int], float, float]] = []
    known: dict[Place, Quantity] = {}
    for seen in evidence.log:
        if not isinstance(seen, PathLength) or seen.state not in evidence.states:
            continue
        layout = evidence.readout_of(seen).layout
        span = seen.span(layout)
        fixed, open_ones, sigma = 0.0, dict[Place, int](), uniform_sigma(seen.off_mm) ** 2
        for index in span:
            fixed += gap_before(layout, index) if index > span[0] else 0.0
            if index < len(layout.rear):
                part, length, path = layout.rear[index].part, layout.rear[index].length, "path_length_mm"
                free = isinstance(part, FixedLength) and part.path_length_mm is length and _open(length)
            elif layout.camera is not None:
                part, length, path = layout.camera, layout.camera.flange_to_sensor_mm, "flange_to_sensor_mm"  # type: ignore[assignment]
                free = _open(length)
            else:
                continue
            if free:
                place = part.id, path
                open_ones[place] = open_ones.get(place, 0) + 1
                known[place] = length
            else:
                fixed += length.value
                sigma += uniform_sigma(length.tolerance) ** 2
        if open_ones:
            rows.append((seen.id, open_ones, seen.length_mm - fixed, sigma**0.5))
    if not rows:
        return
    places = list(dict.fromkeys(place for _, open_ones, _, _ in rows for place in open_ones))
    matrix = np.array([[float(open_ones.get(place, 0)) for place in places] for _, open_ones, _, _ in rows])
    fit = least_squares(matrix, np.array([row[2] for row in rows]), np.array([row[3] for row in rows]))
    for number, place in enumerate(places):
        seen_by = tuple(key for key, open_ones, _, _ in rows if place in open_ones)
        if not fit.determined[number] or (fit.condition > WORST_CONDITION * 100.0 and bool(fit.determined.all())):
            yield Refused(*place, Why.TOO_FEW, Settles.ACROSS_IT_ALONE, seen_by)
            continue
        value, off = float(fit.values[number]), TWO_SIDED_95 * float(fit.sigma[number])
        if not 0.0 <= value <= 3000.0:
            yield Refused(*place, Why.OUTSIDE, Settles.AGAIN, seen_by, values={"value": value})
            continue
        yield Found(*place, value, max(value - off, 0.0), value + off, "mm", seen_by)


def _open(length: Quantity) -> bool:
    """Whether nothing was entered or published a length, or it was calibrated from what was seen."""
    use = length.in_use
    return isinstance(use, Span) or use.origin is Origin.ASSUMED or bool(use.seen)
