"""The ledger: a plain ruled table with right-aligned numbers and provenance marks, the stations' common table."""

from collections.abc import Callable, Collection, Mapping, Sequence

from PySide6.QtCore import (
    QEvent,
    QMetaMethod,
    QObject,
    QPointF,
    QRect,
    QSize,
    Qt,
    QTimer,
    Signal,
)
from PySide6.QtGui import (
    QAction,
    QColor,
    QImage,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPen,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QLineEdit,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from farrail.language import say
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, REGULAR, STRONG, draw_text, elided, font, text_width_px
from farrail.ui.widgets.ledger_rows import Cell, Column, Index, LedgerModel, Row
from farrail.ui.widgets.marks import draw_mark, in_lines
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.popover import Popover
from farrail.ui.widgets.row_keys import RowKey
from farrail.ui.widgets.sharing import copy_table, save_table

# The first column says what a row is about; below this width the others give way.
LEAST_NAME_PX = 150
LEAST_WORD_PX = 30
# What is beside a title in its column, left and right together.
TITLE_AIR_PX = 12
# How narrow and wide a hand may draw a column.
LEAST_COLUMN_PX, MOST_COLUMN_PX = 30, 600
# What a mark before a text takes.
MARK_PX = 17
# How high a row is by the lines its name takes.
ONE_LINE_PX, TWO_LINES_PX = 27, 42
NO_KEY = RowKey()
# A small photo before a name takes at most so much.
THUMBNAIL_PX = 42
LINES_PX = (ONE_LINE_PX, TWO_LINES_PX, 58, 74, 90)
# A table of more rows than this is not measured row by row.
MANY_ROWS = 1000
# A header and a row.
LEAST_PX = 61


def lines_in(height_px: int) -> int:
    """Return how many lines of a name a row of a height has room for."""
    return max(sum(height_px >= one for one in LINES_PX), 1)


def _lines_of(cell: Cell, room_px: float) -> int:
    """Return how many lines a text takes in a column; 1 for a single word, which is cut where it is too long."""
    room = room_px - (MARK_PX if cell.marked else 0.0)
    # No letter is wider than its height: what has room for so many is not measured.
    if " " not in cell.text or len(cell.text) * 13.0 <= room or room < LEAST_WORD_PX:
        return 1
    weight = STRONG if cell.strong else REGULAR
    return 1 if text_width_px(cell.text, 13, weight) <= room else max(len(in_lines(cell.text, weight, room, 9)), 2)


class LedgerDelegate(QStyledItemDelegate):
    """Draws a cell with its rule, mark and colour."""

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Draw one cell."""
        theme, model = current_theme(), index.model()
        assert isinstance(model, LedgerModel)
        cell, row, column = model.cell(index), model.rows[index.row()], model.columns[index.column()]
        rect: QRect = option.rect
        state: QStyle.StateFlag = option.state
        if state & QStyle.StateFlag.State_Selected:
            painter.fillRect(rect, QColor(theme.accent_wash))
            if index.column() == 0:
                # The wash alone is hardly seen by everyone.
                painter.fillRect(QRect(rect.left(), rect.top(), 3, rect.height()), QColor(theme.accent))
        painter.setPen(QPen(QColor(theme.ink if row.heavy else theme.hairline), 1.0))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        if state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(QColor(theme.accent), 2.0))
            painter.drawRect(rect.adjusted(1, 1, -1, -2))
        colours = {"": theme.ink, "steel": theme.steel, "good": theme.good, "look": theme.look, "stop": theme.stop}
        inner = rect.adjusted(6, 0, -6, 0)
        view = self.parent()
        image = view.thumbnails.get(row.key or NO_KEY) if isinstance(view, Ledger) and index.column() == 0 else None
        if image is not None:
            high = min(THUMBNAIL_PX * image.height() // image.width(), rect.height() - 6)
            box = QRect(inner.left(), 0, high * image.width() // image.height(), high)
            box.moveTop(rect.top() + (rect.height() - high) // 2)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(box, image)
            inner.adjust(THUMBNAIL_PX + 6, 0, 0, 0)
        if cell.marked:
            draw_mark(painter, QPointF(inner.left() + 5.0, inner.center().y() + 0.5), cell.origin)
            inner.adjust(MARK_PX, 0, 0, 0)
        if not cell.text or (cell.marked and inner.width() < LEAST_WORD_PX):
            # A mark alone says it where a word would be cut to nothing; the tool tip has it in full.
            return
        weight = STRONG if cell.strong else REGULAR
        painter.setPen(QColor(colours.get(cell.role, theme.ink)))
        text, width = cell.text, text_width_px(cell.text, 13, weight)
        if width > inner.width():
            text = elided(text, 13, weight, inner.width())
            width = text_width_px(text, 13, weight)
        x = inner.right() - width if column.right else inner.left()
        if text != cell.text and not column.right and rect.height() >= TWO_LINES_PX:
            lines = in_lines(cell.text, weight, inner.width(), lines_in(rect.height()))
            top = inner.center().y() + 5.0 - 8.0 * (len(lines) - 1)
            for number, line in enumerate(lines):
                draw_text(painter, x, top + 16.0 * number, line, 13, weight)
            return
        draw_text(painter, x, inner.center().y() + 5.0, text, 13, weight)

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        """Return the row's height."""
        return QSize(60, 27)

    def createEditor(self, parent: QWidget, option: QStyleOptionViewItem, index: Index) -> QWidget:
        """Make a line to type in."""
        editor = QLineEdit(parent)
        editor.setObjectName("ledger_editor")
        editor.setFont(font(13, MEDIUM))
        view, model = self.parent(), index.model()
        if isinstance(view, Ledger) and isinstance(model, LedgerModel):
            key, column = model.rows[index.row()].key, index.column()
            editor.textEdited.connect(lambda text: view.typing.emit(key, column, text))
            editor.textEdited.connect(lambda _: view.show_reason(None, ""))
        return editor

    def eventFilter(self, editor: QObject, event: QEvent) -> bool:
        """Enter in a text that cannot be taken leaves it where it is, with its reason under it."""
        view = self.parent()
        enter = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in (
            Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab
        )  # fmt: skip
        if enter and isinstance(view, Ledger) and isinstance(editor, QLineEdit) and view.refuses(editor):
            return True
        return super().eventFilter(editor, event)

    def destroyEditor(self, editor: QWidget, index: Index) -> None:
        """Typing has ended, taken or given up."""
        view = self.parent()
        if isinstance(view, Ledger):
            view.show_reason(None, "")
            view.typing.emit(None, -1, "")
        super().destroyEditor(editor, index)


class Ledger(QTableView):
    """A ledger view: rows are picked, activated, edited in place and copied."""

    # A row was activated with Enter, a double click on a fixed cell, or a click on its mark: key, column.
    row_activated = Signal(RowKey, int)
    # A cell was edited: row key, column, text.
    edited = Signal(RowKey, int, str)
    # Another row became current: its key.
    row_picked = Signal(RowKey)
    # A person is typing into a cell: row key, column, text so far; an empty key when typing has ended.
    typing = Signal(RowKey, int, str)

    def __init__(self, name: str, title: str, columns: Sequence[Column], parent: QWidget | None = None) -> None:
        """Make an empty ledger; `name` is its object name, `title` what a screen reader calls it."""
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(title)
        self._away: frozenset[int] = frozenset()
        # Says why a text cannot be taken for a cell, "" where it can; None: everything is handed to the owner.
        self.judge: Callable[[RowKey | None, int, str], str] | None = None
        self._reason = Label(parent=self.viewport())
        self._reason.setObjectName(f"{name}_reason")
        self._reason.setProperty("reason", "true")
        self._reason.setWordWrap(True)
        self._reason.hide()
        self.ledger = LedgerModel(columns, self)
        self.setModel(self.ledger)
        self.setItemDelegate(LedgerDelegate(self))
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
            | QAbstractItemView.EditTrigger.AnyKeyPressed
        )
        self.setTabKeyNavigation(False)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(ONE_LINE_PX)
        self.verticalHeader().setMinimumSectionSize(20)
        # Small photos before the first cell, by the row's key.
        self.thumbnails: dict[RowKey, QImage] = {}
        # Widths a hand has drawn columns to, by their number.
        self.own_px: dict[int, int] = {}
        self._fitting = False
        header = self.horizontalHeader()
        header.setHighlightSections(False)
        header.setSectionsClickable(False)
        header.setMinimumSectionSize(LEAST_COLUMN_PX)
        for number, column in enumerate(columns):
            if column.width:
                header.setSectionResizeMode(number, QHeaderView.ResizeMode.Interactive)
                header.resizeSection(number, column.width)
            else:
                header.setSectionResizeMode(number, QHeaderView.ResizeMode.Stretch)
        # Rows that grow may bring a scroll bar, and that takes from the width they were measured in.
        self._again = QTimer(self)
        self._again.setSingleShot(True)
        self._again.timeout.connect(self._fit_rows)
        header.sectionResized.connect(self._resized)
        header.sectionHandleDoubleClicked.connect(self._give_back)
        self.ledger.edited.connect(self.edited)
        copy = QAction(say("Copy table"), self)
        copy.setShortcut(QKeySequence.StandardKey.Copy)
        copy.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        copy.triggered.connect(self.copy)
        self.addAction(copy)
        for name, text, run in (
            ("table_copy_csv", say("Copy table as CSV"), lambda: self.copy(",")),
            ("table_save", say("Save table…"), lambda: save_table(self, self.ledger.table(title))),
        ):
            action = QAction(text, self)
            action.setObjectName(name)
            action.triggered.connect(run)
            self.addAction(action)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)

    def minimumSizeHint(self) -> QSize:
        """Return the least it can be read in: a header and a row.

        The view's own answer hangs on whether its scroll bars were styled yet, which no two starts agree on.
        """
        return QSize(76, LEAST_PX)

    @property
    def whole_px(self) -> int:
        """How high it is with all its rows."""
        return self.horizontalHeader().sizeHint().height() + self.verticalHeader().length() + 2 * self.frameWidth()

    def set_rows(self, rows: Sequence[Row]) -> None:
        """Show other rows."""
        changed = self.ledger.set_rows(rows)
        if changed:
            self._fit_rows(changed)

    def show_thumbnails(self, images: Mapping[RowKey, QImage]) -> None:
        """Show a small photo before the rows of these keys; none shows none."""
        if images or self.thumbnails:
            self.thumbnails = dict(images)
            self._fit_rows()
            self.viewport().update()

    def refuses(self, editor: QLineEdit) -> bool:
        """Return whether what is typed cannot be taken; the reason then is under it."""
        index = self.currentIndex()
        if self.judge is None or not index.isValid():
            return False
        text, cell = editor.text().strip(), self.ledger.cell(index)
        if (not text and not cell.clears) or (text == cell.edit and not cell.again):
            return False
        why = self.judge(self.ledger.rows[index.row()].key, index.column(), text)
        self.show_reason(editor if why else None, why)
        return bool(why)

    def show_reason(self, editor: QLineEdit | None, why: str) -> None:
        """Show under an editor why its text cannot be taken, or take that away."""
        self._reason.setText(why)
        self._reason.setVisible(editor is not None)
        if editor is None:
            return
        editor.setAccessibleDescription(why)
        room = self.viewport().rect()
        wide = min(360, room.width())
        self._reason.setFixedWidth(wide)
        self._reason.adjustSize()
        below = editor.geometry().bottom() + 1
        if below + self._reason.height() > room.height():
            below = editor.geometry().top() - self._reason.height() - 1
        self._reason.move(max(min(editor.x(), room.width() - wide), 0), below)
        self._reason.raise_()

    def leave_out(self, numbers: Collection[int]) -> None:
        """Leave columns out that say nothing now; the others have their room."""
        self._away = frozenset(numbers)
        self._fitting = True
        for number in range(len(self.ledger.columns)):
            self.setColumnHidden(number, number in self._away)
        self._fit()

    def take_widths(self, widths_px: Mapping[int, int]) -> None:
        """Give columns the widths a hand once drew them to; what is no column's is let go."""
        fixed = {number for number, column in enumerate(self.ledger.columns) if column.width}
        self.own_px = {n: min(max(px, LEAST_COLUMN_PX), MOST_COLUMN_PX) for n, px in widths_px.items() if n in fixed}
        self._fit()

    def _resized(self, number: int, _: int, width_px: int) -> None:
        if self.ledger.columns[number].width and not self._fitting and width_px:
            # A hand has drawn it; it stays so.
            self.own_px[number] = min(width_px, MOST_COLUMN_PX)
        self._again.start(0)

    def _give_back(self, number: int) -> None:
        """A column whose edge is double-clicked is as wide as it was made."""
        self.own_px.pop(number, None)
        self._fit()

    def _fit(self) -> None:
        """Narrow or leave out what matters less while the first column would be squeezed."""
        columns, own, header = self.ledger.columns, self.own_px, self.horizontalHeader()
        # A title is read whole in every language.
        metrics = header.fontMetrics()
        titles = [
            max(metrics.horizontalAdvance(line) for line in column.heading.split("\n")) + TITLE_AIR_PX
            for column in columns
        ]
        wide = [max(column.width, title) if column.width else 0 for column, title in zip(columns, titles, strict=True)]
        used = sum(own.get(n, width) for n, width in enumerate(wide) if n not in self._away)
        tight = self.viewport().width() - used < LEAST_NAME_PX
        self._fitting = True
        for number, column in enumerate(columns):
            if not column.width:
                continue
            if column.narrow is not None:
                self.setColumnHidden(number, number in self._away or (tight and column.narrow == 0))
            designed = max(column.narrow, titles[number]) if tight and column.narrow else wide[number]
            header.resizeSection(number, own.get(number, designed))
        self._fitting = False

    def _fit_rows(self, numbers: Sequence[int] | None = None) -> None:
        """Give a row two lines, up to four, where a text would be cut; in a very long table all rows keep one.

        Args:
            numbers: which rows; None for all.
        """
        if len(self.ledger.rows) > MANY_ROWS:
            return
        rooms = [
            (number, self.columnWidth(number) - 12.0 - (THUMBNAIL_PX + 6.0 if number == 0 and self.thumbnails else 0.0))
            for number, column in enumerate(self.ledger.columns) if not column.right and not self.isColumnHidden(number)
        ]  # fmt: skip
        one_line = TWO_LINES_PX if self.thumbnails else self.verticalHeader().defaultSectionSize()
        rows = self.ledger.rows
        for row in range(len(rows)) if numbers is None else numbers:
            told = rows[row]
            lines = max((_lines_of(told.cells[number], room) for number, room in rooms), default=1)
            height = one_line if lines == 1 else LINES_PX[min(lines, len(LINES_PX)) - 1]
            if self.rowHeight(row) != height:
                self.setRowHeight(row, height)
                self._again.start(0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit the columns."""
        self._fit()
        super().resizeEvent(event)
        self._fit_rows()

    def showEvent(self, event: QShowEvent) -> None:
        """Fit the rows: what was filled while no one saw it was not measured."""
        super().showEvent(event)
        self._fit_rows()

    def current_key(self) -> RowKey | None:
        """Return the key of the current row, or None."""
        index = self.currentIndex()
        return self.ledger.rows[index.row()].key if index.isValid() else None

    def pick(self, key: RowKey | None) -> None:
        """Make the row of a key current, without a signal when it is already."""
        for number, row in enumerate(self.ledger.rows):
            if row.key == key:
                if self.currentIndex().row() != number:
                    self.setCurrentIndex(self.ledger.index(number, 0))
                return
        self.clearSelection()

    def told(self) -> str:
        """Return the current row in full: every column with its title, and what the pointer would be shown."""
        index = self.currentIndex()
        if not index.isValid():
            return ""
        row = self.ledger.rows[index.row()]
        said = [
            f"{column.title}: {cell.text}" if column.title else cell.text
            for column, cell in zip(self.ledger.columns, row.cells, strict=True) if cell.text
        ]  # fmt: skip
        said += [cell.tip for cell in row.cells if cell.tip and cell.tip not in said]
        return "\n".join(said)

    def show_row(self) -> None:
        """Show the current row in full beside it."""
        told, index = self.told(), self.currentIndex()
        if told:
            sheet = Popover(self.accessibleName(), self, 420)
            sheet.setObjectName("row_in_full")
            sheet.add_line(told)
            sheet.show_at(self.viewport().mapToGlobal(self.visualRect(index).bottomLeft()))
            sheet.setFocus(Qt.FocusReason.PopupFocusReason)

    def _activate(self, index: Index) -> None:
        """Say that a row was activated; where no one minds, it is shown in full."""
        if self.isSignalConnected(QMetaMethod.fromSignal(self.row_activated)):
            self.row_activated.emit(self.ledger.rows[index.row()].key, index.column())
        else:
            self.show_row()

    def copy(self, separator: object = "\t") -> None:
        """Put the whole table on the clipboard."""
        mark = separator if isinstance(separator, str) else "\t"
        copy_table(self, self.ledger.table(self.accessibleName()), mark)

    def currentChanged(self, current: Index, previous: Index) -> None:
        """Say which row is current."""
        super().currentChanged(current, previous)
        if current.isValid() and current.row() != previous.row():
            self.row_picked.emit(self.ledger.rows[current.row()].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter activates a row; everything else is the table's own."""
        index = self.currentIndex()
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and index.isValid() and self.state() != QAbstractItemView.State.EditingState:
            self._activate(index)
            return
        super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A click on a provenance mark activates its cell."""
        super().mouseReleaseEvent(event)
        index = self.indexAt(event.position().toPoint())
        if index.isValid() and event.button() == Qt.MouseButton.LeftButton and self.ledger.cell(index).marked:
            self.row_activated.emit(self.ledger.rows[index.row()].key, index.column())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click on a cell that cannot be edited activates its row."""
        index = self.indexAt(event.position().toPoint())
        cell = self.ledger.cell(index) if index.isValid() else None
        if cell is not None and cell.edit is None and not cell.marked:
            self._activate(index)
            return
        super().mouseDoubleClickEvent(event)
