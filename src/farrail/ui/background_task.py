"""Long work in a thread: an answer is delivered only while its question is still the current one.

This is the only module that starts threads.
"""

from collections import deque
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from queue import Empty, SimpleQueue
from threading import Lock, Thread, get_ident
from time import perf_counter

from PySide6.QtCore import QObject, QTimer, Signal

from farrail.cancel import Cancel

Work = Callable[[Cancel], object]
# How often the interface looks whether an answer has come.
LOOK_MS = 10
# After so long a piece of work lets the next one have its turn.
TURN_S = 0.05


class Same:
    """Objects compared by identity: parts and trains are immutable, so a changed one is a new object."""

    def __init__(self, objects: Iterable[object]) -> None:
        """Hold the objects, so that none of them can be replaced by another at its address."""
        self._objects = tuple(objects)

    def __eq__(self, other: object) -> bool:
        """Whether another holds the very same objects."""
        if not isinstance(other, Same) or len(other._objects) != len(self._objects):
            return False
        return all(one is another for one, another in zip(self._objects, other._objects, strict=True))

    def __hash__(self) -> int:
        """Agree with equality."""
        return hash(tuple(map(id, self._objects)))


class _Turns:
    """Lets one thread work at a time, in the order in which they asked.

    Python runs one thread at a time anyhow; several that each make many small arrays spend most of their time handing
    over to one another, and all of them end late.
    """

    def __init__(self) -> None:
        self._lock = Lock()
        self._gates: deque[Lock] = deque()
        self._busy = False

    @property
    def wanted(self) -> bool:
        """Whether another thread waits."""
        return bool(self._gates)

    def take(self) -> None:
        """Wait for a turn."""
        gate = Lock()
        with self._lock:
            if not self._busy:
                self._busy = True
                return
            gate.acquire()
            self._gates.append(gate)
        gate.acquire()

    def give(self) -> None:
        """End a turn."""
        with self._lock:
            if self._gates:
                self._gates.popleft().release()
            else:
                self._busy = False


_turns = _Turns()


class _Polled(Cancel):
    """The flag of a piece of work: whenever the work looks at it, others may have their turn."""

    def __init__(self) -> None:
        super().__init__()
        self._worker = 0
        self._since = 0.0

    @contextmanager
    def turn(self) -> Iterator[None]:
        """Work while it is this thread's turn."""
        _turns.take()
        self._worker, self._since = get_ident(), perf_counter()
        try:
            yield
        finally:
            self._worker = 0
            _turns.give()

    def is_set(self) -> bool:
        """Whether it has been set; the worker that asks lets others have a turn first, if it has worked for long."""
        if _turns.wanted and self._worker == get_ident() and perf_counter() - self._since > TURN_S:
            _turns.give()
            _turns.take()
            self._since = perf_counter()
        return super().is_set()

    @contextmanager
    def stopping(self, stop: Callable[[], None]) -> Iterator[None]:
        """As ever; a library that is at work outside Python needs no turn."""
        _turns.give()
        try:
            with super().stopping(stop):
                yield
        finally:
            _turns.take()
            self._since = perf_counter()


@dataclass(frozen=True)
class Failure:
    """Work that ended with an error."""

    error: Exception


@dataclass(frozen=True)
class _Ended:
    """The result of a thread: its answer, and its cancel flag."""

    answer: object
    cancel: Cancel


class BackgroundTask(QObject):
    """One piece of work at a time, done for a question; a new one cancels the old.

    The question is a value of what the work rests on: the train, the parts that matter, the wishes. An answer is
    delivered only if the question asked now equals the one it was made for. Work runs in a thread of Python's own: in a
    thread of Qt's pool the solver's library finds the state of the work before, long gone. The thread touches nothing
    of Qt: it leaves its answer where the interface looks for it, for a window may be closed meanwhile. Work must hold
    nothing of Qt either: the thread could be the last to let it go, and would take it apart.
    """

    # The answer to the question asked now.
    answered = Signal(object)
    # What was asked before is no longer asked: work under way was cancelled, a shown answer is from before the change.
    outdated = Signal()
    # The work ended with an error instead.
    failed = Signal(Exception)

    def __init__(self, question: Callable[[], object], parent: QObject | None = None) -> None:
        """Start without a question.

        Args:
            question: returns the current question; None if there is none.
            parent: the owner.
        """
        super().__init__(parent)
        self._question = question
        self._asked: object = None
        self._cancel: Cancel | None = None
        self._thread: Thread | None = None
        self._ended: SimpleQueue[_Ended] = SimpleQueue()
        self._look = QTimer(self)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self._deliver)

    @property
    def busy(self) -> bool:
        """Whether work is under way."""
        return self._cancel is not None

    @property
    def asked(self) -> bool:
        """Whether work is under way or answered for the question asked now."""
        return self._asked is not None and self._asked == self._question()

    def begin(self, work: Work) -> None:
        """Begin work for the current question; the work gets a flag that is set when it is cancelled."""
        self.cancel()
        self._asked = self._question()
        if self._asked is None:
            return
        cancel = _Polled()
        self._cancel = cancel
        self._thread = Thread(target=_run, args=(work, cancel, self._ended), daemon=True)
        self._thread.start()
        self._look.start()

    def check(self) -> None:
        """Cancel the work and emit `outdated` if the question has changed."""
        if self._asked is not None and self._asked != self._question():
            self.cancel()
            self._asked = None
            self.outdated.emit()

    def forget(self) -> None:
        """Cancel the work and drop its question, without a signal."""
        self.cancel()
        self._asked = None

    def cancel(self) -> None:
        """Give up what is under way; its answer will not come."""
        if self._cancel is not None:
            self._cancel.set()
            self._cancel = None
            self._asked = None
            self._look.stop()

    def wait(self, seconds: float = 30.0) -> None:
        """Wait until the thread has ended, and deliver its answer."""
        if self._thread is not None:
            self._thread.join(seconds)
        self._deliver()

    def end(self) -> None:
        """Give up what is under way and wait for its thread: the window is closing."""
        self.forget()
        self.wait()

    def _deliver(self) -> None:
        """Pass on the answer to what is under way, if it has come and is still asked; drop all others."""
        while True:
            try:
                ended = self._ended.get_nowait()
            except Empty:
                return
            if ended.cancel is not self._cancel:
                continue
            self._cancel = None
            self._look.stop()
            if self._asked != self._question():
                self._asked = None
                self.outdated.emit()
            elif isinstance(ended.answer, Failure):
                self._asked = None
                self.failed.emit(ended.answer.error)
            else:
                self.answered.emit(ended.answer)


def _run(work: Work, cancel: _Polled, ended: "SimpleQueue[_Ended]") -> None:
    answer: object = None
    with cancel.turn():
        try:
            if not cancel.is_set():
                answer = work(cancel)
        except Exception as error:  # reported by the page, which must not stay busy forever
            answer = Failure(error)
    ended.put(_Ended(answer, cancel))
