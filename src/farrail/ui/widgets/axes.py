"""Two scales and what is drawn between them: the one axis painter of all plots."""

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from farrail.language import say
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font

# Between two labels below a scale.
LEAST_GAP_PX = 8.0
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True)
class Scale:
    """The values at a scale's two ends, spread evenly or by their logarithm."""

    low: float
    high: float
    logarithmic: bool = False

    def share(self, values: ArrayLike) -> np.ndarray:
        """Return how far along the scale values are, 0 to 1; beyond its ends less or more. Any shape.

        What no logarithm has is far below the low end.
        """
        found = np.asarray(values, dtype=float)
        if self.logarithmic:
            return np.asarray(np.log(np.maximum(found, 1e-6) / self.low) / math.log(self.high / self.low))
        return np.asarray((found - self.low) / ((self.high - self.low) or 1.0))

    def holds(self, value: float) -> bool:
        """Whether a value is on the scale."""
        return self.low <= value <= self.high


@dataclass(frozen=True)
class Axes:
    """A rectangle of a widget between two scales; `y` runs upward, or downward where its low end is the greater."""

    area: QRectF
    x: Scale
    y: Scale

    def across(self, values: ArrayLike) -> np.ndarray:
        """Return the pixels from the left of values of `x`, any shape."""
        return np.asarray(self.area.left() + self.x.share(values) * self.area.width())

    def down(self, values: ArrayLike) -> np.ndarray:
        """Return the pixels from the top of values of `y`, any shape."""
        return np.asarray(self.area.bottom() - self.y.share(values) * self.area.height())

    def at(self, x: float, y: float) -> QPointF:
        """Return where a pair of values is."""
        return QPointF(float(self.across(x)), float(self.down(y)))

    def line(self, x: ArrayLike, y: ArrayLike) -> QPolygonF:
        """Return the line through pairs of values, (K,) each; pairs without a value are left out."""
        xs, ys = self.across(x), self.down(y)
        seen = np.isfinite(xs) & np.isfinite(ys)
        return QPolygonF([QPointF(a, b) for a, b in zip(xs[seen].tolist(), ys[seen].tolist(), strict=True)])

    def levels(
        self, p: QPainter, marks: Iterable[tuple[float, str]], *, strong: float | None = None, clear_px: float = 7.0
    ) -> None:
        """Draw hairlines at values of `y` with a label so far left of each; one of them may be out."""
        theme = current_theme()
        p.setFont(font(11))
        for value, text in marks:
            y = float(self.down(value))
            p.setPen(QPen(QColor(theme.hairline), 1.0))
            p.drawLine(QPointF(self.area.left(), y), QPointF(self.area.right(), y))
            p.setPen(QColor(theme.ink if value == strong else theme.steel))
            p.drawText(QRectF(0.0, y - 8.0, self.area.left() - clear_px, 16.0), RIGHT, text)

    def feet(self, p: QPainter, values: Iterable[float], *, ticked: bool = False, each: float = 1.0) -> None:
        """Write values of `x` below the scale, those that have room; with ticks or without.

        Args:
            p: what is painted with.
            values: what is written.
            ticked: with a tick at each.
            each: how much of `x` one of them is: 25.4 where they are inches on a scale of mm.
        """
        theme, metrics = current_theme(), _metrics(p)
        written = -100.0
        for number in values:
            value = number * each
            if not self.x.holds(value):
                continue
            x = float(self.across(value))
            if ticked:
                p.setPen(QPen(QColor(theme.hairline), 1.0))
                p.drawLine(QPointF(x, self.area.bottom()), QPointF(x, self.area.bottom() + 4.0))
            text = say("{value:g}", value=number)
            wide = metrics.horizontalAdvance(text)
            left = min(x - wide / 2.0, self.area.right() + 6.0 - wide)
            if left > written + LEAST_GAP_PX:
                p.setPen(QColor(theme.steel))
                p.drawText(QPointF(left, self.area.bottom() + 15.0), text)
                written = left + wide

    def titles(self, p: QPainter, below: str, above: str = "") -> None:
        """Say what the scales measure: `x` below at the right, `y` above at the left."""
        p.setPen(QColor(current_theme().steel))
        wide = _metrics(p).horizontalAdvance(below)
        p.drawText(QPointF(self.area.right() - wide, self.area.bottom() + 30.0), below)
        if above:
            p.drawText(QPointF(0.0, 11.0), above)

    def upright(self, p: QPainter, value: float, colour: str, style: Qt.PenStyle = Qt.PenStyle.DashLine) -> float:
        """Draw a line over the whole height at a value of `x`; returns its pixels from the left."""
        x = float(self.across(value))
        p.setPen(QPen(QColor(colour), 1.0, style))
        p.drawLine(QPointF(x, self.area.top() - 2.0), QPointF(x, self.area.bottom()))
        return x

    def limit(self, p: QPainter, value: float, colour: str, style: Qt.PenStyle = Qt.PenStyle.DotLine) -> None:
        """Draw a line over the whole width at a value of `y`; its style distinguishes it without its colour."""
        y = float(self.down(value))
        p.setPen(QPen(QColor(colour), 1.0, style))
        p.drawLine(QPointF(self.area.left(), y), QPointF(self.area.right(), y))

    def curve(self, p: QPainter, line: QPolygonF, colour: str) -> None:
        """Draw a curve about two pixels broad."""
        p.setBrush(Qt.BrushStyle.NoBrush)
        # Three fine lines beside one another: a single broad one takes twenty times as long.
        p.setPen(QPen(QColor(colour), 1.0))
        for beside in (-0.6, 0.0, 0.6):
            p.drawPolyline(line.translated(0.0, beside))

    def wash(self, p: QPainter, line: QPolygonF, colour: str) -> None:
        """Tint what is below a curve."""
        fill = QPolygonF(line)
        fill.append(QPointF(line.last().x(), self.area.bottom()))
        fill.append(QPointF(line.first().x(), self.area.bottom()))
        tint = QColor(colour)
        tint.setAlphaF(0.16)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(tint)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.drawPolygon(fill)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setBrush(Qt.BrushStyle.NoBrush)


def dot(p: QPainter, at: QPointF, colour: str, radius_px: float = 4.5) -> None:
    """Draw a dot that is clear of the lines under it."""
    p.setPen(QPen(QColor(current_theme().panel), 1.5))
    p.setBrush(QColor(colour))
    p.drawEllipse(at, radius_px, radius_px)
    p.setBrush(Qt.BrushStyle.NoBrush)


def note(p: QPainter, at: QPointF, text: str, colour: str, ground: str) -> None:
    """Write a text on a ground of its own, so that lines under it do not cross it."""
    metrics = _metrics(p)
    wide = metrics.horizontalAdvance(text)
    p.fillRect(QRectF(at.x() - 3.0, at.y() - metrics.ascent(), wide + 6.0, metrics.height()), QColor(ground))
    p.setPen(QColor(colour))
    p.drawText(at, text)


def _metrics(p: QPainter) -> QFontMetricsF:
    return QFontMetricsF(p.font())
