"""Garbage collection off the hand: it runs when nothing is dragged, in small sweeps, and never within an edit."""

import gc
from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer

from farrail.ui.session import Session

EVERY_MS = 1500
# Each so many small sweeps one that looks at everything made since the window was.
FULL_EVERY = 40


class Tidying(QObject):
    """Sweeps away what edits leave behind while the hand rests."""

    def __init__(self, sessions: Callable[[], list[Session]], parent: QObject | None = None) -> None:
        """Begin: what is now is until the end, and need not be walked again."""
        super().__init__(parent)
        self._sessions = sessions
        self._sweeps = 0
        gc.collect()
        gc.freeze()
        gc.disable()
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self.sweep)
        self._timer.start()

    def sweep(self) -> None:
        """Sweep once, unless a hand is dragging."""
        if not any(session.dragging for session in self._sessions()):
            self._sweeps += 1
            gc.collect(2 if self._sweeps % FULL_EVERY == 0 else 1)
