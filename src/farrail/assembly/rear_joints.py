"""The joints behind the optic, found by their number."""

from farrail.errors import BadInput
from farrail.train.joints import Joint
from farrail.train.layout import Layout
from farrail.train.seating import Cause
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
        "There is no joint {wanted} behind the optic; this train has joints 1 to {count}.",
        wanted=wanted + 1,
        count=len(joints),
    )


def datum_index(layout: Layout) -> int:
    """Return the number of the joint at the datum: behind the last corrector, or at the optic's own rear."""
    return 0 if layout.corrector is None else layout.corrector.index + 1


def helping_joint(layout: Layout, index: int | None) -> Joint:
    """Return a joint where added length changes what the train is short of.

    Raises:
        BadInput: there is none of that number, or it is ahead of the datum, where added length changes nothing.
    """
    joint = rear_joint(layout, index)
    if joint.index < datum_index(layout):
        raise BadInput(
            "Added length ahead of {datum} does not bring the sensor nearer to its back focus; choose joint {first} or "
            "a later one.",
            datum=joint.right_name if layout.corrector is None else layout.corrector.part.name,
            first=datum_index(layout) + 1,
        )
    return joint


def span_of(layout: Layout, index: int) -> range:
    """Return the numbers of the joints that one pair of threads makes: shims between them have none of their own."""
    first = last = index
    while first > 0 and layout.rear[first - 1].passes_thread:
        first -= 1
    while last < len(layout.rear) and layout.rear[last].passes_thread:
        last += 1
    return range(first, last + 1)


def bottoming_mm(layout: Layout, index: int) -> float:
    """Return how far a bottoming thread keeps the shoulders of a joint apart: an added piece fills that first."""
    span = span_of(layout, index)
    return sum(gap.length.value for gap in layout.gaps if gap.index in span and gap.cause is Cause.BOTTOMS)


def shims_mm(layout: Layout, index: int) -> float:
    """Return how much of a joint's thread its shims take already."""
    span = span_of(layout, index)
    return sum(layout.rear[at].length.value for at in range(span[0], span[-1]) if layout.rear[at].passes_thread)
