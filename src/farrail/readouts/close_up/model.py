"""Close-up: how large, how near, how deep, from the train as placed."""

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np

from farrail.errors import BadInput
from farrail.optics.close_up_systems import CloseUpSystems, Points
from farrail.optics.focus import DEFAULT_WAVELENGTH_NM
from farrail.optics.focus_stack import DepthOfField, FocusStack, depth_of_field, focus_stack
from farrail.parts.in_beam import Extends
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.readouts.close_up.system import (
    CloseUpSystem,
    close_up_system_of,
    sensor_behind_mm,
    subject_to_sensor_mm,
    systems,
)
from farrail.train.layout import Layout
from farrail.units import MICROMETRES_PER_MM, nm_to_mm

# The blur that still counts as sharp on a whole picture, as a share of its diagonal; common practice, no source.
DIAGONALS = 1500.0
# How far across the Airy disc is, in wavelengths and f-numbers (first dark ring; Born and Wolf, from memory).
AIRY = 2.44
USUAL_OVERLAP = 0.25
# Nearer than this the lens shades its own subject; common practice, no source.
LEAST_LIT_MM = 40.0
# Between these a train's focus may be set.
LEAST_FOCUS_MM, MOST_FOCUS_MM = 10.0, 1e9


class CircleBasis(StrEnum):
    """What a circle of confusion is taken from."""

    SET = "set"
    PIXEL = "pixel"
    DIAGONAL = "diagonal"


@dataclass(frozen=True)
class Point:
    """One focus of an arrangement.

    Attributes:
        magnification: image over subject.
        distance_mm: working distance, from the foremost glass to the subject; infinite at infinity.
        of_lens: magnification of lens and extension alone.
        darker: effective f-number over the engraved one.
        narrower: the part of `darker` caused by the pupil of a coupled lens; 1 if it does not limit the beam.
    """

    magnification: float
    distance_mm: float
    of_lens: float
    darker: float
    narrower: float = 1.0

    @property
    def focused(self) -> bool:
        """Whether anything comes to a focus."""
        return not math.isnan(self.magnification)


def _point(found: Points) -> Point:
    values = (found.magnification, found.distance_mm, found.of_lens, found.darker, found.narrower)
    return Point(*(float(value[0]) for value in values))


