"""Coverage: what the frame takes in, how fine its pixels are, and whether the image circle reaches its corners."""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.field import (
    angle_of_view_deg,
    covered_fraction,
)
from farrail.optics.projection import field_angle_rad
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import Quantity
from farrail.readouts.light.aperture_images import sensor_offset
from farrail.train.layout import Layout


@dataclass(frozen=True)
class Circle:
    """An image circle against a frame.

    Attributes:
        diameter: its diameter.
        diagonal_mm: the frame's diagonal.
        covered: the part of the frame inside it.
        part: the part that publishes it.
        needed_mm: the diameter that reaches the farthest corner: the diagonal, or more beside the axis.
    """

    diameter: Quantity
    diagonal_mm: float
    covered: float
    part: str
    needed_mm: float

    @property
    def margin_mm(self) -> float:
        """Diameter to spare; negative where the corners are outside."""
        return self.diameter.value - self.needed_mm

    @property
    def centred(self) -> bool:
        """Whether the frame's middle is on the axis."""
        return abs(self.needed_mm - self.diagonal_mm) < 1e-9


def image_circle_of(layout: Layout) -> tuple[Quantity, str] | None:
    """Return the image circle that the last of corrector and optic publishes, and whose it is; None where none does."""
    corrector = layout.corrector
    if corrector is not None and isinstance(corrector.part, Corrector) and corrector.part.image_circle_mm is not None:
        return corrector.part.image_circle_mm, corrector.part.id
    circle = layout.optic.image_circle_mm
    return None if circle is None else (circle, layout.optic.id)


def circle_against(layout: Layout, camera: Camera) -> Circle | None:
    """Return the image circle against a camera's frame, None where no circle is known."""
    found = image_circle_of(layout)
    if found is None:
        return None
    sides = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    offset = sensor_offset(layout)
    covered = covered_fraction(*sides, found[0].value, *offset)
    needed = math.hypot(sides[0] + 2.0 * abs(offset[0]), sides[1] + 2.0 * abs(offset[1]))
    return Circle(found[0], camera.diagonal_mm, covered, found[1], needed if any(offset) else camera.diagonal_mm)


def field_deg(layout: Layout, camera: Camera) -> tuple[float, float, float]:
    """Return the angles a frame covers: across, down and along its diagonal, in degrees, by the lens's projection.

    A fisheye's field ends at its image circle: beyond it the frame is black.
    """
    focal, ways = layout.first_order.focal_length.value, layout.first_order.directions
    sides = camera.sensor_width_mm.value, camera.sensor_height_mm.value, camera.diagonal_mm
    if ways.projection == "rectilinear" and not ways.distortion:
        return tuple(angle_of_view_deg(side, focal) for side in sides)  # type: ignore[return-value]
    halves, circle = ways.undistorted_mm(np.array(sides) / 2.0), image_circle_of(layout)
    if circle is not None and ways.projection != "rectilinear":
        halves = np.minimum(halves, circle[0].value / 2.0)
    angles = (2.0 * math.degrees(field_angle_rad(float(half), focal, ways.projection)) for half in halves)
    return tuple(angles)  # type: ignore[return-value]
