"""Taking what is seen along: a picture to the clipboard, as PNG, SVG or PDF, or to paper; a table in the same way."""

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QPoint, QRect, QSize, Qt
from PySide6.QtGui import (
    QColor,
    QGuiApplication,
    QImage,
    QImageWriter,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPdfWriter,
)
from PySide6.QtWidgets import QMenu, QWidget

from farrail.errors import BadInput, FarRailError
from farrail.exchange.table_files import Table, as_csv, as_html, write_table
from farrail.language import N_, say
from farrail.ui.painting import painting
from farrail.ui.theme.apply import choose_theme, current_theme
from farrail.ui.theme.tokens import PAPER
from farrail.ui.widgets.message_bar import MessageBar
from farrail.ui.widgets.save_name import ask_where
from farrail.workbook.store import write_bytes

PICTURES = N_("Picture (*.png);;Drawing, to any size (*.svg);;Page (*.pdf)")
TABLES = N_("Table for a spreadsheet (*.csv);;Page (*.html);;Text (*.txt);;Table with tabs (*.tsv)")
PICTURE_ENDINGS = (".png", ".svg", ".pdf")
SCALE = 2.0
MARGIN_MM = 15.0


def tell(widget: QWidget, text: str, *, trouble: bool = False) -> None:
    """Say something in the message bar of the window a widget belongs to."""
    around: QWidget | None = widget
    while around is not None:
        bar = around.findChild(MessageBar)
        if bar is not None:
            bar.say(text, trouble)
            return
        around = around.parentWidget()


@contextmanager
def on_white() -> Iterator[None]:
    """Draw with ink on white: what is printed needs no paper of its own."""
    worn = current_theme()
    choose_theme(replace(PAPER, paper="#FFFFFF", panel="#FFFFFF", metal="#FFFFFF"))
    try:
        yield
    finally:
        choose_theme(worn)


def file_name(title: str, ending: str) -> str:
    """Return a name for a file from a title: what no folder takes is left out."""
    return "".join(sign for sign in title if sign.isprintable() and sign not in '/\\:*?"<>|')[:80].strip() + ending


# Pictures


def picture_of(widget: QWidget) -> QImage:
    """Return what a widget shows, twice as fine as on the screen."""
    image = QImage(widget.size() * SCALE, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SCALE)
    image.fill(QColor(current_theme().paper))
    with painting(image) as painter:
        widget.render(painter, QPoint(0, 0))
    return image


def picture_bytes(widget: QWidget, title: str, kind: str) -> bytes:
    """Return a picture of a widget as the bytes of a file.

    Args:
        widget: what to draw.
        title: what the drawing is called.
        kind: .png, .svg or .pdf.

    Raises:
        BadInput: it is another kind.
    """
    if kind not in PICTURE_ENDINGS:
        raise BadInput("“{kind}” is no kind of picture; give a name that ends in .png, .svg or .pdf.", kind=kind)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if kind == ".png":
        QImageWriter(buffer, QByteArray(b"png")).write(picture_of(widget))
    elif kind == ".svg":
        # Loaded when it is wanted: no start waits for it.
        from PySide6.QtSvg import QSvgGenerator

        made = QSvgGenerator()
        made.setOutputDevice(buffer)
        made.setSize(widget.size())
        made.setViewBox(QRect(QPoint(0, 0), widget.size()))
        made.setTitle(title)
        with painting(made) as painter:
            widget.render(painter, QPoint(0, 0))
    else:
        writer = QPdfWriter(buffer)
        writer.setTitle(title)
        writer.setCreator("Far Rail")
        writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        draw_on_page(widget, writer)
    return bytes(buffer.data().data())


def draw_on_page(widget: QWidget, page: QPagedPaintDevice) -> None:
    """Draw a widget on a page, as large as the page allows; a wide one is across it."""
    size: QSize = widget.size()
    wide = size.width() > size.height()
    page.setPageOrientation(QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait)
    page.setPageMargins(QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM), QPageLayout.Unit.Millimeter)
    with painting(page) as painter:
        scale = min(page.width() / size.width(), page.height() / size.height())
        painter.scale(scale, scale)
        with on_white():
            widget.render(painter, QPoint(0, 0))


