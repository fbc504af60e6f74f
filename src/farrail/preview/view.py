"""What each pixel of the picture looks at: its place on the sensor and the direction of the world it shows."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from farrail.errors import BadInput
from farrail.optics.clipping import Array
from farrail.optics.oblique import Directions
from farrail.optics.projection import angles_rad
from farrail.preview.noise import Plane
from farrail.readouts.light.aperture_images import sensor_shifted
from farrail.readouts.read import Readout

# A view of fewer pixels than this follows a hand.
SMALL_PX = 60_000
# So many rows of a large picture are worked out at a time.
STRIP_ROWS = 32


@dataclass(frozen=True)
class View:
    """The geometry of a picture; equal views show the same directions.

    Attributes:
        columns: pixels across.
        rows: pixels down.
        wide_mm: width of the sensor.
        high_mm: its height.
        right_mm: how far the sensor's middle is right of the axis, seen from behind.
        up_mm: how far up.
        focal_mm: focal length at the sensor.
        directions: how the lens places directions.
        rolled_deg: how far the camera is turned, clockwise from behind.
        pitch_deg: how far above the horizon it looks.
    """

    columns: int
    rows: int
    wide_mm: float
    high_mm: float
    right_mm: float
    up_mm: float
    focal_mm: float
    directions: Directions
    rolled_deg: float = 0.0
    pitch_deg: float = 0.0

    @cached_property
    def seen_mm(self) -> tuple[Plane, Plane]:
        """What each pixel shows, as a place from the axis in the picture, x to the right and y up; (rows, columns)."""
        x = ((np.arange(self.columns) + 0.5) / self.columns - 0.5) * self.wide_mm - self.right_mm
        y = (0.5 - (np.arange(self.rows) + 0.5) / self.rows) * self.high_mm - self.up_mm
        # Not copied: the same row of x for every row, the same column of y for every column.
        across, up = np.broadcast_arrays(x.astype(np.float32)[None, :], y.astype(np.float32)[:, None])
        return across, up

    @cached_property
    def heights_mm(self) -> Plane:
        """The image height of each pixel, from the axis."""
        x, y = self.seen_mm
        heights: Plane = np.sqrt(x[:1] ** 2 + y[:, :1] ** 2)
        return heights

    def strips(self) -> Iterator[slice]:
        """Yield the rows of the picture a few at a time: arrays that fit the processor's cache are quick."""
        for top in range(0, self.rows, STRIP_ROWS):
            yield slice(top, top + STRIP_ROWS)

    def angles_rad(self, heights_mm: Array) -> Array:
        """Return the field angles of image heights; a fisheye's reach beyond 90°."""
        straight = self.directions.undistorted_mm(np.asarray(heights_mm, dtype=float))
        return angles_rad(straight, self.focal_mm, self.directions.projection)

    @cached_property
    def _angle_table(self) -> tuple[Plane, Plane]:
        few = np.linspace(0.0, float(self.heights_mm.max()) * 1.0001, 2048)
        return few, self.angles_rad(few)

    def sight_of(self, rows: slice) -> tuple[Plane, Plane, Plane]:
        """Unit vectors of what the pixels of some rows show: right, up, ahead as the camera sees them."""
        x, y = self.seen_mm
        heights = self.heights_mm[rows]
        angle = np.interp(heights, *self._angle_table).astype(np.float32)
        out = np.sin(angle) / np.maximum(heights, np.float32(1e-9))
        return out * x[rows], out * y[rows], np.cos(angle)

    @property
    def sight(self) -> Plane:
        """Unit vectors of what each pixel shows, (rows, columns, 3): right, up, ahead as the camera sees them."""
        return np.stack(self.sight_of(slice(None)), axis=-1)

    @cached_property
    def farthest_deg(self) -> float:
        """How far from the axis the farthest pixel looks."""
        return math.degrees(float(self.angles_rad(np.array([float(self.heights_mm.max())]))[0]))

    @property
    def az_el_deg(self) -> tuple[Plane, Plane]:
        """Azimuth, to the right of where the camera looks, and elevation above the horizon; (rows, columns) each."""
        az = np.empty((self.rows, self.columns), dtype=np.float32)
        el = np.empty_like(az)
        roll, pitch = math.radians(self.rolled_deg), math.radians(self.pitch_deg)
        for rows in self.strips():
            right, up, ahead = self.sight_of(rows)
            level_right = math.cos(roll) * right + math.sin(roll) * up
            level_up = math.cos(roll) * up - math.sin(roll) * right
            zenith = level_up * math.cos(pitch) + ahead * math.sin(pitch)
            forward = ahead * math.cos(pitch) - level_up * math.sin(pitch)
            az[rows] = np.degrees(np.arctan2(level_right, forward))
            el[rows] = np.degrees(np.arcsin(np.clip(zenith, -1.0, 1.0)))
        return az, el

    @cached_property
    def reach_deg(self) -> tuple[float, float]:
        """The greatest azimuth and elevation in the picture, either way."""
        az, el = self.az_el_deg
        return float(np.abs(az).max()), float(np.abs(el).max())

    @property
    def pixel_deg(self) -> float:
        """How wide a pixel is in the middle of the picture."""
        return math.degrees(self.wide_mm / self.columns / self.focal_mm)


def view_of(readout: Readout, columns: int, rows: int | None = None) -> View:
    """Return the view of a train's picture, so many pixels wide; its height follows from the sensor.

    Raises:
        BadInput: the train has no camera.
    """
    layout, light = readout.layout, readout.light
    camera = layout.camera
    if camera is None:
        raise BadInput("A picture needs a sensor: add a camera to the train.")
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    sky = layout.train.conditions.sky
    down = max(round(columns * high / wide), 1) if rows is None else rows
    return _shared_if_small(
        View(
            columns,
            down,
            wide,
            high,
            *sensor_shifted(layout),
            light.pupil.focal_length_mm,
            light.pupil.directions,
            layout.train.camera_turned_deg or 0.0,
            0.0 if sky is None else sky.camera_up_deg,
        )
    )


def _shared_if_small(view: View) -> View:
    # What a large view keeps is worth tens of megabytes; it is made once the hand rests.
    return _shared(view) if view.columns * view.rows < SMALL_PX else view


@lru_cache(maxsize=4)
def _shared(view: View) -> View:
    """Return the view that was made first among equal ones: while a hand drags, directions are worked out once."""
    return view
