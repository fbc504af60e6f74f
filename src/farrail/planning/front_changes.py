"""Every change to a front stack, or to its use, that may free dark corners: from the shelf, to buy, or set."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from farrail.language import say
from farrail.parts.base import PartBase, TubePart
from farrail.parts.connections import Thread
from farrail.parts.inventory_item import AT_HAND, TO_BUY, Status
from farrail.parts.kinds.ahead import FilterHolder, HolderRing, Hood
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.registry import Part
from farrail.planning.polarisers import dropped_in
from farrail.readouts.front.model import Front
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train

Stack = tuple[MountedPart, ...]
Kind = TypeVar("Kind", bound=PartBase)
# A wide polariser on a step ring: threads so much wider than the one it is on are tried.
WIDER_MM = 30.0


@dataclass(frozen=True)
class Change:
    """One change.

    Attributes:
        words: what is changed.
        train: the train with it.
        loses: what is given up by it; "" for nothing.
        bought: ready-made sizes it needs that are not on the shelf.
        crop: which share of the frame's sides is kept.
        to_buy: whether something of it must be bought.
    """

    words: str
    train: Train
    loses: str = ""
    bought: tuple[Part, ...] = ()
    crop: float = 1.0
    to_buy: bool = False


def stack_changes(train: Train, shelf: Shelf, front: Front) -> Iterator[Change]:
    """Yield every change of what is on the lens."""
    stack = train.front_stack
    parts = [placed.part for placed in front.layout.front]
    yield from _left_off(train, shelf, parts)
    for index, part in enumerate(parts):
        if isinstance(part, RoundFilter) and part.polariser:
            if index == len(stack) - 1 and index > 0:
                yield from _polariser_inside(train, shelf, parts, index)
            yield from _wider_polariser(train, shelf, parts, index)
    yield from _other_rings(train, shelf, parts)
    yield from _without_step_ring(train, shelf, front, parts)
    yield from _other_holders(train, shelf, parts)
    yield from _turned(train, shelf, parts)


def _with_stack(train: Train, stack: Stack) -> Train:
    return train.model_copy(update={"front_stack": stack})


def _left_off(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[Change]:
    """Yield the stack without a filter, a hood, or a holder beyond the first."""
    stack = train.front_stack
    for index, part in enumerate(parts):
        without = _with_stack(train, (*stack[:index], *stack[index + 1 :]))
        if isinstance(part, RoundFilter):
            lost = "" if _plain(part) else say("the effect of {name}", name=part.name)
            yield Change(say("take {name} off", name=part.name), without, lost)
        if isinstance(part, Hood):
            yield Change(say("take {name} off", name=part.name), without, say("shade from light at the side"))
        if isinstance(part, FilterHolder) and any(isinstance(p, FilterHolder) for p in parts[:index]):
            held = say(" and ").join(_held_in(stack[index], shelf))
            words = say("one slot module fewer: without {name}", name=part.name)
            yield Change(words, without, held)


def _polariser_inside(train: Train, shelf: Shelf, parts: Sequence[TubePart], index: int) -> Iterator[Change]:
    for other, stack_then in dropped_in(train.front_stack, shelf, parts, index):
        if other.id != parts[index].id and _usable(other):
            words = say("polariser behind: {name} dropped in", name=other.name)
            yield Change(words, _with_stack(train, stack_then), to_buy=other.status in TO_BUY)


def _wider_polariser(train: Train, shelf: Shelf, parts: Sequence[TubePart], index: int) -> Iterator[Change]:
    """Yield a wider polariser on a step ring in the place of one that screws on: of the shelf, or of a usual size."""
    seat = parts[index].rear.standard
    if not isinstance(seat, Thread):
        return
    stack = train.front_stack
    for polariser in (*_of(shelf, RoundFilter), *_usual_polarisers()):
        thread = polariser.rear.standard
        if not isinstance(thread, Thread) or not polariser.polariser or polariser.id == parts[index].id:
            continue
        if not seat.diameter_mm < thread.diameter_mm <= seat.diameter_mm + WIDER_MM:
            continue
        ring = _step_ring(shelf, seat, thread)
        if ring is None or not _usable(polariser):
            continue
        bought = tuple(part for part in (ring, polariser) if part.id not in shelf)
        to_buy = bool(bought) or any(part.status in TO_BUY for part in (ring, polariser))
        placed = (*stack[:index], MountedPart(part=ring.id), MountedPart(part=polariser.id), *stack[index + 1 :])
        words = _instead(say("{name} on {ring}", name=polariser.name, ring=ring.name), parts[index], to_buy)
        yield Change(words, _with_stack(train, placed), "", bought, to_buy=to_buy)


def _step_ring(shelf: Shelf, seat: Thread, thread: Thread) -> Adapter | None:
    """Return a ring from one filter thread to another: of the shelf, else of a usual size; None where there is none."""
    rings = (*_of(shelf, Adapter), *_usual(Adapter))
    return next((r for r in rings if r.rear.standard == seat and r.front.standard == thread and _usable(r)), None)


def _other_rings(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[Change]:
    """Yield another ring for the same holder on the same thread: slimmer, or recessed."""
    for index, part in enumerate(parts):
        if not isinstance(part, HolderRing):
            continue
        for other in (*_of(shelf, HolderRing), *_usual(HolderRing)):
            new = other.id not in shelf
            same = other.front.standard == part.front.standard and other.rear.standard == part.rear.standard
            shorter = other.path_length_mm.value < part.path_length_mm.value
            if other.id == part.id or not _usable(other) or (new and not (same and shorter)):
                continue
            yield _replaced(train, index, other, part, new=new)


def _without_step_ring(train: Train, shelf: Shelf, front: Front, parts: Sequence[TubePart]) -> Iterator[Change]:
    """Yield a holder's ring, or a polariser, made for the lens's own thread in the place of one on step rings."""
    seat = front.layout.optic_ends[0]
    rings = next((n for n, part in enumerate(parts) if not isinstance(part, Adapter)), len(parts))
    if seat is None or not rings or rings == len(parts):
        return
    carried, stack = parts[rings], train.front_stack
    pool: Sequence[HolderRing | RoundFilter] = ()
    if isinstance(carried, HolderRing):
        pool = (*_of(shelf, HolderRing), *_usual(HolderRing))
    elif isinstance(carried, RoundFilter) and carried.polariser:
        pool = tuple(one for one in (*_of(shelf, RoundFilter), *_usual_polarisers()) if one.polariser)
    for other in pool:
        joins = isinstance(other, RoundFilter) or other.front.standard == carried.front.standard
        if other.rear.standard != seat.standard or not joins or not _usable(other):
            continue
        new = other.id not in shelf
        to_buy = new or other.status in TO_BUY
        placed = (MountedPart(part=other.id), *stack[rings + 1 :])
        also = say("buy ") if to_buy else ""
        words = say("{also}{name}, without a step ring", also=also, name=other.name)
        yield Change(words, _with_stack(train, placed), "", (other,) if new else (), to_buy=to_buy)


def _other_holders(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[Change]:
    for index, part in enumerate(parts):
        if not isinstance(part, FilterHolder):
            continue
        old = train.front_stack[index]
        sheets = tuple(f for f in old.filters if f is not None)
        for other in (*_of(shelf, FilterHolder), *_usual(FilterHolder)):
            new = other.id not in shelf
            same = other.sheet_width_mm.value == part.sheet_width_mm.value and other.rear.standard == part.rear.standard
            thinner = other.path_length_mm.value < part.path_length_mm.value
            if other.id == part.id or not _usable(other) or other.slots < len(sheets):
                continue
            if new and not (same and thinner and (old.drop_in is None or other.drop_in_mm is not None)):
                continue
            filters = (*sheets, *(None,) * other.slots)[: other.slots]
            drop_in = old.drop_in if other.drop_in_mm is not None else None
            placed: dict[str, object] = {"filters": filters, "drop_in": drop_in, "shifts_mm": ()}
            fewer = part.slots - other.slots
            lost = "" if fewer <= 0 else say("{fewer} empty slots", fewer=fewer) if fewer > 1 else say("an empty slot")
            if old.drop_in is not None and drop_in is None:
                lost = say("the filter dropped in behind")
            yield _replaced(train, index, other, part, new=new, update=placed, loses=lost)


def _turned(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[Change]:
    """Yield the stack with its holder turned by a quarter; not with a graduated filter, its line would be upright."""
    stack = train.front_stack
    index = next((n for n, part in enumerate(parts) if isinstance(part, FilterHolder)), None)
    if index is None or _graduated(stack[index:], shelf):
        return
    turned = (stack[index].turned_deg or 0.0) + 90.0
    turned = turned if turned <= 180.0 else turned - 180.0
    placed = stack[index].model_copy(update={"turned_deg": turned})
    words = say("turn {name} to {turned:g}°", name=parts[index].name, turned=turned)
    yield Change(words, _with_stack(train, (*stack[:index], placed, *stack[index + 1 :])))


def _replaced(
    train: Train,
    index: int,
    other: Part,
    part: TubePart,
    *,
    new: bool,
    update: dict[str, object] | None = None,
    loses: str = "",
) -> Change:
    """Return a stack with another part in the place of one."""
    stack, to_buy = train.front_stack, new or other.status in TO_BUY
    placed = stack[index].model_copy(update={"part": other.id, **(update or {})})
    then = _with_stack(train, (*stack[:index], placed, *stack[index + 1 :]))
    return Change(_instead(other.name, part, to_buy), then, loses, (other,) if new else (), to_buy=to_buy)


def _instead(other: str, part: TubePart, to_buy: bool) -> str:
    """Return what taking another part in the place of one is called."""
    also = say("buy ") if to_buy else ""
    return say("{also}{name} instead of {name_2}", also=also, name=other, name_2=part.name)


def _held_in(placed: MountedPart, shelf: Shelf) -> list[str]:
    """Return the names of the filters a holder holds."""
    return [shelf[one].name for one in (*placed.filters, placed.drop_in) if one is not None and one in shelf]


def _graduated(stack: Stack, shelf: Shelf) -> bool:
    """Whether a graduated sheet is in a holder, or in one that turns with it."""
    sheets = (shelf.get(one or "") for placed in stack for one in placed.filters)
    return any(isinstance(sheet, SheetFilter) and sheet.graded for sheet in sheets)


def _plain(part: RoundFilter) -> bool:
    """Whether a filter only protects the lens."""
    return not part.polariser and all(one is None for one in (part.density, part.line_nm, part.passband_nm))


def _usable(part: Part) -> bool:
    return part.status in (*AT_HAND, *TO_BUY)


def _of(shelf: Shelf, kind: type[Kind]) -> tuple[Kind, ...]:
    """Return the parts of a kind on the shelf."""
    return tuple(part for part in shelf.values() if isinstance(part, kind))


def _usual(kind: type[Kind]) -> tuple[Kind, ...]:
    """Return the usual sizes of a kind, as parts one would have to buy."""
    wanted = {"status": Status.WANTED, "owned": 0}
    return tuple(usual.part.model_copy(update=wanted) for usual in kind.usual_sizes() if isinstance(usual.part, kind))


def _usual_polarisers() -> tuple[RoundFilter, ...]:
    """Return polarisers of the usual filter threads, in cells as thick as those of other screw-in filters."""
    found = []
    for one in _usual(RoundFilter):
        if isinstance(one.rear.standard, Thread) and one.id.startswith("ready-screw-filter-"):
            across = one.rear.standard.diameter_mm
            name = say("Screw-in polariser {across:g} mm", across=across)
            found.append(
                one.model_copy(
                    update={"id": f"ready-polariser-{across:g}", "name": name, "polariser": True, "density": None}
                )
            )
    return tuple(found)
