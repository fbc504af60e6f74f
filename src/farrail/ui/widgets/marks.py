"""Marks of provenance, and text broken to fit: how a table's cells are drawn."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from farrail.parts.origin import Origin
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import elided, text_width_px


def draw_mark(painter: QPainter, at: QPointF, origin: Origin | None) -> None:
    """Draw a provenance mark, or for None that of what no one knows: a broken ring."""
    if origin is not None:
        draw_origin(painter, at, origin)
        return
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(current_theme().steel), 1.5))
    for start in (20, 140, 260):
        painter.drawArc(QRectF(at.x() - 3.7, at.y() - 3.7, 7.4, 7.4), start * 16, 80 * 16)
    painter.restore()


def draw_origin(painter: QPainter, at: QPointF, origin: Origin) -> None:
    """Draw a provenance mark: a full dot (measured), an open square (published), an open triangle (assumed)."""
    theme = current_theme()
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    colour = {Origin.MEASURED: theme.good, Origin.PUBLISHED: theme.steel, Origin.ASSUMED: theme.look}[origin]
    painter.setPen(QPen(QColor(colour), 1.5))
    if origin is Origin.MEASURED:
        painter.setBrush(QColor(colour))
        painter.drawEllipse(at, 3.5, 3.5)
    elif origin is Origin.PUBLISHED:
        painter.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7.0, 7.0))
    else:
        painter.drawPolygon(QPolygonF([at + QPointF(0.0, -4.5), at + QPointF(4.6, 3.6), at + QPointF(-4.6, 3.6)]))
    painter.restore()


def in_lines(text: str, weight: QFont.Weight, width_px: float, most: int) -> tuple[str, ...]:
    """Return a text broken between words into so many lines at most, the last cut where even that is too short."""
    words = text.split(" ")
    lines: list[str] = []
    while words and len(lines) < most - 1:
        taken = 1
        while taken < len(words) and text_width_px(" ".join(words[: taken + 1]), 13, weight) <= width_px:
            taken += 1
        lines.append(elided(" ".join(words[:taken]), 13, weight, width_px))
        words = words[taken:]
    if words:
        lines.append(elided(" ".join(words), 13, weight, width_px))
    return tuple(lines)
