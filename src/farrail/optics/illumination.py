"""Relative illumination (RI): profile, map, and which opening acts where."""

import math
from collections.abc import Collection, Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np

from farrail.language import N_
from farrail.optics.clipping import FINE_CHORDS, Array, open_fraction, open_fraction_each
from farrail.optics.pupils import ApertureImage, Pupil, lever_of, project, project_radially
from farrail.optics.shapes import FINE_ERROR, light_fraction

SOURCE = N_("open fraction of the pupil seen from the field point; chords through the intersection of projected discs")


def relative_illumination(
    pupil: Pupil, apertures: list[ApertureImage], heights_mm: Array, *, chords: int = FINE_CHORDS
) -> Array:
    """Return RI at image heights `heights_mm` (P,), between 0 and 1, without natural falloff."""
    centre, radius = project_radially(pupil, apertures, heights_mm)
    # Measured along the field direction all centres are on one line; chords run across it.
    return open_fraction(centre, np.zeros_like(centre), radius, obstruction=pupil.obstruction, chords=chords)


# Half width, in pupil radii, of an opening that is left out: so wide cuts nothing.
LEFT_OUT = 1e9


def illumination_at(
    pupil: Pupil, apertures: list[ApertureImage], points_mm: Array, *, error: float = FINE_ERROR
) -> Array:
    """Return RI at places on the sensor, (P,), for any mix of openings and covers.

    Args:
        pupil: the pupil looked into.
        apertures: all that is in the way.
        points_mm: places from the axis, (P, 2), seen from behind the camera, x to the right and y up.
        error: how far a point may be off at which several shapes cut.
    """
    if all(aperture.centred for aperture in apertures):
        return relative_illumination(pupil, apertures, np.hypot(points_mm[:, 0], points_mm[:, 1]))
    shapes = project(pupil, apertures, points_mm)
    return light_fraction(shapes, obstruction=pupil.obstruction, error=error)


def illumination_of_each(pupil: Pupil, apertures: list[ApertureImage], points_mm: Array) -> Array:
    """Return RI behind each opening alone, (P, A)."""
    if not apertures:
        return np.ones((len(points_mm), 0))
    light = np.ones((len(points_mm), len(apertures)))
    centred = [number for number, aperture in enumerate(apertures) if aperture.centred]
    if centred:
        heights_mm = np.hypot(points_mm[:, 0], points_mm[:, 1])
        centre, radius = project_radially(pupil, [apertures[n] for n in centred], heights_mm)
        each = open_fraction_each(centre, np.zeros_like(centre), radius, obstruction=pupil.obstruction)
        light[:, centred] = each
    for number, aperture in enumerate(apertures):
        if not aperture.centred:
            light[:, number] = illumination_at(pupil, [aperture], points_mm)
    return light


def axial_light_of_each(pupil: Pupil, apertures: Sequence[ApertureImage]) -> Array:
    """Return the open share of the pupil seen from the axis behind each opening alone, (A,)."""
    cutting = [number for number, aperture in enumerate(apertures) if not _clears_axis(pupil, aperture)]
    centre = np.ones(len(apertures))
    if cutting:
        centre[cutting] = illumination_of_each(pupil, [apertures[n] for n in cutting], np.zeros((1, 2)))[0]
    return centre


def axial_light(pupil: Pupil, apertures: Sequence[ApertureImage]) -> float:
    """Return T0, the open share of the pupil seen from the axis: 1 if only the optic limits the beam."""
    cutting = [aperture for aperture in apertures if not _clears_axis(pupil, aperture)]
    return float(illumination_at(pupil, cutting, np.zeros((1, 2)))[0]) if cutting else 1.0


def _clears_axis(pupil: Pupil, aperture: ApertureImage) -> bool:
    """Whether an opening, or a cover beside the beam, certainly leaves the whole beam of the axis."""
    per_mm, off = abs(lever_of(pupil, aperture)[0]), math.hypot(*aperture.centre_mm)
    half = aperture.radius_mm
    high = half if aperture.half_height_mm is None else aperture.half_height_mm
    if aperture.passes is not None:
        return (off - math.hypot(half, high)) * per_mm >= 1.0
    return (min(half, high) - off) * per_mm >= 1.0


def relative_to_axis(
    pupil: Pupil, apertures: Sequence[ApertureImage], points_mm: Array, *, error: float = FINE_ERROR
) -> Array:
    """Return the share of the centre's light at places on the sensor, (P,); 0 where the centre is dark itself."""
    light = illumination_at(pupil, list(apertures), points_mm, error=error)
    centre = axial_light(pupil, apertures)
    return light if centre == 1.0 else np.minimum(light / max(centre, 1e-9), 1.0)


def natural_falloff(exit_distance_mm: float, heights_mm: Array) -> Array:
    """Return the light an unvignetted image point receives against the axis: ``cos⁴ θ'``, ``tan θ' = h/L``.

    Source: cos⁴ law of illumination (Smith, *Modern Optical Engineering*), cited from memory.
    """
    if np.isinf(exit_distance_mm):
        return np.ones_like(heights_mm)
    slope = heights_mm / exit_distance_mm
    secant_squared = 1.0 + slope * slope
    return np.asarray(1.0 / (secant_squared * secant_squared))


