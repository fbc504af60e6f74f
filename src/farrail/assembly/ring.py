"""A plain ring to print or cut for a missing spacer or shim: how wide, how thick, whether the thread still holds."""

from dataclasses import dataclass

from farrail.assembly.rear_joints import bottoming_mm, helping_joint, rear_joint, shims_mm
from farrail.errors import BadInput
from farrail.parts.connections import Gender, Thread
from farrail.readouts.read import Readout
from farrail.train.layout import Layout

# Room left around the external thread that passes through it; common practice, no source.
CLEARANCE_MM = 0.5
# A ring narrower than this all round does not print well; common practice, no source.
LEAST_WALL_MM = 1.2
# So many turns of a thread must stay engaged beyond the ring; common practice, no source.
LEAST_TURNS = 2.0
# How far threads of this kind engage where no one has looked; common practice, no source.
USUAL_ENGAGEMENT_MM = (3.0, 5.0)
THINNEST_MM, THICKEST_MM = 0.1, 100.0
MOST_ACROSS_MM = 400.0


@dataclass(frozen=True)
class RingShape:
    """A plain ring.

    Attributes:
        inner_mm: its hole.
        outer_mm: its rim.
        thickness_mm: how thick it is.
        chamfer_mm: how far its four edges are broken; 0 for none.
        between: names of the parts it is between.
        engaged_mm: how much of the thread still holds with it in place; None where no one has looked.
        needed_mm: how much must.
        taken_mm: how much of the thread ring and shims take.
    """

    inner_mm: float
    outer_mm: float
    thickness_mm: float
    chamfer_mm: float = 0.0
    between: tuple[str, str] = ("", "")
    engaged_mm: float | None = None
    needed_mm: float = 0.0
    taken_mm: float = 0.0

    @property
    def holds(self) -> bool | None:
        """Whether enough of the thread still holds; None where that depends on an engagement no one has looked at."""
        if self.engaged_mm is not None:
            return self.engaged_mm >= self.needed_mm
        short, long = self.usual_left_mm
        return True if short >= self.needed_mm else False if long < self.needed_mm else None

    @property
    def usual_left_mm(self) -> tuple[float, float]:
        """How much of a thread of usual depth would hold, at least and at most; 0 where nothing would."""
        short, long = USUAL_ENGAGEMENT_MM
        return max(short - self.taken_mm, 0.0), max(long - self.taken_mm, 0.0)


def ring_for(
    readout: Readout, index: int | None, thickness_mm: float | None = None, chamfer_mm: float = 0.0
) -> RingShape:  # fmt: skip
    """Return the ring a train is short of.

    Args:
        readout: the train, read.
        index: the joint before the rear train's part of this index; None for the last.
        thickness_mm: how thick it is to be; None for what the train is short of, and what a thread that bottoms there
            keeps the shoulders apart already.
        chamfer_mm: how far its edges are broken.

    Raises:
        BadInput: no ring is missing, or none can be there.
    """
    if thickness_mm is None:
        error_mm = readout.spacing.error_mm
        if error_mm is None or error_mm >= 0.0:
            raise BadInput("This train is not too short: no ring is missing.")
        joint = helping_joint(readout.layout, index)
        thickness_mm = -error_mm + bottoming_mm(readout.layout, joint.index)
    return ring_at(readout.layout, index, round(thickness_mm, 3), chamfer_mm)


def ring_at(layout: Layout, index: int | None, thickness_mm: float, chamfer_mm: float = 0.0) -> RingShape:
    """Return the ring that is in a joint of the rear train, around its external thread and on both shoulders.

    Args:
        layout: the placed train.
        index: the joint before the rear train's part of this index; None for the last.
        thickness_mm: how thick it is to be.
        chamfer_mm: how far its edges are broken.

    Raises:
        BadInput: no thread meets there, or there is no room for a ring of that thickness or width.
    """
    if not THINNEST_MM <= thickness_mm <= THICKEST_MM:
        raise BadInput(
            "A ring {thickness_mm:g} mm thick cannot be made; give {thinnest_mm:g} to {thickest_mm:g} mm.",
            thickness_mm=thickness_mm,
            thinnest_mm=THINNEST_MM,
            thickest_mm=THICKEST_MM,
        )
    joint = rear_joint(layout, index)
    left, right = joint.left, joint.right
    if left is None or right is None or not isinstance(left.standard, Thread):
        raise BadInput(
            "There is no thread for a ring between {left_name} and {right_name}; choose another joint.",
            left_name=joint.left_name,
            right_name=joint.right_name,
        )
    inner = left.standard.diameter_mm + CLEARANCE_MM
    outer = min(_across(layout, joint.index - 1), _across(layout, joint.index))
    if outer - inner < 2.0 * LEAST_WALL_MM:
        outer = inner + 2.0 * LEAST_WALL_MM
    if not 0.0 <= chamfer_mm < min(thickness_mm / 2.0, (outer - inner) / 4.0):
        raise BadInput(
            "Chamfers of {chamfer_mm:g} mm are too large for so thin a ring; enter less.", chamfer_mm=chamfer_mm
        )
    external = left if left.gender is Gender.EXTERNAL else right
    taken = thickness_mm + shims_mm(layout, joint.index)
    deep = None if external.engagement_mm is None else external.engagement_mm - taken
    return RingShape(
        inner, min(outer, MOST_ACROSS_MM), thickness_mm, chamfer_mm, (joint.left_name, joint.right_name), deep,
        LEAST_TURNS * left.standard.pitch_mm, taken,
    )  # fmt: skip


def _across(layout: Layout, index: int) -> float:
    """Return how wide the part beside a joint is: the optic ahead of the first, the camera behind the last."""
    if index < 0:
        return layout.optic.outer_diameter_mm
    if index < len(layout.rear):
        return layout.rear[index].part.outer_diameter_mm
    return layout.camera.outer_diameter_mm if layout.camera is not None else MOST_ACROSS_MM
