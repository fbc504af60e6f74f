"""What an oblique ray meets ahead of a lens: its direction, the entrance pupil's walk, and glass that displaces it.

The place of an aperture ahead of the entrance pupil acts through its distance D times tan θ. Three things change that
with the field angle: distortion (the direction a place of the frame shows), the walk of the pupil toward the scene, and
plane glass between aperture and lens, which carries the ray along at a smaller angle.

Sources: refraction at plane plates, ``t (1 − tan θ'/tan θ)`` with ``sin θ' = sin θ/n`` (Smith, *Modern Optical
Engineering*, plane parallel plates; cited from memory); walk as the square of the field angle, a usable
one-parameter form (from memory, to be measured); distortion as the square of the image height, Seidel's third order.
"""

from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.projection import Projection, angles_rad

# Directions steeper than this are taken as this: nothing placed flat ahead of a lens reaches beyond.
STEEPEST_RAD = np.radians(89.0)


@dataclass(frozen=True)
class Directions:
    """How a lens places directions on the frame, and how its pupil walks.

    Attributes:
        projection: of the lens without its distortion.
        corner_mm: image height at which distortion and walk are shown; 0 where neither is.
        distortion: by how much the image is farther out there than the projection says, as a share; a barrel is
            negative.
        walk_mm: how far the entrance pupil has moved toward the scene there.
    """

    projection: Projection = "rectilinear"
    corner_mm: float = 0.0
    distortion: float = 0.0
    walk_mm: float = 0.0

    @property
    def straight(self) -> bool:
        """Whether tan θ is h/f and the pupil is still."""
        return self.projection == "rectilinear" and not self.distortion and not self.walk_mm

    def undistorted_mm(self, heights_mm: Array) -> Array:
        """Return where image heights would be without distortion."""
        heights: Array = np.abs(heights_mm)
        if self.distortion and self.corner_mm > 0.0:
            heights = heights / np.maximum(1.0 + self.distortion * (heights / self.corner_mm) ** 2, 0.2)
        return heights

    def angles(self, heights_mm: Array, focal_mm: "Array | float") -> Array:
        """Return the field angle of image heights, in radians, at most 89°; shapes broadcast."""
        heights = self.undistorted_mm(heights_mm)
        return np.minimum(angles_rad(heights, focal_mm, self.projection), STEEPEST_RAD)

    def walked_mm(self, angles: Array, focal_mm: "Array | float", walk_mm: "Array | float | None" = None) -> Array:
        """Return how far the pupil has moved toward the scene at field angles."""
        walk = self.walk_mm if walk_mm is None else walk_mm
        if self.corner_mm <= 0.0 or not np.any(walk):
            return np.zeros_like(angles)
        corner = self.angles(np.array(self.corner_mm), focal_mm)
        found: Array = walk * (angles / np.maximum(corner, 1e-9)) ** 2
        return found


STRAIGHT = Directions()


def glass_shortens_mm(angles: Array, thickness_mm: float, index: float) -> Array:
    """Return by how much a plate ahead of a lens shortens the lever on rays at field angles: t (1 − tan θ'/tan θ).

    On the axis that is the limit t (1 − 1/n).
    """
    sine = np.sin(angles)
    found: Array = thickness_mm * (1.0 - np.cos(angles) / np.sqrt(index * index - sine * sine))
    return found
