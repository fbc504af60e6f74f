"""One writer a workbook: a lock beside the real file, held while a window has it open."""

import contextlib
import fcntl
import os
from pathlib import Path
from typing import IO

from farrail.errors import InUse
from farrail.workbook.safe_files import real, short_name

# How often a lock file that another window removed just now is opened again.
TRIES = 20


class FileLock:
    """Keeps other windows from writing a workbook while this one has it open."""

    def __init__(self, path: Path) -> None:
        """Take the lock of a workbook, by the one that name it is reached.

        Raises:
            InUse: another window has it.
        """
        target = real(path)
        self._path = target.with_name(f".{short_name(target.name, 8)}.lock")
        self._file: IO[str] | None = None
        for _ in range(TRIES):
            try:
                file = open(self._path, "a+")  # noqa: SIM115 (held until release)
            except OSError:
                return  # a folder that cannot be written needs no lock: saving there will say so
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                file.close()
                raise InUse(
                    "{name} is open in another Far Rail window; this one can look and save under another name.",
                    name=path.name,
                ) from None
            if self._is_there(file):
                self._file = file
                return
            # Its last holder removed it between opening and locking: that lock would keep no one out.
            file.close()

    def _is_there(self, file: IO[str]) -> bool:
        try:
            return os.path.samestat(os.fstat(file.fileno()), self._path.stat())
        except OSError:
            return False

    def release(self) -> None:
        """Give the lock back; harmless when it is not held. A lock file that is not this one's stays."""
        if self._file is not None:
            if self._is_there(self._file):
                with contextlib.suppress(OSError):
                    self._path.unlink()
            self._file.close()
            self._file = None
