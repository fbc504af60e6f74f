"""Where practitioners differ about a front stack: both orders, for this train, with what each costs."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from farrail.errors import FarRailError
from farrail.parts.base import TubePart
from farrail.parts.connections import why_not
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.tubes import Adapter
from farrail.planning.polarisers import Stack, dropped_in, without
from farrail.readouts.front.model import Front
from farrail.train.layout import Layout, build_layout
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart


@dataclass(frozen=True)
class Alternative:
    """One of two orders.

    Attributes:
        key: which it is.
        stack: the front stack so.
        first_clean_mm: from which focal length on it is clean; None: nowhere.
        corner_stops: added corner loss at the focal length set.
        here: whether the train is so.
    """

    key: str
    stack: Stack
    first_clean_mm: float | None
    corner_stops: float
    here: bool


@dataclass(frozen=True)
class Practice:
    """One thing that is done in two ways.

    Attributes:
        key: which thing.
        part: the filter it is about.
        ways: the one the train has, and the other.
        from_mm: where the lens's range begins.
        zoom: whether it has one.
    """

    key: str
    part: str
    ways: tuple[Alternative, Alternative]
    from_mm: float
    zoom: bool


class Candidate(NamedTuple):
    """Another order, before anything has judged it."""

    key: str
    here: str
    other: str
    part: str
    stack: Stack


def practices_of(front: Front, shelf: Shelf) -> tuple[Practice, ...]:
    """Return what others would do otherwise with this train's stack; none where no lens or nothing to choose.

    Args:
        front: the train's front stack, read.
        shelf: the parts by id; what is available on it may take the place of a filter of another size.
    """
    if not front.judged:
        return ()
    layout = front.layout
    found: dict[str, Practice] = {}
    for key, here, other, part, stack in (*_polariser(layout, shelf), *_left_on(layout, shelf)):
        then = None if key in found else _judged(layout, shelf, stack)
        if then is None:
            continue
        ways = (
            Alternative(here, layout.train.front_stack, front.now.first_clean_mm, front.corner_stops, True),
            Alternative(other, stack, then.now.first_clean_mm, then.corner_stops, False),
        )
        first, last = front.range_mm
        found[key] = Practice(key, part, ways, first, last > first)
    return tuple(found.values())


def _judged(layout: Layout, shelf: Shelf, stack: Stack) -> Front | None:
    """Return a stack's front where it goes together as well as the train's own does."""
    try:
        then = Front(build_layout(layout.train.model_copy(update={"front_stack": stack}), shelf))
    except FarRailError:
        return None
    return then if then.judged and _broken(then.layout) <= _broken(layout) else None


def _broken(layout: Layout) -> int:
    return sum(joint.mismatch is not None for joint in layout.joints)


def _polarisers(shelf: Shelf, used: str) -> list[RoundFilter]:
    """Return the polarisers available, the one in use first."""
    found = [
        part for part in shelf.values()
        if isinstance(part, RoundFilter) and part.polariser and (part.id == used or part.status in AT_HAND)
    ]  # fmt: skip
    return sorted(found, key=lambda part: part.id != used)


def _polariser(layout: Layout, shelf: Shelf) -> Iterator[Candidate]:
    """Yield the polariser, or another available, put to the other side of the sheets."""
    stack, parts = layout.train.front_stack, [placed.part for placed in layout.front]
    holders = [n for n, part in enumerate(parts) if isinstance(part, FilterHolder) and stack[n].filters]
    if not holders:
        return
    for place, laid in enumerate(stack):
        part, dropped = parts[place], shelf.get(laid.drop_in or "")
        if isinstance(dropped, RoundFilter) and dropped.polariser:
            emptied = (*stack[:place], laid.model_copy(update={"drop_in": None}), *stack[place + 1 :])
            for moved in _outermost(emptied, shelf, dropped.id):
                yield Candidate("polariser", "behind", "outermost", dropped.name, moved)
        elif isinstance(part, RoundFilter) and part.polariser:
            rest = (*stack[:place], *stack[place + 1 :])
            if place < holders[0]:
                for moved in _outermost(rest, shelf, part.id):
                    yield Candidate("polariser", "behind", "outermost", part.name, moved)
                return
            for moved in _behind(stack, shelf, parts, place):
                yield Candidate("polariser", "outermost", "behind", part.name, moved)


def _outermost(rest: Stack, shelf: Shelf, used: str) -> Iterator[Stack]:
    """Yield a stack with a polariser on its front, on a holder's front ring where it needs one."""
    last = shelf[rest[-1].part]
    ahead = last.front if isinstance(last, TubePart) else None
    rings = [
        part for part in shelf.values()
        if isinstance(part, Adapter) and part.status in AT_HAND and ahead is not None
        and why_not(part.rear, ahead) is None
    ]  # fmt: skip
    for polariser in _polarisers(shelf, used):
        for carrier in ((), *((MountedPart(part=ring.id),) for ring in rings)):
            yield (*rest, *carrier, MountedPart(part=polariser.id))


def _behind(stack: Stack, shelf: Shelf, parts: Sequence[TubePart], index: int) -> Iterator[Stack]:
    """Yield a stack with a polariser available behind the sheets: dropped in, or on what carries the holder.

    The one in use is tried first. What only carried it goes with it.
    """
    holder = next(n for n, part in enumerate(parts) if isinstance(part, FilterHolder) and stack[n].filters)
    drops = list(dropped_in(stack, shelf, parts, index))
    for polariser in _polarisers(shelf, parts[index].id):
        for other, moved in drops:
            if other.id == polariser.id:
                yield moved
        kept = without(stack, parts, holder, index)
        for before in range(holder + 1):
            yield (*stack[:before], MountedPart(part=polariser.id), *stack[before:holder], *kept)


def _left_on(layout: Layout, shelf: Shelf) -> Iterator[Candidate]:
    """Yield the filter that stays on the lens under the stack, taken off."""
    stack = layout.train.front_stack
    part = shelf.get(stack[0].part) if len(stack) > 1 else None
    if isinstance(part, RoundFilter) and not part.polariser:
        yield Candidate("left_on", "left_on", "taken_off", part.name, stack[1:])
