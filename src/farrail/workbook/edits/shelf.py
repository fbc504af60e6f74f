"""Edits to the shelf: add, copy and remove parts, and change their values."""

from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from farrail.complaints import complaint
from farrail.errors import BadInput, EditRefused
from farrail.language import N_, Text, say, say_n
from farrail.parts.fields import begun, value_at
from farrail.parts.inventory_item import PartId, Status
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.written import read_written, shown
from farrail.workbook.edits.trains import checked_name, free_id
from farrail.workbook.slots import with_slots
from farrail.workbook.workbook import MOST_PARTS, Kit, Workbook


def field_of(part: Part, path: str) -> Any:
    """Return the value at a dotted path such as `glass.thickness_mm`.

    Raises:
        EditRefused: the part has no such field.
    """
    there, value = value_at(part, path)
    if not there:
        raise EditRefused("{name} has no value “{path}”.", name=part.name, path=path)
    return value


def _with_field(record: BaseModel, path: list[str], value: Any) -> BaseModel:
    if len(path) > 1:
        value = _with_field(getattr(record, path[0]), path[1:], value)
    return record.model_copy(update={path[0]: value})


def change_part(workbook: Workbook, part_id: PartId, path: str, value: Any) -> Workbook:
    """Return the workbook with one field of one part replaced and the part validated.

    Raises:
        EditRefused: the part is gone, has no such field, or the value cannot be one.
    """
    shelf = list(workbook.shelf)
    for index, part in enumerate(shelf):
        if part.id != part_id:
            continue
        roomy = begun(part, path)
        field_of(roomy, path)
        changed = _with_field(roomy, path.split("."), value)
        try:
            shelf[index] = type(part).model_validate(changed.model_dump(warnings=False))
        except ValidationError as error:
            message = complaint(error.errors()[0])
            raise EditRefused("{name}: {message_}; the old value stays.", name=part.name, message_=message) from None
        return with_slots(workbook.model_copy(update={"shelf": tuple(shelf)}), (shelf[index],))
    raise EditRefused("That part is no longer on the shelf; choose another.")


@dataclass(frozen=True)
class SetReading:
    """Give a value of a part another figure, which comes into use; published figures stay beside it."""

    part: PartId
    path: str
    reading: Reading | Span
    label: Text = N_("Edit value")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the figure in use."""
        part = workbook.by_id.get(self.part)
        old = None if part is None else field_of(begun(part, self.path), self.path)
        new = old.with_reading(self.reading) if isinstance(old, Quantity) else Quantity(readings=(self.reading,))
        return self.owning(change_part(workbook, self.part, self.path, new))

    def owning(self, workbook: Workbook) -> Workbook:
        """Return the workbook with an example owned: who has measured it, or has looked up its length, has it."""
        part = workbook.by_id.get(self.part)
        if part is None or part.status is not Status.EXAMPLE or not _has_it(self.path, self.reading):
            return workbook
        return change_part(workbook, self.part, "status", Status.OWNED)


# A part whose length a person has typed is a part a person has.
_LENGTHS = ("path_length_mm", "flange_to_sensor_mm", "shortest_mm", "longest_mm", "focal_length_mm")


def _has_it(path: str, reading: Reading | Span) -> bool:
    told = reading.origin is not Origin.ASSUMED
    return told and (reading.origin is Origin.MEASURED or path in _LENGTHS)


@dataclass(frozen=True)
class ChooseReading:
    """Use another of the figures a value has."""

    part: PartId
    path: str
    index: int
    label: Text = N_("Choose figure")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with that figure in use."""
        part = workbook.by_id.get(self.part)
        old = None if part is None else field_of(part, self.path)
        if not isinstance(old, Quantity) or not 0 <= self.index < len(old.readings):
            raise EditRefused("That figure is gone; choose another.")
        return change_part(workbook, self.part, self.path, old.choosing(self.index))


