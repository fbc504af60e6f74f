"""A photo of clear sky behind a polariser: how uneven it is along the middle, beside the predicted band."""

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from farrail.frames.estimate import Estimate
from farrail.frames.picture import Picture, cells_of
from farrail.optics.clipping import Array
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.readouts.front.polarised_sky import polarised_sky_of
from farrail.readouts.read import Readout

# Rows within this share of half the frame's height of the middle are looked at.
BAND = 0.3
# Measured and predicted agree within so many stops; a third of a stop is what a picture shows (common practice).
AGREES_STOPS = 0.33
# The darkest place is elsewhere from this share of the frame's width on.
ELSEWHERE = 0.2
# A frame no more uneven than this has no darkest place.
LEAST_STOPS = 0.15
# Full or black cells beyond this share say nothing.
MOST_LOST = 0.1
# By so much a sky without a polariser may be uneven of itself, as a deviation; common practice, no source.
SKY_ITSELF_STOPS = 0.05


class SkyTrouble(StrEnum):
    """Why a photo of the sky says nothing."""

    NO_POLARISER = "no_polariser"
    SATURATED = "saturated"
    DARK = "dark"


@dataclass(frozen=True)
class SkyReading:
    """What a photo of clear sky says.

    Attributes:
        right_mm: places along the middle of the picture, to the right, (K,).
        stops: how much darker each is than the brightest, falloff left out, (K,).
        predicted: the same as predicted, (K,).
        uneven: from the brightest to the darkest, stops.
        predicted_stops: the same as predicted.
        darkest_mm: where it is darkest, to the right in the picture.
        predicted_darkest_mm: where that is predicted.
        given: whether Sun and air were given; else they are usual ones.
        trouble: why it says nothing.
    """

    right_mm: Array
    stops: Array
    predicted: Array
    uneven: Estimate
    predicted_stops: float
    darkest_mm: float
    predicted_darkest_mm: float
    given: bool
    trouble: SkyTrouble | None = None

    @property
    def agrees(self) -> bool:
        """Whether it is as uneven as predicted."""
        return abs(self.uneven.value - self.predicted_stops) <= AGREES_STOPS

    @property
    def elsewhere(self) -> bool:
        """Whether it is darkest somewhere else than predicted."""
        if min(self.uneven.value, self.predicted_stops) < LEAST_STOPS:
            return False
        return abs(self.darkest_mm - self.predicted_darkest_mm) > ELSEWHERE * float(np.ptp(self.right_mm))


def read_sky(picture: Picture, readout: Readout) -> SkyReading:
    """Return what a photo of clear sky says of the polariser that took it.

    Args:
        picture: the photo.
        readout: the train, set as it was.
    """
    nothing = SkyReading(
        np.zeros(1), np.zeros(1), np.zeros(1), Estimate(0.0, 0.0, 0.0), 0.0, 0.0, 0.0, given=False
    )  # fmt: skip
    sky = polarised_sky_of(readout.front)
    camera = readout.layout.camera
    if sky is None or camera is None:
        return _with(nothing, SkyTrouble.NO_POLARISER)
    if picture.full_share > MOST_LOST:
        return _with(nothing, SkyTrouble.SATURATED)
    cells = cells_of(picture)
    places = -picture.places_mm(cells.columns, cells.rows, camera.sensor_width_mm.value)
    band = np.abs(places[:, 1]) <= BAND * camera.sensor_height_mm.value / 2.0
    right = np.unique(places[band, 0])
    light = np.array([float(np.median(cells.light[band & (places[:, 0] == x)])) for x in right])
    if not (np.isfinite(light) & (light > 0.0)).all():
        return _with(nothing, SkyTrouble.DARK)
    measured = -np.log2(light) - _falloff_stops(readout, right)
    predicted = sky.stops_at(right, np.zeros_like(right))
    measured, predicted = measured - measured.min(), predicted - predicted.min()
    noise = float(np.median(cells.sigma[band] / np.maximum(cells.light[band], 1e-9))) / math.log(2.0)
    off = TWO_SIDED_95 * math.hypot(noise, SKY_ITSELF_STOPS)
    uneven = float(measured.max())
    return SkyReading(
        right, measured, predicted, Estimate(uneven, max(uneven - off, 0.0), uneven + off), float(predicted.max()),
        float(right[measured.argmax()]), float(right[predicted.argmax()]), given=sky.given,
    )  # fmt: skip


def _falloff_stops(readout: Readout, right_mm: Array) -> Array:
    """Return what falls off by the cos⁴ law along the middle."""
    lever = readout.light.pupil.exit_distance_mm
    if not math.isfinite(lever) or not lever:
        return np.zeros_like(right_mm)
    return np.asarray(2.0 * np.log2(1.0 + (right_mm / lever) ** 2))


def _with(reading: SkyReading, trouble: SkyTrouble) -> SkyReading:
    return SkyReading(
        reading.right_mm, reading.stops, reading.predicted, reading.uneven, 0.0, 0.0, 0.0, given=False, trouble=trouble
    )  # fmt: skip
