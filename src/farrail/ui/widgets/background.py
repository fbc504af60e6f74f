"""Long work beside the interface: runs in a thread, can be cancelled, answers once."""

from collections.abc import Callable
from threading import Event

from PySide6.QtCore import QObject, QThreadPool, Signal

Work = Callable[[Event], object]


class Background(QObject):
    """One piece of work at a time; a new one cancels the old, whose answer is then dropped."""

    # The work under way has ended: its answer.
    done = Signal(object)
    _answered = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        """Have nothing under way."""
        super().__init__(parent)
        self._cancel: Event | None = None
        self._answered.connect(self._deliver)

    @property
    def busy(self) -> bool:
        """Whether work is under way."""
        return self._cancel is not None

    def start(self, work: Work) -> None:
        """Begin work in a thread; it is given an event that is set when it is no longer wanted."""
        self.cancel()
        event = Event()
        self._cancel = event
        QThreadPool.globalInstance().start(lambda: self._run(work, event))

    def cancel(self) -> None:
        """Give up what is under way; its answer will not come."""
        if self._cancel is not None:
            self._cancel.set()
            self._cancel = None

    def _run(self, work: Work, event: Event) -> None:
        answer = work(event)
        if not event.is_set():
            self._answered.emit(answer, event)

    def _deliver(self, answer: object, event: object) -> None:
        if event is self._cancel:
            self._cancel = None
            self.done.emit(answer)
