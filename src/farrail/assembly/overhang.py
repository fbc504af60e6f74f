"""What hangs out from what carries the train: its mass, and the torque about the mount, from the masses known."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.train.layout import Layout

# Standard acceleration of gravity (ISO 80000-3), m/s².
GRAVITY_M_S2 = 9.80665


class Carrier(StrEnum):
    """What carries a train."""

    TELESCOPE_REAR = "telescope_rear"
    CAMERA_FLANGE = "camera_flange"
    COLLAR = "collar"


@dataclass(frozen=True)
class Overhang:
    """A train as a lever.

    Attributes:
        carrier: what carries it, and the torque is about.
        mass_g: what has been weighed of what hangs out; about a collar all of the train hangs out.
        torque_nm: its torque about what carries it, the train level.
        front_heavy: whether it turns toward the scene.
        unweighed: names of what no one has weighed, which is not in either.
    """

    carrier: Carrier
    mass_g: float
    torque_nm: float
    front_heavy: bool
    unweighed: tuple[str, ...]


def length_of(layout: Layout) -> float:
    """Return how far the train reaches behind what carries it, mm; 0 without a carrier or parts."""
    _, at_mm = _carrier(layout)
    return 0.0 if at_mm is None else max((placed.z_rear_mm - at_mm for placed in layout.rear), default=0.0)


def unweighed_of(layout: Layout) -> tuple[str, ...]:
    """Return the names of what hangs out and has not been weighed."""
    carrier, at_mm = _carrier(layout)
    return () if at_mm is None else tuple(part.name for part, _ in _hanging(layout, carrier) if part.mass_g is None)


def overhang_of(layout: Layout) -> Overhang | None:
    """Return what hangs out, each part's mass at its middle; None where nothing of it has been weighed.

    Without a collar, a lens and what is on it hang ahead of the camera's flange, the camera on the tripod; a
    telescope carries its train behind its own rear. On a collar, what is ahead of it balances what is behind.
    T = |Σ m g (z_middle − z_carrier)|.
    """
    carrier, at_mm = _carrier(layout)
    if at_mm is None:
        return None
    mass = torque = 0.0
    unweighed = []
    for part, z_mm in _hanging(layout, carrier):
        if part.mass_g is None:
            unweighed.append(part.name)
            continue
        mass += part.mass_g
        torque += part.mass_g / 1000.0 * GRAVITY_M_S2 * (z_mm - at_mm) / 1000.0
    return Overhang(carrier, mass, abs(torque), torque < 0.0, tuple(unweighed)) if mass > 0.0 else None


def _carrier(layout: Layout) -> tuple[Carrier, float | None]:
    """Return what carries a train and where it is; None where that is not known."""
    collar = layout.optic.collar_ahead_mm
    if collar is not None:
        return Carrier.COLLAR, layout.optic_rear_mm - collar.value
    if not isinstance(layout.optic, CameraLens):
        return Carrier.TELESCOPE_REAR, layout.optic_rear_mm
    camera, sensor = layout.camera, layout.sensor_mm
    if camera is None or sensor is None:
        return Carrier.CAMERA_FLANGE, None
    return Carrier.CAMERA_FLANGE, sensor - camera.flange_to_sensor_mm.value


def _hanging(layout: Layout, carrier: Carrier) -> Iterator[tuple[Part, float]]:
    """Yield what hangs out and where its middle is, filters with what holds them."""
    for placed in (*layout.front, *layout.rear):
        middle = (placed.z_front_mm + placed.z_rear_mm) / 2.0
        yield placed.part, middle
        for one in (*placed.laid.filters, placed.laid.drop_in):
            if one is not None:
                yield layout.parts[one], middle
    if carrier is not Carrier.TELESCOPE_REAR:
        yield layout.optic, layout.optic_rear_mm - layout.optic.body_mm / 2.0
    if carrier is not Carrier.CAMERA_FLANGE and layout.camera is not None and layout.sensor_mm is not None:
        # Its mass is about its sensor.
        yield layout.camera, layout.sensor_mm
