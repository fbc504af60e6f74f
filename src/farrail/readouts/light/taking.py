"""Who takes the light: the part whose change would help, at the place of the frame that matters."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.illumination import axial_light_of_each, illumination_of_each, relative_to_axis, relative_without
from farrail.optics.pupils import ApertureImage, Pupil, project_radially

# Where corners are dark no matter what part is taken away, places nearer and nearer the middle are looked at.
STEP, LEAST_SHARE, LEAST_LIT, BISECTIONS = 0.05, 0.1, 0.02, 30
# Gains nearer to each other than this count as equal; the part that takes more alone then still limits.
TIE = 2e-3
NOTHING = 1.0 - 1e-6


@dataclass(frozen=True)
class Taking:
    """The aperture that limits.

    Attributes:
        number: which of the apertures given.
        gain: light that the place gains when its part alone is made wide enough, fraction of the pupil.
        point_mm: the place looked at.
    """

    number: int
    gain: float
    point_mm: tuple[float, float]


def takes_most(
    pupil: Pupil, images: Sequence[ApertureImage], owners: Sequence[Hashable], places_mm: Array,
    own_glass: Sequence[ApertureImage] = (),
) -> Taking | None:  # fmt: skip
    """Return which aperture limits the darkest of some places; None where nothing darkens any.

    Ranked by what the place gains when all apertures of one part are taken away, for that is what changing the part
    would do. Where several parts would gain as much, or none anything because two shadow the same rays, the one that
    takes most alone is named: it would still limit once the others are changed.

    Args:
        pupil: the pupil looked into.
        images: A apertures.
        owners: whose each is.
        places_mm: places on the sensor, (P, 2).
        own_glass: what the lens takes itself, behind which everything is judged.
    """
    if not images or not places_mm.size:
        return None
    own = list(own_glass)

    def seen(share: float) -> tuple[Array, float]:
        """Return the darkest of the places at a share of their distance from the axis, and its light."""
        light = relative_to_axis(pupil, [*images, *own], places_mm * share)
        bare = relative_to_axis(pupil, own, places_mm * share) if own else np.ones(light.size)
        # Rounded, so that of corners alike always the same is taken.
        ratio = np.round(light / np.maximum(bare, 1e-9), 9)
        darkest = int(np.argmin(ratio))
        return places_mm[darkest : darkest + 1] * share, float(ratio[darkest])

    point, light = seen(1.0)
    if light >= NOTHING:
        return None
    dark, share = 1.0, 1.0
    while light < LEAST_LIT and share > LEAST_SHARE:
        dark, share = share, share - STEP
        point, light = seen(share)
    for _ in range(BISECTIONS if light >= NOTHING else 0):
        # From dark to clear within one step: the half-lit place between is sought.
        middle = (dark + share) / 2.0
        point, light = seen(middle)
        if LEAST_LIT <= light < NOTHING:
            break
        dark, share = (middle, share) if light < LEAST_LIT else (dark, middle)
    centre = axial_light_of_each(pupil, images)
    alone = np.minimum(illumination_of_each(pupil, list(images), point)[0] / np.maximum(centre, 1e-9), 1.0)
    now = float(relative_to_axis(pupil, [*images, *own], point)[0])
    clipping = dict.fromkeys(owner for owner, light in zip(owners, alone, strict=True) if light < NOTHING)
    # What stops the beam on the axis changes the measure: none of the others can then be left out.
    telling = _telling(pupil, images, owners, point) if centre.min() == 1.0 else None
    gains: dict[Hashable, float] = dict.fromkeys(clipping, 0.0)
    tried = [owner for owner in clipping if telling is None or owner in telling]
    theirs = [{n for n, whose in enumerate(owners) if whose == owner} for owner in tried]
    without = relative_without(pupil, [*images, *own], np.repeat(point, len(tried), axis=0), theirs)
    gains.update((owner, float(light) - now) for owner, light in zip(tried, without, strict=True))
    if not gains:
        return None
    best = max(gains.values())
    tied = {owner for owner, gain in gains.items() if gain >= best - TIE}
    number = min((n for n, owner in enumerate(owners) if owner in tied), key=lambda n: (round(float(alone[n]), 9), n))
    return Taking(number, max(gains[owners[number]], 0.0), (float(point[0, 0]), float(point[0, 1])))


def _telling(
    pupil: Pupil, images: Sequence[ApertureImage], owners: Sequence[Hashable], point_mm: Array
) -> set[Hashable] | None:
    """Return the owners without which a place may see more; None where anyone may be one.

    Round openings about the axis are on one line across the pupil. One that holds another of them whole takes nothing
    that the other does not take: its owner may be taken away and nothing changes, unless the other is its own too.
    """
    if not all(image.centred for image in images):
        return None
    centre, radius = project_radially(pupil, list(images), np.hypot(point_mm[:, 0], point_mm[:, 1]))
    apart = np.abs(centre[0][:, None] - centre[0][None, :])
    holds = apart <= radius[:, None] - radius[None, :]
    names = list(dict.fromkeys(owners))
    whose = np.array([names.index(owner) for owner in owners])
    holds &= whose[:, None] != whose[None, :]
    # Of two alike, of which each holds the other, the later one is left out.
    later = np.arange(len(whose))[:, None] > np.arange(len(whose))[None, :]
    needless = (holds & (~holds.T | later)).any(axis=1)
    return {owner for owner, left_out in zip(owners, needless, strict=True) if not left_out}
