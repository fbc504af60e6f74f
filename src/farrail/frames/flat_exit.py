"""Where the exit pupil is, by a flat behind an opening whose width was measured."""

import math
from collections.abc import Callable

import numpy as np

from farrail.frames.estimate import Estimate
from farrail.frames.flat_model import CELL_OFF, Fitted, FlatModel
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.origin import Origin
from farrail.readouts.light.aperture_images import ImagedAperture
from farrail.readouts.read import Readout

# Openings nearer to the sensor than this say little of the pupil; a pupil farther than this is nowhere.
LEAST_AHEAD_MM, FARTHEST_PUPIL_MM = 10.0, 5_000.0


def exit_pupil_of(
    one: ImagedAperture, value: Estimate, readout: Readout, fitted: Callable[[], tuple[Fitted, FlatModel] | None]
) -> Estimate | None:
    """Return where the exit pupil is, if an opening that seems narrower or wider is as it was measured.

    Args:
        one: the opening that explains the flat.
        value: how wide it seems.
        readout: the train.
        fitted: fits the pupil's place with all openings as they are placed; None where that explains the flat worse.

    Returns:
        Its distance before the sensor, mm; None where the opening was not measured or agrees, or the pupil is known.
    """
    width, known = one.placed.diameter, readout.layout.first_order.exit_pupil
    agrees = value.low - width.tolerance <= width.value <= value.high + width.tolerance
    if one.image.front or width.origin is not Origin.MEASURED or known.origin is Origin.MEASURED or agrees:
        return None
    found = fitted()
    if found is None:
        return None
    fit, model = found
    # A width that is off by its tolerance, or by what a cell leaves open, moves the pupil as well.
    pupil_mm, ahead_mm = readout.light.pupil.exit_distance_mm, max(one.image.distance_mm, LEAST_AHEAD_MM)
    share = max(width.tolerance / width.value, CELL_OFF)
    off = math.hypot(TWO_SIDED_95 * float(fit.deviations[0]), 1000.0 * share * (1.0 / ahead_mm - 1.0 / pupil_mm))
    step = np.eye(fit.values.size)[0]
    low, middle, high = (model.pupil_with(fit.values + step * by).exit_distance_mm for by in (off, 0.0, -off))
    return Estimate(middle, low, high) if high < FARTHEST_PUPIL_MM else None
