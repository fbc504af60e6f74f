"""What frames of an even wall say of clear widths, of how far a prism reaches in, and of the exit pupil."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from farrail.logbook.kinds.front import ExitPupilInFrame, OpeningInFrame
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused, Settles, Why, least_squares
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.fields import field_at

# No interval is narrower than what the places of parts on the rail are known to.
LEAST_OFF_MM = 0.05
EXIT_PUPIL = "exit_pupil_distance_mm"
# Readings that leave more than this many deviations between them are not of one width.
MOST_APART = 4.0


def learn_openings(evidence: Evidence) -> Iterator[Learnt]:
    """Yield what frames say of each value of a part: the weighted mean of what was seen.

    Args:
        evidence: all that was seen.
    """
    by_value: dict[tuple[str, str], list[tuple[str, float, float]]] = defaultdict(list)
    for seen in evidence.log:
        if isinstance(seen, OpeningInFrame):
            by_value[seen.part, seen.path].append((seen.id, seen.value_mm, seen.off_mm))
        elif isinstance(seen, ExitPupilInFrame):
            by_value[seen.part, EXIT_PUPIL].append((seen.id, seen.distance_mm, seen.off_mm))
    for (part_id, path), readings in by_value.items():
        part = evidence.shelf.get(part_id)
        if part is None or field_at(type(part), path) is None:
            continue
        widths = np.array([value for _, value, _ in readings])
        sigma = np.array([max(off, LEAST_OFF_MM) / TWO_SIDED_95 for _, _, off in readings])
        fit = least_squares(np.ones((len(readings), 1)), widths, sigma)
        value, off = float(fit.values[0]), max(TWO_SIDED_95 * float(fit.sigma[0]), LEAST_OFF_MM)
        seen_by = tuple(name for name, _, _ in readings)
        if np.any(np.abs(widths - value) > MOST_APART * sigma):
            yield Refused(part_id, path, Why.CONTRADICTORY, Settles.AGAIN, seen_by)
            continue
        yield Found(part_id, path, value, value - off, value + off, "mm", seen_by)
