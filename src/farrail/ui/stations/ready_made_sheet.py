"""The ready-made sizes: what can be had almost anywhere, put on the shelf as a beginning."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QSpinBox, QVBoxLayout, QWidget

from farrail.language import begun_large, say
from farrail.parts.inventory_item import Status
from farrail.parts.ready_search import find_sizes
from farrail.parts.registry import usual_sizes
from farrail.ui.session import Session
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.clearing import clearable
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Heading, Nth, RowKey
from farrail.workbook.edits.shelf import AddPart


class ReadyMadeSheet(QWidget):
    """Lists ready-made sizes under their groups; Enter puts one on the shelf."""

    # The sheet is no longer needed: the id of the last part put on the shelf, or "".
    closed = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the sheet; the list is made when it is first shown."""
        super().__init__(parent)
        self.setObjectName("ready_made_sheet")
        self._session = session
        self._last = ""
        title = Label(say("Ready-made sizes"))
        title.setFont(font(17, STRONG))
        text = Label(say("A beginning, every value assumed until it is measured."))
        text.setProperty("role", "steel")
        self.search = QLineEdit()
        self.search.setObjectName("ready_made_search")
        self.search.setPlaceholderText(say("Find a size, such as spacer M42 5, step-up 67 77, or 2 inch filter"))
        clearable(self.search)
        self.search.textChanged.connect(self._fill)
        self.table = Ledger(
            "ready_made", say("Ready-made sizes"), (Column(say("Size")), Column(say("from"), False, 196, 120))
        )
        self.table.row_activated.connect(lambda key, _: self._add(key))
        self.count = QSpinBox()
        self.count.setObjectName("ready_made_count")
        self.count.setAccessibleName(say("Number you own"))
        self.count.setRange(1, 1000)
        self._have = QPushButton(say("I have it"))
        self._have.setObjectName("ready_made_have")
        self._have.setToolTip(say("Put it on the shelf as your own, with the number beside it"))
        self._have.setEnabled(False)
        self._have.clicked.connect(lambda: self._add(self.table.current_key(), owned=self.count.value()))
        self._take = QPushButton(say("Add to parts"))
        self._take.setObjectName("ready_made_take")
        self.table.row_picked.connect(self._offer)
        self._take.clicked.connect(lambda: self._add(self.table.current_key()))
        done = QPushButton(say("Done"))
        done.setObjectName("ready_made_done")
        done.clicked.connect(lambda: self.closed.emit(self._last))
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self._take)
        buttons.addWidget(self.count)
        buttons.addWidget(self._have)
        buttons.addWidget(done)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(5)
        box.addWidget(title)
        box.addWidget(text)
        box.addWidget(self.search)
        box.addWidget(self.table, 1)
        box.addLayout(buttons)

    def open(self, name: str = "") -> None:
        """Show the whole list, or the size of a name, picked and ready for Enter."""
        self._last = ""
        self.search.setText(name)
        self._fill()
        if not name:
            self.search.setFocus()
            return
        named = next(n for n, item in enumerate(usual_sizes()) if item.part.name == name)
        self.table.pick(Nth(named))
        self.table.setFocus()

    def _fill(self) -> None:
        rows: list[Row] = []
        group = ""
        for number, item in find_sizes(self.search.text(), usual_sizes()):
            if item.group != group:
                group = item.group
                rows.append(Row((Cell(begun_large(group), strong=True), Cell("")), Heading(group), heavy=True))
            rows.append(Row((Cell(item.part.name), Cell(str(item.source), "steel", tip=str(item.source))), Nth(number)))
        self.table.set_rows(rows)
        self._offer(None)

    def _offer(self, key: RowKey | None) -> None:
        for button in (self._take, self._have):
            button.setEnabled(isinstance(key, Nth))

    def _add(self, key: RowKey | None, owned: int = 0) -> None:
        """Put a size on the shelf: as an example, or as so many that one owns."""
        if isinstance(key, Nth):
            item = usual_sizes()[key.number]
            kept = {"status": Status.OWNED, "owned": owned} if owned else {"status": Status.EXAMPLE}
            example = item.part.model_copy(update=kept)
            if self._session.do(AddPart(example, label=say("Add {name}", name=item.part.name))):
                self._last = self._session.workbook.shelf[-1].id
                if owned:
                    self.count.setValue(1)
                    self._session.message.emit(
                        say(
                            "{name} is on the shelf; its values are usual ones until you measure it.",
                            name=item.part.name,
                        ),
                        False,
                    )
                    return
                self._session.message.emit(
                    say(
                        "{name} is on the shelf as an example; measure it, or say “I have it”, to own it.",
                        name=item.part.name,
                    ),
                    False,
                )
