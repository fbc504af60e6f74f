"""What filters take, from two readings of a meter."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.learning.model import (
    Evidence,
    Found,
    Learnt,
    Refused,
    Settles,
    Why,
    least_squares,
    uniform_sigma,
)
from farrail.optics.exposure import density_of_stops
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.kinds.filters import RoundFilter, SheetFilter

MOST_STOPS = 30.0


def learn_stops(evidence: Evidence) -> Iterator[Learnt]:
    """Yield what metered filters take: a polariser in stops, any other as its density."""
    by_part: dict[str, list[FilterStops]] = defaultdict(list)
    for seen in evidence.log:
        if isinstance(seen, FilterStops):
            by_part[seen.part].append(seen)
    for part_id, readings in by_part.items():
        part = evidence.shelf.get(part_id)
        if not isinstance(part, RoundFilter | SheetFilter):
            continue
        metered = np.array([seen.stops for seen in readings])
        sigma = np.array([uniform_sigma(seen.off_stops) for seen in readings])
        fit = least_squares(np.ones((len(readings), 1)), metered, sigma)
        stops, off = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
        seen_by = tuple(seen.id for seen in readings)
        polariser = part.polariser and part.density is None
        path = "polariser_stops" if polariser else "density"
        if not -off <= stops <= MOST_STOPS:
            yield Refused(part_id, path, Why.OUTSIDE, Settles.AGAIN, seen_by, values={"value": stops})
            continue
        if part.polariser and part.density is not None:
            # A grey polariser takes both shares together; which is whose no meter says.
            yield Refused(part_id, path, Why.ILL_CONDITIONED, Settles.AGAIN, seen_by)
            continue
        low, value, high = (max(one, 0.0) for one in (stops - off, stops, stops + off))
        if polariser:
            yield Found(part_id, path, value, low, high, "stops", seen_by)
        else:
            yield Found(
                part_id, path, density_of_stops(value), density_of_stops(low), density_of_stops(high), "", seen_by
            )
