"""The fields of each kind, derived from its records: paths, names, units, and how a value of each is written."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import Enum
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo as ModelField

from farrail.language import cached_by_language
from farrail.parts.base import PartBase
from farrail.parts.connections import Connection
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.provenance import Quantity


class Shape(Enum):
    """How a field's value is written in one cell."""

    QUANTITY = "quantity"
    CONNECTION = "connection"
    YES_OR_NO = "yes or no"
    YES_NO_OR_SILENT = "yes, no or silent"
    CHOICE = "choice"
    WHOLE = "whole"
    NUMBER = "number"
    TEXT = "text"
    TABLE = "table"


@dataclass(frozen=True)
class PartField:
    """One field of a kind.

    Attributes:
        path: from the part, such as `glass.thickness_mm`.
        label: its name, with that of the record it is in.
        unit: of a quantity.
        group: where it is read.
        help: what it means, in one line; "" where its label says it.
        shape: how its value is written.
        optional: whether it may be left out.
        choices: the words of a choice.
        row: the record a table's rows are made of; None for what is no table.
        told: whether it is shown on the sheet.
        begun_by: the path by which the record it is in is begun where there is none; "" where it is always there.
        stays_mm: whether it is shown in mm wherever lengths are shown in inches.
    """

    path: str
    label: str
    unit: str
    group: Group
    help: str
    shape: Shape
    optional: bool
    choices: tuple[str, ...] = ()
    row: type[BaseModel] | None = None
    told: bool = True
    begun_by: str = ""
    stays_mm: bool = False


@dataclass(frozen=True)
class Offered:
    """A field as a part has it, or could have it.

    Attributes:
        field: the field.
        value: its value; None for none.
        there: whether the record it is in is there; giving a value begins it.
    """

    field: PartField
    value: Any
    there: bool


@cached_by_language
def fields_of(kind: type[PartBase]) -> tuple[PartField, ...]:
    """Return every field of a kind in reading order: by group, within it as declared."""
    return tuple(sorted(_walk(kind, "", "", None, ""), key=lambda f: f.group))


@cached_by_language
def field_at(kind: type[PartBase], path: str) -> PartField | None:
    """Return a kind's field at a path; None where it has none."""
    return next((f for f in fields_of(kind) if f.path == path), None)


def offered_fields(part: PartBase) -> list[Offered]:
    """Return every field a person can give of a part in reading order; of a record not begun its first."""
    found = []
    for field in fields_of(type(part)):
        if not field.told:
            continue
        there, value = value_at(part, field.path)
        parent = value_at(part, field.path.rpartition(".")[0])[1] if "." in field.path else part
        # Glass known as a plate may be shown as a printed shift instead, and the other way round.
        if there or field.path == field.begun_by or isinstance(parent, BaseModel):
            found.append(Offered(field, value, there))
    return found


def value_at(part: BaseModel, path: str) -> tuple[bool, Any]:
    """Return whether a part has a field at a path, and its value; a record that is not there has no fields."""
    value: Any = part
    for name in path.split("."):
        if not isinstance(value, BaseModel) or name not in type(value).model_fields:
            return False, None
        value = getattr(value, name)
    return True, value


def begun(part: PartBase, path: str) -> PartBase:
    """Return a part with room for a value at a path: the record it is in begun, or shown the other way round."""
    made = _with_room(part, part, path.split("."))
    assert isinstance(made, PartBase)
    return made


def _with_room(part: PartBase, record: BaseModel, names: list[str]) -> BaseModel:
    name, *rest = names
    info = type(record).model_fields.get(name)
    if info is None or not rest:
        return record
    value, told = getattr(record, name), _told(info)
    if value is None:
        if told is None or told.begins is None:
            return record
        value = told.begins(part)
    if rest[0] not in type(value).model_fields:
        records = [arm for arm in _bare(info.annotation)[0] if isinstance(arm, type) and issubclass(arm, BaseModel)]
        arms = [arm for arm in records if rest[0] in arm.model_fields]
        make = getattr(arms[0], "instead_of", None) if arms else None
        if make is None:
            return record
        value = make(value)
    return record.model_copy(update={name: _with_room(part, value, rest)})


def _walk(record: type[BaseModel], prefix: str, called: str, group: Group | None, begun_by: str) -> Iterator[PartField]:
    for name, info in record.model_fields.items():
        if name in ("kind", "id"):
            continue
        told, path = _told(info), f"{prefix}{name}"
        label = _joined(called, told.label if told is not None else "")
        here = group if group is not None else told.group if told is not None else Group.KEEPING
        inner, optional = _bare(info.annotation)
        records = [t for t in inner if isinstance(t, type) and issubclass(t, BaseModel) and t is not Quantity]
        if records and Connection not in records:
            first = f"{path}.{told.first}" if told is not None and told.first else begun_by
            seen: set[str] = set()
            for one in records:
                # Glass is a plate or a printed shift: the fields of both.
                for found in _walk(one, f"{path}.", label, here, first):
                    if found.path not in seen:
                        seen.add(found.path)
                        yield found
            continue
        shape, choices, row = _shape(inner, optional)
        optional = optional or not info.is_required()
        unit = told.unit if told is not None and shape is Shape.QUANTITY else ""
        helped = told.help if told is not None else ""
        yield PartField(
            path, label, unit, here, helped, shape, optional, choices, row, told is not None, begun_by,
            told is not None and told.stays_mm,
        )  # fmt: skip


def _joined(called: str, label: str) -> str:
    if not called or not label:
        return called or label
    return f"{called} {label}"


def _told(info: ModelField) -> FieldInfo | None:
    return next((item for item in info.metadata if isinstance(item, FieldInfo)), None)


def _bare(annotation: Any) -> tuple[list[Any], bool]:
    """Return the types an annotation allows, without what it adds to them, and whether it allows none."""
    if annotation is None or annotation is type(None):
        return [], True
    origin = get_origin(annotation)
    if origin is Annotated:
        return _bare(get_args(annotation)[0])
    if origin in (Union, UnionType):
        inner: list[Any] = []
        optional = False
        for arm in get_args(annotation):
            types, none = _bare(arm)
            inner += types
            optional = optional or none
        return inner, optional
    return [annotation], False


def _shape(inner: list[Any], optional: bool) -> tuple[Shape, tuple[str, ...], type[BaseModel] | None]:
    one = inner[0]
    if get_origin(one) is Literal:
        return Shape.CHOICE, tuple(str(word) for word in get_args(one)), None
    if get_origin(one) is tuple:
        row = _bare(get_args(one)[0])[0][0]
        return Shape.TABLE, (), row
    if issubclass(one, Enum):
        return Shape.CHOICE, tuple(str(word.value) for word in one), None
    shapes = {Quantity: Shape.QUANTITY, Connection: Shape.CONNECTION, int: Shape.WHOLE, float: Shape.NUMBER}
    if one is bool:
        return (Shape.YES_NO_OR_SILENT if optional else Shape.YES_OR_NO), (), None
    return shapes.get(one, Shape.TEXT), (), None
