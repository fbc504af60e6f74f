"""The frame at close range: a rule across it, and the subject's outline in its true proportion."""

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail import lengths
from farrail.language import say
from farrail.quantities import unit_word
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

RULE_PX, CAPTION_PX = 26.0, 20.0
# Steps of a rule in the unit lengths are shown in, and the least room between its numbers.
STEPS = (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0)
LEAST_STEP_PX = 30.0


@dataclass(frozen=True)
class Shown:
    """What fills a frame: width and height in mm, the subject's width or None, and where this is.

    `words` names the point: the train itself, or a combination under the pointer.
    """

    width_mm: float
    height_mm: float
    subject_mm: float | None
    words: str


class FrameRule(QWidget):
    """Draws one frame."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty frame."""
        super().__init__(parent)
        self.setObjectName("close_frame")
        self.setAccessibleName(say("The frame with a rule"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.shown: Shown | None = None

    def show_frame(self, shown: Shown | None) -> None:
        """Show another frame."""
        if shown != self.shown:
            self.shown = shown
            self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(190, 170)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(130, 110)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint frame, subject and rule."""
        shown, theme = self.shown, current_theme()
        if shown is None or not math.isfinite(shown.width_mm):
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(1.0, CAPTION_PX, self.width() - 2.0, self.height() - CAPTION_PX - RULE_PX)
        scale = min(room.width() / shown.width_mm, room.height() / shown.height_mm)
        frame = QRectF(0.0, 0.0, shown.width_mm * scale, shown.height_mm * scale)
        frame.moveTopLeft(QPointF((self.width() - frame.width()) / 2.0, room.top()))
        p.setFont(font(11))
        p.setPen(QColor(theme.steel))
        words = p.fontMetrics().elidedText(shown.words, Qt.TextElideMode.ElideRight, self.width())
        p.drawText(QPointF(0.0, 12.0), words)
        p.setPen(QPen(QColor(theme.ink), 1.2))
        p.setBrush(QColor(theme.panel))
        p.drawRect(frame)
        self._subject(p, frame, shown, scale)
        self._rule(p, frame, shown.width_mm, scale)
        p.end()

    def _subject(self, p: QPainter, frame: QRectF, shown: Shown, scale: float) -> None:
        """Draw an outline as wide as the subject, two thirds as high; what leaves the frame is cut."""
        if shown.subject_mm is None:
            return
        theme = current_theme()
        wide = shown.subject_mm * scale
        outline = QRectF(0.0, 0.0, wide, wide * 2.0 / 3.0)
        outline.moveCenter(frame.center())
        p.save()
        p.setClipRect(frame)
        wash = QColor(theme.accent)
        wash.setAlphaF(0.16)
        p.setBrush(wash)
        p.setPen(QPen(QColor(theme.accent), 1.4))
        p.drawEllipse(outline)
        p.restore()

    def _rule(self, p: QPainter, frame: QRectF, width_mm: float, scale: float) -> None:
        theme = current_theme()
        each = lengths.current().mm
        width, scale = width_mm / each, scale * each
        step = next((s for s in STEPS if s * scale >= LEAST_STEP_PX), STEPS[-1])
        y = frame.bottom() + 4.0
        p.setPen(QPen(QColor(theme.ink), 1.0))
        p.drawLine(QPointF(frame.left(), y), QPointF(frame.right(), y))
        count = math.floor(width / step + 1e-9)
        fine = step / 5.0 if str(step).strip("0.")[0] in "15" else step / 4.0
        for number in range(math.floor(width / fine + 1e-9) + 1):
            x = frame.left() + number * fine * scale
            p.drawLine(QPointF(x, y), QPointF(x, y + 3.0))
        p.setFont(font(11, MEDIUM))
        for number in range(count + 1):
            x = frame.left() + number * step * scale
            p.setPen(QPen(QColor(theme.ink), 1.0))
            p.drawLine(QPointF(x, y), QPointF(x, y + 6.0))
            text = say("{step:g}", step=round(number * step, 6))
            text = f"{text} {unit_word('mm')}" if number == count and count and x < frame.right() - 12.0 else text
            wide = p.fontMetrics().horizontalAdvance(text)
            p.setPen(QColor(theme.steel))
            p.drawText(QPointF(min(max(x - wide / 2.0, 0.0), self.width() - wide), y + 18.0), text)
