"""What a flat frame should look like, and the fit of it to one that was taken.

The model is ``lamp · cos^e · open(v) + bias``. Open is the engine's own open fraction of the pupil behind what is
placed, of which one thing may differ (`Change`). The lamp is of second order over the frame. The natural falloff has an
exponent of its own, 4 by the cos⁴ law: of a lens by the angle in the field, behind a telescope by the angle at the
sensor. The bias was not taken off. Lamp, exponent and bias are held near what is usual. It is fitted by damped least
squares (Levenberg and Marquardt; Press et al., *Numerical Recipes*, from memory) to the medians of cells.
"""

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property
from itertools import product

import numpy as np

from farrail.optics.clipping import Array, open_fraction_each
from farrail.optics.illumination import illumination_at
from farrail.optics.pupils import ApertureImage, Pupil, project
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.readouts.light.aperture_images import ImagedAperture

STEPS, DAMPING = 40, 1e-3
# A step that gains less than this share of what is left is the last: of a fit that is kept, and of one of a search.
FINE, ROUGH = 1e-4, 2e-3
WORST_CONDITION = 1e7
# How far out an interval is followed: so many times, half as far again each time; a width at least by so much.
FOLLOWED, LEAST_STEP_MM = 10, 0.01
# It begins a little beyond where the deviations end: there it usually is outside.
BEYOND_ENDS = 1.1
# Neighbouring cells err alike where the model leaves something out: by so much the deviations are widened. Of flats
# made ray by ray 91 % place inside the 95 % interval without it (tests/frames).
INFLATED = 1.3
# A cell stands for its middle, and light falls along a curve: a width is off by such a share of itself at least.
CELL_OFF = 0.001
STEP = np.array([0.02, 0.02, 0.02, 0.05, *[1e-3] * 6, 1e-3])
# Where the values are: three of the change, the falloff's exponent, the lamp's level, slopes and curvatures, the bias.
FALLOFF, LEVEL, BIAS, COUNT = 3, 4, 10, 11
LAMP = slice(LEVEL, BIAS)
# How far lamps slope and curve over half a diagonal, as shares of the level, and how large a bias is; common practice,
# no source.
SLOPE, CURVATURE, LEAST_BIAS = 0.10, 0.03, 0.05
# The exponent of the falloff, how far it is usually off, and its ends: of a lens in its field, behind a telescope.
LENS_FALLOFF, TELESCOPE_FALLOFF = (4.0, 2.0, 2.0, 6.0), (4.0, 2.0, 0.0, 5.0)
# Where a search begins: radii against what the corner needs, shifts of the pupil and of a cover in mm.
RADII = np.concatenate([np.linspace(0.45, 0.7, 6), np.linspace(0.72, 1.06, 15)])
EXITS, NEAREST_PUPIL_MM = np.linspace(-3.0, 6.0, 10), 20.0
DEPTHS, REACHES = np.linspace(-12.0, 12.0, 9), np.linspace(-5.0, 5.0, 11)
# No opening is narrower than this, nor farther off the axis.
LEAST_RADIUS_MM, MOST_ASIDE_MM = 0.5, 8.0
# Light that is uneven in any smooth way is a polynomial of this order.
SMOOTH_ORDER = 4
# An exponent shown no better than this is not shown at all; nor is one whose law takes less than this share of the
# corner.
MOST_FALLOFF, LEAST_FALLOFF, WIDE_FALLOFF = 4.0, 0.02, 0.3


class Change(StrEnum):
    """What may differ from the train as it is placed; with it what the first values mean."""

    # Nothing.
    NOTHING = "nothing"
    # One round opening: half its width, its centre right and up.
    OPENING = "opening"
    # Where the entrance pupil is: by how much deeper.
    DEPTH = "depth"
    # A cover at the frame's edge: by how much farther from the axis it is.
    REACH = "reach"
    # Where the exit pupil is: by how much 1/L is more, a metre.
    EXIT = "exit"


FREE = {Change.NOTHING: (0, 0, 0), Change.OPENING: (1, 1, 1), Change.DEPTH: (1, 0, 0), Change.REACH: (1, 0, 0),
        Change.EXIT: (1, 0, 0)}  # fmt: skip


