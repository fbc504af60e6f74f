"""A flat frame against the light engine: does the train as it is placed explain it, and what does where it does not.

What may differ is one thing at a time: one opening narrower or off the axis, a guider's cover that reaches in farther,
or the depth of the entrance pupil behind a front stack. The one that explains the frame best is shown, with intervals.
"""

import math
import warnings
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

import numpy as np

from farrail.frames.estimate import Estimate, estimate_of
from farrail.frames.flat_cells import darkest_corner, dusty_cells
from farrail.frames.flat_exit import exit_pupil_of
from farrail.frames.flat_model import BIAS, CELL_OFF, FALLOFF, LAMP, LEVEL, Change, Fitted, FlatModel, smooth_left
from farrail.frames.flat_rivals import Together, likelihoods, second_opening
from farrail.frames.flat_search import LITTLE_LEFT, NOISE, TakenFrame, enough, one_place, openings
from farrail.frames.picture import Cells, Picture, cells_of
from farrail.frames.watch import UNWATCHED, Watch
from farrail.optics.clipping import Array
from farrail.optics.pupils import ApertureImage
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.readouts.light.aperture_images import ImagedAperture
from farrail.readouts.read import Readout

# Where nothing darkens by more than this over the frame there is nothing to explain.
LEAST_LOSS = 0.02
# What explains the frame better than falloff and lamp alone by less than this share is no explanation.
WORTH = 0.2
# The train as it is placed is taken where nothing changed explains the frame better than by this factor.
AS_GOOD = 1.25
# Where more than this share of the middle stays unexplained, and more than so many times the noise, more than one thing
# acts, and the width is not to be taken.
MUCH_LEFT, MUCH_NOISE = 0.003, 3.0
# A centre farther off than this, and surely, is off.
LEAST_OFF_MM = 0.15
# Full pixels beyond this share spoil a flat.
MOST_FULL = 0.02
# What changes least first.
SIMPLER = (Change.NOTHING, Change.DEPTH, Change.REACH, Change.OPENING)
# A part is named only where smooth uneven light leaves so many times more; below the first share it is all explained.
SMOOTH_WORSE, SMOOTH_LEFT = 1.25, 0.005
# An uneven lamp of less than this share is not worth a word. What other openings of one place take may look like a bias
# of up to this share.
LEAST_UNEVEN, LEAST_BIAS = 0.01, 0.02
# More stops than this is dark.
MOST_STOPS = 10.0
DARK_SHARE = 2.0**-MOST_STOPS


class FlatTrouble(StrEnum):
    """Why a flat says nothing."""

    SATURATED = "saturated"
    DARK = "dark"
    EVEN = "even"
    ONLY_FALLOFF = "only_falloff"
    NOT_EXPLAINED = "not_explained"
    UNEVEN = "uneven"
    NO_APERTURE = "no_aperture"


@dataclass(frozen=True)
class Explained:
    """What explains a flat.

    Attributes:
        change: what differs from the train as it is placed.
        number: which of the light readout's apertures, where it is one; else −1.
        imaged: it, as the train has it.
        beside: apertures that throw the same shadow: a filter and its seat.
        value: of an opening its clear diameter, of a cover its edge from the axis, of the pupil its depth; mm. None
            where nothing differs.
        right: of an opening, its centre to the right of the axis, seen from behind the camera, mm.
        up: likewise up.
        falloff: exponent of the natural falloff, 4 by the law; None where the frame does not distinguish it.
        misfit: root mean square of what stays unexplained, as a share of the middle.
        left: the same against the noise.
        without: the same with falloff and lamp alone.
    """

    change: Change
    number: int
    imaged: ImagedAperture | None
    beside: tuple[ImagedAperture, ...]
    value: Estimate | None
    right: Estimate | None
    up: Estimate | None
    falloff: Estimate | None
    misfit: float
    left: float
    without: float

    @property
    def off_axis_mm(self) -> float:
        """How far its centre is off the axis."""
        return 0.0 if self.right is None or self.up is None else math.hypot(self.right.value, self.up.value)

    @property
    def doubtful(self) -> bool:
        """Whether so much stays unexplained that more than this is at work."""
        return self.misfit > MUCH_LEFT and self.left > MUCH_NOISE

    @property
    def surely_off(self) -> bool:
        """Whether it is off the axis beyond uncertainty."""
        if self.right is None or self.up is None:
            return False
        return self.off_axis_mm > max(2.0 * max(self.right.off, self.up.off), LEAST_OFF_MM)


