"""Mouse gestures on the rail, one class each: press, move and release in one place."""

from typing import Protocol

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from farrail.language import say
from farrail.train.train import Side
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.section import Body
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.workbook.edits.laying import MovePart

START_PX = 6.0


class Surface(Protocol):
    """What a gesture asks of the rail it is made on."""

    @property
    def session(self) -> Session:
        """The session the rail shows."""

    @property
    def frame(self) -> Frame:
        """How millimetres are on pixels."""

    def pan(self, by_px: float) -> None:
        """Move the view sideways."""

    def joint_at(self, at: QPointF) -> tuple[Side, int] | None:
        """Return the joint nearest a point."""

    def show_drop(self, place: tuple[Side, int] | None) -> None:
        """Mark a joint as the place where something would be placed, or none."""

    def update(self) -> None:
        """Paint again."""


class Gesture(Protocol):
    """Something begun with a press and ended with a release."""

    def move(self, at: QPointF) -> None:
        """Follow the pointer."""

    def release(self, at: QPointF) -> None:
        """End where the pointer is."""

    def paint(self, painter: QPainter) -> None:
        """Draw what the gesture would do."""


class PanGesture:
    """Drag empty paper to move the view sideways."""

    def __init__(self, view: Surface, at: QPointF) -> None:
        """Begin at a point."""
        self._view = view
        self._last = at.x()

    def move(self, at: QPointF) -> None:
        """Move the view along."""
        if at.x() != self._last:
            self._view.pan(at.x() - self._last)
            self._last = at.x()

    def release(self, at: QPointF) -> None:
        """Nothing is left to do."""

    def paint(self, painter: QPainter) -> None:
        """Nothing is drawn."""


class MoveGesture:
    """Drag a part to another joint of its row."""

    def __init__(self, view: Surface, at: QPointF, body: Body) -> None:
        """Begin on a part."""
        self._view = view
        self._start = at
        self._at = at
        self._body = body
        self._moving = False

    def move(self, at: QPointF) -> None:
        """Carry the part's ghost along and mark the joint under it."""
        self._at = at
        if not self._moving and (at - self._start).manhattanLength() > START_PX:
            self._moving = True
        if self._moving:
            place = self._view.joint_at(at)
            same_row = place is not None and place[0] is self._body.side
            self._view.show_drop(place if same_row else None)
            self._view.update()

    def release(self, at: QPointF) -> None:
        """Move the part to the marked joint."""
        self._view.show_drop(None)
        place, session = self._view.joint_at(at), self._view.session
        train = session.train
        if not self._moving or place is None or train is None or place[0] is not self._body.side:
            return
        # A joint's index counts the part itself; to its right it is one lower once the part is lifted.
        to = place[1] - 1 if place[1] > self._body.index else place[1]
        edit = MovePart(train.id, self._body.index, to, self._body.side, label=say("Move {name}", name=self._body.name))
        if to != self._body.index and session.do(edit):
            session.select(Selection(self._body.side, to))

    def paint(self, painter: QPainter) -> None:
        """Draw the part's ghost under the pointer."""
        if not self._moving:
            return
        theme, frame = current_theme(), self._view.frame
        width = max((self._body.z1 - self._body.z0) * frame.scale, 4.0)
        top = max(frame.y(self._body.outer_mm), frame.top_px)
        ghost = QRectF(self._at.x() - width / 2.0, top, width, frame.y(self._body.bore_mm) - top)
        colour = QColor(theme.accent)
        painter.setPen(QPen(colour, 1.4, Qt.PenStyle.DashLine))
        colour.setAlphaF(0.15)
        painter.setBrush(colour)
        painter.drawRect(ghost)
        painter.setFont(font(12, MEDIUM))
        painter.setPen(QColor(theme.accent))
        painter.drawText(ghost.topLeft() + QPointF(2.0, -5.0), self._body.name)
        painter.setBrush(Qt.BrushStyle.NoBrush)
