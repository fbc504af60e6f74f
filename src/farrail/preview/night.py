"""A night field: invented stars by magnitude at true angles, and two invented nebulae.

Fainter stars are drawn in narrower fields alone, each magnitude within a cap of its own around the middle: a zoom in
shows the same stars and more. Density rises tenfold in two magnitudes, as it about does in the sky (from memory).
"""

import math
from dataclasses import dataclass

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
    field = stars_within(math.degrees(float(np.arccos(np.clip(view.sight[..., 2].min(), -1.0, 1.0)))))
    spots = _places(view, field)
    inside = np.isfinite(spots).all(axis=1)
    inside &= np.abs(spots[:, 0] - view.columns / 2.0) < view.columns / 2.0 + 3.0
    inside &= np.abs(spots[:, 1] - view.rows / 2.0) < view.rows / 2.0 + 3.0
    step_mm = view.wide_mm / view.columns
    in_focus = focal_mm * math.radians(SEEING_ARCSEC / 3600.0) / 2.355 / step_mm
    short = float(defocused_sigma(in_focus, np.array(blur_mm / step_mm)))
    half = math.hypot(view.columns, view.rows) / 2.0
    for (x, y), magnitude in zip(spots[inside], field.magnitude[inside], strict=True):
        dx, dy = x - view.columns / 2.0, y - view.rows / 2.0
        long = float(long_sigma(np.array(short), in_focus, spacing_mm, np.array(math.hypot(dx, dy) / half)))
        angle = math.atan2(dy, dx) + (0.0 if radial else math.pi / 2.0)
        _star(light, float(x), float(y), float(magnitude), long, short, angle)
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


def _star(light: Plane, x: float, y: float, magnitude: float, long: float, short: float, angle: float) -> None:
    """Add a star; one narrower than a pixel fills a pixel, as a picture made smaller shows it."""
    long, short = math.hypot(long, 0.45), math.hypot(short, 0.45)
    reach = int(4.0 * long) + 2
    top, left = max(int(y) - reach, 0), max(int(x) - reach, 0)
    bottom, right = min(int(y) + reach + 1, light.shape[0]), min(int(x) + reach + 1, light.shape[1])
    if top >= bottom or left >= right:
        return
    rows, columns = np.mgrid[top:bottom, left:right]
    dx, dy = columns + 0.5 - x, rows + 0.5 - y
    along, across = dx * math.cos(angle) + dy * math.sin(angle), dy * math.cos(angle) - dx * math.sin(angle)
    shape = np.exp(-0.5 * ((along / long) ** 2 + (across / short) ** 2)) / (long * short)
    warm = 0.5 + 0.5 * math.sin(magnitude * 37.0)
    colour = np.array([0.8 + 0.3 * warm, 0.9, 1.1 - 0.3 * warm])
    flux = 10.0 ** (0.4 * (FULL_AT_MAGNITUDE - magnitude)) * 4.0
    light[top:bottom, left:right] += (flux * shape[..., None] * colour).astype(np.float32)


def _nebulae(view: View, nebulae: tuple[Nebula, ...]) -> Plane:
    ahead = np.maximum(view.sight[..., 2], 1e-3)
    roll = math.radians(view.rolled_deg)
    x, y = np.degrees(view.sight[..., 0] / ahead), np.degrees(view.sight[..., 1] / ahead)
    right, up = math.cos(roll) * x + math.sin(roll) * y, math.cos(roll) * y - math.sin(roll) * x
    light = np.full((view.rows, view.columns, 3), SKY_LIGHT, dtype=np.float32)
    for number, one in enumerate(nebulae):
        turn = math.radians(one.turned_deg)
        from_x, from_y = right - one.right_deg, up - one.up_deg
        u = (from_x * math.cos(turn) + from_y * math.sin(turn)) / one.along_deg
        v = (from_y * math.cos(turn) - from_x * math.sin(turn)) / one.across_deg
        near = (np.abs(u) < 3.0) & (np.abs(v) < 3.0)
        if not near.any():
            continue
        cloud = noise(
            (u[near] * 2.3 + 9.0).astype(np.float32), (v[near] * 2.3 + 5.0).astype(np.float32), 60 + number, 6
        )
        dust = noise((u[near] * 1.7 + 3.0).astype(np.float32), (v[near] * 1.7).astype(np.float32), 70 + number, 5)
        shape = np.exp(-(u[near] ** 2 + v[near] ** 2)) * (0.25 + 1.5 * cloud) * np.clip(1.6 - 1.7 * dust, 0.1, 1.0)
        light[near] += (one.bright * shape)[:, None] * np.array(one.colour, dtype=np.float32)
    return light
