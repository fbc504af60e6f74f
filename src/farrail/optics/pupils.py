"""Projection of real openings on to the pupil, for both sides of an optic.

Rear openings are projected through the image point on to the exit pupil, front openings along the direction of
the field point on to the entrance pupil; both come out in units of the pupil's radius. Formulas: similar
triangles through the image point (rear), parallel rays of an object at infinity (front).
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TypeAlias

import numpy as np

from farrail.errors import BadInput
from farrail.language import N_
from farrail.optics.clipping import Array
from farrail.optics.oblique import STRAIGHT, Directions, glass_shortens_mm
from farrail.optics.plates import check_f_number
from farrail.optics.shapes import Projected

LEAST_FOCAL_MM = 1e-6


@dataclass(frozen=True)
class Pupil:
    """What the frame looks back into.

    Attributes:
        f_number: N of the cone that reaches the sensor.
        exit_distance_mm: L, how far the exit pupil is before the sensor; `inf` for a telecentric optic, negative
            where it is behind the sensor.
        focal_length_mm: f, used by front openings only.
        obstruction: central obstruction as a fraction of the pupil's diameter.
        directions: how the lens places directions on the frame, used by front openings only.
    """

    f_number: float
    exit_distance_mm: float
    focal_length_mm: float
    obstruction: float = 0.0
    directions: Directions = STRAIGHT

    def __post_init__(self) -> None:
        """Refuse an f-number that no optic has, and what is no focal length."""
        check_f_number(self.f_number)
        if not (math.isfinite(self.focal_length_mm) and self.focal_length_mm > LEAST_FOCAL_MM):
            raise BadInput(
                "A focal length of {focal_length_mm:g} mm at the sensor is not possible; check the "
                "optic, its multipliers and the parts behind it.",
                focal_length_mm=self.focal_length_mm,
            )

    @cached_property
    def convergence_per_mm(self) -> float:
        """1/L, zero for a telecentric optic."""
        return 0.0 if math.isinf(self.exit_distance_mm) else 1.0 / self.exit_distance_mm


@dataclass(frozen=True)
class Petals:
    """A hood's rim cut out: how much less far it reaches toward the frame's corners and its sides than above.

    Attributes:
        corner_mm: toward the corners.
        side_mm: to the left and right.
        corner_rad: the angle of the frame's diagonal over its width.
        turn_rad: how far the hood is turned against the frame, clockwise as seen from behind.
    """

    corner_mm: float
    side_mm: float
    corner_rad: float
    turn_rad: float = 0.0

    def less_mm(self, points_mm: Array) -> Array:
        """Return how much less far it reaches in the direction of places on the sensor, (P,); linear between."""
        angle = np.arctan2(points_mm[:, 1], points_mm[:, 0]) + self.turn_rad
        folded = np.arctan2(np.abs(np.sin(angle)), np.abs(np.cos(angle)))
        found: Array = np.interp(folded, [0.0, self.corner_rad, np.pi / 2.0], [self.side_mm, self.corner_mm, 0.0])
        return found


@dataclass(frozen=True)
class ApertureImage:
    """One thing in the way of the light, as the sensor or the entrance pupil sees it.

    Lateral places are seen from behind the camera, x to the right and y up.

    Attributes:
        radius_mm: half its clear diameter, or half the width of a rectangle.
        distance_mm: rear side: reduced distance x before the sensor, negative where a powered part images it behind
            the sensor; front side: distance ahead of the entrance pupil.
        front: whether it is ahead of the optic.
        half_height_mm: half the height of a rectangle; None for a disc.
        centre_mm: where its centre is beside the axis.
        angle_rad: how far it is turned, anticlockwise.
        passes: the fraction it lets through where it only covers part of the light; None for an opening.
        larger: front side: by how much a near subject's rays let it appear larger, and its distance with it.
        plates: front side: thickness and index of the glass between it and the lens.
        cut: front side: of a rim cut out in petals; None for a straight one.
    """

    radius_mm: float
    distance_mm: float
    front: bool = False
    half_height_mm: float | None = None
    centre_mm: tuple[float, float] = (0.0, 0.0)
    angle_rad: float = 0.0
    passes: float | None = None
    larger: float = 1.0
    plates: tuple[tuple[float, float], ...] = ()
    cut: "Petals | None" = None

    @property
    def centred(self) -> bool:
        """Whether it is a round opening on the axis, so that only the image height matters."""
        round_about = self.half_height_mm is None and self.passes is None and self.cut is None
        return round_about and self.centre_mm == (0.0, 0.0)


# Nothing is projected from nearer than this: at the sensor itself an opening is the frame's edge, not a stop.
NEAREST_MM = 1e-6


def lever_of(pupil: Pupil, aperture: ApertureImage) -> tuple[float, float]:
    """Return how an opening's own lengths and the image point's place scale on to the pupil, in pupil radii per mm.

    The first is negative where the opening's image is behind the sensor: it then is upside down on the pupil.
    """
    double = 2.0 * pupil.f_number
    if aperture.front:
        # The image of a point up the frame comes down from the scene: rays rise by h/f toward the sensor.
        return double / pupil.focal_length_mm, double * aperture.distance_mm / pupil.focal_length_mm**2
    distance = aperture.distance_mm
    if abs(distance) < NEAREST_MM:
        distance = NEAREST_MM
    return double / distance, double * (pupil.convergence_per_mm - 1.0 / distance)


def project_radially(pupil: Pupil, apertures: list[ApertureImage], heights_mm: Array) -> tuple[Array, Array]:
    """Project centred openings for field points at image heights h.

    Args:
        pupil: the pupil looked into.
        apertures: A openings, each centred on the axis.
        heights_mm: image heights, (P,), zero or more.

    Returns:
        Centre along the field direction (P, A) and radius (A,), in pupil radii.
    """
    scale = np.empty(len(apertures))
    shift = np.empty(len(apertures))
    for index, aperture in enumerate(apertures):
        own, lever = lever_of(pupil, aperture)
        scale[index] = abs(own) * aperture.radius_mm
        shift[index] = lever
    centre = heights_mm[:, None] * shift[None, :]
    return centre * bends_of(pupil, apertures, np.stack([heights_mm, np.zeros_like(heights_mm)], axis=1)), scale


def bends_of(pupil: Pupil, apertures: list[ApertureImage], points_mm: Array) -> Array:
    """Return by how much the lever of each aperture differs from h/f times its distance, (P, A); ones behind the lens.

    The direction of the field point, the walk of the pupil, glass on the way and a cut rim make it so.

    Args:
        pupil: the pupil looked into.
        apertures: A apertures.
        points_mm: places on the sensor, (P, 2).
    """
    bends = np.ones((points_mm.shape[0], len(apertures)))
    ways = pupil.directions
    front = [n for n, o in enumerate(apertures) if o.front]
    if not front or (ways.straight and not any(apertures[n].plates or apertures[n].cut for n in front)):
        return bends
    heights_mm = np.hypot(points_mm[:, 0], points_mm[:, 1])
    focal = pupil.focal_length_mm
    angles = ways.angles(heights_mm, focal)
    ratio = np.abs(heights_mm) / focal
    direction = np.where(ratio > 1e-12, np.tan(angles) / np.maximum(ratio, 1e-12), 1.0)
    walked = ways.walked_mm(angles, focal)
    known: dict[tuple[float, float], Array] = {}
    for n in front:
        less = walked
        for plate in apertures[n].plates:
            if plate not in known:
                known[plate] = glass_shortens_mm(angles, *plate)
            less = less + known[plate]
        cut = apertures[n].cut
        if cut is not None:
            less = less + cut.less_mm(points_mm)
        distance = apertures[n].distance_mm
        nearer = 1.0 - apertures[n].larger * less / distance if abs(distance) > 1e-9 else 1.0
        bends[:, n] = direction * nearer
    return bends


def project(pupil: Pupil, apertures: list[ApertureImage], points_mm: Array) -> Projected:
    """Project any openings and covers for field points anywhere on the sensor.

    Args:
        pupil: the pupil looked into.
        apertures: A shapes.
        points_mm: places on the sensor from the axis, (P, 2), seen from behind the camera.
    """
    levers = [lever_of(pupil, aperture) for aperture in apertures]
    own = np.array([lever[0] for lever in levers])
    shift = np.array([lever[1] for lever in levers])
    centre = np.array([o.centre_mm for o in apertures]).reshape(-1, 2)
    bend = bends_of(pupil, apertures, points_mm)
    height = [o.radius_mm if o.half_height_mm is None else o.half_height_mm for o in apertures]
    return Projected(
        centre_x=centre[:, 0] * own + points_mm[:, :1] * shift * bend,
        centre_y=centre[:, 1] * own + points_mm[:, 1:] * shift * bend,
        half_width=np.broadcast_to(np.abs(own) * np.array([o.radius_mm for o in apertures]), bend.shape),
        half_height=np.broadcast_to(np.abs(own) * np.array(height), bend.shape),
        angle=np.array([o.angle_rad for o in apertures]),
        disc=np.array([o.half_height_mm is None for o in apertures], dtype=bool),
        passes=np.array([np.nan if o.passes is None else o.passes for o in apertures]),
    )


def clear_diameter_needed_mm(f_number: float, exit_distance_mm: float, diagonal_mm: float, distance_mm: float) -> float:
    """Return the clear diameter an opening needs for an unclipped frame corner: ``2h·|1 − x/L| + x/N``.

    Args:
        f_number: N of the cone.
        exit_distance_mm: L, exit pupil to sensor, `inf` when telecentric, negative behind the sensor.
        diagonal_mm: 2h, the frame's diagonal.
        distance_mm: x, reduced distance of the opening before the sensor; negative for one imaged behind it.

    Source: similar triangles between pupil, opening and frame corner.

    Raises:
        BadInput: the f-number is not one of an optic.
    """
    check_f_number(f_number)
    convergence = 0.0 if np.isinf(exit_distance_mm) else distance_mm / exit_distance_mm
    return diagonal_mm * abs(1.0 - convergence) + abs(distance_mm) / f_number


CLEAR_DIAMETER_SOURCE = N_("similar triangles from the exit pupil through the opening to the frame's corner")


@dataclass(frozen=True)
class FrontStack:
    """Front apertures whose distance ahead of the entrance pupil changes with a zoom's focal length.

    Attributes:
        apertures: A apertures; their own distances are not used.
        ahead_mm: distance ahead of the entrance pupil's place on the axis at each of F focal lengths, (F, A).
        walk_mm: how far the pupil walks to the frame's corner at each, (F,).
    """

    apertures: tuple[ApertureImage, ...]
    ahead_mm: Array
    walk_mm: Array


Placing: TypeAlias = Callable[[Array], tuple[Array, Array]]


def project_over_zoom(
    f_number: Array, directions: Directions, stack: FrontStack, focal_mm: Array, points_mm: Array, place: Placing
) -> Projected:  # fmt: skip
    """Project front apertures at many focal lengths and places at once.

    Args:
        f_number: N at each focal length, (F,).
        directions: how the lens places directions on the frame.
        stack: the apertures.
        focal_mm: focal lengths, (F,).
        points_mm: places on the sensor, (P, 2).
        place: the lever on tan θ of distances ahead of the pupil, and how much larger things appear there.

    Returns:
        F·P field points, focal length by focal length.
    """
    count, places = focal_mm.size, points_mm.shape[0]
    heights = np.hypot(points_mm[:, 0], points_mm[:, 1])
    angles = directions.angles(heights[None, :], focal_mm[:, None])
    less = directions.walked_mm(angles, focal_mm[:, None], stack.walk_mm[:, None])[:, :, None]
    less = np.broadcast_to(less, (count, places, len(stack.apertures))).copy()
    for plate in {plate for aperture in stack.apertures for plate in aperture.plates}:
        times = np.array([aperture.plates.count(plate) for aperture in stack.apertures])
        less += glass_shortens_mm(angles, *plate)[:, :, None] * times
    for number, aperture in enumerate(stack.apertures):
        if aperture.cut is not None:
            less[:, :, number] += aperture.cut.less_mm(points_mm)
    lever, larger = place(stack.ahead_mm[:, None, :] - less)
    own = (2.0 * f_number / focal_mm)[:, None, None] * larger
    # From the field point's direction to each aperture's shift on the pupil.
    unit = points_mm / np.maximum(heights, 1e-12)[:, None]
    shift = (2.0 * f_number / focal_mm)[:, None, None] * lever * np.tan(angles)[:, :, None]
    centre = np.array([o.centre_mm for o in stack.apertures]).reshape(-1, 2)
    radius = np.array([o.radius_mm for o in stack.apertures])
    height = np.array([o.radius_mm if o.half_height_mm is None else o.half_height_mm for o in stack.apertures])

    def across(axis: int) -> Array:
        found: Array = own * centre[:, axis] + shift * unit[None, :, axis, None]
        return found.reshape(count * places, -1)

    return Projected(
        centre_x=across(0),
        centre_y=across(1),
        half_width=(own * radius).reshape(count * places, -1),
        half_height=(own * height).reshape(count * places, -1),
        angle=np.array([o.angle_rad for o in stack.apertures]),
        disc=np.array([o.half_height_mm is None for o in stack.apertures], dtype=bool),
        passes=np.full(len(stack.apertures), np.nan),
    )
