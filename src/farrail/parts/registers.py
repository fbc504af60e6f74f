"""Flange distances that are standards of their own."""

from farrail.parts.connections import Connection, Gender, thread
from farrail.units import inches_to_mm

# M42×0.75 "T" mount: 55.00 mm from shoulder to sensor; common practice, no source.
T_MOUNT_REGISTER_MM = 55.00
# C mount: 0.69 inch, 1"-32 thread (ISO 10935, cited from memory).
C_MOUNT_REGISTER_MM = inches_to_mm(0.69)
# CS mount: 5 mm shorter than C (common practice, no source).
CS_MOUNT_REGISTER_MM = C_MOUNT_REGISTER_MM - 5.0
# Bayonets by the flange-to-sensor distance that names them here, and the throat taken; common practice, no source.
BAYONET_REGISTERS_MM = {
    "44 mm SLR bayonet": (44.0, 42.0),
    "45.5 mm SLR bayonet": (45.5, 44.0),
    "46.5 mm SLR bayonet": (46.5, 44.0),
    "20 mm mirrorless bayonet": (20.0, 50.0),
    "18 mm mirrorless bayonet": (18.0, 46.0),
    "16 mm mirrorless bayonet": (16.0, 52.0),
    "19.25 mm mirrorless bayonet": (19.25, 38.0),
}


def t_mount(gender: Gender) -> Connection:
    """Return the M42×0.75 connection of a T mount."""
    return thread(42.0, 0.75, gender)
