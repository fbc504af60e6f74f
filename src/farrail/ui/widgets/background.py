"""Long work beside the interface: runs in a thread, can be cancelled, answers once."""

from collections.abc import Callable
from dataclasses import dataclass
from queue import Empty, SimpleQueue
from threading import Thread

from PySide6.QtCore import QObject, QTimer, Signal

from farrail.planning.cancel import Cancel

Work = Callable[[Cancel], object]
# How often the interface looks whether an answer has come.
LOOK_MS = 10


@dataclass(frozen=True)
class Failure:
    """Work that ended with an error."""

    error: Exception


class Background(QObject):
    """One piece of work at a time; a new one cancels the old, whose answer is then dropped.

    Each piece has a thread of Python's own. In a thread of Qt's pool the solver's library finds the thread state of
    the work before, long gone, and the second search ends the program. The thread touches nothing of Qt: it leaves its
    answer where the interface looks for it, for a window may be closed and taken down at any moment meanwhile.
    """

    # The work under way has ended: its answer.
    done = Signal(object)
    # The work under way has ended with an error instead.
    failed = Signal(Exception)

    def __init__(self, parent: QObject | None = None) -> None:
        """Have nothing under way."""
        super().__init__(parent)
        self._cancel: Cancel | None = None
        self._thread: Thread | None = None
        self._answers: SimpleQueue[tuple[object, Cancel]] = SimpleQueue()
        self._look = QTimer(self)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self._deliver)

    @property
    def busy(self) -> bool:
        """Whether work is under way."""
        return self._cancel is not None

    def start(self, work: Work) -> None:
        """Begin work in a thread; it is given what tells it that it is no longer wanted."""
        self.cancel()
        cancel = Cancel()
        self._cancel = cancel
        self._thread = Thread(target=_run, args=(work, cancel, self._answers), daemon=True)
        self._thread.start()
        self._look.start()

    def cancel(self) -> None:
        """Give up what is under way; its answer will not come."""
        if self._cancel is not None:
            self._cancel.set()
            self._cancel = None
            self._look.stop()

    def wait(self, seconds: float = 30.0) -> None:
        """Wait until the thread has ended, and deliver its answer."""
        if self._thread is not None:
            self._thread.join(seconds)
        self._deliver()

    def _deliver(self) -> None:
        """Pass on the answer to what is under way, if it has come; answers to what was given up are dropped."""
        while True:
            try:
                answer, cancel = self._answers.get_nowait()
            except Empty:
                return
            if cancel is self._cancel:
                self._cancel = None
                self._look.stop()
                if isinstance(answer, Failure):
                    self.failed.emit(answer.error)
                else:
                    self.done.emit(answer)


def _run(work: Work, cancel: Cancel, answers: "SimpleQueue[tuple[object, Cancel]]") -> None:
    try:
        answer: object = work(cancel)
    except Exception as error:  # told to the person; the page must not stay busy for ever
        answer = Failure(error)
    answers.put((answer, cancel))
