"""The program's own icons: SVG strokes that take the theme's ink."""

from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QByteArray, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPen, QPixmap, QPolygonF

from farrail.readouts.finding import Severity
from farrail.ui.theme.apply import current_theme

_FOLDER = Path(__file__).parents[2] / "assets" / "icons"


@lru_cache(maxsize=128)
def _pixmap(name: str, colour: str, size: int, ratio: float) -> QPixmap:
    from PySide6.QtSvg import QSvgRenderer

    text = (_FOLDER / f"{name}.svg").read_text(encoding="utf-8")
    renderer = QSvgRenderer(QByteArray(text.replace("currentColor", colour).encode()))
    pixmap = QPixmap(QSize(round(size * ratio), round(size * ratio)))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0.0, 0.0, size, size))
    painter.end()
    return pixmap


def icon(name: str, size: int = 18) -> QIcon:
    """Return an icon of the package in the theme's ink, dimmed when disabled."""
    theme = current_theme()
    made = QIcon(_pixmap(name, theme.ink, size, 2.0))
    made.addPixmap(_pixmap(name, theme.hairline, size, 2.0), QIcon.Mode.Disabled)
    return made


def draw_severity(painter: QPainter, at: QPointF, severity: Severity) -> None:
    """Draw a finding's mark: a full diamond (stop), a full triangle (look), an open ring (note)."""
    theme = current_theme()
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    if severity is Severity.STOP:
        painter.setBrush(QColor(theme.stop))
        painter.drawPolygon(
            QPolygonF([at + QPointF(0, -7), at + QPointF(7, 0), at + QPointF(0, 7), at + QPointF(-7, 0)])
        )
    elif severity is Severity.LOOK:
        painter.setBrush(QColor(theme.look))
        painter.drawPolygon(QPolygonF([at + QPointF(0, -7), at + QPointF(7, 6), at + QPointF(-7, 6)]))
    else:
        painter.setPen(QPen(QColor(theme.steel), 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 5.0, 5.0)
    painter.restore()
