"""Sea stacks at dusk, an invented coast, drawn by angle: sky, sea, five stacks and the ledge the camera is on.

Azimuth is to the right of where the camera looks, elevation above the horizon, both in degrees. Luminance is linear,
1 for the open sea; the sky is three to six stops brighter than the rock.
"""

import numpy as np

from farrail.preview.noise import Plane, noise

# The Sun where no place is entered: low, and out of the middle of the picture.
SUN_RIGHT_DEG, SUN_HIGH_DEG = -34.0, 3.0
# What the meter reads: the ledge and the sea ahead of the camera, without the sky.
METERED = 0.16
# How tall the highest stack is, above the horizon.
TALLEST_DEG = 18.0
# No part of the ledge is higher than this.
LEDGE_TOP_DEG = -8.0
# Middle, half width, top, foot (degrees), seed and shade of each stack, the farthest first.
STACKS = (
    (-44.0, 9.0, 6.2, -1.0, 25, 0.13), (-12.0, 5.5, 10.5, -1.2, 21, 0.11), (4.0, 2.6, 14.5, -1.6, 22, 0.085),
    (15.5, 7.5, 8.0, -2.0, 23, 0.07), (31.0, 3.4, TALLEST_DEG, -2.6, 24, 0.055),
)  # fmt: skip


def dusk(az: Plane, el: Plane, sun_right_deg: float, sun_high_deg: float) -> tuple[Plane, Plane]:
    """Return the luminance of directions, (…, 3), and which of them show sky, (…), 0 or 1.

    Each thing is drawn where it may be alone: noise is what takes the time.
    """
    shape = az.shape
    az, el = az.ravel(), el.ravel()
    sun_el = float(np.clip(sun_high_deg, -6.0, 60.0))
    light = np.empty((az.size, 3), dtype=np.float32)
    above = el > 0.0
    light[above] = _sky(az[above], el[above], sun_right_deg, sun_el)
    light[~above] = _sea(az[~above], el[~above], sun_right_deg)
    sky = above.copy()
    for stack in STACKS:
        centre, width, top, foot = stack[:4]
        near = np.flatnonzero((np.abs(az - centre) < width * 1.36) & (el < top * 1.25) & (el > foot - 0.6))
        if near.size:
            rock, foam, colour = _stack(az[near], el[near], sun_right_deg, stack)
            light[near] = np.where(rock[:, None], colour, light[near])
            light[near] = np.where(foam[:, None], light[near] * 0.4 + _colour(0.5, 0.46, 0.46), light[near])
            sky[near] &= ~rock
    low = np.flatnonzero(el < LEDGE_TOP_DEG)
    if low.size:
        ledge, stone = _ledge(az[low], el[low])
        light[low] = np.where(ledge[:, None], stone, light[low])
        sky[low] &= ~ledge
    return light.reshape(*shape, 3), sky.reshape(shape).astype(np.float32)


def _colour(red: float, green: float, blue: float) -> Plane:
    return np.array([red, green, blue], dtype=np.float32)


def _sky(az: Plane, el: Plane, sun_az: float, sun_el: float) -> Plane:
    beside = (az - sun_az + 180.0) % 360.0 - 180.0
    away = np.hypot(beside * np.cos(np.radians(el)), (el - sun_el) * 1.3)
    up = np.clip(el / 55.0, 0.0, 1.0)[..., None]
    sky = (_colour(1.0, 0.62, 0.36) * (1.0 - up) ** 3 + _colour(0.16, 0.27, 0.52) * (1.0 - (1.0 - up) ** 3)) * 5.0
    sky = sky * (1.0 + 4.5 * np.exp(-((away / 16.0) ** 2)) + 40.0 * np.exp(-((away / 1.6) ** 2)))[..., None]
    sky = sky + _colour(1.6, 0.7, 0.25) * np.exp(-np.abs(el) / 6.0)[..., None]
    cloud = np.clip(noise(az / 16.0 + 40.0, el / 4.2 + 7.0, 3, 5) * 1.9 - 0.92, 0.0, 1.0)
    cloud = (cloud * np.clip(el / 4.0, 0.0, 1.0) * np.exp(-(((el - 15.0) / 16.0) ** 2)))[..., None]
    lit = _colour(1.9, 1.0, 0.7) * (1.0 + 3.0 * np.exp(-((away / 22.0) ** 2)))[..., None]
    return np.asarray(sky * (1.0 - 0.55 * cloud) + cloud * lit, dtype=np.float32)


