"""Changing one row of a train, or one member of it: what the edits of the rail are made from."""

from collections.abc import Callable, Iterable

from farrail.errors import EditRefused
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.trains import change_train
from farrail.workbook.workbook import Workbook


def with_bought(workbook: Workbook, parts: Iterable[Part]) -> Workbook:
    """Return a workbook with parts that are still to be bought on its shelf, those it has left as they are."""
    more = tuple(part for part in parts if part.id not in workbook.by_id)
    return workbook.model_copy(update={"shelf": (*workbook.shelf, *more)}) if more else workbook


def with_row(train: Train, side: Side, row: list[MountedPart]) -> Train:
    """Return a train with one of its rows exchanged.

    Raises:
        EditRefused: it would be too long.
    """
    if len(row) > 60:
        raise EditRefused("A side of a train holds at most 60 parts; take one out first.")
    return train.model_copy(update={side.value: tuple(row)})


def laid_at(train: Train, side: Side, index: int) -> MountedPart:
    """Return a row's member.

    Raises:
        EditRefused: there is none at that place.
    """
    row = train.row(side)
    if not 0 <= index < len(row):
        raise EditRefused("That part is no longer on the rail; choose another.")
    return row[index]


def change_laid(
    workbook: Workbook, train_id: str, side: Side, index: int, update: Callable[[MountedPart], dict[str, object]]
) -> Workbook:
    """Return the workbook with one member of a train's row changed by what `update` says of it."""

    def change(train: Train) -> Train:
        laid = laid_at(train, side, index)
        row = list(train.row(side))
        row[index] = laid.model_copy(update=update(laid))
        return with_row(train, side, row)

    return change_train(workbook, train_id, change)
