"""What the readouts need to know of a train's optic: f-number, pupils, frame."""

import math

from farrail.optics.pupils import Pupil
from farrail.parts.kinds import Camera, CameraLens, Corrector, Telescope
from farrail.parts.provenance import Origin, Quantity, Reading, weakest
from farrail.train.layout import Layout


def f_number_of(layout: Layout) -> Quantity:
    """Return the f-number of the cone at the sensor: as set for the train, else the optic's own.

    A telescope's follows from its focal length and aperture.
    """
    optic, wanted = layout.optic, layout.train.conditions.f_number
    if wanted is not None:
        return Quantity(readings=(Reading(value=wanted, origin=Origin.MEASURED, note="as set for this train"),))
    if isinstance(optic, CameraLens):
        return optic.f_number
    origin = weakest([optic.focal_length_mm.origin, optic.aperture_mm.origin])
    value = optic.focal_length_mm.value / optic.aperture_mm.value
    return Quantity(readings=(Reading(value=value, origin=origin, note="focal length / aperture"),))


def exit_pupil_of(layout: Layout) -> Quantity:
    """Return the exit pupil's distance before the sensor.

    Known for a corrector or lens where its maker says so; otherwise the pupil is taken at the objective, one focal
    length away, flagged assumed unless the telescope is bare (then that is where it is).
    """
    optic, corrector = layout.optic, layout.corrector
    if corrector is not None and isinstance(corrector.part, Corrector):
        if corrector.part.exit_pupil_distance_mm is not None:
            return corrector.part.exit_pupil_distance_mm
    elif optic.exit_pupil_distance_mm is not None:
        return optic.exit_pupil_distance_mm
    bare = corrector is None and isinstance(optic, Telescope)
    origin = optic.focal_length_mm.origin if bare else Origin.ASSUMED
    note = "pupil at the objective, one focal length away"
    return Quantity(readings=(Reading(value=optic.focal_length_mm.value, origin=origin, note=note),))


def pupil_of(layout: Layout) -> Pupil:
    """Return the pupil the sensor looks into."""
    optic = layout.optic
    obstruction = 0.0
    if isinstance(optic, Telescope) and optic.obstruction_mm is not None:
        obstruction = min(optic.obstruction_mm.value / optic.aperture_mm.value, 0.95)
    return Pupil(
        f_number=f_number_of(layout).value,
        exit_distance_mm=exit_pupil_of(layout).value,
        focal_length_mm=optic.focal_length_mm.value,
        obstruction=obstruction,
    )


def diagonal_mm(camera: Camera) -> float:
    """Return a camera's sensor diagonal."""
    return math.hypot(camera.sensor_width_mm.value, camera.sensor_height_mm.value)
