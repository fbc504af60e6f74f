"""Other orders of the movable parts: a wheel flipped, a rotator before or behind the drawer."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import permutations, product

from farrail.parts.base import is_module
from farrail.parts.kinds.seats import FilterSeat
from farrail.planning.pieces import Block, Piece, Task
from farrail.train.rows import Shelf

# More orders than this are not tried; the order as placed always is.
MOST_ORDERS = 96


def orders_of(task: Task, shelf: Shelf, pieces: list[Piece]) -> Iterator[Task]:
    """Yield the task as it is, then with its movable parts in every other order and way round that can mate.

    A filter never gets more housings between itself and the sensor than it has now, so that it stays near it.
    """
    yield task
    places = [i for i, block in enumerate(task.blocks) if _movable(block, shelf)]
    depth = _housings_behind(task.blocks, shelf)
    tried = 0
    for order in permutations(places):
        for turns in product((False, True), repeat=len(places)):
            blocks = list(task.blocks)
            for place, source, turn in zip(places, order, turns, strict=True):
                blocks[place] = task.blocks[source].turned() if turn else task.blocks[source]
            other = replace(task, blocks=tuple(blocks))
            if other.blocks == task.blocks or tried >= MOST_ORDERS:
                continue
            if any(behind > depth[part] for part, behind in _housings_behind(other.blocks, shelf).items()):
                continue
            if bridgeable(other, pieces):
                tried += 1
                yield other


def bridgeable(task: Task, pieces: list[Piece]) -> bool:
    """Whether every gap can be bridged at all, lengths and counts set aside."""
    for gap in task.gaps:
        reached = {gap.enters}
        while gap.leaves not in reached:
            more = {p.leaves for p in pieces if p.enters in reached and p.leaves is not None} - reached
            if not more:
                return False
            reached |= more
    return True


def _movable(block: Block, shelf: Shelf) -> bool:
    part = shelf[block.laid[0].part]
    return len(block.laid) == 1 and is_module(part)


def _housings_behind(blocks: tuple[Block, ...], shelf: Shelf) -> dict[str, int]:
    """Return for each part with a filter seat how many fixed parts are between it and the camera."""
    found = {}
    for number, block in enumerate(blocks):
        part = shelf[block.laid[0].part]
        if isinstance(part, FilterSeat):
            found[part.id] = len(blocks) - 1 - number
    return found
