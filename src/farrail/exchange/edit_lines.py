"""Edits as lines of JSON, so that a script can build a workbook with the edits of the window.

A line is one object: `edit` names the edit, the rest are its values by name. Trains and parts are named by id or name.
What an edit cannot be without, and what each value is, `edit_names` says; docs/edits.md is made from it.
"""

import dataclasses
import json
import re
from collections.abc import Callable, Iterable, Mapping
from difflib import get_close_matches
from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter, ValidationError

from farrail.complaints import complaint
from farrail.errors import BadInput, EditRefused, FarRailError
from farrail.exchange.cells import read_cell
from farrail.language import begun_small
from farrail.logbook.registry import OBSERVATIONS
from farrail.parts.fields import Shape, field_at, fields_of
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.parts.registry import AnyPart
from farrail.strict_json import read_json
from farrail.workbook.edits import figures, front, laying, log, shelf, states, trains
from farrail.workbook.edits.shelf import AddPart, SetField, SetReading
from farrail.workbook.edits.trains import free_id
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit
from farrail.workbook.workbook import Workbook

# Values that name a part of the shelf.
PARTS = frozenset({"part", "filter", "sheet", "camera", "optic", "lens"})
# What undo calls an edit, and what merges: the program's own business.
OWN = frozenset({"label", "merge_key"})
MOST_LINES = 5000
# So many ids are named where a word may mean several parts.
MOST_NAMED = 8
# Edits whose values are whole parts or trains made elsewhere in the program, or that read their own words below.
_LEFT_OUT = frozenset(
    {"LayPlan", "LayTogether", "LayStack", "LayCloseUp", "ImportParts", "SetFigures", "SetReading", "SetField",
     "AddPart", "WriteDown", "ChangeObservation", "ImportObservations"}
)  # fmt: skip


@cache
def plain_edits() -> dict[str, type[Any]]:
    """Return the edits that are made of their values as they are, by their names: place-part, rename-train."""
    found: dict[str, type[Any]] = {}
    for module in (trains, laying, front, shelf, figures, log, states):
        for name, member in vars(module).items():
            if not isinstance(member, type) or member.__module__ != module.__name__ or name in _LEFT_OUT:
                continue
            if dataclasses.is_dataclass(member) and hasattr(member, "apply"):
                edit: type[Any] = member
                found[_named(name)] = edit
    return found


def edit_names() -> dict[str, tuple[str, dict[str, str]]]:
    """Return for each edit what it does, and its values: what each is, with “(may be left out)” where it may."""
    told = {name: (_brief(edit), _values(edit)) for name, edit in plain_edits().items()}
    told["set"] = (
        "Put a value into a field, written as people write it.",
        {"part": "a part", "field": "such as path_length_mm", "value": "such as 5.01 ± 0.02",
         "as": "measured, published or assumed (may be left out)"},
    )  # fmt: skip
    told["add-part"] = (
        "Put a part on the shelf.", {"part": "its kind and fields as in docs/format.md; an id may be left out"}
    )  # fmt: skip
    told["write-down"] = (
        "Write an observation down.",
        {"kind": "such as those of docs/format.md", "train": "a train", "day": "such as 2026-11-27",
         "values": "what was seen, by the kind's fields"},
    )  # fmt: skip
    return dict(sorted(told.items()))


def edit_from(data: object, workbook: Workbook) -> Edit:
    """Return the edit that one line describes.

    Args:
        data: the line's JSON.
        workbook: what it is to be applied to: its trains and parts are found by name.

    Raises:
        FarRailError: it describes none.
    """
    if not isinstance(data, dict) or not isinstance(data.get("edit"), str):
        raise BadInput('a line is an object that names its edit, such as {"edit": "rename-train", …}.')
    name, values = data["edit"], {key: value for key, value in data.items() if key != "edit"}
    special = _SPECIAL.get(name)
    if special is not None:
        return special(values, workbook)
    edit = plain_edits().get(name)
    if edit is None:
        from difflib import get_close_matches

        near = get_close_matches(name, edit_names(), 1, 0.5)
        hint = f"did you mean “{near[0]}”?" if near else "docs/edits.md lists them."
        raise BadInput("there is no edit “{name}”; {hint}", name=name, hint=hint)
    return _plain(edit, name, values, workbook)


