"""Marks of the joints on the axis, and the sheet of a rail on which nothing is yet."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from farrail import lengths
from farrail.language import say
from farrail.train.train import Side
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.rule import RULE_ABOVE_PX, rule_picture
from farrail.ui.rail.section import Section
from farrail.ui.rail.sketch import paint_section
from farrail.ui.selection import Selection
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text

SMALL_PX, LARGE_PX = 4.2, 6.0


def paint_joints(
    painter: QPainter, frame: Frame, section: Section, picked: Selection, drop: tuple[Side, int] | None
) -> None:
    """Mark joints on the axis: the picked one and the one under a drop highlighted, those that do not mate crossed."""
    theme = current_theme()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for side, index, z, mates in section.joints:
        x, y = frame.x(z), frame.axis_px
        chosen = picked.joint and (picked.side, picked.index) == (side, index)
        target = drop == (side, index)
        if chosen or target:
            painter.setPen(QPen(QColor(theme.accent), 2.0, Qt.PenStyle.SolidLine if target else Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, frame.top_px - 2.0), QPointF(x, y))
        size = LARGE_PX if chosen or target or not mates else SMALL_PX
        fill = theme.accent if chosen or target else theme.paper if mates else theme.stop
        painter.setPen(QPen(QColor(theme.stop if not mates else theme.accent if chosen else theme.steel), 1.0))
        painter.setBrush(QColor(fill))
        painter.drawPolygon(
            QPolygonF([QPointF(x, y - size), QPointF(x + size, y), QPointF(x, y + size), QPointF(x - size, y)])
        )
        if not mates:
            # Not by its colour alone.
            painter.setPen(QPen(QColor(theme.paper), 1.4))
            for way in (-1.0, 1.0):
                painter.drawLine(QPointF(x - 2.2, y - 2.2 * way), QPointF(x + 2.2, y + 2.2 * way))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def paint_empty(painter: QPainter, frame: Frame, width_px: int) -> None:
    """Paint the axis, the rule, and a ghost of what may come to be there."""
    theme = current_theme()
    wide, high = min(width_px * 0.62, 820.0), max(frame.axis_px - 70.0, 60.0)
    room = QRectF((width_px - wide) / 2.0, frame.axis_px - high, wide, high + 6.0)
    paint_section(painter, room, "night", faint=True)
    rule = rule_picture(frame, theme, painter.device().devicePixelRatio(), lengths.current())
    painter.drawPixmap(QPointF(0.0, frame.axis_px - RULE_ABOVE_PX), rule)
    painter.setPen(QColor(theme.steel))
    draw_text(painter, 22.0, 26.0, say("No train on the rail yet"), 13, MEDIUM)
