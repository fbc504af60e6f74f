"""The table of the parts you own: rows selected, copied, pasted, removed, sorted, and dragged on to the rail."""

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtGui import QAction, QGuiApplication, QMouseEvent
from PySide6.QtWidgets import QAbstractItemView, QApplication, QWidget

from farrail.exchange.csv_shelf import shelf_to_csv
from farrail.language import say, say_n
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.part_drag import start_drag
from farrail.ui.widgets.row_keys import PartKey
from farrail.workbook.edits.laying import can_lie


class ShelfLedger(Ledger):
    """The shelf's table: its rows can be dragged on to the rail, and sorted by their columns."""

    # The order asked for has changed.
    order_changed = Signal()
    # What is asked for the part of the current row, or for those selected.
    lay_wanted = Signal()
    copy_wanted = Signal()
    name_wanted = Signal()
    discard_wanted = Signal()
    paste_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty shelf."""
        columns = (
            Column(say("Part")),
            Column(say("kind"), False, 118, 0),
            Column(say("length"), True, 58, lengths=True),
            Column(say("owned"), True, 84),
            Column(say("trains"), True, 56, 50),
        )
        super().__init__("shelf", say("Shelf"), columns, parent)
        self.session: Session | None = None
        # Column sorted by, and whether downward; None keeps the shelf's own order.
        self.order: tuple[int, bool] | None = None
        header = self.horizontalHeader()
        header.setSectionsClickable(True)
        header.sectionClicked.connect(self._sort_by)
        sort = QAction(say("Sort by this column"), self)
        sort.setShortcut("Ctrl+Alt+S")
        sort.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        sort.triggered.connect(lambda: self._sort_by(max(self.currentIndex().column(), 0)))
        self.addAction(sort)
        self._pressed: QPoint | None = None
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self._add_part_commands()

    def _add_part_commands(self) -> None:
        """Put what is done with a part before what is done with the table, in the menu of the right button."""
        first = self.actions()[0]
        for name, text, keys, wanted in (
            ("shelf_lay", say("Add to the train"), "", self.lay_wanted),
            ("shelf_duplicate", say("Duplicate"), "Ctrl+D", self.copy_wanted),
            ("shelf_rename", say("Rename"), "F2", self.name_wanted),
            ("shelf_paste", say("Paste parts"), "Ctrl+V", self.paste_wanted),
            ("shelf_discard", say("Remove"), "Delete", self.discard_wanted),
        ):
            action = QAction(text, self)
            action.setObjectName(name)
            action.setShortcut(keys)
            action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
            action.triggered.connect(wanted)
            self.insertAction(first, action)
        line = QAction(self)
        line.setSeparator(True)
        self.insertAction(first, line)

    def selected_parts(self) -> list[str]:
        """Return the ids of the parts whose rows are selected, from the top."""
        rows = sorted({index.row() for index in self.selectedIndexes()})
        keys = (self.ledger.rows[row].key for row in rows)
        return [key.part for key in keys if isinstance(key, PartKey)]

    def copy(self, separator: object = "\t") -> None:
        """Put the selected parts on the clipboard, as rows that can be pasted back; without any the whole table."""
        wanted = self.selected_parts()
        if not isinstance(separator, str) and wanted and self.session is not None:
            parts = tuple(self.session.workbook.by_id[one] for one in wanted)
            QGuiApplication.clipboard().setText(shelf_to_csv(parts, delimiter="\t"))
            self.session.message.emit(
                say_n(
                    "{count} part is on the clipboard as a row with its header.",
                    "{count} parts are on the clipboard as rows with their header.",
                    len(parts),
                    count=len(parts),
                ),
                False,
            )
            return
        super().copy(separator)

    def _sort_by(self, column: int) -> None:
        """Sort by a column: upward, downward, then the shelf's own order again."""
        now = self.order
        self.order = (column, False) if now is None or now[0] != column else None if now[1] else (column, True)
        header = self.horizontalHeader()
        header.setSortIndicatorShown(self.order is not None)
        if self.order is not None:
            direction = Qt.SortOrder.DescendingOrder if self.order[1] else Qt.SortOrder.AscendingOrder
            header.setSortIndicator(column, direction)
        self.order_changed.emit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Remember where a drag might begin."""
        self._pressed = event.position().toPoint()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Begin a drag once the hand has moved far enough."""
        if self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        if (event.position().toPoint() - self._pressed).manhattanLength() < QApplication.startDragDistance():
            return
        index = self.indexAt(self._pressed)
        self._pressed = None
        if index.isValid() and self.session is not None:
            key = self.ledger.rows[index.row()].key
            part = self.session.workbook.by_id.get(key.part) if isinstance(key, PartKey) else None
            if part is not None and can_lie(part):
                start_drag(self, part)
