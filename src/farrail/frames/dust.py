"""Dust in a flat: the shadow of a mote is the pupil's shape, as wide as it is far from the sensor.

A mote d wide at the reduced distance x before the sensor throws a ring of outer diameter ``x/N + d`` and, behind an
obstructed pupil, a hole of ``ε·x/N − d``: ``x = N (D_out + D_in)/(1 + ε)``. Source: similar triangles; docs/models.md.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from farrail.errors import BadInput
from farrail.frames.estimate import Estimate
from farrail.frames.picture import Light, Picture
from farrail.language import say
from farrail.optics.clipping import Array
from farrail.parts.in_beam import GlassRole
from farrail.readouts.read import Readout
from farrail.train.placed import Place

# A shadow is darker than its surroundings by so many deviations of the noise, and at least so large.
THRESHOLD, LEAST_PIXELS, LEAST_ACROSS_PX = 3.0, 40, 6.0
MOST_MOTES = 60
# A flat is looked at in about so many columns: shadows are large, and averaged pixels make less noise.
LOOKED_AT_COLUMNS = 450
# So far off an outline is read, in pixels.
EDGE_OFF_PX = 1.5
# A shadow that fades over more of its width has no clear outline; the hole of an obstructed pupil is shown to so much.
MOST_FADING, HOLE_OFF, LEAST_HIDDEN = 0.4, 0.12, 0.12
# Of a shadow less deep than this the outline is the less certain the fainter it is.
FAINT_DEPTH = 0.01
# An outline drawn by hand is off by such a share of its width.
DRAWN_OFF = 0.08
# Shadows within so many of their own widths are the same mote in another frame.
SAME = 0.5


@dataclass(frozen=True)
class Mote:
    """One shadow.

    Attributes:
        column: middle, pixels from the picture's left.
        row: middle, pixels from its top.
        outer_mm: its outer diameter on the sensor.
        inner_mm: its hole's; 0 without one.
        depth: how much darker its ring is, as a share.
        fade_mm: over how much its edge fades.
        drawn: whether a person drew its outline: then it is as sharp as the person says, and its hole is not known.
    """

    column: float
    row: float
    outer_mm: float
    inner_mm: float
    depth: float
    fade_mm: float = 0.0
    drawn: bool = False

    def meets(self, other: "Mote", step_mm: float) -> bool:
        """Whether its middle is inside another's outline; `step_mm` is the size of a pixel."""
        return math.hypot(self.column - other.column, self.row - other.row) * step_mm < other.outer_mm / 2.0


@dataclass(frozen=True)
class Surface:
    """A glass surface of the train.

    Attributes:
        part: whose.
        name: its part's name.
        place: where it is.
        front: whether it is the surface the light meets first.
        role: what glass it is.
        distance_mm: reduced, before the sensor.
    """

    part: str
    name: str
    place: Place
    front: bool
    role: GlassRole
    distance_mm: float


@dataclass(frozen=True)
class DustReading:
    """A mote with where it is.

    Attributes:
        mote: the shadow.
        distance_mm: before the sensor, reduced.
        surfaces: the surfaces it may be on, the likeliest first.
        sure: whether its outline is that of the pupil: sharp enough, with the hole an obstructed pupil leaves.
    """

    mote: Mote
    distance_mm: Estimate
    surfaces: tuple[Surface, ...]
    sure: bool


