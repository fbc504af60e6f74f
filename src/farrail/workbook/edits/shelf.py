"""Edits to the shelf: add, copy and remove parts, and change their values."""

from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from farrail.errors import EditRefused
from farrail.parts.fields import begun, value_at
from farrail.parts.provenance import Origin, Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.shelved import PartId, Status
from farrail.workbook.edits.trains import checked_name, free_id
from farrail.workbook.workbook import Kit, Workbook


def field_of(part: Part, path: str) -> Any:
    """Return the value at a dotted path such as `glass.thickness_mm`.

    Raises:
        EditRefused: the part has no such field.
    """
    there, value = value_at(part, path)
    if not there:
        raise EditRefused(f"{part.name} has no value “{path}”.")
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
            message = error.errors()[0]["msg"].removeprefix("Value error, ")
            raise EditRefused(f"{part.name}: {message}; the old value stays.") from None
        return workbook.model_copy(update={"shelf": tuple(shelf)})
    raise EditRefused("That part is no longer on the shelf; choose another.")


@dataclass(frozen=True)
class SetReading:
    """Give a value of a part another figure, which comes into use; published figures stay beside it."""

    part: PartId
    path: str
    reading: Reading | Span
    label: str = "Edit value"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the figure in use."""
        part = workbook.by_id.get(self.part)
        old = None if part is None else field_of(begun(part, self.path), self.path)
        new = old.with_reading(self.reading) if isinstance(old, Quantity) else Quantity(readings=(self.reading,))
        changed = change_part(workbook, self.part, self.path, new)
        if part is not None and part.status is Status.EXAMPLE and self.reading.origin is Origin.MEASURED:
            # Who has measured it has it.
            return change_part(changed, self.part, "status", Status.OWNED)
        return changed


@dataclass(frozen=True)
class ChooseReading:
    """Use another of the figures a value has."""

    part: PartId
    path: str
    index: int
    label: str = "Choose figure"
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
    label: str = "Edit part"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the field changed."""
        value = checked_name(self.value, "part") if self.path == "name" else self.value
        return change_part(workbook, self.part, self.path, value)


@dataclass(frozen=True)
class SetKitPrice:
    """Say what a kit costs; None forgets it."""

    kit: str
    price: float | None
    label: str = "Change the kit's price"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the price."""
        others = tuple(k for k in workbook.kits if k.name != self.kit)
        if self.price is None:
            return workbook.model_copy(update={"kits": others})
        try:
            kit = Kit(name=self.kit, price=self.price)
        except ValidationError:
            raise EditRefused(f"{self.price:g} is no price; give 0 to 1000000.") from None
        return workbook.model_copy(update={"kits": (*others, kit)})


@dataclass(frozen=True)
class AddPart:
    """Put a new part on the shelf; its id is made from its name when it is taken."""

    part: Part
    label: str = "Add part"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part at the end of the shelf."""
        if len(workbook.shelf) >= 5000:
            raise EditRefused("A shelf holds at most 5000 parts; remove one first.")
        taken = set(workbook.by_id)
        part = self.part
        if part.id in taken:
            part = part.model_copy(update={"id": free_id(part.name, taken)})
        return workbook.model_copy(update={"shelf": (*workbook.shelf, part)})


@dataclass(frozen=True)
class DuplicatePart:
    """Copy a part of the shelf, to change the copy."""

    part: PartId
    label: str = "Duplicate part"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the copy after the original."""
        shelf = list(workbook.shelf)
        for index, part in enumerate(shelf):
            if part.id == self.part:
                name = f"{part.name[:113]}, copy"
                shelf.insert(
                    index + 1, part.model_copy(update={"id": free_id(name, set(workbook.by_id)), "name": name})
                )
                return workbook.model_copy(update={"shelf": tuple(shelf)})
        raise EditRefused("The part to copy is gone; choose another.")


@dataclass(frozen=True)
class DiscardPart:
    """Take a part off the shelf."""

    part: PartId
    label: str = "Remove part from the shelf"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the part; refused while a train uses it."""
        uses = workbook.uses_of(self.part)
        if uses:
            names = ", ".join(f"“{t.name}”" for t in uses)
            count = f"{len(uses)} train{'s' if len(uses) > 1 else ''}"
            raise EditRefused(f"{workbook.by_id[self.part].name} is on {count} ({names}); take it out there first.")
        return workbook.model_copy(update={"shelf": tuple(p for p in workbook.shelf if p.id != self.part)})


def parse_reading(text: str, origin: Origin) -> Reading:
    """Read what a person typed for a value: `16.46`, `16,46` or `16.46 ± 0.02`.

    Raises:
        EditRefused: it is no number.
    """
    plain = text.replace("mm", "").replace("+/-", "±").replace("−", "-").replace(" ", "")
    number, _, tolerance = plain.partition("±")
    try:
        value = _number(number)
        half = abs(_number(tolerance)) if tolerance else 0.0
        return Reading(value=value, origin=origin, tolerance=half)
    except (ValueError, ValidationError):
        shown = text.strip()[:40]
        raise EditRefused(f"“{shown}” is not a length; write a number such as 16.46 or 16.46 ± 0.02.") from None


def parse_figure(text: str, origin: Origin) -> Reading | Span:
    """Read what a person typed for a value that may be unknown: as `parse_reading`, or a span such as `6 to 12`.

    Raises:
        EditRefused: it is neither.
    """
    low, between, high = text.partition(" to ")
    if not between:
        return parse_reading(text, origin)
    ends = (parse_reading(low, origin).value, parse_reading(high, origin).value)
    return Span(low=min(ends), high=max(ends))


def _number(text: str) -> float:
    # One comma is a decimal comma; anything grouped in thousands is refused rather than guessed.
    if text.count(",") + text.count(".") > 1:
        raise ValueError(text)
    return float(text.replace(",", "."))


@dataclass(frozen=True)
class ImportParts:
    """Put several parts on the shelf in one step."""

    parts: tuple[Part, ...]
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Import {len(self.parts)} part{'s' if len(self.parts) != 1 else ''}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the parts at the end of the shelf; refused when one id is taken."""
        if len(workbook.shelf) + len(self.parts) > 5000:
            raise EditRefused("A shelf holds at most 5000 parts; import fewer.")
        for part in self.parts:
            if part.id in workbook.by_id:
                raise EditRefused(f"The id “{part.id}” is on the shelf already; read the table again.")
        return workbook.model_copy(update={"shelf": (*workbook.shelf, *self.parts)})
