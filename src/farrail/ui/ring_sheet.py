"""A ring on paper at its true size, to cut a gasket by, with a strip that says whether the printer keeps to scale."""

from pathlib import Path

from PySide6.QtCore import QLineF, QPointF
from PySide6.QtGui import QPainter, QPdfWriter, QPen

from farrail.assembly.ring import RingShape
from farrail.assembly.ring_words import ring_words
from farrail.errors import FarRailError
from farrail.language import say
from farrail.ui.painting import painting
from farrail.ui.paper import UNITS_PER_MM, drawing_application, new_pdf
from farrail.ui.theme.fonts import font, on_paper

# Printed at 100 %, this strip is as long as it says.
STRIP_MM = 150
MARGIN_MM = 15.0


def write_template(shape: RingShape, out: Path, *, letter: bool = False) -> None:
    """Write a ring's template as a PDF.

    Raises:
        FarRailError: it is wider than the page, or cannot be written there.
    """
    room_mm = (215.9 if letter else 210.0) - 2.0 * MARGIN_MM
    if shape.outer_mm > room_mm:
        raise FarRailError(
            "A ring {outer_mm:.0f} mm across is wider than the page; write it as .dxf instead.",
            outer_mm=shape.outer_mm,
        )
    drawing_application()
    with on_paper(), new_pdf(out, say("Ring template"), MARGIN_MM, letter=letter) as writer:
        _draw(shape, writer)


def _draw(shape: RingShape, writer: QPdfWriter) -> None:
    per_mm = UNITS_PER_MM
    with painting(writer) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        pen = QPen()
        pen.setWidthF(0.15 * per_mm)
        painter.setPen(pen)
        middle = QPointF(writer.width() / 2.0, (shape.outer_mm / 2.0 + 6.0) * per_mm)
        for across in (shape.inner_mm, shape.outer_mm):
            painter.drawEllipse(middle, across / 2.0 * per_mm, across / 2.0 * per_mm)
        cross = 3.0 * per_mm
        painter.drawLines([
            QLineF(middle.x() - cross, middle.y(), middle.x() + cross, middle.y()),
            QLineF(middle.x(), middle.y() - cross, middle.x(), middle.y() + cross),
        ])  # fmt: skip
        top = (shape.outer_mm + 24.0) * per_mm
        painter.drawLine(QLineF(0.0, top, STRIP_MM * per_mm, top))
        ticks = []
        for number in range(STRIP_MM + 1):
            high = 6.0 if number % 10 == 0 else 4.0 if number % 5 == 0 else 2.5
            ticks.append(QLineF(number * per_mm, top, number * per_mm, top - high * per_mm))
        painter.drawLines(ticks)
        small = font(110)
        painter.setFont(small)
        for number in range(0, STRIP_MM + 1, 10):
            painter.drawText(QPointF(number * per_mm - 50.0, top + 4.2 * per_mm), f"{number}")
        lines = [
            say(
                "Print at 100 %. Check with a ruler: the strip must be {strip_mm} mm long, "
                "or this sheet is not to scale.",
                strip_mm=STRIP_MM,
            ),
            *ring_words(shape),
        ]
        for row, text in enumerate(lines):
            painter.drawText(QPointF(0.0, top + (12.0 + 6.0 * row) * per_mm), text)
