"""An adapter's drawing on paper: the cut section, its dimensions, its notes."""

from pathlib import Path

from PySide6.QtCore import QLineF, QPointF, Qt
from PySide6.QtGui import QFont, QPainter, QPainterPath, QPdfWriter, QPen, QPolygonF

from farrail.assembly.order import AdapterOrder, Point, outline, thread_lines
from farrail.assembly.order_words import callout, order_words
from farrail.language import say
from farrail.ui.painting import painting
from farrail.ui.paper import UNITS_PER_MM, drawing_application, new_pdf
from farrail.ui.theme.fonts import font, on_paper

MARGIN_MM = 18.0
# The section is drawn at the largest of these scales that has room.
SCALES = (5.0, 2.0, 1.0, 0.5, 0.2)
ROOM_MM = (125.0, 120.0)
HATCH_MM, ARROW_MM, LINE_MM = 2.4, 2.2, 6.5


def write_order_pdf(order: AdapterOrder, out: Path) -> None:
    """Write an order's drawing as a PDF on A4.

    Raises:
        FarRailError: it cannot be written there.
    """
    drawing_application()
    with on_paper(), new_pdf(out, say("Adapter drawing"), MARGIN_MM) as writer:
        _draw(order, writer)


def _draw(order: AdapterOrder, writer: QPdfWriter) -> None:
    unit = UNITS_PER_MM
    with painting(writer) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        title, *notes = order_words(order)
        painter.setFont(font(170, QFont.Weight.DemiBold))
        painter.drawText(QPointF(0.0, 6.0 * unit), title)
        upper = outline(order)
        left, right = min(x for x, _ in upper), max(x for x, _ in upper)
        fitting = [s for s in SCALES if (right - left) * s <= ROOM_MM[0] and order.outer_mm * s <= ROOM_MM[1]]
        scale = (fitting or [SCALES[-1]])[0]
        axis_mm = 34.0 + order.outer_mm * scale / 2.0
        painter.save()
        painter.translate(writer.width() / 2.0 - (left + right) / 2.0 * scale * unit, axis_mm * unit)
        painter.scale(unit, unit)
        _section(painter, order, scale)
        painter.restore()
        painter.setFont(font(130))
        below = axis_mm + order.outer_mm * scale / 2.0 + 28.0
        ratio = say("{scale:g} : 1", scale=scale) if scale >= 1.0 else say("1 : {scale:g}", scale=1.0 / scale)
        for row, text in enumerate([say("Drawn {ratio}", ratio=ratio), *notes]):
            painter.drawText(QPointF(0.0, (below + LINE_MM * row) * unit), text)


def _section(painter: QPainter, order: AdapterOrder, scale: float) -> None:
    """Draw the section about the axis at 0, in millimetres of the paper."""

    def at(point: Point, side: float = 1.0) -> QPointF:
        return QPointF(point[0] * scale, -side * point[1] * scale)

    thick, thin = QPen(Qt.GlobalColor.black, 0.5), QPen(Qt.GlobalColor.black, 0.18)
    upper = outline(order)
    for side in (1.0, -1.0):
        half = QPolygonF([at(point, side) for point in upper])
        path = QPainterPath()
        path.addPolygon(half)
        box = half.boundingRect()
        painter.save()
        painter.setClipPath(path)
        painter.setPen(thin)
        for step in range(int((box.width() + box.height()) / HATCH_MM) + 1):
            x = box.left() + step * HATCH_MM
            painter.drawLine(QLineF(x, box.top(), x - box.height(), box.bottom()))
        painter.restore()
        painter.setPen(thick)
        painter.drawPolygon(half)
        painter.setPen(thin)
        for start, end in thread_lines(order):
            painter.drawLine(QLineF(at(start, side), at(end, side)))
    left, right = min(x for x, _ in upper) * scale, max(x for x, _ in upper) * scale
    long, rim, bore = order.length_mm * scale, order.outer_mm * scale / 2.0, order.bore_mm * scale / 2.0
    dashed = QPen(thin)
    dashed.setDashPattern([30.0, 8.0, 4.0, 8.0])
    painter.setPen(dashed)
    painter.drawLine(QLineF(left - 5.0, 0.0, right + 5.0, 0.0))
    painter.setPen(thin)
    for x in (0.0, long):
        painter.drawLine(QLineF(x, rim + 1.0, x, rim + 12.0))
    _dimension(
        painter,
        QLineF(0.0, rim + 10.0, long, rim + 10.0),
        say("{length_mm:.2f} ± {tolerance_mm:.2f}", length_mm=order.length_mm, tolerance_mm=order.tolerance_mm),
    )
    _dimension(painter, QLineF(long / 2.0, -bore, long / 2.0, bore), say("bore Ø {bore_mm:.1f}", bore_mm=order.bore_mm))
    # Each end's thread: how long it is, above the piece, the rear one higher so that two never meet.
    for number, (thread, shoulder, away) in enumerate(((order.front, 0.0, -1.0), (order.rear, long, 1.0))):
        foot = shoulder + away * scale * (thread.depth_mm if thread.external else -thread.depth_mm)
        y = -rim - 7.0 - 8.0 * number
        for x in (shoulder, foot):
            painter.drawLine(QLineF(x, -rim - 1.0, x, y - 2.0))
        words = say("{callout}, {long:.1f} long", callout=callout(thread), long=thread.depth_mm)
        _dimension(painter, QLineF(min(shoulder, foot), y, max(shoulder, foot), y), words, above=True)
    for y in (-rim, rim):
        painter.drawLine(QLineF(long + 1.0, y, right + 14.0, y))
    _dimension(painter, QLineF(right + 12.0, -rim, right + 12.0, rim), say("Ø {outer_mm:.1f}", outer_mm=order.outer_mm))


def _dimension(painter: QPainter, line: QLineF, words: str, *, above: bool = False) -> None:
    """Draw a dimension line with its arrows, its words beside its middle."""
    painter.drawLine(line)
    painter.save()
    painter.setBrush(painter.pen().color())
    for tip, along in ((line.p1(), 1.0), (line.p2(), -1.0)):
        back = line.unitVector()
        ahead = QPointF(back.dx(), back.dy()) * along * ARROW_MM
        across = QPointF(-ahead.y(), ahead.x()) * 0.18
        painter.drawPolygon(QPolygonF([tip, tip + ahead + across, tip + ahead - across]))
    painter.restore()
    middle = line.center()
    upright = abs(line.dy()) > abs(line.dx())
    painter.save()
    painter.translate(middle + (QPointF(1.5, -2.0) if upright else QPointF(0.0, -3.2 if above else 5.5)))
    painter.scale(1.0 / UNITS_PER_MM, 1.0 / UNITS_PER_MM)
    painter.setFont(font(130))
    width = 0 if upright else painter.fontMetrics().horizontalAdvance(words)
    painter.drawText(QPointF(-width / 2.0, 0.0), words)
    painter.restore()
