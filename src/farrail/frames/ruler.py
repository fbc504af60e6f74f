"""A millimetre rule in a frame: how far its marks are apart, and so how wide the field is.

The marks repeat along the rule: the strongest period of the brightness along the line is one division. It is sought
with a Fourier transform. Then the phase of that period is followed along each strip: a rule seen at an angle has marks
closer at one end (a phase that bends), one that is turned has them shifted from strip to strip.
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
# A rule farther off than this is to be squared up.
MOST_TURNED_DEG, MOST_PERSPECTIVE = 3.0, 0.03
# Periods nearer to each other than this share are one.
NEAR_PERIOD = 0.04
# A rule that is larger on one side says so by so many deviations.
SURE_TREND = 4.0
# The phase is averaged over so many marks, and read over this share of a strip's length.
MARKS_AT_ONCE, READ_SHARE = 4.0, 0.9


@dataclass(frozen=True)
class RulerReading:
    """What a rule says.

    Attributes:
        period_px: from mark to mark, pixels along the rule.
        angle_deg: how far the rule is turned from the picture's width.
        width_mm: how wide the field is.
        magnification: image over subject.
        marks: how many marks were counted on.
        turned_deg: how far the marks are turned against the picture's columns.
        perspective: how much larger the rule is at one end or side of the picture than at the other, as a share.
    """

    period_px: float
    angle_deg: float
    width_mm: Estimate
    magnification: Estimate
    marks: float
    turned_deg: float = 0.0
    perspective: float = 0.0

    @property
    def askew(self) -> bool:
        """Whether the rule is so far from square that it should be placed again."""
        return abs(self.turned_deg) > MOST_TURNED_DEG or self.perspective > MOST_PERSPECTIVE


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
    lines = [(_along(picture, ends), _angle(ends), 0.0)] if ends is not None else _strips(picture)
    found = []
    for profile, angle, middle in lines:
        period = _period(profile)
        if period is not None:
            found.append(_Line(*period, angle, middle, profile))
    if not found:
        return None
    # Every fifth and tenth mark is longer: strips that meet only those say a multiple. The shortest period that more
    # than one strip says is a division.
    strongest = max(found, key=lambda one: one.clear)
    found = [one for one in found if one.angle_deg == strongest.angle_deg and one.clear >= STRONG * strongest.clear]
    found.sort(key=lambda one: one.period_px)
    alike: list[_Line] = []
    for first in found:
        near = [one for one in found if abs(one.period_px - first.period_px) < NEAR_PERIOD * first.period_px]
        if len(near) >= min(LEAST_STRIPS, len(lines)):
            alike = near
            break
    if not alike:
        return None
    best = max(alike, key=lambda one: one.clear)
    read = _followed(alike, picture.size if best.angle_deg == 0.0 else picture.size[::-1], drawn=ends is not None)
    wide = picture.size[0]
    low, high = read.period_px - read.off_px, read.period_px + read.off_px
    field = Estimate(wide / read.period_px * division_mm, wide / high * division_mm, wide / low * division_mm)
    m = Estimate(width_mm / field.value, width_mm / field.high, width_mm / field.low)
    return RulerReading(
        read.period_px, best.angle_deg, field, m, wide / read.period_px, read.turned_deg, read.perspective
    )  # fmt: skip


@dataclass(frozen=True)
class _Line:
    """Brightness along a strip with the period in it."""

    clear: float
    period_px: float
    off_px: float
    angle_deg: float
    middle_px: float
    profile: Array


@dataclass(frozen=True)
class _Followed:
    """A period followed along all strips: at the picture's middle, square to the marks."""

    period_px: float
    off_px: float
    turned_deg: float
    perspective: float


