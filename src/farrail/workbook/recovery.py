"""Autosaved work: what was not yet saved when the program was killed, offered at the next start.

Each window writes one file into the recovery folder, holds it locked while it lives, and removes it on a clean
end. A recovery file nobody holds is what a killed window left.
"""

import contextlib
import fcntl
import json
import os
import uuid
from dataclasses import dataclass
from pathlib import Path
from threading import Lock
from typing import IO

from farrail.errors import FarRailError
from farrail.workbook.reading import from_text
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class Left:
    """Work a killed window left: where it lies, the workbook, and the file it belongs to (None: never saved)."""

    path: Path
    workbook: Workbook
    belongs_to: Path | None


class Autosave:
    """This window's recovery file."""

    def __init__(self, folder: Path) -> None:
        """Choose a name in the recovery folder; nothing is written before the first call of `keep`."""
        self._path = folder / f"{uuid.uuid4().hex}.recovery"
        self._lock: IO[bytes] | None = None
        # Kept from a worker thread and dropped from the window's: the two must not meet.
        self._one = Lock()

    def keep(self, workbook: Workbook, belongs_to: Path | None) -> None:
        """Write the workbook as it stands; a folder that cannot be written is passed over in silence."""
        head = json.dumps({"belongs_to": None if belongs_to is None else str(belongs_to)})
        data = f"{head}\n{workbook.model_dump_json()}".encode()
        with self._one, contextlib.suppress(OSError):
            self._path.parent.mkdir(parents=True, exist_ok=True)
            temporary = self._path.with_suffix(".tmp")
            file = open(temporary, "wb")  # noqa: SIM115 (held: its lock says that this window lives)
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
            temporary.replace(self._path)
            if self._lock is not None:
                self._lock.close()
            self._lock = file

    def drop(self) -> None:
        """Remove the recovery file: everything is saved, or was given up knowingly."""
        with self._one:
            if self._lock is not None:
                with contextlib.suppress(OSError):
                    self._path.unlink()
                self._lock.close()
                self._lock = None


def left_behind(folder: Path) -> list[Left]:
    """Return the work that killed windows left, newest first; unreadable leftovers are passed over."""
    if not folder.is_dir():
        return []
    found = []
    for path in sorted(folder.glob("*.recovery"), key=lambda p: p.stat().st_mtime, reverse=True):
        try:
            with open(path, "rb") as file:
                fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
                head, _, body = file.read().decode().partition("\n")
            belongs = json.loads(head)["belongs_to"]
            workbook = from_text(body, path.name)
        except (OSError, ValueError, KeyError, TypeError, FarRailError):
            continue
        found.append(Left(path, workbook, None if belongs is None else Path(belongs)))
    return found
