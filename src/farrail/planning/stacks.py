"""Two front stacks beside each other: what each darkens, holds, costs, and still lets one use."""

from collections.abc import Mapping
from dataclasses import dataclass

from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import SheetFilter
from farrail.parts.registry import Part
from farrail.parts.shelved import AT_HAND
from farrail.readouts.front.model import Front
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Train


@dataclass(frozen=True)
class Stack:
    """What a front stack comes to.

    Attributes:
        train: its train.
        depth_mm: ahead of the thread seat.
        slots: how many sheets it takes.
        first_clean_mm: first clean focal length; None where it is clean nowhere.
        visible_mm: first without visible loss.
        corner_stops: added corner loss now.
        sheets: sheets owned that fit its slots.
        missing: parts of it that are not at hand.
        price: what the missing ones cost; None where one has no price.
    """

    train: Train
    depth_mm: float
    slots: int
    first_clean_mm: float | None
    visible_mm: float | None
    corner_stops: float
    sheets: tuple[str, ...]
    missing: tuple[Part, ...]
    price: float | None


def stack_of(train: Train, shelf: Shelf, kit_prices: Mapping[str, float] | None = None) -> Stack | None:
    """Return what a train's front stack comes to; None without a lens and something ahead of it.

    Args:
        train: the train.
        shelf: parts by id.
        kit_prices: what kits cost, by name; a kit is bought once, whatever of it is missing.
    """
    front: Front = read(train, shelf).front
    if not front.judged:
        return None
    holders = [p.part for p in front.layout.front if isinstance(p.part, FilterHolder)]
    sheets = [
        part.name for part in shelf.values()
        if isinstance(part, SheetFilter) and part.status in AT_HAND and any(_fits(part, holder) for holder in holders)
    ]  # fmt: skip
    ids = {laid.part for laid in train.front_stack}
    ids |= {i for laid in train.front_stack for i in (*laid.filters, laid.drop_in) if i is not None}
    missing = tuple(shelf[i] for i in sorted(ids) if shelf[i].status not in AT_HAND)
    prices: list[float | None] = [part.price for part in missing if not part.kit]
    prices += [(kit_prices or {}).get(kit) for kit in {part.kit for part in missing if part.kit}]
    return Stack(
        train, front.depth_mm, sum(h.slots for h in holders), front.now.first_clean_mm, front.now.visible_mm,
        front.corner_stops, tuple(sheets), missing,
        None if any(p is None for p in prices) else sum(p for p in prices if p is not None),
    )  # fmt: skip


def _fits(sheet: SheetFilter, holder: FilterHolder) -> bool:
    return any(holder.accepts(sheet, slot) for slot in range(holder.slots))
