"""Flange distances that are standards of their own."""

from farrail.parts.connections import Connection, Gender, thread
from farrail.units import inches_to_mm

# M42×0.75 "T" mount: 55.00 mm from shoulder to sensor; common practice, no source.
T_MOUNT_REGISTER_MM = 55.00
# C mount: 0.69 inch, 1"-32 thread (ISO 10935, cited from memory).
C_MOUNT_REGISTER_MM = inches_to_mm(0.69)


def t_mount(gender: Gender) -> Connection:
    """Return the M42×0.75 connection of a T mount."""
    return thread(42.0, 0.75, gender)
