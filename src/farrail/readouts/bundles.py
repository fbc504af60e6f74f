"""The light bundles the drawing shows: the axis's and the frame corner's, as the apertures leave them.

A ray through the image point at height h crosses the plane a distance x before the sensor at
``h (1 − x/L) + u x / (2N)``, with u from −1 to 1 across the pupil.
"""

from dataclasses import dataclass

from farrail.readouts.light import Light
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
    """Where a part clips the corner's bundle: its place, its clear radius, and the stops lost to it alone."""

    z_mm: float
    radius_mm: float
    stops: float
    part: str


def bundle_to(light: Light, height_mm: float) -> Bundle:
    """Return the bundle to an image height, clipped by every rear aperture in the plane of the drawing."""
    pupil = light.pupil
    low, high = -1.0, 1.0
    for opening in light.openings:
        if opening.front or opening.distance_mm <= 0.0:
            continue
        middle = height_mm * (1.0 - opening.distance_mm * pupil.convergence_per_mm)
        spread = opening.distance_mm / (2.0 * pupil.f_number)
        high = min(high, (opening.radius_mm - middle) / spread)
        low = max(low, (-opening.radius_mm - middle) / spread)
    return Bundle(height_mm, low, high, pupil.convergence_per_mm, pupil.f_number)


def notches(light: Light) -> list[Notch]:
    """Return a notch for each rear aperture that clips the corner."""
    return [
        Notch(c.placed.z_mm, c.has_mm / 2.0, c.alone_stops, c.placed.part.id)
        for c in light.clearances
        if c.clips and c.placed.side is Side.REAR
    ]
