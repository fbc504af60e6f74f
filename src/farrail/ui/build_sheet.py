"""The build sheet: everything needed to put a train together without the screen, as a PDF or one HTML file."""

from base64 import b64encode
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

from farrail.errors import BadInput, FarRailError
from farrail.language import current, say
from farrail.preview.small import jpeg_of, small_photo
from farrail.readouts.read import Readout
from farrail.ui.painting import painting
from farrail.ui.paper import ask_for_folder, drawing_application, new_pdf
from farrail.workbook.store import read_file, write_text

ENDINGS = (".pdf", ".html", ".htm")
WIDTH_PX, HEIGHT_PX = 1280, 420
# On paper the drawing is built narrower, so that its lettering is as large as the text.
PAPER_PX = (900, 280)
LARGE_PAPER_PX = (640, 300)
MARGIN_MM = 13.0
# The train's photo: on the phone's page, and on paper, where it is so many points wide.
PAGE_PHOTO_PX, PAPER_PHOTO_PX, PAPER_PHOTO_POINTS = 640, 600, 135
# The largest of these sizes of type is taken at which a train with few steps fits on one page; more steps take two.
PAPER_POINTS, ONE_PAGE_STEPS = (9.0, 8.5, 8.0, 7.6, 7.2), 14
# The head of the first page takes no more than this share of it.
LONGEST_HEAD = 0.8
MM_PER_INCH = 25.4
# One unit of the painter is a seventy-second of an inch, as type is counted.
POINTS = 72


def write_build_sheet(file: Path, train: str, out: Path, *, letter: bool = False, large: bool = False) -> int:
    """Write a train's build sheet; returns the exit code.

    Args:
        file: the workbook.
        train: name or id of the train.
        out: what to write; its ending says which kind.
        letter: a PDF on Letter instead of A4.
        large: a PDF in large type, to be read in the dark.

    Raises:
        FarRailError: the workbook cannot be read, the name has another ending, or cannot be written.
    """
    if out.suffix.lower() not in ENDINGS:
        raise BadInput("The kind of “{name}” is not known; use a name that ends in .pdf or .html.", name=out.name)
    workbook = read_file(file).workbook
    key = workbook.train(train).id
    ask_for_folder(out)
    drawing_application()
    from farrail.ui.session import Session

    session = Session(workbook, out.absolute().parent)
    session.show_train(key)
    write_sheet_of(session, out, date.today().isoformat(), letter=letter, large=large)
    return 0


def write_sheet_of(session: Any, out: Path, day: str, *, letter: bool = False, large: bool = False) -> None:
    """Write the sheet of the train a session has in view.

    Raises:
        FarRailError: there is no train, or the file cannot be written.
    """
    from farrail.text.sheet import sheet_data
    from farrail.ui.theme.fonts import on_paper

    readout = session.readout
    if readout is None:
        raise FarRailError("There is no train in view, so there is no build sheet to write.")
    ask_for_folder(out)
    data = sheet_data(readout, session.workbook.name, day, session.workbook.by_id)
    if out.suffix.lower() == ".pdf":
        with on_paper(), new_pdf(out, str(data["train"]), MARGIN_MM, letter=letter, dpi=POINTS) as writer:
            _draw_sheet(session, data, writer, large=large)
    else:
        write_text(out, sheet_html(data, drawing_svg(session), _photo_address(readout)))


def draw_sheet_on(session: Any, page: Any, day: str, *, large: bool = False) -> None:
    """Draw the sheet of the train a session has in view on pages of seventy-two units to the inch.

    Args:
        session: what is open.
        page: the pages, such as a printer's.
        day: the date it bears.
        large: in large type, to be read in the dark.
    """
    from PySide6.QtCore import QMarginsF
    from PySide6.QtGui import QPageLayout

    from farrail.text.sheet import sheet_data
    from farrail.ui.theme.fonts import on_paper

    readout = session.readout
    if readout is None:
        raise FarRailError("There is no train in view, so there is no build sheet to print.")
    data = sheet_data(readout, session.workbook.name, day, session.workbook.by_id)
    page.setPageMargins(QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM), QPageLayout.Unit.Millimeter)
    with on_paper():
        _draw_sheet(session, data, page, large=large)


def _photo_address(readout: Readout) -> str:
    """Return the train's photo as an address that holds the picture itself; "" for none."""
    made = small_photo(readout, PAGE_PHOTO_PX)
    return "" if made is None else f"data:image/jpeg;base64,{b64encode(jpeg_of(made)).decode('ascii')}"


def sheet_html(data: dict[str, object], drawing: str, photo: str = "") -> str:
    """Return the sheet as one HTML page that needs nothing beside it."""
    from importlib.resources import files

    from jinja2 import Environment, StrictUndefined

    source = (files("farrail") / "assets" / "sheets" / "build.html.j2").read_text(encoding="utf-8")
    environment = Environment(autoescape=True, undefined=StrictUndefined)
    return environment.from_string(source).render(**data, drawing=drawing, photo=photo, say=say, language=current())


