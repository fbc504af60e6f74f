"""Cut sections of two to four trains one above another: one scale, one line through all their datums."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.readouts.headlines import train_headline
from farrail.readouts.read import Readout
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.painter import SectionPainter
from farrail.ui.rail.section import Section, cut_section
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, STRONG, draw_text, elided, font, text_width_px
from farrail.ui.widgets.compare_curves import LETTERS
from farrail.ui.widgets.sharing import share_picture

SIDE_PX, NAME_PX, FOOT_PX = 16.0, 22.0, 7.0
# Taller parts are cut by the next train's name rather than making everything small.
MOST_RADIUS_MM = 60.0


class CompareRails(QWidget):
    """Rails stacked."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty sheet."""
        super().__init__(parent)
        self.setObjectName("compare_rails")
        self.setAccessibleName(say("Trains one above another, at one scale"))
        share_picture(self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._named: tuple[tuple[str, Readout], ...] = ()
        self._sections: list[Section] = []
        self._at_seat = False

    def show_trains(self, named: Sequence[tuple[str, Readout]], *, at_seat: bool) -> None:
        """Show trains by name, aligned at the datum or at the lens's thread seat."""
        changed = [readout for _, readout in named] != [readout for _, readout in self._named]
        self._named, self._at_seat = tuple(named), at_seat
        if changed:
            self._sections = [cut_section(readout) for _, readout in named]
        self.setAccessibleDescription("; ".join(f"{name}: {train_headline(readout)[0]}" for name, readout in named))
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(600, 230)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(260, 150)

    @property
    def scale_and_zero(self) -> tuple[float, float]:
        """Pixels per millimetre, and the column where all are aligned."""
        left = min((s.left_mm - z for s, z in self._placed()), default=-10.0)
        right = max((s.right_mm - z for s, z in self._placed()), default=10.0)
        tallest = min(max((s.tallest_mm for s in self._sections), default=20.0), MOST_RADIUS_MM)
        room = self.height() / max(len(self._sections), 1) - NAME_PX - FOOT_PX
        scale = min((self.width() - 2.0 * SIDE_PX) / max(right - left, 10.0), max(room, 10.0) / tallest)
        middle = (left + right) / 2.0
        return scale, self.width() / 2.0 - middle * scale

    def _placed(self) -> list[tuple[Section, float]]:
        """Return each section with the place on its rail where it is aligned."""
        seats = [readout.layout.front_seat_mm if self._at_seat else 0.0 for _, readout in self._named]
        return list(zip(self._sections, seats, strict=True))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint every train in a strip of its own, and the line through all."""
        p, theme = QPainter(self), current_theme()
        p.fillRect(self.rect(), QColor(theme.paper))
        if not self._sections:
            p.end()
            return
        scale, zero = self.scale_and_zero
        high = self.height() / len(self._sections)
        for number, (section, at) in enumerate(self._placed()):
            top = number * high
            frame = Frame(
                scale, zero - at * scale, top + high - FOOT_PX, float(self.width()), float(self.height()), top + NAME_PX
            )
            SectionPainter(p, frame, theme).paint(section, None)
            p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DashDotLine))
            p.drawLine(QPointF(0.0, frame.axis_px), QPointF(self.width(), frame.axis_px))
            self._name(p, number, top)
        p.setPen(QPen(QColor(theme.accent), 1.0, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(zero, NAME_PX - 6.0), QPointF(zero, self.height() - 1.0))
        p.end()

    def _name(self, p: QPainter, number: int, top: float) -> None:
        theme = current_theme()
        name, readout = self._named[number]
        p.setPen(QColor(theme.ink))
        draw_text(p, 6.0, top + 15.0, LETTERS[number], 13, STRONG)
        draw_text(p, 24.0, top + 15.0, elided(name, 13, MEDIUM, self.width() * 0.5), 13, MEDIUM)
        told = elided(train_headline(readout)[0], 12, MEDIUM, self.width() * 0.4)
        p.setPen(QColor(theme.stop if readout.stops else theme.good if readout.verdict.met else theme.steel))
        p.setFont(font(12))
        draw_text(p, self.width() - text_width_px(told, 12, MEDIUM) - 6.0, top + 15.0, told, 12, MEDIUM)