def loss_alone(pupil: Pupil, apertures: list[ApertureImage], points_mm: Array) -> list[tuple[float, int]]:
    """Return for each opening the light it takes alone where it takes most, and the number of that place.

    Its loss is relative to the centre behind that opening.

    Args:
        pupil: the pupil looked into.
        apertures: all that is in the way.
        points_mm: the places looked at, (P, 2).
    """
    centre = axial_light_of_each(pupil, apertures)
    taken = 1.0 - np.minimum(illumination_of_each(pupil, apertures, points_mm) / np.maximum(centre, 1e-9), 1.0)
    most = taken.argmax(axis=0)
    return [(float(taken[place, number]), int(place)) for number, place in enumerate(most)]


def loss_last(
    pupil: Pupil, apertures: list[ApertureImage], points_mm: Array, alone: list[tuple[float, int]]
) -> list[float]:
    """Return for each opening the light it takes after all others, where it takes most alone.

    An opening that takes nothing alone takes nothing last, so only those that clip are tried without.
    """
    total = relative_to_axis(pupil, apertures, points_mm)
    clipping = [(number, most) for number, (taken, most) in enumerate(alone) if taken > 1e-9]
    places = np.array([points_mm[most] for _, most in clipping]).reshape(-1, 2)
    without = relative_without(pupil, apertures, places, [{number} for number, _ in clipping])
    found = [0.0] * len(apertures)
    for (number, most), light in zip(clipping, without, strict=True):
        found[number] = max(float(light) - float(total[most]), 0.0)
    return found


def relative_without(
    pupil: Pupil, apertures: Sequence[ApertureImage], points_mm: Array, left_out: Sequence[Collection[int]]
) -> Array:
    """Return the share of the centre's light at each place with some openings left out there, (P,).

    Args:
        pupil: the pupil looked into.
        apertures: all that is in the way.
        points_mm: places on the sensor, (P, 2).
        left_out: for each place the numbers of the openings left out.
    """
    dropped = {number for numbers in left_out for number in numbers}
    round_about_axis = all(aperture.centred for aperture in apertures)
    if not left_out or round_about_axis or any(apertures[number].passes is not None for number in dropped):
        rest = [[a for n, a in enumerate(apertures) if n not in numbers] for numbers in left_out]
        one = [relative_to_axis(pupil, kept, points_mm[n : n + 1])[0] for n, kept in enumerate(rest)]
        return np.array(one, dtype=float)
    light = _light_without(pupil, apertures, points_mm, left_out)
    cutting = [number for number, aperture in enumerate(apertures) if not _clears_axis(pupil, aperture)]
    if cutting:
        out = [{at for at, number in enumerate(cutting) if number in numbers} for numbers in left_out]
        centre = _light_without(pupil, [apertures[n] for n in cutting], np.zeros((len(out), 2)), out)
        light = np.where(centre == 1.0, light, np.minimum(light / np.maximum(centre, 1e-9), 1.0))
    return light


def _light_without(
    pupil: Pupil, apertures: Sequence[ApertureImage], points_mm: Array, left_out: Sequence[Collection[int]]
) -> Array:
    shapes = project(pupil, list(apertures), points_mm)
    wide, high = shapes.half_width.copy(), shapes.half_height.copy()
    for place, numbers in enumerate(left_out):
        for number in numbers:
            wide[place, number] = high[place, number] = LEFT_OUT
    return light_fraction(replace(shapes, half_width=wide, half_height=high), obstruction=pupil.obstruction)


# How far out an onset is sought, against where it would be straight on, and at how many heights at a time.
ONSET_REACH, ONSET_SAMPLES = 2.0, 200


def onset_height_mm(pupil: Pupil, aperture: ApertureImage, touch: float = 1.0) -> float:
    """Return the image height at which an opening begins to cut the light of the axis; `inf` when it never does.

    On the unit pupil it begins where the smaller of disc and pupil leaves the larger one. An opening that is the stop
    itself is the smaller.

    Args:
        pupil: the pupil looked into.
        aperture: a centred opening.
        touch: 1 for the onset, 0 for where the larger's edge crosses the smaller's middle, −1 for where all is dark.
    """
    if not aperture.front or (pupil.directions.straight and not aperture.plates and aperture.cut is None):
        own, lever = lever_of(pupil, aperture)
        apart = _apart(abs(own) * aperture.radius_mm, touch)
        return apart / abs(lever) if lever else float("inf")
    shift, radius = project_radially(pupil, [aperture], np.array([1e-6]))
    slope, apart = abs(float(shift[0, 0])) / 1e-6, _apart(float(radius[0]), touch)
    if slope == 0.0:
        return float("inf")
    straight = apart / slope
    if not aperture.front or (pupil.directions.straight and not aperture.plates):
        return straight
    # Directions, walk and glass bend the way: sought from the axis outward, then between two neighbours.
    heights = np.linspace(0.0, ONSET_REACH * max(straight, pupil.directions.corner_mm), ONSET_SAMPLES)
    for _ in range(4):
        beyond = np.flatnonzero(np.abs(project_radially(pupil, [aperture], heights)[0][:, 0]) >= apart)
        if not beyond.size:
            return float("inf")
        first = int(beyond[0])
        heights = np.linspace(heights[max(first - 1, 0)], heights[first], ONSET_SAMPLES)
    return float(heights[-1])


