"""Long work beside the interface: runs in a thread, can be cancelled, answers once."""

import contextlib
from collections.abc import Callable
from dataclasses import dataclass
from threading import Thread

from PySide6.QtCore import QObject, Signal

from farrail.planning.cancel import Cancel

Work = Callable[[Cancel], object]


@dataclass(frozen=True)
class Failure:
    """Work that ended with an error."""

    error: Exception


class Background(QObject):
    """One piece of work at a time; a new one cancels the old, whose answer is then dropped.

    Each piece has a thread of Python's own. In a thread of Qt's pool the solver's library finds the thread state of
    the work before, long gone, and the second search ends the program.
    """

    # The work under way has ended: its answer.
    done = Signal(object)
    # The work under way has ended with an error instead.
    failed = Signal(Exception)
    _answered = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        """Have nothing under way."""
        super().__init__(parent)
        self._cancel: Cancel | None = None
        self._thread: Thread | None = None
        self._answered.connect(self._deliver)

    @property
    def busy(self) -> bool:
        """Whether work is under way."""
        return self._cancel is not None

    def start(self, work: Work) -> None:
        """Begin work in a thread; it is given what tells it that it is no longer wanted."""
        self.cancel()
        cancel = Cancel()
        self._cancel = cancel
        self._thread = Thread(target=self._run, args=(work, cancel), daemon=True)
        self._thread.start()

    def cancel(self) -> None:
        """Give up what is under way; its answer will not come."""
        if self._cancel is not None:
            self._cancel.set()
            self._cancel = None

    def wait(self, seconds: float = 30.0) -> None:
        """Wait until the thread has ended; its answer is delivered by the event loop."""
        if self._thread is not None:
            self._thread.join(seconds)

    def _run(self, work: Work, cancel: Cancel) -> None:
        try:
            answer: object = work(cancel)
        except Exception as error:  # told to the person; the page must not stay busy for ever
            answer = Failure(error)
        if not cancel.is_set():
            # A window closed meanwhile has taken the object along.
            with contextlib.suppress(RuntimeError):
                self._answered.emit(answer, cancel)

    def _deliver(self, answer: object, cancel: object) -> None:
        if cancel is self._cancel:
            self._cancel = None
            if isinstance(answer, Failure):
                self.failed.emit(answer.error)
            else:
                self.done.emit(answer)