@dataclass(frozen=True)
class SetField:
    """Change a plain field of a part, such as its name or how many are owned."""

    part: PartId
    path: str
    value: Any
    label: Text = N_("Edit part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the field changed."""
        value = checked_name(self.value, say("part")) if self.path == "name" else self.value
        return change_part(workbook, self.part, self.path, value)


@dataclass(frozen=True)
class SetKitPrice:
    """Say what a kit costs; None forgets it."""

    kit: str
    price: float | None
    label: Text = N_("Change the kit's price")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the price."""
        others = tuple(k for k in workbook.kits if k.name != self.kit)
        if self.price is None:
            return workbook.model_copy(update={"kits": others})
        try:
            kit = Kit(name=self.kit, price=self.price)
        except ValidationError:
            raise EditRefused("{price:g} is no price; give 0 to 1000000.", price=self.price) from None
        return workbook.model_copy(update={"kits": (*others, kit)})


@dataclass(frozen=True)
class AddPart:
    """Put a new part on the shelf; its id is made from its name when it is taken."""

    part: Part
    label: Text = N_("Add part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part at the end of the shelf."""
        if len(workbook.shelf) >= MOST_PARTS:
            raise EditRefused("A shelf holds at most {most} parts; remove one first.", most=MOST_PARTS)
        taken = set(workbook.by_id)
        part = self.part
        if part.id in taken:
            part = part.model_copy(update={"id": free_id(part.name, taken)})
        return workbook.model_copy(update={"shelf": (*workbook.shelf, part)})


@dataclass(frozen=True)
class DuplicatePart:
    """Copy a part of the shelf, to change the copy."""

    part: PartId
    label: Text = N_("Duplicate part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the copy after the original."""
        shelf = list(workbook.shelf)
        for index, part in enumerate(shelf):
            if part.id == self.part:
                name = say("{name}, copy", name=part.name[:113])
                shelf.insert(
                    index + 1, part.model_copy(update={"id": free_id(name, set(workbook.by_id)), "name": name})
                )
                return workbook.model_copy(update={"shelf": tuple(shelf)})
        raise EditRefused("The part to copy is gone; choose another.")


@dataclass(frozen=True)
class DiscardPart:
    """Take a part off the shelf."""

    part: PartId
    label: Text = N_("Remove part from the shelf")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the part; refused while a train uses it."""
        uses = workbook.uses_of(self.part)
        if uses:
            names = ", ".join(f"“{t.name}”" for t in uses)
            count = say_n("{count} train", "{count} trains", len(uses), count=len(uses))
            raise EditRefused(
                "{name} is on {count} ({names}); take it out there first.",
                name=workbook.by_id[self.part].name,
                count=count,
                names=names,
            )
        return workbook.model_copy(update={"shelf": tuple(p for p in workbook.shelf if p.id != self.part)})


def parse_reading(text: str, origin: Origin) -> Reading:
    """Read what a person typed for a value: `16.46`, `16,46`, `16.46 ± 0.02`, `1 1/4 in` or `2.5 cm`.

    Raises:
        EditRefused: it is no number.
    """
    found = parse_figure(text, origin)
    if isinstance(found, Span):
        raise EditRefused("“{shown}” is a range, and one number is asked for here.", shown=shown(text))
    return found


def parse_figure(text: str, origin: Origin, unit: str = "mm") -> Reading | Span:
    """Read what a person typed for a value that may be unknown: as `parse_reading`, or a span such as `6 to 12`.

    Args:
        text: what was typed.
        origin: where the number came from.
        unit: what the value is measured in.

    Raises:
        EditRefused: it is neither.
    """
    try:
        found = read_written(text, unit)
        if found.low != found.high:
            return Span(low=found.low, high=found.high)
        return Reading(value=found.low, origin=origin, tolerance=found.tolerance)
    except BadInput as error:
        raise EditRefused(str(error)) from None
    except ValidationError:
        raise EditRefused(
            "“{shown}” has a tolerance that cannot be one; write 16.46 ± 0.02.", shown=shown(text)
        ) from None


@dataclass(frozen=True)
class ImportParts:
    """Put several parts on the shelf in one step."""

    parts: tuple[Part, ...]
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say_n("Import {count} part", "Import {count} parts", len(self.parts), count=len(self.parts))

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the parts at the end of the shelf; refused when one id is taken."""
        if len(workbook.shelf) + len(self.parts) > MOST_PARTS:
            raise EditRefused("A shelf holds at most {most} parts; import fewer.", most=MOST_PARTS)
        for part in self.parts:
            if part.id in workbook.by_id:
                raise EditRefused("The id “{id}” is on the shelf already; read the table again.", id=part.id)
        return workbook.model_copy(update={"shelf": (*workbook.shelf, *self.parts)})