def apply_lines(lines: Iterable[str], workbook: Workbook, do: Callable[[Edit], object]) -> int:
    """Apply the edits of some lines one after another; returns how many there were.

    Args:
        lines: lines of JSON; empty ones and those that begin with # are passed over.
        workbook: what the first is applied to.
        do: applies an edit and returns the workbook after it.

    Raises:
        FarRailError: a line is none, or its edit is refused; shown with its number.
    """
    count = 0
    for number, line in enumerate(lines, start=1):
        text = line.strip()
        if not text or text.startswith("#"):
            continue
        count += 1
        if count > MOST_LINES:
            raise BadInput("More than {most_lines} edits in one go; split them.", most_lines=MOST_LINES)
        try:
            edit = edit_from(_read(text), workbook)
            after = do(edit)
        except FarRailError as error:
            raise BadInput(
                "Line {number}: {trouble} Nothing was changed.",
                number=number,
                trouble=begun_small(str(error)),
            ) from None
        if isinstance(after, Workbook):
            workbook = after
    return count


def part_named(workbook: Workbook, wanted: str) -> PartId:
    """Return the id of a part named by id or name, capitals aside, or by any part of them that no other has.

    Raises:
        EditRefused: there is none, or several are meant.
    """
    if wanted in workbook.by_id:
        return wanted
    asked = wanted.strip().casefold()
    named = [part.id for part in workbook.shelf if asked in (part.name.casefold(), part.id.casefold())]
    inside = [p.id for p in workbook.shelf if asked and (asked in p.name.casefold() or asked in p.id.casefold())]
    found = named or inside
    if len(found) == 1:
        return found[0]
    if found:
        raise EditRefused(
            "“{wanted}” may be {count} parts; write one of these ids: {listed}.",
            wanted=wanted, count=len(found), listed=", ".join(found[:MOST_NAMED]),
        )  # fmt: skip
    near = get_close_matches(asked, [part.name.casefold() for part in workbook.shelf], 3, 0.5)
    names = ", ".join(part.name for part in workbook.shelf if part.name.casefold() in near)
    if names:
        raise EditRefused("There is no part “{wanted}”; did you mean {names}?", wanted=wanted, names=names)
    raise EditRefused("There is no part “{wanted}” on the shelf; far-rail csv FILE lists all.", wanted=wanted)


def set_value(workbook: Workbook, part: PartId, path: str, value: str, origin: Origin) -> Edit:
    """Return the edit that puts a value into a field, read as people write it.

    Raises:
        FarRailError: there is no such field, or it cannot hold that.
    """
    kind = type(workbook.by_id[part])
    field = field_at(kind, path)
    if field is None:
        known = ", ".join(one.path for one in fields_of(kind))
        raise EditRefused(
            "{name} has no field “{path}”; it has: {known}.", name=workbook.by_id[part].name, path=path, known=known
        )
    if field.shape is Shape.QUANTITY:
        return SetReading(part, path, parse_value(path, value, origin))
    return SetField(part, path, read_cell(field, value.strip()))


def _read(text: str) -> object:
    try:
        return read_json(text)
    except json.JSONDecodeError as error:
        raise BadInput("this is no JSON from column {column} on.", column=error.colno) from None
    except BadInput as error:
        raise BadInput("{why}.", why=error) from None


def _named(name: str) -> str:
    return re.sub(r"(?<!^)(?=[A-Z])", "-", name).lower()


def _brief(edit: type[Any]) -> str:
    """Return what an edit does; what its code calls None is null in JSON."""
    return (edit.__doc__ or "").strip().split("\n\n")[0].replace("\n", " ").replace("None", "null")


def _outside(name: str) -> str:
    return "train" if name == "train_id" else name


def _fields(edit: type[Any]) -> list[dataclasses.Field[Any]]:
    return [field for field in dataclasses.fields(edit) if field.name not in OWN]


def _left_out(field: dataclasses.Field[Any]) -> bool:
    return field.default is not dataclasses.MISSING or field.default_factory is not dataclasses.MISSING


