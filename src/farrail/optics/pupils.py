"""Projection of real openings on to the pupil, for both sides of an optic.

Rear openings are projected through the image point on to the exit pupil, front openings along the direction of
the field point on to the entrance pupil; both come out in units of the pupil's radius. Formulas: similar
triangles through the image point (rear), parallel rays of an object at infinity (front).
"""

from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.plates import check_f_number


@dataclass(frozen=True)
class Pupil:
    """What the frame looks back into.

    Attributes:
        f_number: N of the cone that reaches the sensor.
        exit_distance_mm: L, exit pupil to sensor; `inf` for a telecentric optic.
        focal_length_mm: f, used by front openings only.
        obstruction: central obstruction as a fraction of the pupil's diameter.
    """

    f_number: float
    exit_distance_mm: float
    focal_length_mm: float
    obstruction: float = 0.0

    def __post_init__(self) -> None:
        """Refuse an f-number that no optic has."""
        check_f_number(self.f_number)

    @property
    def convergence_per_mm(self) -> float:
        """1/L, zero for a telecentric optic."""
        return 0.0 if np.isinf(self.exit_distance_mm) else 1.0 / self.exit_distance_mm


@dataclass(frozen=True)
class Opening:
    """One round opening in the way of the light.

    Attributes:
        radius_mm: half its clear diameter.
        distance_mm: rear side: reduced distance x before the sensor; front side: distance ahead of the entrance pupil.
        front: whether it stands ahead of the optic.
    """

    radius_mm: float
    distance_mm: float
    front: bool = False


# Nothing is projected from nearer than this: at the sensor itself an opening is the frame's edge, not a stop.
NEAREST_MM = 1e-6


def project_radially(pupil: Pupil, openings: list[Opening], heights_mm: Array) -> tuple[Array, Array]:
    """Project centred openings for field points at image heights h.

    Args:
        pupil: the pupil looked into.
        openings: A openings, each centred on the axis.
        heights_mm: image heights, (P,), zero or more.

    Returns:
        Centre along the field direction (P, A) and radius (A,), in pupil radii.
    """
    scale = np.empty(len(openings))
    shift = np.empty(len(openings))
    double = 2.0 * pupil.f_number
    for index, opening in enumerate(openings):
        if opening.front:
            # The image of a point up the frame comes down from the scene: rays rise by h/f toward the sensor.
            scale[index] = double * opening.radius_mm / pupil.focal_length_mm
            shift[index] = double * opening.distance_mm / pupil.focal_length_mm**2
        else:
            distance = max(opening.distance_mm, NEAREST_MM)
            scale[index] = double * opening.radius_mm / distance
            shift[index] = double * (pupil.convergence_per_mm - 1.0 / distance)
    return heights_mm[:, None] * shift[None, :], scale


def clear_diameter_needed_mm(f_number: float, exit_distance_mm: float, diagonal_mm: float, distance_mm: float) -> float:
    """Return the clear diameter an opening needs for an unclipped frame corner: ``2h·|1 − x/L| + x/N``.

    Args:
        f_number: N of the cone.
        exit_distance_mm: L, exit pupil to sensor, `inf` when telecentric.
        diagonal_mm: 2h, the frame's diagonal.
        distance_mm: x, reduced distance of the opening before the sensor.

    Source: similar triangles between pupil, opening and frame corner.

    Raises:
        BadInput: the f-number is not one of an optic.
    """
    check_f_number(f_number)
    convergence = 0.0 if np.isinf(exit_distance_mm) else distance_mm / exit_distance_mm
    return diagonal_mm * abs(1.0 - convergence) + distance_mm / f_number


CLEAR_DIAMETER_SOURCE = "similar triangles from the exit pupil through the opening to the frame's corner"
