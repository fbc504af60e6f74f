"""Flats made ray by ray, without the light engine: rays spread over the pupil, counted behind discs."""

import math

import numpy as np


def ray_flat(
    columns: int, rows: int, width_mm: float, *, n: float, pupil_mm: float, obstruction: float,
    discs: list[tuple[float, float, float, float]], falloff: float, rays: int, noise: float, seed: int,
    covers: list[tuple[float, float, float, float, float, float]] = [],  # noqa: B006 (never changed)
) -> np.ndarray:  # fmt: skip
    """Return a flat, the picture's first row on top.

    Args:
        columns: pixels across.
        rows: pixels up.
        width_mm: how wide the sensor is.
        n: f-number.
        pupil_mm: the exit pupil before the sensor.
        obstruction: of the pupil, as a share of its diameter.
        discs: reduced distance, radius, centre right and up of each opening, seen from behind the camera.
        falloff: exponent of the natural falloff.
        rays: how many a pixel sends.
        noise: deviation of each pixel, as a share.
        seed: of the dice.
        covers: reduced distance, half width, half height, centre right and up, and turn in radians of each rectangle
            that is in the way, such as a guider's prism.
    """
    dice = np.random.default_rng(seed)
    step = width_mm / columns
    # Upside down on the sensor.
    right = -((np.arange(columns) + 0.5) * step - width_mm / 2.0)
    up = -(rows * step / 2.0 - (np.arange(rows) + 0.5) * step)
    x, y = np.meshgrid(right, up)
    x, y = x.ravel()[:, None].astype(np.float32), y.ravel()[:, None].astype(np.float32)
    # Single precision: a ray off by a nanometre passes all the same, and millions of them take less time.
    # One ray from each of as many rings, turned by the golden angle from ring to ring: their share scatters less than
    # that of rays drawn by chance, and its median is its mean.
    within = (np.arange(rays, dtype=np.float32) + dice.random((x.size, rays), dtype=np.float32)) / np.float32(rays)
    radius = np.float32(pupil_mm / (2.0 * n)) * np.sqrt(obstruction**2 + (1.0 - obstruction**2) * within)
    turned = np.arange(rays, dtype=np.float32) * np.float32(math.pi * (3.0 - math.sqrt(5.0)))
    angle = turned + np.float32(2.0 * math.pi) * dice.random((x.size, 1), dtype=np.float32)
    px, py = radius * np.cos(angle), radius * np.sin(angle)
    passes = np.ones((x.size, rays), dtype=bool)
    for distance, wide, cx, cy in discs:
        share = np.float32(distance / pupil_mm)
        across, along = x + (px - x) * share - np.float32(cx), y + (py - y) * share - np.float32(cy)
        passes &= across * across + along * along <= np.float32(wide * wide)
    for distance, half_wide, half_high, cx, cy, turn in covers:
        share = np.float32(distance / pupil_mm)
        across, along = x + (px - x) * share - np.float32(cx), y + (py - y) * share - np.float32(cy)
        c, s = np.float32(math.cos(turn)), np.float32(math.sin(turn))
        passes &= (np.abs(across * c + along * s) > half_wide) | (np.abs(along * c - across * s) > half_high)
    light = passes.mean(axis=1).reshape(rows, columns)
    heights = np.hypot(x, y).reshape(rows, columns)
    light = light * (1.0 + (heights / pupil_mm) ** 2) ** (-falloff / 2.0)
    return np.asarray(20_000.0 * light * dice.normal(1.0, noise, light.shape), dtype=np.float32)
