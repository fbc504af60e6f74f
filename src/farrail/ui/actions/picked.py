"""Commands for the selected part: they can be used while one is selected, and say what to do while none is."""

from collections.abc import Mapping

from PySide6.QtCore import QObject
from PySide6.QtGui import QAction

from farrail.language import say
from farrail.ui.session import Session

NAMES = ("turn", "flip", "remove", "move_left", "move_right")


class PickedCommands(QObject):
    """Keeps those commands in step with what is selected on the rail."""

    def __init__(self, session: Session, actions: Mapping[str, QAction], parent: QObject) -> None:
        """Follow a session's selection."""
        super().__init__(parent)
        self._session = session
        self._actions = tuple(actions[name] for name in NAMES)
        session.selection_changed.connect(self._follow)
        session.train_changed.connect(self._follow)
        self._follow()

    def _follow(self) -> None:
        picked = self._session.selection
        usable = self._session.train is not None and not picked.empty and not picked.joint
        reason = "" if usable else say("Select a part on the rail first.")
        for action in self._actions:
            action.setEnabled(usable)
            action.setToolTip(reason or action.text())
            action.setStatusTip(reason)