def _followed(lines: list[_Line], size: tuple[int, int], *, drawn: bool) -> _Followed:
    """Follow the phase of a period along strips.

    Args:
        lines: strips that say the same period.
        size: the picture's extent along the strips and across them, pixels.
        drawn: whether a person drew one line along the rule: then it is square to the marks.
    """
    period = float(np.median([one.period_px for one in lines]))
    phases = np.array([_phase(line.profile, period) for line in lines])
    y = np.array([one.middle_px for one in lines])
    # Marks a pixel: at the middle of each strip, and how much more of them at its ends.
    rate = 1.0 / period + phases[:, 1] / (2.0 * math.pi)
    bend = float(np.median(np.abs(phases[:, 2]))) * size[0] / (2.0 * math.pi) * period
    slope, turned, trend, out = 0.0, 0.0, 0.0, 0.0
    middle, spread = float(np.median(rate)), 0.0
    if len(lines) > 2 and not drawn:
        # From strip to strip the phase grows by less than half a turn, where the rule is not turned far.
        slope = float(np.polyfit(y, np.unwrap(phases[:, 0]), 1)[0])
        turned = math.atan(slope / (2.0 * math.pi * middle))
        fitted = np.polyfit(y - size[1] / 2.0, rate, 1)
        left = rate - np.polyval(fitted, y - size[1] / 2.0)
        unsure = float(np.std(left)) / max(math.sqrt(float(((y - y.mean()) ** 2).sum())), 1e-9)
        grows = float(fitted[0])
        trend = abs(grows) * size[1] / middle if abs(grows) > SURE_TREND * unsure else 0.0
        # The picture's middle may be beyond the strips that show marks.
        out = abs(float(fitted[1]) - float(np.mean(rate))) / middle
        middle = float(fitted[1]) if len(lines) > 4 else middle
        spread = 2.0 * float(np.std(left)) / math.sqrt(len(lines)) / middle
    share = math.hypot(
        float(np.median([one.off_px for one in lines])) / period, spread, 0.5 * out, 0.25 * bend, 0.2 * trend
    )
    period = math.cos(turned) / middle
    return _Followed(period, 2.0 * share * period, math.degrees(turned), max(bend, trend))


def _phase(profile: Array, period: float) -> Array:
    """Return the phase of a period along a strip against its middle: at the middle, its slope and its bend a pixel."""
    count = profile.size
    window = max(count // 12, 9) | 1
    padded = np.pad(profile, window // 2, mode="edge")
    shape = profile - np.convolve(padded, np.ones(window) / window, mode="valid")
    u = np.arange(count) - (count - 1) / 2.0
    turning = shape * np.exp(-2j * math.pi * u / period)
    smooth = max(int(MARKS_AT_ONCE * period), 3) | 1
    kernel = np.hanning(smooth + 2)[1:-1]
    slow = np.convolve(turning, kernel / kernel.sum(), mode="same")
    inner = np.abs(u) < READ_SHARE * count / 2.0 - smooth / 2.0
    if inner.sum() < 8:
        return np.zeros(3)
    bend, slope, at = np.polyfit(u[inner], np.unwrap(np.angle(slow[inner])), 2)
    return np.array([at, slope, bend])


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


def _strips(picture: Picture) -> list[tuple[Array, float, float]]:
    """Return brightness along strips of the picture, across it and up it, with where the middle of each is."""
    found = []
    for turned, angle in ((False, 0.0), (True, 90.0)):
        light = picture.light.T if turned else picture.light
        high = light.shape[0] // STRIPS or 1
        for number in range(min(STRIPS, light.shape[0] // high)):
            strip = light[number * high : (number + 1) * high]
            found.append((np.asarray(strip.mean(axis=0), dtype=float), angle, (number + 0.5) * high))
    return found


def _period(profile: Array) -> tuple[float, float, float] | None:
    """Return how clear a period is, the period, and how far it may be off; None without one."""
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
    prominence = float(spectrum[peak] / (np.median(band) or 1e-12))
    if prominence < STANDS_OUT:
        return None
    around = spectrum[peak - 1 : peak + 2]
    bend = around[0] - 2.0 * around[1] + around[2]
    fine = peak + (0.5 * (around[0] - around[2]) / bend if bend else 0.0)
    period = padded_to / fine
    # A frequency is shown to about √6/(π·√n·SNR) of a line width; SNR from how clear the peak is.
    # Both ends together are shown no better than to a pixel.
    off = max(period * period / count * 2.0 / max(prominence, 1.0), period * 0.5 / count)
    return prominence, float(period), float(off)
