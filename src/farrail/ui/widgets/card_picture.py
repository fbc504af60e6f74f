"""A working card: the geometry behind a figure, drawn with this train's numbers."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from farrail.language import say
from farrail.readouts.cards import Card, Measure, Role, Stroke
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text, text_width_px
from farrail.ui.widgets.sharing import share_picture

HIGH_PX = 210
# Left free for the numbers beside and under what they measure.
LEFT_PX, RIGHT_PX, TOP_PX, UNDER_PX = 40, 112, 16, 34
TICK_PX = 4.0


class CardPicture(QWidget):
    """Draws a card; across the axis it may be drawn at another scale than along it."""

    def __init__(self, card: Card, title: str, parent: QWidget | None = None) -> None:
        """Show a card; a screen reader hears its numbers."""
        super().__init__(parent)
        self.setObjectName("working_card")
        self._card = card
        self.setFixedHeight(HIGH_PX)
        self.setAccessibleName(title)
        self.setAccessibleDescription(", ".join(f"{m.symbol} = {_number(m)}" for m in card.measures))
        share_picture(self)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw it."""
        theme = current_theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(theme.panel))
        points = [point for stroke in self._card.strokes for point in stroke.points]
        left, right = min(p[0] for p in points), max(p[0] for p in points)
        high = max(abs(p[1]) for p in points) or 1.0
        room = QRectF(self.rect()).adjusted(LEFT_PX, TOP_PX, -RIGHT_PX, -UNDER_PX)
        along, across = room.width() / (right - left), room.height() / (2.0 * high)

        def at(point: tuple[float, float]) -> QPointF:
            return QPointF(room.left() + (point[0] - left) * along, room.center().y() - point[1] * across)

        for stroke in self._card.strokes:
            self._draw(painter, stroke, QPolygonF([at(point) for point in stroke.points]))
        for measure in self._card.measures:
            self._measure(painter, measure, at(measure.start), at(measure.end), room)
        painter.end()

    def _draw(self, painter: QPainter, stroke: Stroke, line: QPolygonF) -> None:
        theme = current_theme()
        looks = {
            Role.AXIS: (theme.steel, 1.0, Qt.PenStyle.DashDotLine),
            Role.RAY: (theme.axis_light, 1.6, Qt.PenStyle.SolidLine),
            Role.CORNER_RAY: (theme.corner_light, 1.6, Qt.PenStyle.DashLine),
            Role.WITHOUT: (theme.steel, 1.0, Qt.PenStyle.DotLine),
            Role.GLASS: (theme.glass_edge, 1.2, Qt.PenStyle.SolidLine),
            Role.PART: (theme.ink, 4.0, Qt.PenStyle.SolidLine),
            Role.PUPIL: (theme.ink, 1.2, Qt.PenStyle.SolidLine),
            Role.SENSOR: (theme.ink, 4.0, Qt.PenStyle.SolidLine),
            Role.SUBJECT: (theme.ink, 2.4, Qt.PenStyle.SolidLine),
        }
        colour, width, style = looks[stroke.role]
        painter.setPen(QPen(QColor(colour), width, style, Qt.PenCapStyle.FlatCap))
        if stroke.closed:
            painter.setBrush(QColor(theme.glass))
            painter.drawPolygon(line)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        else:
            painter.drawPolyline(line)

    def _measure(self, painter: QPainter, measure: Measure, start: QPointF, end: QPointF, room: QRectF) -> None:
        """Draw a measure: upright ones have their number beside them, level ones under them."""
        theme = current_theme()
        painter.setPen(QPen(QColor(theme.steel), 1.0))
        text = f"{measure.symbol} = {_number(measure)}"
        wide = text_width_px(text, 12, MEDIUM)
        upright = abs(end.x() - start.x()) < abs(end.y() - start.y())
        if upright:
            beside = 9.0 if start.x() + 16.0 + wide < self.width() else -9.0
            x = start.x() + beside
            painter.drawLine(QPointF(x, start.y()), QPointF(x, end.y()))
            for y in (start.y(), end.y()):
                painter.drawLine(QPointF(x - TICK_PX, y), QPointF(x + TICK_PX, y))
            at = QPointF(x + 7.0 if beside > 0 else x - 7.0 - wide, (start.y() + end.y()) / 2.0 - 6.0)
        else:
            y = max(start.y(), room.bottom()) + 10.0
            painter.drawLine(QPointF(start.x(), y), QPointF(end.x(), y))
            for x in (start.x(), end.x()):
                painter.drawLine(QPointF(x, y - TICK_PX), QPointF(x, y + TICK_PX))
            middle = (start.x() + end.x()) / 2.0 - wide / 2.0
            at = QPointF(min(max(middle, 4.0), self.width() - wide - 4.0), y + 16.0)
        painter.fillRect(QRectF(at.x() - 2.0, at.y() - 12.0, wide + 4.0, 16.0), QColor(theme.panel))
        painter.setPen(QColor(theme.ink))
        draw_text(painter, at.x(), at.y(), text, 12, MEDIUM)


def _number(measure: Measure) -> str:
    return say("{value_mm:.2f mm}", value_mm=measure.value_mm)
