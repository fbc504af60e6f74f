"""What is printed: a PDF made whole before it takes a file's place, and an application to draw it with."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF
from PySide6.QtGui import QPageLayout, QPageSize, QPdfWriter
from PySide6.QtWidgets import QApplication

from farrail.errors import FarRailError
from farrail.workbook.store import write_bytes

# A fine unit, so that a millimetre is not rounded: a thousand to the inch.
FINE_DPI = 1000
UNITS_PER_MM = FINE_DPI / 25.4


def ask_for_folder(out: Path) -> None:
    """Say so before anything is drawn where there is no folder to write into.

    Raises:
        FarRailError: there is none.
    """
    if not out.absolute().parent.is_dir():
        raise FarRailError("{out} cannot be written: there is no such folder; choose another.", out=out)


def drawing_application() -> QApplication:
    """Return the application that runs, or one without a display."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    from farrail.ui.application import prepare_application
    from farrail.ui.theme.apply import apply_theme
    from farrail.ui.theme.tokens import PAPER

    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    made = QApplication(["far-rail"])
    prepare_application(made)
    apply_theme(PAPER)
    return made


@contextmanager
def new_pdf(
    out: Path, title: str, margin_mm: float, *, letter: bool = False, dpi: int = FINE_DPI
) -> Iterator[QPdfWriter]:  # fmt: skip
    """Give a page to draw on; once it is drawn, it is put in the file's place whole, or what was there stays.

    Args:
        out: where to.
        title: what the document is called.
        margin_mm: left free on every side.
        letter: on Letter instead of A4.
        dpi: how many of the painter's units make an inch.

    Raises:
        FarRailError: it cannot be written there.
    """
    ask_for_folder(out)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setCreator("Far Rail")
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.Letter if letter else QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(margin_mm, margin_mm, margin_mm, margin_mm), QPageLayout.Unit.Millimeter)
    writer.setResolution(dpi)
    yield writer
    write_bytes(out, bytes(buffer.data().data()))
