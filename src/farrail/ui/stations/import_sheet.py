"""The import sheet: what a table would bring to the shelf, row by row, before anything is brought."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from farrail.exchange.csv_shelf import Preview, PreviewRow, preview_csv
from farrail.language import joined, say, say_n
from farrail.ui.session import Session
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.origin_bar import OriginBar
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth
from farrail.workbook.edits.shelf import ImportParts


class ImportSheet(QWidget):
    """Shows a preview; the good rows are imported on request."""

    # The sheet is no longer needed: imported or given up. The id of the first new part, or "".
    closed = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make an empty sheet."""
        super().__init__(parent)
        self.setObjectName("import_sheet")
        self._session = session
        self._preview: Preview | None = None
        self._text_of, self._where = "", ""
        self._title = Label()
        self._title.setObjectName("import_title")
        self._title.setFont(font(17, STRONG))
        self._title.setWordWrap(True)
        self._text = Label()
        self._text.setObjectName("import_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        self.table = Ledger(
            "import_rows", say("Rows of the table"),
            (Column(say("Part"), False, 136), Column(say("line"), True, 44), Column(say("is"))),
        )  # fmt: skip
        self.sources = OriginBar(session, say("Bare numbers are from"))
        session.reading_changed.connect(self._read_again)
        self._take = QPushButton()
        self._take.setObjectName("import_take")
        self._take.clicked.connect(self._import)
        leave = QPushButton(say("Cancel"))
        leave.setObjectName("import_leave")
        leave.clicked.connect(lambda: self.closed.emit(""))
        buttons = QHBoxLayout()
        buttons.addWidget(self._take)
        buttons.addWidget(leave)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(5)
        box.addWidget(self._title)
        box.addWidget(self._text)
        box.addWidget(self.sources)
        box.addWidget(self.table, 1)
        box.addLayout(buttons)

    def show_table(self, text: str, where: str) -> None:
        """Show what a table would bring, the bad rows first; where its bare numbers come from can be said once.

        Raises:
            BadInput: it is no table of parts.
        """
        preview = preview_csv(text, self._session.workbook.by_id, self._session.reading_from)
        self._text_of, self._where = text, where
        self._show(preview, where)

    def _read_again(self) -> None:
        """The bare numbers come from elsewhere: the table is read again."""
        if self._text_of and self.isVisible():
            self.show_table(self._text_of, self._where)

    def _show(self, preview: Preview, where: str) -> None:
        self._preview = preview
        good, bad = len(preview.good), preview.bad
        self._title.setText(say("{good} of {bad} rows can be imported", good=good, bad=good + bad))
        self._text.setText(
            joined(
                say("From {where}. Not imported yet.", where=where), say("Rows with errors come first.") if bad else ""
            )
        )
        rows = sorted(preview.rows, key=lambda row: (row.part is not None, row.line))
        self.table.set_rows([_row(row) for row in rows])
        self._take.setEnabled(good > 0)
        self._take.setText(say_n("Import {good} part", "Import {good} parts", good, good=good))

    def _import(self) -> None:
        good = self._preview.good if self._preview is not None else ()
        if good and self._session.do(ImportParts(good)):
            self.closed.emit(good[0].id)


def _row(row: PreviewRow) -> Row:
    reason = Cell(say("ready"), "good") if row.part is not None else Cell(row.reason, "stop", tip=row.reason)
    return Row((Cell(row.name or say("no name"), tip=row.reason), Cell(f"{row.line}", "steel"), reason), Nth(row.line))
