"""The chord engine for any mix of discs and rectangles, decentred and turned, in pupil radii.

Discs and rectangles are convex, so each chord of the pupil meets their intersection in one interval. What only covers
part of the light (a prism, a handle, the edge of a sheet) is no opening: its share is taken off the area it covers,
by inclusion and exclusion over all such covers.

Shapes: P field points, A shapes.
"""

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from farrail.optics.clipping import BLOCK_POINTS, Array, chord_nodes, lens_area

# The error falls as the square of the number of chords; a rectangle's corners are kinks, at which it gathers.
# Measured against polygon clipping: at most 3.2/K² of the pupil's area.
WORST_ERROR_CHORDS = 3.2
FINE_ERROR, DRAGGING_ERROR = 1e-3, 6e-3
# Covers beyond this many would need more than 2^6 areas a point; the widest are kept.
MOST_COVERS = 6
# Edges this near a chord's own direction are along it; from the second on they cross it steeply enough. Between them
# more chords are taken, up to so many times as many.
ALIGNED_RAD, STEEP_RAD, MOST_FINER = 1e-9, 0.3, 5.0


@dataclass(frozen=True)
class Projected:
    """Shapes on the pupil plane, in pupil radii.

    Attributes:
        centre_x: (P, A).
        centre_y: (P, A).
        half_width: (P, A), a disc's radius.
        half_height: (P, A), a disc's radius.
        angle: (A,), radians anticlockwise, 0 for discs.
        disc: (A,), whether it is a disc.
        passes: what a cover lets through, 0 to 1; NaN for an opening, (A,).
    """

    centre_x: Array
    centre_y: Array
    half_width: Array
    half_height: Array
    angle: Array
    disc: np.ndarray
    passes: Array

    def only(self, which: np.ndarray) -> "Projected":
        """Return some of the shapes."""
        return Projected(
            self.centre_x[:, which], self.centre_y[:, which], self.half_width[:, which], self.half_height[:, which],
            self.angle[which], self.disc[which], self.passes[which],
        )  # fmt: skip


def chords_for(error: float) -> int:
    """Return how many chords keep the error of a mixed stack below `error` of the pupil's area."""
    return math.ceil(math.sqrt(WORST_ERROR_CHORDS / error))


def light_fraction(shapes: Projected, *, obstruction: float = 0.0, error: float = FINE_ERROR) -> Array:
    """Return, for each field point, the fraction of the pupil's light that arrives, shape (P,).

    Args:
        shapes: openings and covers on the pupil plane.
        obstruction: radius of the pupil's central obstruction, in pupil radii.
        error: how far a point at which several shapes cut may be off.
    """
    chords = chords_for(error)
    covers = np.flatnonzero(~np.isnan(shapes.passes))
    apertures = np.flatnonzero(np.isnan(shapes.passes))
    if covers.size > MOST_COVERS:
        covers = covers[np.argsort(shapes.passes[covers])][:MOST_COVERS]
    total = np.zeros(shapes.centre_x.shape[0])
    for count in range(covers.size + 1):
        for chosen in combinations(covers, count):
            # Π (1 − (1 − t)·[inside]) multiplied out: each set of covers weighs the area inside all of them.
            weight = float(np.prod([shapes.passes[c] - 1.0 for c in chosen])) if chosen else 1.0
            which = np.array([*apertures, *chosen], dtype=np.intp)
            total += weight * _open_share(shapes.only(which), obstruction, chords)
    return np.clip(total, 0.0, 1.0)


def _open_share(shapes: Projected, obstruction: float, chords: int) -> Array:
    whole = _area(shapes, 1.0, chords)
    if obstruction <= 0.0:
        return whole / np.pi
    return (whole - _area(shapes, obstruction, chords)) / (np.pi * (1.0 - obstruction**2))


def _best_turn(angles: Array) -> tuple[float, float]:
    """Return how far to turn the chords for rectangles so turned, and how far the worst edge then is from lying flat.

    An edge that is nearly along the chords makes their lengths leap from one to the next. Along one rectangle's own
    edges chords meet it exactly; the one is taken whose edges the others' cross most steeply. Both in radians.
    """
    quarter = math.pi / 2.0
    best, steepest = 0.0, -1.0
    for turn in np.unique(np.round(np.mod(angles, quarter), 12)):
        off = np.mod(angles - turn, quarter)
        off = np.minimum(off, quarter - off)
        flat = float(off[off > ALIGNED_RAD].min(initial=quarter))
        if flat > steepest:
            best, steepest = float(turn), flat
    return best, max(steepest, 0.0)