def _apart(radius: float, touch: float) -> float:
    """Return how far the middles of the unit pupil and a disc are apart where they touch so, in pupil radii."""
    return max(max(radius, 1.0) - touch * min(radius, 1.0), 0.0)


def map_of_profile(
    heights_mm: Array, profile: Array, width_mm: float, height_mm: float, columns: int, rows: int
) -> Array:
    """Return RI over the frame, shape (rows, columns), sampled at cell centres.

    With every opening centred the answer depends on the image height alone: a fine profile, made once, is looked
    up at every cell, which is both faster and finer than clipping there.

    Args:
        heights_mm: image heights of the profile, (K,), rising from 0 to at least the corner's.
        profile: RI at each, (K,).
        width_mm: width of the frame.
        height_mm: height of the frame.
        columns: cells across.
        rows: cells down.
    """
    # A quarter of the frame is enough: the rest mirrors it.
    x = np.abs((np.arange((columns + 1) // 2) + 0.5) / columns * width_mm - width_mm / 2.0)
    y = np.abs((np.arange((rows + 1) // 2) + 0.5) / rows * height_mm - height_mm / 2.0)
    quarter = np.interp(np.hypot(x[None, :], y[:, None]), heights_mm, profile)
    half = np.concatenate([quarter, quarter[:, : columns // 2][:, ::-1]], axis=1)
    return np.concatenate([half, half[: rows // 2][::-1]], axis=0)


# Coarse grid on which a frame that is not round about the axis is integrated, before cubic interpolation.
GRID_COLUMNS, GRID_ROWS = 73, 49


def frame_points_mm(width_mm: float, height_mm: float, columns: int, rows: int) -> Array:
    """Return places over a frame from edge to edge, (rows·columns, 2), row by row from the top, y up."""
    x = np.linspace(-width_mm / 2.0, width_mm / 2.0, columns)
    y = np.linspace(height_mm / 2.0, -height_mm / 2.0, rows)
    grid = np.meshgrid(x, y)
    return np.stack([grid[0].ravel(), grid[1].ravel()], axis=1)


def enlarged(grid: Array, columns: int, rows: int) -> Array:
    """Return a coarse grid at cell centres of a finer one by cubic interpolation (Catmull-Rom), kept within 0 and 1."""
    finer: Array = _cubic(grid.shape[0], rows) @ grid @ _cubic(grid.shape[1], columns).T
    return np.clip(finer, 0.0, 1.0, out=finer)


def refined(grid: Array, times: int) -> Array:
    """Return a grid with so many times as many steps from edge to edge, by the same interpolation."""
    rows, columns = (times * (side - 1) + 1 for side in grid.shape)
    up, across = _between(grid.shape[0], rows), _between(grid.shape[1], columns)
    return np.clip(up @ grid @ across.T, 0.0, 1.0)


@lru_cache(maxsize=16)
def _cubic(nodes: int, cells: int) -> Array:
    """Return the matrix, (cells, nodes), that interpolates values at even nodes from edge to edge at cell centres."""
    return _cubic_at(nodes, (np.arange(cells) + 0.5) / cells * (nodes - 1))


@lru_cache(maxsize=4)
def _between(nodes: int, finer: int) -> Array:
    """Return the matrix, (finer, nodes), that interpolates them at more even nodes from edge to edge."""
    return _cubic_at(nodes, np.arange(finer) / (finer - 1) * (nodes - 1))


def _cubic_at(nodes: int, at: Array) -> Array:
    base = np.clip(np.floor(at).astype(int), 0, nodes - 2)
    t = at - base
    weights = (
        0.5 * (-(t**3) + 2 * t**2 - t), 0.5 * (3 * t**3 - 5 * t**2 + 2), 0.5 * (-3 * t**3 + 4 * t**2 + t),
        0.5 * (t**3 - t**2),
    )  # fmt: skip
    matrix = np.zeros((at.size, nodes))
    for offset, weight in zip((-1, 0, 1, 2), weights, strict=True):
        node = base + offset
        inside = np.clip(node, 0, nodes - 1)
        np.add.at(matrix, (np.arange(at.size), inside), weight)
        # Beyond the edge the grid goes on as it ends: twice the edge less its neighbour.
        for beyond, neighbour in ((node < 0, 1), (node > nodes - 1, nodes - 2)):
            np.add.at(matrix, (np.flatnonzero(beyond), inside[beyond]), weight[beyond])
            np.add.at(matrix, (np.flatnonzero(beyond), np.full(beyond.sum(), neighbour)), -weight[beyond])
    return matrix
