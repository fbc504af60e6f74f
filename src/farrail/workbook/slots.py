"""Wheels and holders in trains get the number of slots that the shelf says."""

from collections.abc import Iterable, Mapping

from farrail.errors import EditRefused
from farrail.parts.base import TubePart
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Train
from farrail.workbook.workbook import Workbook

ROWS = ("front_stack", "rear_train")


def with_slots(workbook: Workbook, parts: Iterable[Part], *, keep_filters: bool = False) -> Workbook:
    """Return the workbook in which parts have their number of slots in every train; filters stay in their slots.

    Args:
        workbook: as it is.
        parts: whose slots may have changed.
        keep_filters: whether filters beyond the last slot stay, as in a file, instead of being refused.

    Raises:
        EditRefused: a filter is in a slot that its part no longer has.
    """
    slotted = {part.id: part for part in parts if isinstance(part, TubePart) and part.slot_count}
    if not slotted:
        return workbook
    trains = tuple(_fitted(train, slotted, keep_filters) for train in workbook.trains)
    unchanged = all(one is other for one, other in zip(trains, workbook.trains, strict=True))
    return workbook if unchanged else workbook.model_copy(update={"trains": trains})


def _fitted(train: Train, slotted: Mapping[PartId, TubePart], keep_filters: bool) -> Train:
    rows = {}
    for name in ROWS:
        row: tuple[MountedPart, ...] = getattr(train, name)
        if any(laid.part in slotted and len(laid.filters) != slotted[laid.part].slot_count for laid in row):
            rows[name] = tuple(
                _with_slots(laid, slotted[laid.part], train, keep_filters) if laid.part in slotted else laid
                for laid in row
            )
    return train.model_copy(update=rows) if rows else train


def _with_slots(laid: MountedPart, part: TubePart, train: Train, keep_filters: bool) -> MountedPart:
    if keep_filters and not laid.filters:
        return laid
    used = max((number for number, held in enumerate(laid.filters, 1) if held is not None), default=0)
    count = max(part.slot_count, used) if keep_filters else part.slot_count
    if used > count:
        raise EditRefused(
            "{name} has a filter in slot {slot} in “{train}”; take it out there first.",
            name=part.name,
            slot=used,
            train=train.name,
        )
    filters = (*laid.filters, *(None,) * count)[:count]
    return laid.model_copy(
        update={"filters": filters, "in_beam": min(laid.in_beam, count - 1), "shifts_mm": laid.shifts_mm[:count]}
    )
