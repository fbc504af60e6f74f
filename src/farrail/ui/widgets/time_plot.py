"""Readings of one thing over many evenings, with what was predicted and the days on which something moved."""

import math
from collections.abc import Callable, Sequence
from datetime import date

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.logbook.over_time import Mark, Series
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font
from farrail.ui.widgets.axes import Axes, Scale, dot, note
from farrail.ui.widgets.read_out import Point, ReadOut

LEFT, RIGHT, TOP, BOTTOM = 64.0, 16.0, 42.0, 44.0
# Names of marks that would meet are in another line.
LINES, LINE_PX = 2, 15.0
# So much of the scale stays clear beyond what is drawn.
CLEAR = 0.12
# Labels under the days are no closer than this.
DAY_PX = 84.0
CAP_PX = 3.5


class TimePlot(ReadOut):
    """Dots with their intervals by day; hollow where set aside; a dash where a prediction was."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("log_over_time")
        self.setAccessibleName(say("Readings by day"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._series: Series | None = None
        self._marks: Sequence[Mark] = ()
        self._words: Callable[[float], str] = str

    def show_series(self, series: Series | None, marks: Sequence[Mark], words: Callable[[float], str]) -> None:
        """Show a series; `words` writes one of its values."""
        self._series, self._marks, self._words = series, marks, words
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(420, 260)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(220, 140)

    def _axes(self, series: Series) -> Axes:
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        days = [one.day.toordinal() for one in series.readings]
        first, last = min(days), max(days)
        aside = max((last - first) * 0.05, 1.0)
        values = [end for one in series.readings for end in (one.value - one.off, one.value + one.off)]
        values += [one.predicted for one in series.readings if one.predicted is not None]
        low, high = min(values), max(values)
        clear = (high - low) * CLEAR or abs(high) * CLEAR or 1.0
        return Axes(area, Scale(first - aside, last + aside), Scale(low - clear, high + clear))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint scales, marks and readings."""
        series, theme = self._series, current_theme()
        if series is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        axes = self._axes(series)
        p.setFont(font(11))
        axes.levels(p, [(value, self._words(value)) for value in _steps(axes.y)])
        self._days(p, axes)
        p.setFont(font(11))
        for mark in self._marks:
            if axes.x.holds(mark.day.toordinal()):
                axes.upright(p, mark.day.toordinal(), theme.look)
        for one in series.readings:
            at = axes.at(one.day.toordinal(), one.value)
            colour = theme.steel if one.aside else theme.corner_light
            if one.predicted is not None:
                y = float(axes.down(one.predicted))
                p.setPen(QPen(QColor(theme.ink), 1.6))
                p.drawLine(QPointF(at.x() - 9.0, y), QPointF(at.x() + 9.0, y))
            p.setPen(QPen(QColor(colour), 1.2))
            if one.off > 0.0:
                top, foot = (float(axes.down(one.value + sign * one.off)) for sign in (1.0, -1.0))
                p.drawLine(QPointF(at.x(), top), QPointF(at.x(), foot))
                for y in (top, foot):
                    p.drawLine(QPointF(at.x() - CAP_PX, y), QPointF(at.x() + CAP_PX, y))
            if one.aside:
                p.setBrush(QColor(theme.paper))
                p.drawEllipse(at, 4.0, 4.0)
            else:
                dot(p, at, colour)
        self._names(p, axes)
        if any(one.predicted is not None for one in series.readings):
            p.setPen(QColor(theme.steel))
            axes.titles(p, say("dash: predicted then"))
        self.paint_point(p)
        p.end()

    def _names(self, p: QPainter, axes: Axes) -> None:
        """Write what moved above each mark; a name with no room in any line is left out."""
        ends = [axes.area.left() - 100.0] * LINES
        for mark in self._marks:
            if not axes.x.holds(mark.day.toordinal()):
                continue
            text = mark.words or say("train changed")
            wide = p.fontMetrics().horizontalAdvance(text)
            x = float(axes.across(mark.day.toordinal()))
            left = min(max(x - wide / 2.0, axes.area.left()), axes.area.right() - wide)
            line = next((number for number, end in enumerate(ends) if left > end + 8.0), None)
            if line is not None:
                ends[line] = left + wide
                at = QPointF(left, axes.area.top() - 8.0 - line * LINE_PX)
                note(p, at, text, current_theme().look, current_theme().paper)

    def _days(self, p: QPainter, axes: Axes) -> None:
        low, high = math.ceil(axes.x.low), math.floor(axes.x.high)
        count = max(int(axes.area.width() / DAY_PX), 2)
        step = max(round((high - low) / count), 1)
        p.setFont(font(11))
        p.setPen(QColor(current_theme().steel))
        for day in range(low, high + 1, step):
            x = float(axes.across(day))
            text = date.fromordinal(day).isoformat()
            wide = p.fontMetrics().horizontalAdvance(text)
            if x - wide / 2.0 > 0.0 and x + wide / 2.0 < self.width():
                p.drawLine(QPointF(x, axes.area.bottom()), QPointF(x, axes.area.bottom() + 4.0))
                p.drawText(QPointF(x - wide / 2.0, axes.area.bottom() + 15.0), text)
        p.setPen(QPen(QColor(current_theme().hairline), 1.0, Qt.PenStyle.SolidLine))
        p.drawLine(axes.area.bottomLeft(), axes.area.bottomRight())

    def points(self) -> list[Point]:
        """Return the readings by day."""
        if self._series is None:
            return []
        axes = self._axes(self._series)
        return [
            Point(
                axes.at(one.day.toordinal(), one.value),
                say("{day}: {value}, set aside", day=one.day.isoformat(), value=self._words(one.value))
                if one.aside
                else say("{day}: {value}", day=one.day.isoformat(), value=self._words(one.value)),
            )
            for one in self._series.readings
        ]

    def sentence(self) -> str:
        """Return what is shown."""
        return "" if self._series is None else self._series.name


def _steps(scale: Scale) -> list[float]:
    """Return three to six round values within a scale."""
    span = scale.high - scale.low
    rough = span / 5.0
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(one * power for one in (1.0, 2.0, 5.0, 10.0) if one * power >= rough)
    first = math.ceil(scale.low / step)
    return [number * step for number in range(first, math.floor(scale.high / step) + 1)]
