"""The Build station: how the train goes together, step by step, and what a change makes necessary again."""

from collections.abc import Callable
from datetime import date
from html import escape

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from farrail.assembly.cautions import cautions_of
from farrail.assembly.model import Step
from farrail.assembly.stages import Stage, Start
from farrail.assembly.steps import minutes_of, repeated, steps_of
from farrail.language import joined, say, say_n
from farrail.planning.practice_words import practice_words
from farrail.planning.practices import practices_of
from farrail.quantities import headed
from farrail.text.steps import STAGES, STARTS, TOOLS, caution_words, step_words
from farrail.train.train import Train
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.stations.build_papers import BuildPapers
from farrail.ui.stations.station import Headline, Station
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Heading, RowKey, TermKey
from farrail.workbook.edits.building import ClearTicks, MarkBuilt, TickStep

# What is shown besides the whole work: only what a change makes necessary again.
AGAIN = "again"


class StepLedger(Ledger):
    """The steps; the space bar ticks the one in hand and goes on."""

    ticked: Callable[[], None] | None = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Tick with the space bar."""
        if event.key() == Qt.Key.Key_Space and self.ticked is not None:
            self.ticked()
            return
        super().keyPressEvent(event)


class BuildStation(Station):
    """In what order the train goes together."""

    key = "build"
    # The sheet is to be printed.
    print_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._steps: dict[str, Step] = {}
        self._headline = Headline("build")
        self.start = QComboBox()
        self.start.setObjectName("build_start")
        self.start.setAccessibleName(say("Where the work begins"))
        for start in Start:
            self.start.addItem(headed(str(STARTS[start])), start.value)
        self.start.addItem(say("To redo after changes"), AGAIN)
        self.start.activated.connect(lambda _: self.refresh())
        self.table = StepLedger(
            "build_steps", say("Steps in order"),
            (Column("", False, 34, said=say("done")), Column(say("Step")), Column(say("min"), True, 48)),
        )  # fmt: skip
        self.table.ticked = self.tick
        self.table.row_picked.connect(self._pick)
        self.table.row_activated.connect(lambda *_: self.tick())
        self._what = Label()
        self._what.setObjectName("build_what")
        self._what.setFont(font(19, STRONG))
        self._what.setWordWrap(True)
        self._how, self._why, self._tool = Label(), Label(), Label()
        for label, name in ((self._how, "build_how"), (self._why, "build_why"), (self._tool, "build_tool")):
            label.setObjectName(name)
            label.setWordWrap(True)
        self._how.setFont(font(15))
        self._why.setProperty("role", "steel")
        self._cautions = Label()
        self._cautions.setObjectName("build_cautions")
        self._cautions.setWordWrap(True)
        self._cautions.setProperty("role", "look")
        self._customs = Label()
        self._customs.setObjectName("build_customs")
        self._customs.setWordWrap(True)
        self._customs.setTextFormat(Qt.TextFormat.RichText)
        self.done = self._button("build_tick", say("Done, next"), self.tick)
        self._built = self._button("build_built", say("Mark as assembled"), self._mark_built)
        self._anew = self._button("build_anew", say("Start over"), self._begin_anew)
        self._papers = BuildPapers(session)
        self._papers.print_wanted.connect(self.print_wanted)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self._headline)
        left.addWidget(self.start)
        left.addWidget(self.table, 1)
        right = QVBoxLayout()
        right.setSpacing(10)
        for widget in (self._what, self._how, self._why, self._tool):
            right.addWidget(widget)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for button in (self.done, self._built, self._anew):
            buttons.addWidget(button)
        buttons.addStretch(1)
        right.addLayout(buttons)
        right.addWidget(self._papers)
        right.addWidget(self._notes(), 1)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 14, 20, 12)
        sheet.setSpacing(30)
        sheet.addLayout(left, 10)
        sheet.addLayout(right, 9)

    def _button(self, name: str, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    def _notes(self) -> QWidget:
        """Return cautions and what others do otherwise, rolling where there is no room."""
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 10, 0)
        column.setSpacing(12)
        column.addWidget(self._cautions)
        column.addWidget(self._customs)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setAccessibleName(say("The step in hand, to be scrolled"))
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        return scroll

    def refresh(self) -> None:
        """Show the steps of the train in view."""
        self.rest_later()

    def refresh_rest(self) -> None:
        """Find the steps, and show them with what is to be minded."""
        readout, train = self.session.readout, self.session.train
        self._papers.setEnabled(readout is not None)
        if readout is None or train is None:
            self._built.setEnabled(False)
            self._anew.setEnabled(False)
            self._headline.say(say("No train in view."), say("Add one to see how it goes together."))
            self.table.set_rows([])
            self._steps = {}
            self._show(None)
            self._cautions.setText("")
            self._customs.setText("")
            return
        layout, wanted = readout.layout, str(self.start.currentData())
        again = wanted == AGAIN
        steps = repeated(steps_of(layout), train.built, train) if again else steps_of(layout, Start(wanted))
        done = {tick.step: tick.day for tick in train.ticks}
        self._steps = {step.key: step for step in steps}
        left = [step for step in steps if step.key not in done]
        self._headline.say(*_sentences(wanted, train, len(steps), len(left), minutes_of(left)))
        now = self.table.current_key()
        self.table.set_rows(_rows(steps, done))
        keys = [step.key for step in steps]
        if not (isinstance(now, TermKey) and now.term in keys):
            now = TermKey(left[0].key if left else keys[-1]) if keys else None
        self.table.pick(now)
        self._show(self._steps.get(now.term) if isinstance(now, TermKey) else None)
        told_cautions = [" ".join(caution_words(one)) for one in cautions_of(layout)]
        self._cautions.setText("\n".join(f"◆  {text}" for text in told_cautions))
        others = [practice_words(one) for one in practices_of(readout.front, self.session.workbook.by_id)]
        self._customs.setText("".join(_custom(head, lines) for head, lines in others))
        self._customs.setVisible(bool(others))
        self._built.setEnabled(bool(steps))
        self._anew.setEnabled(bool(train.ticks))

    def _pick(self, key: RowKey | None) -> None:
        step = self._steps.get(key.term) if isinstance(key, TermKey) else None
        self._show(step)
        if step is not None and step.hit.place is not None:
            place = step.hit.place
            train = self.session.train
            count = 0 if train is None else len(train.row(place.side))
            if place.index < count or step.hit.joint:
                self.session.select(Selection(place.side, place.index, joint=step.hit.joint))

    def _show(self, step: Step | None) -> None:
        """Show the step in hand, large."""
        self.done.setEnabled(step is not None)
        if step is None:
            for label in (self._what, self._how, self._why, self._tool):
                label.setText("")
            return
        words, train = step_words(step), self.session.train
        day = next((t.day for t in train.ticks if t.step == step.key), "") if train is not None else ""
        self._what.setText(words.what)
        self._how.setText(words.how)
        self._why.setText(words.why)
        tool = "" if step.tool is None else say("With the {tools}.", tools=TOOLS[step.tool])
        self._tool.setText(
            joined(
                tool,
                say_n("About {minutes:g} minute.", "About {minutes:g} minutes.", step.minutes, minutes=step.minutes),
                say("Done on {day}.", day=day) if day else "",
            )
        )
        self.done.setText(say("Undo this tick") if day else say("Done, next"))

    def tick(self) -> None:
        """Tick the step in hand, or take its tick away, and go on to the next."""
        key, train = self.table.current_key(), self.session.train
        if train is None or not isinstance(key, TermKey) or key.term not in self._steps:
            return
        done = any(tick.step == key.term for tick in train.ticks)
        what = step_words(self._steps[key.term]).what
        label = say("Untick: {what}", what=what) if done else say("Tick: {what}", what=what)
        if not self.session.do(TickStep(train.id, key.term, None if done else date.today().isoformat(), label=label)):
            return
        if done:
            return
        keys = list(self._steps)
        place = keys.index(key.term)
        if place + 1 < len(keys):
            self.table.pick(TermKey(keys[place + 1]))

    def _mark_built(self) -> None:
        train = self.session.train
        if train is not None and self.session.do(MarkBuilt(train.id, date.today().isoformat())):
            self.session.message.emit(
                say(
                    "“{name}” is marked as assembled; after a later change you see which steps to repeat.",
                    name=train.name,
                ),
                False,
            )

    def _begin_anew(self) -> None:
        train = self.session.train
        if train is not None:
            self.session.do(ClearTicks(train.id))


def _sentences(wanted: str, train: Train, count: int, left: int, minutes: float) -> tuple[str, str]:
    """Return the headline and what is under it."""
    built = "" if train.built is None else say("Last put together on {day}.", day=train.built.day)
    if not count:
        return say("No steps to repeat."), joined(say("The train is as assembled."), built)
    if not left:
        return say("All of it is done."), joined(say("“Mark as assembled” saves the train as it is now."), built)
    what = say("to do again") if wanted == AGAIN else say("to go")
    steps = say("1 step") if left == 1 else say("{left} steps", left=left)
    return (
        say("{steps} {what}, about {minutes:.0f} minutes.", steps=steps, what=what, minutes=max(minutes, 1.0)),
        joined(say("Space ticks the step in hand and goes on."), built),
    )


def _rows(steps: tuple[Step, ...], done: dict[str, str]) -> list[Row]:
    rows: list[Row] = []
    stage: Stage | None = None
    for step in steps:
        if step.stage is not stage:
            stage = step.stage
            rows.append(
                Row(
                    (Cell(""), Cell(str(STAGES[stage]), strong=True), Cell("")), Heading(str(STAGES[stage])), heavy=True
                )
            )
        ticked = step.key in done
        words = step_words(step)
        cells = (
            Cell("✓" if ticked else f"{step.number}", "good" if ticked else "steel"),
            Cell(words.what, "steel" if ticked else "", tip=f"{words.how}\n{words.why}"),
            Cell(say("{minutes:g}", minutes=step.minutes) if step.minutes else "", "steel"),
        )
        rows.append(Row(cells, TermKey(step.key)))
    return rows


def _custom(head: str, lines: list[str]) -> str:
    """Return one thing done in two ways as rich text, its head strong."""
    ways = "".join(f"<p style='margin: 3px 0 0 0'>{escape(line)}</p>" for line in lines)
    step_words = say("Done either way: {head}", head=head)
    return f"<p style='margin: 8px 0 0 0; font-weight: 600'>{escape(step_words)}</p>{ways}"
