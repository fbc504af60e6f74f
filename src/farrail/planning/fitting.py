"""What on the shelf fits at a joint, or in the place of a part, and the error each would leave."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from farrail.cancel import Stopped, never
from farrail.errors import FarRailError
from farrail.parts.base import TubePart
from farrail.parts.connections import Connection, why_not
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.registry import Part
from farrail.readouts.spacing.model import Spacing
from farrail.train.joints import Joint
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf
from farrail.train.seating import is_bare_glass
from farrail.train.train import MountedPart, Side, Train

# Fields in which parts may differ that are the same in a train.
NAMING = frozenset({"id", "name", "maker", "owned", "status", "price", "kit", "note", "mass_g"})


@dataclass(frozen=True)
class Fit:
    """One part that mates at a place.

    Attributes:
        part: the part.
        flipped: whether it mates only when flipped.
        error_mm: placed less required once it is there; None where nothing is required.
    """

    part: Part
    flipped: bool
    error_mm: float | None


def fits_at(
    train: Train, shelf: Shelf, side: Side, index: int, *, instead: bool = False, stopped: Stopped = never
) -> list[Fit]:
    """Return the parts that mate at a joint, or in the place of a part, smallest error first.

    Args:
        train: the train as it is.
        shelf: parts by id.
        side: which row.
        index: the joint before the row's part of this index, or that part itself.
        instead: replace the part at `index` rather than insert before it.
        stopped: whether to give up; the list is short then.

    Returns:
        Parts of which one is still free, that make no joint of the train worse.
    """
    row = train.row(side)
    used = Counter(train.part_ids())
    standing = row[index].part if instead and index < len(row) else None
    touched = {index, index + 1} if instead else {index}
    joints = build_layout(train, shelf).joints
    before = [j for j in joints if j.mismatch is not None]
    between = _Between(joints, side, index, index + instead)
    allowed = len(before) - sum(j.side is side and j.index in touched for j in before)
    fits = []
    judged: dict[tuple[object, ...], tuple[bool, float | None] | None] = {}

    def judge(part: TubePart, flipped: bool) -> tuple[bool, float | None] | None:
        """Return how the part is placed and the error it leaves; None where it makes a joint worse."""
        laid = MountedPart(part=part.id, flipped=flipped)
        if instead:
            laid = laid.model_copy(update={"filters": row[index].filters, "in_beam": row[index].in_beam})
        trial = train.model_copy(update={side.value: (*row[:index], laid, *row[index + instead :])})
        try:
            layout = build_layout(trial, shelf)
        except FarRailError:
            return None
        apart = sum(j.mismatch is not None for j in layout.joints)
        return (flipped, Spacing(layout).error_mm) if apart <= allowed else None

    for part in shelf.values():
        if stopped():
            break
        if not isinstance(part, TubePart) or part.status not in AT_HAND:
            continue
        if part.id == standing or used[part.id] >= part.owned:
            continue
        ways = tuple(flipped for flipped in (False, True) if between.may_take(part, flipped=flipped))
        if not ways:
            continue
        # Parts that differ in name or price alone leave the same.
        key = (type(part), ways, *(value for name, value in part.__dict__.items() if name not in NAMING))
        if key not in judged:
            judged[key] = next(filter(None, (judge(part, flipped) for flipped in ways)), None)
        found = judged[key]
        if found is not None:
            fits.append(Fit(part, *found))
    return sorted(fits, key=lambda f: (f.error_mm is None, abs(f.error_mm or 0.0), f.part.name))


class _Between:
    """The two connections a part comes between, asked before a whole train is built with the part in it."""

    def __init__(self, joints: Sequence[Joint], side: Side, first: int, last: int) -> None:
        ends = {joint.index: joint for joint in joints if joint.side is side}
        self._left = ends[first].left if first in ends else None
        self._right = ends[last].right if last in ends else None
        # In a front stack a lens without a thread takes what slips on: only the whole train shows it.
        self._asks = side is Side.REAR
        self._mates: dict[tuple[int, int], bool] = {}

    def may_take(self, part: TubePart, *, flipped: bool) -> bool:
        """Whether the part's ends mate on both sides; True as well where its ends alone do not decide."""
        if not self._asks or isinstance(part, Corrector) or part.passes_thread or is_bare_glass(part):
            return True
        front, rear = (part.rear, part.front) if flipped else (part.front, part.rear)
        return self._meet(self._left, front) and self._meet(rear, self._right)

    def _meet(self, left: Connection | None, right: Connection | None) -> bool:
        if left is None or right is None:
            return True
        key = (id(left), id(right))
        if key not in self._mates:
            self._mates[key] = why_not(left, right) is None
        return self._mates[key]