def _values(edit: type[Any]) -> dict[str, str]:
    hints = get_type_hints(edit)
    told = {}
    for field in _fields(edit):
        hint = hints[field.name]
        part = "a part, or null" if type(None) in getattr(hint, "__args__", ()) else "a part"
        what = "a train" if field.name == "train_id" else part if field.name in PARTS else _type(hint)
        told[_outside(field.name)] = what + (" (may be left out)" if _left_out(field) else "")
    return told


def _type(hint: Any) -> str:
    words = {str: "text", int: "a whole number", float: "a number", bool: "true or false"}
    if hint in words:
        return words[hint]
    inner = [one for one in getattr(hint, "__args__", ()) if one is not type(None)]
    if len(inner) == 1 and type(None) in getattr(hint, "__args__", ()):
        return f"{_type(inner[0])}, or null"
    members = getattr(hint, "__members__", None)
    if members is not None:
        return " or ".join(str(one.value) for one in members.values())
    return f"as `{getattr(hint, '__name__', str(hint))}` in docs/format.md"


def _plain(edit: type[Any], name: str, values: Mapping[str, Any], workbook: Workbook) -> Edit:
    fields = {_outside(field.name): field for field in _fields(edit)}
    unknown = [key for key in values if key not in fields]
    if unknown:
        raise BadInput(
            "“{name}” has no value “{unknown}”; it has: {listed}.",
            name=name,
            unknown=unknown[0],
            listed=", ".join(fields),
        )
    hints = get_type_hints(edit)
    taken: dict[str, Any] = {}
    for outside, field in fields.items():
        if outside not in values:
            if not _left_out(field):
                raise BadInput("“{name}” needs “{outside}” as well.", name=name, outside=outside)
            continue
        taken[field.name] = _value(values[outside], field.name, hints[field.name], workbook)
    made: Edit = edit(**taken)
    return made


def _value(value: Any, name: str, hint: Any, workbook: Workbook) -> Any:
    if name == "train_id":
        return workbook.train(str(value)).id
    if name in PARTS and value is not None:
        return part_named(workbook, str(value))
    try:
        return TypeAdapter(hint).validate_python(value, strict=False)
    except ValidationError as error:
        raise BadInput(f"“{_outside(name)}”: {begun_small(complaint(error.errors()[0]))}.") from None


def _text(values: Mapping[str, Any], name: str, edit: str) -> str:
    if name not in values:
        raise BadInput("“{edit}” needs “{name}” as well.", edit=edit, name=name)
    return str(values[name])


def _set(values: Mapping[str, Any], workbook: Workbook) -> Edit:
    part = part_named(workbook, _text(values, "part", "set"))
    try:
        origin = Origin(str(values.get("as", Origin.MEASURED.value)))
    except ValueError:
        raise BadInput(
            "“as”: {listed}, not “{values}”.", listed=", ".join(one.value for one in Origin), values=values["as"]
        ) from None
    return set_value(workbook, part, _text(values, "field", "set"), _text(values, "value", "set"), origin)


def _add_part(values: Mapping[str, Any], workbook: Workbook) -> Edit:
    told = values.get("part")
    if not isinstance(told, dict) or not isinstance(told.get("name"), str):
        raise BadInput("“add-part” needs “part”: an object with kind, name and its fields.")
    data = {"id": free_id(told["name"], set(workbook.by_id)), **told}
    try:
        return AddPart(TypeAdapter(AnyPart).validate_python(data))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"][1:]) or "part"
        raise BadInput(f"“{told['name']}”, {where}: {begun_small(complaint(first))}.") from None


def _write_down(values: Mapping[str, Any], workbook: Workbook) -> Edit:
    kind = OBSERVATIONS.get(_text(values, "kind", "write-down"))
    if kind is None:
        raise BadInput(
            "there is no kind of observation “{values}”; there are: {listed}.",
            values=values["kind"],
            listed=", ".join(OBSERVATIONS),
        )
    seen = values.get("values", {})
    if not isinstance(seen, dict):
        raise BadInput("“values” is an object: what was seen, by the kind's fields.")
    train = workbook.train(_text(values, "train", "write-down")).id
    return log.WriteDown(kind, train, _text(values, "day", "write-down"), seen)


_SPECIAL: dict[str, Callable[[Mapping[str, Any], Workbook], Edit]] = {
    "set": _set,
    "add-part": _add_part,
    "write-down": _write_down,
}