@dataclass(frozen=True)
class FlatModel:
    """What a flat should look like.

    Attributes:
        pupil: the pupil looked into.
        places: where the light is looked at, (K, 2).
        others: what is in the way as the train has it.
        change: what may differ.
        imaged: the aperture that may.
        in_field: whether the falloff goes by the angle in the field, as a lens's does.
        reach_mm: how far out the lamp's slopes and curvatures are counted; None: to the farthest place.
    """

    pupil: Pupil
    places: Array
    others: tuple[ApertureImage, ...] = ()
    change: Change = Change.NOTHING
    imaged: ImagedAperture | None = None
    in_field: bool = False
    reach_mm: float | None = None

    @cached_property
    def heights(self) -> Array:
        """Image heights."""
        return np.asarray(np.hypot(self.places[:, 0], self.places[:, 1]))

    @cached_property
    def lever(self) -> float:
        """The exit pupil's distance, for the falloff; never so near that it has no meaning."""
        lever = self.pupil.exit_distance_mm
        return lever if math.isfinite(lever) and abs(lever) > float(self.heights.max()) else 1e6

    @cached_property
    def cosine(self) -> Array:
        """The cosine that the falloff is a power of, at each place."""
        if self.in_field:
            angle = self.pupil.directions.angles(self.heights, self.pupil.focal_length_mm)
            return np.asarray(np.maximum(np.cos(angle), 1e-3))
        return np.asarray((1.0 + (self.heights / self.lever) ** 2) ** -0.5)

    @property
    def falls_off(self) -> float:
        """How much of the light the cos⁴ law takes in the corner: where that is next to nothing no frame says more."""
        return 1.0 - float(self.cosine.min()) ** 4

    @property
    def usual_falloff(self) -> tuple[float, float, float, float]:
        """The usual exponent, how far it is usually off, and its ends."""
        return LENS_FALLOFF if self.in_field else TELESCOPE_FALLOFF

    def at(self, v: Array) -> Array:
        """Return the light at each place."""
        return np.asarray(self.shape(v) * (self.lamp @ v[LAMP]) + v[BIAS])

    @property
    def across_and_up(self) -> tuple[Array, Array]:
        """Places as shares of how far out the lamp is counted."""
        reach = float(self.heights.max()) if self.reach_mm is None else self.reach_mm
        return self.places[:, 0] / reach, self.places[:, 1] / reach

    @cached_property
    def lamp(self) -> Array:
        """What level, slopes and curvatures of the lamp weigh at each place, (K, 6)."""
        x, y = self.across_and_up
        return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=1)

    def usual(self, v: Array) -> tuple[Array, Array]:
        """Return how far values are from what is usual, in deviations, and what each weighs there, (7, 11)."""
        middle, off, _, _ = self.usual_falloff
        level = max(abs(float(v[LEVEL])), 1e-9)
        weigh = np.zeros((7, COUNT))
        numbers = [FALLOFF, *range(LEVEL + 1, COUNT)]
        offs = [off, *[SLOPE * level] * 2, *[CURVATURE * level] * 3, LEAST_BIAS * level]
        for row, (number, deviation) in enumerate(zip(numbers, offs, strict=True)):
            weigh[row, number] = 1.0 / deviation
        centre = np.zeros(COUNT)
        centre[FALLOFF] = middle
        return weigh @ (v - centre), weigh

    def within(self, v: Array) -> Array:
        """Return values that can be."""
        _, _, least, most = self.usual_falloff
        v[FALLOFF] = min(max(v[FALLOFF], least), most)
        v[BIAS] = max(v[BIAS], -0.05)
        if self.change is Change.OPENING:
            v[0] = max(v[0], LEAST_RADIUS_MM)
            v[1:FALLOFF] = np.clip(v[1:FALLOFF], -MOST_ASIDE_MM, MOST_ASIDE_MM)
        return v

    def shape(self, v: Array) -> Array:
        """Return falloff times the open share of the pupil."""
        lit = self.cosine ** v[FALLOFF]
        changed = self.changed(v)
        if self.change is Change.OPENING and changed is not None and not self.others:
            return np.asarray(lit * _open(self.pupil, changed, self.places))
        others = self.others
        if self.change is Change.DEPTH:
            others = tuple(
                replace(one, distance_mm=max(one.distance_mm + float(v[0]), 0.5)) if one.front else one
                for one in others
            )
        images = list(others) if changed is None else [changed, *others]
        pupil = self.pupil if self.change is not Change.EXIT else self.pupil_with(v)
        return np.asarray(lit * illumination_at(pupil, images, self.places)) if images else np.asarray(lit)

    def pupil_with(self, v: Array) -> Pupil:
        """Return the pupil with its exit moved; no nearer than a lens has it, and telecentric at the farthest."""
        per_mm = min(max(self.pupil.convergence_per_mm + float(v[0]) / 1000.0, 1e-6), 1.0 / NEAREST_PUPIL_MM)
        return replace(self.pupil, exit_distance_mm=1.0 / per_mm)

    def changed(self, v: Array) -> ApertureImage | None:
        """Return the aperture as values have it; None where none may differ."""
        if self.imaged is None:
            return None
        image = self.imaged.image
        if self.change is Change.REACH:
            x, y = image.centre_mm
            far = math.hypot(x, y)
            share = max(far + float(v[0]), 0.0) / far
            return replace(image, centre_mm=(x * share, y * share))
        return replace(image, radius_mm=max(float(v[0]), 0.05), centre_mm=(float(v[1]), float(v[2])), passes=None)

    def begins(self) -> list[float]:
        """Return where the first value's search may begin."""
        if self.change is Change.OPENING and self.imaged is not None:
            return [*(RADII * self.imaged.needed_mm / 2.0), self.imaged.image.radius_mm]
        return list({Change.DEPTH: DEPTHS, Change.REACH: REACHES, Change.EXIT: EXITS}.get(self.change, np.zeros(1)))


