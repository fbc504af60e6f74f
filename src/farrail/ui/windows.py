"""The windows of one program: on one workbook or several, and what a second start hands over."""

from pathlib import Path

from PySide6.QtCore import QObject, QSettings, QTimer
from PySide6.QtWidgets import QApplication

from farrail.errors import FarRailError
from farrail.ui.actions.leaving import Leaving, ask_about_unsaved
from farrail.ui.session import Session
from farrail.ui.widgets.typed_in import enter_typed
from farrail.ui.window import MainWindow
from farrail.workbook.safe_files import real
from farrail.workbook.store import read_file
from farrail.workbook.workbook import empty_workbook

# A further window is this far from the one it came from.
STEP_PX = 36


class Windows(QObject):
    """Every open window."""

    def __init__(self, settings: QSettings, recovery_folder: Path, parent: QObject | None = None) -> None:
        """Begin with none."""
        super().__init__(parent)
        self._settings, self._recovery = settings, recovery_folder
        self._open: list[MainWindow] = []

    @property
    def all(self) -> tuple[MainWindow, ...]:
        """The windows that are open, oldest first."""
        return tuple(self._open)

    def sessions(self) -> list[Session]:
        """Return the session of every window."""
        return [window.session for window in self._open]

    def add(self, session: Session) -> MainWindow:
        """Build a window; the caller shows it."""
        window = MainWindow(session, self._settings, self._recovery)
        self._open.append(window)
        window.another_wanted.connect(lambda: self.beside(window))
        window.rebuild_requested.connect(self.anew)
        window.quit_wanted.connect(self.quit)
        window.open_apart_wanted.connect(lambda path: self.show_file(path, window))
        window.closed.connect(lambda: self._forget(window))
        window.files.shown_already = lambda path: self._raise_if_open(path, window)
        return window

    def beside(self, window: MainWindow) -> MainWindow:
        """Open a further window on the same workbook; it may show another train."""
        made = self.add(window.session.beside())
        made.stations.show_station(window.stations.current.key)
        self._show(made, window)
        return made

    def anew(self) -> None:
        """Make every window again, on the same workbooks and where it was: what is shown otherwise is shown so in all.

        Undo goes on where it was, for the workbook of a window outlives it.
        """
        for window in self.all:
            # The new one begins as this one is.
            window.keep_state()
            made = self.add(window.session.beside())
            if window.in_front():
                made.stations.show_station(window.stations.current.key)
            else:
                made.show_first()
            made.setGeometry(window.geometry())
            made.setWindowState(window.windowState())
            made.show()
            window.close()
            self._bring(made)

    def show_file(self, path: Path | None, near: MainWindow | None = None) -> MainWindow | None:
        """Show a file, or the first page, in a window of its own.

        A window that shows the file already comes to the front; one that no one has begun anything in is used.

        Returns:
            The window, or None where the file cannot be read: that is shown.
        """
        near = near or self._front()
        if path is not None:
            found = self._of(path)
            if found is not None:
                self._bring(found)
                return found
            try:
                read_file(path)
            except FarRailError as error:
                if near is not None:
                    near.session.message.emit(str(error), True)
                    self._bring(near)
                return None
        if near is not None and near.untouched:
            window, fresh = near, False
        else:
            window, fresh = self.add(Session(empty_workbook(), self._recovery)), True
        if path is not None:
            window.files.open_path(path)
        else:
            window.show_first()
        if fresh:
            self._show(window, near)
        else:
            self._bring(window)
        return window

    def _show(self, window: MainWindow, near: MainWindow | None) -> None:
        if near is not None:
            window.resize(near.size())
            window.move(near.pos().x() + STEP_PX, near.pos().y() + STEP_PX)
        window.show()
        self._bring(window)

    def _bring(self, window: MainWindow) -> None:
        if window.isMinimized():
            window.showNormal()
        window.raise_()
        window.activateWindow()

    def _front(self) -> MainWindow | None:
        active = QApplication.activeWindow()
        return next((one for one in reversed(self._open) if one is active), self._open[-1] if self._open else None)

    def _of(self, path: Path) -> MainWindow | None:
        wanted = real(path.absolute())
        return next(
            (one for one in self._open if one.session.path is not None and real(one.session.path) == wanted), None
        )

    def _raise_if_open(self, path: Path, asker: MainWindow) -> bool:
        """Bring another window to the front that has a file open; returns whether there is one."""
        found = self._of(path)
        if found is None or found is asker:
            return False
        self._bring(found)
        return True

    def close_all(self) -> None:
        """Close every window, the front one first; one that stays because of unsaved work stops the rest."""
        for window in reversed(self.all):
            if not window.close():
                return

    def quit(self) -> None:
        """Close every window, with one question where several workbooks have changes that are not saved."""
        unsaved: dict[int, MainWindow] = {}
        for window in self._open:
            if not enter_typed(window):
                self._bring(window)
                return
            if not window.session.history.clean:
                unsaved.setdefault(id(window.session.history), window)
        if len(unsaved) > 1:
            titles = [window.session.title for window in unsaved.values()]
            answer = ask_about_unsaved(self._front(), titles)
            if answer is Leaving.STAY:
                return
            for window in unsaved.values():
                if answer is Leaving.LEAVE:
                    window.session.history.mark_saved()
                elif not window.files.save():
                    return
        self.close_all()

    def caught(self, error: BaseException) -> None:
        """Take an error no one caught: the windows that were following a change, or else the one in front."""
        concerned = [session for session in self.sessions() if session.following]
        front = self._front()
        for session in concerned or ([front.session] if front is not None else []):
            session.caught(error)

    def _forget(self, window: MainWindow) -> None:
        if window in self._open:
            self._open.remove(window)
            # Not within its own closing.
            QTimer.singleShot(0, window.deleteLater)
