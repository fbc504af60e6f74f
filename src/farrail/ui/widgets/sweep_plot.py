"""The zoom sweep: corner loss the front stack adds, against focal length, with the first clean focal length."""

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.readouts.front.model import CLEAN_STOPS, VISIBLE_STOPS, Front, Sweep
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

LEFT, RIGHT, TOP, BOTTOM = 34.0, 12.0, 18.0, 34.0
# Two stops down a corner is as good as dark.
MOST_STOPS = 2.0


class SweepPlot(QWidget):
    """A curve over the zoom's range; a remedy's curve beside it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("front_sweep")
        self.setAccessibleName("Corner loss added by the front stack, against focal length")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._front: Front | None = None
        self._other: Sweep | None = None

    def show_front(self, front: Front | None) -> None:
        """Show another readout."""
        self._front = front
        self.update()

    def show_other(self, sweep: Sweep | None) -> None:
        """Show a remedy's curve too, or none."""
        self._other = sweep
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(260, 170)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(170, 110)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint axes, limits and curves."""
        front, theme = self._front, current_theme()
        if front is None or not front.judged:
            return
        sweep = front.now
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        low, high = front.range_mm
        if high <= low:
            low, high = low * 0.9, high * 1.1

        def at(focal: float, stops: float) -> QPointF:
            share = math.log(focal / low) / math.log(high / low)
            return QPointF(
                area.left() + share * area.width(), area.top() + min(stops, MOST_STOPS) / MOST_STOPS * area.height()
            )

        p.setFont(font(11))
        for stops, word in ((0.0, "0"), (1.0, "1"), (MOST_STOPS, "2 +")):
            y = at(low, stops).y()
            p.setPen(QPen(QColor(theme.hairline), 1.0))
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            p.setPen(QColor(theme.steel))
            p.drawText(
                QRectF(0, y - 8, LEFT - 7, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, word
            )
        for limit, colour in ((CLEAN_STOPS, theme.good), (VISIBLE_STOPS, theme.look)):
            y = at(low, limit).y()
            p.setPen(QPen(QColor(colour), 1.0, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        self._scale(p, area, low, high, at)
        if self._other is not None:
            self._curve(p, self._other, theme.good, at, dashed=True)
        self._curve(p, sweep, theme.stop, at, dashed=False)
        if low <= front.focal_mm <= high:
            here = at(front.focal_mm, front.corner_stops)
            p.setPen(QPen(QColor(theme.panel), 1.5))
            p.setBrush(QColor(theme.corner_light))
            p.drawEllipse(here, 4.5, 4.5)
        for made, colour, down in ((self._other, theme.good, 13.0), (sweep, theme.stop, 0.0)):
            if made is not None and made.first_clean_mm is not None:
                self._mark(
                    p, area, at(min(max(made.first_clean_mm, low), high), 0.0), made.first_clean_mm, colour, down
                )
        p.end()

    def _scale(self, p: QPainter, area: QRectF, low: float, high: float, at) -> None:  # type: ignore[no-untyped-def]
        theme = current_theme()
        p.setPen(QColor(theme.steel))
        steps = [f for f in (8, 10, 12, 14, 17, 20, 24, 28, 35, 50, 70, 100, 135, 200, 300, 400) if low <= f <= high]
        last = -100.0
        for focal in steps:
            x = at(float(focal), 0.0).x()
            text = f"{focal}"
            width = p.fontMetrics().horizontalAdvance(text)
            if x - width / 2 > last + 8:
                p.drawText(QPointF(x - width / 2.0, area.bottom() + 14.0), text)
                last = x + width / 2
        text = "focal length, mm"
        p.drawText(QPointF(area.right() - p.fontMetrics().horizontalAdvance(text), area.bottom() + 29.0), text)
        p.drawText(QPointF(0.0, 11.0), "stops darker")

    def _curve(self, p: QPainter, sweep: Sweep, colour: str, at, *, dashed: bool) -> None:  # type: ignore[no-untyped-def]
        points = [at(f, s) for f, s in zip(sweep.focal_mm, sweep.stops, strict=True)]
        p.setPen(QPen(QColor(colour), 1.0, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine))
        for down in (-0.5, 0.0, 0.5) if not dashed else (0.0,):
            p.drawPolyline(QPolygonF(points).translated(0.0, down))

    def _mark(self, p: QPainter, area: QRectF, foot: QPointF, focal: float, colour: str, down: float) -> None:
        theme = current_theme()
        p.setPen(QPen(QColor(colour), 1.0, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(foot.x(), area.top()), QPointF(foot.x(), area.bottom()))
        p.setFont(font(11, MEDIUM))
        text = f"clean from {focal:.1f}"
        width = p.fontMetrics().horizontalAdvance(text)
        x = min(max(foot.x() + 5.0, area.left()), area.right() - width)
        y = area.bottom() - 6.0 - down
        p.fillRect(QRectF(x - 2.0, y - 10.0, width + 4.0, 13.0), QColor(theme.paper))
        p.setPen(QColor(colour))
        p.drawText(QPointF(x, y), text)
