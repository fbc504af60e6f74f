"""Several trains planned at once: the Spacing station's page that finds one set of purchases for all of them."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from farrail.cancel import Cancel
from farrail.errors import FarRailError
from farrail.language import N_, joined, say
from farrail.parts.inventory_item import AT_HAND
from farrail.planning.offers import Offer
from farrail.planning.purchase import Bought
from farrail.planning.together import MOST_TRAINS, Together, plan_together
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.theme.fonts import REGULAR, elided
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth
from farrail.workbook.edits.laying import LayTogether

BEGIN = N_(
    "Tick two trains or more. Optic, corrector, housings and camera of each stay; spacers, shims and adapters are "
    "loose."
)
ERROR_ROW = N_("Error")
TRAIN_PX, TITLE_MARGIN_PX = 112, 16


class TogetherPage(QWidget):
    """Ticks trains, plans them together, shows which piece each takes, and places all of them in one step."""

    # The train in view as it would be, or None to show it as it is.
    previewed = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self.setObjectName("together_page")
        self._session = session
        self._made: Together | None = None
        self.trains = QListWidget()
        self.trains.setObjectName("together_trains")
        self.trains.setAccessibleName(say("Trains to plan together"))
        self.trains.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.trains.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.trains.itemChanged.connect(lambda _: self._forget())
        self.whole = QCheckBox(say("Each train kept whole"))
        self.whole.setObjectName("together_whole")
        self.whole.setToolTip(
            say("No part is shared; otherwise parts move between trains, one train in use at a time.")
        )
        self.whole.toggled.connect(lambda _: self._forget())
        self.search = QPushButton(say("Plan them together"))
        self.search.setObjectName("together_find")
        self.search.clicked.connect(self._toggle)
        self.lay = QPushButton(say("Apply to all of them"))
        self.lay.setObjectName("together_lay")
        self.lay.clicked.connect(self._lay)
        self._text = Label(str(BEGIN))
        self._text.setObjectName("together_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        columns = [Column("", True, TRAIN_PX, 76, said=say("train")) for _ in range(MOST_TRAINS)]
        self.table = Ledger(
            "together_pieces", say("Parts of each train"),
            (Column(say("Piece")), *columns, Column(say("owned"), True, 62, 0), Column(say("to buy"), True, 70)),
        )  # fmt: skip
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self._outdated)
        self.work.failed.connect(self._failed)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self.trains, 1)
        left.addWidget(self.whole)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self.search)
        buttons.addWidget(self.lay)
        buttons.addStretch(1)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addLayout(buttons)
        right.addWidget(self._text)
        right.addWidget(self.table, 1)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(0, 6, 0, 0)
        sheet.setSpacing(20)
        sheet.addLayout(left, 4)
        sheet.addLayout(right, 9)
        self._forget()

    def refresh(self) -> None:
        """Follow the workbook: its trains, keeping the ticks of those that are still there."""
        workbook = self._session.workbook
        told = [(train.id, train.name) for train in workbook.trains]
        if told != [(item.data(Qt.ItemDataRole.UserRole), item.text()) for item in self._items()]:
            ticked = self._ticked()
            self.trains.blockSignals(True)
            self.trains.clear()
            for key, name in told:
                item = QListWidgetItem(name, self.trains)
                item.setData(Qt.ItemDataRole.UserRole, key)
                item.setToolTip(name)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Checked if key in ticked else Qt.CheckState.Unchecked)
            self.trains.blockSignals(False)
        self.work.check()

    def _items(self) -> list[QListWidgetItem]:
        return [self.trains.item(n) for n in range(self.trains.count())]

    def _ticked(self) -> list[str]:
        return [i.data(Qt.ItemDataRole.UserRole) for i in self._items() if i.checkState() is Qt.CheckState.Checked]

    def _question(self) -> object:
        """Return what a plan rests on: the chosen trains, the parts, what kits cost, and how parts may move."""
        workbook, chosen = self._session.workbook, self._ticked()
        trains = [train for train in workbook.trains if train.id in chosen]
        if len(trains) < 2:
            return None
        return Same([workbook.shelf, *trains]), tuple(sorted(workbook.kit_prices.items())), self.whole.isChecked()

    def _outdated(self) -> None:
        self._forget()
        self._text.setText(say("The trains or the parts have changed: plan again."))

    def _forget(self) -> None:
        """Drop a plan that no longer answers what is ticked."""
        self.work.forget()
        self._made = None
        self.table.set_rows([])
        self.table.hide()
        self.lay.hide()
        self.search.setText(say("Plan them together"))
        self.search.setEnabled(2 <= len(self._ticked()) <= MOST_TRAINS)
        self._text.setText(str(BEGIN))
        self.previewed.emit(None)

    def _toggle(self) -> None:
        if self.work.busy:
            self._forget()
            return
        workbook, whole = self._session.workbook, self.whole.isChecked()
        trains = [workbook.train(key) for key in self._ticked()]
        shelf, prices = workbook.by_id, workbook.kit_prices
        self.search.setText(say("Cancel"))
        self._text.setText(say("Searching for all of them …"))

        def search(cancel: Cancel) -> Together | FarRailError:
            try:
                return plan_together(trains, shelf, kept_whole=whole, kit_prices=prices, cancel=cancel)
            except FarRailError as error:
                return error

        self.work.begin(search)

    def _show(self, answer: object) -> None:
        self.search.setText(say("Plan them together"))
        if isinstance(answer, FarRailError):
            self._text.setText(str(answer))
            return
        assert isinstance(answer, Together)
        self._made = answer
        price = say("Price: {price:g}.", price=answer.price) if answer.price else ""
        self._text.setText(joined(answer.text, price))
        trains = [p.train for p in answer.proposals]
        self.table.setVisible(bool(trains))
        self.lay.setVisible(bool(trains))
        self.table.leave_out(range(1 + len(trains), 1 + MOST_TRAINS))
        spare = [""] * (MOST_TRAINS - len(trains))
        room = self.table.columnWidth(1) - TITLE_MARGIN_PX
        names = (elided(train.name, 13, REGULAR, room) for train in trains)
        self.table.ledger.set_titles([say("Piece"), *names, *spare, say("owned"), say("to buy")])
        self.table.set_rows(self._rows(answer))
        self.show_preview(True)

    def _rows(self, made: Together) -> list[Row]:
        """Return a row a piece with how many each train takes, and the error that is left on each."""
        shelf = self._session.workbook.by_id | {part.id: part for part in made.new_parts}
        spare = [Cell("") for _ in range(MOST_TRAINS - len(made.proposals))]
        buying = {part.id: item for item in made.bought for part in item.parts}
        rows = []
        for number, (key, counts) in enumerate(made.counts().items()):
            part = shelf[key]
            owned = part.owned if part.status in AT_HAND else 0
            each = [Cell(f"{n}" if n else "–", "" if n else "steel") for n in counts]
            price = _price(buying.get(key))
            cells = (
                Cell(part.name, tip=part.name),
                *each,
                *spare,
                Cell(f"{owned}", "steel"),
                Cell(price, "look"),
            )
            rows.append(Row(cells, Nth(number)))
        for item in made.twice:
            each = [Cell(say("stays"), "steel") for _ in made.proposals]
            rows.append(Row((Cell(item.name), *each, *spare, Cell(""), Cell(_price(item), "look")), Nth(len(rows))))
        errors = [
            Cell(say("{error_mm:+.2f length}", error_mm=p.error_mm).replace("-", "−"), "good", strong=True)
            for p in made.proposals
        ]
        cells = (Cell(str(ERROR_ROW), strong=True), *errors, *spare, Cell(""), Cell(""))
        return [*rows, Row(cells, Nth(len(rows)), heavy=True)]

    def _failed(self, error: Exception) -> None:
        self._forget()
        self._text.setText(say("The search broke off; ask again."))
        self._session.tell_failure(error, say("Planning several trains"))

    def _planned(self) -> Train | None:
        """Return the train in view as it would be."""
        now, made = self._session.train, self._made
        if now is None or made is None:
            return None
        return next((p.train for p in made.proposals if p.train.id == now.id), None)

    def show_preview(self, wanted: bool) -> None:
        """Show the train in view as planned, or as it is."""
        train = self._planned() if wanted else None
        self.previewed.emit(None if train is None else Offer(train, say("planned with the others")))

    def _lay(self) -> None:
        """Place all of them: one step of undo."""
        made = self._made
        if made is not None and made.proposals:
            self.previewed.emit(None)
            self._session.do(LayTogether(tuple(p.train for p in made.proposals), made.new_parts))


def _price(item: Bought | None) -> str:
    """Return how many of something are bought, and for what."""
    if item is None:
        return ""
    return f"{item.count}" if item.price is None else say("{count} for {price:g}", count=item.count, price=item.price)
