"""A lens at many values of what is not known of it, and what that makes of a close-up combination.

Every corner of the intervals is tried, of many unknowns those of the first few with the rest at either end, and points
spread evenly between. Size, distance and light rise or fall with each unknown almost everywhere, so corners hold their
extremes.
"""

from collections.abc import Iterator
from dataclasses import replace
from itertools import product

import numpy as np

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.not_entered import Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.planning.combinations import Combination
from farrail.readouts.close_up.system import CloseUpSystem, coupled, reversed_extension_mm, reversed_round
from farrail.train.near_focus import near_focus_of
from farrail.train.zoom_tables import f_number_at, pupil_depth_at

# Up to MOST_CORNERED intervals are tried at all corners; BETWEEN points are tried inside.
MOST_CORNERED, BETWEEN = 6, 12
Interval = tuple[str, float, float]


def variants_of(lens: CameraLens, focal_mm: float, diagonal_mm: float, *, reversed_: bool) -> list[CameraLens]:
    """Return a lens at many values of what is not known of it; [] where all is entered."""
    intervals = list(_intervals(lens, focal_mm, diagonal_mm, reversed_=reversed_))
    if not intervals:
        return []
    return [_with(lens, intervals, shares) for shares in _shares(len(intervals))]


def systems_of(combination: Combination, variants: list[CameraLens]) -> list[CloseUpSystem]:
    """Return what a combination comes to with each variant of its lens."""
    return [_system(combination, lens) for lens in variants]


def _intervals(lens: CameraLens, focal_mm: float, diagonal_mm: float, *, reversed_: bool) -> Iterator[Interval]:
    for name in type(lens).model_fields:
        value = getattr(lens, name)
        if isinstance(value, Quantity) and isinstance(value.in_use, Span) and value.high > value.low:
            yield name, value.low, value.high
    depth = pupil_depth_at(lens, focal_mm).value
    own = f_number_at(lens, focal_mm).value
    use = Use(focal_mm, diagonal_mm, own, depth, close_up=True, reversed=reversed_, optic=True)
    for default in lens.not_entered(use):
        # Only the length of the whole set rests on the barrel where its closest distance is not known.
        if default.high > default.low and not (default.path == "barrel_mm" and lens.nearest_mm is None):
            yield default.path, default.low, default.high


def _shares(count: int) -> list[tuple[float, ...]]:
    cornered = min(count, MOST_CORNERED)
    corners = [
        (*corner, *(corner[n % cornered] for n in range(count - cornered)))
        for corner in product((0.0, 1.0), repeat=cornered)
    ]
    dice = np.random.default_rng(count)
    return [*corners, *(tuple(float(share) for share in row) for row in dice.random((BETWEEN, count)))]


def _with(lens: CameraLens, intervals: list[Interval], shares: tuple[float, ...]) -> CameraLens:
    update = {
        name: Quantity.of(low + share * (high - low), Origin.ASSUMED)
        for (name, low, high), share in zip(intervals, shares, strict=True)
    }
    return lens.model_copy(update=update)


def _system(combination: Combination, lens: CameraLens) -> CloseUpSystem:
    own, focal, system = combination.lens, combination.focal_mm, combination.system
    diagonal, depth = combination.diagonal_mm, pupil_depth_at(lens, focal)
    if combination.reversed:
        more = reversed_extension_mm(lens, focal, depth.value, 0.0, diagonal)
        more -= reversed_extension_mm(own, focal, pupil_depth_at(own, focal).value, 0.0, diagonal)
        near = reversed_round(lens, focal, system.origin, diagonal)
        return replace(system, near=near, shortest_mm=system.shortest_mm + more, longest_mm=system.longest_mm + more)
    near = near_focus_of(lens, focal, depth.value, depth.origin, diagonal)
    return replace(system, near=near, pupil_depth_mm=depth.value)


def carried_variants(combination: Combination) -> list[CloseUpSystem]:
    """Return what a combination comes to with each variant of a lens carried reversed on its front."""
    carried, stack = combination.carried, combination.system.stack
    if carried is None:
        return []
    diagonal, focal = combination.diagonal_mm, carried.focal_length_mm.value
    typical = coupled(carried, diagonal)
    found = []
    for lens in variants_of(carried, focal, diagonal, reversed_=True):
        act = coupled(lens, diagonal)
        moved = replace(
            stack, first_mm=stack.first_mm + act.plane_mm - typical.plane_mm, front_mm=act.front_mm,
            hiatus_mm=act.hiatus_mm, pupil_at_mm=stack.pupil_at_mm + act.depth_mm - typical.depth_mm,
        )  # fmt: skip
        found.append(replace(combination.system, stack=moved))
    return found
