"""A night field: invented stars by magnitude at true angles, and two invented nebulae.

Fainter stars are drawn in narrower fields alone, each magnitude within a cap of its own around the middle: a zoom in
shows the same stars and more. Density rises tenfold in two magnitudes, as it about does in the sky (from memory).
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from farrail.optics.star_shape import defocused_sigma, long_sigma
from farrail.preview.noise import Plane, noise
from farrail.preview.view import View
from farrail.train.train import Target

SEED = 7
# Half the cap in which stars between two magnitudes are drawn, degrees.
CAPS = ((-1.0, 5.5, 100.0), (5.5, 7.5, 50.0), (7.5, 9.5, 16.0), (9.5, 11.5, 5.0), (11.5, 13.5, 1.7), (13.5, 15.0, 0.7))
# Stars a square degree brighter than magnitude 6.
PER_SQUARE_DEGREE_AT_6 = 0.12
STEP = 0.5
# A star of this magnitude fills the sensor in the exposure of a night.
FULL_AT_MAGNITUDE = 8.5
# The sky's own light, as a share of what the meter reads.
SKY_LIGHT = 0.10
# Widths of a star by seeing and guiding, in arcseconds.
SEEING_ARCSEC = 2.5
ARCMINUTES = 60.0
# Half widths of a glow from its middle to its outline.
EDGE = math.sqrt(math.log(8.0))
# How far a glow is drawn, in half widths, and on how fine a grid.
REACH, CLOUD_PX = 3.0, 560
# Pixels of stars added at once.
MOST_AT_ONCE = 400_000


@dataclass(frozen=True)
class Nebula:
    """A glow in the night field.

    Attributes:
        right_deg: its middle, to the right with the camera straight.
        up_deg: its middle, up.
        along_deg: half its long axis.
        across_deg: half its short axis.
        turned_deg: its long axis against the width, anticlockwise.
        bright: light of its middle, 1 for what the meter reads.
        colour: of its light.
    """

    right_deg: float
    up_deg: float
    along_deg: float
    across_deg: float
    turned_deg: float
    bright: float
    colour: tuple[float, float, float]


NEBULAE = (
    Nebula(0.42, -0.28, 1.15, 0.62, 24.0, 0.75, (1.0, 0.30, 0.36)),
    Nebula(-1.9, 1.1, 0.34, 0.30, 0.0, 1.1, (0.30, 0.72, 0.66)),
)


def aimed_at(target: Target) -> tuple[Nebula, ...]:
    """Return what is in the field when a train is aimed at a target: a glow of its size, alone.

    Its outline is where a Gaussian has fallen to an eighth.
    """
    half = target.width_arcmin / ARCMINUTES / 2.0 / EDGE, target.height_arcmin / ARCMINUTES / 2.0 / EDGE
    return (Nebula(0.0, 0.0, *half, target.turned_deg, 0.75, NEBULAE[0].colour),)


@dataclass(frozen=True)
class Stars:
    """Stars as unit vectors, (S, 3): right, up, ahead; and their magnitudes, (S,)."""

    sight: Plane
    magnitude: Plane


def stars_within(reach_deg: float) -> Stars:
    """Return the stars of a field that reaches so far from its middle: those of every cap that holds it."""
    sights, magnitudes = [np.zeros((0, 3))], [np.zeros(0)]
    for number, (bright, faint, cap_deg) in enumerate(CAPS):
        if number > 1 and reach_deg > cap_deg:
            continue
        dice = np.random.default_rng((SEED, number))
        area = 2.0 * math.pi * (1.0 - math.cos(math.radians(cap_deg))) * math.degrees(1.0) ** 2
        count = int(area * (_density(faint) - _density(bright)))
        ahead = 1.0 - dice.random(count) * (1.0 - math.cos(math.radians(cap_deg)))
        turn = dice.random(count) * 2.0 * math.pi
        aside = np.sqrt(np.maximum(1.0 - ahead**2, 0.0))
        sights.append(np.stack([aside * np.cos(turn), aside * np.sin(turn), ahead], axis=1))
        # Cumulative counts rise by 10^(STEP·m): the inverse of that from even numbers.
        even = dice.random(count)
        low, high = 10.0 ** (STEP * bright), 10.0 ** (STEP * faint)
        magnitudes.append(np.log10(low + even * (high - low)) / STEP)
    return Stars(np.concatenate(sights), np.concatenate(magnitudes))


def _density(magnitude: float) -> float:
    return PER_SQUARE_DEGREE_AT_6 * math.pow(10.0, STEP * (magnitude - 6.0))


def night(
    view: View,
    focal_mm: float,
    spacing_mm: float,
    *,
    radial: bool,
    blur_mm: float,
    nebulae: tuple[Nebula, ...] = NEBULAE,
) -> Plane:
    """Return the light of the night field over a view, (rows, columns, 3), 1 for what the meter reads.

    Args:
        view: the geometry; its pitch is left aside, the camera follows the field.
        focal_mm: focal length.
        spacing_mm: error of the spacing, for the shapes of stars.
        radial: whether stars are drawn out away from the middle, else around it.
        blur_mm: width of the disc that defocus makes of a point, on the sensor.
        nebulae: what glows in it.
    """
    light = _nebulae(view, nebulae)
    field = stars_within(view.farthest_deg)
    spots = _places(view, field)
    inside = np.isfinite(spots).all(axis=1)
    inside &= np.abs(spots[:, 0] - view.columns / 2.0) < view.columns / 2.0 + 3.0
    inside &= np.abs(spots[:, 1] - view.rows / 2.0) < view.rows / 2.0 + 3.0
    step_mm = view.wide_mm / view.columns
    in_focus = focal_mm * math.radians(SEEING_ARCSEC / 3600.0) / 2.355 / step_mm
    short = float(defocused_sigma(in_focus, np.array(blur_mm / step_mm)))
    half = math.hypot(view.columns, view.rows) / 2.0
    spots, magnitude = spots[inside], field.magnitude[inside]
    from_middle = spots - np.array([view.columns / 2.0, view.rows / 2.0])
    long = long_sigma(np.array(short), in_focus, spacing_mm, np.hypot(*from_middle.T) / half)
    angle = np.arctan2(from_middle[:, 1], from_middle[:, 0]) + (0.0 if radial else math.pi / 2.0)
    add_stars(light, spots, magnitude, np.broadcast_to(long, magnitude.shape), short, angle)
    return light


def _places(view: View, field: Stars) -> Plane:
    """Return where stars are in the picture, (S, 2), columns and rows; NaN for what is behind the camera."""
    roll = math.radians(view.rolled_deg)
    right = math.cos(roll) * field.sight[:, 0] - math.sin(roll) * field.sight[:, 1]
    up = math.sin(roll) * field.sight[:, 0] + math.cos(roll) * field.sight[:, 1]
    angle = np.arccos(np.clip(field.sight[:, 2], -1.0, 1.0))
    few = np.linspace(0.0, float(view.heights_mm.max()) * 1.2 + 1e-6, 2048)
    height = np.interp(angle, view.angles_rad(few), few, right=np.nan)
    out = height / np.maximum(np.hypot(right, up), 1e-12)
    x = (out * right + view.right_mm) / view.wide_mm + 0.5
    y = 0.5 - (out * up + view.up_mm) / view.high_mm
    return np.stack([x * view.columns, y * view.rows], axis=1)


def add_stars(light: Plane, spots: Plane, magnitude: Plane, long: Plane, short: float, angle: Plane) -> None:
    """Add stars, those of one size at a time; one narrower than a pixel fills a pixel, as in a picture made smaller.

    Args:
        light: the picture, (rows, columns, 3), added to.
        spots: columns and rows of the stars, (S, 2).
        magnitude: (S,).
        long: standard deviation along the trail in pixels, (S,).
        short: across it.
        angle: of the trail from the right toward down, radians, (S,).
    """
    long, narrow = np.hypot(long, 0.45), math.hypot(short, 0.45)
    warm = 0.5 + 0.5 * np.sin(magnitude * 37.0)
    colour = np.stack([0.8 + 0.3 * warm, np.full_like(warm, 0.9), 1.1 - 0.3 * warm], axis=1)
    flux = 10.0 ** (0.4 * (FULL_AT_MAGNITUDE - magnitude)) * 4.0 / (long * narrow)
    reach = (4.0 * long).astype(int) + 2
    rows, columns = light.shape[:2]
    flat = light.reshape(-1, 3)
    for size in np.unique(reach):
        # A long trail covers many pixels: a few stars at a time keep the arrays small.
        group, many = np.flatnonzero(reach == size), max(MOST_AT_ONCE // (2 * int(size) + 1) ** 2, 1)
        for at in range(0, len(group), many):
            these = group[at : at + many]
            down, right = np.mgrid[-size : size + 1, -size : size + 1].reshape(2, 1, -1)
            x, y = spots[these, 0][:, None], spots[these, 1][:, None]
            column, row = x.astype(int) + right, y.astype(int) + down
            dx, dy = column + 0.5 - x, row + 0.5 - y
            cosine, sine = np.cos(angle[these])[:, None], np.sin(angle[these])[:, None]
            along, across = dx * cosine + dy * sine, dy * cosine - dx * sine
            shape = np.exp(-0.5 * ((along / long[these][:, None]) ** 2 + (across / narrow) ** 2))
            inside = (column >= 0) & (column < columns) & (row >= 0) & (row < rows)
            star, _ = np.nonzero(inside)
            added = (flux[these][star] * shape[inside])[:, None] * colour[these][star]
            np.add.at(flat, row[inside] * columns + column[inside], added.astype(np.float32))


@lru_cache(maxsize=4)
def _cloud(number: int) -> Plane:
    """Return the light of a glow over its own axes, both from -REACH to REACH half widths, (CLOUD_PX, CLOUD_PX)."""
    at = np.linspace(-REACH, REACH, CLOUD_PX, dtype=np.float32)
    u, v = at[None, :], at[:, None]
    cloud = noise(u * np.float32(2.3) + 9.0, v * np.float32(2.3) + 5.0, 60 + number, 6)
    dust = noise(u * np.float32(1.7) + 3.0, v * np.float32(1.7), 70 + number, 5)
    light: Plane = np.exp(-(u**2 + v**2)) * (0.25 + 1.5 * cloud) * np.clip(1.6 - 1.7 * dust, 0.1, 1.0)
    return light.astype(np.float32)


def _between(grid: Plane, row: Plane, column: Plane) -> Plane:
    """Return a grid's values at places between its nodes, all inside it, bilinearly."""
    wide, values = grid.shape[1], grid.ravel()
    top, left = row.astype(np.int32), column.astype(np.int32)
    down, right = (row - top).astype(np.float32), (column - left).astype(np.float32)
    at = top * wide + left
    upper = values[at] * (1 - right) + values[at + 1] * right
    lower = values[at + wide] * (1 - right) + values[at + wide + 1] * right
    found: Plane = upper + (lower - upper) * down
    return found


