"""Files dropped on a window: a workbook is opened, a table of parts previewed, frames are looked at."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QWidget

TABLES = (".csv", ".tsv")


class Dropping(QObject):
    """Takes what is dropped on a window."""

    def __init__(
        self, window: QWidget, frames: Callable[[list[Path]], None], workbook: Callable[[Path], None],
        table: Callable[[Path], None],
    ) -> None:  # fmt: skip
        """Serve one window: frames, a workbook and a table each have their taker."""
        super().__init__(window)
        self._frames, self._workbook, self._table = frames, workbook, table
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Take one workbook or table, or frames."""
        if isinstance(event, QDropEvent) and event.type() == QEvent.Type.Drop:
            return self._take(event)
        if isinstance(event, QDragEnterEvent) and (frames_of(event) or _file(event) is not None):
            event.acceptProposedAction()
            return True
        return False

    def _take(self, event: QDropEvent) -> bool:
        # Ask only after the drop has been answered, or the other program would hang on a question here.
        frames, path = frames_of(event), _file(event)
        if frames:
            QTimer.singleShot(0, self, lambda: self._frames(frames))
        elif path is not None and path.is_dir():
            QTimer.singleShot(0, self, lambda: self._frames([path]))
        elif path is not None:
            taker = self._table if path.suffix.casefold() in TABLES else self._workbook
            QTimer.singleShot(0, self, lambda: taker(path))
        else:
            return False
        event.acceptProposedAction()
        return True


def _file(event: QDropEvent) -> Path | None:
    urls = event.mimeData().urls()
    return Path(urls[0].toLocalFile()) if len(urls) == 1 and urls[0].isLocalFile() else None


def folder_of(event: QDropEvent) -> Path | None:
    """Return the folder that is dropped; None where it is anything else."""
    path = _file(event)
    return path if path is not None and path.is_dir() else None


def frames_of(event: QDropEvent) -> list[Path]:
    """Return the frames that are dropped; [] where anything else is among them."""
    from farrail.exchange.frame_files import SUFFIXES

    paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
    return paths if paths and all(path.suffix.lower() in SUFFIXES for path in paths) else []
