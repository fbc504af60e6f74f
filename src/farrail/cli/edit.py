"""`far-rail edit`: edits a workbook file without a window: one value, or lines of JSON."""

import sys
from datetime import date
from pathlib import Path

from farrail.cli.printing import FINE
from farrail.errors import BadInput, InUse
from farrail.exchange.edit_lines import apply_lines, part_named, set_value
from farrail.language import say, say_n, word
from farrail.parts.origin import Origin
from farrail.workbook.edits.invalid_flats import WithDate
from farrail.workbook.edits.trains import RenameWorkbook
from farrail.workbook.history import Edit, History
from farrail.workbook.lock import FileLock
from farrail.workbook.store import STANDARD_INPUT, read_file, read_text, write_file
from farrail.workbook.workbook import Workbook, empty_workbook


def run(file: Path, part: str, field: str, value: str, origin: Origin) -> int:
    """Change one value and save; the earlier version stays as a backup. Returns the exit code.

    Raises:
        FarRailError: nothing was changed; InUse where a window has the workbook open.
    """
    lock = locked(file)
    try:
        opened = read_file(file)
        found = part_named(opened.workbook, part)
        history = History(opened.workbook)
        changed = history.do(_today(set_value(opened.workbook, found, field, value, origin)))
        if changed:
            write_file(file, history.present, opened.digest)
    finally:
        lock.release()
    name = opened.workbook.by_id[found].name
    print(
        say("{name}: {field} is {value} now ({origin}).", name=name, field=field, value=value, origin=word(origin))
        if changed
        else say("{name}: {field} was {value} already.", name=name, field=field, value=value)
    )
    return FINE


def rename(file: Path, name: str) -> int:
    """Give a workbook another name and save; returns the exit code.

    Raises:
        FarRailError: nothing was changed.
    """
    lock = locked(file)
    try:
        opened = read_file(file)
        history = History(opened.workbook)
        if history.do(RenameWorkbook(name)):
            write_file(file, history.present, opened.digest)
    finally:
        lock.release()
    print(say("The workbook is called “{name}” now.", name=name))
    return FINE


def run_lines(file: Path, lines: Path, *, new: bool, name: str | None = None) -> int:
    """Apply the edits of a file of JSON lines and save, all of them or none; returns the exit code.

    Args:
        file: the workbook.
        lines: the edits; “-” is standard input.
        new: begin an empty workbook where there is no such file.
        name: what the workbook is called from now on; None leaves it.

    Raises:
        FarRailError: nothing was changed.
    """
    text = sys.stdin.read() if str(lines) == "-" else read_text(lines)
    lock = locked(file)
    try:
        if new and file.exists():
            raise BadInput("{name} is there already; leave --new out to change it.", name=file.name)
        opened = None if new else read_file(file)
        history = History(empty_workbook() if opened is None else opened.workbook)

        def do(edit: Edit) -> Workbook:
            history.do(_today(edit))
            return history.present

        count = apply_lines(text.splitlines(), history.present, do)
        if name is not None:
            history.do(RenameWorkbook(name))
        write_file(file, history.present, None if opened is None else opened.digest)
    finally:
        lock.release()
    print(say_n("{count} edit applied to {file}.", "{count} edits applied to {file}.", count, count=count, file=file))
    return FINE


def _today(edit: Edit) -> WithDate:
    """Return an edit as the window makes it: flats that it makes invalid are marked with today's date."""
    return WithDate(edit, date.today().isoformat())


def locked(file: Path) -> FileLock:
    """Return the lock of a workbook file.

    Raises:
        InUse: a window has it open.
        BadInput: it is standard input.
    """
    if file == STANDARD_INPUT:
        raise BadInput("Standard input cannot be changed; give a file.")
    try:
        return FileLock(file)
    except InUse:
        raise InUse(
            "{name} is open in a Far Rail window: change it there, or close it first.", name=file.name
        ) from None