def _open(pupil: Pupil, image: ApertureImage, places: Array) -> Array:
    """Return the open fraction of the pupil behind one round aperture anywhere, exactly: two discs that overlap."""
    seen = project(pupil, [image], places)
    return open_fraction_each(seen.centre_x, seen.centre_y, seen.half_width, obstruction=pupil.obstruction)[:, 0]


@dataclass(frozen=True)
class Fitted:
    """A fit.

    Attributes:
        values: of the model.
        deviations: of each; zero where it was not free.
        misfit: root mean square of what stays unexplained, as a share of the middle.
        left: the same against how far each place may be off: 1 where only noise is left.
        falloff_shown: whether the frame says the falloff.
        others: what was in the way as the train has it.
        chi: squared deviations that are left, of the cells and of what is usual.
    """

    values: Array
    deviations: Array
    misfit: float
    left: float
    falloff_shown: bool
    others: tuple[ApertureImage, ...] = ()
    chi: float = 0.0


def _begun(model: FlatModel, share: Array, sigma: Array) -> Array:
    """Return where to begin: of the values the first may have the one that fits best, the lamp solved for."""
    best: tuple[float, Array] | None = None
    usual = model.usual_falloff[0]
    # Of a wide lens the exponent matters as much: it is begun at several.
    exponents = (2.5, 3.25, usual, 5.0) if model.falls_off > WIDE_FALLOFF else (usual,)
    for first, exponent in product(model.begins(), exponents):
        v = np.zeros(COUNT)
        v[0], v[FALLOFF], v[LEVEL] = first, exponent, 1.0
        tried = begun_from(model, share, sigma, v)
        if best is None or tried[0] < best[0]:
            best = tried
    assert best is not None
    return best[1]


def begun_from(model: FlatModel, share: Array, sigma: Array, values: Array) -> tuple[float, Array]:
    """Return what values leave, in squared deviations, and the values with the lamp that suits them best."""
    v = values.copy()
    _, weigh = model.usual(v)
    matrix = np.vstack([(model.lamp * model.shape(v)[:, None]) / sigma[:, None], weigh[:, LAMP]])
    wanted = np.concatenate([share / sigma, np.zeros(7)])
    v[LAMP] = np.linalg.lstsq(matrix, wanted, rcond=None)[0]
    return float(((matrix @ v[LAMP] - wanted) ** 2).sum()), v


