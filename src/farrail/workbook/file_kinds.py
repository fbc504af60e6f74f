"""Recognise a file by its first bytes, so that an export never replaces a file of another kind."""

import os
from enum import StrEnum
from pathlib import Path

from farrail.errors import StoreError
from farrail.language import say

# Enough of a file to recognise its kind.
HEAD_BYTES = 4096


class FileKind(StrEnum):
    """Kinds of file, recognised by their first bytes."""

    WORKBOOK = "workbook"
    DATA = "data"
    PAGE = "page"
    PICTURE = "picture"
    PDF = "pdf"
    FRAME = "frame"
    PACKED = "packed"
    BINARY = "binary"
    TEXT = "text"


STARTS = (
    (b"\x89PNG", FileKind.PICTURE), (b"\xff\xd8\xff", FileKind.PICTURE), (b"II*\0", FileKind.PICTURE),
    (b"MM\0*", FileKind.PICTURE), (b"%PDF", FileKind.PDF), (b"SIMPLE  =", FileKind.FRAME), (b"PK", FileKind.PACKED),
)  # fmt: skip


def kind_of(data: bytes) -> FileKind | None:
    """Return the kind of a file; None if it is empty.

    Args:
        data: the file, or its first HEAD_BYTES.
    """
    head = data[:HEAD_BYTES].removeprefix(b"\xef\xbb\xbf").lstrip()
    if not head:
        return None
    known = next((kind for start, kind in STARTS if head.startswith(start)), None)
    if known is not None:
        return known
    if b"\0" in head:
        return FileKind.BINARY
    if head.startswith((b"{", b"[")):
        return FileKind.WORKBOOK if b"farrail-workbook" in head else FileKind.DATA
    return FileKind.PAGE if head.startswith(b"<") else FileKind.TEXT


def kind_words(kind: FileKind) -> str:
    """Return what a kind of file is called."""
    return {
        FileKind.WORKBOOK: say("a workbook"), FileKind.DATA: say("JSON data"),
        FileKind.PAGE: say("a web page or drawing"), FileKind.PICTURE: say("a picture"), FileKind.PDF: say("a PDF"),
        FileKind.FRAME: say("a camera's frame"), FileKind.PACKED: say("a packed file"),
        FileKind.BINARY: say("other data"), FileKind.TEXT: say("text"),
    }[kind]  # fmt: skip


def check_replaces(path: Path, data: bytes) -> None:
    """Check that writing a file does not replace one of another kind.

    Args:
        path: the file to write.
        data: its new content.

    Raises:
        StoreError: `path` holds a file of another kind.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError:
        return
    try:
        there = kind_of(os.read(handle, HEAD_BYTES))
    except OSError:
        return
    finally:
        os.close(handle)
    if there is not None and there is not kind_of(data):
        raise StoreError(
            "{name} holds {kind}, which would be lost; choose another name.", name=path.name, kind=kind_words(there)
        )
