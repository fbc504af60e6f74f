"""The joints behind the optic, found by their number."""

from farrail.errors import BadInput
from farrail.train.joints import Joint
from farrail.train.layout import Layout
from farrail.train.train import Side


def rear_joints(layout: Layout) -> list[Joint]:
    """Return the joints behind the optic, from it to the camera."""
    return [joint for joint in layout.joints if joint.side is Side.REAR]


def rear_joint(layout: Layout, index: int | None) -> Joint:
    """Return the joint before the rear train's part of this index; None for the last.

    Raises:
        BadInput: there is none.
    """
    joints = rear_joints(layout)
    wanted = len(layout.rear) if index is None else index
    for joint in joints:
        if joint.index == wanted:
            return joint
    raise BadInput(
        "There is no joint {wanted} behind the optic; this train has {count}.", wanted=wanted, count=len(joints)
    )
