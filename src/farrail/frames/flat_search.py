"""The search for the opening that explains a flat: what each round one would have to be, alone and with the others."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product

import numpy as np

from farrail.frames.flat_model import FINE, ROUGH, Change, Fitted, FlatModel, begun_from, ends_of, fit
from farrail.frames.flat_rivals import along_the_rail
from farrail.frames.watch import Watch
from farrail.optics.clipping import Array
from farrail.optics.illumination import illumination_of_each
from farrail.optics.pupils import ApertureImage
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.light.aperture_images import ImagedAperture
from farrail.readouts.read import Readout

# Where falloff and lamp leave no more than this of the middle, nothing else is at work.
LITTLE_LEFT = 0.001
# What leaves no more than so many times the noise leaves nothing.
NOISE = 1.3
MOST_CANDIDATES, MOST_JOINT = 5, 4
# What leaves less than so many times the best is a rival; what alone leaves more than so many times is none.
RIVAL, FAR_OFF = 1.08, 2.0
# Where more is left than this, against the noise, a search begins at other places too, and what is in the same place as
# an opening is looked at.
SAME_PLACE_TOO = 1.1
# What takes no more light from any place of the frame takes none.
LEAST_TAKEN = 2e-4
# So far off the axis a search begins as well.
ASIDE_MM, ASIDE_TURNS, ASIDE_WIDER_MM = 1.0, 8, (-0.8, 0.0, 0.8)
# Openings nearer to each other than this throw one shadow.
ONE_PLACE_MM = 1.0


@dataclass(frozen=True)
class TakenFrame:
    """A frame's cells with the train that took it."""

    readout: Readout
    places: Array
    share: Array
    sigma: Array
    watch: Watch

    def fit(
        self, change: Change, imaged: ImagedAperture | None, others: tuple[ApertureImage, ...], begin: Fitted | None,
        enough: float = FINE,
    ) -> Fitted | None:  # fmt: skip
        """Fit one change."""
        return fit(self.model(others, change, imaged), self.share, self.sigma, begin, enough=enough)

    def aside(
        self, change: Change, imaged: ImagedAperture | None, others: tuple[ApertureImage, ...], first: Fitted
    ) -> Fitted:
        """Return the better of a fit and of one begun off the axis from it, on the side that looks best."""
        model = self.model(others, change, imaged)
        begins = []
        for turn, wider in product(np.arange(ASIDE_TURNS) * (2.0 * np.pi / ASIDE_TURNS), ASIDE_WIDER_MM):
            values = first.values.copy()
            values[:3] += wider, ASIDE_MM * np.cos(turn), ASIDE_MM * np.sin(turn)
            begins.append(begun_from(model, self.share, self.sigma, model.within(values)))
        _, values = min(begins, key=lambda item: item[0])
        there = fit(model, self.share, self.sigma, replace(first, values=values), enough=ROUGH)
        return there if there is not None and there.chi < first.chi else first

    def best_of(self, imaged: ImagedAperture, begins: Sequence[Fitted | None]) -> Fitted | None:
        """Fit one opening alone from several beginnings, the best of them from off the axis as well."""
        model = self.model((), Change.OPENING, imaged)
        fits = [one for begin in begins if (one := fit(model, self.share, self.sigma, begin, enough=ROUGH)) is not None]
        best = min(fits, key=lambda one: one.chi, default=None)
        return None if best is None else self.aside(Change.OPENING, imaged, (), best)

    def ends(self, change: Change, imaged: ImagedAperture, fitted: Fitted, number: int) -> tuple[float, float]:
        """Return the ends between which a value of a fit is with 95 %."""
        return ends_of(self.model(fitted.others, change, imaged), self.share, self.sigma, fitted, number)

    def model(
        self, others: tuple[ApertureImage, ...] = (), change: Change = Change.NOTHING,
        imaged: ImagedAperture | None = None, places: Array | None = None,
    ) -> FlatModel:  # fmt: skip
        """Return the model of one change, at the frame's cells or at other places."""
        at = self.places if places is None else places
        reach = float(np.hypot(self.places[:, 0], self.places[:, 1]).max())
        return FlatModel(self.readout.light.pupil, at, others, change, imaged, _by_lens(self.readout), reach)

    def acting(self, but: ImagedAperture | None = None, *, place: bool = True) -> tuple[ApertureImage, ...]:
        """Return what takes light as the train is placed, but one opening, or all that is in its place."""
        return tuple(
            one.image for one in self._taking
            if one is not but and (but is None or not place or not one_place(one, but))
        )  # fmt: skip

    @cached_property
    def _taking(self) -> tuple[ImagedAperture, ...]:
        """What takes light from the frame; ahead of a lens also what would with the pupil elsewhere."""
        light = self.readout.light
        acting = [one for one in light.imaged if one.acts]
        lost = 1.0 - illumination_of_each(light.pupil, [one.image for one in acting], self.places).min(axis=0)
        return tuple(
            one for one, most in zip(acting, lost, strict=True) if one.image.front or float(most) > LEAST_TAKEN
        )  # fmt: skip