def fit(
    model: FlatModel, share: Array, sigma: Array, begin: Fitted | None = None, held: int | None = None,
    enough: float = FINE,
) -> Fitted | None:  # fmt: skip
    """Fit a model by damped least squares; None where it runs away.

    Args:
        model: what the flat should look like.
        share: light of each place against the middle, (K,).
        sigma: how far each may be off, (K,).
        begin: a fit to begin from.
        held: the value that stays as it begins.
        enough: a step that gains less than this share of what is left is the last.
    """
    shows_falloff = model.falls_off > LEAST_FALLOFF
    free = np.array([*map(bool, FREE[model.change]), shows_falloff, *[True] * (COUNT - LEVEL)], dtype=bool)
    if held is not None:
        free[held] = False
    values = _begun(model, share, sigma) if begin is None else begin.values.copy()
    damping, here = DAMPING, model.at(values)
    off, weigh = model.usual(values)
    chi = _chi(here, share, sigma, off)
    jacobian = np.zeros((share.size, values.size))
    for _ in range(STEPS):
        jacobian[:, LAMP] = model.shape(values)[:, None] * model.lamp
        jacobian[:, BIAS] = 1.0
        for number in np.flatnonzero(free[:LEVEL]):
            moved = values.copy()
            moved[number] += STEP[number]
            jacobian[:, number] = (model.at(moved) - here) / STEP[number]
        a = np.vstack([jacobian[:, free] / sigma[:, None], weigh[:, free]])
        b = np.concatenate([(share - here) / sigma, -off])
        normal, wanted = a.T @ a, a.T @ b
        better = False
        for _ in range(6):
            damped = normal + damping * np.diag(np.maximum(np.diag(normal), 1e-12))
            tried = values.copy()
            tried[free] += np.clip(np.linalg.lstsq(damped, wanted, rcond=None)[0], -5.0, 5.0)
            tried = model.within(tried)
            there, there_off = model.at(tried), model.usual(tried)[0]
            new = _chi(there, share, sigma, there_off)
            if np.isfinite(new) and new < chi:
                better = chi - new > enough * chi + 1e-9
                values, here, chi, off, damping = tried, there, new, there_off, damping / 5.0
                break
            damping *= 5.0
        if not better:
            break
    if not math.isfinite(chi):
        return None
    weighted = np.vstack([jacobian[:, free] / sigma[:, None], weigh[:, free]])
    normal = weighted.T @ weighted
    lengths = np.sqrt(np.maximum(np.diag(normal), 1e-30))
    inverse = np.linalg.pinv(normal / np.outer(lengths, lengths), rcond=1.0 / WORST_CONDITION)
    seen = float((((here - share) / sigma) ** 2).sum())
    widen = max(1.0, seen / max(share.size - int(free.sum()), 1))
    deviations = np.zeros(COUNT)
    deviations[free] = INFLATED * np.sqrt(np.maximum(np.diag(inverse), 0.0) * widen) / lengths
    misfit = float(np.sqrt(np.mean((here - share) ** 2)))
    left = math.sqrt(seen / share.size)
    shown = shows_falloff and bool(deviations[FALLOFF] < MOST_FALLOFF)
    return Fitted(values, deviations, misfit, left, shown, model.others, chi)


def ends_of(model: FlatModel, share: Array, sigma: Array, fitted: Fitted, number: int) -> tuple[float, float]:
    """Return the ends between which a value is with 95 %, all others free: where what is left grows by so much.

    Where an edge hides behind another opening the deviations of a fit are those of one side alone; followed outward, a
    value goes as far as nothing speaks against it (the profile of the likelihood; Press et al., from memory).

    Args:
        model: what was fitted.
        share: light of each place against the middle, (K,).
        sigma: how far each may be off, (K,).
        fitted: the fit.
        number: of the value.
    """
    widen = max(1.0, fitted.left**2)
    most = fitted.chi + (TWO_SIDED_95 * INFLATED) ** 2 * widen
    ends = []
    for way in (-1.0, 1.0):
        inside, step = 0.0, max(BEYOND_ENDS * TWO_SIDED_95 * float(fitted.deviations[number]), LEAST_STEP_MM)
        here = fitted
        for _ in range(FOLLOWED):
            values = here.values.copy()
            values[number] = fitted.values[number] + way * step
            there = fit(model, share, sigma, replace(here, values=values), held=number, enough=ROUGH)
            if there is None or there.chi >= most:
                break
            inside, here, step = step, there, step * 1.5
        # Between the last place inside and the first outside it grows with the square of the way.
        ends.append(float(fitted.values[number]) + way * (step if inside == 0.0 else (inside + step) / 2.0))
    return ends[0], ends[1]


def _chi(here: Array, share: Array, sigma: Array, off: Array) -> float:
    """Return what is left in squared deviations, of the cells and of what is usual."""
    return float((((here - share) / sigma) ** 2).sum() + (off**2).sum())


def smooth_left(model: FlatModel, share: Array, sigma: Array) -> tuple[float, float]:
    """Return what light that is uneven in any smooth way, behind no part, leaves: as a share, and against the noise.

    Args:
        model: the falloff alone, behind no opening that differs.
        share: light of each place against the middle, (K,).
        sigma: how far each may be off, (K,).
    """
    x, y = model.across_and_up
    terms = [x**i * y**j for i in range(SMOOTH_ORDER + 1) for j in range(SMOOTH_ORDER + 1 - i)]
    v = np.zeros(COUNT)
    v[FALLOFF] = model.usual_falloff[0]
    matrix = np.stack(terms, axis=1) * model.shape(v)[:, None]
    found = np.linalg.lstsq(matrix / sigma[:, None], share / sigma, rcond=None)[0]
    left = matrix @ found - share
    return float(np.sqrt(np.mean(left**2))), float(np.sqrt(np.mean((left / sigma) ** 2)))