def find_motes(picture: Picture, width_mm: float) -> tuple[Mote, ...]:
    """Return the shadows in a flat, the deepest first.

    Args:
        picture: the flat.
        width_mm: how wide the sensor is.
    """
    import sep

    shrunk = max(picture.size[0] // LOOKED_AT_COLUMNS, 1)
    data = _averaged(np.nan_to_num(picture.light), shrunk)
    share = (1.0 - data / np.maximum(_smooth(data), 1e-6)).astype(np.float32)
    shade = _smoothed(share)
    noise = 1.4826 * float(np.median(np.abs(shade - np.median(shade)))) or 1e-6
    try:
        found = sep.extract(
            np.ascontiguousarray(shade), THRESHOLD, err=noise, minarea=LEAST_PIXELS, deblend_cont=1.0,
            filter_kernel=None,
        )  # fmt: skip
    except Exception as error:
        named = picture.name or say("that frame")
        raise BadInput(
            "No dust can be looked for in {named} ({error}); take another.", named=named, error=error
        ) from None
    step = width_mm / picture.size[0] * shrunk
    motes = [_mote(share, found[n], step, shrunk) for n in np.argsort(-found["npix"])[:MOST_MOTES]]
    whole = [mote for mote in motes if mote is not None]
    return tuple(sorted(whole, key=lambda mote: -mote.depth))


def _averaged(data: Light, times: int) -> Light:
    """Return a picture averaged over so many pixels a side."""
    rows, columns = data.shape[0] // times, data.shape[1] // times
    cut = data[: rows * times, : columns * times].reshape(rows, times, columns, times)
    return np.asarray(cut.mean(axis=(1, 3)), dtype=np.float32)


def _smooth(data: Light) -> Light:
    """Return what vignetting, lamp and falloff make of a flat: a smooth surface that goes through no shadow.

    Powers of the distance from the middle up to the eighth, and of both directions up to the third, fitted to every
    fourth pixel; what is far off the surface counts less and less (Tukey's biweight): dust does not pull it down.
    """
    rows, columns = data.shape
    y, x = np.mgrid[0:rows, 0:columns]
    u, v = (x / (columns - 1) - 0.5) * 2.0, (y / (rows - 1) - 0.5) * 2.0 * rows / columns
    r = u * u + v * v
    terms = [np.ones_like(u), u, v, u * v, u * u - v * v, r, r * u, r * v, r**2, r**3, r**4, u**3, v**3]
    whole = np.stack([term.ravel() for term in terms], axis=1)
    some = whole[::4]
    light = data.ravel()[::4].astype(float)
    weight = np.ones_like(light)
    solved = np.zeros(whole.shape[1])
    for _ in range(8):
        # Thirteen unknowns of some ten thousand pixels: their normal equations are solved in no time.
        heavy = some * (weight**2)[:, None]
        solved = np.linalg.lstsq(heavy.T @ some, heavy.T @ light, rcond=None)[0]
        left = light - some @ solved
        spread = 1.4826 * float(np.median(np.abs(left))) or 1e-6
        weight = np.clip(1.0 - (left / (4.0 * spread)) ** 2, 0.0, 1.0)
    return np.asarray((whole @ solved).reshape(data.shape), dtype=np.float32)


def _smoothed(data: Light) -> Light:
    """Return a picture averaged over 3 × 3 pixels."""
    padded = np.pad(data, 1, mode="edge")
    rows = padded[:-2] + padded[1:-1] + padded[2:]
    found: Light = (rows[:, :-2] + rows[:, 1:-1] + rows[:, 2:]) / 9.0
    return found


def _mote(share: Light, one: "np.void", step: float, shrunk: int) -> Mote | None:
    """Return a shadow from its profile about its middle; None where it is no disc."""
    left_px, right_px, top_px, bottom_px = (int(one[name]) for name in ("xmin", "xmax", "ymin", "ymax"))
    wide, high = right_px - left_px + 1, bottom_px - top_px + 1
    across = max(wide, high)
    cut_off = min(left_px, top_px) <= 1 or right_px >= share.shape[1] - 2 or bottom_px >= share.shape[0] - 2
    if across < LEAST_ACROSS_PX or min(wide, high) < 0.7 * across or cut_off:
        return None
    x, y = float(one["x"]), float(one["y"])
    reach = int(0.8 * across) + 4
    top, left = max(int(y) - reach, 0), max(int(x) - reach, 0)
    cut = share[top : int(y) + reach + 1, left : int(x) + reach + 1]
    rows, columns = np.mgrid[top : top + cut.shape[0], left : left + cut.shape[1]]
    bins = np.hypot(columns - x, rows - y).astype(int)
    counts = np.bincount(bins.ravel(), minlength=reach)[:reach]
    profile = np.bincount(bins.ravel(), cut.ravel(), minlength=reach)[:reach] / np.maximum(counts, 1)
    # Few pixels are near the middle, and an obstructed pupil leaves a hole there: the depth is the ring's.
    ring = profile[int(0.25 * across) : max(int(0.42 * across), int(0.25 * across) + 2)]
    ground = float(np.median(profile[-max(reach // 6, 2) :]))
    depth = float(np.median(ring)) - ground
    if depth <= 0.0:
        return None
    level = (profile - ground) / depth
    middle = int(0.33 * across)
    outside = _crossing(level, middle, 1, 0.5)
    if outside is None:
        return None
    inside = _crossing(level, middle, -1, 0.5)
    fades = [_crossing(level, middle, 1, at) for at in (0.8, 0.2)]
    fade = fades[1] - fades[0] if fades[0] is not None and fades[1] is not None else outside
    return Mote(
        (x + 0.5) * shrunk, (y + 0.5) * shrunk, 2.0 * outside * step,
        0.0 if inside is None else 2.0 * inside * step, depth, max(fade, 0.0) * step,
    )  # fmt: skip


def _crossing(level: Array, begin: int, way: int, at: float) -> float | None:
    """Return the radius at which a profile falls through a level, outward (1) or inward (−1); None: never."""
    number = begin
    while 0 <= number < level.size:
        if level[number] < at:
            here, there = level[number], level[number - way]
            share = (at - here) / (there - here) if there != here else 0.0
            return float(number + 0.5 - way * share)
        number += way
    return None


def surfaces_of(readout: Readout) -> tuple[Surface, ...]:
    """Return the glass surfaces on which dust throws a shadow, nearest the sensor first."""
    layout = readout.layout
    if layout.sensor_mm is None:
        return ()
    found = []
    for glass in layout.trace.glass:
        for front, z in ((True, glass.z_front_mm), (False, glass.z_front_mm + glass.glass.drawn_thickness_mm)):
            distance, _ = layout.first_order.seen_from_sensor(z)
            if distance > 0.0:
                found.append(Surface(glass.part.id, glass.part.name, glass.place, front, glass.role, float(distance)))
    return tuple(sorted(found, key=lambda surface: surface.distance_mm))


def looked_at_mm(picture: Picture, width_mm: float) -> float:
    """Return the size of a pixel as a flat is looked at for dust."""
    return width_mm / picture.size[0] * max(picture.size[0] // LOOKED_AT_COLUMNS, 1)


def read_mote(mote: Mote, readout: Readout, pixel_mm: float) -> DustReading:
    """Return where a mote is, and on which surface.

    Args:
        mote: its shadow.
        readout: the train.
        pixel_mm: size of a pixel as the flat is looked at, `looked_at_mm`.
    """
    pupil = readout.light.pupil
    n, hidden = pupil.f_number, pupil.obstruction
    # An edge that fades is read to a third of its fading.
    off = max(EDGE_OFF_PX * pixel_mm, mote.fade_mm / 3.0, DRAWN_OFF * mote.outer_mm if mote.drawn else 0.0)
    if not mote.drawn:
        # The noise moves the outline of a faint shadow by so much more.
        off *= max(FAINT_DEPTH / max(mote.depth, 1e-4), 1.0)
    if hidden > 0.0 and mote.inner_mm > 0.0:
        value = n * (mote.outer_mm + mote.inner_mm) / (1.0 + hidden)
        spread = n * math.hypot(off, off) / (1.0 + hidden)
        estimate = Estimate(value, max(value - spread, 0.0), value + spread)
    else:
        # Half the light is gone where the mote's edge is half over the pupil's: the mote's own width does not count.
        value, spread = n * mote.outer_mm, n * off
        estimate = Estimate(value, max(value - spread, 0.0), value + spread)
    every = surfaces_of(readout)
    near = [one for one in every if estimate.low - 0.3 <= one.distance_mm <= estimate.high + 0.3]
    ordered = sorted(near or every, key=lambda one: abs(one.distance_mm - value))
    sharp = mote.fade_mm < MOST_FADING * mote.outer_mm
    ring = abs(mote.inner_mm / mote.outer_mm - hidden) < HOLE_OFF if hidden > LEAST_HIDDEN else mote.inner_mm == 0.0
    sure = mote.drawn or (sharp and ring)
    return DustReading(mote, estimate, tuple(ordered[: 4 if near else 1]) if sure else (), sure)


def stayed(before: Sequence[Mote], after: Sequence[Mote], width_mm: float, columns: int) -> tuple[bool, ...]:
    """Return for each mote of one frame whether it is in the other too: then it is behind what moved.

    Args:
        before: motes of one frame.
        after: those of the other, with a filter or the camera turned between them.
        width_mm: how wide the sensor is.
        columns: how many pixels that is.
    """
    step = width_mm / columns
    found = []
    for mote in before:
        near = [
            math.hypot(mote.column - other.column, mote.row - other.row) * step < SAME * mote.outer_mm
            and abs(mote.outer_mm - other.outer_mm) < 0.25 * mote.outer_mm
            for other in after
        ]
        found.append(any(near))
    return tuple(found)
