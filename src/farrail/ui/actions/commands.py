"""Every command of the window as an action: text, keys, object name, what it does."""

from collections.abc import Callable

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QWidget

Keys = QKeySequence.StandardKey | str | None


def make_action(window: QWidget, name: str, text: str, keys: Keys, run: Callable[[], object]) -> QAction:
    """Return an action added to the window, so that its keys work everywhere in it."""
    action = QAction(text, window)
    action.setObjectName(name)
    if keys is not None:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda _=False: run())
    window.addAction(action)
    return action
