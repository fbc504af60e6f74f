"""Every aperture as the sensor sees it: reduced by glass, imaged through powered parts, turned with its part.

Places are given from the axis in the sensor's own frame, seen from behind the camera, x to the right and y up.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.pupils import ApertureImage, Petals, Pupil, bends_of
from farrail.parts.in_beam import ApertureRole
from farrail.readouts.close_up.conjugate import ObjectConjugate
from farrail.train.layout import Layout
from farrail.train.placed import PlacedAperture
from farrail.train.train import Side

Point = tuple[float, float]


@dataclass(frozen=True)
class ImagedAperture:
    """One aperture as the sensor sees it, at the worse end of its place.

    Attributes:
        placed: the aperture.
        image: what the engine is given.
        scale: how large it appears against its true size (1 but for what is seen through a powered part).
        needed_mm: true clear width needed for an unclipped frame, at the worse end of its place.
        needed_best_mm: the same at the better end.
        has_mm: the clear width it has in that direction.
        acts: whether it takes light from the frame or a little beyond it; what does not need not be computed with.
    """

    placed: PlacedAperture
    image: ApertureImage
    scale: float
    needed_mm: float
    needed_best_mm: float
    has_mm: float
    acts: bool


# How far beyond the frame's corners an aperture is looked for that may act there.
BEYOND = 1.2


def frame_corners(layout: Layout) -> tuple[Point, ...]:
    """Return the sensor's four corners from the axis, counted from the top right round to the left."""
    camera = layout.camera
    if camera is None:
        return ()
    right, up = sensor_offset(layout)
    a, b = camera.sensor_width_mm.value / 2.0, camera.sensor_height_mm.value / 2.0
    return tuple((right + sx * a, up + sy * b) for sx, sy in ((1, 1), (-1, 1), (-1, -1), (1, -1)))


def sensor_offset(layout: Layout) -> Point:
    """Return where the sensor's middle is from the axis: as it is built in, shifted and tilted."""
    right, up = sensor_shifted(layout)
    return right, up - (tilted_up_mm(layout) if layout.camera is not None else 0.0)


def sensor_shifted(layout: Layout) -> Point:
    """Return where the sensor's middle is as it is built in and shifted.

    A lens that is tilted about its principal plane takes the same directions to the same places of the frame: only its
    axis moves. This is the middle that the picture's directions are counted from.
    """
    camera, conditions = layout.camera, layout.train.conditions
    if camera is None:
        return 0.0, 0.0
    right, up = camera.sensor_right_mm, camera.sensor_up_mm
    return (
        (right.value if right is not None else 0.0) - conditions.shift_right_mm,
        (up.value if up is not None else 0.0) - conditions.shift_up_mm,
    )


def tilted_up_mm(layout: Layout) -> float:
    """Return how far above the frame's middle the axis of a lens that is tilted down meets the sensor.

    The lens is taken to turn about its principal plane: a focal length times the tangent.
    """
    tilt = layout.train.conditions.tilt_deg
    return layout.first_order.focal_length.value * math.tan(math.radians(tilt)) if tilt else 0.0


def _square(point: Point) -> float:
    return point[0] * point[0] + point[1] * point[1]


