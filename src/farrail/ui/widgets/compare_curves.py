"""Curves of two to four trains in one picture."""

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail import lengths
from farrail.language import say
from farrail.lengths import LengthUnit
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.axes import Axes, Scale, note
from farrail.ui.widgets.sharing import share_picture

# What the trains compared are called.
LETTERS = "ABCD"


# What is written below the curves: heights in the unit lengths are shown in, focal lengths in mm.
HEIGHTS = {LengthUnit.MM: (5, 10, 15, 20), LengthUnit.INCH: (0.2, 0.4, 0.6, 0.8)}
FOCAL_LENGTHS_MM = (10, 12, 14, 17, 20, 24, 28, 35, 50, 70, 100, 200, 400)


class CompareCurves(QWidget):
    """Curves of several trains in one picture, each with its letter at its end and a dash of its own."""

    DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine)

    def __init__(self, name: str, title: str, parent: QWidget | None = None) -> None:
        """Make an empty picture."""
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(title)
        share_picture(self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._title = title
        self._below, self._curves = "", tuple[tuple[str, Sequence[float], Sequence[float]], ...]()
        self._top = 1.0
        self._percent = False

    def show_curves(
        self, curves: Sequence[tuple[str, Sequence[float], Sequence[float]]], below: str, top: float, *, percent: bool
    ) -> None:
        """Show curves by letter.

        Args:
            curves: letter, values across, values up.
            below: what runs across.
            top: the upper end of the scale.
            percent: whether the scale runs up in percent; else downward in stops.
        """
        self._curves, self._below, self._top, self._percent = tuple(curves), below, top, percent
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(300, 190)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the scales and the curves."""
        p, theme = QPainter(self), current_theme()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QColor(theme.steel))
        p.setFont(font(11))
        p.drawText(QPointF(2.0, 12.0), self._title)
        if not self._curves:
            p.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, say("These trains have no curves to draw"))
            p.end()
            return
        area = QRectF(40.0, 24.0, self.width() - 62.0, self.height() - 62.0)
        low = min(min(x) for _, x, _ in self._curves)
        high = max(max(x) for _, x, _ in self._curves)
        if high <= low:
            low, high = low * 0.9, high * 1.1 + 1e-6
        scale = Scale(0.0, self._top) if self._percent else Scale(self._top, 0.0)
        axes = Axes(area, Scale(low, high, logarithmic=not self._percent), scale)
        shares = (0.0, 0.5, 1.0)
        axes.levels(
            p,
            [
                (
                    share * self._top,
                    say("{share:.0f} %", share=100 * share) if self._percent else say("{top:g}", top=share * self._top),
                )
                for share in shares
            ],
        )
        if self._percent:
            axes.feet(p, HEIGHTS[lengths.current()], each=lengths.current().mm)
        else:
            axes.feet(p, FOCAL_LENGTHS_MM)
        axes.titles(p, self._below)
        colours = (theme.stop, theme.corner_light, theme.good, theme.ink)
        for number, (letter, x, y) in enumerate(self._curves):
            line = axes.line(np.asarray(x), np.minimum(np.asarray(y, dtype=float), self._top))
            p.setPen(QPen(QColor(colours[LETTERS.index(letter)]), 1.6, self.DASHES[LETTERS.index(letter)]))
            p.drawPolyline(line)
            if line.count():
                end = line.last()
                p.setFont(font(12, STRONG))
                at = QPointF(area.right() + 6.0, end.y() + 4.0 + 3.0 * number)
                note(p, at, letter, colours[LETTERS.index(letter)], theme.paper)
        p.end()
