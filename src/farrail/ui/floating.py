"""The rail in a window of its own, for a second screen, and back again."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QCloseEvent, QGuiApplication, QKeyEvent, QKeySequence, QShortcut
from PySide6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.dropping import Dropping
from farrail.ui.rail.view import RailView
from farrail.ui.session import Session
from farrail.ui.widgets.plain import plain_title

WIDE_PX, HIGH_PX = 1180, 460


class RailWindow(QWidget):
    """A window that holds nothing but the rail."""

    closing = Signal()

    def __init__(self, rail: RailView, owner: QWidget) -> None:
        """Take the rail; closing hands it back."""
        super().__init__(owner, Qt.WindowType.Window)
        self.setObjectName("rail_window")
        self._owner = owner
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(rail)
        # What the owner's keys do they do here.
        self.addActions(owner.actions())
        self.resize(WIDE_PX, HIGH_PX)
        # What is dropped here goes where it goes from the owner.
        dropping = owner.findChild(Dropping)
        if dropping is not None:
            dropping.serve(self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """What the rail leaves is the owner's: Escape ends a preview."""
        self._owner.keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        """Hand the rail back."""
        self.closing.emit()
        event.accept()


class Floating(QObject):
    """Takes the rail out of its window, and puts it back."""

    def __init__(
        self, split: QSplitter, rail: RailView, session: Session, owner: QWidget, follow: Callable[[], None]
    ) -> None:
        """Serve one window; `follow` has the rail are as its station wants once it is back."""
        super().__init__(owner)
        self._split, self._rail, self._session, self._owner, self._follow = split, rail, session, owner, follow
        self._apart: RailWindow | None = None
        session.changed.connect(self._name)
        session.train_changed.connect(self._name)

    @property
    def apart(self) -> RailWindow | None:
        """The window the rail is in by itself, or None."""
        return self._apart

    def toggle(self) -> None:
        """Take the rail out, or put it back."""
        if self._apart is None:
            self._take_out()
        else:
            self._apart.close()

    def _take_out(self) -> None:
        apart = RailWindow(self._rail, self._owner)
        self._apart = apart
        apart.closing.connect(self._put_back)
        # On another screen, where there is one.
        home = self._owner.screen()
        other = next((screen for screen in QGuiApplication.screens() if screen is not home), None)
        if other is not None:
            room = other.availableGeometry()
            apart.setGeometry(room.adjusted(40, 60, -40, -max(room.height() - HIGH_PX, 120)))
        leave = QShortcut(QKeySequence(QKeySequence.StandardKey.Close), apart)
        leave.activated.connect(apart.close)
        self._name()
        apart.show()
        self._rail.fit()
        self._rail.setFocus(Qt.FocusReason.OtherFocusReason)

    def _put_back(self) -> None:
        if self._apart is None:
            return
        apart, self._apart = self._apart, None
        self._split.insertWidget(0, self._rail)
        self._rail.show()
        apart.deleteLater()
        # Once the splitter has its two again.
        QTimer.singleShot(0, self, self._settle)

    def _settle(self) -> None:
        self._follow()
        self._rail.fit()

    def end(self) -> None:
        """Put the rail back: its window closes."""
        if self._apart is not None:
            self._apart.close()

    def _name(self) -> None:
        if self._apart is not None:
            train = self._session.train
            name = "" if train is None else f"{train.name} – "
            self._apart.setWindowTitle(plain_title(say("{name}rail – Far Rail", name=name)))