@dataclass(frozen=True)
class CloseUp:
    """The close-up readout of a placed train."""

    layout: Layout

    @cached_property
    def system(self) -> CloseUpSystem | None:
        """What the train is made of; None without a camera lens and a camera."""
        return close_up_system_of(self.layout)

    @cached_property
    def _arrays(self) -> CloseUpSystems:
        assert self.system is not None
        return systems([self.system])

    @cached_property
    def active(self) -> bool:
        """Whether the train is for close-up, or its lens says how near it focuses."""
        lens = self.layout.optic
        if not isinstance(lens, CameraLens):
            return False
        parts = [placed.part for placed in (*self.layout.front, *self.layout.rear)]
        known = any(value is not None for value in (lens.nearest_magnification, lens.nearest_mm, lens.pair_width_mm))
        meant = (
            self.equipped
            or known
            or bool(lens.near_points)
            or not lens.focuses_itself
            or any(part.brings_closer or part.extends is not Extends.NOTHING for part in parts)
        )
        return meant and self.system is not None

    @cached_property
    def equipped(self) -> bool:
        """Whether anything but the lens brings it closer."""
        parts = [placed.part for placed in (*self.layout.front, *self.layout.rear)]
        return self.layout.reversed or any(part.brings_closer for part in parts)

    def at(self, focus_position: float) -> Point:
        """Return the focus at a place of the window, 0 its far and 1 its near end."""
        found = self._arrays.at(np.array([focus_position]))
        return _point(found)

    @cached_property
    def near(self) -> Point:
        """The near end of the focus window."""
        return self.at(1.0)

    @cached_property
    def far(self) -> Point:
        """The far end of the focus window."""
        return self.at(0.0)

    @cached_property
    def offset_mm(self) -> float:
        """From the entrance pupil, whence the focus distance is counted, to the foremost glass."""
        assert self.system is not None
        depth = 0.0 if self.layout.reversed else self.layout.first_order.entrance_pupil.value
        return depth + self.system.stack.ahead_mm

    @cached_property
    def wanted_mm(self) -> float | None:
        """Working distance that the train's focus asks for; None where it is not set, and the near end is taken."""
        focus = self.layout.train.conditions.focus_mm
        return None if focus is None else focus - self.offset_mm

    @cached_property
    def focus_position(self) -> float:
        """Where in the window the train is focused; the nearer end where the distance asked for is outside.

        Without a distance it is the near end where the train is equipped for close-up, else infinity.
        """
        wanted = self.wanted_mm
        if wanted is None:
            return 1.0 if self.equipped else 0.0
        found = float(self._arrays.position_for_distance(np.array([wanted]))[0])
        if not math.isnan(found):
            return found
        near, far = self.near.distance_mm, self.far.distance_mm
        return 1.0 if math.isnan(far) or abs(wanted - near) <= abs(wanted - far) else 0.0

    def focus_for(self, focus_position: float) -> float:
        """Return the focus distance, from the entrance pupil, that puts the train at a place of its window."""
        distance = self.at(focus_position).distance_mm
        return min(max(distance + self.offset_mm, LEAST_FOCUS_MM), MOST_FOCUS_MM)

    def focus_at(self, working_distance_mm: float) -> float:
        """Return the focus distance, from the entrance pupil, that puts the subject so far before the last glass."""
        return working_distance_mm + self.offset_mm

    @cached_property
    def outside(self) -> bool:
        """Whether the distance asked for cannot be focused."""
        wanted = self.wanted_mm
        if wanted is None or not self.near.focused:
            return False
        low, high = sorted((self.near.distance_mm, self.far.distance_mm if self.far.focused else math.inf))
        return not low - 0.05 <= wanted <= high + 0.05

    @cached_property
    def now(self) -> Point:
        """The focus the train is set to."""
        return self.at(self.focus_position)

    @cached_property
    def bare(self) -> Point:
        """The lens alone at its nearest: the second baseline of the light lost."""
        assert self.system is not None
        near = self.system.near
        alone = CloseUpSystem(near, 0.0, 0.0)
        found = systems([alone]).at(np.ones(1))
        return _point(found)

    # What the frame shows

    @cached_property
    def frame_mm(self) -> tuple[float, float]:
        """The sensor's sides."""
        camera = self.layout.camera
        assert camera is not None
        return camera.sensor_width_mm.value, camera.sensor_height_mm.value

    @property
    def field_mm(self) -> tuple[float, float]:
        """Width and height of what fills the frame; infinite at infinity."""
        m = self.now.magnification
        return (self.frame_mm[0] / m, self.frame_mm[1] / m) if m > 0.0 else (math.inf, math.inf)

    @cached_property
    def subject_to_sensor_mm(self) -> float:
        """From the subject to the sensor: everything between added up."""
        system, lens = self.system, self.layout.optic
        assert system is not None
        assert isinstance(lens, CameraLens)
        return subject_to_sensor_mm(system, lens, self.focus_position, self.now.distance_mm, self.now.of_lens)

    @property
    def behind_mm(self) -> float:
        """From the lens's rear principal plane to the sensor: f(1 + m), and what a teleconverter puts between."""
        assert self.system is not None
        return sensor_behind_mm(self.system, self.focus_position, self.now.of_lens)

    @cached_property
    def in_the_way_mm(self) -> float:
        """How far the front stack reaches beyond its foremost glass: a hood, a ring, a holder."""
        assert self.system is not None
        reach = max((self.layout.front_seat_mm - p.z_front_mm for p in self.layout.front), default=0.0)
        return max(reach - self.system.stack.ahead_mm, 0.0)

    @property
    def needed_mm(self) -> float:
        """The least working distance at which the subject can be lit beside what is ahead of the glass."""
        return self.in_the_way_mm + LEAST_LIT_MM

    # Light and depth

    @cached_property
    def effective_f_number(self) -> float:
        """The f-number the sensor sees."""
        assert self.system is not None
        stop = self.layout.first_order.stop
        return self.system.f_number * self.now.darker / (1.0 if stop is None else math.sqrt(stop.share))

    @cached_property
    def stops_lost(self) -> float:
        """Stops lost against the lens alone at infinity."""
        return 2.0 * math.log2(self.now.darker)

    @cached_property
    def stops_against_bare(self) -> float:
        """Stops lost against the lens alone at its nearest."""
        return 2.0 * math.log2(self.now.darker / self.bare.darker)

    @cached_property
    def circle_mm(self) -> "tuple[float, Origin, CircleBasis]":
        """Circle of confusion, where it came from, and what it is taken from."""
        camera, wanted = self.layout.camera, self.layout.train.conditions.blur_um
        assert camera is not None
        if wanted is not None:
            return wanted / MICROMETRES_PER_MM, Origin.MEASURED, CircleBasis.SET
        if camera.pixel_size_um is not None:
            return camera.pixel_size_um.value / MICROMETRES_PER_MM, camera.pixel_size_um.origin, CircleBasis.PIXEL
        return camera.diagonal_mm / DIAGONALS, Origin.ASSUMED, CircleBasis.DIAGONAL

    @cached_property
    def depth(self) -> DepthOfField | None:
        """Depth of field, both sides together; None at infinity."""
        m = self.now.magnification
        if not m > 0.0 or self.effective_f_number > 1000.0:
            return None
        return depth_of_field(self.effective_f_number, m, self.circle_mm[0])

    @cached_property
    def diffraction_f_number(self) -> float:
        """Engraved f-number at which the Airy disc is as wide as two blurs that count as sharp."""
        return 2.0 * self.circle_mm[0] / (AIRY * nm_to_mm(DEFAULT_WAVELENGTH_NM)) / self.now.darker

    @cached_property
    def sharpest_f_number(self) -> float | None:
        """Engraved f-number at which blur at the subject's ends and diffraction together are least.

        Blur m²T/(2N_e) and Airy disc 2.44λN_e add as squares: N_e = m √(T/(4.88λ)). None without a subject's depth.
        """
        deep = self.layout.train.conditions.subject_depth_mm
        if deep is None or not self.now.magnification > 0.0:
            return None
        effective = self.now.magnification * math.sqrt(deep / (2.0 * AIRY * nm_to_mm(DEFAULT_WAVELENGTH_NM)))
        return effective / self.now.darker

    @property
    def pixel_um(self) -> float | None:
        """How much of the subject one pixel covers; None where the pixel is not known."""
        camera = self.layout.camera
        assert camera is not None
        m = self.now.magnification
        return None if camera.pixel_size_um is None or not m > 0.0 else camera.pixel_size_um.value / m

    def stack_of_frames(self, depth_mm: float, overlap: float = USUAL_OVERLAP) -> FocusStack:
        """Return the frames for a subject so deep.

        Raises:
            BadInput: nothing is in focus, or a depth or overlap out of range.
        """
        if self.depth is None:
            raise BadInput("No close distance is in focus: focus closer, or add a tube or close-up lens.")
        return focus_stack(depth_mm, self.depth.whole_mm, overlap)

    @cached_property
    def crop_share(self) -> float | None:
        """Share of the pixels left when the lens alone is cropped to the same field; None where nothing is gained."""
        bare = self.bare.magnification
        m = self.now.magnification
        return (bare / m) ** 2 if bare > 0.0 and m > bare else None
