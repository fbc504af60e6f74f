"""Pasting a page: text of a part's data, what is recognised in it, and each of it approved before it is taken."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.exchange.page_text import Found, read_page
from farrail.language import say, say_n
from farrail.parts.fields import Shape, field_at, value_at
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import KINDS, Part
from farrail.ui.session import Session
from farrail.ui.stations.part_rows import edit_of
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth, RowKey
from farrail.ui.widgets.value_card import quantity_text
from farrail.workbook.edits.several import Several


class PageSheet(QWidget):
    """Takes a pasted text, lists what it says of the part in hand, and puts what is approved into it."""

    # The sheet is no longer needed: the id of the part it was about.
    closed = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the sheet."""
        super().__init__(parent)
        self.setObjectName("page_sheet")
        self._session = session
        self._part = ""
        self._found: tuple[Found, ...] = ()
        self._left: set[int] = set()
        self._title = Label()
        self._title.setFont(font(17, STRONG))
        self._title.setWordWrap(True)
        text = Label(say("Paste a product page; only values next to their names are read, and none is guessed."))
        text.setProperty("role", "steel")
        text.setWordWrap(True)
        self.page = QPlainTextEdit()
        self.page.setObjectName("page_text")
        self.page.setAccessibleName(say("Text of the page"))
        self.page.setPlaceholderText(say("path length 20.5 mm, M42x0.75 internal to M42x0.75 external, clear 38"))
        self.page.setTabChangesFocus(True)
        self.page.setFixedHeight(112)
        self.page.textChanged.connect(self._read)
        self.table = Ledger(
            "page_found", say("Recognised values"),
            (
                Column("", False, 30, said=say("put in")), Column(say("Value")),
                Column(say("is"), False, 150), Column(say("now"), False, 118, 0)),
        )  # fmt: skip
        self.table.row_activated.connect(self._toggle)
        self._words = Label()
        self._words.setObjectName("page_words")
        self._words.setProperty("role", "steel")
        self._words.setWordWrap(True)
        self.table.row_picked.connect(self._tell_words)
        self._take = QPushButton(say("Enter into the part"))
        self._take.setObjectName("page_take")
        self._take.clicked.connect(self._put)
        leave = QPushButton(say("Cancel"))
        leave.setObjectName("page_leave")
        leave.clicked.connect(lambda: self.closed.emit(self._part))
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self._take)
        buttons.addWidget(leave)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        for widget in (self._title, text, self.page):
            box.addWidget(widget)
        box.addWidget(self.table, 1)
        box.addWidget(self._words)
        box.addLayout(buttons)

    def open(self, part_id: str, text: str) -> None:
        """Begin with a text for a part."""
        self._part = part_id
        part = self._of()
        self._title.setText(say("A page") if part is None else say("A page about {name}", name=part.name))
        self.page.setPlainText(text)
        self._read()
        self.page.setFocus()

    def _of(self) -> Part | None:
        return self._session.workbook.by_id.get(self._part)

    def _read(self) -> None:
        part = self._of()
        self._found = () if part is None else read_page(self.page.toPlainText(), part)
        self._left = set()
        self._show()

    def _show(self) -> None:
        part = self._of()
        self.table.set_rows([] if part is None else [self._row(n, one, part) for n, one in enumerate(self._found)])
        count = len(self._found) - len(self._left)
        self._take.setEnabled(count > 0)
        self._take.setText(
            say_n("Put {count} value into the part", "Put {count} values into the part", count, count=count)
        )
        if not self._found:
            written = self.page.toPlainText().strip()
            self._words.setText(
                say("No values recognised; write the name of a value before its number.") if written else ""
            )

    def _row(self, number: int, found: Found, part: Part) -> Row:
        field = field_at(KINDS[part.kind], found.path)
        assert field is not None
        there, old = value_at(part, found.path)
        known = (
            quantity_text(old, field.unit, stays_mm=field.stays_mm)
            if isinstance(old, Quantity)
            else getattr(old, "label", say("none"))
        )
        unit = f" {field.unit}" if field.unit and field.shape is Shape.QUANTITY and found.text[-1:].isdigit() else ""
        ticked = number not in self._left
        role = "" if ticked else "steel"
        cells = (
            Cell("✓" if ticked else "–", "good" if ticked else "steel", strong=ticked), Cell(field.label, role),
            Cell(f"{found.text}{unit}", role, strong=ticked), Cell(known if there else say("not known"), "steel"),
        )  # fmt: skip
        return Row(cells, Nth(number))

    def _toggle(self, key: RowKey | None, column: int) -> None:
        if isinstance(key, Nth):
            self._left ^= {key.number}
            self._show()

    def _tell_words(self, key: RowKey | None) -> None:
        if isinstance(key, Nth) and key.number < len(self._found):
            self._words.setText(
                say("Read from “{words}”. Press Enter to include or exclude it.", words=self._found[key.number].words)
            )

    def _put(self) -> None:
        """Put what is approved into the part: one step of undo, published."""
        part = self._of()
        if part is None:
            return
        try:
            edits = tuple(
                edit_of(part, one.path, one.text, self._session.workbook, Origin.PUBLISHED)
                for number, one in enumerate(self._found)
                if number not in self._left
            )
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        if self._session.do(Several(edits, label=say("Take a page for {name}", name=part.name))):
            self.closed.emit(self._part)
