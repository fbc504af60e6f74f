"""What may follow the first painting after a change, in short slices, so that the next key is never kept waiting."""

import time
from collections.abc import Callable, Iterator
from typing import ClassVar

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QAccessible

# A task is done in one go, or in steps between which the interface may answer.
Task = Callable[[], Iterator[None] | None]
# The paint comes first; a key held down repeats slower than this, a mouse moves faster.
BEGIN_MS, SLICE_S = 12, 0.002


class AfterPaint(QObject):
    """The tasks that wait, each once, in the order in which they were first asked for."""

    # Tasks wait, or no longer.
    waiting_changed = Signal(bool)
    # Everything is done as soon as it is asked for: for tests that look at a widget straight after an edit.
    at_once: ClassVar[bool] = False

    def __init__(self, ended: Callable[[BaseException], None], parent: QObject | None = None) -> None:
        """Start with nothing to do.

        Args:
            ended: takes what a task ended with, where it broke.
            parent: the owner.
        """
        super().__init__(parent)
        self._ended = ended
        self._tasks: dict[Task, None] = {}
        # The task under way, and what is left of it.
        self._task: Task | None = None
        self._steps: Iterator[None] | None = None
        self.running = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._slice)

    @property
    def waiting(self) -> bool:
        """Whether anything waits."""
        return bool(self._tasks) or self._task is not None

    def ask(self, task: Task) -> None:
        """Do a task after the next painting; one that is under way begins again.

        While assistive technology reads the window, everything is done at once: it would read what is out of date.
        """
        if self.at_once or QAccessible.isActive():
            for _ in task() or ():
                pass
            return
        waited = self.waiting
        # What is half done may rest on the state before the change that asks now.
        if self._task is not None:
            self._tasks = {self._task: None, **self._tasks}
            self._task = self._steps = None
        self._tasks[task] = None
        self._timer.start(BEGIN_MS)
        if not waited:
            self.waiting_changed.emit(True)

    def flush(self) -> None:
        """Do all of it now."""
        while self.waiting:
            self._step()
        self._timer.stop()

    def drop(self) -> None:
        """Forget all of it: another workbook is shown, or the window closes."""
        self._tasks.clear()
        self._task = self._steps = None
        self._timer.stop()

    def _slice(self) -> None:
        """Do as much as fits into one slice."""
        until = time.perf_counter() + SLICE_S
        while self.waiting and time.perf_counter() < until:
            self._step()
        if self.waiting:
            self._timer.start(0)

    def _step(self) -> None:
        self.running = True
        try:
            if self._task is None:
                self._task = next(iter(self._tasks))
                del self._tasks[self._task]
                self._steps = iter(self._task() or ())
            elif self._steps is not None and next(self._steps, self) is self:
                self._task = self._steps = None
        except Exception as error:
            self._task = self._steps = None
            self._ended(error)
        finally:
            self.running = False
        if not self.waiting:
            self.waiting_changed.emit(False)