def _nebulae(view: View, nebulae: tuple[Nebula, ...]) -> Plane:
    light = np.full((view.rows, view.columns, 3), SKY_LIGHT, dtype=np.float32)
    for rows in view.strips():
        _add_nebulae(light[rows], view, rows, nebulae)
    return light


def _add_nebulae(light: Plane, view: View, rows: slice, nebulae: tuple[Nebula, ...]) -> None:
    across, high, ahead = view.sight_of(rows)
    ahead = np.maximum(ahead, 1e-3)
    roll = math.radians(view.rolled_deg)
    x, y = np.degrees(across / ahead), np.degrees(high / ahead)
    right, up = math.cos(roll) * x + math.sin(roll) * y, math.cos(roll) * y - math.sin(roll) * x
    for number, one in enumerate(nebulae):
        turn = math.radians(one.turned_deg)
        from_x, from_y = right - one.right_deg, up - one.up_deg
        u = (from_x * math.cos(turn) + from_y * math.sin(turn)) / one.along_deg
        v = (from_y * math.cos(turn) - from_x * math.sin(turn)) / one.across_deg
        near = (np.abs(u) < REACH) & (np.abs(v) < REACH)
        if not near.any():
            continue
        scale = (CLOUD_PX - 1) / 2.0 / REACH
        shape = _between(_cloud(number), (v[near] + REACH) * scale, (u[near] + REACH) * scale)
        light[near] += (one.bright * shape)[:, None] * np.array(one.colour, dtype=np.float32)
