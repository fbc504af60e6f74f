"""Openings that explain a flat about as well as the one named, and a second one where one alone does not."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from farrail.frames.estimate import Estimate, estimate_of
from farrail.frames.flat_model import INFLATED, LEAST_RADIUS_MM, Change, Fitted, FlatModel
from farrail.optics.pupils import ApertureImage
from farrail.readouts.light.aperture_images import ImagedAperture

# An opening less likely than this share of the likeliest is no rival.
LEAST_LIKELY = 0.05
# A second opening is named where both together leave less than this share of what one alone leaves.
TOGETHER = 0.75

# A number among the train's openings, and its fit.
Tried = tuple[int, Fitted]
Fit = Callable[[Change, ImagedAperture, tuple[ApertureImage, ...], Fitted | None], Fitted | None]
BestOf = Callable[[ImagedAperture, Sequence[Fitted | None]], Fitted | None]
Aside = Callable[[Change, ImagedAperture, tuple[ApertureImage, ...], Fitted], Fitted]
Acting = Callable[[ImagedAperture, ImagedAperture], tuple[ApertureImage, ...]]


@dataclass(frozen=True)
class Together:
    """Two openings that explain a flat together.

    Attributes:
        names: of their parts.
        clear_mm: how wide each is.
        left: what they leave, against the noise.
    """

    names: tuple[str, str]
    clear_mm: tuple[Estimate, Estimate]
    left: float


def along_the_rail(
    best_of: BestOf,
    imaged: Sequence[ImagedAperture],
    candidates: Sequence[tuple[int, ImagedAperture]],
    found: list[Tried],
) -> list[Tried]:
    """Return fits with the best one's neighbours on the rail tried from where it ended, the best first.

    A search by itself may end beside the best place, and an opening that fits well enough may have a neighbour that
    fits better: what is left falls toward the right one.

    Args:
        best_of: fits one opening from several beginnings.
        imaged: the train's openings.
        candidates: the round ones of them, of each place one.
        found: fits so far, the best first.
    """
    order = sorted((one.image.distance_mm, number) for number, one in candidates if not one.image.front)
    rail, best = [number for _, number in order], dict(found)
    seen: set[int] = set()
    while found and found[0][0] in rail and found[0][0] not in seen:
        number, here = found[0]
        seen.add(number)
        at = rail.index(number)
        for near in (rail[n] for n in (at - 1, at, at + 1) if 0 <= n < len(rail)):
            carried = here if near == number else _carried(imaged[number], imaged[near], here)
            there = best_of(imaged[near], [carried] if near in best else [carried, None])
            if there is not None and (near not in best or there.left < best[near].left):
                best[near] = there
        found = sorted(best.items(), key=lambda item: item[1].left)
    return found


def _carried(one: ImagedAperture, other: ImagedAperture, fitted: Fitted) -> Fitted:
    """Return a fit of one opening as that of another begins: it cuts as much of the farthest corner's bundle.

    A bundle is as wide as its distance from the sensor; its middle is at the corner's height less that share of the
    way to the exit pupil, which is what an opening's needed width is made of.
    """
    share = other.image.distance_mm / one.image.distance_mm
    values = fitted.values.copy()
    needs, needed = (each.needed_mm * each.scale / 2.0 for each in (other, one))
    values[0] = max(needs + (values[0] - needed) * share, LEAST_RADIUS_MM)
    values[1:3] = values[1:3] * share
    return replace(fitted, values=values)


def likelihoods(tried: Sequence[Tried], best: Tried, cells: int) -> tuple[tuple[int, float], ...]:
    """Return the other openings that may be meant, each with its likelihood against the best, the likeliest first.

    Squares of what is left against the noise are χ² per cell; neighbouring cells err alike, so it is widened as the
    intervals are: ``exp(−χ²/2)`` of the difference.

    Args:
        tried: every opening's best fit.
        best: the one named.
        cells: how many cells there are.
    """
    floor = max(best[1].left, 1.0) * INFLATED
    found = []
    for number, one in tried:
        more = cells * (one.left**2 - best[1].left ** 2) / floor**2
        likely = math.exp(-max(more, 0.0) / 2.0)
        if number != best[0] and likely >= LEAST_LIKELY:
            found.append((number, likely))
    return tuple(sorted(found, key=lambda item: -item[1]))


def second_opening(
    imaged: Sequence[ImagedAperture], tried: Sequence[Tried], best: Tried, fit: Fit, aside: Aside, acting: Acting,
    model: Callable[[ImagedAperture], FlatModel],
) -> Together | None:  # fmt: skip
    """Return two openings that explain a flat together; None where a second one does not help.

    Args:
        imaged: the train's openings.
        tried: every opening's best fit alone.
        best: the one named.
        fit: fits one opening with what else acts.
        aside: looks off the axis from a fit for a better one.
        acting: what acts but the places of two openings.
        model: the model of an opening alone.
    """
    first, alone = imaged[best[0]], best[1]
    narrow = model(first).changed(alone.values)
    found: tuple[int, Fitted] | None = None
    for number, start in tried:
        if number == best[0] or narrow is None:
            continue
        there = fit(Change.OPENING, imaged[number], (narrow, *acting(first, imaged[number])), start)
        if there is not None and (found is None or there.left < found[1].left):
            found = number, there
    if found is None:
        return None
    # Once more for each, now that the other is known.
    second, there = imaged[found[0]], found[1]
    there = aside(Change.OPENING, second, there.others, there)
    image = model(second).changed(there.values)
    again = None if image is None else fit(Change.OPENING, first, (image, *acting(first, second)), alone)
    image = None if again is None else model(first).changed(again.values)
    if image is not None:
        there = fit(Change.OPENING, second, (image, *acting(first, second)), there) or there
    if again is None or min(again.left, there.left) > TOGETHER * alone.left:
        return None
    clear = (_clear(first, again), _clear(second, there))
    names = first.placed.part.name, second.placed.part.name
    return Together(names, clear, min(again.left, there.left))


def _clear(one: ImagedAperture, fitted: Fitted) -> Estimate:
    return estimate_of(float(fitted.values[0]), float(fitted.deviations[0]), 2.0 / one.scale)
