"""The profile: relative illumination against image height, with the sensor's edges and corner marked."""

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail import lengths
from farrail.language import say
from farrail.lengths import LengthUnit
from farrail.parts.kinds.cameras import Camera
from farrail.quantities import unit_word
from farrail.readouts.field.coverage import image_circle_of
from farrail.readouts.light.model import Light
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.axes import Axes, Scale, dot, note
from farrail.ui.widgets.read_out import Point, ReadOut

LEFT, RIGHT, TOP, BOTTOM = 40.0, 14.0, 22.0, 36.0

# How many parts' own curves are drawn: those that take most.
MOST_CURVES = 6
# So many places of the curve are read by key.
POINTS = 24


class ProfilePlot(ReadOut):
    """A curve from the axis to a little past the corner."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("light_profile")
        self.setAccessibleName(say("Relative illumination against image height"))
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
        heights, ri = light.profile
        axes = self._axes(light)
        most = axes.x.high
        axes.levels(p, ((percent / 100.0, f"{percent} %") for percent in (0, 50, 100)))
        self._marks(p, axes, light.layout.camera, light.corner_mm)
        each = lengths.current().mm
        step = {LengthUnit.MM: (5.0, 2.0), LengthUnit.INCH: (0.2, 0.1)}[lengths.current()][most <= 12.0]
        axes.feet(p, [step * number for number in range(math.ceil(most / each / step))], each=each)
        axes.titles(p, say("image height, {unit}", unit=unit_word("mm")))
        self._others(p, axes, light)
        curve = axes.line(heights[::8], ri[::8])
        axes.wash(p, curve, theme.axis_light)
        axes.curve(p, curve, theme.axis_light)
        corner = axes.at(light.corner_mm, light.corner_ri or 0.0)
        dot(p, corner, theme.corner_light)
        p.setFont(font(12, MEDIUM))
        label = say("{value:.0f} %", value=100 * (light.corner_ri or 0.0))
        beside = p.fontMetrics().horizontalAdvance(label) + 10
        note(p, QPointF(corner.x() - beside, corner.y() + 19), label, theme.ink, theme.panel)
        self.paint_point(p)
        p.end()

    def _axes(self, light: Light) -> Axes:
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        return Axes(area, Scale(0.0, float(light.profile[0][-1]) or 1.0), Scale(0.0, 1.0))

    def points(self) -> list[Point]:
        """Return places of the curve from the middle outward."""
        light = self._light
        if light is None or light.layout.camera is None or light.corner_mm is None:
            return []
        heights, ri = light.profile
        axes, every = self._axes(light), max(len(heights) // POINTS, 1)
        return [
            Point(axes.at(h, r), say("{h:.1f mm} from the middle: {r:.0f} %", h=h, r=100.0 * r))
            for h, r in zip(heights[::every].tolist(), ri[::every].tolist(), strict=True)
        ]

    def sentence(self) -> str:
        """Return what the corner keeps."""
        light = self._light
        if light is None or light.corner_mm is None or light.corner_ri is None:
            return ""
        return say(
            "Illumination in the corner, {corner_mm:.1f mm} from the centre: {corner_ri:.0f} %",
            corner_mm=light.corner_mm,
            corner_ri=100.0 * light.corner_ri,
        )

    def _marks(self, p: QPainter, axes: Axes, camera: Camera, corner_mm: float) -> None:
        """Draw where the sensor's edges and its corner are."""
        theme = current_theme()
        corner_x = float(axes.across(corner_mm))
        marks = (
            (camera.sensor_height_mm.value / 2.0, say("edge"), theme.steel),
            (camera.sensor_width_mm.value / 2.0, say("side"), theme.steel),
            (corner_mm, say("corner"), theme.corner_light),
        )
        for height, word, colour in marks:
            x = axes.upright(p, height, colour)
            if height == corner_mm or corner_x - x > 44.0:
                p.drawText(QPointF(x - p.fontMetrics().horizontalAdvance(word) / 2.0, axes.area.top() - 7), word)

    def _others(self, p: QPainter, axes: Axes, light: Light) -> None:
        """Draw each clipping part's own curve, the optic's image circle, and the natural falloff."""
        theme = current_theme()
        p.setFont(font(10))
        if not self._quick:
            p.setPen(QPen(QColor(theme.corner_light), 1.0, Qt.PenStyle.DotLine))
            for curve in light.curves_alone(MOST_CURVES):
                p.drawPolyline(axes.line(*curve))
        found = image_circle_of(light.layout)
        if found is not None and axes.x.holds(edge := found[0].value / 2.0):
            p.setPen(QPen(QColor(theme.good), 1.2, Qt.PenStyle.DashDotLine))
            p.drawPolyline(axes.line([0.0, edge, edge], [1.0, 1.0, 0.0]))
            p.setPen(QColor(theme.good))
            text = say("image circle")
            # Beside its line and clear of the axis, whose marks are at the foot.
            p.drawText(axes.at(edge, 0.24) + QPointF(-p.fontMetrics().horizontalAdvance(text) - 5.0, 0.0), text)
        if self._natural:
            p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DashLine))
            line = axes.line(*light.natural_curve)
            p.drawPolyline(line)
            p.setPen(QColor(theme.steel))
            p.drawText(line.at(line.size() // 3) + QPointF(0.0, -5.0), say("natural falloff"))
