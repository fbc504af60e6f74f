"""A sky target against the frame: does it fit, and if not, the panels of a mosaic and where each is aimed."""

import math
from dataclasses import dataclass
from functools import cached_property

from farrail.optics.field import length_on_sensor_mm
from farrail.train.layout import Layout
from farrail.train.train import Target

ARCMINUTES = 60.0


@dataclass(frozen=True)
class Panel:
    """One frame of a mosaic.

    Attributes:
        row: its row, from 1 at the top.
        column: its column, from 1 at the left.
        right_mm: its middle from the target's, on the sensor's scale, to the picture's right.
        up_mm: the same, up the picture.
        right_ascension_deg: where the telescope is aimed for it (J2000); None where the target has no place.
        declination_deg: the same.
    """

    row: int
    column: int
    right_mm: float
    up_mm: float
    right_ascension_deg: float | None = None
    declination_deg: float | None = None


@dataclass(frozen=True)
class Framing:
    """A target on the frame; lengths on the sensor in mm.

    Attributes:
        target: the target.
        width_mm: its long axis on the sensor.
        height_mm: its short axis.
        turned_deg: its long axis against the picture's width, anticlockwise, the camera turned as it is.
        across_mm: how far it reaches across the frame as it is turned.
        down_mm: how far it reaches down the frame.
        columns: panels needed across.
        rows: panels needed down.
        sides_mm: width and height of the frame.
        focal_mm: focal length.
        camera_deg: how far the camera is turned, clockwise from behind.
    """

    target: Target
    width_mm: float
    height_mm: float
    turned_deg: float
    across_mm: float
    down_mm: float
    columns: int
    rows: int
    sides_mm: tuple[float, float]
    focal_mm: float
    camera_deg: float

    @property
    def fits(self) -> bool:
        """Whether one frame holds it."""
        return self.columns * self.rows == 1

    @cached_property
    def panels(self) -> tuple[Panel, ...]:
        """The frames of the mosaic, from the top left, row by row."""
        step = [side * (1.0 - self.target.overlap) for side in self.sides_mm]
        places = [
            (row, column, (column - (self.columns - 1) / 2.0) * step[0], ((self.rows - 1) / 2.0 - row) * step[1])
            for row in range(self.rows) for column in range(self.columns)
        ]  # fmt: skip
        return tuple(Panel(row + 1, column + 1, x, y, *self._aim(x, y)) for row, column, x, y in places)

    def _aim(self, right_mm: float, up_mm: float) -> tuple[float | None, float | None]:
        """Return right ascension and declination of a place of the picture, from the target's middle.

        With the camera straight north is up and east to the left. The inverse of the tangent projection (Meeus,
        Astronomical Algorithms, from memory).
        """
        ra, dec = self.target.right_ascension_deg, self.target.declination_deg
        if ra is None or dec is None:
            return None, None
        x, y = unturned(right_mm / self.focal_mm, up_mm / self.focal_mm, self.camera_deg)
        sine, cosine = math.sin(math.radians(dec)), math.cos(math.radians(dec))
        found = math.radians(ra) + math.atan2(-x, cosine - y * sine)
        height = math.asin((sine + y * cosine) / math.sqrt(1.0 + x * x + y * y))
        return math.degrees(found) % 360.0, math.degrees(height)


def unturned(right: float, up: float, camera_deg: float) -> tuple[float, float]:
    """Return a place of the picture as it would be with the camera straight.

    Args:
        right: to the picture's right.
        up: up the picture.
        camera_deg: how far the camera is turned, clockwise from behind.
    """
    turn = math.radians(camera_deg)
    return right * math.cos(turn) + up * math.sin(turn), up * math.cos(turn) - right * math.sin(turn)


def framing_of(layout: Layout) -> Framing | None:
    """Return the train's sky target on its frame, or None without a target or camera."""
    target, camera = layout.train.conditions.target, layout.camera
    if target is None or camera is None:
        return None
    focal = layout.first_order.focal_length.value
    width, height = (
        length_on_sensor_mm(side / ARCMINUTES, focal) for side in (target.width_arcmin, target.height_arcmin)
    )  # fmt: skip
    camera_deg = layout.train.camera_turned_deg or 0.0
    turned_deg = target.turned_deg + camera_deg
    turn = math.radians(turned_deg)
    # An ellipse's reach along an axis it is turned against.
    across = math.hypot(width * math.cos(turn), height * math.sin(turn))
    down = math.hypot(width * math.sin(turn), height * math.cos(turn))
    sides = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    columns, rows = (_panels(reach, side, target.overlap) for reach, side in zip((across, down), sides, strict=True))
    return Framing(target, width, height, turned_deg, across, down, columns, rows, sides, focal, camera_deg)


def _panels(reach_mm: float, side_mm: float, overlap: float) -> int:
    if reach_mm <= side_mm + 1e-9:
        return 1
    return math.ceil((reach_mm - side_mm) / (side_mm * (1.0 - overlap)) - 1e-9) + 1


def sky_place_words(right_ascension_deg: float, declination_deg: float) -> str:
    """Return a place of the sky as catalogues write it: hours, minutes, seconds; degrees, minutes."""
    seconds = round(right_ascension_deg / 15.0 * 3600.0) % 86400
    minutes = round(abs(declination_deg) * 60.0)
    sign = "−" if declination_deg < 0.0 and minutes else "+"
    hours = f"{seconds // 3600:02d}h {seconds // 60 % 60:02d}m {seconds % 60:02d}s"
    return f"{hours}, {sign}{minutes // 60:02d}° {minutes % 60:02d}′"
