"""Errors of our own: one sentence for the person, the details in a log file that can be found."""

import logging
import sys
import threading
from collections.abc import Callable
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from farrail.language import say

LARGEST_BYTES, KEPT = 500_000, 3


class TroubleLog:
    """A log file of what went wrong in the program itself; made when there is something to write."""

    def __init__(self, folder: Path) -> None:
        """Choose the file in a folder that need not exist yet."""
        self.path = folder / "far-rail.log"

    def tell(self, error: BaseException, doing: str) -> str:
        """Write an error down and return one sentence about it.

        Args:
            error: what was raised.
            doing: what the program was doing, such as "The search".
        """
        try:
            self._write(error, doing)
        except OSError:
            return say("{doing} failed through an error in the program; try it again, or another way.", doing=doing)
        return say(
            "{doing} failed through an error in the program; the details are in {path}.", doing=doing, path=self.path
        )

    def _write(self, error: BaseException, doing: str) -> None:
        # The log may name files and parts, so only this account can read it.
        self.path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        handler = RotatingFileHandler(self.path, maxBytes=LARGEST_BYTES, backupCount=KEPT, encoding="utf-8")
        handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
        record = logging.LogRecord(
            "farrail",
            logging.ERROR,
            "",
            0,
            say("{doing} failed", doing=doing),
            None,
            (type(error), error, error.__traceback__),
        )
        try:
            handler.emit(record)
        finally:
            handler.close()
        self.path.chmod(0o600)


def watch(caught: Callable[[BaseException], None]) -> None:
    """Hand every error no one caught, of this thread or another, to `caught`; the program goes on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if not isinstance(error, Exception):
            sys.__excepthook__(kind, error, trace)
            return
        try:
            caught(error)
        except Exception:
            # Telling of it broke as well: then the terminal must hear of it.
            sys.__excepthook__(kind, error, trace)

    def thread_hook(found: threading.ExceptHookArgs) -> None:
        if found.exc_value is not None:
            hook(found.exc_type, found.exc_value, found.exc_traceback)

    sys.excepthook = hook
    threading.excepthook = thread_hook
