"""Files dropped on a window: a workbook is opened, a table of parts previewed, frames are looked at."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QWidget

from farrail.language import say

TABLES = (".csv", ".tsv")
# What a part dragged within the program is called.
OWN = "application/x-farrail"


class Dropping(QObject):
    """Takes what is dropped on a window."""

    def __init__(
        self, window: QWidget, frames: Callable[[list[Path]], None], workbook: Callable[[Path], None],
        table: Callable[[Path], None], said: Callable[[str, bool], None],
    ) -> None:  # fmt: skip
        """Serve one window: frames, a workbook and a table have takers each; `said` is given the reason for others."""
        super().__init__(window)
        self._frames, self._workbook, self._table = frames, workbook, table
        self._say = said
        self.serve(window)

    def serve(self, window: QWidget) -> None:
        """Take what is dropped on another window, as on the first."""
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Take one workbook or table, or frames; say of anything else why not."""
        if not isinstance(event, QDropEvent):
            return False
        if event.type() == QEvent.Type.Drop:
            return self._take(event)
        if event.type() == QEvent.Type.DragEnter and _may_be_meant(event):
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
        elif event.mimeData().hasUrls():
            self._say(say("Several files at once are taken only if all are frames; drop one at a time."), True)
        elif event.mimeData().hasText():
            self._say(
                say("Text cannot be dropped: copy it, then choose Table and Paste rows in Parts."),
                True,
            )
        else:
            return False
        event.acceptProposedAction()
        return True


def _may_be_meant(event: QDropEvent) -> bool:
    """Whether what is dragged is taken, or is said why not: files and text, no part dragged within the program."""
    data = event.mimeData()
    return data.hasUrls() or (data.hasText() and not data.formats()[0].startswith(OWN))


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
