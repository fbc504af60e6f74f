"""A calibrated value as a bar: the interval that holds it, the value in it, and what was known before."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.quantities import in_words
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text, text_width_px

SIDE_PX, LINE_PX, BAR_PX = 14.0, 22.0, 8.0


class IntervalBar(QWidget):
    """One bar; empty while nothing is picked."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        """Make an empty bar."""
        super().__init__(parent)
        self.setObjectName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._ends: tuple[float, float, float] | None = None
        self._before: float | None = None
        self._digits, self._unit = 2, ""

    def show_value(self, ends: tuple[float, float, float] | None, before: float | None, digits: int, unit: str) -> None:
        """Show low end, value and high end, and the value before; None shows nothing."""
        self._ends, self._before, self._digits, self._unit = ends, before, digits, unit
        told = (
            ""
            if ends is None
            else say(
                "{ends}, between {ends_2} and {ends_3}",
                ends=self._words(ends[1]),
                ends_2=self._words(ends[0]),
                ends_3=self._words(ends[2]),
            )
        )
        if told and before is not None:
            told += say("; before {before}", before=self._words(before))
        self.setAccessibleName(told)
        self.setToolTip(told)
        self.update()

    def _words(self, value: float) -> str:
        return in_words(value, self._unit, self._digits)[0]

    def sizeHint(self) -> QSize:
        """Return its height."""
        return QSize(240, 50)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the line, the interval, the value and what was before."""
        if self._ends is None:
            return
        p, theme = QPainter(self), current_theme()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        low, value, high = self._ends
        known = [low, high, *(() if self._before is None else (self._before,))]
        left, right = min(known), max(known)
        room = max(right - left, 1e-9) * 0.12
        left, right = left - room, right + room
        wide = self.width() - 2.0 * SIDE_PX

        def x(number: float) -> float:
            return float(SIDE_PX + (number - left) / (right - left) * wide)

        p.setPen(QPen(QColor(theme.steel), 1.0))
        p.drawLine(QPointF(SIDE_PX, LINE_PX), QPointF(self.width() - SIDE_PX, LINE_PX))
        band = QRectF(x(low), LINE_PX - BAR_PX / 2.0, max(x(high) - x(low), 2.0), BAR_PX)
        p.setBrush(QColor(theme.accent_wash))
        p.setPen(QPen(QColor(theme.accent), 1.0))
        p.drawRect(band)
        p.setBrush(QColor(theme.ink))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawEllipse(QPointF(x(value), LINE_PX), 4.0, 4.0)
        p.setPen(QColor(theme.ink))
        self._write(p, x(value), say("calibrated {minus}", minus=self._words(value)), LINE_PX - 9.0)
        if self._before is not None:
            p.setPen(QPen(QColor(theme.steel), 2.0))
            at = x(self._before)
            p.drawLine(QPointF(at, LINE_PX - 7.0), QPointF(at, LINE_PX + 7.0))
            self._write(p, at, say("now {minus}", minus=self._words(self._before)), LINE_PX + 21.0)
        p.end()

    def _write(self, p: QPainter, at: float, text: str, y: float) -> None:
        wide = text_width_px(text, 12, MEDIUM)
        draw_text(p, min(max(at - wide / 2.0, 0.0), self.width() - wide), y, text, 12, MEDIUM)
