"""Safe workbook files: nothing saved is ever lost, and what is saved opens again.

A save writes a temporary file beside the real file (links are followed and stay), reads it back, keeps the last version
as a backup, and renames the temporary file over the target. A digest says when another program wrote the file.
"""

import sys
from dataclasses import dataclass
from pathlib import Path

from farrail.errors import BadWorkbook, ChangedOutside, ReadOnlyFile, StoreError
from farrail.language import say
from farrail.workbook.backups import KEPT, keep_version
from farrail.workbook.file_kinds import check_replaces
from farrail.workbook.reading import LARGEST_BYTES, check_reads_back, from_text, to_text
from farrail.workbook.safe_files import (
    digest_of,
    errors_reported,
    read_bytes,
    real,
    replace_with,
    sync_folder,
    take_mode,
    written_beside,
)
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
    data = _all_of(path)
    return Opened(from_text(_decoded(path, data), path.name), digest_of(data))


# What is written for standard input where a file is asked for.
STANDARD_INPUT = Path("-")


def digest_at(path: Path) -> str | None:
    """Return the digest of a file as it is now; None where it cannot be read."""
    try:
        return digest_of(read_bytes(path, LARGEST_BYTES))
    except (StoreError, BadWorkbook):
        return None


def read_text(path: Path) -> str:
    """Read a text file such as a table, within the size a workbook may have.

    Raises:
        StoreError: the file cannot be read.
        BadWorkbook: it is too large, or no text.
    """
    return _decoded(path, _all_of(path))


def _all_of(path: Path) -> bytes:
    """Return what is in a file; of `-` what comes on standard input.

    Raises:
        StoreError: it cannot be read.
        BadWorkbook: it is too large.
    """
    if path != STANDARD_INPUT:
        return read_bytes(path, LARGEST_BYTES)
    data = sys.stdin.buffer.read(LARGEST_BYTES + 1)
    if len(data) > LARGEST_BYTES:
        raise BadWorkbook("Standard input has more than {mega} MB; give a file.", mega=LARGEST_BYTES // 1_000_000)
    return data


def write_text(path: Path, text: str) -> None:
    """Write a text file safely: it is there whole or as it was.

    Raises:
        StoreError: it cannot be written.
    """
    write_bytes(path, text.encode())


def write_bytes(path: Path, data: bytes) -> None:
    """Write a file safely: it is there whole or as it was.

    Raises:
        StoreError: it cannot be written, or would replace a file of another kind.
    """
    with errors_reported(path, saving=True):
        check_replaces(path, data)
        replace_with(real(path), data)


def _decoded(path: Path, data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadWorkbook(
            "{name} is not UTF-8 text (byte {start}); choose another file.", name=path.name, start=error.start
        ) from None


def write_file(
    path: Path, workbook: Workbook, known_digest: str | None = None, *, read_only_too: bool = False, kept: int = KEPT
) -> str:
    """Save a workbook; returns the new file's digest.

    Args:
        path: where to; a link is followed and stays.
        workbook: what.
        known_digest: digest of the file as last read or written here; None overwrites all that is there.
        read_only_too: write a file that is marked read-only all the same.
        kept: how many earlier versions to keep.

    Raises:
        ChangedOutside: the file is no longer the one last read or written here.
        ReadOnlyFile: the file is marked read-only.
        StoreError: it cannot be written; the old file is untouched.
    """
    data = to_text(workbook).encode()
    with errors_reported(path, saving=True):
        target = real(path)
        before = read_bytes(target, 4 * LARGEST_BYTES) if target.exists() else None
        if known_digest is not None and before is not None and digest_of(before) != known_digest:
            raise ChangedOutside(
                "{name} was changed by another program since it was opened; save under another name, "
                "or overwrite it (the other version is kept as .bak).",
                name=path.name,
            )
        if before is not None and not target.stat().st_mode & 0o222 and not read_only_too:
            raise ReadOnlyFile(
                "{name} is marked read-only; save under another name, or write it all the same.", name=path.name
            )
        with written_beside(target, data) as temporary:
            _check_it_opens(path, temporary, data, workbook)
            take_mode(temporary, target)
            if before is not None:
                keep_version(target, before, kept)
            temporary.replace(target)
        sync_folder(target.parent)
    return digest_of(data)


def _check_it_opens(path: Path, temporary: Path, data: bytes, workbook: Workbook) -> None:
    """Read back what was written, before anything is replaced.

    Raises:
        StoreError: it would not open again as it is.
    """
    on_disk, why = read_bytes(temporary, LARGEST_BYTES), ""
    if on_disk != data:
        why = say("the file on the disk differs from what was written")
    try:
        check_reads_back(_decoded(temporary, on_disk), workbook)
    except BadWorkbook as error:
        why = str(error).rstrip(".")
    if why:
        raise StoreError(
            "{name} was not saved, for it would not open again: {why}. The file on disk is as it "
            "was; undo the last steps and save once more.",
            name=path.name,
            why=why,
        )