def _area(shapes: Projected, pupil_radius: float, chords: int) -> Array:
    """Return the area of a pupil disc inside all shapes, (P,); what cannot matter is culled first."""
    points, count = shapes.centre_x.shape
    area = np.full(points, np.pi * pupil_radius**2)
    if count == 0:
        return area
    x, y, r = shapes.centre_x, shapes.centre_y, shapes.half_width
    disc = shapes.disc[None, :]
    distance = np.hypot(x, y)
    if disc.all():
        along = across = distance
    else:
        cos, sin = np.cos(shapes.angle), np.sin(shapes.angle)
        # How far the centre is along each of a rectangle's two axes; a disc has the same reach every way.
        along = np.where(disc, distance, np.abs(x * cos + y * sin))
        across = np.where(disc, distance, np.abs(y * cos - x * sin))
    over_w = along + pupil_radius > shapes.half_width
    over_h = across + pupil_radius > shapes.half_height
    cuts = over_w | over_h
    if not cuts.any():
        return area
    dark = ((along >= shapes.half_width + pupil_radius) | (across >= shapes.half_height + pupil_radius)).any(axis=1)
    number = cuts.sum(axis=1)

    first = cuts.argmax(axis=1)
    rows = np.arange(points)
    lone = (number == 1) & ~dark
    lone_disc = np.flatnonzero(lone & shapes.disc[first])
    if lone_disc.size:
        which = first[lone_disc]
        area[lone_disc] = lens_area(distance[lone_disc, which], r[lone_disc, which], pupil_radius)
    # A rectangle of which a single edge cuts leaves the pupil less one circular segment.
    far_w = shapes.half_width + along < pupil_radius  # the opposite edge cuts as well
    far_h = shapes.half_height + across < pupil_radius
    one_edge = (over_w ^ over_h) & ~np.where(over_w, far_w, far_h)
    lone_edge = np.flatnonzero(lone & ~shapes.disc[first] & one_edge[rows, first])
    if lone_edge.size:
        which = first[lone_edge]
        wide = over_w[lone_edge, which]
        half = np.where(wide, shapes.half_width[lone_edge, which], shapes.half_height[lone_edge, which])
        offset = np.where(wide, along[lone_edge, which], across[lone_edge, which])
        area[lone_edge] -= _segment_area(half - offset, pupil_radius)

    done = np.zeros(points, dtype=bool)
    done[lone_disc] = True
    done[lone_edge] = True
    several = np.flatnonzero((number > 0) & ~dark & ~done)
    for start in range(0, several.size, BLOCK_POINTS):
        block = several[start : start + BLOCK_POINTS]
        useful = np.flatnonzero(cuts[block].any(axis=0))
        area[block] = _block(shapes, block, useful, pupil_radius, chords)
    area[dark] = 0.0
    return area


def _segment_area(edge_at: Array, pupil_radius: float) -> Array:
    """Return the part of a disc beyond a straight edge `edge_at` from its centre (circular segment)."""
    t = np.clip(edge_at / pupil_radius, -1.0, 1.0)
    return pupil_radius**2 * (np.arccos(t) - t * np.sqrt(1.0 - t * t))


def _block(shapes: Projected, points: np.ndarray, useful: np.ndarray, pupil_radius: float, chords: int) -> Array:
    """Integrate chord lengths over the height that pupil and shapes share, for a block of points."""
    grid = np.ix_(points, useful)
    wide, high_half = shapes.half_width[grid], shapes.half_height[grid]
    cx, cy, angle = shapes.centre_x[grid], shapes.centre_y[grid], shapes.angle
    rectangles = useful[~shapes.disc[useful]]
    if angle[rectangles].any():
        # The pupil is round: everything may be turned about its middle.
        turn, steepest = _best_turn(angle[rectangles])
        angle = angle - turn
        cx, cy = cx * math.cos(turn) + cy * math.sin(turn), cy * math.cos(turn) - cx * math.sin(turn)
        if steepest < STEEP_RAD:
            chords = math.ceil(chords * min(math.sqrt(STEEP_RAD / max(steepest, 1e-6)), MOST_FINER))
    cos, sin = np.cos(angle), np.sin(angle)
    leaning = wide * np.abs(sin[useful]) + high_half * np.abs(cos[useful])
    reach = np.where(shapes.disc[useful], high_half, leaning)
    low = np.maximum(-pupil_radius, (cy - reach).max(axis=1))
    high = np.minimum(pupil_radius, (cy + reach).min(axis=1))
    half = np.maximum(high - low, 0.0) / 2.0
    nodes, weights = chord_nodes(chords)
    y = (low + high)[None, :] / 2.0 + half[None, :] * np.sin(nodes)[:, None]
    right = np.sqrt(np.maximum(pupil_radius**2 - y * y, 0.0))
    left = -right
    for column, shape in enumerate(useful):
        x0, y0 = cx[:, column], cy[:, column]
        if shapes.disc[shape]:
            span = np.sqrt(np.maximum(wide[:, column] ** 2 - (y - y0) ** 2, 0.0))
            right = np.minimum(right, x0 + span)
            left = np.maximum(left, x0 - span)
            continue
        for nx, ny, limit in (
            (cos[shape], sin[shape], wide[:, column]),
            (-sin[shape], cos[shape], high_half[:, column]),
        ):
            rise = ny * (y - y0)
            if abs(nx) < 1e-9:
                right = np.where(np.abs(rise) <= limit * (1.0 + 1e-12), right, left)
                continue
            ends = x0 + (limit - rise) / nx, x0 + (-limit - rise) / nx
            right = np.minimum(right, np.maximum(*ends))
            left = np.maximum(left, np.minimum(*ends))
    lengths = np.maximum(right - left, 0.0)
    area: Array = (lengths * weights[:, None]).sum(axis=0) * half
    return area