def _sea(az: Plane, el: Plane, sun_az: float) -> Plane:
    """The sea mirrors the sky at a grazing angle, broken by waves that shorten toward the horizon."""
    down = np.clip(-el, 0.02, 90.0)
    wave = noise(az / 1.2 / (0.35 + down / 20.0) + 11.0, 55.0 / down + 3.0, 5, 4)
    sea = _colour(0.16, 0.20, 0.25) * (0.55 + 0.9 * wave)[..., None]
    glint = np.exp(-(((az - sun_az) / (3.0 + down * 0.7)) ** 2)) * np.clip(wave * 2.6 - 1.25, 0.0, 1.0)
    sea = sea + (glint * np.exp(-down / 14.0))[..., None] * _colour(7.0, 3.6, 1.6)
    return np.asarray(sea + _colour(0.5, 0.3, 0.2) * np.exp(-down / 2.2)[..., None], dtype=np.float32)


def _stack(
    az: Plane, el: Plane, sun_az: float, stack: tuple[float, float, float, float, int, float]
) -> tuple[Plane, Plane, Plane]:
    """Return where a stack's rock is, where the foam at its foot is, and the rock's luminance."""
    centre, width, top, foot, seed, shade = stack
    ragged = noise(az * 0.9 + seed, np.full_like(az, seed), seed, 6)
    lean = (noise(el * 0.45 + seed, np.full_like(az, seed + 0.5), seed + 1, 4) - 0.5) * width * 0.42
    off = np.abs(az - centre + lean)
    outline = top * (0.82 + 0.36 * (ragged - 0.5)) * np.clip(1.18 - (off / width) ** 6, 0.0, 1.0)
    rock = (el < outline) & (el > foot) & (off < width * 1.1)
    strata = 0.62 + 0.75 * noise(az / 3.0 + seed, el * 1.7 + seed * 3.0, seed + 2, 5)
    facing = np.clip((centre - az) / width, 0.0, 1.0) * np.exp(-(((centre - sun_az) / 40.0) ** 2))
    colour = (shade * strata * (1.0 + 1.4 * facing))[..., None] * _colour(1.15, 0.92, 0.8)
    # Broken water at the foot, thinner toward the sides.
    out = np.clip(1.0 - (np.abs(az - centre) / (width * 1.35)) ** 2, 0.0, 1.0)
    foam = np.abs(el - foot) < 0.5 * out * noise(az * 1.3 + seed, el * 2.0 + seed, seed + 3, 4) ** 2
    return rock, foam, colour


def _ledge(az: Plane, el: Plane) -> tuple[Plane, Plane]:
    """Return where the ledge is that the camera is on, and its luminance: wet stone with pools that mirror the sky."""
    edge = -17.0 + 5.5 * noise(az / 11.0 + 2.0, np.zeros_like(az), 31, 5) + 3.2 * np.cos(np.radians(az * 3.0 + 60.0))
    ledge = el < edge
    pool = (noise(az / 6.0 + 9.0, el / 1.6, 33, 4) > 0.60) & (el < edge - 1.5)
    stone = 0.055 + 0.10 * noise(az / 2.1, el * 0.9, 32, 6) ** 1.6
    wet = np.where(pool, np.float32(0.20), np.float32(0.0))
    return ledge, stone[..., None] * _colour(1.0, 0.93, 0.9) + wet[..., None] * _colour(0.62, 0.47, 0.42)
