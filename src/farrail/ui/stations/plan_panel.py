"""The planner in the Spacing station: ways to fill the gap, previewed on the rail, placed with one key."""

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from farrail.language import joined, say
from farrail.planning.aim import Aim
from farrail.planning.guide import GuideWay, refusal_of
from farrail.planning.offers import Offer, offers_of
from farrail.planning.plan import Plan, Proof, aims_mm, plan
from farrail.planning.proposal import Proposal
from farrail.readouts.figure import workings
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth, RowKey
from farrail.workbook.edits.laying import LayPlan

# Shorter searches need no word of progress.
QUIET_MS = 300


class PlanPanel(QWidget):
    """Asks the planner and shows its proposals, or its proof that there is none and what would fix it."""

    # An offer is to be shown on the rail before it is placed, or None to show the train itself again.
    previewed = Signal(Offer)
    # There are proposals, or none any more: the page needs more or less room.
    shown = Signal()

    @property
    def offers(self) -> bool:
        """Whether proposals are shown."""
        return self._plan is not None and bool(self._plan.proposals)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make an empty panel."""
        super().__init__(parent)
        self.setObjectName("plan_panel")
        self._session = session
        self._plan: Plan | None = None
        # Whether the first proposal is to have the keyboard once it is there.
        self._wanted = False
        self._work = BackgroundTask(self._question, self)
        self._work.answered.connect(self._show)
        self._work.answered.connect(lambda _: self.shown.emit())
        self._work.outdated.connect(self.forget)
        self._work.failed.connect(self._failed)
        self._find = QPushButton(say("Find spacer combinations"))
        self._find.setObjectName("plan_find")
        self._find.clicked.connect(self._toggle)
        self._lay = QPushButton(say("Apply"))
        self._lay.setObjectName("plan_lay")
        self._lay.clicked.connect(self._lay_current)
        self.aim = QComboBox()
        self.aim.setObjectName("plan_aim")
        self.aim.setAccessibleName(say("Published figure to aim at"))
        self.aim.setToolTip(
            say("Published figures differ: choose the one to aim at. Errors are relative to the one in use.")
        )
        self.aim.activated.connect(self._aim_again)
        self.reorder = QCheckBox(say("Allow reordering"))
        self.reorder.setObjectName("plan_reorder")
        self.reorder.setToolTip(
            say(
                "Also try drawer, wheel, rotator and guider in other places and flipped. Filters "
                "stay as close to the sensor as now."
            )
        )
        self.reorder.clicked.connect(self._aim_again)
        self._text = Label()
        self._text.setObjectName("plan_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        self.table = Ledger(
            "plan_proposals",
            say("Proposals"),
            (
                Column(say("Change")),
                Column(say("error"), True, 88, lengths=True),
                Column(say("joints"), True, 54, 0),
                Column("±95 %", True, 62, 0, lengths=True),
            ),
        )
        self.table.row_picked.connect(self._preview)
        self.table.row_activated.connect(lambda *_: self._lay_current())
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self._find)
        buttons.addWidget(self._lay)
        buttons.addWidget(self.aim)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        box.addLayout(buttons)
        told = QHBoxLayout()
        told.setSpacing(10)
        told.addWidget(self._text, 1, Qt.AlignmentFlag.AlignTop)
        told.addWidget(self.reorder, 0, Qt.AlignmentFlag.AlignTop)
        box.addLayout(told)
        box.addWidget(self.table, 1)
        self._slow = QTimer(self)
        self._slow.setSingleShot(True)
        self._slow.setInterval(QUIET_MS)
        self._slow.timeout.connect(self._tell_busy)
        session.changed.connect(self.forget)
        session.train_changed.connect(self.forget)
        self.forget()

    def end(self) -> None:
        """Give up the search and wait for its thread: the window is closing."""
        self._work.end()

    def wait(self) -> None:
        """Wait for the search under way."""
        self._work.wait()

    def forget(self) -> None:
        """Drop proposals that no longer answer the train in view."""
        self._work.forget()
        self._slow.stop()
        self._plan = None
        self.table.set_rows([])
        self.table.hide()
        self._lay.hide()
        self._find.setText(say("Find spacer combinations"))
        self._text.setText(
            say("Spacers, shims and adapters are loose; telescope, corrector, housings and camera stay.")
        )
        self._fill_aims()
        self.previewed.emit(None)

    def _question(self) -> object:
        """Return what a plan rests on; None without a train."""
        train, workbook = self._session.train, self._session.workbook
        if train is None:
            return None
        prices = tuple(sorted(workbook.kit_prices.items()))
        return Same([train, workbook.shelf]), self.aim.currentData(), self.reorder.isChecked(), prices

    def _fill_aims(self) -> None:
        """Offer what can be aimed at; nothing is asked where there is one figure only."""
        readout = self._session.readout
        aims = aims_mm(readout.spacing) if readout is not None else {}
        words = {
            Aim.IN_USE: say("in use"),
            Aim.LOWEST: say("lowest"),
            Aim.HIGHEST: say("highest"),
            Aim.MIDDLE: say("middle"),
        }
        items = [
            (say("Aim at {value:.2f length}, {words}", value=value, words=words[aim]), aim)
            for aim, value in aims.items()
            if aim is Aim.IN_USE or value != aims[Aim.IN_USE]
        ]
        self.aim.setVisible(len(items) > 1)
        if items != [(self.aim.itemText(i), self.aim.itemData(i)) for i in range(self.aim.count())]:
            self.aim.clear()
            for text, aim in items:
                self.aim.addItem(text, aim)

    def _aim_again(self) -> None:
        """A plan that was asked for is asked for again with the new wish."""
        if self._plan is not None or self._work.busy:
            self.ask()

    def ask(self) -> None:
        """Ask the planner about the train in view."""
        train, shelf = self._session.train, self._session.workbook.by_id
        if train is None:
            return
        self._slow.start()
        # Train and shelf are immutable: the thread may read them while the person goes on.
        aim, reorder = Aim(self.aim.currentData() or Aim.IN_USE), self.reorder.isChecked()
        prices = self._session.workbook.kit_prices
        self._work.begin(
            lambda cancel: plan(train, shelf, aim=aim, reorder=reorder, kit_prices=prices, cancel=cancel)
        )  # fmt: skip

    def go_to_first(self) -> None:
        """Give the first proposal the keyboard, now or once there is one."""
        self._wanted = True
        if not self._work.busy and self.table.ledger.rows:
            self._enter()

    def _enter(self) -> None:
        self._wanted = False
        self.table.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _toggle(self) -> None:
        if self._work.busy:
            self.forget()
        else:
            self.ask()

    def _tell_busy(self) -> None:
        self._find.setText(say("Cancel"))
        self._text.setText(say("Searching the shelf …"))

    def _show(self, answer: object) -> None:
        assert isinstance(answer, Plan)
        self._slow.stop()
        self._plan = answer
        self._find.setText(say("Find again"))
        self._text.setText(_sentence(answer))
        rows = _rows(answer)
        self.table.set_rows(rows)
        self.table.setVisible(bool(rows))
        self._lay.setVisible(bool(offers_of(answer)))
        if offers_of(answer):
            self.table.setCurrentIndex(self.table.ledger.index(0, 0))
            self._preview(self.table.current_key())
            if self._wanted:
                self._enter()
        self._wanted = False

    def _failed(self, error: Exception) -> None:
        """Free the panel after a search that broke."""
        self.forget()
        self._text.setText(say("The search broke off; ask again."))
        self._session.tell_failure(error, say("The search of the shelf"))

    def _offer(self, key: RowKey | None) -> Offer | None:
        made = offers_of(self._plan) if self._plan is not None else []
        return made[key.number] if isinstance(key, Nth) and key.number < len(made) else None

    def _preview(self, key: RowKey | None) -> None:
        found = self._offer(key)
        self._lay.setEnabled(found is not None)
        self.previewed.emit(found)

    def show_preview(self, wanted: bool) -> None:
        """Show the picked offer on the rail, or the train as it is while another station is in front."""
        self.previewed.emit(self._offer(self.table.current_key()) if wanted else None)

    def _lay_current(self) -> None:
        """Place the picked offer: one step of undo."""
        found, train = self._offer(self.table.current_key()), self._session.train
        if found is None or train is None:
            return
        planned = found.train
        self._session.do(
            LayPlan(
                train.id,
                planned.rear_train,
                found.bought,
                say("Apply the plan: {words}", words=found.words),
                planned.camera,
                planned.camera_bare,
            )
        )


def _rows(made: Plan) -> list[Row]:
    rows = [_row(p, number) for number, p in enumerate(made.proposals)]
    if made.buy is not None:
        price = "" if made.buy.price is None else say(" for {price:g}", price=made.buy.price)
        rows.append(_row(made.buy.proposal, len(rows), say("Buy {name}{price}", name=made.buy.name, price=price)))
    for saving in made.thinner:
        words = f"{saving.words[0].upper()}{saving.words[1:]}"
        cost = "" if saving.price is None else say(" for {price:g}", price=saving.price)
        tip = say("{words}{cost}\nThe rest of the train stays; plan again after applying it.", words=words, cost=cost)
        cells = (
            Cell(f"{words}{cost}", tip=tip),
            Cell(say("{saves_mm:.2f length} less", saves_mm=saving.saves_mm), "steel"),
            Cell(""),
            Cell(""),
        )
        rows.append(Row(cells, Nth(len(rows))))
    for way in made.guide:
        if way.train is not None:
            rows.append(_guide_row(way, len(rows)))
    for also in made.also:
        rows.append(_row(also.proposal, len(rows), say("There is also room for {name}", name=also.part.name)))
    return rows


def _row(p: Proposal, number: int, before: str = "") -> Row:
    change = before or p.change[0].upper() + p.change[1:]
    names = " + ".join(p.names) or say("no spacers")
    lands = (
        ""
        if p.chance is None
        else say("\nWithin tolerance {chance:.0f} of 100 times, by its stack-up.", chance=100 * p.chance)
    )
    cells = (
        Cell(change, tip=f"{change}\n{names}\n{workings(p.shown)}{lands}"),
        Cell(say("{error_mm:+.2f length}", error_mm=p.error_mm).replace("-", "−"), "good", strong=True),
        Cell(f"{p.joints}", "steel"),
        Cell(
            say("±{rss_mm:.2f length}", rss_mm=p.rss_mm),
            "steel",
            tip=say("worst case ±{worst_mm:.2f mm}", worst_mm=p.worst_mm),
        ),
    )
    return Row(cells, Nth(number))


def _guide_row(way: GuideWay, number: int) -> Row:
    words = say(
        "{guider}: {value} before {camera}",
        guider=way.guider,
        value=" + ".join(way.names) or say("nothing"),
        camera=way.camera,
    )
    error = say("{error_mm:+.2f length}", error_mm=way.error_mm).replace("-", "−")
    tip = say("{words}\nIt then focuses with the main camera.", words=words)
    return Row((Cell(words, tip=tip), Cell(error, "good", strong=True), Cell(""), Cell("")), Nth(number))


def _sentence(made: Plan) -> str:
    below, above = made.nearest_mm
    sides = [say("{below:.2f mm} short", below=-below)] if below is not None else []
    sides += [say("{above:.2f mm} long", above=above)] if above is not None else []
    nearest = (
        say("Closest: {listed}.", listed=say(" and ").join(sides)) if sides and made.proof is Proof.IMPOSSIBLE else ""
    )
    nothing = "" if made.proposals or made.buy or made.thinner or made.proof is not Proof.IMPOSSIBLE else (
        say("No purchase of up to three standard parts solves it.")
    )  # fmt: skip
    return joined(made.text, nearest, nothing, *(refusal_of(way) for way in made.guide))
