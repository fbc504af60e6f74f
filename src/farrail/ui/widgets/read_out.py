"""Pictures that are read by key: arrows go from point to point, and each is said in a sentence."""

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QAccessible, QAccessibleValueChangeEvent, QColor, QFocusEvent, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import QLabel, QLineEdit, QSlider, QWidget

from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text, text_width_px
from farrail.ui.widgets.sharing import share_picture

RADIUS_PX = 6.0
TOLD_IN = "told_in"


def told_in(slider: QSlider, shown: QWidget) -> None:
    """Have a slider's value said as another widget shows it, with its unit."""
    slider.setProperty(TOLD_IN, shown)


def slider_words(slider: QSlider) -> str:
    """Return what a slider stands for: the text of what shows its value, else its number."""
    shown = slider.property(TOLD_IN)
    return shown.text() if isinstance(shown, (QLineEdit, QLabel)) and shown.text() else str(slider.value())


@dataclass(frozen=True)
class Point:
    """A point of a picture: where it is drawn, and what is said of it."""

    at: QPointF
    said: str


class ReadOut(QWidget):
    """A picture whose points are walked with the arrows; `columns` of them are side by side where it is a field.

    Subclasses return their points and one sentence for the whole, and call `paint_point` when they have painted.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        """Be at no point yet."""
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._point_at = -1
        share_picture(self)

    @property
    def columns(self) -> int:
        """How many points are side by side; 1: they are one row, and up and down do what left and right do."""
        return 1

    def points(self) -> Sequence[Point]:
        """Return the points, from the left."""
        return ()

    def sentence(self) -> str:
        """Return what the whole picture says."""
        return ""

    def said(self) -> str:
        """Return what is said of the point that is read, else of the whole."""
        points = self.points() if self._point_at >= 0 else ()
        return points[self._point_at].said if 0 <= self._point_at < len(points) else self.sentence()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Walk the points; Escape leaves them."""
        wide = self.columns
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -wide, Qt.Key.Key_Down: wide,
            Qt.Key.Key_Home: -10_000, Qt.Key.Key_End: 10_000,
        }  # fmt: skip
        step = steps.get(Qt.Key(event.key()))
        if step is None or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            if event.key() == Qt.Key.Key_Escape and self._point_at >= 0:
                self._go(-1)
                return
            super().keyPressEvent(event)
            return
        count = len(self.points())
        if not count:
            return
        to = self._point_at + step
        if self._point_at < 0:
            # From the left, and in a field from its middle.
            to = 0 if wide == 1 else count // 2
        elif wide > 1 and abs(step) == wide and not 0 <= to < count:
            # Above a field's first row and below its last there is nothing.
            to = self._point_at
        self._go(min(max(to, 0), count - 1))

    def _go(self, to: int) -> None:
        """Read another point; −1 for none."""
        self._point_at = to
        self.arrived(to)
        self.update()
        if QAccessible.isActive():
            QAccessible.updateAccessibility(QAccessibleValueChangeEvent(self, self.said()))

    def arrived(self, number: int) -> None:
        """Do what the picture does when a point comes under the hand; −1 for none."""

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Leave the points: elsewhere no one reads them."""
        if self._point_at >= 0:
            self._go(-1)
        super().focusOutEvent(event)

    def paint_point(self, painter: QPainter) -> None:
        """Draw the point that is read, with what is said of it."""
        points = self.points() if self._point_at >= 0 else ()
        if not 0 <= self._point_at < len(points):
            return
        theme, point = current_theme(), points[self._point_at]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, wide in ((theme.panel, 4.0), (theme.accent, 2.0)):
            painter.setPen(QPen(QColor(colour), wide))
            painter.drawEllipse(point.at, RADIUS_PX, RADIUS_PX)
        wide = text_width_px(point.said, 12, MEDIUM)
        x = min(max(point.at.x() + 10.0, 2.0), max(self.width() - wide - 8.0, 2.0))
        y = point.at.y() - 12.0 if point.at.y() > 30.0 else point.at.y() + 24.0
        painter.fillRect(QRectF(x - 4.0, y - 13.0, wide + 8.0, 19.0), QColor(theme.panel))
        painter.setPen(QColor(theme.ink))
        draw_text(painter, x, y, point.said, 12, MEDIUM)
