"""What a polariser does to a clear sky over the frame: a wide lens's dark band, and how uneven it leaves the sky."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.polarised_sky import darkest_axis_rad, passed, sight_lines, stops_of, sun_direction
from farrail.parts.origin import Origin
from farrail.readouts.figure import Figure
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.front.figure_texts import SkyUneven
from farrail.readouts.front.holder_messages import UnevenSky
from farrail.readouts.front.model import Front
from farrail.readouts.front.polariser import polarisers_in
from farrail.train.train import Sky

# The dark band shows from this focal length down on a frame with this diagonal; common practice, no source.
BAND_FOCAL_MM, BAND_DIAGONAL_MM = 28.0, 43.3
BAND_HALF_FIELD_RAD = math.atan(BAND_DIAGONAL_MM / 2.0 / BAND_FOCAL_MM)
ACROSS = 65


@dataclass(frozen=True)
class PolarisedSky:
    """A polariser before a clear sky, over a train's frame.

    Attributes:
        front: the train's front stack.
        sky: Sun and air as given.
        given: whether anybody has given them; else they are usual ones.
    """

    front: Front
    sky: Sky
    given: bool

    @cached_property
    def _turned_rad(self) -> float:
        return math.radians(self.front.layout.train.camera_turned_deg or 0.0)

    @cached_property
    def _sun(self) -> Array:
        """The Sun as the frame sees it: a camera turned clockwise sees it turned the other way."""
        right, up, ahead = sun_direction(self.sky.sun_high_deg, self.sky.sun_right_deg, self.sky.camera_up_deg)
        cosine, sine = math.cos(self._turned_rad), math.sin(self._turned_rad)
        return np.array([cosine * right - sine * up, sine * right + cosine * up, ahead])

    @cached_property
    def axis_rad(self) -> float:
        """The polariser's axis in the frame: as set, else darkest in the middle."""
        set_deg = self.sky.polariser_deg
        return darkest_axis_rad(self._sun) if set_deg is None else math.radians(set_deg) + self._turned_rad

    @cached_property
    def half_frame_mm(self) -> tuple[float, float]:
        """Half the frame's sides."""
        camera = self.front.layout.camera
        assert camera is not None
        return camera.sensor_width_mm.value / 2.0, camera.sensor_height_mm.value / 2.0

    def stops_at(self, x_mm: Array, y_mm: Array) -> Array:
        """Return stops lost at points of the picture, x to the right and y up."""
        lens = self.front.lens
        assert lens is not None
        sight = sight_lines(x_mm, y_mm, self.front.pupil.focal_length_mm, lens.projection)
        return stops_of(passed(sight, self._sun, self.sky.most_polarised, self.axis_rad))

    @cached_property
    def across(self) -> Array:
        """Stops lost along the middle of the frame, from its left edge to its right, (ACROSS,)."""
        half = self.half_frame_mm[0]
        x = np.linspace(-half, half, ACROSS)
        return self.stops_at(x, np.zeros(ACROSS))

    @property
    def marks(self) -> tuple[float, float, float, float, float]:
        """Stops lost at the left edge, the quarter, the middle, the quarter and the right edge."""
        a, b, c, d, e = (float(self.across[n]) for n in range(0, ACROSS, (ACROSS - 1) // 4))
        return a, b, c, d, e

    @property
    def uneven_stops(self) -> float:
        """How far the sky differs along the middle of the frame, in stops."""
        return float(self.across.max() - self.across.min())

    def picture(self, columns: int, rows: int) -> Array:
        """Return stops lost over the frame, (rows, columns), its upper left corner first."""
        wide, high = self.half_frame_mm
        x, y = np.meshgrid(np.linspace(-wide, wide, columns), np.linspace(high, -high, rows))
        return self.stops_at(x, y)

    @property
    def wide(self) -> bool:
        """Whether the field is so wide that the dark band shows."""
        wide, high = self.half_frame_mm
        lens = self.front.lens
        assert lens is not None
        corner = sight_lines(np.array(wide), np.array(high), self.front.pupil.focal_length_mm, lens.projection)
        return math.acos(float(np.clip(corner[2], -1.0, 1.0))) >= BAND_HALF_FIELD_RAD - 1e-9


def polarised_sky_of(front: Front) -> PolarisedSky | None:
    """Return what a train's polariser does to a clear sky; None without a polariser, a lens or a frame."""
    if not front.judged or not polarisers_in(front.layout):
        return None
    sky = front.layout.train.conditions.sky
    return PolarisedSky(front, sky or Sky(), sky is not None)


def polarised_sky_figures(front: Front) -> Iterator[Figure]:
    """Yield how uneven a polariser leaves the sky."""
    sky = polarised_sky_of(front)
    if sky is not None:
        origin = Origin.MEASURED if sky.given else Origin.ASSUMED
        yield Figure(SkyUneven(sky=sky.sky, marks=sky.marks), sky.uneven_stops, origin)


def polarised_sky_findings(front: Front) -> Iterator[Finding]:
    """Yield that the dark band shows, where the field is wide enough for it."""
    sky = polarised_sky_of(front)
    if sky is None or not sky.wide:
        return
    yield Finding(
        UnevenSky(
            polariser=polarisers_in(front.layout)[0][0],
            uneven_stops=sky.uneven_stops,
            marks=sky.marks,
            sky=sky.sky,
            given=sky.given,
        ),
        Severity.NOTE,
        figure="front.sky_uneven_stops",
    )
