"""The reach picture: how large each combination images over the distances it can focus at, and where none does."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from farrail.cancel import Stopped, never, until_stopped
from farrail.optics.clipping import Array
from farrail.planning.combinations import Combination
from farrail.readouts.close_up.system import CloseUpSystem, systems

# Where along its focus window a band is worked out; closer together toward infinity, where it runs fastest.
STEPS = 24
# Combinations worked out between two checks for cancellation.
AT_ONCE = 256
DRIVES = np.linspace(0.0, 1.0, STEPS) ** 1.5
FARTHEST_MM = 5000.0
# Reach with less of a break than this is whole: a twentieth of a doubling, no one sees it in a frame.
GAP_DOUBLINGS = 0.05


@dataclass(frozen=True)
class Reach:
    """Bands of magnification against working distance.

    Attributes:
        combinations: C combinations.
        magnification: (C, K), NaN where nothing focuses.
        distance_mm: (C, K), likewise.
        stops: (C, K), lost against the lens at infinity.
        gaps: ranges of magnification, between the least and greatest, that none reaches.
    """

    combinations: tuple[Combination, ...]
    magnification: Array
    distance_mm: Array
    stops: Array
    gaps: tuple[tuple[float, float], ...]


def band_of(rows: Sequence[CloseUpSystem]) -> tuple[Array, Array, Array]:
    """Return magnification, working distance and stops lost of arrangements over their focus windows, each (C, K)."""
    table = systems(rows)
    points = table.at(np.broadcast_to(DRIVES, (len(rows), STEPS)))
    with np.errstate(invalid="ignore"):
        seen = points.distance_mm <= FARTHEST_MM
    return (
        np.where(seen, points.magnification, np.nan), np.where(seen, points.distance_mm, np.nan),
        np.where(seen, points.stops, np.nan),
    )  # fmt: skip


def reach_of(combinations: Sequence[Combination], stopped: Stopped = never) -> Reach:
    """Return the reach of combinations; an empty one of none.

    Raises:
        Cancelled: `stopped` returned True.
    """
    if not combinations:
        nothing = np.zeros((0, STEPS))
        return Reach((), nothing, nothing, nothing, ())
    chunks = [combinations[at : at + AT_ONCE] for at in range(0, len(combinations), AT_ONCE)]
    bands = [band_of([c.system for c in chunk]) for chunk in until_stopped(iter(chunks), stopped, every=1)]
    size, distance, stops = (np.concatenate(rows) for rows in zip(*bands, strict=True))
    return Reach(tuple(combinations), size, distance, stops, _gaps(size))


def _gaps(size: Array) -> tuple[tuple[float, float], ...]:
    """Return the ranges between the least and the greatest magnification that no band covers."""
    focused = size[~np.isnan(size).all(axis=1)]
    if not focused.size:
        return ()
    low, high = np.nanmin(focused, axis=1), np.nanmax(focused, axis=1)
    order = np.argsort(low)
    found, reached = [], high[order[0]]
    for index in order[1:]:
        if low[index] > reached * 2.0**GAP_DOUBLINGS and reached > 0.0:
            found.append((float(reached), float(low[index])))
        reached = max(reached, high[index])
    return tuple(found)
