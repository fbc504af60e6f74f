"""Every error a person can meet, in one tree.

    FarRailError
    ├── BadInput             a number or choice that cannot be used
    │   └── BadWorkbook      a workbook that cannot be read
    ├── EditRefused          an edit that does not fit the workbook as it is
    └── StoreError           a file that cannot be read or written
        ├── ChangedOutside   another program wrote the file since it was opened
        ├── InUse            another window has the file
        └── ReadOnlyFile     the file is marked read-only

Each message is one sentence or two, fit to be shown as it is: what, where, what to do. It is kept as a message
with named values, and put into the language in force when it is shown.
"""

from typing import Any

from farrail.language import say


class FarRailError(Exception):
    """Anything that is shown to a person instead of shown as a traceback."""

    def __init__(self, message: str = "", /, **values: Any) -> None:
        """Keep a message, and the values for the names in its braces."""
        super().__init__(message)
        self.message, self.values = message, values

    def __str__(self) -> str:
        """Return what is shown, in the language in force."""
        return say(self.message, **self.values)

    def __reduce__(self) -> tuple[Any, ...]:
        """Return how it is made again, as when it comes from another process."""
        return _again, (type(self), self.message, self.values)


class BadInput(FarRailError):
    """A number or choice that cannot be used."""


class BadWorkbook(BadInput):
    """A workbook that cannot be read."""


class EditRefused(FarRailError):
    """An edit that does not fit the workbook as it is."""


class StoreError(FarRailError):
    """A file that cannot be read or written."""


class ChangedOutside(StoreError):
    """Another program wrote the file since it was opened here."""


class InUse(StoreError):
    """Another window has the file open for writing."""


class ReadOnlyFile(StoreError):
    """The file is marked read-only; whoever asked may want to write it all the same."""


def _again(kind: type[FarRailError], message: str, values: dict[str, Any]) -> FarRailError:
    return kind(message, **values)
