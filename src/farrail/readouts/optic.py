"""What the readouts need to know of a train's optic: focal length, f-number, pupils, frame, powered parts."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from farrail.errors import BadInput
from farrail.optics.clipping import Array
from farrail.optics.power import Power
from farrail.optics.pupils import Pupil
from farrail.parts.kinds import Camera, CameraLens, Corrector, Teleconverter, Telescope
from farrail.parts.provenance import Origin, Quantity, Reading, weakest
from farrail.readouts.extension import extension_of, native_distance_mm
from farrail.train.layout import Layout
from farrail.train.placed import Placed

FARTHEST_PUPIL_MM = 99_999.0


@dataclass(frozen=True)
class PlacedPower:
    """A powered part of the train as a thin lens at its place."""

    power: Power
    z_mm: float
    placed: Placed
    origin: Origin


def _teleconverter_power(layout: Layout, placed: Placed, part: Teleconverter) -> PlacedPower | None:
    """Return a teleconverter as a thin diverging lens in its middle.

    With the camera on its rear it makes just its factor M; from there 1/f = (1 − M)/s', s' its distance before the
    sensor. Extension behind it makes it stronger.
    """
    sensor, optic = layout.sensor_mm, layout.optic
    if sensor is None or not isinstance(optic, CameraLens) or layout.reversed:
        return None
    z = (placed.z_front_mm + placed.z_rear_mm) / 2.0
    native = native_distance_mm(optic, part)
    origin = weakest([part.factor.origin, optic.flange_focal_distance_mm.origin])
    return PlacedPower(Power(-native / (part.factor.value - 1.0), sensor - z), z, placed, origin)


def power_of(layout: Layout) -> PlacedPower | None:
    """Return the train's powered part, the last one where there are several; None where there is none.

    One that makes no image where the sensor stands is none: a finding says so.
    """
    sensor = layout.sensor_mm
    for placed in reversed(layout.rear):
        part = placed.part
        if isinstance(part, Teleconverter):
            return _teleconverter_power(layout, placed, part)
        if sensor is None or not isinstance(part, Corrector) or part.lens_focal_mm is None:
            continue
        z, origin = principal_of(placed, part)
        glass = sum(g.glass.shift_mm for g in layout.glass if g.z_front_mm >= z - 1e-9)
        try:
            power = Power(part.lens_focal_mm.value, sensor - z - glass)
        except BadInput:
            continue
        return PlacedPower(power, z, placed, weakest([origin, part.lens_focal_mm.origin]))
    return None


def principal_of(placed: Placed, part: Corrector) -> tuple[float, Origin]:
    """Return where a powered part's thin lens stands on the rail, and where that came from."""
    if part.principal_mm is None:
        return (placed.z_front_mm + placed.z_rear_mm) / 2.0, Origin.ASSUMED
    at = part.principal_mm.value
    return (placed.z_rear_mm - at if placed.laid.flipped else placed.z_front_mm + at), part.principal_mm.origin


def own_focal_length_of(layout: Layout) -> Quantity:
    """Return the optic's own focal length; of a zoom what it is set to, its shortest where nothing is set."""
    optic, wanted = layout.optic, layout.train.conditions.focal_mm
    if wanted is not None and isinstance(optic, CameraLens) and optic.longest_focal_mm is not None:
        origin = optic.focal_length_mm.origin
        return Quantity(readings=(Reading(value=wanted, origin=origin, note="as set for this train"),))
    return optic.focal_length_mm


def entrance_pupil_of(layout: Layout) -> Quantity:
    """Return how far behind the thread seat the entrance pupil lies at the focal length set; 0 for a telescope.

    A zoom's is interpolated in its table, with the weaker origin of both neighbours; beyond its ends the last holds.
    """
    optic = layout.optic
    if not isinstance(optic, CameraLens):
        return Quantity(readings=(Reading(value=0.0, origin=Origin.ASSUMED, note="taken at the front"),))
    return pupil_depth_at(optic, own_focal_length_of(layout).value)


