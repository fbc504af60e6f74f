"""What is selected on the rail, and where it is after a change to its row."""

from dataclasses import dataclass

from farrail.train.train import MountedPart, Side

Row = tuple[MountedPart, ...]


@dataclass(frozen=True)
class Selection:
    """What is picked on the rail: a part or a joint of a row, by index; or nothing."""

    side: Side = Side.REAR
    index: int = -1
    joint: bool = False

    @property
    def empty(self) -> bool:
        """Whether nothing is picked."""
        return self.index < 0


NOTHING = Selection()


def moved(selection: Selection, before: Row, row: Row, *, elsewhere: bool) -> Selection:
    """Return a selection after a change to its row.

    Where the selected part is gone, this window's own change leaves the part after it selected, another window's
    nothing.

    Args:
        selection: before the change.
        before: its row then.
        row: its row now.
        elsewhere: whether another window made the change.
    """
    if row is before or selection.empty:
        return selection
    index, joint = selection.index, selection.joint
    found = _joint_in(row, before, index, elsewhere) if joint else _part_in(row, before, index, elsewhere)
    if found is None and elsewhere:
        return NOTHING
    index = index if found is None else found
    if index > len(row) or (index == len(row) and not joint):
        return Selection(selection.side, len(row) - 1) if row else NOTHING
    return Selection(selection.side, index, joint)


def _joint_in(row: Row, before: Row, index: int, by_part: bool) -> int | None:
    after = _part_in(row, before, index, by_part)
    if after is not None:
        return after
    ahead = _part_in(row, before, index - 1, by_part)
    return None if ahead is None else ahead + 1


def _part_in(row: Row, before: Row, index: int, by_part: bool) -> int | None:
    """Return where a part of a row is now; None where it is gone. `by_part` finds a changed one by its id."""
    if not 0 <= index < len(before):
        return None
    laid = before[index]
    same = next((number for number, one in enumerate(row) if one is laid), None)
    if same is not None or not by_part:
        return same
    # The same part may be in the row more than once: the one in the same order.
    alike = [number for number, one in enumerate(row) if one.part == laid.part]
    count = sum(one.part == laid.part for one in before)
    return alike[sum(one.part == laid.part for one in before[:index])] if len(alike) == count else None
