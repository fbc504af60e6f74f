"""A thin powered part between the optic and the sensor: a reducer (f > 0) or a Barlow or diverging corrector (f < 0).

With the part a distance d before the focus it makes, M = 1 − d/f (Smith, *Modern Optical Engineering*, thin lenses;
cited from memory). What is ahead of it is seen through it: 1/b = 1/f − 1/a.
"""

import math
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_

SOURCE = N_("thin lens: M = 1 − d/f_r, 1/b = 1/f_r − 1/a")


@dataclass(frozen=True)
class Power:
    """A thin lens in the train.

    Attributes:
        focal_mm: its focal length, negative for a diverging one.
        distance_mm: how far before the focus it makes, reduced.
    """

    focal_mm: float
    distance_mm: float

    def __post_init__(self) -> None:
        """Refuse a lens without focal length, or one that makes no image there."""
        if not math.isfinite(self.focal_mm) or abs(self.focal_mm) < 1e-6:
            raise BadInput("A powered part needs a focal length; give one in mm, negative for a diverging part.")
        if self.distance_mm <= 0.0 or self.magnification <= 0.0:
            raise BadInput(
                "A reducer of {focal_mm:g} mm makes no image {distance_mm:g} mm behind it; put it nearer.",
                focal_mm=self.focal_mm,
                distance_mm=self.distance_mm,
            )

    @property
    def magnification(self) -> float:
        """Factor on focal length and f-number."""
        return 1.0 - self.distance_mm / self.focal_mm

    @property
    def native_focus_mm(self) -> float:
        """Where the focus would be without it, behind the lens."""
        return self.distance_mm / self.magnification

    def image_of(self, ahead_mm: float) -> tuple[float, float]:
        """Return where something `ahead_mm` before the lens is imaged, behind it, and how large.

        Returns:
            Distance behind the lens, negative where it appears ahead of it, and the signed scale of its size: negative
            where it is upside down. What is in the front focal plane is taken a nanometre beside it: its image
            is then so far and so large that only its direction matters, which is right.
        """
        if math.isinf(ahead_mm):
            return self.focal_mm, 0.0
        if abs(ahead_mm) < 1e-12:
            return 0.0, 1.0
        left = ahead_mm - self.focal_mm
        left = left if abs(left) > 1e-6 else 1e-6
        image = (self.focal_mm + left) * self.focal_mm / left
        return image, -image / (self.focal_mm + left)