def pupil_depth_at(lens: CameraLens, focal_mm: float) -> Quantity:
    """Return a lens's entrance pupil depth at a focal length."""
    table = sorted(lens.entrance_pupils, key=lambda at: at.focal_mm)
    if not table:
        return lens.entrance_pupil_depth_mm
    if focal_mm <= table[0].focal_mm:
        return table[0].depth_mm
    if focal_mm >= table[-1].focal_mm:
        return table[-1].depth_mm
    for low, high in pairwise(table):
        if low.focal_mm <= focal_mm <= high.focal_mm:
            share = (focal_mm - low.focal_mm) / (high.focal_mm - low.focal_mm)
            value = low.depth_mm.value + share * (high.depth_mm.value - low.depth_mm.value)
            origin = weakest([low.depth_mm.origin, high.depth_mm.origin])
            tolerance = max(low.depth_mm.tolerance, high.depth_mm.tolerance)
            note = f"between {low.focal_mm:g} and {high.focal_mm:g} mm"
            return Quantity(readings=(Reading(value=value, origin=origin, tolerance=tolerance, note=note),))
    return lens.entrance_pupil_depth_mm


def pupil_depths_mm(lens: CameraLens, focal_mm: Array) -> Array:
    """Return a lens's entrance pupil depth at many focal lengths, as `pupil_depth_at` does at one."""
    table = sorted(lens.entrance_pupils, key=lambda at: at.focal_mm)
    if not table:
        return np.full(focal_mm.shape, lens.entrance_pupil_depth_mm.value)
    depths: Array = np.interp(focal_mm, [at.focal_mm for at in table], [at.depth_mm.value for at in table])
    return depths


def focal_length_of(layout: Layout) -> Quantity:
    """Return the focal length at the sensor: the optic's own, times what a powered part makes of it."""
    own, power = own_focal_length_of(layout), power_of(layout)
    if power is None:
        return own
    factor = power.power.magnification
    note = f"{own.value:g} mm × {factor:.3f} by {power.placed.part.name} at this distance"
    origin = weakest([own.origin, power.origin])
    return Quantity(readings=(Reading(value=own.value * factor, origin=origin, note=note),))


def shown_factor(layout: Layout) -> float:
    """Return what an f-number told of the train is of the optic's own: cameras count a teleconverter by its name.

    A corrector's factor follows from where it stands; so does a teleconverter's, and what its extension makes of it is
    light lost and no other f-number.
    """
    power = power_of(layout)
    if power is None:
        return 1.0
    part = power.placed.part
    return part.factor.value if isinstance(part, Teleconverter) else power.power.magnification


def f_number_of(layout: Layout) -> Quantity:
    """Return the f-number of the cone at the sensor: as set for the train, else the optic's own."""
    wanted = layout.train.conditions.f_number
    if wanted is not None:
        return Quantity(readings=(Reading(value=wanted, origin=Origin.MEASURED, note="as set for this train"),))
    return own_f_number_of(layout)


def own_f_number_of(layout: Layout) -> Quantity:
    """Return the f-number at the sensor with the optic wide open.

    A telescope's follows from its focal length and aperture; a powered part changes it as it does the focal length.
    """
    optic, power = layout.optic, power_of(layout)
    if isinstance(optic, CameraLens):
        if power is None:
            return optic.f_number
        value = optic.f_number.value * shown_factor(layout)
        origin = weakest([optic.f_number.origin, power.origin])
        return Quantity(readings=(Reading(value=value, origin=origin, note="the lens's own × the powered part"),))
    focal = focal_length_of(layout)
    origin = weakest([focal.origin, optic.aperture_mm.origin])
    value = min(max(focal.value / optic.aperture_mm.value, 0.3), 1000.0)
    return Quantity(readings=(Reading(value=value, origin=origin, note="focal length / aperture"),))


