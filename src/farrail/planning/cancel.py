"""Stopping a search from another thread."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import Lock
from typing import TypeVar

from farrail.errors import FarRailError

Item = TypeVar("Item")
Stopped = Callable[[], bool]
# So many items pass between two looks whether the answer is still wanted.
LOOK_EVERY = 64


class NotWanted(FarRailError):
    """Whoever asked no longer wants the answer."""


def never() -> bool:
    """Say that an answer is still wanted."""
    return False


def while_wanted(items: Iterator[Item], stopped: Stopped, every: int = LOOK_EVERY) -> Iterator[Item]:
    """Yield items, and look now and then whether the answer is still wanted.

    Raises:
        NotWanted: it is not.
    """
    for number, item in enumerate(items):
        if number % every == 0 and stopped():
            raise NotWanted("The answer is no longer wanted.")
        yield item


class Cancel:
    """Set once, from any thread; stops whatever is running under it."""

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