@dataclass(frozen=True)
class FlatReading:
    """What a flat says.

    Attributes:
        cells: the frame in cells.
        places_mm: where they are on the sensor, (K, 2).
        share: light of each against the middle, (K,).
        predicted: the same as the train predicts, (K,).
        corner_stops: how much darker the darkest corner is than the middle.
        darkest: the picture's corner that is darkest: right (+1) or left (−1), up (+1) or down (−1).
        explained: what explains it; None where nothing does.
        loss_stops: how many stops the darkest corner loses to what is placed, natural falloff and lamp left out.
        depth: behind a front stack: how deep the entrance pupil is by this frame, all parts as they are placed.
        exit_mm: where the exit pupil is before the sensor, if the opening that explains it is as wide as it was
            measured and it is the pupil that differs; None where that opening was not measured, or agrees.
        rivals: parts that explain it about as well, each with how likely it is against the one named.
        together: two openings that explain it together where one alone does not; None where no second one helps.
        trouble: why nothing explains it; None where something does.
        suspects: parts that would explain uneven light as well, the best first.
        lamp_uneven: by how much the lamp differs over the frame, as a share; 0 where it does not surely.
        bias: what seems not to have been subtracted, as a share of the middle; None where nothing.
    """

    cells: Cells
    places_mm: Array
    share: Array
    predicted: Array
    corner_stops: float
    darkest: tuple[int, int]
    explained: Explained | None = None
    loss_stops: float = 0.0
    depth: Estimate | None = None
    exit_mm: Estimate | None = None
    rivals: tuple[tuple[str, float], ...] = ()
    together: Together | None = None
    trouble: FlatTrouble | None = None
    suspects: tuple[str, ...] = ()
    lamp_uneven: float = 0.0
    bias: Estimate | None = None

    @property
    def difference_stops(self) -> Array:
        """How much brighter each cell is than the train predicts, (K,); not a number where either is dark."""
        share, predicted = (np.where(one > DARK_SHARE, one, math.nan) for one in (self.share, self.predicted))
        return np.asarray(np.log2(share) - np.log2(predicted))

    @property
    def worst(self) -> tuple[float, tuple[int, int]] | None:
        """The largest difference from the prediction, stops, and the picture's part: right and up, −1, 0 or 1.

        None where nothing can be held against each other. Single cells do not count: the median of five of a row's.
        """
        grid = self.difference_stops.reshape(self.cells.shape)
        if not np.isfinite(grid).any():
            return None
        pads = np.pad(grid, ((0, 0), (2, 2)), mode="edge")
        with np.errstate(all="ignore"), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            calm = np.nanmedian([pads[:, n : n + grid.shape[1]] for n in range(5)], axis=0)
        row, column = np.unravel_index(int(np.nanargmax(np.abs(calm))), grid.shape)
        right = round((column + 0.5) / grid.shape[1] * 3.0 - 1.5)
        up = -round((row + 0.5) / grid.shape[0] * 3.0 - 1.5)
        return float(calm[row, column]), (right, up)


