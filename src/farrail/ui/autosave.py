"""When unsaved work is kept: at a quiet moment, and at the latest some seconds after the first unsaved edit."""

from PySide6.QtCore import QObject, QTimer

from farrail.ui.session import Session

QUIET_MS = 4000
# With the writing itself this stays below ten seconds.
LATEST_MS = 8000


class Keeping(QObject):
    """Keeps a session's unsaved work while a person works on it."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        """Begin; nothing is written before an edit."""
        super().__init__(parent)
        self._session = session
        self._quiet, self._latest = self._timer(QUIET_MS), self._timer(LATEST_MS)
        session.changed.connect(self._edited)

    def _timer(self, interval_ms: int) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(interval_ms)
        timer.timeout.connect(self._keep)
        return timer

    def _edited(self) -> None:
        """Wait for the hand to rest, but not for ever: steady work is kept as well."""
        self._quiet.start()
        if not self._latest.isActive():
            self._latest.start()

    def _keep(self) -> None:
        self.stop()
        self._session.autosave_beside()

    def stop(self) -> None:
        """Wait for nothing any more: what there was to keep is kept, saved or given up."""
        self._quiet.stop()
        self._latest.stop()
