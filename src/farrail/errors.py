"""Every error a person can meet, in one tree.

    FarRailError
    ├── BadInput             a number or choice that cannot be used
    │   └── BadWorkbook      a workbook that cannot be read
    ├── EditRefused          an edit that does not fit the workbook as it stands
    └── StoreError           a file that cannot be read or written
        ├── ChangedOutside   another program wrote the file since it was opened
        ├── InUse            another window has the file
        └── ReadOnlyFile     the file is marked read-only

Each message is one sentence or two, fit to be shown as it is: what, where, what to do.
"""


class FarRailError(Exception):
    """Anything that is told to a person instead of shown as a traceback."""


class BadInput(FarRailError):
    """A number or choice that cannot be used."""


class BadWorkbook(BadInput):
    """A workbook that cannot be read."""


class EditRefused(FarRailError):
    """An edit that does not fit the workbook as it stands."""


class StoreError(FarRailError):
    """A file that cannot be read or written."""


class ChangedOutside(StoreError):
    """Another program wrote the file since it was opened here."""


class InUse(StoreError):
    """Another window has the file open for writing."""


class ReadOnlyFile(StoreError):
    """The file is marked read-only; whoever asked may want to write it all the same."""
