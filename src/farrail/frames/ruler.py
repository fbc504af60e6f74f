"""A millimetre rule in a frame: how far its marks are apart, and so how wide the field is.

The marks repeat along the rule: the strongest period of the brightness along the line is one division. It is sought
with a Fourier transform and refined by the parabola through its peak.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.frames.estimate import Estimate
from farrail.frames.picture import Picture
from farrail.optics.clipping import Array

LEAST_MARKS, LEAST_PERIOD_PX = 5, 3.0
# The period found must be out of the others by so much.
STANDS_OUT = 6.0
# Strips whose period is less clear than this share of the clearest one's say of something else.
STRONG = 0.25
STRIPS, LEAST_STRIPS = 24, 2


@dataclass(frozen=True)
class RulerReading:
    """What a rule says.

    Attributes:
        period_px: from mark to mark, pixels along the rule.
        angle_deg: how far the rule is turned from the picture's width.
        width_mm: how wide the field is.
        magnification: image over subject.
        marks: how many marks were counted on.
    """

    period_px: float
    angle_deg: float
    width_mm: Estimate
    magnification: Estimate
    marks: float


def read_ruler(
    picture: Picture, width_mm: float, division_mm: float = 1.0, ends: tuple[float, float, float, float] | None = None
) -> RulerReading | None:
    """Return what a rule in the picture says; None where no marks are found.

    Args:
        picture: the frame.
        width_mm: how wide the sensor is.
        division_mm: how far the rule's marks are apart.
        ends: a line along the marks, x and y of two points in pixels; None: the picture's rows and columns are tried.
    """
    lines = [(_along(picture, ends), _angle(ends), 1)] if ends is not None else _strips(picture)
    found = []
    for profile, angle, _ in lines:
        told = _period(profile)
        if told is not None:
            found.append((told[2], told[0], told[1], angle))
    if not found:
        return None
    # Every fifth and tenth mark is longer: strips that meet only those say a multiple. The shortest period that more
    # than one strip says is a division.
    strongest = max(found)
    found = [one for one in found if one[3] == strongest[3] and one[0] >= STRONG * strongest[0]]
    found.sort(key=lambda one: one[1])
    alike: list[tuple[float, float, float, float]] = []
    for first in found:
        near = [one for one in found if abs(one[1] - first[1]) < 0.04 * first[1]]
        if len(near) >= min(LEAST_STRIPS, len(lines)):
            alike = near
            break
    if not alike:
        return None
    best = max(alike)
    periods = np.array([one[1] for one in alike])
    period, off = float(np.median(periods)), float(np.median([one[2] for one in alike]))
    wide = picture.size[0]
    low, high = period - 2.0 * off, period + 2.0 * off
    field = Estimate(wide / period * division_mm, wide / high * division_mm, wide / low * division_mm)
    m = Estimate(width_mm / field.value, width_mm / field.high, width_mm / field.low)
    return RulerReading(period, best[3], field, m, wide / period)


def _angle(ends: tuple[float, float, float, float]) -> float:
    return math.degrees(math.atan2(-(ends[3] - ends[1]), ends[2] - ends[0]))


def _along(picture: Picture, ends: tuple[float, float, float, float]) -> Array:
    """Return brightness along a line, a pixel a step, averaged over seven pixels across."""
    x0, y0, x1, y1 = ends
    long = max(int(math.hypot(x1 - x0, y1 - y0)), 2)
    share = np.linspace(0.0, 1.0, long)
    across = np.array([-(y1 - y0), x1 - x0]) / max(math.hypot(x1 - x0, y1 - y0), 1e-9)
    rows = []
    for side in range(-3, 4):
        x = np.clip(np.round(x0 + (x1 - x0) * share + across[0] * side).astype(int), 0, picture.size[0] - 1)
        y = np.clip(np.round(y0 + (y1 - y0) * share + across[1] * side).astype(int), 0, picture.size[1] - 1)
        rows.append(picture.light[y, x])
    return np.asarray(np.mean(rows, axis=0), dtype=float)


def _strips(picture: Picture) -> list[tuple[Array, float, int]]:
    """Return brightness along strips of the picture, across it and up it."""
    found = []
    for turned, angle in ((False, 0.0), (True, 90.0)):
        light = picture.light.T if turned else picture.light
        high = light.shape[0] // STRIPS or 1
        for number in range(min(STRIPS, light.shape[0] // high)):
            strip = light[number * high : (number + 1) * high]
            found.append((np.asarray(strip.mean(axis=0), dtype=float), angle, high))
    return found


def _period(profile: Array) -> tuple[float, float, float] | None:
    """Return the period, how far it may be off, and how clear it is; None without one."""
    count = profile.size
    if count < LEAST_MARKS * LEAST_PERIOD_PX:
        return None
    # Slow changes of the light are no marks.
    window = max(count // 12, 9) | 1
    padded = np.pad(profile, window // 2, mode="edge")
    smooth = np.convolve(padded, np.ones(window) / window, mode="valid")
    shape = (profile - smooth) * np.hanning(count)
    if not np.any(shape):
        return None
    padded_to = 1 << math.ceil(math.log2(count * 8))
    spectrum = np.abs(np.fft.rfft(shape, padded_to))
    low, high = int(LEAST_MARKS * padded_to / count), int(padded_to / LEAST_PERIOD_PX)
    if high <= low + 2:
        return None
    band = spectrum[low:high]
    peak = int(np.argmax(band)) + low
    # Marks are thin: their overtones may be stronger than the period itself, but never twice as far apart.
    for part in (2, 3):
        under = peak // part
        if under >= low and spectrum[under - 2 : under + 3].max() > 0.4 * spectrum[peak]:
            peak = int(np.argmax(spectrum[under - 2 : under + 3])) + under - 2
            break
    stands = float(spectrum[peak] / (np.median(band) or 1e-12))
    if stands < STANDS_OUT:
        return None
    around = spectrum[peak - 1 : peak + 2]
    bend = around[0] - 2.0 * around[1] + around[2]
    fine = peak + (0.5 * (around[0] - around[2]) / bend if bend else 0.0)
    period = padded_to / fine
    # A frequency is shown to about √6/(π·√n·SNR) of a line width; SNR from how clear the peak is.
    # Both ends together are shown no better than to a pixel.
    off = max(period * period / count * 2.0 / max(stands, 1.0), period * 0.5 / count)
    return float(period), float(off), stands
