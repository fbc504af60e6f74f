"""A clear sky through a polariser as the frame shows it: darker where more is taken, with the stops lost along it."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from farrail.language import say
from farrail.readouts.front.polarised_sky import PolarisedSky
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font

COLUMNS, ROWS = 96, 64
ABOVE, BELOW = 18.0, 20.0
# What loses so many stops is drawn in ink alone.
DARKEST_STOPS = 4.0


def paint_sky(p: QPainter, sky: PolarisedSky, box: QRectF) -> None:
    """Paint the frame with its sky, and under it what is lost at both edges, quarters and the middle."""
    theme = current_theme()
    wide, high = sky.half_frame_mm
    room = box.adjusted(0.0, ABOVE, 0.0, -BELOW)
    scale = min(room.width() / wide, room.height() / high) / 2.0
    frame = QRectF(0.0, 0.0, 2.0 * wide * scale, 2.0 * high * scale)
    frame.moveCenter(room.center())
    p.drawImage(frame, _image(sky, theme.glass, theme.ink))
    p.setPen(QPen(QColor(theme.hairline), 1.0))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(frame)
    p.setFont(font(11))
    p.setPen(QColor(theme.steel))
    p.drawText(QPointF(box.left(), box.top() + 11.0), say("clear sky, stops lost"))
    for number, stops in enumerate(sky.marks):
        x = frame.left() + frame.width() * number / 4.0
        flags = (Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignHCenter,
                 Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignRight)[number]  # fmt: skip
        cell = QRectF(x - (0.0 if number == 0 else 40.0 if number == 4 else 20.0), frame.bottom() + 3.0, 40.0, 15.0)
        p.drawText(cell, flags | Qt.AlignmentFlag.AlignVCenter, say("{stops:.1f}", stops=stops))


def _image(sky: PolarisedSky, light: str, dark: str) -> QImage:
    """Return the sky as an image between two colours."""
    share = np.clip(sky.picture(COLUMNS, ROWS) / DARKEST_STOPS, 0.0, 1.0)[..., None]
    ends = [np.array([QColor(name).red(), QColor(name).green(), QColor(name).blue()]) for name in (light, dark)]
    pixels = np.ascontiguousarray(np.round(ends[0] * (1.0 - share) + ends[1] * share).astype(np.uint8))
    return QImage(pixels.data, COLUMNS, ROWS, 3 * COLUMNS, QImage.Format.Format_RGB888).copy()
