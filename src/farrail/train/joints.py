"""Joints: where two connections meet, or should."""

from dataclasses import dataclass

from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.connections import Connection, Mismatch, Thread, why_not
from farrail.train.placed import Placed
from farrail.train.seating import CannotHold, CannotRest
from farrail.train.train import Side


@dataclass(frozen=True)
class Joint:
    """The place between two neighbours of a row.

    Attributes:
        side: which row.
        index: the joint is before the row's part of this index (the last one before the camera or the scene).
        z_mm: where it is on the rail.
        left: connection of the neighbour toward the scene, None where there is none.
        right: connection of the neighbour toward the sensor, None where there is none.
        left_name: that neighbour's name.
        right_name: that neighbour's name.
        mismatch: why they do not mate, or None.
    """

    side: Side
    index: int
    z_mm: float
    left: Connection | None
    right: Connection | None
    left_name: str
    right_name: str
    mismatch: Mismatch | CannotHold | CannotRest | None

    @property
    def label(self) -> str:
        """Both connections in words."""
        ends = [c.label for c in (self.left, self.right) if c is not None]
        return say(" to ").join(ends) if ends else say("open end")


@dataclass(frozen=True)
class End:
    """One end of a row's member, as seen by the joint beside it."""

    connection: Connection | None
    name: str
    passes_thread: bool = False
    trouble: CannotHold | None = None
    shim: TubePart | None = None


def ends_of(placed: Placed) -> tuple[End, End]:
    """Return the ends of a placed part, toward the scene first.

    A shim has no thread of its own, nor has a filter between two rings: the joint on either side of it is made by the
    threads beyond.
    """
    passes, trouble = placed.passes_thread, placed.held.trouble if placed.held is not None else None
    shim = placed.part if isinstance(placed.part, TubePart) and placed.part.passes_thread else None
    return End(placed.front, placed.part.name, passes, trouble, shim), End(placed.rear, placed.part.name, passes)


def chain_joints(side: Side, first: int, ends: list[tuple[End, End]], positions_mm: list[float]) -> list[Joint]:
    """Return the joints between consecutive members of a row running toward the sensor.

    Args:
        side: the row.
        first: index given to the first joint; later ones count up on the rear side and down on the front side.
        ends: for each member its (scene side, sensor side) ends; a joint is between each pair of neighbours.
        positions_mm: where each joint is; one fewer than members.
    """
    step = 1 if side is Side.REAR else -1
    joints = []
    for number, z_mm in enumerate(positions_mm):
        left, right = ends[number][1], ends[number + 1][0]
        mismatch: Mismatch | CannotHold | CannotRest | None = None
        if right.passes_thread:
            # The threads are judged once, at the joint behind.
            mismatch = right.trouble or _why_no_rest(right.shim, _beyond_shims(ends, number), ends, number)
        else:
            thread_end = _beyond_shims(ends, number)
            if thread_end.connection is not None and right.connection is not None:
                mismatch = why_not(thread_end.connection, right.connection)
        joints.append(
            Joint(
                side=side,
                index=first + step * number,
                z_mm=z_mm,
                left=_beyond_shims(ends, number).connection,
                right=_ahead_of_shims(ends, number + 1).connection,
                left_name=left.name,
                right_name=right.name,
                mismatch=mismatch,
            )
        )
    return joints


def _why_no_rest(shim: TubePart | None, before: End, ends: list[tuple[End, End]], number: int) -> CannotRest | None:
    """Return why a shim does not rest on its joint's shoulders; None where it does, or where there is no thread."""
    after = _ahead_of_shims(ends, number + 1)
    for connection in (before.connection, after.connection):
        if shim is not None and connection is not None and isinstance(connection.standard, Thread):
            fits = shim.goes_over(connection.standard.diameter_mm)
            return None if fits else CannotRest(shim.name, shim.outer_diameter_mm, connection)
    return None


def _beyond_shims(ends: list[tuple[End, End]], number: int) -> End:
    while number > 0 and ends[number][1].passes_thread:
        number -= 1
    return ends[number][1]


def _ahead_of_shims(ends: list[tuple[End, End]], number: int) -> End:
    while number < len(ends) - 1 and ends[number][0].passes_thread:
        number += 1
    return ends[number][0]
