"""What is not known of lenses, put to the answers of a search: intervals, and which answers hold over all of them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from farrail.parts.kinds.lenses import CameraLens
from farrail.planning.combinations import Combination
from farrail.planning.lens_variants import carried_variants, systems_of, variants_of
from farrail.readouts.close_up.system import CloseUpSystem, systems


@dataclass(frozen=True)
class Ends:
    """What an answer may come to.

    Attributes:
        distance_mm: least and greatest working distance, as far as the subject fills the frame; None where it never
            does.
        stops: least and most light lost.
        f_number: least and greatest effective f-number.
        certain: whether the wish is fulfilled for every value of the unknowns.
    """

    distance_mm: tuple[float, float] | None
    stops: tuple[float, float]
    f_number: tuple[float, float]
    certain: bool


def ends_of(
    combinations: Sequence[Combination], wanted: float, least_distance_mm: float, most_stops: float
) -> list[Ends | None]:
    """Return for each combination what it may come to; None where everything about it is known.

    Args:
        combinations: the combinations.
        wanted: the magnification asked for.
        least_distance_mm: the least working distance asked for.
        most_stops: the most light it may cost.
    """
    variants: dict[tuple[str, float, bool], list[CameraLens]] = {}
    rows: list[CloseUpSystem] = []
    counts: list[int] = []
    for one in combinations:
        key = one.lens.id, one.focal_mm, one.reversed
        if key not in variants:
            variants[key] = variants_of(one.lens, one.focal_mm, one.diagonal_mm, reversed_=one.reversed)
        mine = [*systems_of(one, variants[key]), *carried_variants(one)]
        if mine:
            mine.append(one.system)
        rows += mine
        counts.append(len(mine))
    if not rows:
        return [None] * len(combinations)
    table = systems(rows)
    position = table.position_for(np.full(len(rows), wanted))
    reached = ~np.isnan(position)
    points = table.at(np.where(reached, position, 1.0))
    f_numbers = np.array([row.f_number for row in rows]) * points.darker
    good = reached & (points.distance_mm >= least_distance_mm - 1e-6) & (points.stops <= most_stops + 1e-6)
    found: list[Ends | None] = []
    start = 0
    for count in counts:
        if not count:
            found.append(None)
            continue
        here = slice(start, start + count)
        start += count
        held = reached[here] & np.isfinite(points.distance_mm[here])
        distances = points.distance_mm[here][held]
        counted = held if held.any() else np.ones(count, dtype=bool)
        found.append(
            Ends(
                (float(distances.min()), float(distances.max())) if distances.size else None,
                (float(points.stops[here][counted].min()), float(points.stops[here][counted].max())),
                (float(f_numbers[here][counted].min()), float(f_numbers[here][counted].max())),
                bool(good[here].all()),
            )
        )
    return found
