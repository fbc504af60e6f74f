"""Being ended from outside: by a signal, or with the desktop session. Unsaved work is kept for the next start."""

import signal
import socket
from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier
from PySide6.QtGui import QGuiApplication, QSessionManager

from farrail.ui.session import Session

ENDING = (signal.SIGTERM, signal.SIGHUP)


class Ending(QObject):
    """Watches for the program's end from outside."""

    def __init__(
        self, sessions: Callable[[], list[Session]], close: Callable[[], object], parent: QObject | None = None
    ) -> None:
        """Begin to watch; `close` is the polite way, for an interrupt from the terminal."""
        super().__init__(parent)
        self._sessions, self._close = sessions, close
        # Python sees a signal only when it runs; the byte its handler writes wakes Qt's loop.
        self._woken, self._wakes = socket.socketpair()
        for end in (self._woken, self._wakes):
            end.setblocking(False)
        signal.set_wakeup_fd(self._wakes.fileno())
        self._notifier = QSocketNotifier(self._woken.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._wake)
        for number in (*ENDING, signal.SIGINT):
            signal.signal(number, lambda *_: None)
        app = QGuiApplication.instance()
        if isinstance(app, QGuiApplication):
            app.commitDataRequest.connect(self._commit)

    def _wake(self) -> None:
        numbers = self._woken.recv(64)
        ending = [number for number in numbers if number in ENDING]
        if ending:
            for session in self._sessions():
                session.end_from_outside()
            QGuiApplication.exit(128 + ending[0])
        elif signal.SIGINT in numbers:
            self._close()

    def _commit(self, manager: QSessionManager) -> None:
        """The desktop session ends: nothing is asked, the work is kept."""
        for session in self._sessions():
            session.autosave()
