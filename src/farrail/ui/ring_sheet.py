"""A ring on paper at its true size, to cut a gasket by, with a strip that tells whether the printer keeps to scale."""

import os
from pathlib import Path

from farrail.assembly.ring import RingShape
from farrail.errors import FarRailError

# Printed at 100 %, this strip is as long as it says.
STRIP_MM = 150
MARGIN_MM = 15.0
POINTS_PER_MM = 72.0 / 25.4


def write_template(shape: RingShape, out: Path, *, letter: bool = False) -> None:
    """Write a ring's template as a PDF.

    Raises:
        FarRailError: it is wider than the page, or cannot be written there.
    """
    if not out.absolute().parent.is_dir():
        raise FarRailError(f"{out} cannot be written: there is no such folder; choose another.")
    room_mm = (215.9 if letter else 210.0) - 2.0 * MARGIN_MM
    if shape.outer_mm > room_mm:
        raise FarRailError(f"A ring {shape.outer_mm:.0f} mm across is wider than the page; write it as .dxf instead.")
    try:
        with out.open("ab"):
            pass
    except OSError as error:
        raise FarRailError(f"{out} cannot be written: {error.strerror}; choose another place.") from None
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtWidgets import QApplication

    from farrail.ui.application import prepare_application
    from farrail.ui.theme.fonts import on_paper

    if not isinstance(QApplication.instance(), QApplication):
        prepare_application(QApplication(["far-rail"]))
    with on_paper():
        _draw(shape, out, letter=letter)


def _draw(shape: RingShape, out: Path, *, letter: bool) -> None:
    from PySide6.QtCore import QLineF, QMarginsF, QPointF
    from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

    from farrail.text.ring import ring_words
    from farrail.ui.theme.fonts import font

    writer = QPdfWriter(str(out))
    writer.setTitle("Ring template")
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.Letter if letter else QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM), QPageLayout.Unit.Millimeter)
    # A fine unit, so that a millimetre is not rounded: a thousand to the inch.
    writer.setResolution(1000)
    per_mm = 1000.0 / 25.4
    painter = QPainter()
    if not painter.begin(writer):
        raise FarRailError(f"{out} cannot be written; choose another place.")
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
        f"Print at 100 %. Lay a ruler on the strip: it must be {STRIP_MM} mm long, or this sheet is not to scale.",
        *ring_words(shape),
    ]
    for row, text in enumerate(lines):
        painter.drawText(QPointF(0.0, top + (12.0 + 6.0 * row) * per_mm), text)
    painter.end()
