"""The profile: relative illumination against image height, with the sensor's edges and corner marked."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.optics.clipping import Array
from farrail.optics.illumination import natural_falloff
from farrail.readouts.field.coverage import image_circle_of
from farrail.readouts.light.model import Light
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

LEFT, RIGHT, TOP, BOTTOM = 40.0, 14.0, 22.0, 36.0

# How many parts' own curves are drawn: those that take most.
MOST_CURVES = 6


class ProfilePlot(QWidget):
    """A curve from the axis to a little past the corner."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("light_profile")
        self.setAccessibleName("Relative illumination against image height")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._light: Light | None = None
        self._natural = False
        self._quick = False

    def set_natural(self, wanted: bool) -> None:
        """Draw the natural falloff as a curve of its own, or not."""
        self._natural = wanted
        self.update()

    def show_light(self, light: Light | None, *, quick: bool = False) -> None:
        """Show another readout; `quick` leaves out the curves of single parts while a hand drags."""
        self._light, self._quick = light, quick
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(260, 180)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(180, 120)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint axes, marks and curve."""
        light, theme = self._light, current_theme()
        if light is None or light.layout.camera is None or light.corner_mm is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        heights, ri = light.profile
        most = float(heights[-1]) or 1.0

        def at(height: float, value: float) -> QPointF:
            return QPointF(area.left() + height / most * area.width(), area.bottom() - value * area.height())

        p.setFont(font(11))
        for percent in (0, 50, 100):
            y = at(0.0, percent / 100.0).y()
            p.setPen(QPen(QColor(theme.hairline), 1.0))
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            p.setPen(QColor(theme.steel))
            box = QRectF(0, y - 8, LEFT - 7, 16)
            p.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{percent} %")
        camera = light.layout.camera
        marks = (
            (camera.sensor_height_mm.value / 2.0, "edge"),
            (camera.sensor_width_mm.value / 2.0, "side"),
            (light.corner_mm, "corner"),
        )
        corner_x = at(light.corner_mm, 0.0).x()
        for height, word in marks:
            x = at(height, 0.0).x()
            p.setPen(QPen(QColor(theme.corner_light if word == "corner" else theme.steel), 1.0, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, area.top() - 2), QPointF(x, area.bottom()))
            p.setPen(QColor(theme.corner_light if word == "corner" else theme.steel))
            width = p.fontMetrics().horizontalAdvance(word)
            if word == "corner" or corner_x - x > 44.0:
                p.drawText(QPointF(x - width / 2.0, area.top() - 7), word)
        step = 5.0 if most > 12.0 else 2.0
        value = 0.0
        p.setPen(QColor(theme.steel))
        while value <= most:
            label = f"{value:g}"
            x = at(value, 0.0).x()
            p.drawText(QPointF(x - p.fontMetrics().horizontalAdvance(label) / 2.0, area.bottom() + 15), label)
            value += step
        text = "image height, mm"
        p.drawText(QPointF(area.right() - p.fontMetrics().horizontalAdvance(text), area.bottom() + 31), text)
        self._others(p, light, heights, at)
        curve = QPolygonF([at(float(h), float(v)) for h, v in zip(heights[::8], ri[::8], strict=True)])
        fill = QPolygonF(curve)
        fill.append(at(most, 0.0))
        fill.append(at(0.0, 0.0))
        wash = QColor(theme.axis_light)
        wash.setAlphaF(0.16)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(wash)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.drawPolygon(fill)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setBrush(Qt.BrushStyle.NoBrush)
        # Three fine lines beside one another: a single broad one takes twenty times as long.
        p.setPen(QPen(QColor(theme.axis_light), 1.0))
        for down in (-0.6, 0.0, 0.6):
            p.drawPolyline(curve.translated(0.0, down))
        corner = at(light.corner_mm, light.corner_ri or 0.0)
        p.setPen(QPen(QColor(theme.panel), 1.5))
        p.setBrush(QColor(theme.corner_light))
        p.drawEllipse(corner, 4.5, 4.5)
        p.setFont(font(12, MEDIUM))
        p.setPen(QColor(theme.ink))
        label = f"{100 * (light.corner_ri or 0.0):.0f} %"
        place = QPointF(corner.x() - p.fontMetrics().horizontalAdvance(label) - 10, corner.y() + 19)
        p.fillRect(
            p.fontMetrics().boundingRect(label).translated(place.toPoint()).adjusted(-3, 0, 3, 0), QColor(theme.panel)
        )
        p.drawText(place, label)
        p.end()

    def _others(self, p: QPainter, light: Light, heights: Array, at: Callable[[float, float], QPointF]) -> None:
        """Draw each clipping part's own curve, the optic's image circle, and the natural falloff."""
        theme = current_theme()
        fewer = heights[::16]
        p.setFont(font(10))
        if not self._quick:
            for number in light.worst_alone(MOST_CURVES):
                values = light.profile_of(number, fewer)
                p.setPen(QPen(QColor(theme.corner_light), 1.0, Qt.PenStyle.DotLine))
                p.drawPolyline(QPolygonF([at(float(h), float(v)) for h, v in zip(fewer, values, strict=True)]))
        found = image_circle_of(light.layout)
        most = float(heights[-1])
        if found is not None:
            edge = found[0].value / 2.0
            p.setPen(QPen(QColor(theme.good), 1.2, Qt.PenStyle.DashDotLine))
            if edge <= most:
                p.drawPolyline(QPolygonF([at(0.0, 1.0), at(edge, 1.0), at(edge, 0.0)]))
                p.setPen(QColor(theme.good))
                text = "image circle"
                p.drawText(at(edge, 0.04) + QPointF(-p.fontMetrics().horizontalAdvance(text) - 5.0, 0.0), text)
        if self._natural:
            values = natural_falloff(light.pupil.exit_distance_mm, fewer)
            p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DashLine))
            line = QPolygonF([at(float(h), float(v)) for h, v in zip(fewer, values, strict=True)])
            p.drawPolyline(line)
            p.setPen(QColor(theme.steel))
            p.drawText(line.at(len(fewer) // 3) + QPointF(0.0, -5.0), "natural falloff")
