"""From light to a photo: exposure, full well, noise, 14 bits and the curve of a screen.

A metered patch lands at q·K/(100·Hs) of saturation: the meter sets t = K·N²/(L·S) with K = 12.5 (ISO 2720), the sensor
gets H = q·L·t/N² with q = 0.65 and saturates at Hs = 78/S (ISO 12232); all from memory. Luminance and speed cancel.
"""

from functools import lru_cache

import numpy as np

from farrail.preview.noise import Plane

METER_K, IMAGE_Q, SATURATION = 12.5, 0.65, 78.0
# A metered patch against a full pixel.
MIDDLE = IMAGE_Q * METER_K / SATURATION
# Where a metered patch is shown on a screen: a grey card.
SHOWN_GREY = 0.18
# Electrons a square micrometre of a full pixel holds, and noise of reading one; common practice, no source.
FULL_E_PER_UM2, READ_NOISE_E = 1800.0, 3.0
USUAL_ISO, USUAL_PIXEL_UM = 100.0, 4.0
BITS = 14
# Less than this many times its noise a pixel shows nothing.
LEAST_SIGNAL = 2.0
SHOULDER = 0.7
# So many rows are developed at a time, with noise read from a table of so many values.
STRIP_ROWS, DEVIATES = 32, 300_000


def developed(light: Plane, full_e: float, pixels: float, seed: int) -> Plane:
    """Return a photo for a screen: shot noise, read noise, full well, 14 bits, and the curve; 0 to 255.

    Args:
        light: exposures as shares of a full pixel; (rows, columns, 3).
        full_e: electrons of a full pixel at the sensitivity used.
        pixels: how many of the sensor's pixels are in one of the picture's.
        seed: of the noise: the same picture twice is the same.
    """
    dice, table = np.random.default_rng(seed), _deviates(seed)
    found = np.empty(light.shape, dtype=np.uint8)
    steps_e = np.float32(_STEPS / full_e)
    for top in range(0, len(light), STRIP_ROWS):
        electrons = light[top : top + STRIP_ROWS] * np.float32(full_e)
        # As many deviates as there are values, from a place of their own in the table for each strip.
        start = int(dice.integers(len(table) - electrons.size)) if electrons.size < len(table) else 0
        noise = np.maximum(electrons, np.float32(0.0))
        noise += np.float32(READ_NOISE_E**2)
        np.sqrt(noise, out=noise)
        noise *= np.float32(1.0 / np.sqrt(max(pixels, 1.0)))
        noise *= np.resize(table[start : start + electrons.size], electrons.shape)
        electrons += noise
        electrons *= steps_e
        electrons += np.float32(0.5)
        np.clip(electrons, 0, _STEPS, out=electrons)
        _CURVE.take(electrons.astype(np.uint16), out=found[top : top + STRIP_ROWS])
    return found


@lru_cache(maxsize=1)
def _deviates(seed: int) -> Plane:
    return np.random.default_rng(seed).standard_normal(DEVIATES, dtype=np.float32)


def lost(light: Plane, full_e: float) -> Plane:
    """Return where no colour of a pixel rises above its noise, (rows, columns)."""
    electrons = np.maximum(light, 0.0).max(axis=-1) * full_e
    found: Plane = electrons < LEAST_SIGNAL * np.sqrt(electrons + READ_NOISE_E**2)
    return found


def shown(recorded_light: Plane) -> Plane:
    """Return values for a screen, 0 to 255: a soft shoulder, then the standard curve (IEC 61966-2-1)."""
    steps = recorded_light * np.float32(_STEPS)
    steps += np.float32(0.5)
    np.clip(steps, 0, _STEPS, out=steps)
    found: Plane = _CURVE.take(steps.astype(np.uint16))
    return found


def _curve() -> Plane:
    light = np.arange(_STEPS + 1) / _STEPS * SHOWN_GREY / MIDDLE
    most = SHOWN_GREY / MIDDLE
    bent = (1.0 - np.exp(-(light - SHOULDER) / (1.0 - SHOULDER))) / (
        1.0 - np.exp(-(most - SHOULDER) / (1.0 - SHOULDER))
    )
    value = np.where(light < SHOULDER, light, SHOULDER + (1.0 - SHOULDER) * bent)
    coded = np.where(value <= 0.0031308, 12.92 * value, 1.055 * np.maximum(value, 1e-9) ** (1.0 / 2.4) - 0.055)
    values: Plane = np.round(np.clip(coded, 0.0, 1.0) * 255.0).astype(np.uint8)
    return values


_STEPS = 2**BITS - 1
_CURVE = _curve()
