"""From text to a workbook, with one clear sentence for everything that can be wrong, and back."""

import contextlib
import gc
import json
from collections.abc import Callable, Iterator
from typing import Any
from weakref import WeakValueDictionary

from pydantic import ValidationError

from farrail.complaints import complaint
from farrail.errors import BadInput, BadWorkbook
from farrail.language import begun_small, say
from farrail.parts.frozen import Frozen
from farrail.strict_json import read_json
from farrail.workbook.slots import with_slots
from farrail.workbook.workbook import FORMAT, VERSION, Workbook, check_references

LARGEST_BYTES = 40_000_000

# Parts and trains whose text is known to read back as they are: they were read from text, or their text was read once.
# Records never change, so this need not be asked of them again at every save.
_KNOWN: WeakValueDictionary[int, Frozen] = WeakValueDictionary()

Migration = Callable[[dict[str, Any]], dict[str, Any]]
# Migration n makes a version n+1 document of a version n one.
MIGRATIONS: dict[int, Migration] = {
    # Version 2 brought the log: in version 1 it was always empty, and no train's state was kept.
    1: lambda data: {**data, "log": [], "states": []},
}
# The rows of records a workbook is made of; each record is read and written on its own.
ROWS = ("shelf", "trains", "log", "states")


def from_text(text: str, where: str) -> Workbook:
    """Read a workbook.

    Args:
        text: the file's text.
        where: what to call the file in messages.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    with _without_collecting():
        return _from_text(text, where)


@contextlib.contextmanager
def _without_collecting() -> Iterator[None]:
    """Make many records without looking for garbage among them, which took a third of the time of a large file."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


def _from_text(text: str, where: str) -> Workbook:
    try:
        data = read_json(text)
    except json.JSONDecodeError as error:
        short = error.pos >= len(text.rstrip()) or error.msg.startswith("Unterminated string")
        cut = say(" (the file ends too early)") if short else ""
        raise BadWorkbook(
            "{where} is not readable JSON at line {lineno}, column {colno}{cut}; open its backup "
            "(the same name with .bak) or another file.",
            where=where,
            lineno=error.lineno,
            colno=error.colno,
            cut=cut,
        ) from None
    except BadInput as error:
        raise BadWorkbook("{where} cannot be read: {why}; open another file.", where=where, why=error) from None
    return from_data(data, where)


def from_data(data: Any, where: str) -> Workbook:
    """Build a workbook from decoded JSON, migrating an older version first.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise BadWorkbook(
            '{where} is not a Far Rail workbook (no "format": "{format}"); open a .farrail.json file.',
            where=where,
            format=FORMAT,
        )
    data = migrate(data, where)
    try:
        workbook = Workbook.model_validate(data)
        check_references(workbook)
        # Earlier, a wheel kept the slots that it had when it was placed.
        workbook = with_slots(workbook, workbook.shelf, keep_filters=True)
    except ValidationError as error:
        raise BadWorkbook(f"{where}: {explain(error, data)}") from None
    except BadWorkbook as error:
        raise BadWorkbook(f"{where}: {error}") from None
    _KNOWN.update((id(record), record) for record in _records(workbook))
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
        raise BadWorkbook(
            '{where} does not say which version it is; add "version": {newest} if it is a workbook.',
            where=where,
            newest=newest,
        )
    if version > newest:
        raise BadWorkbook(
            "{where} was written by a newer Far Rail (format {version}, this one reads up to "
            "{newest}); open it with that version.",
            where=where,
            version=version,
            newest=newest,
        )
    while version < newest:
        step = migrations.get(version)
        if step is None:
            raise BadWorkbook(
                "{where} has format {version}, which never existed; the first one is 1.",
                where=where,
                version=version,
            )
        data = {**step(data), "version": version + 1}
        version += 1
    return data


def to_text(workbook: Workbook) -> str:
    """Return a workbook as JSON: stable order, defaults left out where they carry nothing, a newline at the end."""
    body = workbook.model_dump_json(exclude_defaults=True, exclude={"format", "version"}, indent=1)
    head = json.dumps({"format": FORMAT, "version": VERSION}, indent=1)
    return f"{head.rstrip().removesuffix('}').rstrip()},{body.removeprefix('{')}\n"


def check_reads_back(text: str, workbook: Workbook) -> None:
    """See that a text that `to_text` made holds a workbook to the last value.

    The text must be JSON put together as the workbook is, and the text of each record that is not known to read back is
    read on its own. Reading the whole again would say the same and take five times as long.

    Raises:
        BadWorkbook: what would not read back, and why.
    """
    with _without_collecting():
        try:
            same = _is_put_together(json.loads(text), workbook)
            for record in _records(workbook):
                if _KNOWN.get(id(record)) is not record:
                    same = _reads_back(record) and same
            # Records are in it as they are and are not validated again: asked is how many, and of what kinds.
            Workbook.model_validate({name: getattr(workbook, name) for name in Workbook.model_fields})
            check_references(workbook)
        except (ValueError, KeyError, TypeError, AttributeError):
            same = False
    if not same:
        # Asked once more, for the reason in words.
        _from_text(text, "it")
        raise BadWorkbook("it does not read back as it was written")


def _is_put_together(data: Any, workbook: Workbook) -> bool:
    """Return whether a document holds a workbook's own fields, and its parts and trains one after the other."""
    own = workbook.model_dump(mode="json", exclude_defaults=True, exclude=set(ROWS))
    rest = {name: value for name, value in data.items() if name not in ROWS}
    if rest != {"format": FORMAT, "version": VERSION, **own}:
        return False
    return all(
        [record["id"] for record in data.get(name, [])] == [record.id for record in getattr(workbook, name)]
        for name in ROWS
    )


def _records(workbook: Workbook) -> Iterator[Frozen]:
    """Yield every record of a workbook."""
    for name in ROWS:
        yield from getattr(workbook, name)


def _reads_back(record: Frozen) -> bool:
    if type(record).model_validate_json(record.model_dump_json(exclude_defaults=True)) != record:
        return False
    _KNOWN[id(record)] = record
    return True


def explain(error: ValidationError, data: Any) -> str:
    """Return the first complaint of a validation as one sentence with its place in words."""
    first = error.errors()[0]
    place, name = _place(first["loc"], data)
    more = error.error_count() - 1
    rest = say(" ({more} more like it may follow)", more=more) if more else ""
    message = complaint(first)
    if first["type"] == "extra_forbidden":
        message = say("this field is not known")
    elif first["type"] == "missing":
        message = say("this field is missing")
    of_part = say(" of “{name}”", name=name) if name else ""
    return say(
        "{place}{of_part}: {message_}; correct it in the file{rest}.",
        place=place,
        of_part=of_part,
        message_=begun_small(message),
        rest=rest,
    )


def _place(location: tuple[int | str, ...], data: Any) -> tuple[str, str]:
    """Return a place such as `shelf[3].path_length_mm` and the name of the part or train it is in."""
    words, name, here = [], "", data
    for step in location:
        if isinstance(step, int):
            words.append(f"[{step}]")
        elif isinstance(here, dict) and step not in here and step not in ("kind",):
            # Discriminator tags are in the location and not in the file; a missing field ends it.
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
    return "".join(words).lstrip(".") or say("the file"), name
