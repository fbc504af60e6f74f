"""Marks over a photo that can be read on any scene: light lines with a dark edge, words on a dark strip."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from farrail.language import say
from farrail.ui.theme.apply import current_theme

# The mark itself and its edge; in the dark-adapted theme both are red.
LIGHT, EDGE = "#FFFFFF", "#101418"
RED_LIGHT, RED_EDGE = "#FF7A66", "#140303"
ZEBRA_PX = 6


def _colours() -> tuple[QColor, QColor]:
    red = current_theme().name == "dark-adapted"
    return QColor(RED_LIGHT if red else LIGHT), QColor(RED_EDGE if red else EDGE)


def outlined_path(p: QPainter, line: QPolygonF, wide_px: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> None:
    """Draw a line that is seen on light and on dark."""
    light, edge = _colours()
    p.setBrush(Qt.BrushStyle.NoBrush)
    edge.setAlphaF(0.75)
    p.setPen(QPen(edge, wide_px + 2.0))
    p.drawPolyline(line)
    p.setPen(QPen(light, wide_px, style))
    p.drawPolyline(line)


def draw_outlined(p: QPainter, at: QPointF, text: str) -> None:
    """Write a text that is seen on light and on dark: on a dark strip the scene shines through."""
    light, edge = _colours()
    metrics = p.fontMetrics()
    box = QRectF(
        at.x() - 4.0, at.y() - metrics.ascent() - 1.0, metrics.horizontalAdvance(text) + 8.0, metrics.height() + 2.0
    )
    p.save()
    edge.setAlphaF(0.62)
    p.setBrush(edge)
    p.setPen(Qt.PenStyle.NoPen)
    p.drawRoundedRect(box, 3.0, 3.0)
    p.setPen(light)
    p.drawText(at, text)
    p.restore()


def draw_crop(p: QPainter, frame: QRectF, scale: float, crop_mm: tuple[float, float]) -> None:
    """Outline the crop that is free of vignetting, with its size."""
    box = QRectF(0.0, 0.0, crop_mm[0] * scale, crop_mm[1] * scale)
    box.moveCenter(frame.center())
    if box.width() >= frame.width() - 1.0:
        return
    outlined_path(p, QPolygonF(box), 1.2, Qt.PenStyle.DashLine)
    text = say("crop {wide:.1f} × {high:.1f} mm", wide=crop_mm[0], high=crop_mm[1])
    draw_outlined(p, QPointF(box.left() + 5.0, box.top() + 15.0), text)


def draw_zebra(p: QPainter, frame: QRectF, clipped: np.ndarray, lost: np.ndarray) -> None:
    """Stripe what is blown out one way and what is lost in noise the other way."""
    rows, columns = clipped.shape
    y, x = np.mgrid[0:rows, 0:columns]
    step = max(round(ZEBRA_PX * columns / max(frame.width(), 1.0)), 2)
    rising, falling = ((x + y) // step) % 3 == 0, ((x - y) // step) % 3 == 0
    light, edge = _colours()
    values = np.zeros((rows, columns, 4), dtype=np.uint8)
    for mask, colour in ((clipped & rising, edge), (lost & falling, light)):
        values[mask] = (colour.red(), colour.green(), colour.blue(), 190)
    image = QImage(values.tobytes(), columns, rows, columns * 4, QImage.Format.Format_RGBA8888).copy()
    p.drawImage(frame, image)
