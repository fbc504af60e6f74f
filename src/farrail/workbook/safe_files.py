"""Bytes on the disk, whole or not at all: a temporary file beside the target, forced to disk, renamed over it.

A temporary file is held locked while it is being written, so that what a killed program left can be shown from what
another window is writing just now, and swept away.
"""

import contextlib
import errno
import fcntl
import hashlib
import os
import stat
import tempfile
from collections.abc import Iterator
from pathlib import Path

from farrail.errors import BadWorkbook, StoreError
from farrail.language import say

# No file system here takes a longer name, in bytes.
LONGEST_NAME_BYTES = 255
TEMPORARY = ".far-rail-tmp"


@contextlib.contextmanager
def errors_reported(path: Path, *, saving: bool) -> Iterator[None]:
    """Turn the operating system's errors into one sentence about saving a file, or reading it.

    Raises:
        StoreError: in place of any OSError.
    """
    try:
        yield
    except FileNotFoundError:
        if saving:
            raise StoreError("{path} cannot be saved: its folder does not exist; check the name.", path=path) from None
        raise StoreError("{path} cannot be read: it is not there; check the name.", path=path) from None
    except PermissionError:
        if saving:
            raise StoreError("{path} cannot be saved: this account may not; choose another place.", path=path) from None
        raise StoreError("{path} cannot be read: this account may not; choose another place.", path=path) from None
    except OSError as error:
        reasons = {
            errno.ENOSPC: say("the disk is full; free some space"),
            errno.EDQUOT: say("the disk quota is used up; free some space"),
            errno.EROFS: say("the disk is read-only; choose another place"),
            errno.ENAMETOOLONG: say("its name is too long; choose a shorter one"),
            errno.ELOOP: say("its links lead in a circle; choose another file"),
        }
        other = say("{reason}; choose another place", reason=error.strerror or str(error))
        reason = reasons.get(error.errno or 0, other)
        if saving:
            raise StoreError(
                "{path} cannot be saved: {reason}. The file on disk is as it was.", path=path, reason=reason
            ) from None
        raise StoreError("{path} cannot be read: {reason}.", path=path, reason=reason) from None


def real(path: Path) -> Path:
    """Return where a path leads, its links followed; what does not exist yet is where it would be made."""
    return Path(os.path.realpath(path))


def read_bytes(path: Path, most: int) -> bytes:
    """Read a regular file of at most so many bytes; never a pipe or a device, which might not end.

    Raises:
        StoreError: it cannot be read, or is no regular file.
        BadWorkbook: it is larger.
    """
    with errors_reported(path, saving=False):
        # Opening a pipe waits for its other end; without waiting it can be asked what it is.
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            found = os.fstat(handle)
            if stat.S_ISDIR(found.st_mode):
                raise StoreError("{name} is a folder; choose a file in it.", name=path.name)
            if not stat.S_ISREG(found.st_mode):
                raise StoreError("{name} is a pipe or a device, not a file; choose another one.", name=path.name)
            with open(handle, "rb", closefd=False) as file:
                data = file.read(most + 1) if found.st_size <= most else b""
        finally:
            os.close(handle)
        size = max(found.st_size, len(data))
        if size > most:
            raise BadWorkbook(
                "{name} is {size:.0f} MB; at most {most:.0f} MB are read, so this is something else. "
                "Choose another file.",
                name=path.name,
                size=size / 1000000.0,
                most=most / 1000000.0,
            )
        return data


def digest_of(data: bytes) -> str:
    """Return what recognises bytes again."""
    return hashlib.sha256(data).hexdigest()


@contextlib.contextmanager
def written_beside(path: Path, data: bytes) -> Iterator[Path]:
    """Write bytes to a temporary file beside a path, on disk when this returns; what is not renamed goes again."""
    handle, name = tempfile.mkstemp(prefix=f".{short_name(path.name, 60)}.", suffix=TEMPORARY, dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
            yield temporary
    finally:
        with contextlib.suppress(OSError):
            temporary.unlink()


def replace_with(path: Path, data: bytes) -> None:
    """Put bytes in a file's place, whole or not at all; what is there keeps its mode and owner.

    Raises:
        OSError: nothing was replaced.
    """
    with written_beside(path, data) as temporary:
        take_mode(temporary, path)
        temporary.replace(path)
    sync_folder(path.parent)


def take_mode(temporary: Path, of: Path) -> None:
    """Give a file the mode and owner of another one, or those of a new file where there is none."""
    try:
        found = of.stat()
    except FileNotFoundError:
        temporary.chmod(0o666 & ~_umask())
        return
    with contextlib.suppress(OSError):
        # Only an administrator may give files away; anyone else's own file has the right owner already.
        os.chown(temporary, found.st_uid, found.st_gid)
    temporary.chmod(found.st_mode & 0o777)
    _take_attributes(temporary, of)


def _take_attributes(temporary: Path, of: Path) -> None:
    """Give a file the extended attributes of another one, such as a desktop's tags, as far as the disk keeps them."""
    with contextlib.suppress(OSError):
        for name in os.listxattr(of):
            with contextlib.suppress(OSError):
                os.setxattr(temporary, name, os.getxattr(of, name))


def names_of(path: Path) -> int:
    """Return how many names a file has on its disk (hard links); 1 for one that does not exist yet."""
    try:
        return path.stat().st_nlink
    except OSError:
        return 1


def private_folder(folder: Path) -> None:
    """Make a folder that only its own account may look into, or make one that is there so.

    Raises:
        OSError: it cannot be made.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with contextlib.suppress(OSError):
        folder.chmod(0o700)


def private_file(path: str, flags: int) -> int:
    """Open a file that only its own account may read: an opener for `open`."""
    handle = os.open(path, flags | os.O_CLOEXEC, 0o600)
    with contextlib.suppress(OSError):
        os.fchmod(handle, 0o600)
    return handle


def sweep(folder: Path) -> list[Path]:
    """Remove the temporary files a killed program left in a folder; those being written now are held, and stay."""
    gone = []
    with contextlib.suppress(OSError):
        for path in folder.glob(f".*{TEMPORARY}"):
            # Without waiting: a pipe of that name would never be opened.
            with contextlib.suppress(OSError), open(os.open(path, os.O_RDONLY | os.O_NONBLOCK), "rb") as file:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                path.unlink()
                gone.append(path)
    return gone


def sync_folder(folder: Path) -> None:
    """Force a folder's entries to disk, where that can be done."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def short_name(name: str, extra_bytes: int) -> str:
    """Return a name that leaves room for so many bytes more; a shortened one keeps a mark of the whole."""
    # As the file system has it: a name need not be UTF-8.
    data = os.fsencode(name)
    if len(data) + extra_bytes <= LONGEST_NAME_BYTES:
        return name
    mark = digest_of(data)[:12]
    room = LONGEST_NAME_BYTES - extra_bytes - len(mark) - 1
    return f"{data[:room].decode(errors='ignore')}~{mark}"


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