def _by_lens(readout: Readout) -> bool:
    """Whether the natural falloff goes by the angle in a lens's field."""
    return isinstance(readout.layout.optic, CameraLens) and not readout.layout.reversed


def one_place(one: ImagedAperture, other: ImagedAperture) -> bool:
    """Return whether two openings throw one shadow."""
    near = abs(one.image.distance_mm - other.image.distance_mm) < ONE_PLACE_MM
    return near and one.image.front == other.image.front


def enough(one: Fitted) -> bool:
    """Whether a fit leaves nothing that another explanation is needed for."""
    return one.left < NOISE or one.misfit < LITTLE_LEFT


def openings(frame: TakenFrame, without: Fitted) -> list[tuple[int, Fitted]]:
    """Return round openings that may explain it, alone or with the others as the train has them, the best first."""
    imaged = frame.readout.light.imaged
    found: list[tuple[int, Fitted]] = []
    candidates = _candidates(imaged)
    for tried, (number, one) in enumerate(candidates):
        if frame.watch.stopped():
            return []
        if tried >= MOST_CANDIDATES and any(enough(alone) for _, alone in found):
            # Those nearest to what the corner needs explain it; the others are tried only where none of them does.
            break
        frame.watch.reached(0.2 + 0.5 * tried / len(candidates))
        alone = frame.fit(Change.OPENING, one, (), None, ROUGH)
        if alone is not None:
            found.append((number, alone))
    found = along_the_rail(frame.best_of, imaged, candidates, sorted(found, key=lambda item: item[1].left))
    if not found or found[0][1].left > without.left:
        return []
    # Where none explains it alone, another opening shows beside it: each is tried with what acts as it is placed.
    tries = found[:1] if enough(found[0][1]) else [
        item for item in found[:MOST_JOINT] if item[1].left <= FAR_OFF * found[0][1].left
    ]  # fmt: skip
    joint: list[tuple[int, Fitted]] = []
    for tried, (number, alone) in enumerate(tries):
        if frame.watch.stopped():
            break
        frame.watch.reached(0.7 + 0.2 * tried / len(tries))
        others = frame.acting(imaged[number])
        there = frame.fit(Change.OPENING, imaged[number], others, alone, ROUGH) if others else None
        joint.append((number, there if there is not None and there.left <= alone.left else alone))
    joint.sort(key=lambda item: item[1].left)
    if joint and joint[0][1].left > SAME_PLACE_TOO:
        joint[0] = _looked_closer(frame, *joint[0])
    joint += found[len(tries) :]
    near = RIVAL * min(one.left for _, one in joint)
    refined = [
        (number, (one.left <= near and frame.fit(Change.OPENING, imaged[number], one.others, one)) or one)
        for number, one in joint
    ]
    return sorted(refined, key=lambda item: item[1].left)


def _looked_closer(frame: TakenFrame, number: int, best: Fitted) -> tuple[int, Fitted]:
    """Return a fit begun off the axis as well, and with what is in the same place: its edge may be seen too."""
    one = frame.readout.light.imaged[number]
    others, every = frame.acting(one), frame.acting(one, place=False)
    if len(every) > len(others):
        there = frame.fit(Change.OPENING, one, every, best, ROUGH)
        best = there if there is not None and there.left < best.left else best
    if best.left > SAME_PLACE_TOO:
        best = frame.aside(Change.OPENING, one, best.others, best)
    return number, best


def _candidates(imaged: Sequence[ImagedAperture]) -> list[tuple[int, ImagedAperture]]:
    """Return round apertures that may clip, those nearest to what the corner needs first, of each place one."""
    round_ones = [
        (n, one) for n, one in enumerate(imaged)
        if one.image.half_height_mm is None and one.image.cut is None and abs(one.image.distance_mm) >= ONE_PLACE_MM
    ]  # fmt: skip
    found: list[tuple[int, ImagedAperture]] = []
    for number, one in sorted(round_ones, key=lambda item: item[1].has_mm - item[1].needed_mm):
        if not any(one_place(one, other) for _, other in found):
            found.append((number, one))
    return found
