"""What a row of a table stands for, as a type of its own: no station takes another's key for its own."""

from dataclasses import dataclass


@dataclass(frozen=True)
class RowKey:
    """What a row stands for; each kind of row has its own."""


@dataclass(frozen=True)
class Nth(RowKey):
    """The row of an answer with that number, from 0."""

    number: int


@dataclass(frozen=True)
class Heading(RowKey):
    """A heading over a group of rows."""

    group: str


@dataclass(frozen=True)
class PartKey(RowKey):
    """A part of the shelf."""

    part: str


@dataclass(frozen=True)
class FitKey(RowKey):
    """A part that fits, as it would be placed."""

    part: str
    flipped: bool


@dataclass(frozen=True)
class FigureKey(RowKey):
    """A figure, whose working opens from the row."""

    id: str


@dataclass(frozen=True)
class ValueKey(RowKey):
    """A part's value with provenance."""

    path: str


@dataclass(frozen=True)
class FieldKey(RowKey):
    """A part's field without provenance."""

    path: str


@dataclass(frozen=True)
class LineKey(RowKey):
    """A line of the running total; one of a joint carries its mark and the index of the part behind it."""

    index: int | None
    mark: str = ""


@dataclass(frozen=True)
class RequirementKey(RowKey):
    """The required distance."""


@dataclass(frozen=True)
class SlotKey(RowKey):
    """A filter in its slot of the wheel or drawer with that index."""

    index: int
    slot: int


@dataclass(frozen=True)
class SheetKey(RowKey):
    """A sheet in its slot of the holder with that index."""

    index: int
    slot: int


@dataclass(frozen=True)
class WayKey(RowKey):
    """A housing of the rear train that may be flipped."""

    index: int


@dataclass(frozen=True)
class ShareKey(RowKey):
    """What one part costs in light; `number` distinguishes equal parts."""

    number: int
    part: str


@dataclass(frozen=True)
class TermKey(RowKey):
    """A row known by the word of the core it shows."""

    term: str
