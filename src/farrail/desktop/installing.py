"""Putting the pieces in place for one account, and taking away exactly what was put there.

What is written is noted in a receipt; undoing takes away what the receipt names, as long as it is as it was written.
"""

import hashlib
import json
import shutil
import subprocess
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from farrail.desktop.pieces import Piece
from farrail.errors import StoreError

RECEIPT = "far-rail/installed.json"
# What keeps the desktop's indexes; where one is missing the desktop finds the files by itself at the next login.
INDEXERS = (
    ("update-desktop-database", "applications"),
    ("update-mime-database", "mime"),
)


@dataclass(frozen=True)
class Done:
    """What was done.

    Attributes:
        files: what was written, or taken away.
        kept: what stayed because it is not what was written.
    """

    files: tuple[Path, ...]
    kept: tuple[Path, ...] = ()


def install(pieces: Iterable[Piece], data_home: Path, *, index: bool = True) -> Done:
    """Put pieces in place; a second time replaces the first.

    Args:
        pieces: what to write.
        data_home: the data folder, such as `~/.local/share`.
        index: also have the desktop's indexes made again.

    Raises:
        StoreError: a file cannot be written; what was written before it stays and is noted.
    """
    receipt = _read(data_home)
    written: list[Path] = []
    try:
        for piece in pieces:
            target = data_home / piece.place
            try:
                target.parent.mkdir(parents=True, exist_ok=True)
                _replace(target, piece.data)
            except OSError as error:
                raise StoreError(
                    "{target} cannot be written ({strerror}); make its folder writable for you and try again.",
                    target=target,
                    strerror=error.strerror,
                ) from None
            receipt[piece.place] = _digest(piece.data)
            written.append(target)
    finally:
        if written:
            _note(data_home, receipt)
    if index:
        _index(data_home)
    return Done(tuple(written))


def undo(data_home: Path, *, index: bool = True) -> Done:
    """Take away what was put in place, and folders left empty by that.

    Args:
        data_home: the data folder it was put into.
        index: also have the desktop's indexes made again.

    Raises:
        StoreError: a file cannot be taken away.
    """
    gone: list[Path] = []
    kept: list[Path] = []
    for place, digest in _read(data_home).items():
        target = data_home / place
        if not target.is_file():
            continue
        if _digest(target.read_bytes()) != digest:
            kept.append(target)
            continue
        try:
            target.unlink()
        except OSError as error:
            raise StoreError(
                "{target} cannot be removed ({strerror}).", target=target, strerror=error.strerror
            ) from None
        gone.append(target)
    (data_home / RECEIPT).unlink(missing_ok=True)
    if index:
        _index(data_home)
    for target in (*gone, data_home / RECEIPT):
        _drop_empty(target.parent, data_home)
    return Done(tuple(gone), tuple(kept))


def _replace(target: Path, data: bytes) -> None:
    beside = target.with_name(f".{target.name}.new")
    beside.write_bytes(data)
    beside.replace(target)


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _read(data_home: Path) -> dict[str, str]:
    """Return the receipt; what is no receipt counts as none, and names no file outside the data folder."""
    try:
        found = json.loads((data_home / RECEIPT).read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    if not isinstance(found, dict):
        return {}
    return {
        place: digest
        for place, digest in found.items()
        if isinstance(digest, str) and not Path(place).is_absolute() and ".." not in Path(place).parts
    }


def _note(data_home: Path, receipt: dict[str, str]) -> None:
    target = data_home / RECEIPT
    target.parent.mkdir(parents=True, exist_ok=True)
    _replace(target, json.dumps(receipt, indent=2).encode())


def _index(data_home: Path) -> None:
    for program, folder in INDEXERS:
        where = data_home / folder
        if shutil.which(program) and where.is_dir():
            subprocess.run([program, str(where)], capture_output=True, check=False, timeout=60)


def _drop_empty(folder: Path, stop: Path) -> None:
    """Take away a folder left empty, and those around it, up to the data folder."""
    while folder not in (stop, folder.parent):
        try:
            folder.rmdir()
        except OSError:
            return
        folder = folder.parent