def read_flat(picture: Picture, readout: Readout, watch: Watch = UNWATCHED) -> FlatReading:
    """Return what a flat says of the train that took it.

    Args:
        picture: the flat.
        readout: the train, set as it was.
        watch: who waits for the answer.
    """
    light, camera = readout.light, readout.layout.camera
    assert camera is not None
    cells = cells_of(picture)
    places = picture.places_mm(cells.columns, cells.rows, camera.sensor_width_mm.value)
    heights = np.hypot(places[:, 0], places[:, 1])
    middle = heights < 0.15 * heights.max()
    top = float(np.median(cells.light[middle])) if middle.any() else float(cells.light.max())
    share = cells.light / top if top > 0.0 else np.zeros_like(cells.light)
    predicted = light.light_at(places) if light.corners else np.ones(len(places))
    stops, darkest = darkest_corner(share, places, camera)
    reading = FlatReading(cells, places, share, predicted, stops, darkest)
    if picture.full_share > MOST_FULL:
        return replace(reading, trouble=FlatTrouble.SATURATED)
    clear = np.isfinite(share)
    if not top > 0.0 or clear.mean() < 0.5:
        return replace(reading, trouble=FlatTrouble.DARK)
    if float(share[clear].min()) > 1.0 - LEAST_LOSS:
        return replace(reading, trouble=FlatTrouble.EVEN)
    sigma = np.maximum(cells.sigma / top, 3e-4)
    clear &= ~dusty_cells(cells.light, sigma * top, cells.shape)
    return _explain(TakenFrame(readout, places[clear], share[clear], sigma[clear], watch), reading)


def _explain(frame: TakenFrame, reading: FlatReading) -> FlatReading:
    imaged = frame.readout.light.imaged
    without = frame.fit(Change.NOTHING, None, (), None)
    if without is None:
        return replace(reading, trouble=FlatTrouble.NOT_EXPLAINED)
    if without.misfit < LITTLE_LEFT or without.left < NOISE:
        return _with_light(frame, replace(reading, trouble=FlatTrouble.ONLY_FALLOFF), Change.NOTHING, -1, without)
    if not imaged:
        return replace(reading, trouble=FlatTrouble.NO_APERTURE)
    acting = frame.acting()
    found: list[tuple[Change, int, Fitted]] = []
    as_placed = frame.fit(Change.NOTHING, None, acting, None) if acting else None
    if as_placed is not None:
        found.append((Change.NOTHING, -1, as_placed))
    frame.watch.reached(0.2)
    # What leaves only noise needs no other explanation.
    no_more = as_placed is not None and enough(as_placed)
    tried = [] if no_more else openings(frame, without)
    if tried:
        found.append((Change.OPENING, *tried[0]))
    found += [
        (Change.REACH, n, there) for n, one in enumerate(imaged) if _covers(one) and not no_more
        if not frame.watch.stopped() and (there := frame.fit(Change.REACH, one, frame.acting(one), None)) is not None
    ]  # fmt: skip
    depth = None
    frame.watch.reached(0.9)
    if any(one.front for one in acting):
        moved = None if frame.watch.stopped() else frame.fit(Change.DEPTH, None, acting, None)
        if moved is not None:
            found.append((Change.DEPTH, -1, moved))
    smooth_misfit, smooth_noise = smooth_left(frame.model(), frame.share, frame.sigma)
    uneven = smooth_misfit < SMOOTH_LEFT or smooth_noise < MUCH_NOISE
    unknown = replace(reading, trouble=FlatTrouble.UNEVEN if uneven else FlatTrouble.NOT_EXPLAINED)
    if not found or frame.watch.stopped():
        return unknown
    best_of_all = min((one for _, _, one in found), key=lambda one: one.left)
    # Of what is as good the one that changes least is shown.
    change, number, here = next(
        (what, n, one) for what, n, one in sorted(found, key=lambda item: (SIMPLER.index(item[0]), item[2].left))
        if _as_good(one, best_of_all)
    )  # fmt: skip
    if change in (Change.NOTHING, Change.DEPTH):
        depth = next((_depth(frame, one) for what, _, one in found if what is Change.DEPTH), None)
    if here.left > (1.0 - WORTH) * without.left:
        return unknown
    if change is not Change.NOTHING and uneven and smooth_noise < SMOOTH_WORSE * here.left:
        return replace(unknown, suspects=_suspects(frame, found, here))
    explained = _explained(frame, change, number, here, without)
    reading = _with_light(frame, reading, change, number, here)
    return replace(
        reading, explained=explained, loss_stops=_loss_stops(frame, change, number, here), depth=depth,
        exit_mm=_exit_pupil(frame, explained), **_rivals(frame, tried, explained),
    )  # fmt: skip


