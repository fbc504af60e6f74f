"""Where the rims of a front stack cross the corner's bundle: what a person sees as a corner that begins to darken.

At the entrance pupil the rim of an aperture of radius r, z ahead of the seat, is ``r − (E + z)·h/f`` from the
middle of the corner's bundle, whose own radius is ``f/(2N)``. In bundle radii that is ``k``: from +1 on nothing is cut
(onset), at 0 the rim crosses the middle (half), at −1 all is dark. Source: similar triangles; see docs/models.md.
"""

from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.pupils import FrontStack, project_over_zoom
from farrail.readouts.front.model import Front
from farrail.train.zoom_tables import pupil_depths_mm, pupil_walks_mm

# How many focal lengths of a zoom are looked at, then how many between two of them, and how often.
STEPS, FINER, ROUNDS = 48, 33, 3


@dataclass(frozen=True)
class Rims:
    """The rims of a stack's apertures over F focal lengths, each in the corner and on the side where it is tightest.

    Attributes:
        free: k, how far each rim is from the middle of the bundle, in bundle radii, (F, A).
        radius_mm: the bundle's radius in the plane of each aperture, (F, A).
    """

    free: Array
    radius_mm: Array

    @property
    def tightest(self) -> Array:
        """The number of the tightest aperture at each focal length, (F,)."""
        return np.asarray(self.free.argmin(axis=1))


def rims_over(front: Front, focal_mm: Array, depth_mm: Array | None = None) -> Rims | None:
    """Return where the rims are at many focal lengths; None without a lens, a stack or a frame.

    Args:
        front: the stack.
        focal_mm: focal lengths, (F,).
        depth_mm: entrance pupil behind the seat at each, in place of what the lens's own table says, (F,).
    """
    lens = front.lens
    if lens is None or not front.judged or not front.placed:
        return None
    depth = pupil_depths_mm(lens, focal_mm) if depth_mm is None else depth_mm
    pupil = front.pupil
    factor = pupil.focal_length_mm / front.focal_mm
    numbers = front.f_numbers_at(focal_mm) * (pupil.f_number / front.f_number)
    ahead = np.array([front.layout.front_seat_mm - placed.z_mm for placed in front.placed])
    apertures = front.true_images
    stack = FrontStack(apertures, depth[:, None] + ahead[None, :], pupil_walks_mm(lens, focal_mm))
    corners = np.array(front.corners)
    seen = project_over_zoom(numbers, pupil.directions, stack, focal_mm * factor, corners, front.near_subject.place)
    cos, sin = np.cos(seen.angle), np.sin(seen.angle)
    along = np.abs(seen.centre_x * cos + seen.centre_y * sin)
    across = np.abs(seen.centre_y * cos - seen.centre_x * sin)
    sides = np.minimum(seen.half_width - along, seen.half_height - across)
    free = np.where(seen.disc, seen.half_width - np.hypot(seen.centre_x, seen.centre_y), sides)
    radii = np.array([aperture.radius_mm for aperture in apertures]) / seen.half_width
    shape = (focal_mm.size, len(corners), len(apertures))
    tight = free.reshape(shape).argmin(axis=1)[:, None, :]

    def picked(values: Array) -> Array:
        found: Array = np.take_along_axis(values.reshape(shape), tight, axis=1)[:, 0, :]
        return found

    return Rims(picked(free), picked(radii))


def focal_at_touch(front: Front, touch: float, only: tuple[int, ...] = ()) -> float | None:
    """Return the longest focal length at which a rim still is so near the middle of the corner's bundle.

    Args:
        front: the stack.
        touch: k: 1 for the onset, 0 for half, −1 for dark.
        only: numbers of the apertures looked at; () for all.

    Returns:
        The focal length, mm; None where the lens has none at which it shows so much.
    """
    if not front.judged:
        return None
    low, high = front.range_mm

    def free(focal_mm: Array) -> Array:
        rims = rims_over(front, focal_mm)
        assert rims is not None
        looked_at: Array = rims.free[:, list(only)] if only else rims.free
        return np.asarray(looked_at.min(axis=1) - touch)

    if not front.placed:
        return None
    grid = np.geomspace(low, high, STEPS) if high > low else np.array([low])
    shows = np.flatnonzero(free(grid) <= 0.0)
    if not shows.size:
        return None
    last = int(shows[-1])
    if last == grid.size - 1:
        return float(grid[-1])
    below, above = float(grid[last]), float(grid[last + 1])
    for _ in range(ROUNDS):
        finer = np.linspace(below, above, FINER)
        last = int(np.flatnonzero(free(finer) <= 0.0)[-1])
        below, above = float(finer[last]), float(finer[min(last + 1, FINER - 1)])
    return below
