"""The message bar: what happened, why, and what to do next, without stopping anyone."""

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

from farrail.ui.theme.fonts import MEDIUM, font

SHOWN_MS = 9000


class MessageBar(QFrame):
    """One sentence at the window's foot, with up to two things to do about it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make a hidden bar."""
        super().__init__(parent)
        self.setObjectName("message_bar")
        self.text = QLabel()
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
        self._away.timeout.connect(self.hide)
        self.hide()

    def say(self, text: str, trouble: bool, actions: tuple[tuple[str, str, Callable[[], object]], ...] = ()) -> None:
        """Show a sentence; with actions (text, object name, what to do) it stays until one is taken."""
        self.text.setText(f"◆  {text}" if trouble else text)
        self.setProperty("trouble", "true" if trouble else "false")
        for widget in (self, self.text):
            widget.style().unpolish(widget)
            widget.style().polish(widget)
        for button in self._buttons:
            button.deleteLater()
        self._buttons = []
        for label, name, action in (*actions, *((("Dismiss", "message_dismiss", self.hide),) if actions else ())):
            button = QPushButton(label)
            button.setObjectName(name)
            button.clicked.connect(self._doer(action))
            self._row.addWidget(button)
            self._buttons.append(button)
        self.show()
        if actions:
            self._away.stop()
        else:
            self._away.start()

    def _doer(self, action: Callable[[], object]) -> Callable[[], object]:
        def do() -> None:
            self.hide()
            action()

        return do
