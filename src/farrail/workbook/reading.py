"""From text to a workbook, with one clear sentence for everything that can be wrong, and back."""

import json
from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from farrail.errors import BadWorkbook
from farrail.workbook.workbook import FORMAT, VERSION, Workbook, check_references

LARGEST_BYTES = 40_000_000

Migration = Callable[[dict[str, Any]], dict[str, Any]]
# Migration n makes a version n+1 document of a version n one.
MIGRATIONS: dict[int, Migration] = {}


def from_text(text: str, where: str) -> Workbook:
    """Read a workbook.

    Args:
        text: the file's text.
        where: what to call the file in messages.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_refuse_twice)
    except json.JSONDecodeError as error:
        short = error.pos >= len(text.rstrip()) or error.msg.startswith("Unterminated string")
        cut = " (the file ends too early)" if short else ""
        raise BadWorkbook(
            f"{where} is not readable JSON at line {error.lineno}, column {error.colno}{cut}; "
            "open its backup (the same name with .bak) or another file."
        ) from None
    except (RecursionError, ValueError) as error:
        raise BadWorkbook(f"{where} cannot be read: {error or 'it is nested too deep'}; open another file.") from None
    return from_data(data, where)


def from_data(data: Any, where: str) -> Workbook:
    """Build a workbook from decoded JSON, migrating an older version first.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise BadWorkbook(f'{where} is not a Far Rail workbook (no "format": "{FORMAT}"); open a .farrail.json file.')
    data = migrate(data, where)
    try:
        workbook = Workbook.model_validate(data)
        check_references(workbook)
    except ValidationError as error:
        raise BadWorkbook(f"{where}: {explain(error, data)}") from None
    except BadWorkbook as error:
        raise BadWorkbook(f"{where}: {error}") from None
    return workbook


def migrate(
    data: dict[str, Any], where: str, migrations: dict[int, Migration] = MIGRATIONS, newest: int = VERSION
) -> dict[str, Any]:
    """Bring a document of an older version to the newest, step by step.

    Raises:
        BadWorkbook: the version is newer than this program, missing, or has no migration.
    """
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool):
        raise BadWorkbook(f'{where} does not say which version it is; add "version": {newest} if it is a workbook.')
    if version > newest:
        raise BadWorkbook(
            f"{where} was written by a newer Far Rail (format {version}, this one reads up to {newest}); "
            "open it with that version."
        )
    while version < newest:
        step = migrations.get(version)
        if step is None:
            raise BadWorkbook(f"{where} has format {version}, which never existed; the first one is 1.")
        data = {**step(data), "version": version + 1}
        version += 1
    return data


def to_text(workbook: Workbook) -> str:
    """Return a workbook as JSON: stable order, defaults left out where they carry nothing, a newline at the end."""
    data = workbook.model_dump(mode="json", exclude_defaults=True)
    head = {"format": FORMAT, "version": VERSION}
    return json.dumps(_with_kinds(workbook, {**head, **data}), indent=1, ensure_ascii=False) + "\n"


def _with_kinds(workbook: Workbook, data: dict[str, Any]) -> dict[str, Any]:
    """Put back the kind tags, which are defaults of their classes and yet tell one class from another."""
    data["shelf"] = [_tagged(part, dump) for part, dump in zip(workbook.shelf, data.get("shelf", []), strict=True)]
    return data


def _tagged(record: Any, dump: Any) -> Any:
    if isinstance(dump, list):
        return [_tagged(r, d) for r, d in zip(record, dump, strict=True)]
    if not isinstance(dump, dict):
        return dump
    tag = {"kind": record.kind} if "kind" in type(record).model_fields else {}
    return tag | {name: _tagged(getattr(record, name), value) for name, value in dump.items()}


def explain(error: ValidationError, data: Any) -> str:
    """Return the first complaint of a validation as one sentence with its place in words."""
    first = error.errors()[0]
    place, name = _place(first["loc"], data)
    more = error.error_count() - 1
    rest = f" ({more} more like it may follow)" if more else ""
    message = first["msg"].removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        message = "this field is not known"
    elif first["type"] == "missing":
        message = "this field is missing"
    elif first["type"] == "union_tag_invalid":
        message = f"the kind “{first['ctx']['tag']}” is not known; known are {first['ctx']['expected_tags']}"
    elif first["type"] == "finite_number":
        message = "the number must be finite"
    of_part = f" of “{name}”" if name else ""
    return f"{place}{of_part}: {message[0].lower()}{message[1:]}; correct it in the file{rest}."


def _place(location: tuple[int | str, ...], data: Any) -> tuple[str, str]:
    """Return a place such as `shelf[3].path_length_mm` and the name of the part or train it lies in."""
    words, name, here = [], "", data
    for step in location:
        if isinstance(step, int):
            words.append(f"[{step}]")
        elif isinstance(here, dict) and step not in here and step not in ("kind",):
            # Discriminator tags stand in the location and not in the file; a missing field ends it.
            if step is location[-1]:
                words.append(f".{step}")
            continue
        else:
            words.append(f".{step}")
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            here = None
        if isinstance(here, dict) and isinstance(here.get("name"), str):
            name = here["name"]
    return "".join(words).lstrip(".") or "the file", name


def _refuse_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Refuse a name that stands twice: which of the two is meant nobody can tell."""
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(f"“{twice[:60]}” stands twice in one record")
    return found


def _refuse_constant(text: str) -> float:
    raise ValueError(f"it holds {text}, which is no number")
