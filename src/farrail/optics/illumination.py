"""Relative illumination (RI) behind centred openings: profile, map, and which opening acts where."""

from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import FINE_CHORDS, Array, open_fraction
from farrail.optics.pupils import Opening, Pupil, project_radially

SOURCE = "open fraction of the pupil seen from the field point; chords through the intersection of projected discs"


def relative_illumination(
    pupil: Pupil, openings: list[Opening], heights_mm: Array, *, chords: int = FINE_CHORDS
) -> Array:
    """Return RI at image heights `heights_mm` (P,), between 0 and 1, without natural falloff."""
    centre, radius = project_radially(pupil, openings, heights_mm)
    # Measured along the field direction all centres lie on one line; chords run across it.
    return open_fraction(centre, np.zeros_like(centre), radius, obstruction=pupil.obstruction, chords=chords)


@dataclass(frozen=True)
class Attribution:
    """What one opening takes from a field point, as fractions of the pupil.

    Attributes:
        alone: lost when it is the only opening.
        last: lost when it is added after all others.
    """

    alone: float
    last: float


def attribute_loss(pupil: Pupil, openings: list[Opening], height_mm: float) -> list[Attribution]:
    """Return for each opening the light it takes at one image height, alone and last.

    An opening that takes nothing alone takes nothing last, so only those that clip are tried without.
    """
    heights = np.array([height_mm])
    total = float(relative_illumination(pupil, openings, heights)[0])
    shares = []
    for index, opening in enumerate(openings):
        if onset_height_mm(pupil, opening) >= height_mm:
            shares.append(Attribution(alone=0.0, last=0.0))
            continue
        alone = 1.0 - float(relative_illumination(pupil, [opening], heights)[0])
        others = openings[:index] + openings[index + 1 :]
        without = float(relative_illumination(pupil, others, heights)[0])
        shares.append(Attribution(alone=alone, last=max(without - total, 0.0)))
    return shares


def onset_height_mm(pupil: Pupil, opening: Opening) -> float:
    """Return the image height at which an opening begins to cut the pupil; `inf` when it never does.

    On the unit pupil it begins where the shift of the disc plus one equals its radius.
    """
    shift, radius = project_radially(pupil, [opening], np.array([1.0]))
    slope = abs(float(shift[0, 0]))
    if radius[0] <= 1.0:
        return 0.0
    return float("inf") if slope == 0.0 else (float(radius[0]) - 1.0) / slope


def map_of_profile(
    heights_mm: Array, profile: Array, width_mm: float, height_mm: float, columns: int, rows: int
) -> Array:
    """Return RI over the frame, shape (rows, columns), sampled at cell centres.

    With every opening centred the answer depends on the image height alone: a fine profile, made once, is looked
    up at every cell, which is both faster and finer than clipping there.

    Args:
        heights_mm: image heights of the profile, (K,), rising from 0 to at least the corner's.
        profile: RI at each, (K,).
        width_mm: width of the frame.
        height_mm: height of the frame.
        columns: cells across.
        rows: cells down.
    """
    x = (np.arange(columns) + 0.5) / columns * width_mm - width_mm / 2.0
    y = (np.arange(rows) + 0.5) / rows * height_mm - height_mm / 2.0
    return np.interp(np.hypot(x[None, :], y[:, None]), heights_mm, profile)
