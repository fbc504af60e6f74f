"""What hangs out from what carries the train: its mass, and the torque about the mount, from the masses known."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.train.layout import Layout

# Standard acceleration of gravity (ISO 80000-3), m/s².
GRAVITY_M_S2 = 9.80665


@dataclass(frozen=True)
class Overhang:
    """A train as a lever.

    Attributes:
        mass_g: what has been weighed of what hangs out.
        torque_nm: its torque about the face that carries it, the train level.
        unweighed: names of what nobody has weighed, which is not in either.
    """

    mass_g: float
    torque_nm: float
    unweighed: tuple[str, ...]


def overhang_of(layout: Layout) -> Overhang | None:
    """Return what hangs out, each part's mass at its middle; None where nothing of it has been weighed.

    A lens and what stands on it hang ahead of the camera's flange, the camera on the tripod; a telescope carries
    its train behind its own rear. T = Σ m g |z_middle − z_face|.
    """
    camera, sensor = layout.camera, layout.sensor_mm
    lens = isinstance(layout.optic, CameraLens)
    if lens and (camera is None or sensor is None):
        return None
    face = layout.optic_rear_mm
    if lens and camera is not None and sensor is not None:
        face = sensor - camera.flange_to_sensor_mm.value
    mass = torque = 0.0
    unweighed = []
    for part, z_mm in _hanging(layout, lens=lens):
        if part.mass_g is None:
            unweighed.append(part.name)
            continue
        mass += part.mass_g
        torque += part.mass_g / 1000.0 * GRAVITY_M_S2 * abs(z_mm - face) / 1000.0
    return Overhang(mass, torque, tuple(unweighed)) if mass > 0.0 else None


def _hanging(layout: Layout, *, lens: bool) -> Iterator[tuple[Part, float]]:
    """Yield what hangs out and where its middle lies, filters with what holds them."""
    for placed in (*layout.front, *layout.rear):
        middle = (placed.z_front_mm + placed.z_rear_mm) / 2.0
        yield placed.part, middle
        for one in (*placed.laid.filters, placed.laid.drop_in):
            if one is not None:
                yield layout.parts[one], middle
    if lens:
        yield layout.optic, layout.optic_rear_mm - layout.optic.body_mm / 2.0
    elif layout.camera is not None and layout.sensor_mm is not None:
        # Its mass lies about its sensor.
        yield layout.camera, layout.sensor_mm
