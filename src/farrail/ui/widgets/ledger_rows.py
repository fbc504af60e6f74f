"""Rows, columns and cells of a ledger, and the model that holds them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt, Signal
from PySide6.QtWidgets import QWidget

from farrail import lengths
from farrail.exchange.table_files import Table, as_csv
from farrail.language import N_, say, word
from farrail.lengths import LengthUnit
from farrail.parts.origin import Origin
from farrail.ui.widgets.plain import plain_tip
from farrail.ui.widgets.row_keys import RowKey

# A text longer than this may be cut in a narrow column.
LONG_TEXT = 12
# What a colour says, where it is said aloud.
SAID_ROLES = {"good": N_("good"), "look": N_("look here"), "stop": N_("wrong")}
Index = QModelIndex | QPersistentModelIndex


# What two more places and a wider range of widths take.
INCH_PX = 16


# A title of so many letters above numbers is shown in two lines.
LONG_TITLE = 13


@dataclass(frozen=True)
class Column:
    """One column.

    Attributes:
        title: what is above it.
        right: whether numbers are in it.
        width: in pixels; 0 takes what is left.
        narrow: its width where the table is short of room, 0 to be left out there; None: the same as ever.
        said: its name where it has no title.
        lengths: whether lengths are in it, which take more room in inches.
        tip: what is in it, where its title does not say so.
    """

    title: str
    right: bool = False
    width: int = 0
    narrow: int | None = None
    said: str = ""
    lengths: bool = False
    tip: str = ""

    @property
    def heading(self) -> str:
        """Its title as it is shown: a long one above numbers in two lines."""
        spaces = [at for at, letter in enumerate(self.title) if letter == " "]
        if not self.right or len(self.title) < LONG_TITLE or not spaces:
            return self.title
        middle = min(spaces, key=lambda at: abs(at - len(self.title) / 2.0))
        return f"{self.title[:middle]}\n{self.title[middle + 1 :]}"

    def __post_init__(self) -> None:
        """Make room for the places inches are shown with."""
        if self.lengths and lengths.current() is LengthUnit.INCH:
            object.__setattr__(self, "width", self.width + INCH_PX)
            object.__setattr__(self, "narrow", self.narrow + INCH_PX if self.narrow else self.narrow)

    @property
    def explained(self) -> str:
        """What is in it: its tip."""
        if self.tip or not self.lengths:
            return self.tip or self.called
        inch = lengths.current() is LengthUnit.INCH
        return say("{name}, in inches", name=self.called) if inch else say("{name}, in mm", name=self.called)

    @property
    def called(self) -> str:
        """What it is called when it is read aloud."""
        return self.title or self.said


@dataclass(frozen=True)
class Cell:
    """One cell.

    Attributes:
        text: what it says.
        role: colour role: "", "steel", "good", "look" or "stop".
        strong: whether it is emphasised.
        origin: a provenance mark before the text.
        edit: the text an editor starts with; None: not editable.
        tip: tool tip.
        clears: whether its text may be deleted.
        again: whether typing the same text again says something, such as that it was measured.
        unknown: the mark of what no one knows before the text.
    """

    text: str
    role: str = ""
    strong: bool = False
    origin: Origin | None = None
    edit: str | None = None
    tip: str = ""
    clears: bool = False
    again: bool = False
    unknown: bool = False

    @property
    def marked(self) -> bool:
        """Whether a mark is before its text."""
        return self.origin is not None or self.unknown

    def spoken(self, title: str) -> str:
        """Return what is said of it: its column, its text, its provenance, and what its colour means."""
        said = [self.text or "nothing"]
        if self.unknown:
            said.append(say("not known"))
        elif self.origin is not None:
            said.append(word(self.origin))
        if self.role in SAID_ROLES:
            said.append(str(SAID_ROLES[self.role]))
        return f"{title}: {', '.join(said)}" if title else ", ".join(said)


@dataclass(frozen=True)
class Row:
    """One row and the key by which its owner knows it."""

    cells: tuple[Cell, ...]
    key: RowKey | None = None
    heavy: bool = False


class LedgerModel(QAbstractTableModel):
    """Rows of cells; edits are handed to the owner, never kept."""

    # A cell was edited: row key, column, text.
    edited = Signal(RowKey, int, str)

    def __init__(self, columns: Sequence[Column], parent: QWidget | None = None) -> None:
        """Hold no rows yet."""
        super().__init__(parent)
        self.columns = tuple(columns)
        self.rows: tuple[Row, ...] = ()

    def set_rows(self, rows: Sequence[Row]) -> Sequence[int]:
        """Show other rows and return which changed; the view keeps its place when their number stays."""
        rows = tuple(rows)
        if len(rows) == len(self.rows):
            both = enumerate(zip(rows, self.rows, strict=True))
            changed = [number for number, (new, old) in both if new is not old and new != old]
            self.rows = rows
            last = len(self.columns) - 1
            for number in changed:
                self.dataChanged.emit(self.index(number, 0), self.index(number, last))
            return changed
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()
        return range(len(rows))

    def set_titles(self, titles: Sequence[str]) -> None:
        """Name the columns again."""
        if tuple(titles) != tuple(column.title for column in self.columns):
            self.columns = tuple(replace(c, title=title) for c, title in zip(self.columns, titles, strict=True))
            self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, len(self.columns) - 1)

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 (Qt's signature)
        """Return the number of rows."""
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 (Qt's signature)
        """Return the number of columns."""
        return 0 if parent.isValid() else len(self.columns)

    def cell(self, index: Index) -> Cell:
        """Return the cell at an index."""
        return self.rows[index.row()].cells[index.column()]

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Return what the view asks for."""
        if not index.isValid():
            return None
        cell = self.cell(index)
        if role == Qt.ItemDataRole.DisplayRole:
            return cell.text
        if role == Qt.ItemDataRole.EditRole:
            return cell.edit if cell.edit is not None else cell.text
        if role == Qt.ItemDataRole.ToolTipRole:
            # What may be cut is read in full in its tip.
            return plain_tip(cell.tip or (cell.text if len(cell.text) > LONG_TEXT else "")) or None
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return cell.spoken(self.columns[index.column()].called)
        return None

    def setData(self, index: Index, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Hand an edit to the owner."""
        if role != Qt.ItemDataRole.EditRole or self.cell(index).edit is None:
            return False
        text = str(value).strip()
        cell = self.cell(index)
        if (text or cell.clears) and (cell.again or text != cell.edit):
            self.edited.emit(self.rows[index.row()].key, index.column(), text)
        return True

    def flags(self, index: Index) -> Qt.ItemFlag:
        """Return what may be done with a cell."""
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        if index.isValid() and self.cell(index).edit is not None:
            flags |= Qt.ItemFlag.ItemIsEditable
        return flags

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Return a column's title and side."""
        if orientation != Qt.Orientation.Horizontal:
            return None
        column = self.columns[section]
        if role == Qt.ItemDataRole.DisplayRole:
            return column.heading
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return column.called
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(column.explained)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if column.right else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return None

    def table(self, title: str) -> Table:
        """Return the table as it is shown, to be copied or written."""
        rows = tuple(tuple(cell.text for cell in row.cells) for row in self.rows)
        return Table(title, tuple(column.title for column in self.columns), rows)

    def as_text(self, separator: str = "\t") -> str:
        """Return the table as delimited text."""
        return as_csv(self.table(""), separator)
