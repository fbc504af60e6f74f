"""What a flat frame should look like, and the fit of it to one that was taken.

The model is ``A · (1 + g·p) · (1 + h²/L²)^(−e/2) · open(v)``: the engine's own open fraction of the pupil behind what
is placed, of which one thing may differ (`Change`), the lamp's gradient g over the frame, and a natural falloff with an
exponent of its own (4 by the cos⁴ law). It is fitted by damped least squares (Levenberg and Marquardt; Press et al.,
*Numerical Recipes*, from memory) to the medians of cells.
"""

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

import numpy as np

from farrail.optics.clipping import Array, open_fraction_each
from farrail.optics.illumination import illumination_at
from farrail.optics.pupils import ApertureImage, Pupil, project
from farrail.readouts.light.aperture_images import ImagedAperture

STEPS, DAMPING = 40, 1e-3
WORST_CONDITION = 1e7
# Neighbouring cells err alike where the model leaves something out: by so much the deviations are widened. Of flats
# made ray by ray 91 % place inside the 95 % interval without it (tests/frames).
INFLATED = 1.3
STEP = np.array([0.02, 0.02, 0.02, 0.05, 1e-3, 1e-3, 1e-3])
# Where a search begins: radii against what the corner needs, shifts of the pupil and of a cover in mm.
RADII, DEPTHS, REACHES = np.linspace(0.72, 1.06, 15), np.linspace(-12.0, 12.0, 9), np.linspace(-5.0, 5.0, 11)
# An exponent shown no better than this is not shown at all; nor is one whose law takes less than this share of the
# corner.
MOST_FALLOFF, LEAST_FALLOFF = 4.0, 0.02


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


FREE = {Change.NOTHING: (0, 0, 0), Change.OPENING: (1, 1, 1), Change.DEPTH: (1, 0, 0), Change.REACH: (1, 0, 0)}


