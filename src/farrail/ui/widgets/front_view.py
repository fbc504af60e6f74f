"""The front view: holder, sheets and the graduated line as they are, from behind, with the frame's light."""

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QLinearGradient, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import Gradation
from farrail.readouts.front.model import Front
from farrail.readouts.front.polarised_sky import PolarisedSky
from farrail.readouts.front.sheets import SheetInSlot, sheets_in
from farrail.readouts.names import aperture_name
from farrail.train.placed import PlacedAperture
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font
from farrail.ui.widgets.read_out import Point, ReadOut
from farrail.ui.widgets.sky_picture import paint_sky

ABOVE, BELOW = 18.0, 4.0


class FrontView(ReadOut):
    """What one sees looking through the camera at the stack in front of it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty view."""
        super().__init__(parent)
        self.setObjectName("front_view")
        self.setAccessibleName(say("The front stack seen from behind the camera"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._front: Front | None = None
        self._sky: PolarisedSky | None = None

    def show_front(self, front: Front | None, sky: PolarisedSky | None = None) -> None:
        """Show another readout; with a sky, the picture that its polariser makes of it instead of the stack."""
        self._front, self._sky = front, sky
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(190, 170)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(130, 110)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint holder, sheets, openings and the light of the frame's corners."""
        front, theme = self._front, current_theme()
        if front is None or not front.judged:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._sky is not None:
            paint_sky(p, self._sky, QRectF(self.rect()))
            p.end()
            return
        sheets = sheets_in(front)
        scale, middle = self._scaled(front)
        p.save()
        p.setClipRect(QRectF(0.0, ABOVE, self.width(), self.height() - ABOVE))
        p.translate(middle)
        p.scale(scale, scale)
        for placed, turn in zip(front.layout.front, front.layout.front_in_frame_deg, strict=True):
            if isinstance(placed.part, FilterHolder):
                p.save()
                p.rotate(turn)
                half = placed.part.outer_diameter_mm / 2.0
                p.setPen(_pen(theme.ink, 1.2, scale))
                p.setBrush(QColor(theme.metal))
                p.drawRoundedRect(QRectF(-half, -half, 2.0 * half, 2.0 * half), half * 0.35, half * 0.35)
                for item in sheets:
                    if item.placed is placed:
                        _sheet(p, item, scale)
                p.restore()
        for image, placed_opening in zip(front.images, front.placed, strict=True):
            p.save()
            p.rotate(-math.degrees(image.angle_rad))
            _opening(p, placed_opening, scale)
            p.restore()
        limiting = front.limiting or (front.placed[0] if front.placed else None)
        if limiting is not None:
            self._light(p, front, limiting, scale)
        p.restore()
        p.setFont(font(11))
        p.setPen(QColor(theme.steel))
        p.drawText(QPointF(0.0, 11.0), say("from behind"))
        self.paint_point(p)
        p.end()

    def _scaled(self, front: Front) -> tuple[float, QPointF]:
        """Return pixels per mm, and where the axis is."""
        reach = max([placed.part.outer_diameter_mm / 2.0 for placed in front.layout.front], default=50.0)
        tall = [item.sheet.height_mm.value / 2.0 + abs(item.shift_mm) for item in sheets_in(front)]
        reach = max([reach, *tall]) * 1.03
        scale = min(self.width(), self.height() - ABOVE - BELOW) / (2.0 * reach)
        return scale, QPointF(self.width() / 2.0, ABOVE + (self.height() - ABOVE - BELOW) / 2.0)

    def points(self) -> list[Point]:
        """Return the openings of the stack, the outermost first, each where its rim is at the right."""
        front = self._front
        if front is None or not front.judged or self._sky is not None:
            return []
        scale, middle = self._scaled(front)
        return [
            Point(
                middle + QPointF(placed.diameter.value / 2.0 * scale, 0.0),
                say(
                    "{name}, {aperture_name}: {value:.1f mm}",
                    name=placed.part.name,
                    aperture_name=aperture_name(placed),
                    value=placed.diameter.value,
                ),
            )
            for placed in front.placed
        ]

    def sentence(self) -> str:
        """Return which opening takes most."""
        front = self._front
        if front is None or not front.judged:
            return ""
        limiting = front.limiting
        return say("No part of the stack is visible in the picture") if limiting is None else (
            say("{name}, {aperture_name}, costs most", name=limiting.part.name, aperture_name=aperture_name(limiting))
        )  # fmt: skip

    def _light(self, p: QPainter, front: Front, placed: PlacedAperture, scale: float) -> None:
        """Draw where the corners' bundles and the frame between them cross the aperture that takes most."""
        theme = current_theme()
        spots = front.footprint_mm(placed)
        wash = QColor(theme.corner_light)
        wash.setAlphaF(0.16)
        p.setPen(_pen(theme.corner_light, 1.0, scale))
        p.setBrush(wash)
        p.drawPolygon(QPolygonF([QPointF(x, -y) for x, y, _ in spots]))
        wash.setAlphaF(0.45)
        p.setBrush(wash)
        for x, y, radius in spots:
            p.drawEllipse(QPointF(x, -y), max(radius, 1.2), max(radius, 1.2))


def _pen(colour: str, width_px: float, scale: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    return QPen(QColor(colour), width_px / scale, style)


def _sheet(p: QPainter, item: SheetInSlot, scale: float) -> None:
    theme = current_theme()
    wide, high = item.sheet.width_mm.value, item.sheet.height_mm.value
    box = QRectF(-wide / 2.0, -high / 2.0 - item.shift_mm, wide, high)
    glass = QColor(theme.glass)
    if item.sheet.gradation is Gradation.NONE:
        glass.setAlphaF(0.35)
        p.setBrush(glass)
    else:
        fade = QLinearGradient(box.topLeft(), box.bottomLeft())
        run = min((item.blur or 0.2) * 0.5, 0.4)
        for at, strength in ((0.0, 0.75), (max(0.5 - run, 0.0), 0.7), (min(0.5 + run, 1.0), 0.06), (1.0, 0.06)):
            shade = QColor(theme.ink)
            shade.setAlphaF(strength)
            fade.setColorAt(at, shade)
        p.setBrush(fade)
    p.setPen(_pen(theme.glass_edge, 1.0, scale))
    p.drawRect(box)
    if item.line is not None:
        p.setPen(_pen(theme.axis_light, 1.4, scale, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(-wide / 2.0, -item.shift_mm), QPointF(wide / 2.0, -item.shift_mm))


def _opening(p: QPainter, placed: PlacedAperture, scale: float) -> None:
    theme = current_theme()
    p.setPen(_pen(theme.stop, 0.9, scale, Qt.PenStyle.DotLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    half = placed.diameter.value / 2.0
    if placed.height is None:
        p.drawEllipse(QPointF(0.0, 0.0), half, half)
    else:
        high = min(placed.height.value / 2.0, half * 1.6)
        p.drawRect(QRectF(-half, -high, 2.0 * half, 2.0 * high))
