"""One close-up arrangement from its parts: what `optics.systems` takes, gathered from a placed train."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from farrail.optics.close_up import stack_dioptres, stack_matrix
from farrail.optics.close_up_systems import CloseUpSystems
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.lens_defaults import Basis, barrel_of, is_known, pupil_ratio_of
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, weakest
from farrail.readouts.spacing.model import Spacing
from farrail.train.layout import Layout
from farrail.train.near_focus import NearFocus, near_focus_of
from farrail.train.zoom_tables import pupil_depth_at
from farrail.units import MM_PER_METRE

# Less extension than this comes from rounding.
ROUNDING_MM = 1e-9


@dataclass(frozen=True)
class CloseUpStack:
    """Converging lenses ahead of a lens.

    Attributes:
        lenses: (dioptres, gap to the one behind it in mm), innermost first.
        first_mm: from the seat to the innermost plane.
        front_mm: from the outermost plane on to its foremost glass.
        origin: the weakest of powers and lengths.
        hiatus_mm: what a coupled lens adds in length between its two principal planes.
        pupil_mm: diameter of a coupled lens's pupil; infinite without one.
        pupil_at_mm: where that pupil is, ahead of the seat.
    """

    lenses: tuple[tuple[float, float], ...] = ()
    first_mm: float = 0.0
    front_mm: float = 0.0
    origin: Origin = Origin.MEASURED
    pupil_mm: float = math.inf
    hiatus_mm: float = 0.0
    pupil_at_mm: float = 0.0

    @property
    def ahead_mm(self) -> float:
        """How far the foremost glass is ahead of the seat."""
        return self.first_mm + sum(gap for _, gap in self.lenses[1:]) + self.front_mm + self.hiatus_mm

    @classmethod
    def of(
        cls, planes: Sequence[tuple[float, float]], front_mm: float, origins: Sequence[Origin],
        pupil_mm: float = math.inf, hiatus_mm: float = 0.0, pupil_at_mm: float = 0.0,
    ) -> "CloseUpStack":  # fmt: skip
        """Return the stack of lenses given as (dioptres, place ahead of the seat in mm), innermost first."""
        if not planes:
            return NO_STACK
        lenses = tuple((power, at - planes[n - 1][1] if n else 0.0) for n, (power, at) in enumerate(planes))
        return cls(lenses, planes[0][1], front_mm, weakest(origins), pupil_mm, hiatus_mm, pupil_at_mm)

    @property
    def dioptres(self) -> float:
        """Power of all of it together, gaps counted; 0 without lenses."""
        return stack_dioptres(self.lenses) if self.lenses else 0.0

    @cached_property
    def matrix(self) -> tuple[float, float, float, float]:
        """A, B, C, D from subject to lens."""
        return stack_matrix(self.lenses)


NO_STACK = CloseUpStack()


@dataclass(frozen=True)
class CloseUpSystem:
    """A lens, what is behind it and what ahead.

    Attributes:
        near: the lens's own focusing.
        shortest_mm: extension at the far end of the focus window.
        longest_mm: extension at its near end.
        stack: close-up lenses or a coupled lens.
        converter: factor of a teleconverter.
        beyond_mm: what a teleconverter puts between the lens's own image and the sensor.
        reversed: whether the lens is flipped.
        f_number: as engraved.
        origin: the weakest input.
        pupil_depth_mm: entrance pupil behind the thread seat.
    """

    near: NearFocus
    shortest_mm: float
    longest_mm: float
    stack: CloseUpStack = NO_STACK
    converter: float = 1.0
    beyond_mm: float = 0.0
    reversed: bool = False
    f_number: float = 4.0
    origin: Origin = Origin.MEASURED
    pupil_depth_mm: float = 0.0


def systems(rows: Sequence[CloseUpSystem]) -> CloseUpSystems:
    """Return arrangements as arrays."""
    matrices = [row.stack.matrix for row in rows]

    def column(values: list[float]) -> np.ndarray:
        return np.array(values, dtype=float)

    return CloseUpSystems(
        far_focal_mm=column([r.near.far_focal_mm for r in rows]),
        near_focal_mm=column([r.near.near_focal_mm for r in rows]),
        own_magnification=column([r.near.magnification for r in rows]),
        principal_mm=column([r.near.principal_mm for r in rows]),
        pupil_ratio=column([r.near.pupil_ratio for r in rows]),
        shortest_mm=column([r.shortest_mm for r in rows]),
        longest_mm=column([r.longest_mm for r in rows]),
        converter=column([r.converter for r in rows]),
        first_mm=column([r.stack.first_mm for r in rows]),
        a=column([m[0] for m in matrices]),
        b=column([m[1] for m in matrices]),
        c=column([m[2] for m in matrices]),
        d=column([m[3] for m in matrices]),
        front_mm=column([r.stack.front_mm for r in rows]),
        reversed=column([float(r.reversed) for r in rows]),
        near_principal_mm=column([r.near.near_principal_mm for r in rows]),
        f_number=column([r.f_number for r in rows]),
        near_cone=column([r.near.near_cone for r in rows]),
        pupil_depth_mm=column([r.pupil_depth_mm for r in rows]),
        coupled_pupil_mm=column([r.stack.pupil_mm for r in rows]),
        coupled_at_mm=column([r.stack.pupil_at_mm for r in rows]),
    )


def hiatus_of(system: CloseUpSystem, lens: CameraLens) -> Quantity:
    """Return the distance between a lens's principal planes.

    Where it is not entered it follows from the closest focus, or else from what barrel and flange distance leave beside
    both planes.
    """
    if lens.hiatus_mm is not None and (is_known(lens.hiatus_mm) or system.near.hiatus_mm is None):
        return lens.hiatus_mm
    if system.reversed:
        return Quantity.of(0.0, Origin.ASSUMED)
    if system.near.hiatus_mm is not None:
        return Quantity.of(system.near.hiatus_mm, Origin.ASSUMED)
    long = barrel_of(lens).value + lens.flange_focal_distance_mm.value
    return Quantity.of(long - system.near.principal_mm - system.near.far_focal_mm, Origin.ASSUMED)


def sensor_behind_mm(system: CloseUpSystem, focus_position: float, of_lens: float) -> float:
    """Return from the lens's rear principal plane to the sensor: f(1 + m), and what a teleconverter puts between."""
    return system.near.focal_at(focus_position) * (1.0 + of_lens) + system.beyond_mm


