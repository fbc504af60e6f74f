"""A hand that counts: every click, every key outside a field, every field typed (with the Enter that ends it)."""

from dataclasses import dataclass, field

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QPushButton
from tests.ui.hands import LEFT, found

from farrail.ui.window import MainWindow


@dataclass
class Hand:
    """Drives one window and counts what it does."""

    window: MainWindow
    count: int = 0
    done: list[str] = field(default_factory=list)

    def _one(self, what: str) -> None:
        self.count += 1
        self.done.append(what)
        QApplication.processEvents()

    def click(self, name: str) -> None:
        """Click a button that can be seen."""
        button = found(self.window, QPushButton, name)
        assert button.isVisible(), name
        assert button.isEnabled(), name
        QTest.mouseClick(button, LEFT)
        self._one(f"click {name}")

    def key(self, key: Qt.Key) -> None:
        """Press a key where the focus is."""
        at = self.window.focusWidget()
        assert at is not None
        QTest.keyClick(at, key)
        self._one(f"press {key.name}")

    def type(self, text: str, name: str = "") -> None:
        """Type into the field that has the focus, and Enter; by name a click into it counts too."""
        if name:
            line = found(self.window, QLineEdit, name)
            QTest.mouseClick(line, LEFT)
            self._one(f"click {name}")
            line.selectAll()
        at = self.window.focusWidget()
        assert isinstance(at, QLineEdit), f"{text!r} goes nowhere: {at}"
        QTest.keyClicks(at, text)
        QTest.keyClick(at, Qt.Key.Key_Return)
        self._one(f"type {text!r} into {at.objectName()}")

    def skip(self, times: int = 1) -> None:
        """Press Enter in an empty field: not known, go on."""
        for _ in range(times):
            self.key(Qt.Key.Key_Return)

    def take(self, name: str, part: str) -> None:
        """Open a menu of the shelf and choose a part: two clicks."""
        button = found(self.window, QPushButton, name)
        assert button.isVisible()
        action = next(a for a in button.menu().actions() if a.text() == part)
        assert isinstance(action, QAction)
        action.trigger()
        self._one(f"open {name}")
        self._one(f"choose {part}")