class ApertureImager:
    """Looks from the sensor of one placed train."""

    def __init__(self, layout: Layout, pupil: Pupil, near: ObjectConjugate) -> None:
        """Note glass, powered parts and the frame once."""
        self._layout, self._pupil = layout, pupil
        self._corners = frame_corners(layout)
        self._depth_mm = layout.first_order.entrance_pupil.value
        self._near = near
        self._beyond = tuple((BEYOND * x, BEYOND * y) for x, y in self._corners)
        turns = layout.turned_deg if layout.camera is not None else ()
        # Everything is shown in the camera's own frame: what the camera is turned by, all else is turned back.
        self._front_turns = [math.radians(turn) for turn in layout.front_in_frame_deg]
        self._turns = [math.radians(turn - turns[-1]) for turn in turns[:-1]] if turns else []
        # Of a round opening about the axis the farthest corner decides.
        self._far = max(self._corners, key=_square, default=None)
        self._front_glass = tuple(g for g in layout.trace.glass if g.place.side is Side.FRONT)

    def see(self, placed: PlacedAperture) -> ImagedAperture:
        """Return an aperture at the worse end of its place, with what it needs at both ends."""
        if placed.plain and self._far is not None:
            return self._see_plain(placed, self._far)
        ends = []
        for z in {placed.z_low_mm, placed.z_high_mm}:
            distance, scale = self._distance(placed, z)
            image = self._image(placed, distance, scale)
            needed, has = self._needed(image, self._corners)
            large = abs(scale)
            ends.append((needed / large - has / large, needed / large, has / large, image, large))
        worse, better = max(ends, key=lambda e: e[0]), min(ends, key=lambda e: e[0])
        wide, has = self._needed(worse[3], self._beyond)
        return ImagedAperture(placed, worse[3], worse[4], worse[1], better[1], worse[2], wide > has - 1e-9)

    def _see_plain(self, placed: PlacedAperture, far: Point) -> ImagedAperture:
        """Return the same of a round opening about the axis, at a known place behind the optic."""
        distance, scale = self._layout.first_order.seen_from_sensor(placed.z_low_mm)
        pupil, large = self._pupil, abs(scale)
        image = ApertureImage(placed.diameter.value / 2.0 * large, distance, front=False)
        lever = 1.0 - distance * pupil.convergence_per_mm
        aside = math.hypot(far[0] * lever, far[1] * lever)
        radius, has = abs(distance) / (2.0 * pupil.f_number), 2.0 * image.radius_mm
        needed = 2.0 * (aside + radius)
        acts = 2.0 * (BEYOND * aside + radius) > has - 1e-9
        return ImagedAperture(placed, image, large, needed / large, needed / large, has / large, acts)

    def image_at(self, placed: PlacedAperture) -> ApertureImage:
        """Return an aperture in the middle of its place, without what it needs."""
        return self._image(placed, *self._distance(placed, placed.z_mm))

    def true_at(self, placed: PlacedAperture) -> ApertureImage:
        """Return an aperture in the middle of its place in its true size, turned as it is."""
        return self._image(placed, self._distance(placed, placed.z_mm)[0], 1.0)

    def _distance(self, placed: PlacedAperture, z_mm: float) -> tuple[float, float]:
        """Return the distance at which the pupil geometry sees a place, and the signed scale of things there."""
        layout = self._layout
        if placed.side is Side.FRONT:
            ahead = self._depth_mm + layout.front_seat_mm - z_mm
            coupled = placed.role is ApertureRole.CARRIED_PUPIL
            lever, larger = self._near.place(np.array([ahead]), of_coupled=coupled)
            return float(lever[0]), float(larger[0])
        return layout.first_order.seen_from_sensor(z_mm)

    def _image(self, placed: PlacedAperture, distance_mm: float, scale: float) -> ApertureImage:
        turns = self._turns if placed.side is Side.REAR else self._front_turns
        turn = turns[placed.index] if 0 <= placed.index < len(turns) else 0.0
        x, y = placed.centre_mm
        # Clockwise as seen from behind.
        centre = (x * math.cos(turn) + y * math.sin(turn), -x * math.sin(turn) + y * math.cos(turn))
        if not (x or y):
            centre = (0.0, 0.0)
        # What a powered part images is upside down where the scale is negative.
        large, front = abs(scale), placed.side is Side.FRONT
        height = None if placed.height is None else placed.height.value / 2.0 * large
        return ApertureImage(
            radius_mm=placed.diameter.value / 2.0 * large,
            distance_mm=distance_mm,
            front=front,
            half_height_mm=height,
            centre_mm=(centre[0] * scale, centre[1] * scale),
            angle_rad=-turn if height is not None else 0.0,
            passes=placed.passes,
            larger=large if front else 1.0,
            plates=self._plates_behind(placed) if front else (),
            cut=self._petals(placed, turn) if placed.cut_mm else None,
        )

    def _petals(self, placed: PlacedAperture, turn_rad: float) -> Petals | None:
        camera = self._layout.camera
        if camera is None or not placed.cut_mm:
            return None
        diagonal = math.atan2(camera.sensor_height_mm.value, camera.sensor_width_mm.value)
        return Petals(placed.cut_mm[0], placed.cut_mm[1], diagonal, turn_rad)

    def _plates_behind(self, placed: PlacedAperture) -> tuple[tuple[float, float], ...]:
        """Return thickness and index of the glass between an aperture ahead of the lens and the lens."""
        return tuple(g.glass.as_plate for g in self._front_glass if g.z_front_mm >= placed.z_mm - 1e-9)

    def bundle_at(self, image: ApertureImage, corner: Point) -> tuple[Point, float]:
        """Return the middle and the radius of a corner's bundle where an opening is."""
        pupil = self._pupil
        if image.front:
            bend = float(bends_of(pupil, [image], np.array([corner]))[0, 0])
            lever = -image.distance_mm / pupil.focal_length_mm * bend
            return (corner[0] * lever, corner[1] * lever), pupil.focal_length_mm / (2.0 * pupil.f_number)
        lever = 1.0 - image.distance_mm * pupil.convergence_per_mm
        return (corner[0] * lever, corner[1] * lever), abs(image.distance_mm) / (2.0 * pupil.f_number)

    def _needed(self, image: ApertureImage, corners: tuple[Point, ...]) -> tuple[float, float]:
        """Return the clear width an opening needs, as it appears, and the one it has; of a rectangle its tighter side.

        What covers the light needs its near edge to stay beyond the bundle: twice that distance is compared.
        """
        cx, cy = image.centre_mm
        if image.half_height_mm is None:
            needed = 0.0
            if not (cx or cy) and corners and image.cut is None:
                # About the axis the farthest corner needs most; the others need not be asked.
                corners = (max(corners, key=_square),)
            for corner in corners:
                (x, y), radius = self.bundle_at(image, corner)
                needed = max(needed, 2.0 * (math.hypot(x - cx, y - cy) + radius))
            return needed, 2.0 * image.radius_mm
        cos, sin = math.cos(image.angle_rad), math.sin(image.angle_rad)
        if image.passes is not None:
            return self._beside(image, corners)
        sides = [[0.0, 2.0 * image.radius_mm], [0.0, 2.0 * image.half_height_mm]]
        for corner in corners:
            (x, y), radius = self.bundle_at(image, corner)
            along = abs((x - cx) * cos + (y - cy) * sin), abs(-(x - cx) * sin + (y - cy) * cos)
            for side, far in zip(sides, along, strict=True):
                side[0] = max(side[0], 2.0 * (far + radius))
        tight = max(sides, key=lambda side: side[0] - side[1])
        return tight[0], tight[1]

    def _beside(self, cover: ApertureImage, corners: tuple[Point, ...]) -> tuple[float, float]:
        """Return twice the reach of the frame's light toward a cover, and twice where its near edge is."""
        cx, cy = cover.centre_mm
        away = math.hypot(cx, cy) or 1.0
        ux, uy = cx / away, cy / away
        edge = away - (cover.half_height_mm or 0.0)
        across = cover.radius_mm
        reach = 0.0
        for corner in corners:
            (x, y), radius = self.bundle_at(cover, corner)
            beside = abs(-x * uy + y * ux)
            # Beyond the cover's width the light passes it.
            if beside - radius < across:
                reach = max(reach, x * ux + y * uy + radius)
        # The frame's edge between two corners reaches as far as they do, also where neither is before the cover.
        if len(corners) == 4:
            middle = max((x * ux + y * uy for x, y in (self.bundle_at(cover, c)[0] for c in corners)), default=0.0)
            reach = max(reach, middle + self.bundle_at(cover, corners[0])[1])
        return 2.0 * reach, 2.0 * edge