def subject_to_sensor_mm(
    system: CloseUpSystem, lens: CameraLens, focus_position: float, distance_mm: float, of_lens: float
) -> float:
    """Return from the subject to the sensor, everything between added up.

    Args:
        system: the arrangement.
        lens: its lens, whose principal planes are a hiatus apart.
        focus_position: where in its focus range it is.
        distance_mm: working distance there.
        of_lens: magnification of lens and extension alone there.
    """
    hiatus = hiatus_of(system, lens).value
    ahead = distance_mm + system.stack.ahead_mm + system.near.principal_at(focus_position)
    return ahead + hiatus + sensor_behind_mm(system, focus_position, of_lens)


@dataclass(frozen=True)
class Coupled:
    """A lens flipped on another: its power, planes and opening, counted from its own thread seat.

    Attributes:
        dioptres: 1000/f.
        plane_mm: its front principal plane, ahead of the seat it is carried by.
        front_mm: from that plane on to its flange, which now faces the subject.
        pupil_mm: its entrance pupil wide open.
        depth_mm: that pupil behind its thread seat.
        hiatus_mm: what its barrel is longer than both distances.
        origin: the weakest input.
    """

    dioptres: float
    plane_mm: float
    front_mm: float
    pupil_mm: float
    depth_mm: float
    hiatus_mm: float
    origin: Origin


def coupled(lens: CameraLens, diagonal_mm: float) -> Coupled:
    """Return a lens as it acts reversed on the front of another, set to infinity and wide open.

    Args:
        lens: the reversed lens.
        diagonal_mm: of the frame; typical values depend on it.
    """
    f, depth = lens.focal_length_mm.value, pupil_depth_at(lens, lens.focal_length_mm.value)
    plane = depth.value + f * (1.0 - 1.0 / pupil_ratio_of(lens, f, diagonal_mm))
    # Its rear principal plane is f ahead of its image, the image a flange distance behind its flange.
    front = f - lens.flange_focal_distance_mm.value
    origin = weakest([lens.focal_length_mm.origin, depth.origin, lens.flange_focal_distance_mm.origin])
    hiatus = barrel_of(lens).value - plane - front
    return Coupled(MM_PER_METRE / f, plane, front, f / lens.f_number.value, depth.value, hiatus, origin)


