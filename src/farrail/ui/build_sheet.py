"""The build sheet: everything needed to put a train together without the screen, as a PDF or one HTML file."""

from base64 import b64encode
from dataclasses import replace
from datetime import date
from html import escape
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
PAPER_PX = (860, 340)
LARGE_PAPER_PX = (640, 300)
MARGIN_MM = 15.0
# The train's photo: on the phone's page, and on paper, where it is so many points wide.
PAGE_PHOTO_PX, PAPER_PHOTO_PX, PAPER_PHOTO_POINTS = 640, 600, 150
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


def _draw_sheet(session: Any, data: dict[str, object], writer: Any, *, large: bool) -> None:
    from PySide6.QtCore import QPoint, QPointF, QRectF, QSizeF, QUrl
    from PySide6.QtGui import QImage, QPen, QTextDocument

    from farrail.ui.rail.view import RailView
    from farrail.ui.theme.apply import choose_theme, current_theme
    from farrail.ui.theme.fonts import font
    from farrail.ui.theme.tokens import PAPER

    with painting(writer) as painter:
        page = QRectF(0.0, 0.0, writer.width(), writer.height())
        size = 13 if large else 9
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
        document = QTextDocument()
        document.setDefaultFont(font(size))
        document.setDefaultStyleSheet("p { margin: 2px 0 2px 0 } h3 { margin: 9px 0 2px 0 } h4 { margin: 6px 0 1px 0 }")
        document.documentLayout().setPaintDevice(writer)
        document.setDocumentMargin(0.0)
        # Room for the drawing is left by a clear picture at the head of the first page.
        # Pictures are taken at 96 dots an inch, type at 72.
        gap = QImage(2, round((y + size + 4.0) * 96.0 / 72.0), QImage.Format.Format_ARGB32)
        gap.fill(0)
        document.addResource(QTextDocument.ResourceType.ImageResource, QUrl("gap"), gap)
        photo = small_photo(session.readout, PAPER_PHOTO_PX)
        picture = ""
        if photo is not None:
            rows, columns = photo.shown.shape[:2]
            image = QImage(photo.shown.tobytes(), columns, rows, columns * 3, QImage.Format.Format_RGB888).copy()
            document.addResource(QTextDocument.ResourceType.ImageResource, QUrl("photo"), image)
            wide_px = round(PAPER_PHOTO_POINTS * 96.0 / 72.0)
            picture = f"<img src='photo' width='{wide_px}' height='{wide_px * rows // columns}'>"
        document.setHtml(f"<p><img src='gap'></p>{_pdf_html(data, picture)}")
        document.setPageSize(QSizeF(page.width(), page.height()))
        for number in range(document.pageCount()):
            if number:
                writer.newPage()
            painter.save()
            painter.translate(0.0, -number * page.height())
            document.drawContents(painter, QRectF(0.0, number * page.height(), page.width(), page.height()))
            painter.restore()


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


def _pdf_html(data: Any, picture: str = "") -> str:
    """Return the sheet's text for the page, with a picture beside its head."""
    rows = "".join(
        f"<tr><td>{escape(r['name'])}</td><td align='right'>{r['length']}</td><td align='right'>{r['to_here']}</td>"
        f"<td>&nbsp;&nbsp;{r['origin']}</td></tr>"
        for r in data["ledger"]
    )
    findings = "".join(
        f"<p>{f['mark']} <b>{escape(f['judgement'])}</b> {escape(f['reason'])}</p>" for f in data["findings"]
    )
    stages = ""
    for stage in data["stages"]:
        steps = "".join(
            f"<p>{'☑' if s['done'] else '☐'} <b>{s['number']}. {escape(s['what'])}</b> "
            f"{escape(s['how'])} {escape(s['why'])}</p>"
            for s in stage["steps"]
        )
        stages += f"<h4>{escape(stage['title'])}</h4>{steps}"
    cautions = "".join(f"<p>◆ <b>{escape(head)}</b> {escape(reason)}</p>" for head, reason in data["cautions"])
    customs = "".join(
        f"<p>◇ <b>{escape(head)}</b></p>{''.join(f'<p>{escape(line)}</p>' for line in lines)}"
        for head, lines in data["customs"]
    )
    unit = data["length_unit"]
    customs = f"<h3>{escape(say('Done either way'))}</h3>{customs}" if customs else ""
    head = (
        f"<p>{escape(data['workbook'])}, {data['day']}</p>"
        f"<p><b>{escape(data['verdict'])}</b> {escape(data['detail'])}</p><p>{escape(data['used'])}</p>"
        f"<table cellpadding='1' width='100%'><tr><td>{say('Part')}</td>"
        f"<td align='right'>{say('length, {unit}', unit=unit)}</td>"
        f"<td align='right'>{say('to here, {unit}', unit=unit)}</td>"
        f"<td>&nbsp;&nbsp;{say('from')}</td></tr>{rows}</table>"
    )
    if picture:
        head = f"<table width='100%'><tr><td>{head}</td><td align='right'>{picture}</td></tr></table>"
    return (
        f"{head}{_slots_html(data['slots'])}<h3>{say('Notes')}</h3>{findings}"
        f"<h3>{say('Steps, about {minutes} minutes', minutes=data['minutes'])}</h3>{stages}"
        f"<h3>{say('Cautions')}</h3>{cautions}{customs}<h3>{say('Pack list')}</h3>{_pack_html(data['pack'])}"
        f"<p>{escape(data['mass'])}</p>"
    )


def _slots_html(slots: Any) -> str:
    """Return what is in which slot as one paragraph; "" without slots."""
    listed = "; ".join(f"{row['where']}: {row['name']}{', ' if row['slid'] else ''}{row['slid']}" for row in slots)
    return f"<p>{escape(listed)}</p>" if listed else ""


def _pack_html(items: Any) -> str:
    """Return the pack list: each pouch or case with its pieces in a paragraph of its own, the rest after them."""
    paragraphs: list[list[str]] = [[]]
    loose: list[str] = []
    for item in items:
        told = f"[&nbsp;&nbsp;]&nbsp;{escape(_counted(item)).replace(chr(32), chr(160))}"
        if item["into"]:
            paragraphs[-1].append(told)
        elif item["what"] == "case":
            paragraphs.append([f"<b>{told}</b>"])
        else:
            loose.append(told)
    return "".join(f"<p>{' &nbsp; '.join(some)}</p>" for some in (*paragraphs, loose) if some)


def _counted(item: Any) -> str:
    many = f"{item['count']} × " if item["count"] > 1 else ""
    note = f" ({item['note']})" if item["note"] else ""
    return f"{many}{item['name']}{note}"
