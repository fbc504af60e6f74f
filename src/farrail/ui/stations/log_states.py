"""The history of a train: states kept by name, what differs from how it is now, placed again as a train."""

from datetime import date
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from farrail.language import say
from farrail.logbook.compare_words import difference_line
from farrail.logbook.differences import differences
from farrail.logbook.state import State
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import TermKey
from farrail.ui.widgets.short_field import ShortField
from farrail.workbook.edits.states import DropState, KeepState, RestoreState


class StatesPage(QWidget):
    """States of the train in view."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self.name = ShortField(say("A name for the snapshot"))
        self.name.setObjectName("state_name")
        self.name.setPlaceholderText(say("name of the snapshot"))
        self.name.returnPressed.connect(self.keep)
        self._keep = self._button("state_keep", say("Save snapshot"), self.keep)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.name, 1)
        head.addWidget(self._keep)
        self.table = Ledger(
            "log_states", say("States of this train"),
            (Column(say("Kept as")), Column(say("day"), False, 100), Column(say("seen with it"), True, 96)),
        )  # fmt: skip
        self.table.row_picked.connect(lambda _: self._tell())
        self._text = Label()
        self._text.setObjectName("state_differs")
        self._text.setWordWrap(True)
        self.lay = self._button("state_lay", say("Open as a new train"), self._restore)
        self.drop = self._button("state_drop", say("Delete snapshot"), self._drop)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self.lay)
        buttons.addWidget(self.drop)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addLayout(head)
        self._text.setAlignment(Qt.AlignmentFlag.AlignTop)
        box.addWidget(self.table, 1)
        box.addWidget(self._text, 1)
        box.addLayout(buttons)

    def _button(self, name: str, text: str, run: Any) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    def refresh(self) -> None:
        """Show the states of the train in view, the youngest first."""
        train, workbook = self._session.train, self._session.workbook
        self.name.setEnabled(train is not None)
        self._keep.setEnabled(train is not None)
        mine = [] if train is None else [state for state in workbook.states if state.train.id == train.id]
        mine.sort(key=lambda state: state.day, reverse=True)
        # What is kept of trains that were deleted can be opened again as well.
        there = {one.id for one in workbook.trains}
        gone = sorted((s for s in workbook.states if s.train.id not in there), key=lambda s: s.day, reverse=True)
        now = self.table.current_key()
        rows = []
        for state in (*mine, *gone):
            count = sum(seen.state == state.id for seen in workbook.log)
            cells = (
                Cell(
                    _called(state, deleted=state.train.id not in there),
                    "" if state.name else "steel",
                    strong=bool(state.name),
                ),
                Cell(state.day, "steel"),
                Cell(str(count) if count else "–", "steel"),
            )
            rows.append(Row(cells, TermKey(state.id)))
        self.table.set_rows(rows)
        self.table.pick(now if any(row.key == now for row in rows) else rows[0].key if rows else None)
        self._tell()

    def _state(self) -> State | None:
        key = self.table.current_key()
        return self._session.workbook.states_by_id.get(key.term) if isinstance(key, TermKey) else None

    def _tell(self) -> None:
        state, train, shelf = self._state(), self._session.train, self._session.workbook.by_id
        self.lay.setEnabled(state is not None)
        self.drop.setEnabled(state is not None and bool(state.name))
        if state is None or (train is None and state.train.id in {one.id for one in self._session.workbook.trains}):
            self._text.setText(say("No snapshots of this train yet."))
            return
        lost = [part.name for key, part in state.by_id.items() if key not in shelf]
        lacking = say("No longer among your parts: {listed}.", listed=", ".join(lost)) + "\n" if lost else ""
        if train is None or state.train.id != train.id:
            self._text.setText(lacking + say("Of a train that was deleted; open it as a new train."))
            return
        found = differences(state.train, train, state.by_id, shelf)
        lines = [difference_line(one) for one in found]
        self._text.setText(
            lacking + say("The train is the same as in the snapshot.")
            if not lines
            else lacking + say("Since then:\n") + "\n".join(f"  {line}" for line in lines)
        )

    def keep(self) -> None:
        """Keep the train as it is under the name typed."""
        train = self._session.train
        if train is not None and self._session.do(KeepState(train.id, self.name.text(), date.today().isoformat())):
            self.name.setText("")

    def _drop(self) -> None:
        state = self._state()
        if state is not None:
            self._session.do(DropState(state.id, label=say("Keep “{name}” no longer", name=state.name)))

    def _restore(self) -> None:
        state = self._state()
        if state is None:
            return
        label = say("Open {name} of {day}", name=state.train.name, day=state.day)
        if self._session.do(RestoreState(state.id, label=label)):
            self._session.show_train(self._session.workbook.trains[-1].id)


def _called(state: State, *, deleted: bool) -> str:
    """Return what a snapshot is called."""
    name = state.name or say("saved with an observation")
    return say("{train}, deleted: {name}", train=state.train.name, name=name) if deleted else name
