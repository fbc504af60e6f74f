"""Kept work: what was not yet saved when the program was killed, offered at the next start.

Each window writes one file into the recovery folder, holds it locked while it lives, and removes it on a clean
end. A recovery file no one holds is what a killed window left. It names the file it belongs to and carries the digest
that file had when the work began, so that recovered work never overwrites what was saved later without a word.
"""

import contextlib
import fcntl
import json
import os
import time
import uuid
from dataclasses import dataclass
from enum import Enum, auto
from pathlib import Path
from threading import Lock
from typing import IO

from farrail.errors import FarRailError
from farrail.workbook.reading import from_text
from farrail.workbook.safe_files import TEMPORARY, errors_reported, private_file, private_folder, sweep
from farrail.workbook.store import digest_at, read_file
from farrail.workbook.workbook import Workbook

# Seconds since 1970 of a year no clock here shows.
LATEST = 1e12


class Since(Enum):
    """What became of the file since the work on it began."""

    NEVER_SAVED = auto()
    AS_IT_WAS = auto()
    WRITTEN_SINCE = auto()
    GONE = auto()


@dataclass(frozen=True)
class Left:
    """Work a killed window left.

    Attributes:
        path: the recovery file.
        workbook: the work.
        belongs_to: the workbook file; None when it was never saved.
        digest: what that file held when the work began; None when unknown or never saved.
        kept_at: when it was kept, seconds since 1970.
        since: what became of the file meanwhile.
    """

    path: Path
    workbook: Workbook
    belongs_to: Path | None
    digest: str | None
    kept_at: float
    since: Since


class Autosave:
    """This window's recovery file."""

    def __init__(self, folder: Path) -> None:
        """Choose a name in the recovery folder; nothing is written before the first call of `keep`."""
        self._path = folder / f"{uuid.uuid4().hex}.recovery"
        self._lock: IO[bytes] | None = None
        # Kept from a worker thread and dropped from the window's: the two must not meet, nor an older state come last.
        self._one = Lock()
        self._asked = 0
        self._written = 0

    def ask(self) -> int:
        """Return a number for a state about to be kept; of two, the later asked for stays."""
        self._asked += 1
        return self._asked

    def keep(
        self, workbook: Workbook, belongs_to: Path | None, digest: str | None = None, number: int | None = None
    ) -> None:
        """Write the workbook as it is.

        Args:
            workbook: the work.
            belongs_to: its file, if it has one.
            digest: what that file held when it was last read or written.
            number: from `ask`; a state asked for before the one on disk, or before a drop, is not written any more.

        Raises:
            StoreError: it cannot be kept; what was kept before is still there.
        """
        number = self.ask() if number is None else number
        where = None if belongs_to is None else str(belongs_to)
        head = json.dumps({"belongs_to": where, "digest": digest, "kept_at": time.time()})
        data = f"{head}\n{workbook.model_dump_json()}".encode()
        with self._one, errors_reported(self._path, saving=True):
            if number <= self._written:
                return
            private_folder(self._path.parent)
            temporary = self._path.with_name(f".{self._path.stem}{TEMPORARY}")
            # Stays open: its lock shows that this window is running.
            file = open(temporary, "wb", opener=private_file)  # noqa: SIM115
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
                temporary.replace(self._path)
            except OSError:
                with contextlib.suppress(OSError):
                    temporary.unlink()
                with contextlib.suppress(OSError):
                    file.close()
                raise
            if self._lock is not None:
                self._lock.close()
            self._lock, self._written = file, number

    def drop(self, number: int | None = None) -> None:
        """Remove the recovery file: everything is saved, or was given up knowingly.

        With a number from `ask`, a state asked for later and kept already stays.
        """
        with self._one:
            if number is not None and number < self._written:
                return
            self._written = self._asked if number is None else number
            if self._lock is not None:
                with contextlib.suppress(OSError):
                    self._path.unlink()
                self._lock.close()
                self._lock = None

    def let_go(self) -> None:
        """Leave what was kept for the next start: the program is being ended from outside."""
        with self._one:
            if self._lock is not None:
                self._lock.close()
                self._lock = None


def left_behind(folder: Path) -> list[Left]:
    """Return the work that killed windows left, newest first.

    One that cannot be read hides no other and stays where it is. One that was saved after all, by a window killed
    before it could tidy up, is no loss and is removed.
    """
    sweep(folder)
    found = []
    with contextlib.suppress(OSError):
        for path in folder.glob("*.recovery"):
            try:
                left = _read(path)
            except (OSError, ValueError, ArithmeticError, KeyError, TypeError, AttributeError, FarRailError):
                continue
            if left.since in (Since.WRITTEN_SINCE, Since.AS_IT_WAS) and _is_saved(left):
                with contextlib.suppress(OSError):
                    path.unlink()
                continue
            found.append(left)
    return sorted(found, key=lambda left: left.kept_at, reverse=True)


def _read(path: Path) -> Left:
    with open(path, "rb") as file:
        fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        text = file.read().decode()
        written_at = os.fstat(file.fileno()).st_mtime
    first, _, body = text.partition("\n")
    head = json.loads(first)
    where, digest = head["belongs_to"], head.get("digest")
    belongs_to = None if where is None else Path(str(where))
    kept_at = head.get("kept_at", written_at)
    # A number without end, or one no clock shows, is a spoilt one.
    kept_at = float(kept_at) if isinstance(kept_at, int | float) and 0 <= kept_at < LATEST else written_at
    workbook = from_text(body, path.name)
    return Left(path, workbook, belongs_to, digest, kept_at, _since(belongs_to, digest))


def _since(belongs_to: Path | None, digest: object) -> Since:
    if belongs_to is None:
        return Since.NEVER_SAVED
    now = digest_at(belongs_to)
    if now is None:
        return Since.GONE
    return Since.AS_IT_WAS if now == digest else Since.WRITTEN_SINCE


def _is_saved(left: Left) -> bool:
    assert left.belongs_to is not None
    try:
        return read_file(left.belongs_to).workbook == left.workbook
    except FarRailError:
        return False