def exit_pupil_of(layout: Layout) -> Quantity:
    """Return the exit pupil's distance before the sensor.

    Known for a corrector or lens where its maker says so; a telescope's objective seen through a powered part;
    otherwise the pupil is taken at the objective, one focal length away, flagged assumed unless the telescope is bare
    (then that is where it is).
    """
    optic, corrector, power = layout.optic, layout.corrector, power_of(layout)
    if corrector is not None and isinstance(corrector.part, Corrector):
        if corrector.part.exit_pupil_distance_mm is not None:
            return corrector.part.exit_pupil_distance_mm
        if power is not None and isinstance(optic, Telescope):
            ahead = optic.focal_length_mm.value - power.power.native_focus_mm
            distance = power.power.seen_through(ahead)[0] if ahead > 0.0 else math.inf
            # Behind the sensor or endlessly far: the chief rays run parallel or spread; a far pupil stands for both.
            distance = distance if 1.0 < distance < FARTHEST_PUPIL_MM else FARTHEST_PUPIL_MM
            origin = weakest([optic.focal_length_mm.origin, power.origin])
            note = f"the objective seen through {power.placed.part.name}"
            return Quantity(readings=(Reading(value=distance, origin=origin, note=note),))
    elif optic.exit_pupil_distance_mm is not None:
        return optic.exit_pupil_distance_mm
    bare = corrector is None and isinstance(optic, Telescope)
    origin = optic.focal_length_mm.origin if bare else Origin.ASSUMED
    note = "pupil at the objective, one focal length away"
    return Quantity(readings=(Reading(value=optic.focal_length_mm.value, origin=origin, note=note),))


def obstruction_of(layout: Layout) -> float:
    """Return the pupil's central obstruction as a fraction of its diameter, the train's own shadow included."""
    optic = layout.optic
    if not isinstance(optic, Telescope):
        return 0.0
    wide = optic.obstruction_mm.value if optic.obstruction_mm is not None else 0.0
    if optic.prime_focus:
        shadow = widest_ahead_of_mirror(layout)
        wide = max(wide, shadow[1] if shadow is not None else 0.0)
    return min(wide / optic.aperture_mm.value, 0.95)


def widest_ahead_of_mirror(layout: Layout) -> tuple[str, float, str] | None:
    """Return the part of a train ahead of its mirror that blocks most: name, diameter, id; None for an empty train."""
    wide = [(p.part.name, p.part.outer_diameter_mm, p.part.id) for p in layout.rear]
    if layout.camera is not None:
        wide.append((layout.camera.name, layout.camera.outer_diameter_mm, layout.camera.id))
    return max(wide, key=lambda w: w[1], default=None)


def pupil_of(layout: Layout) -> Pupil:
    """Return the pupil the sensor looks into.

    Extension behind a lens moves the pupil away and so narrows cone and field alike; a teleconverter shows it nearer
    or farther, and larger or smaller.
    """
    focal, n = focal_length_of(layout).value, f_number_of(layout).value
    distance, narrower = _seen_pupil(layout, n)
    return Pupil(
        f_number=n * narrower,
        exit_distance_mm=distance,
        focal_length_mm=focal * narrower,
        obstruction=obstruction_of(layout),
        projection=layout.optic.projection if isinstance(layout.optic, CameraLens) else "rectilinear",
    )


def _seen_pupil(layout: Layout, f_number: float) -> tuple[float, float]:
    """Return how far before the sensor the pupil is seen, and by how much what stands behind narrows the cone."""
    optic, own, sensor = layout.optic, exit_pupil_of(layout).value, layout.sensor_mm
    if not isinstance(optic, CameraLens) or layout.corrector is not None or sensor is None:
        return own, 1.0
    if layout.reversed:
        # The entrance pupil, f/N wide, faces the sensor from behind the thread.
        distance = max(sensor + optic.entrance_pupil_depth_mm.value, 1.0)
        return distance, max(distance / own_focal_length_of(layout).value, 0.1)
    power, extension = power_of(layout), extension_of(layout)
    if power is None:
        return own + extension.tubes_mm, 1.0 + extension.tubes_mm / own
    # At infinity the lens's cone comes from a pupil `own` ahead of its own image, a flange distance behind its flange.
    pupil_z = layout.optic_rear_mm + optic.flange_focal_distance_mm.value - own
    seen, scale = power.power.seen_through(power.z_mm - pupil_z)
    if not 1.0 < seen < FARTHEST_PUPIL_MM:
        return FARTHEST_PUPIL_MM, 1.0 + extension.tubes_mm / own
    wide = own / (f_number / shown_factor(layout)) * abs(scale)
    return seen, seen / wide / f_number


def diagonal_mm(camera: Camera) -> float:
    """Return a camera's sensor diagonal."""
    return math.hypot(camera.sensor_width_mm.value, camera.sensor_height_mm.value)
