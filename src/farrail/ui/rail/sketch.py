"""Small cut sections of a whole train, drawn free of scale: beside each way in, and as the ghost on an empty rail."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from farrail.ui.theme.apply import current_theme

# Tubes as (left, right, radius), glass as (place, radius, bulge), the camera's (left, radius) and the sensor's place,
# all in parts of the room's width and height.
_TUBES: dict[str, tuple[tuple[float, float, float], ...]] = {
    "night": ((0.00, 0.34, 0.74), (0.34, 0.46, 0.46), (0.46, 0.53, 0.56), (0.53, 0.64, 0.70), (0.64, 0.71, 0.50)),
    "filters": ((0.14, 0.17, 0.92), (0.21, 0.24, 0.92), (0.26, 0.33, 0.80), (0.33, 0.38, 0.70), (0.38, 0.68, 0.58)),
    "close_up": ((0.27, 0.31, 0.50), (0.32, 0.36, 0.50), (0.36, 0.56, 0.60), (0.56, 0.64, 0.46), (0.64, 0.72, 0.46)),
}
_GLASS: dict[str, tuple[tuple[float, float, float], ...]] = {
    "night": ((0.03, 0.66, 0.012), (0.40, 0.36, 0.010), (0.585, 0.44, 0.0)),
    "filters": ((0.155, 0.82, 0.0), (0.225, 0.82, 0.0), (0.42, 0.46, 0.012), (0.54, 0.34, 0.010)),
    "close_up": ((0.29, 0.42, 0.012), (0.34, 0.42, 0.012), (0.43, 0.44, 0.012)),
}
_CAMERA = {"night": (0.71, 0.86, 0.84), "filters": (0.68, 0.92, 0.80), "close_up": (0.72, 0.86, 0.82)}


def paint_section(painter: QPainter, room: QRectF, route: str, *, faint: bool = False) -> None:
    """Paint a route's train into a room; faint as a ghost of what may come to be there."""
    theme = current_theme()
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    axis, height = room.bottom() - 6.0, room.height() - 8.0
    line = QPen(QColor(theme.hairline if faint else theme.steel), 1.0)

    def at(across: float, up: float) -> QPointF:
        return QPointF(room.left() + across * room.width(), axis - up * height)

    def chosen(colour: str) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush if faint else QColor(colour))

    painter.setPen(QPen(line.color(), 1.0, Qt.PenStyle.DashDotLine))
    if not faint:
        painter.drawLine(at(-0.02, 0.0), at(1.02, 0.0))
    painter.setPen(line)
    for left, right, radius in _TUBES[route]:
        wall = QRectF(at(left, radius), at(right, radius - 0.13))
        chosen(theme.metal)
        painter.drawRect(wall)
        if not faint:
            _hatch(painter, wall)
        painter.setPen(line)
    begin, radius, sensor = _CAMERA[route]
    chosen(theme.metal)
    painter.drawPolyline(QPolygonF([at(begin, 0.0), at(begin, radius), at(0.99, radius), at(0.99, 0.0)]))
    painter.setPen(line if faint else QPen(QColor(theme.glass_edge), 1.0))
    for place, radius, bulge in _GLASS[route]:
        chosen(theme.glass)
        half = 0.011 + bulge
        painter.drawPolygon(
            QPolygonF(
                [at(place - 0.011, radius), at(place + 0.011, radius), at(place + half, 0.0), at(place - half, 0.0)]
            )
        )
    painter.setPen(QPen(line.color() if faint else QColor(theme.ink), 1.5 if faint else 2.4))
    painter.drawLine(at(sensor, 0.0), at(sensor, 0.34))
    if not faint:
        painter.setPen(QPen(QColor(theme.axis_light), 1.3))
        first = _GLASS[route][0]
        if route == "close_up":
            # A leaf close before the glass, and the light from its foot.
            leaf = [at(0.05, 0.0), at(0.01, 0.20), at(0.05, 0.44), at(0.09, 0.20), at(0.05, 0.0)]
            painter.drawPolyline(QPolygonF(leaf))
            painter.drawLine(at(0.05, 0.0), at(first[0], first[1] * 0.8))
            painter.drawLine(at(first[0], first[1] * 0.8), at(sensor, 0.0))
        else:
            painter.drawLine(at(-0.02, first[1] * 0.8), at(first[0], first[1] * 0.8))
            painter.drawLine(at(first[0], first[1] * 0.8), at(sensor, 0.0))
    painter.restore()


def _hatch(painter: QPainter, wall: QRectF) -> None:
    painter.save()
    painter.setClipRect(wall)
    painter.setPen(QPen(QColor(current_theme().hatch), 0.8))
    step = wall.left() - wall.height()
    while step < wall.right():
        painter.drawLine(QPointF(step, wall.bottom()), QPointF(step + wall.height(), wall.top()))
        step += 4.0
    painter.restore()
