"""Safe files: nothing saved is ever lost.

A save writes a temporary file beside the target, forces it to disk, keeps the last version as `.bak`, and renames
the temporary file over the target. A lock beside the file keeps a second window from writing it; a digest tells
when another program did.
"""

import contextlib
import errno
import fcntl
import hashlib
import os
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from farrail.errors import BadWorkbook, ChangedOutside, InUse, StoreError
from farrail.workbook.reading import LARGEST_BYTES, from_text, to_text
from farrail.workbook.workbook import Workbook

SUFFIX = ".farrail.json"


@dataclass(frozen=True)
class Opened:
    """A workbook as it was read, with the digest that recognises the file again."""

    workbook: Workbook
    digest: str


def read_file(path: Path) -> Opened:
    """Read a workbook file.

    Raises:
        StoreError: the file cannot be read.
        BadWorkbook: what it holds is not a workbook this version reads.
    """
    data = _read_bytes(path)
    return Opened(from_text(_decoded(path, data), path.name), _digest(data))


def read_text(path: Path) -> str:
    """Read a text file such as a table, within the size a workbook may have.

    Raises:
        StoreError: the file cannot be read.
        BadWorkbook: it is too large, or no text.
    """
    return _decoded(path, _read_bytes(path))


def write_text(path: Path, text: str) -> None:
    """Write a text file safely: it is there whole or as it was.

    Raises:
        StoreError: it cannot be written.
    """
    with _told(path, "saved"):
        temporary = _write_beside(path, text.encode())
        temporary.chmod(0o666 & ~_umask())
        temporary.replace(path)


def _read_bytes(path: Path) -> bytes:
    with _told(path, "read"):
        if path.is_dir():
            raise StoreError(f"{path.name} is a folder; choose a file in it.")
        size = path.stat().st_size
        if size > LARGEST_BYTES:
            raise BadWorkbook(
                f"{path.name} is {size / 1e6:.0f} MB; at most {LARGEST_BYTES / 1e6:.0f} MB are read, "
                "so this is something else. Choose another file."
            )
        return path.read_bytes()


def _decoded(path: Path, data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadWorkbook(f"{path.name} is not UTF-8 text (byte {error.start}); choose another file.") from None


def write_file(path: Path, workbook: Workbook, known_digest: str | None = None) -> str:
    """Save a workbook; returns the new file's digest.

    Args:
        path: where to.
        workbook: what.
        known_digest: digest of the file as last read or written here; None overwrites whatever is there.

    Raises:
        ChangedOutside: the file is no longer the one last read or written here.
        StoreError: it cannot be written; the old file is untouched.
    """
    data = to_text(workbook).encode()
    with _told(path, "saved"):
        before = path.read_bytes() if path.exists() else None
        if known_digest is not None and before is not None and _digest(before) != known_digest:
            raise ChangedOutside(
                f"{path.name} was changed by another program since it was opened; "
                "save under another name, or overwrite it (the other version is kept as .bak)."
            )
        temporary = _write_beside(path, data)
        try:
            if before is not None:
                backup = _write_beside(backup_of(path), before)
                backup.replace(backup_of(path))
                temporary.chmod(path.stat().st_mode & 0o777)
            else:
                temporary.chmod(0o666 & ~_umask())
            temporary.replace(path)
        except OSError:
            with contextlib.suppress(OSError):
                temporary.unlink()
            raise
        _sync_folder(path.parent)
    return _digest(data)


def backup_of(path: Path) -> Path:
    """Return where the version before the last save is kept."""
    return path.with_name(path.name + ".bak")


class FileLock:
    """Keeps other windows from writing a workbook while this one has it open."""

    def __init__(self, path: Path) -> None:
        """Take the lock of a workbook's path.

        Raises:
            InUse: another window has it.
        """
        self._path = path.with_name(f".{path.name}.lock")
        self._file: IO[str] | None = None
        try:
            self._file = open(self._path, "a+")  # noqa: SIM115 (held until release)
        except OSError:
            return  # a folder that cannot be written needs no lock: saving there will say so
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            self._file.close()
            self._file = None
            raise InUse(
                f"{path.name} is open in another Far Rail window; this one can look and save under another name."
            ) from None

    def release(self) -> None:
        """Give the lock back; harmless when it is not held."""
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._path.unlink()
            self._file.close()
            self._file = None


@contextlib.contextmanager
def _told(path: Path, what: str) -> Iterator[None]:
    """Turn the operating system's errors into one sentence."""
    try:
        yield
    except FileNotFoundError:
        place = "its folder does not exist" if what == "saved" else "it is not there"
        raise StoreError(f"{path} cannot be {what}: {place}; check the name.") from None
    except PermissionError:
        raise StoreError(f"{path} cannot be {what}: this account may not; choose another place.") from None
    except OSError as error:
        reasons = {
            errno.ENOSPC: "the disk is full; free some space",
            errno.EDQUOT: "the disk quota is used up; free some space",
            errno.EROFS: "the disk is read-only; choose another place",
            errno.ENAMETOOLONG: "its name is too long; choose a shorter one",
        }
        reason = reasons.get(error.errno or 0, (error.strerror or str(error)) + "; choose another place")
        kept = " The file on disk is as it was." if what == "saved" else ""
        raise StoreError(f"{path} cannot be {what}: {reason}.{kept}") from None


def _write_beside(path: Path, data: bytes) -> Path:
    handle, name = tempfile.mkstemp(prefix=f".{path.name[:80]}.", suffix=".tmp", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
    except OSError:
        with contextlib.suppress(OSError):
            temporary.unlink()
        raise
    return temporary


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