def save_picture(widget: QWidget, title: str) -> None:
    """Ask where, and write a picture of a widget there."""

    def write(path: Path) -> str:
        write_bytes(path, picture_bytes(widget, title, path.suffix.casefold()))
        return say("The picture is in {path}.", path=path)

    _save_as(widget, say("Save the picture"), file_name(title, ".png"), str(PICTURES), write)


def _save_as(widget: QWidget, asked: str, offered: str, kinds: str, write: Callable[[Path], str]) -> None:
    """Ask where, have it written there, and say what came of it.

    Args:
        widget: what is shared.
        asked: title of the question.
        offered: the file's name where no one gives another.
        kinds: the kinds of file, as Qt filters them; a name without an ending takes the chosen one's.
        write: writes the file and returns what to say.
    """
    endings = re.findall(r"\*(\.\w+)", kinds)
    chosen = ask_where(widget, asked, offered, kinds, endings, others=True)
    if chosen is None:
        return
    path, _ = chosen
    try:
        told = write(path)
    except FarRailError as error:
        tell(widget, str(error), trouble=True)
        return
    tell(widget, told)


def print_preview(owner: QWidget, title: str, draw: Callable[[QPagedPaintDevice], None]) -> None:
    """Show what would be printed, and print it from there.

    Args:
        owner: the window it belongs to.
        title: what the printed document is called.
        draw: draws it on the printer's pages, seventy-two units to the inch.
    """
    # Loaded when something is printed: no start waits for it.
    from PySide6.QtPrintSupport import QPrinter, QPrintPreviewDialog

    printer = QPrinter()
    printer.setResolution(72)
    printer.setDocName(title)
    preview = QPrintPreviewDialog(printer, owner)
    preview.setObjectName("print_preview")
    preview.setWindowTitle(say("Print: {title}", title=title))
    preview.resize(900, 700)
    preview.paintRequested.connect(draw)
    preview.exec()
    preview.deleteLater()


def picture_menu(widget: QWidget, title: str, menu: QMenu) -> None:
    """Add to a menu what can be done with the picture a widget shows."""
    for name, text, run in (
        ("picture_copy", say("Copy picture"), lambda: _copy_picture(widget)),
        ("picture_save", say("Save picture…"), lambda: save_picture(widget, title)),
        (
            "picture_print", say("Print picture…"),
            lambda: print_preview(widget.window(), title, lambda page: draw_on_page(widget, page)),
        ),
    ):  # fmt: skip
        action = menu.addAction(text)
        action.setObjectName(name)
        action.triggered.connect(run)


def share_picture(widget: QWidget) -> None:
    """Give a picture a menu from which it is copied, saved or printed; by its accessible name it is called."""
    widget.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)

    def show(at: QPoint) -> None:
        menu = QMenu(widget)
        menu.setObjectName("picture_menu")
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        picture_menu(widget, widget.accessibleName() or say("Picture"), menu)
        menu.popup(widget.mapToGlobal(at))

    widget.customContextMenuRequested.connect(show)


def _copy_picture(widget: QWidget) -> None:
    QGuiApplication.clipboard().setImage(picture_of(widget))
    tell(widget, say("The picture is on the clipboard."))


# Tables


def copy_table(widget: QWidget, table: Table, delimiter: str) -> None:
    """Put a table on the clipboard: as cells for a spreadsheet, and as a table for a text."""
    from PySide6.QtCore import QMimeData

    both = QMimeData()
    both.setText(as_csv(table, delimiter))
    both.setHtml(as_html(table))
    QGuiApplication.clipboard().setMimeData(both)
    tell(widget, say("{count} rows are on the clipboard.", count=len(table.rows)))


def save_table(widget: QWidget, table: Table) -> None:
    """Ask where, and write a table there."""

    def write(path: Path) -> str:
        write_table(path, table)
        return say("{count} rows are in {path}.", count=len(table.rows), path=path)

    _save_as(widget, say("Save the table"), file_name(table.title, ".csv"), str(TABLES), write)
