"""`far-rail edit FILE PART FIELD VALUE`: put a value into a workbook file, without a window."""

from pathlib import Path

from farrail.cli.printing import FINE
from farrail.errors import EditRefused, InUse
from farrail.exchange.cells import read_cell
from farrail.parts.fields import Shape, field_at, fields_of
from farrail.parts.provenance import Origin
from farrail.parts.shelved import PartId
from farrail.workbook.edits.shelf import SetField, SetReading
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit, History
from farrail.workbook.lock import FileLock
from farrail.workbook.store import read_file, write_file
from farrail.workbook.workbook import Workbook


def run(file: Path, part: str, field: str, value: str, origin: Origin) -> int:
    """Change one value and save; the earlier version stays as a backup. Returns the exit code.

    Raises:
        FarRailError: nothing was changed; InUse where a window has the workbook open.
    """
    try:
        lock = FileLock(file)
    except InUse:
        raise InUse(f"{file.name} is open in a Far Rail window: change it there, or close it first.") from None
    try:
        opened = read_file(file)
        found = _part(opened.workbook, part)
        history = History(opened.workbook)
        changed = history.do(_edit(opened.workbook, found, field, value, origin))
        if changed:
            write_file(file, history.present, opened.digest)
    finally:
        lock.release()
    name = opened.workbook.by_id[found].name
    print(f"{name}: {field} is {value} now." if changed else f"{name}: {field} was {value} already.")
    return FINE


def _part(workbook: Workbook, wanted: str) -> PartId:
    """Return the id of a part named by id or by name."""
    if wanted in workbook.by_id:
        return wanted
    named = [part.id for part in workbook.shelf if part.name.casefold() == wanted.casefold()]
    if len(named) == 1:
        return named[0]
    why = (
        f"{len(named)} parts are called so; give the id: {', '.join(named)}" if named else "the shelf has no such part"
    )
    raise EditRefused(f"“{wanted}”: {why}.")


def _edit(workbook: Workbook, part: PartId, path: str, value: str, origin: Origin) -> Edit:
    kind = type(workbook.by_id[part])
    field = field_at(kind, path)
    if field is None:
        known = ", ".join(one.path for one in fields_of(kind))
        raise EditRefused(f"{workbook.by_id[part].name} has no field “{path}”; it has: {known}.")
    if field.shape is Shape.QUANTITY:
        return SetReading(part, path, parse_value(path, value, origin))
    return SetField(part, path, read_cell(field, value.strip()))