def _exit_pupil(frame: TakenFrame, found: Explained) -> Estimate | None:
    one, value = found.imaged, found.value
    if one is None or value is None or found.change is not Change.OPENING or found.doubtful:
        return None
    every = tuple(other.image for other in frame.readout.light.imaged if not other.image.front)

    def fitted() -> tuple[Fitted, FlatModel] | None:
        there = frame.fit(Change.EXIT, None, every, None)
        return (
            None
            if there is None or there.left > max(AS_GOOD * found.left, NOISE)
            else (there, frame.model((), Change.EXIT))
        )

    return exit_pupil_of(one, value, frame.readout, fitted)


def _rivals(frame: TakenFrame, tried: list[tuple[int, Fitted]], found: Explained) -> dict[str, Any]:
    """Return what else explains a flat that an opening explains: others about as likely, or two together."""
    if found.change is not Change.OPENING or not tried:
        return {}
    imaged = frame.readout.light.imaged
    likely = likelihoods(tried, tried[0], frame.share.size)
    rivals = tuple((imaged[number].placed.part.name, share) for number, share in likely)
    if enough(tried[0][1]) or frame.watch.stopped():
        return {"rivals": rivals}

    def acting(one: ImagedAperture, other: ImagedAperture) -> tuple[ApertureImage, ...]:
        return tuple(
            each.image for each in imaged
            if each.acts and not one_place(each, one) and not one_place(each, other)
        )  # fmt: skip

    def model(one: ImagedAperture) -> FlatModel:
        return frame.model((), Change.OPENING, one)

    return {
        "rivals": rivals,
        "together": second_opening(imaged, tried, tried[0], frame.fit, frame.aside, acting, model),
    }


def _suspects(frame: TakenFrame, found: Sequence[tuple[Change, int, Fitted]], best: Fitted) -> tuple[str, ...]:
    """Return the names of the parts that would explain a frame about as well, the best first."""
    named = [
        frame.readout.light.imaged[number].placed.part.name for _, number, one in sorted(found, key=lambda f: f[2].left)
        if number >= 0 and _as_good(one, best)
    ]  # fmt: skip
    return tuple(dict.fromkeys(named))


def _corners(frame: TakenFrame) -> Array:
    """Return the frame's corners and its middle, (5, 2)."""
    camera = frame.readout.layout.camera
    assert camera is not None
    half = np.array([camera.sensor_width_mm.value, camera.sensor_height_mm.value]) / 2.0
    return np.asarray(half * np.array([[1, 1], [1, -1], [-1, 1], [-1, -1], [0, 0]]))


def _with_light(frame: TakenFrame, reading: FlatReading, change: Change, number: int, here: Fitted) -> FlatReading:
    """Return a reading with its corner, its lamp and its bias by the model that explains it: a cell is no corner."""
    one = frame.readout.light.imaged[number] if number >= 0 else None
    values, places = here.values, _corners(frame)
    model = frame.model(here.others, change, one, places)
    lamp = model.lamp @ values[LAMP]
    light = model.shape(values) * lamp
    darkest = int(np.argmin(light[:4]))
    share = float(light[darkest] / light[4]) if light[4] > 0.0 else 0.0
    stops = -math.log2(share) if share > 0.0 else math.inf
    # The picture is upside down on the sensor.
    which = (-int(np.sign(places[darkest, 0])), -int(np.sign(places[darkest, 1])))
    level = max(float(values[LEVEL]), 1e-9)
    slopes = values[LEVEL + 1 : BIAS] / level
    sure = np.abs(values[LEVEL + 1 : BIAS]) > 3.0 * here.deviations[LEVEL + 1 : BIAS]
    uneven = float(np.ptp(lamp) / level) if (sure & (np.abs(slopes) > LEAST_UNEVEN)).any() else 0.0
    bias = None
    if values[BIAS] > max(3.0 * here.deviations[BIAS], LEAST_BIAS):
        bias = estimate_of(float(values[BIAS]), float(here.deviations[BIAS]))
    if stops >= MOST_STOPS:
        return replace(reading, lamp_uneven=uneven, bias=bias)
    return replace(reading, corner_stops=max(stops, 0.0), darkest=which, lamp_uneven=uneven, bias=bias)


