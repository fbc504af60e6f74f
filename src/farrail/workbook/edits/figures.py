"""Edits to what is known of a value: several figures typed over it, one taken away, all of it forgotten."""

from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import N_, Text
from farrail.parts.blank import blank
from farrail.parts.connections import Connection, not_known
from farrail.parts.fields import begun, field_at, value_at
from farrail.parts.inventory_item import PartId
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import TEMPLATES, Part
from farrail.workbook.edits.shelf import SetReading, change_part, field_of
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class SetFigures:
    """Type one figure or several over a value; figures of other sources stay beside them."""

    part: PartId
    path: str
    readings: tuple[Reading | Span, ...]
    label: Text = N_("Edit value")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the figures, the first of them in use."""
        part = workbook.by_id.get(self.part)
        old = None if part is None else field_of(begun(part, self.path), self.path)
        new = old.typed_over(self.readings) if isinstance(old, Quantity) else Quantity(readings=self.readings)
        changed = change_part(workbook, self.part, self.path, new)
        return SetReading(self.part, self.path, self.readings[0]).owning(changed)


@dataclass(frozen=True)
class RemoveFigure:
    """Take one figure of a value away; the last one leaves it not known."""

    part: PartId
    path: str
    index: int
    label: Text = N_("Remove figure")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the figure."""
        part = workbook.by_id.get(self.part)
        old = None if part is None else field_of(part, self.path)
        if not isinstance(old, Quantity) or not 0 <= self.index < len(old.readings):
            raise EditRefused("That figure is gone already.")
        left = old.without(self.index)
        if left is None:
            return Forget(self.part, self.path).apply(workbook)
        return change_part(workbook, self.part, self.path, left)


@dataclass(frozen=True)
class Forget:
    """Make a value, a connection or an answer not known again."""

    part: PartId
    path: str
    label: Text = N_("Forget value")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with nothing known there; what a part cannot be without takes the usual."""
        part = workbook.by_id.get(self.part)
        if part is None:
            raise EditRefused("That part is no longer on the shelf; choose another.")
        field = field_at(type(part), self.path)
        if field is None:
            raise EditRefused("{name} has no value “{path}”.", name=part.name, path=self.path)
        head = self.path.split(".")[0]
        if field.begun_by == self.path and value_at(part, head)[1] is not None and _may_go(part, head):
            # Without the value it was begun by, nothing of the record is known.
            return change_part(workbook, self.part, head, None)
        return change_part(workbook, self.part, self.path, _nothing(part, self.path))


def _may_go(part: Part, head: str) -> bool:
    return not type(part).model_fields[head].is_required()


def _nothing(part: Part, path: str) -> object:
    """Return what is at a path where nothing is known."""
    old = value_at(part, path)[1]
    name, _, leaf = path.rpartition(".")
    record = value_at(part, name)[1] if name else part
    info = type(record).model_fields[leaf]
    if not info.is_required():
        return info.get_default(call_default_factory=True)
    if isinstance(old, Connection):
        return not_known(max(old.standard.size_mm, 1.0))
    for usual in (blank(part.kind), TEMPLATES[part.kind]()):
        there, value = value_at(begun(usual, path), path)
        if there and value is not None:
            return value
    raise EditRefused("That value cannot be left out; type another over it.")
