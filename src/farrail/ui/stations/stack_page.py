"""The focus stack: the Close-up station's page that plans the frames and runs them on a simulated rail."""

from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import FarRailError
from farrail.language import say
from farrail.lengths import as_shown
from farrail.optics.focus_stack import FocusStack
from farrail.parts.origin import Origin
from farrail.quantities import typed_bare, unit_word
from farrail.readouts.close_up.model import CloseUp
from farrail.simulated.focus_rail import Fault, FocusRail, RailState
from farrail.ui.session import Session
from farrail.ui.stack_sheet import write_stack_sheet
from farrail.ui.stations.close_up_words import stack_rows
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth
from farrail.ui.widgets.save_name import ask_where
from farrail.ui.widgets.short_field import short_field
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import SetSubject

TICK_MS = 100
# The are-in runs so many times faster than a real rail would.
FASTER = 20.0

# So many rows of the plan are seen in any window.
LEAST_ROWS = 4


class StackPage(QWidget):
    """How many frames, how far apart, and a are-in that takes them."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._close: CloseUp | None = None
        self._plan: FocusStack | None = None
        self.rail: FocusRail | None = None
        self.deep = short_field("stack_depth", say("Subject depth, {unit}", unit=unit_word("mm")), typed_bare(5.0), 58)
        self.overlap = short_field("stack_overlap", say("Overlap from frame to frame (%)"), "25", 58)
        self.interval = short_field("stack_interval", say("Time for a frame, s"), "2", 58)
        self.blur = short_field(
            "stack_blur", say("Blur on the sensor that still counts as sharp, µm"), say("pixel"), 58
        )
        for field in (self.deep, self.blur):
            field.editingFinished.connect(self._keep)
        for field in (self.overlap, self.interval):
            field.editingFinished.connect(self.refresh_plan)
        fields = QGridLayout()
        fields.setHorizontalSpacing(6)
        fields.setVerticalSpacing(4)
        for number, (word, field, unit) in enumerate(
            (
                (say("Depth"), self.deep, unit_word("mm")),
                (say("overlap"), self.overlap, "%"),
                (say("each frame"), self.interval, "s"),
                (say("blur"), self.blur, "µm"),
            )
        ):
            row, column = divmod(number, 2)
            fields.addWidget(Label(word), row, 3 * column)
            fields.addWidget(field, row, 3 * column + 1)
            fields.addWidget(Label(unit), row, 3 * column + 2)
        fields.setColumnStretch(6, 1)
        self.sheet = QPushButton(say("Print…"))
        self.sheet.setObjectName("stack_sheet")
        self.sheet.setToolTip(say("Write the plan with the place of every frame as a PDF"))
        self.sheet.clicked.connect(self._ask_sheet)
        fields.addWidget(self.sheet, 0, 7)
        self.table = Ledger(
            "stack_plan", say("The focus stack"),
            (
                Column(say("The stack")), Column("", True, 96, said=say("value")),
                Column("", False, 138, 0, said=say("why")),
            ),
        )  # fmt: skip
        self.table.verticalHeader().setDefaultSectionSize(22)
        self.table.setMinimumHeight(LEAST_ROWS * 22 + 30)
        self._text = Label()
        self._text.setObjectName("stack_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        box.addLayout(fields)
        box.addWidget(self.table, 1)
        box.addWidget(self._text)
        box.addLayout(self._runner())
        self._ticker = QTimer(self)
        self._ticker.setInterval(TICK_MS)
        self._ticker.timeout.connect(self.tick)

    def _runner(self) -> QVBoxLayout:
        self.run = QPushButton(say("Run on the simulated rail"))
        self.run.setObjectName("rail_run")
        self.run.clicked.connect(self._run)
        self.stop = QPushButton(say("Cancel"))
        self.stop.setObjectName("rail_cancel")
        self.stop.clicked.connect(self._cancel)
        self.stop.setEnabled(False)
        self.fault = QComboBox()
        self.fault.setObjectName("rail_fault")
        self.fault.setAccessibleName(say("Simulated fault of the rail"))
        for fault in Fault:
            self.fault.addItem(str(fault), fault)
        self.progress = QProgressBar()
        self.progress.setObjectName("rail_progress")
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(6)
        self.log = Label()
        self.log.setObjectName("rail_log")
        self.log.setProperty("role", "steel")
        self.show_log = QPushButton(say("Log"))
        self.show_log.setObjectName("rail_show_log")
        self.show_log.setCheckable(True)
        self.show_log.setEnabled(False)
        self.show_log.toggled.connect(lambda _: self._fill())
        row, last = QHBoxLayout(), QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.run)
        row.addWidget(self.stop)
        row.addStretch(1)
        row.addWidget(self.fault)
        last.setSpacing(8)
        last.addWidget(self.log, 1)
        last.addWidget(self.show_log)
        box = QVBoxLayout()
        box.setSpacing(4)
        box.addLayout(row)
        box.addWidget(self.progress)
        box.addLayout(last)
        return box

    # Keeping up

    def refresh(self, close: CloseUp | None) -> None:
        """Plan for a train; a rail that runs is left alone."""
        self._close = close
        train = self._session.train
        if train is not None:
            kept = train.conditions
            for field, value in ((self.deep, kept.subject_depth_mm), (self.blur, kept.blur_um)):
                if not field.hasFocus():
                    field.setText(
                        ""
                        if value is None
                        else typed_bare(value)
                        if field is self.deep
                        else say("{value:g}", value=value)
                    )
        self.refresh_plan()

    def refresh_plan(self) -> None:
        """Plan again from the fields."""
        self._plan, text = None, ""
        close = self._close
        if close is None or close.system is None or not close.active or close.depth is None:
            text = say("No close distance is in focus: focus closer, or add a tube or close-up lens.")
        else:
            try:
                self._plan = close.stack_of_frames(self._value(self.deep), self._value(self.overlap) / 100.0)
                self._interval_s()
                if self.rail is None or self.rail.state not in (RailState.RUNNING, RailState.PAUSED):
                    FocusRail.for_stack(self._plan, self._interval_s())
            except FarRailError as error:
                text = str(error)
        self._text.setText(text)
        self._text.setVisible(bool(text))
        self.sheet.setEnabled(self._plan is not None)
        self._fill()
        self._buttons()

    def _value(self, field: QLineEdit) -> float:
        text = field.text().strip() or field.placeholderText()
        return parse_reading(as_shown(text) if field is self.deep else text, Origin.MEASURED).value

    def _interval_s(self) -> float:
        return self._value(self.interval)

    def _fill(self) -> None:
        if self.show_log.isChecked() and self.rail is not None:
            rows = [Row((Cell(line.strip()), Cell(""), Cell("")), Nth(n)) for n, line in enumerate(self.rail.log)]
            self.table.set_rows(rows)
            self.table.scrollToBottom()
            return
        close, plan = self._close, self._plan
        rows = []
        if close is not None and plan is not None:
            try:
                rows = stack_rows(close, plan, self._value(self.overlap) / 100.0, self._interval_s())
            except FarRailError:
                rows = []
        self.table.set_rows(rows)

    # Hands

    def _keep(self) -> None:
        """Keep depth and blur with the train."""
        train = self._session.train
        if train is None:
            return
        kept = train.conditions
        try:
            values = [self._value(field) if field.text().strip() else None for field in (self.deep, self.blur)]
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            self.refresh(self._close)
            return
        if (values[0], values[1]) != (kept.subject_depth_mm, kept.blur_um) and not self._session.do(
            SetSubject(train.id, kept.subject_width_mm, values[0], values[1])
        ):
            self.deep.setText("" if kept.subject_depth_mm is None else typed_bare(kept.subject_depth_mm))
            self.blur.setText("" if kept.blur_um is None else say("{blur_um:g}", blur_um=kept.blur_um))

    def _run(self) -> None:
        """Start, pause, or go on."""
        rail = self.rail
        if rail is not None and rail.state is RailState.RUNNING:
            rail.pause()
        elif rail is not None and rail.state is RailState.PAUSED:
            rail.start()
        elif self._plan is not None:
            fault = self.fault.currentData()
            try:
                self.rail = FocusRail.for_stack(self._plan, self._interval_s(), Fault(fault))
            except FarRailError as error:
                self._session.message.emit(str(error), True)
                return
            self.rail.start()
            self._ticker.start()
        self._told()

    def _cancel(self) -> None:
        if self.rail is not None:
            self.rail.cancel()
            self._told()

    def tick(self) -> None:
        """Let the are-in's time pass."""
        if self.rail is None:
            return
        self.rail.run(TICK_MS / 1000.0 * FASTER)
        self._told()
        if self.rail.state in (RailState.DONE, RailState.FAILED):
            failed = self.rail.state is RailState.FAILED
            words = self.rail.log[-1].split("s  ", 1)[-1]
            self._session.message.emit(say("Simulated rail: {words}.", words=words), failed)

    def _told(self) -> None:
        rail = self.rail
        if rail is None:
            return
        if rail.state not in (RailState.RUNNING, RailState.PAUSED):
            self._ticker.stop()
        self.progress.setRange(0, rail.frames)
        self.progress.setValue(rail.taken)
        self.log.setText(
            say("{log}  (simulated, {faster:.0f} times as fast)", log=rail.log[-1].strip(), faster=FASTER)
            if rail.log
            else ""
        )
        self.show_log.setEnabled(bool(rail.log))
        if self.show_log.isChecked():
            self._fill()
        self._buttons()

    def _buttons(self) -> None:
        state = self.rail.state if self.rail is not None else RailState.READY
        words = {RailState.RUNNING: say("Pause"), RailState.PAUSED: say("Go on")}
        self.run.setText(words.get(state, say("Run on the simulated rail")))
        busy = state in (RailState.RUNNING, RailState.PAUSED)
        # A plan the rail cannot make says so above; there is nothing to run then.
        self.run.setEnabled(busy or (self._plan is not None and self._text.isHidden()))
        self.stop.setEnabled(busy)
        self.fault.setEnabled(not busy)

    def end(self) -> None:
        """Stop the are-in: the window is closing."""
        self._ticker.stop()

    # The printed sheet

    def _ask_sheet(self) -> None:
        start = say("focus stack.pdf")
        chosen = ask_where(self, say("Print the focus stack"), start, say("PDF (*.pdf)"), (".pdf",))
        if chosen is not None:
            self.write_sheet(chosen[0])

    def write_sheet(self, path: Path) -> None:
        """Write the plan as a PDF."""
        train, close, plan = self._session.train, self._close, self._plan
        if train is None or close is None or plan is None:
            return
        try:
            rows = [tuple(cell.text for cell in row.cells) for row in
                    stack_rows(close, plan, self._value(self.overlap) / 100.0, self._interval_s())]  # fmt: skip
            write_stack_sheet(path, train.name, rows, plan)
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        self._session.message.emit(say("The stack's sheet is written to {path}.", path=path), False)