def _loss_stops(frame: TakenFrame, change: Change, number: int, here: Fitted) -> float:
    """Return what the darkest corner loses by the model that explains the frame."""
    one = frame.readout.light.imaged[number] if number >= 0 else None
    values = here.values.copy()
    values[FALLOFF] = 0.0
    lit = frame.model(here.others, change, one, _corners(frame)).shape(values)
    worst = float(lit[:4].min() / lit[4]) if lit[4] > 0.0 else 0.0
    return -math.log2(worst) if worst > 2.0**-MOST_STOPS else MOST_STOPS


def _as_good(one: Fitted, best: Fitted) -> bool:
    return one.left <= max(AS_GOOD * best.left, NOISE) or one.misfit < LITTLE_LEFT


def _covers(one: ImagedAperture) -> bool:
    """Whether it is a cover beside the axis: it may reach in farther than the train has it."""
    return one.image.passes is not None and not one.image.front and math.hypot(*one.image.centre_mm) > 0.0


def _depth(frame: TakenFrame, here: Fitted) -> Estimate:
    base = frame.readout.layout.first_order.entrance_pupil.value
    return estimate_of(base + float(here.values[0]), float(here.deviations[0]))


def _explained(frame: TakenFrame, change: Change, number: int, here: Fitted, without: Fitted) -> Explained:
    values, off = here.values, here.deviations
    falloff = estimate_of(float(values[FALLOFF]), float(off[FALLOFF])) if here.falloff_shown else None
    every = frame.readout.light.imaged
    one = every[number] if number >= 0 else None
    beside = tuple(other for other in every if one is not None and other is not one and one_place(other, one))
    value, right, up = None, None, None
    if change is Change.DEPTH:
        value = _depth(frame, here)
    elif one is not None and change is Change.REACH:
        # From the axis to the edge that reaches in; a powered part shows it larger or smaller than it is.
        edge = math.hypot(*one.image.centre_mm) - _half_toward_axis(one)
        value = estimate_of(edge + float(values[0]), float(off[0]), 1.0 / one.scale)
    elif one is not None:
        of_cell = CELL_OFF * float(values[0])
        value = _between(values[0], frame.ends(change, one, here, 0), of_cell, 2.0 / one.scale)
        right, up = (
            _between(values[n], frame.ends(change, one, here, n), of_cell / 2.0, 1.0 / one.scale) for n in (1, 2)
        )
    return Explained(change, number, one, beside, value, right, up, falloff, here.misfit, here.left, without.misfit)


def _between(value: float, ends: tuple[float, float], spread: float, factor: float) -> Estimate:
    """Return a value with its interval, both times a factor; what a cell may be off widens it."""
    low, high = (value + math.copysign(math.hypot(end - value, TWO_SIDED_95 * spread), end - value) for end in ends)
    return Estimate(float(value * factor), float(low * factor), float(high * factor))


def _half_toward_axis(one: ImagedAperture) -> float:
    """Return half of a cover's extent along the line to the axis; a guider's prism is square to it."""
    high = one.image.half_height_mm
    return one.image.radius_mm if high is None else high