def reversed_round(lens: CameraLens, focal_mm: float, origin: Origin, diagonal_mm: float) -> NearFocus:
    """Return a reversed lens: set to infinity; parts ahead of it are counted from its flange."""
    principal = focal_mm - lens.flange_focal_distance_mm.value
    ratio = pupil_ratio_of(lens, focal_mm, diagonal_mm)
    return NearFocus(focal_mm, focal_mm, 0.0, principal, ratio, origin, Basis.REVERSED, principal)


def reversed_extension_mm(
    lens: CameraLens, focal_mm: float, depth_mm: float, behind_mm: float, diagonal_mm: float
) -> float:
    """Return v − f of a reversed lens, its thread seat `behind_mm` ahead of the sensor."""
    return behind_mm + depth_mm + focal_mm * (1.0 - 1.0 / pupil_ratio_of(lens, focal_mm, diagonal_mm)) - focal_mm


def stack_of(layout: Layout) -> CloseUpStack:
    """Return the close-up lenses and the coupled lens of a train's front stack."""
    planes: list[tuple[float, float]] = []
    front, pupil, at, hiatus, origins = 0.0, math.inf, 0.0, 0.0, []
    for placed in layout.front:
        part = placed.part
        middle = layout.front_seat_mm - (placed.z_front_mm + placed.z_rear_mm) / 2.0
        if isinstance(part, CloseUpLens):
            planes.append((part.dioptres.value, middle))
            front = placed.length.value / 2.0
            origins += [part.dioptres.origin, placed.length.origin]
        carried = layout.parts.get(placed.laid.lens or "")
        if isinstance(part, ReversingRing) and isinstance(carried, CameraLens):
            other, seat = coupled(carried, layout.diagonal_mm), layout.front_seat_mm - placed.z_front_mm
            planes.append((other.dioptres, seat + other.plane_mm))
            if other.pupil_mm < pupil:
                pupil, at = other.pupil_mm, seat + other.depth_mm
            front, hiatus = other.front_mm, other.hiatus_mm
            origins.append(other.origin)
    return CloseUpStack.of(planes, front, origins, pupil, hiatus, at)


def close_up_system_of(layout: Layout) -> CloseUpSystem | None:
    """Return a train's arrangement; None without a camera lens and a camera, or behind a corrector."""
    lens, sensor = layout.optic, layout.sensor_mm
    if not isinstance(lens, CameraLens) or sensor is None or layout.corrector is not None:
        return None
    order, diagonal = layout.first_order, layout.diagonal_mm
    focal, depth = order.own_focal_length, order.entrance_pupil
    stack, powers, spacing = stack_of(layout), order.powers, Spacing(layout)
    engraved = order.f_number.value / order.shown_factor
    if layout.reversed:
        origin = weakest([focal.origin, depth.origin, stack.origin, spacing.provenance])
        near = reversed_round(lens, focal.value, origin, diagonal)
        out = reversed_extension_mm(lens, focal.value, depth.value, sensor, diagonal)
        return CloseUpSystem(near, out, out, stack, reversed=True, f_number=engraved, origin=origin)
    near = near_focus_of(lens, focal.value, depth.value, depth.origin, diagonal)
    extension = order.extension
    if powers:
        # What the first converter takes up is the lens's own image; extension behind it moves that too.
        image = powers[0].focus_mm
        out = image - layout.optic_rear_mm - lens.flange_focal_distance_mm.value
        beyond = sensor - image
    elif near.basis is Basis.NONE_OF_ITS_OWN:
        # No back focus is required: everything beyond the flange focal distance is extension.
        out, beyond = spacing.actual_mm - lens.flange_focal_distance_mm.value - spacing.shift_mm, 0.0
    else:
        out, beyond = extension.tubes_mm + (spacing.error_mm or 0.0), 0.0
    if abs(out) < ROUNDING_MM or (out < 0.0 and near.basis is not Basis.NONE_OF_ITS_OWN):
        # Short of its flange focal distance a lens that focuses draws itself out.
        out = 0.0
    origin = weakest([near.origin, extension.origin, stack.origin, spacing.provenance])
    return CloseUpSystem(near, out, out, stack, order.magnification, beyond, False, engraved, origin, depth.value)
