"""The message bar: what happened, why, and what to do next, without stopping anyone."""

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from farrail.language import say
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.plain import Label

SHOWN_MS, MS_A_LETTER = 9000, 120


Action = tuple[str, str, Callable[[], object]]


class MessageBar(QFrame):
    """One sentence at the window's foot, with up to two things to do about it.

    An offer waits behind what is said meanwhile, and comes back until it is answered.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make a hidden bar."""
        super().__init__(parent)
        self.setObjectName("message_bar")
        self.text = Label()
        self.text.setObjectName("message_text")
        self.text.setFont(font(13, MEDIUM))
        self.text.setWordWrap(True)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(18, 6, 12, 6)
        self._row.addWidget(self.text, 1)
        self._buttons: list[QPushButton] = []
        self._away = QTimer(self)
        self._away.setSingleShot(True)
        self._away.setInterval(SHOWN_MS)
        self._away.timeout.connect(self.read)
        self._offer: tuple[str, tuple[Action, ...]] | None = None
        self._next: Callable[[], object] | None = None
        self.hide()

    def say(self, text: str, trouble: bool, actions: tuple[Action, ...] = ()) -> None:
        """Show a sentence; with actions (text, object name, what to do) it stays until one is taken."""
        self._show(text, trouble, (*actions, *(((say("Dismiss"), "message_dismiss", _nothing),) if actions else ())))

    def offer(self, text: str, actions: tuple[Action, ...]) -> None:
        """Show a question that stays, behind what else is said, until one of its actions is taken."""
        self._offer = text, actions
        self._show(text, True, tuple((label, name, self._answer(action)) for label, name, action in actions))

    def afterwards(self, run: Callable[[], object]) -> None:
        """Run something once what is being said has been read."""
        self._next = run

    def _answer(self, action: Callable[[], object]) -> Callable[[], object]:
        def do() -> None:
            self._offer = None
            self.hide()
            action()

        return do

    def read(self) -> None:
        """What was said has been read: it goes, and an offer not yet answered comes back."""
        self.hide()
        if self._offer is not None:
            self.offer(*self._offer)
        elif self._next is not None:
            run, self._next = self._next, None
            run()

    def put_away(self) -> None:
        """Close what is said; a question is put off where it can be, and stays where it must be answered."""
        if not self._buttons:
            self.read()
            return
        away = next((button for button in self._buttons if button.objectName() == "message_dismiss"), None)
        if away is not None:
            away.click()

    def _show(self, text: str, trouble: bool, actions: tuple[Action, ...]) -> None:
        self.text.setText(f"◆  {text}" if trouble else text)
        self.setProperty("trouble", "true" if trouble else "false")
        for widget in (self, self.text):
            widget.style().unpolish(widget)
            widget.style().polish(widget)
        for button in self._buttons:
            button.hide()
            button.setObjectName("")
            button.deleteLater()
        self._buttons = []
        for label, name, action in actions:
            button = QPushButton(label)
            button.setObjectName(name)
            button.clicked.connect(self._doer(action))
            self._row.addWidget(button)
            self._buttons.append(button)
        self.show()
        if QAccessible.isActive():
            event = QAccessibleAnnouncementEvent(self, text)
            if trouble:
                event.setPoliteness(QAccessible.AnnouncementPoliteness.Assertive)
            QAccessible.updateAccessibility(event)
        # A sentence stays as long as it takes to be heard.
        self._away.setInterval(max(SHOWN_MS, MS_A_LETTER * len(text)))
        if actions:
            self._away.stop()
        else:
            self._away.start()

    def _doer(self, action: Callable[[], object]) -> Callable[[], object]:
        def do() -> None:
            self.hide()
            action()
            if self.isHidden():
                self.read()

        return do


def _nothing() -> None:
    """Dismissing does nothing more."""
