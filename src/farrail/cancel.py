"""Cancelling long work: the flag, the exception, and loops that check the flag."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import Lock
from typing import TypeVar

from farrail.errors import FarRailError

Item = TypeVar("Item")
Stopped = Callable[[], bool]
# Items between two checks for cancellation.
LOOK_EVERY = 64


class Cancelled(FarRailError):
    """The work was cancelled."""


def never() -> bool:
    """Return False: the default for work that cannot be cancelled."""
    return False


def until_stopped(items: Iterator[Item], stopped: Stopped, every: int = LOOK_EVERY) -> Iterator[Item]:
    """Yield items, and check for cancellation after every few.

    Raises:
        Cancelled: `stopped` returned True.
    """
    for number, item in enumerate(items):
        if number % every == 0 and stopped():
            raise Cancelled("Cancelled.")
        yield item


class Cancel:
    """Set once, from any thread; stops all that is running under it."""

    def __init__(self) -> None:
        """Begin unset."""
        self._lock = Lock()
        self._set = False
        self._stop: Callable[[], None] | None = None

    def is_set(self) -> bool:
        """Whether it has been set."""
        return self._set

    def set(self) -> None:
        """Ask for an end; what runs now is stopped, and nothing new begins."""
        with self._lock:
            self._set = True
            if self._stop is not None:
                self._stop()

    @contextmanager
    def stopping(self, stop: Callable[[], None]) -> Iterator[None]:
        """Have `stop` called, while the block runs, when an end is asked for."""
        with self._lock:
            self._stop = stop
        try:
            yield
        finally:
            with self._lock:
                self._stop = None
