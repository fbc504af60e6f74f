"""What a lens's tables say at a focal length: in proportion between two entries, beyond the ends what is there."""

import numpy as np

from farrail.language import say
from farrail.optics.clipping import Array
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Quantity, weakest

Table = list[tuple[float, Quantity]]


def pupil_depth_at(lens: CameraLens, focal_mm: float) -> Quantity:
    """Return a lens's entrance pupil depth at a focal length."""
    return _at(_depths(lens), focal_mm) or lens.entrance_pupil_depth_mm


def pupil_walk_at(lens: CameraLens, focal_mm: float) -> Quantity | None:
    """Return how far a lens's entrance pupil walks toward the scene to the corner; None where nothing was entered."""
    return _at(_walks(lens), focal_mm) or lens.pupil_walk_mm


def f_number_at(lens: CameraLens, focal_mm: float) -> Quantity:
    """Return how far a lens opens at a focal length."""
    return _at(_f_numbers(lens), focal_mm) or lens.f_number


def pupil_depths_mm(lens: CameraLens, focal_mm: Array, end: int = 0) -> Array:
    """Return a lens's entrance pupil depth at many focal lengths, as `pupil_depth_at` does at one.

    Args:
        lens: the lens.
        focal_mm: focal lengths.
        end: −1 for the lower end of what is known of it, 1 for the upper, 0 for the typical value.
    """
    return _at_each(_depths(lens), focal_mm, lens.entrance_pupil_depth_mm, end)


def pupil_walks_mm(lens: CameraLens, focal_mm: Array) -> Array:
    """Return how far a lens's pupil walks at many focal lengths, as `pupil_walk_at` does at one; 0 where unknown."""
    return _at_each(_walks(lens), focal_mm, lens.pupil_walk_mm)


def f_numbers(lens: CameraLens, focal_mm: Array) -> Array:
    """Return how far a lens opens at many focal lengths, as `f_number_at` does at one."""
    return _at_each(_f_numbers(lens), focal_mm, lens.f_number)


def _depths(lens: CameraLens) -> Table:
    return sorted(((at.focal_mm, at.depth_mm) for at in lens.entrance_pupils), key=lambda pair: pair[0])


def _walks(lens: CameraLens) -> Table:
    said = ((at.focal_mm, at.walk_mm) for at in lens.entrance_pupils if at.walk_mm is not None)
    return sorted(said, key=lambda pair: pair[0])


def _f_numbers(lens: CameraLens) -> Table:
    return sorted(((at.focal_mm, at.f_number) for at in lens.f_numbers), key=lambda pair: pair[0])


def _at(table: Table, focal_mm: float) -> Quantity | None:
    """Return what a table says at a focal length, resting on the two entries it is between; None of an empty one."""
    if not table:
        return None
    if focal_mm <= table[0][0]:
        return table[0][1]
    if focal_mm >= table[-1][0]:
        return table[-1][1]
    after = next(number for number, (at_mm, _) in enumerate(table) if at_mm >= focal_mm)
    (low_mm, low), (high_mm, high) = table[after - 1 : after + 1]
    if high_mm - focal_mm < 1e-9:
        # At an entry itself its neighbour has no say.
        return high
    value = float(np.interp(focal_mm, [low_mm, high_mm], [low.value, high.value]))
    tolerance = max(low.tolerance, high.tolerance)
    return Quantity.of(
        value,
        weakest([low.origin, high.origin]),
        tolerance,
        say("between {low_mm:g} and {high_mm:g} mm", low_mm=low_mm, high_mm=high_mm),
    )


def _at_each(table: Table, focal_mm: Array, otherwise: Quantity | None, end: int = 0) -> Array:
    if not table:
        return np.full(focal_mm.shape, 0.0 if otherwise is None else _end_of(otherwise, end))
    values = [_end_of(quantity, end) for _, quantity in table]
    return np.asarray(np.interp(focal_mm, [at_mm for at_mm, _ in table], values))


def _end_of(quantity: Quantity, end: int) -> float:
    return quantity.value if end == 0 else quantity.low if end < 0 else quantity.high
