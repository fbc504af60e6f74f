"""The zoom sweep: corner loss the front stack adds, against focal length, with the first clean focal length."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.readouts.front.model import Front, Sweep
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.axes import Axes, Scale, dot, note
from farrail.ui.widgets.read_out import Point, ReadOut

LEFT, RIGHT, TOP, BOTTOM = 34.0, 12.0, 18.0, 34.0
# Two stops down a corner is as good as dark.
MOST_STOPS = 2.0
# So many focal lengths are read by key.
POINTS = 20
FOCAL_MM = (8, 10, 12, 14, 17, 20, 24, 28, 35, 50, 70, 100, 135, 200, 300, 400)


class SweepPlot(ReadOut):
    """A curve over the zoom's range; a remedy's curve beside it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("front_sweep")
        self.setAccessibleName(say("Corner loss added by the front stack, against focal length"))
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
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        axes = self._axes(front)
        axes.levels(p, ((0.0, "0"), (1.0, "1"), (MOST_STOPS, "2 +")))
        axes.limit(p, CLEAN_STOPS, theme.good)
        axes.limit(p, VISIBLE_STOPS, theme.look, Qt.PenStyle.DashLine)
        axes.feet(p, FOCAL_MM)
        axes.titles(p, say("focal length, mm"), say("stops darker"))
        if self._other is not None:
            p.setPen(QPen(QColor(theme.good), 1.0, Qt.PenStyle.DashLine))
            p.drawPolyline(axes.line(self._other.focal_mm, _shown(self._other)))
        axes.curve(p, axes.line(front.now.focal_mm, _shown(front.now)), theme.stop)
        if axes.x.holds(front.focal_mm):
            dot(p, axes.at(front.focal_mm, min(front.corner_stops, MOST_STOPS)), theme.corner_light)
        for sweep, colour, up in ((self._other, theme.good, 13.0), (front.now, theme.stop, 0.0)):
            if sweep is not None and sweep.first_clean_mm is not None:
                self._mark(p, axes, sweep.first_clean_mm, colour, up)
        self.paint_point(p)
        p.end()

    def _axes(self, front: Front) -> Axes:
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        low, high = front.range_mm
        if high <= low:
            low, high = low * 0.9, high * 1.1
        return Axes(area, Scale(low, high, logarithmic=True), Scale(MOST_STOPS, 0.0))

    def points(self) -> list[Point]:
        """Return focal lengths from the shortest on."""
        front = self._front
        if front is None or not front.judged:
            return []
        axes, every = self._axes(front), max(len(front.now.focal_mm) // POINTS, 1)
        shown = _shown(front.now).tolist()
        return [
            Point(
                axes.at(f, s),
                say(
                    "{f:.0f} mm: {also}", f=f, also=say("dark") if s >= MOST_STOPS else say("{s:.2f} stops darker", s=s)
                ),
            )
            for f, s in list(zip(front.now.focal_mm, shown, strict=True))[::every]
        ]

    def sentence(self) -> str:
        """Return from which focal length on the corners are clean."""
        front = self._front
        if front is None or not front.judged:
            return ""
        first = front.now.first_clean_mm
        return (
            say("Vignetting at every focal length")
            if first is None
            else say("No vignetting from {first:.1f} mm", first=first)
        )

    def _mark(self, p: QPainter, axes: Axes, focal: float, colour: str, up: float) -> None:
        """Mark the first clean focal length, its words at the foot."""
        area, theme = axes.area, current_theme()
        x = axes.upright(p, min(max(focal, axes.x.low), axes.x.high), colour)
        p.setFont(font(11, MEDIUM))
        text = say("no vignetting from {focal:.1f}", focal=focal)
        left = min(max(x + 5.0, area.left()), area.right() - p.fontMetrics().horizontalAdvance(text))
        note(p, QPointF(left, area.bottom() - 6.0 - up), text, colour, theme.paper)


def _shown(sweep: Sweep) -> np.ndarray:
    """Return a sweep's losses, what is darker than the scale at its end."""
    return np.asarray(np.minimum(np.asarray(sweep.stops, dtype=float), MOST_STOPS))
