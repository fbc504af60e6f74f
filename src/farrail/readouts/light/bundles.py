"""The light bundles the drawing shows: the axis's and the frame corner's, as the apertures leave them.

A ray through the image point at height h crosses the plane a distance x before the sensor at
``h (1 − x/L) + u x / (2N)``, with u from −1 to 1 across the pupil.
"""

import math
from dataclasses import dataclass

from farrail.optics.pupils import ApertureImage
from farrail.readouts.light.model import Light
from farrail.train.train import Side


@dataclass(frozen=True)
class Bundle:
    """The rays to one image point.

    Attributes:
        height_mm: image height of the point.
        low: lowest ray that arrives, in pupil radii.
        high: highest ray that arrives, in pupil radii.
        convergence_per_mm: 1/L.
        f_number: N.
    """

    height_mm: float
    low: float
    high: float
    convergence_per_mm: float
    f_number: float

    def edges_mm(self, distance_mm: float) -> tuple[float, float]:
        """Return where its lowest and highest ray cross the plane `distance_mm` before the sensor."""
        middle = self.height_mm * (1.0 - distance_mm * self.convergence_per_mm)
        spread = distance_mm / (2.0 * self.f_number)
        return middle + self.low * spread, middle + self.high * spread

    @property
    def dark(self) -> bool:
        """Whether nothing arrives in the plane drawn."""
        return self.low >= self.high


@dataclass(frozen=True)
class Notch:
    """Where a part clips the corner's bundle: its place, its clear radius, the stops lost to it alone, their figure."""

    z_mm: float
    radius_mm: float
    stops: float
    part: str
    figure: str


def bundle_to(light: Light, point_mm: tuple[float, float]) -> Bundle:
    """Return the bundle to a place on the sensor, clipped by every rear aperture in the plane through it and the axis.

    `point_mm` is seen from behind; on the axis the plane is the upright one.
    """
    pupil, height = light.pupil, math.hypot(*point_mm)
    way = (point_mm[0] / height, point_mm[1] / height) if height > 0.0 else (0.0, 1.0)
    low, high = -1.0, 1.0
    for image in light.images:
        if image.front or abs(image.distance_mm) < 1e-9:
            continue
        middle = height * (1.0 - image.distance_mm * pupil.convergence_per_mm)
        spread = image.distance_mm / (2.0 * pupil.f_number)
        ends = _along(image, way)
        if ends is None:
            if image.passes is None:
                low, high = 0.0, 0.0
            continue
        first, last = sorted(((ends[0] - middle) / spread, (ends[1] - middle) / spread))
        if image.passes is None:
            low, high = max(low, first), min(high, last)
        elif first <= low:
            low = max(low, min(last, high))
        elif last >= high:
            high = min(high, max(first, low))
    return Bundle(height, low, high, pupil.convergence_per_mm, pupil.f_number)


def _along(image: ApertureImage, way: tuple[float, float]) -> tuple[float, float] | None:
    """Return between which distances from the axis a straight line through it runs inside an opening; None outside."""
    cx, cy = image.centre_mm
    if image.half_height_mm is None:
        near = cx * way[0] + cy * way[1]
        square = image.radius_mm**2 - (cx * cx + cy * cy - near * near)
        return None if square < 0.0 else (near - math.sqrt(square), near + math.sqrt(square))
    low, high = -math.inf, math.inf
    cos, sin = math.cos(image.angle_rad), math.sin(image.angle_rad)
    for nx, ny, half in ((cos, sin, image.radius_mm), (-sin, cos, image.half_height_mm)):
        slope, offset = way[0] * nx + way[1] * ny, cx * nx + cy * ny
        if abs(slope) < 1e-12:
            if abs(offset) > half:
                return None
            continue
        ends = sorted(((offset - half) / slope, (offset + half) / slope))
        low, high = max(low, ends[0]), min(high, ends[1])
    return (low, high) if low < high else None


def notches(light: Light) -> list[Notch]:
    """Return a notch for each rear aperture that clips the corner."""
    if not any(a.placed.side is Side.REAR and a.has_mm - a.needed_mm < 0.0 for a in light.imaged):
        return []
    return [
        Notch(c.placed.z_mm, c.has_mm / 2.0, c.alone_stops, c.placed.part.id, _loss_id(number, c.placed.part.id))
        for number, c in enumerate(light.clearances, 1)
        if c.clips and c.placed.side is Side.REAR
    ]


def _loss_id(number: int, part: str) -> str:
    """Return the id of the figure of the light loss by one aperture alone."""
    return f"light.loss.{number}.{part}_stops"
