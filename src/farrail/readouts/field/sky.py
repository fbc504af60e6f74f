"""A sky target against the frame: does it fit, and if not, how many panels are needed."""

import math
from dataclasses import dataclass

from farrail.optics.field import length_on_sensor_mm
from farrail.train.layout import Layout
from farrail.train.train import Target

# How much neighbouring panels share of a side, so that they can be joined; common practice, no source.
OVERLAP = 0.15
ARCMINUTES = 60.0


@dataclass(frozen=True)
class Framing:
    """A target on the frame; lengths on the sensor in mm.

    Attributes:
        target: the target.
        width_mm: its long axis on the sensor.
        height_mm: its short axis.
        across_mm: how far it reaches across the frame as it is turned.
        down_mm: how far it reaches down the frame.
        columns: panels needed across.
        rows: panels needed down.
    """

    target: Target
    width_mm: float
    height_mm: float
    across_mm: float
    down_mm: float
    columns: int
    rows: int

    @property
    def fits(self) -> bool:
        """Whether one frame holds it."""
        return self.columns * self.rows == 1


def framing_of(layout: Layout) -> Framing | None:
    """Return the train's sky target on its frame, or None without a target or camera."""
    target, camera = layout.train.conditions.target, layout.camera
    if target is None or camera is None:
        return None
    focal = layout.first_order.focal_length.value
    width, height = (
        length_on_sensor_mm(side / ARCMINUTES, focal) for side in (target.width_arcmin, target.height_arcmin)
    )  # fmt: skip
    turn = math.radians(target.turned_deg)
    # An ellipse's reach along an axis it is turned against.
    across = math.hypot(width * math.cos(turn), height * math.sin(turn))
    down = math.hypot(width * math.sin(turn), height * math.cos(turn))
    columns = _panels(across, camera.sensor_width_mm.value)
    rows = _panels(down, camera.sensor_height_mm.value)
    return Framing(target, width, height, across, down, columns, rows)


def _panels(reach_mm: float, side_mm: float) -> int:
    if reach_mm <= side_mm + 1e-9:
        return 1
    return math.ceil((reach_mm - side_mm) / (side_mm * (1.0 - OVERLAP)) - 1e-9) + 1
