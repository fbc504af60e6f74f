"""Choosing a graduated filter from two meter readings: how strong, and how soft for this lens and horizon."""

import math
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.optics.exposure import exact_time_s
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import Gradation
from farrail.readouts.front.model import Front
from farrail.readouts.front.sheets import USUAL_TRANSITION_MM, blur_share, graduated_strength_stops, slot_z_mm

# How much of the picture's height a gradation may run over at a straight and at a broken horizon; common practice,
# no source.
STRAIGHT_SHARE, BROKEN_SHARE = 0.15, 0.7
# How far ahead of the thread a sheet is where no holder is placed; common practice, no source.
USUAL_AHEAD_MM = 15.0
KINDS = (Gradation.SOFT, Gradation.MEDIUM, Gradation.HARD)


@dataclass(frozen=True)
class GraduatedChoice:
    """Which graduated filter to take.

    Attributes:
        brighter_stops: how much brighter the sky is metered than the ground.
        strength_stops: how strong the filter; 0 for none.
        gradation: how its density runs.
        share: how much of the picture's height that runs over on this lens.
    """

    brighter_stops: float
    strength_stops: float
    gradation: Gradation
    share: float


def graduated_choice(front: Front, sky_s: float, ground_s: float, *, broken: bool) -> GraduatedChoice:
    """Return which graduated filter to take for a sky and a ground metered apart.

    Strength is the difference less what a sky may stay brighter; of the gradations the softest that runs over no more
    of the picture than the horizon allows. A long lens sees little of the sheet: on it a soft one hardly grades.

    Args:
        front: the lens, with or without a holder.
        sky_s: time metered for the sky, as engraved.
        ground_s: time metered for the ground.
        broken: whether hills or trees break the horizon.

    Raises:
        BadInput: no lens or camera, or times that cannot be.
    """
    camera = front.layout.camera
    if front.lens is None or camera is None:
        raise BadInput("A graduated filter is chosen for a camera lens and a frame; this train lacks one of them.")
    if not (math.isfinite(sky_s) and math.isfinite(ground_s) and sky_s > 0.0 and ground_s > 0.0):
        raise BadInput("Give both times, such as 1/250 for the sky and 1/30 for the ground.")
    brighter = math.log2(exact_time_s(ground_s) / exact_time_s(sky_s))
    height, limit = camera.sensor_height_mm.value, BROKEN_SHARE if broken else STRAIGHT_SHARE
    shares = {kind: _share(front, USUAL_TRANSITION_MM[kind], height) for kind in KINDS}
    kind = next((kind for kind in KINDS if shares[kind] <= limit), Gradation.HARD)
    return GraduatedChoice(brighter, graduated_strength_stops(brighter), kind, shares[kind])


def _share(front: Front, run_mm: float, height_mm: float) -> float:
    """Return how much of the picture's height a gradation runs over, the pupil's own blur included."""
    layout = front.layout
    seat = next((layout.front_seat_mm - slot_z_mm(p, p.part, 0) for p in layout.front
                 if isinstance(p.part, FilterHolder)), USUAL_AHEAD_MM)  # fmt: skip
    ahead = max(layout.first_order.entrance_pupil.value + seat, 1.0)
    return blur_share(front, 0.0, run_mm, ahead, height_mm)
