"""The aperture stop: the opening that limits the beam on the axis, in the optic or before or behind it.

Where a ring, a mask or a filter is narrower than the beam there, the optic's own pupil is not filled: the share T0 of
its area stays open, and the effective f-number is N/√T0.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.pupils import Pupil
from farrail.optics.shapes import Projected, light_fraction
from farrail.parts.in_beam import ApertureRole
from farrail.parts.origin import Origin
from farrail.train.placed import PlacedAperture
from farrail.train.train import Side

# An aperture that leaves more of the axial beam than this does not stop it.
OPEN = 1.0 - 1e-9


@dataclass(frozen=True)
class AxialStop:
    """What stops the beam on the axis.

    Attributes:
        share: T0, the share of the optic's own pupil that stays open, above 0.
        aperture: what leaves the smallest share alone.
    """

    share: float
    aperture: PlacedAperture

    @property
    def stops(self) -> float:
        """Light lost on the axis, in stops."""
        return -math.log2(self.share)

    @property
    def origin(self) -> Origin:
        """Where its width came from."""
        return self.aperture.diameter.origin


def axial_stop(apertures: list[tuple[PlacedAperture, float, float]], pupil: Pupil) -> AxialStop | None:
    """Return what stops the axial beam; None where the optic's own pupil does.

    Args:
        apertures: each with the distance at which it is seen, reduced, and the scale at which it appears; ahead of the
            lens the distance is not used.
        pupil: the optic's own.
    """
    acting: list[tuple[float, PlacedAperture, float]] = []
    for placed, distance_mm, scale in apertures:
        # The pupil of a coupled lens is counted where the focus is known.
        if placed.role is ApertureRole.CARRIED_PUPIL:
            continue
        if placed.side is Side.FRONT:
            per_mm = 2.0 * pupil.f_number / pupil.focal_length_mm
        else:
            per_mm = 2.0 * pupil.f_number / max(abs(distance_mm), 1e-6)
        per_mm *= abs(scale)
        if _clears(placed, per_mm):
            continue
        alone = _open_share([(placed, per_mm)], pupil.obstruction)
        if alone < OPEN:
            acting.append((alone, placed, per_mm))
    if not acting:
        return None
    share = _open_share([(placed, per_mm) for _, placed, per_mm in acting], pupil.obstruction)
    return AxialStop(max(share, 1e-6), min(acting, key=lambda one: one[0])[1])


def _clears(placed: PlacedAperture, per_mm: float) -> bool:
    """Whether an opening, or a cover beside the beam, certainly leaves the whole axial beam."""
    off = math.hypot(*placed.centre_mm)
    half = placed.diameter.value / 2.0
    high = half if placed.height is None else placed.height.value / 2.0
    if placed.passes is not None:
        return (off - math.hypot(half, high)) * per_mm >= 1.0
    return (min(half, high) - off) * per_mm >= 1.0


def _open_share(shapes: list[tuple[PlacedAperture, float]], obstruction: float) -> float:
    def row(values: list[float]) -> np.ndarray:
        return np.array([values])

    halves = [(placed.diameter if placed.height is None else placed.height).value / 2.0 for placed, _ in shapes]
    projected = Projected(
        centre_x=row([placed.centre_mm[0] * per_mm for placed, per_mm in shapes]),
        centre_y=row([placed.centre_mm[1] * per_mm for placed, per_mm in shapes]),
        half_width=row([placed.diameter.value / 2.0 * per_mm for placed, per_mm in shapes]),
        half_height=row([half * per_mm for half, (_, per_mm) in zip(halves, shapes, strict=True)]),
        angle=np.zeros(len(shapes)),
        disc=np.array([placed.height is None for placed, _ in shapes]),
        passes=np.array([np.nan if placed.passes is None else placed.passes for placed, _ in shapes]),
    )
    return float(light_fraction(projected, obstruction=obstruction)[0])
