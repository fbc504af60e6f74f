"""A polariser put behind the sheets: the front stack then, for remedies and for what is done in two ways."""

from collections.abc import Iterator, Sequence

from farrail.parts.base import TubePart
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart

# How much wider a seat may be asked for than it is, before a filter does not drop in.
SEAT_SLACK_MM = 0.05
Stack = tuple[MountedPart, ...]


def without(stack: Stack, parts: Sequence[TubePart], first: int, index: int) -> Stack:
    """Return what a stack keeps from `first` on once the filter at `index` and what only carried it are gone.

    What carries another holder stays: only what is beyond the last holder under the filter carried nothing else.
    """
    last = max((n for n, part in enumerate(parts[:index]) if isinstance(part, FilterHolder)), default=-1)
    return tuple(
        laid for n, laid in enumerate(stack)
        if n >= first and n != index and (not last < n < index or isinstance(parts[n], RoundFilter))
    )  # fmt: skip


def dropped_in(
    stack: Stack, shelf: Shelf, parts: Sequence[TubePart], index: int
) -> Iterator[tuple[RoundFilter, Stack]]:  # fmt: skip
    """Yield each polariser on the shelf that drops in behind the sheets, and the stack with it there.

    Args:
        stack: the front stack, from the lens outward.
        shelf: the parts by id.
        parts: the part of each of the stack.
        index: where the polariser is now; what only carried it goes with it.
    """
    for place, holder in enumerate(parts[:index]):
        if not isinstance(holder, FilterHolder) or holder.drop_in_mm is None:
            continue
        rest = without(stack, parts, place + 1, index)
        widest = holder.drop_in_mm.value + SEAT_SLACK_MM
        for other in shelf.values():
            if isinstance(other, RoundFilter) and other.polariser and other.cell_mm <= widest:
                yield other, (*stack[:place], stack[place].model_copy(update={"drop_in": other.id}), *rest)