def drawing_svg(session: Any) -> str:
    """Return the train's cut section as SVG, to be inside a page."""
    from PySide6.QtCore import QBuffer, QIODevice, QPoint, QRect, QSize
    from PySide6.QtSvg import QSvgGenerator

    from farrail.ui.rail.view import RailView

    rail = RailView(session)
    rail.resize(WIDTH_PX, HEIGHT_PX)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    made = QSvgGenerator()
    made.setOutputDevice(buffer)
    made.setSize(QSize(WIDTH_PX, HEIGHT_PX))
    made.setViewBox(QRect(0, 0, WIDTH_PX, HEIGHT_PX))
    made.setTitle(session.train.name)
    with painting(made) as painter:
        rail.render(painter, QPoint(0, 0))
    rail.deleteLater()
    text = bytes(buffer.data().data()).decode("utf-8")
    return text[text.index("<svg") :]


def _draw_sheet(session: Any, data: dict[str, Any], writer: Any, *, large: bool) -> None:
    from PySide6.QtCore import QPoint, QPointF, QRectF
    from PySide6.QtGui import QImage, QPen

    from farrail.ui.rail.view import RailView
    from farrail.ui.sheet_flow import Flow, text_of
    from farrail.ui.sheet_text import head_html, ledger_blocks, sheet_blocks
    from farrail.ui.theme.apply import choose_theme, current_theme
    from farrail.ui.theme.fonts import font
    from farrail.ui.theme.tokens import PAPER

    with painting(writer) as painter:
        page = QRectF(0.0, 0.0, writer.width(), writer.height())
        size = 13 if large else 8
        worn = current_theme()
        # Ink on white: what is printed needs no paper of its own.
        choose_theme(replace(PAPER, paper="#FFFFFF", panel="#FFFFFF", metal="#FFFFFF"))
        rail = RailView(session)
        wide, high = LARGE_PAPER_PX if large else PAPER_PX
        rail.resize(wide, high)
        shrink = page.width() / wide
        painter.setFont(font(size + 7))
        painter.drawText(QPointF(0.0, size + 8.0), painter.fontMetrics().elidedText(
            str(data["train"]), _elide(), int(page.width())))  # fmt: skip
        top = size + 18.0
        painter.save()
        painter.translate(0.0, top)
        painter.scale(shrink, shrink)
        rail.render(painter, QPoint(0, 0))
        painter.restore()
        choose_theme(worn)
        per_mm = rail.frame.scale * shrink
        y = top + high * shrink + 12.0
        _scale_bar(painter, y, per_mm, QPen(), size)
        rail.deleteLater()
        y += size + 4.0
        photo = small_photo(session.readout, PAPER_PHOTO_PX)
        beside = 0.0
        if photo is not None:
            rows, columns = photo.shown.shape[:2]
            image = QImage(photo.shown.tobytes(), columns, rows, columns * 3, QImage.Format.Format_RGB888)
            beside = PAPER_PHOTO_POINTS * rows / columns
            left = page.width() - PAPER_PHOTO_POINTS
            painter.drawImage(QRectF(left, y, PAPER_PHOTO_POINTS, beside), image)
        text_wide = page.width() - (PAPER_PHOTO_POINTS + 12.0 if beside else 0.0)
        blocks, few = sheet_blocks(data), sum(len(stage["steps"]) for stage in data["stages"]) <= ONE_PAGE_STEPS
        for type_points in (float(size),) if large else PAPER_POINTS if few else PAPER_POINTS[:2]:
            face = font(size)
            face.setPointSizeF(type_points)
            whole = text_of(head_html(data), face, text_wide, writer)
            # A ledger of very many parts goes into the columns.
            long = y + whole.size().height() > LONGEST_HEAD * page.height()
            head = text_of(head_html(data, ledger=False), face, text_wide, writer) if long else whole
            flowing = [*ledger_blocks(data), *blocks] if long else blocks
            below = y + max(head.size().height(), beside) + 2.0
            counted = Flow(None, writer, face, 1 if large else 2, below)
            counted.add(flowing)
            if counted.pages == 1:
                break
        painter.save()
        painter.translate(0.0, y)
        head.drawContents(painter)
        painter.restore()
        Flow(painter, writer, face, 1 if large else 2, below).add(flowing)


def _elide() -> Any:
    from PySide6.QtCore import Qt

    return Qt.TextElideMode.ElideRight


def bar_length_mm(per_mm: float) -> float:
    """Return how long a piece of the train a scale bar shows, so that it is 20 to 60 mm long on paper."""
    paper_mm = per_mm / 72.0 * MM_PER_INCH
    for length in (5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0):
        if length * paper_mm >= 20.0:
            return length
    return 2000.0


def _scale_bar(painter: Any, y: float, per_mm: float, pen: Any, size: int) -> None:
    """Draw a bar as long as a round piece of the train, and say at which scale it is drawn."""
    from PySide6.QtCore import QPointF

    from farrail.ui.theme.fonts import font

    pen.setWidthF(1.2)
    painter.setPen(pen)
    length = bar_length_mm(per_mm)
    right = length * per_mm
    painter.drawLine(QPointF(0.0, y), QPointF(right, y))
    for x in (0.0, right):
        painter.drawLine(QPointF(x, y - 4.0), QPointF(x, y + 4.0))
    painter.setFont(font(size))
    scale = per_mm / 72.0 * MM_PER_INCH
    drawn = say("1 : {scale:.2f}", scale=1.0 / scale) if scale < 1.0 else say("{scale:.2f} : 1", scale=scale)
    painter.drawText(
        QPointF(right + 10.0, y + 3.0), say("{length:g mm} of the train; drawn {drawn}", length=length, drawn=drawn)
    )
