"""What guide stars say of a guider: where its prism is.

A star that guides is seen through the prism. So its near edge is no farther from the axis than the star, and no nearer
than the star less the prism's height: the largest usual one where that is not entered. Stars of several fields narrow
that from both sides.
"""

from collections import defaultdict
from collections.abc import Iterator

from farrail.errors import FarRailError
from farrail.logbook.kinds.star_frames import GuideStar
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused, Settles, Why
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.provenance import widest
from farrail.readouts.spacing.guide_star import prism_views

EDGE = "prism_edge_mm"


def learn_guide_star(evidence: Evidence) -> Iterator[Learnt]:
    """Yield where the prism of each guider is, unless it is known more closely already.

    Args:
        evidence: all that was seen.
    """
    readings: dict[str, list[tuple[str, float, float]]] = defaultdict(list)
    for seen in evidence.log:
        if not isinstance(seen, GuideStar):
            continue
        try:
            views = list(prism_views(evidence.readout_of(seen).layout))
        except FarRailError:
            continue
        if len(views) == 1:
            (view,) = views
            low = (seen.height_mm - seen.off_mm) * view.scale[0] - view.prism_mm[1]
            readings[view.part].append((seen.id, low, (seen.height_mm + seen.off_mm) * view.scale[1]))
    for part_id, ends in readings.items():
        part = evidence.shelf.get(part_id)
        if not isinstance(part, OffAxisGuider):
            continue
        low, high = max(0.0, max(low for _, low, _ in ends)), min(high for _, _, high in ends)
        names = tuple(name for name, _, _ in ends)
        if low >= high:
            yield Refused(part_id, EDGE, Why.CONTRADICTORY, Settles.AGAIN, names)
            continue
        known = part.prism_edge_mm
        if known is not None and low <= widest(known)[0] and widest(known)[1] <= high:
            # It is known more closely than guide stars can show it.
            continue
        yield Found(part_id, EDGE, (low + high) / 2.0, low, high, "mm", names)
