"""With room to spare: what else on the shelf would fit in the gap, with a plan that still lands."""

from dataclasses import dataclass, replace

from farrail.cancel import Cancel
from farrail.parts.base import is_module
from farrail.parts.registry import Part
from farrail.planning.pieces import Block, Piece, Task, microns, stock_of, useful
from farrail.planning.proposal import Proposal, proposal_of
from farrail.planning.reorder import bridgeable
from farrail.planning.search import Window, search
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train

MOST_FITS = 6


@dataclass(frozen=True)
class AlsoFits:
    """A further part the train has room for, and the plan with it."""

    part: Part
    proposal: Proposal


def what_else_fits(
    train: Train, shelf: Shelf, task: Task, pieces: list[Piece], window: Window, cancel: Cancel | None
) -> tuple[AlsoFits, ...]:
    """Return the housings available that the gap has room for, the longest first, each with its best plan.

    Raises:
        Undecided: cancelled, or out of time.
    """
    room = window.high_um - task.fixed_um
    spare = [p for p in shelf.values() if is_module(p) and stock_of(p, task) > 0]
    spare = [p for p in spare if microns(p.length_at(None).value) <= room]
    found: list[AlsoFits] = []
    for part in sorted(spare, key=lambda p: (-p.length_at(None).value, p.name)):
        best: tuple[tuple[int, int], Proposal] | None = None
        for place in range(len(task.blocks) + 1):
            for flipped in (False, True):
                ends = (part.rear, part.front) if flipped else (part.front, part.rear)
                slots = (None,) * part.slot_count
                laid = MountedPart(part=part.id, flipped=flipped, filters=slots)
                block = Block((laid,), *ends, microns(part.length_at(None).value))
                other = replace(task, blocks=(*task.blocks[:place], block, *task.blocks[place:]))
                if not bridgeable(other, pieces):
                    continue
                answer = search(other, useful(pieces, other), window, cancel=cancel)
                if answer is not None:
                    rank = (answer.joints, abs(answer.laid_um - window.aim_um))
                    if best is None or rank < best[0]:
                        best = (rank, proposal_of(answer, other, train, shelf))
        if best is not None:
            found.append(AlsoFits(part, best[1]))
        if len(found) >= MOST_FITS:
            break
    return tuple(found)
