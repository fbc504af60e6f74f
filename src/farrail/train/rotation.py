"""How the members of a rear train are turned about the axis: a bayonet locks at one angle, a thread anywhere."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.parts.connections import Bayonet, Connection
from farrail.train.rows import Rows


@dataclass(frozen=True)
class Rotated:
    """One member as it is about the axis.

    Attributes:
        index: its place in the rear train; one past the last for the camera.
        name: what it is called.
        part: its id.
        angle_deg: how far it is turned, clockwise as seen from the camera.
        wanted_deg: the angle it is said to have where its bayonet allows only another one, else None.
        bayonet: that bayonet's name, or "".
    """

    index: int
    name: str
    part: str
    angle_deg: float
    wanted_deg: float | None = None
    bayonet: str = ""


def rotations_of(rows: Rows) -> Iterator[Rotated]:
    """Yield how each member of the rear train is, the camera last.

    A member without an angle of its own is as its neighbour toward the scene does. Across a bayonet the angle
    follows from both index marks, unless that neighbour is a rotator, whose rear turns.
    """
    angle, rear, free = 0.0, rows.optic_ends[1], False
    for placed in rows.rear:
        turned = _joined(angle, rear, placed.front, placed.laid.turned_deg, free)
        yield Rotated(placed.index, placed.part.name, placed.part.id, *turned)
        angle, rear, free = turned[0], placed.rear, placed.part.turns_freely
    if rows.camera is not None:
        camera = rows.camera
        turned = _joined(angle, rear, camera.front, rows.train.camera_turned_deg, free)
        yield Rotated(len(rows.rear), camera.name, camera.id, *turned)


def _joined(
    before_deg: float, left: Connection, right: Connection, own_deg: float | None, free: bool
) -> tuple[float, float | None, str]:
    """Return a member's angle, the one it was said to have if it cannot, and the bayonet in the way."""
    one, other = left.standard, right.standard
    if free or not isinstance(one, Bayonet) or not isinstance(other, Bayonet):
        return (before_deg if own_deg is None else own_deg), None, ""
    forced = _wrapped(before_deg + one.mark_deg - other.mark_deg)
    if own_deg is None or abs(_wrapped(own_deg - forced)) < 0.5:
        return forced, None, ""
    return forced, own_deg, one.name


def _wrapped(angle_deg: float) -> float:
    return (angle_deg + 180.0) % 360.0 - 180.0