@dataclass(frozen=True)
class FlatModel:
    """What a flat should look like: values are three of the change, then falloff, A, gx, gy.

    Attributes:
        pupil: the pupil looked into.
        places: where the light is looked at, (K, 2).
        others: what is in the way as the train has it.
        change: what may differ.
        imaged: the aperture that may.
    """

    pupil: Pupil
    places: Array
    others: tuple[ApertureImage, ...] = ()
    change: Change = Change.NOTHING
    imaged: ImagedAperture | None = None

    @cached_property
    def heights(self) -> Array:
        """Image heights."""
        return np.asarray(np.hypot(self.places[:, 0], self.places[:, 1]))

    @cached_property
    def lever(self) -> float:
        """The exit pupil's distance, for the falloff; never so near that it has no meaning."""
        lever = self.pupil.exit_distance_mm
        return lever if math.isfinite(lever) and abs(lever) > float(self.heights.max()) else 1e6

    @property
    def falls_off(self) -> float:
        """How much of the light the cos⁴ law takes in the corner: where that is next to nothing no frame says more."""
        return 2.0 * (float(self.heights.max()) / self.lever) ** 2

    def at(self, v: Array) -> Array:
        """Return the light at each place."""
        return np.asarray(self.shape(v) * (self.lamp() @ v[4:7]))

    def lamp(self) -> Array:
        """Return what A, A·gx and A·gy weigh at each place."""
        reach = float(self.heights.max())
        return np.stack([np.ones_like(self.heights), self.places[:, 0] / reach, self.places[:, 1] / reach], axis=1)

    def shape(self, v: Array) -> Array:
        """Return falloff times the open share of the pupil."""
        lit = (1.0 + (self.heights / self.lever) ** 2) ** (-v[3] / 2.0)
        changed = self._changed(v)
        if self.change is Change.OPENING and changed is not None and not self.others:
            return np.asarray(lit * _open(self.pupil, changed, self.places))
        others = self.others
        if self.change is Change.DEPTH:
            others = tuple(
                replace(one, distance_mm=max(one.distance_mm + float(v[0]), 0.5)) if one.front else one
                for one in others
            )
        images = list(others) if changed is None else [changed, *others]
        return np.asarray(lit * illumination_at(self.pupil, images, self.places)) if images else np.asarray(lit)

    def _changed(self, v: Array) -> ApertureImage | None:
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
        return list({Change.DEPTH: DEPTHS, Change.REACH: REACHES}.get(self.change, np.zeros(1)))


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
        falloff_told: whether the frame says the falloff.
        others: what was in the way as the train has it.
    """

    values: Array
    deviations: Array
    misfit: float
    left: float
    falloff_told: bool
    others: tuple[ApertureImage, ...] = ()


def _begun(model: FlatModel, share: Array, sigma: Array) -> Array:
    """Return where to begin: of the values the first may have the one that fits best, the lamp solved for."""
    best: tuple[float, Array] | None = None
    for first in model.begins():
        v = np.array([first, 0.0, 0.0, 4.0, 1.0, 0.0, 0.0])
        matrix = (model.lamp() * model.shape(v)[:, None]) / sigma[:, None]
        lamp = np.linalg.lstsq(matrix, share / sigma, rcond=None)[0]
        v[4:7] = lamp
        chi = float(((matrix @ lamp - share / sigma) ** 2).sum())
        if best is None or chi < best[0]:
            best = chi, v
    assert best is not None
    return best[1]


def fit(model: FlatModel, share: Array, sigma: Array, begin: Fitted | None = None) -> Fitted | None:
    """Fit a model by damped least squares; None where it runs away.

    Args:
        model: what the flat should look like.
        share: light of each place against the middle, (K,).
        sigma: how far each may be off, (K,).
        begin: a fit to begin from.
    """
    told = model.falls_off > LEAST_FALLOFF
    free = np.array([*map(bool, FREE[model.change]), told, True, True, True], dtype=bool)
    values = _begun(model, share, sigma) if begin is None else begin.values.copy()
    damping, here = DAMPING, model.at(values)
    chi = float((((here - share) / sigma) ** 2).sum())
    jacobian = np.zeros((share.size, values.size))
    for _ in range(STEPS):
        for number in np.flatnonzero(free):
            moved = values.copy()
            moved[number] += STEP[number]
            jacobian[:, number] = (model.at(moved) - here) / STEP[number]
        a, b = jacobian[:, free] / sigma[:, None], (share - here) / sigma
        normal, wanted = a.T @ a, a.T @ b
        better = False
        for _ in range(6):
            damped = normal + damping * np.diag(np.maximum(np.diag(normal), 1e-12))
            tried = values.copy()
            tried[free] += np.clip(np.linalg.lstsq(damped, wanted, rcond=None)[0], -5.0, 5.0)
            there = model.at(tried)
            new = float((((there - share) / sigma) ** 2).sum())
            if np.isfinite(new) and new < chi:
                better = chi - new > 1e-4 * chi + 1e-9
                values, here, chi, damping = tried, there, new, damping / 5.0
                break
            damping *= 5.0
        if not better:
            break
    if not math.isfinite(chi):
        return None
    weighted = jacobian[:, free] / sigma[:, None]
    normal = weighted.T @ weighted
    lengths = np.sqrt(np.maximum(np.diag(normal), 1e-30))
    inverse = np.linalg.pinv(normal / np.outer(lengths, lengths), rcond=1.0 / WORST_CONDITION)
    widen = max(1.0, chi / max(share.size - int(free.sum()), 1))
    deviations = np.zeros(7)
    deviations[free] = INFLATED * np.sqrt(np.maximum(np.diag(inverse), 0.0) * widen) / lengths
    misfit = float(np.sqrt(np.mean((here - share) ** 2)))
    left = math.sqrt(chi / share.size)
    return Fitted(values, deviations, misfit, left, told and bool(deviations[3] < MOST_FALLOFF), model.others)
