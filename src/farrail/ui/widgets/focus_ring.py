"""The focus ring: two pixels around the widget that has the keyboard's focus, drawn the same way on everything."""

import shiboken6
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QRegion
from PySide6.QtWidgets import QApplication, QWidget

from farrail.ui.theme.apply import current_theme

BROAD_PX = 2


class Ring(QWidget):
    """The ring itself: is over the widget it is about, and lets everything through."""

    def __init__(self, about: QWidget) -> None:
        """Cover a widget."""
        super().__init__(about)
        self._about = about
        self.setObjectName("focus_ring")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        about.installEventFilter(self)
        self._fit()

    def _fit(self) -> None:
        about = self._about
        self.setGeometry(about.rect())
        inner = about.rect().adjusted(BROAD_PX, BROAD_PX, -BROAD_PX, -BROAD_PX)
        # Only the ring is its own: what is painted under it need not be painted twice.
        self.setMask(QRegion(about.rect()) - QRegion(inner))

    def leave(self) -> None:
        """Go."""
        # What it is about may be gone already, and the ring with it in a moment.
        if shiboken6.isValid(self._about):
            self._about.removeEventFilter(self)
        self.hide()
        self.deleteLater()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Follow the widget's size."""
        if event.type() == QEvent.Type.Resize:
            self._fit()
        return False

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the ring."""
        painter = QPainter(self)
        painter.setPen(QPen(QColor(current_theme().accent), 2.0 * BROAD_PX))
        painter.drawRect(self.rect())
        painter.end()


class FocusRing(QObject):
    """Moves the ring along with the focus; a hand on the mouse needs none."""

    def __init__(self, app: QApplication) -> None:
        """Follow an application's focus."""
        super().__init__(app)
        self._ring: Ring | None = None
        self._last: QWidget | None = None
        app.focusChanged.connect(self._moved)

    def _moved(self, old: QWidget | None, new: QWidget | None) -> None:
        """Draw the ring where the focus went by a key or by the program, not where the mouse took it."""
        before, self._last = self._last, new or self._last
        self._take_away()
        if new is None or QApplication.mouseButtons() != Qt.MouseButton.NoButton:
            return
        # A window that just opened shows no ring until a person moves about in it.
        if old is None and new is not before:
            return
        self._ring = Ring(new)
        self._ring.show()
        self._ring.raise_()

    def _take_away(self) -> None:
        ring, self._ring = self._ring, None
        if ring is not None and shiboken6.isValid(ring):
            ring.leave()
