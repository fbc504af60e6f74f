"""A rock pool close up: a shell with depth over a ruler, in millimetres of the subject.

The picture's middle is in focus on the shell's rim; what is nearer or farther is spread over a disc |z|·m²/N wide on
the sensor, with z from the plane in focus, m the magnification and N the effective f-number.
"""

import numpy as np

from farrail.preview.noise import Plane, noise
from farrail.preview.view import View

METERED = 0.18
# Where the upper edge of the ruler is in the picture, from its middle to its bottom.
RULER_DOWN = 0.62
# Shells: middle right and up, half width, how much nearer its tip is than its rim (mm), seed; the last is in front.
SHELLS = (
    (7.5, 3.1, 2.2, 1.6, 4), (-8.2, 4.0, 1.7, 1.2, 3), (-6.4, -2.2, 1.2, 0.9, 6), (9.6, -1.4, 1.4, 1.0, 8),
    (4.6, 6.6, 1.6, 1.2, 9), (-3.5, 7.2, 1.9, 1.4, 5), (-13.0, -1.0, 2.6, 1.8, 7), (14.5, 5.5, 2.8, 2.0, 2),
    (0.0, 0.0, 4.2, 3.0, 1),
)  # fmt: skip
# Blur is drawn at so many widths and mixed between them.
BLURS = (0.0, 1.0, 2.5, 6.0, 14.0)


def pool(view: View, magnification: float, f_number: float, diffraction_mm: float) -> Plane:
    """Return the light of the rock pool over a view, (rows, columns, 3).

    Args:
        view: geometry of the picture.
        magnification: of the subject on the sensor.
        f_number: effective f-number.
        diffraction_mm: width of the blur that diffraction makes, on the sensor.
    """
    x, y = (side / np.float32(magnification) for side in view.seen_mm)
    light, z = subject(x, y, -RULER_DOWN * view.high_mm / 2.0 / magnification)
    step_mm = view.wide_mm / view.columns
    # A disc's deviation is a quarter of its width.
    blur = np.hypot(np.abs(z) * magnification**2 / f_number, diffraction_mm) / step_mm / 4.0
    return blurred(light, blur.astype(np.float32))


def subject(x_mm: Plane, y_mm: Plane, ruler_up_mm: float) -> tuple[Plane, Plane]:
    """Return luminance and height over the plane in focus, of places on the subject; the ruler's edge is so far up."""
    grain = 0.5 * noise(x_mm / 7.0 + 3.0, y_mm / 7.0 + 5.0, 41, 6) + 0.5 * noise(x_mm / 1.1, y_mm / 1.1, 42, 4)
    light = (0.05 + 0.26 * grain)[..., None] * np.array([0.95, 1.0, 0.92], dtype=np.float32)
    light = light.astype(np.float32)
    z = -3.0 + 2.0 * (grain - 0.5)
    for cx, cy, across, high, seed in SHELLS:
        near = np.hypot(x_mm - cx, y_mm - cy) < across * 1.06
        if near.any():
            x, y = x_mm[near] - cx, y_mm[near] - cy
            r = np.hypot(x, y) / across
            inside = r < 1.0 + 0.06 * np.cos(np.arctan2(y, x) * 7.0 + seed)
            light[near] = np.where(inside[..., None], _shell(x, y, r, seed), light[near])
            z[near] = np.where(inside, np.maximum(high * (1.0 - r), 0.0), z[near])
    # The ruler stays in the plane in focus.
    below = ruler_up_mm - y_mm
    rule = (below > 0.0) & (below < 9.0)
    off = np.abs(x_mm - np.round(x_mm))
    number = np.round(x_mm).astype(np.int64)
    long = np.where(number % 10 == 0, 5.0, np.where(number % 5 == 0, 3.6, 2.2))
    mark = rule & (off < 0.09) & (below < long)
    light = np.where(rule[..., None], np.array([0.42, 0.42, 0.40], dtype=np.float32), light)
    light = np.where(mark[..., None], np.float32(0.02), light)
    return light.astype(np.float32), np.where(rule, 0.0, z).astype(np.float32)


def _shell(x_mm: Plane, y_mm: Plane, r: Plane, seed: int) -> Plane:
    """Return the luminance of a ribbed cone of rock-pool chalk, r from 0 at its tip to 1 at its rim."""
    turn = np.arctan2(y_mm, x_mm)
    ribs = 0.5 + 0.5 * np.cos(turn * (18 + seed % 5) + 3.0 * noise(x_mm * 0.8, y_mm * 0.8, 50 + seed, 3))
    rings = noise(r * 14.0, np.full_like(r, seed), 44 + seed, 4)
    facing = 0.65 + 0.45 * np.clip(np.cos(turn - 2.3), -1.0, 1.0)
    light = (0.13 + 0.20 * ribs * r + 0.16 * rings) * facing
    return light[..., None] * np.array([1.1, 0.95 - 0.02 * (seed % 4), 0.78], dtype=np.float32)


def blurred(light: Plane, sigma_px: Plane) -> Plane:
    """Return a picture in which each pixel is spread by a normal distribution of its own width."""
    wanted = float(sigma_px.max())
    levels = [one for one in BLURS if one < wanted] or [0.0]
    levels.append(min(max(wanted, levels[-1] + 1e-3), BLURS[-1]))
    place = np.interp(sigma_px, levels, np.arange(len(levels))).astype(np.float32)
    pad = min(int(2.5 * levels[-1]) + 1, *(side - 1 for side in sigma_px.shape))
    # Sides that factor well are transformed several times as fast.
    more = [pad + (-(side + 2 * pad)) % 64 for side in sigma_px.shape]
    around = np.pad(light, ((pad, more[0]), (pad, more[1]), (0, 0)), mode="reflect").astype(np.float32)
    waves = np.fft.rfft2(around, axes=(0, 1))
    up, across = np.fft.fftfreq(around.shape[0])[:, None], np.fft.rfftfreq(around.shape[1])[None, :]
    drawn = np.zeros_like(light)
    for number, level in enumerate(levels):
        weight = np.clip(1.0 - np.abs(place - number), 0.0, 1.0)[..., None]
        if weight.any():
            # A normal distribution's spectrum is one as well: exp(−2π²σ²ν²).
            spread = np.exp(-2.0 * (np.pi * level) ** 2 * (up**2 + across**2)).astype(np.float32)[..., None]
            whole = np.fft.irfft2(waves * spread, s=around.shape[:2], axes=(0, 1))
            drawn += weight * whole[pad : pad + light.shape[0], pad : pad + light.shape[1]].astype(np.float32)
    return np.maximum(drawn, 0.0)
