"""The figures of what a train costs in light."""

import math
from collections.abc import Iterator

from farrail.optics.exposure import LONGEST_S
from farrail.parts.provenance import weakest
from farrail.readouts.exposure.figure_texts import ExposureTime, FlashDistance, ShareStops, SkyStops, TotalStops
from farrail.readouts.exposure.model import Exposure
from farrail.readouts.figure import Figure


def exposure_figures(exposure: Exposure) -> Iterator[Figure]:
    """Yield the figures of what costs light; none where nothing does."""
    shares = exposure.shares
    if not shares:
        return
    told = tuple(share.stops for share in shares if share.stops is not None)
    ends = exposure.total_ends or (None, None)
    yield Figure(TotalStops(stops=told), exposure.total_stops, exposure.origin, *ends)
    for number, share in enumerate(shares, 1):
        own = (share.loss.ends if share.loss is not None else None) or (None, None)
        which = f"{number}.{share.part.id}"
        yield Figure(ShareStops(share=share), share.stops, share.origin, own[0], own[1], which)
    if exposure.sky_stops:
        origin = weakest([share.origin for share in shares if share.dark_stops is not None])
        yield Figure(SkyStops(), exposure.sky_stops, origin)
    flash, conditions = exposure.flash_mm, exposure.layout.train.conditions
    if flash is not None and conditions.guide_number_m is not None:
        yield Figure(
            FlashDistance(guide_number_m=conditions.guide_number_m, stops=exposure.total_stops, bare_mm=flash[0]),
            flash[1],
            exposure.origin,
        )
    base = exposure.base_s
    if base is not None and exposure.total_stops + math.log2(base) <= math.log2(LONGEST_S):
        shortest, longest = (None if end is None else exposure.time_after(end) for end in ends)
        yield Figure(
            ExposureTime(base_s=base, stops=exposure.total_stops), exposure.time_s, exposure.origin,
            shortest, longest,
        )  # fmt: skip
