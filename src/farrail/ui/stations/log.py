"""The Log station: evenings as a timeline, the entry in hand, what they calibrate, and states of the train."""

from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import FarRailError
from farrail.exchange.csv_log import log_to_csv, read_log_csv
from farrail.exchange.frame_entries import Seen, day_of, fields_of
from farrail.language import N_, say, say_n
from farrail.logbook.beside import compared_then
from farrail.logbook.observation import Agreement, Compared, Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.seen_words import number_words, seen_words
from farrail.logbook.words import difference_words, kind_words
from farrail.quantities import headed
from farrail.ui.session import Session
from farrail.ui.stations.log_entry import EntryPage, suits_front
from farrail.ui.stations.log_frames import FramesPage
from farrail.ui.stations.log_learnt import LearntPage
from farrail.ui.stations.log_over_time import OverTimePage
from farrail.ui.stations.log_states import StatesPage
from farrail.ui.stations.station import Headline, Station
from farrail.ui.widgets.clearing import clearable
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.row_keys import RowKey, TermKey
from farrail.ui.widgets.save_name import ask_where
from farrail.workbook.edits.log import ImportObservations, WriteDown
from farrail.workbook.store import read_text, write_text

ENTRY, LEARNT, OVER_TIME, STATES, FRAMES = range(5)
TABLES = N_("Tables (*.csv *.tsv *.txt);;All files (*)")
# So many rows are compared at once; the rest as they come into view.
AT_ONCE, BREATH_MS = 12, 15
ALL_TRAINS, ALL_KINDS = "all", ""


class LogStation(Station):
    """What was seen, and what it calibrates."""

    key = "log"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._sides: dict[str, tuple[Observation, Compared | None]] = {}
        self._shown: list[Observation] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(BREATH_MS)
        self._later.timeout.connect(self._compare_some)
        self.entry, self.learnt, self.states = EntryPage(session), LearntPage(session), StatesPage(session)
        self.entry.written.connect(self._written)
        self.over_time = OverTimePage(session)
        self.frames = FramesPage(session)
        self.frames.wanted.connect(self._write_frame)
        self.frames.drawer.toggled.connect(lambda _: self.show_page(FRAMES))
        self._headline = Headline("log")
        self.search = QLineEdit()
        self.search.setObjectName("log_search")
        self.search.setPlaceholderText(say("Find in the log …"))
        clearable(self.search)
        self.search.setAccessibleName(say("Find in the log"))
        self.search.textChanged.connect(lambda _: self._show_rows())
        self.whose = self._box("log_whose", say("Train"))
        self.whose.addItem(say("This train"), "")
        self.whose.addItem(say("All trains"), ALL_TRAINS)
        self.kinds = self._box("log_kinds", say("Kind"))
        self.kinds.addItem(say("All kinds"), ALL_KINDS)
        for tag, kind in OBSERVATIONS.items():
            self.kinds.addItem(kind_words(kind), tag)
        find = QHBoxLayout()
        find.setSpacing(8)
        find.addWidget(self.search, 1)
        find.addWidget(self.whose)
        find.addWidget(self.kinds)
        self.table = Ledger(
            "log_timeline", say("Entries, latest first"),
            (Column(say("Seen")), Column(say("day"), False, 92), Column(say("against predicted"), True, 148)),
        )  # fmt: skip
        self.table.row_picked.connect(self._pick)
        self.table.row_activated.connect(lambda *_: self.entry.focus_first())
        self.table.verticalScrollBar().valueChanged.connect(lambda _: self._later.start())
        self.pages = PageTabs(
            (
                (say("Entry"), "log_entry"),
                (say("Calibration"), "log_teaches"),
                (say("Over time"), "log_times"),
                (say("Snapshots"), "log_history"),
                (say("Frames"), "log_frames"),
            )
        )
        self.pages.chosen.connect(self.show_page)
        self._stack = QStackedWidget()
        for page in (self.entry, self.learnt, self.over_time, self.states, self.frames):
            self._stack.addWidget(page)
        self._entries = QWidget()
        left = QVBoxLayout(self._entries)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(6)
        left.addWidget(self._headline)
        left.addLayout(find)
        left.addWidget(self.table, 1)
        left.addLayout(self._buttons())
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addWidget(self.pages)
        right.addWidget(self._stack, 1)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 14, 20, 12)
        sheet.setSpacing(26)
        sheet.addWidget(self._entries, 10)
        sheet.addLayout(right, 9)

    def _box(self, name: str, title: str) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.activated.connect(lambda _: self._show_rows())
        return box

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        for name, text, tip, run in (
            ("log_saw", say("I saw …"), say("A new entry for the train in view (Ctrl+I)"), lambda: self.saw(None)),
            ("log_import", say("Import…"), say("Observations from a CSV table"), self._ask_import),
            (
                "log_export",
                say("Export…"),
                say("All of the log as a CSV table, predictions beside it"),
                self._ask_export,
            ),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, run=run: run())
            row.addWidget(button)
        row.addStretch(1)
        return row

    # What is shown

    def refresh(self) -> None:
        """Show the log of the train in view, or of all."""
        if not self.session.dragging:
            self.rest_later()

    def refresh_rest(self) -> Iterator[None]:
        """Show the entries, then the page in front."""
        known = self.session.workbook.log_by_id
        self._sides = {key: pair for key, pair in self._sides.items() if known.get(key) is pair[0]}
        self._show_rows()
        yield
        self._refresh_page()

    def _refresh_page(self) -> None:
        page = self._stack.currentIndex()
        if page == LEARNT:
            self.learnt.refresh()
        elif page == OVER_TIME:
            self.over_time.refresh()
        elif page == STATES:
            self.states.refresh()
        elif page == FRAMES:
            self.frames.refresh()
        elif self.entry.kind.count() == 0:
            self.entry.begin(None)

    def _wanted(self) -> list[Observation]:
        workbook, train = self.session.workbook, self.session.train
        everyone, tag = self.whose.currentData() == ALL_TRAINS, str(self.kinds.currentData())
        words = self.search.text().strip().lower().split()
        states = workbook.states_by_id
        found = []
        for seen in workbook.log:
            if not everyone and (train is None or seen.train != train.id):
                continue
            if tag and seen.kind != tag:
                continue
            if words:
                state = states[seen.state]
                told = (seen_words(seen, state.by_id), state.train.name, seen.day, seen.place, seen.weather, seen.note)
                text = " ".join(told).lower()
                if not all(word in text for word in words):
                    continue
            found.append(seen)
        return sorted(found, key=lambda seen: (seen.day, seen.time), reverse=True)

    def _show_rows(self) -> None:
        self._shown = self._wanted()
        everyone = self.whose.currentData() == ALL_TRAINS
        self._compare(self._shown[:AT_ONCE])
        now = self.table.current_key()
        rows = [self._row(seen, everyone) for seen in self._shown]
        self.table.set_rows(rows)
        if now is not None and any(row.key == now for row in rows):
            self.table.pick(now)
        self._tell(everyone)
        if len(self._shown) > AT_ONCE:
            self._later.start()

    def _tell(self, everyone: bool) -> None:
        count, every = len(self._shown), len(self.session.workbook.log)
        if not every:
            self._headline.say(say("The log is empty."), say("“I saw …” (Ctrl+I): two fields and Enter."))
            return
        if not count:
            main = say("No entries match.")
        elif everyone:
            main = say_n(
                "{count} observation of all trains.", "{count} observations of all trains.", count, count=count
            )
        else:
            main = say_n(
                "{count} observation of this train.", "{count} observations of this train.", count, count=count
            )
        sides = [self._sides[seen.id][1] for seen in self._shown if seen.id in self._sides]
        differ = sum(side is not None and side.agreement is Agreement.DIFFERS for side in sides)
        detail = (
            say_n(
                "{differ} entry differs from the prediction.",
                "{differ} entries differ from the predictions.",
                differ,
                differ=differ,
            )
            if differ
            else (
                say("All entries agree with the predictions.")
                if count
                else say("Entries in the log: {every}.", every=every)
            )
        )
        self._headline.say(main, detail)

    def _row(self, seen: Observation, everyone: bool) -> Row:
        state = self.session.workbook.states_by_id[seen.state]
        told = headed(seen_words(seen, state.by_id))
        name = f"{state.train.name}: {told}" if everyone else told
        side = self._sides.get(seen.id)
        mark = Cell("…", "steel") if side is None else _mark(side[1])
        where = f"{seen.place}. " if seen.place else ""
        tip = f"{told}. {where}{seen.note}"
        if seen.aside:
            tip = say("Set aside: nothing is calibrated from it. {tip}", tip=tip)
            mark = Cell(say("set aside"), "steel", tip=tip)
        role = "steel" if seen.aside else ""
        return Row((Cell(name, role, tip=tip), Cell(seen.day, "steel"), mark), TermKey(seen.id))

    def _compare(self, some: list[Observation]) -> bool:
        """Hold observations against their predictions; returns whether any was new."""
        states, new = self.session.workbook.states_by_id, False
        for seen in some:
            if seen.id not in self._sides:
                self._sides[seen.id] = (seen, compared_then(seen, states[seen.state]))
                new = True
        return new

    def _compare_some(self) -> None:
        """Compare what has come into view."""
        top = self.table.rowAt(0)
        bottom = self.table.rowAt(self.table.viewport().height() - 1)
        last = len(self._shown) - 1 if bottom < 0 else bottom
        if top < 0 or not self._compare(self._shown[top : last + 1]):
            return
        everyone = self.whose.currentData() == ALL_TRAINS
        rows = list(self.table.ledger.rows)
        for number in range(top, last + 1):
            rows[number] = self._row(self._shown[number], everyone)
        self.table.ledger.set_rows(rows)
        self._tell(everyone)

    def _pick(self, key: RowKey | None) -> None:
        seen = self.session.workbook.log_by_id.get(key.term) if isinstance(key, TermKey) else None
        if seen is not None:
            self.entry.show_seen(seen)
            self.show_page(ENTRY)

    # What is done

    def show_page(self, number: int) -> None:
        """Bring one of the pages at the right to the front."""
        self.pages.choose(number)
        self._stack.setCurrentIndex(number)
        # A frame takes the whole page; the entries are a drawer beside it.
        self._entries.setVisible(number != FRAMES or self.frames.drawer.isChecked())
        self._refresh_page()

    def show_frames(self, frames: list[Path]) -> None:
        """Have frames looked at beside the train in view."""
        self.show_page(FRAMES)
        self.frames.show_files(frames)

    def saw_at(self, station: str) -> None:
        """Begin an entry of the kind that fits the station of a key."""
        self.saw(suits_front(station))

    def saw(self, kind: type[Observation] | None) -> None:
        """Begin an entry of a kind for the train in view, ready to type."""
        self.table.clearSelection()
        self.entry.begin(kind)
        self.show_page(ENTRY)
        self.entry.focus_first()

    def _write_frame(self, seen: tuple[Seen, ...]) -> None:
        """Write down what frames say, with the train in view, in one step."""
        train = self.session.train
        if train is None:
            return
        count = len(self.session.workbook.log)
        edits = tuple(
            WriteDown(
                kind,
                train.id,
                day_of(values),
                fields_of(values),
                label=say("Save from a frame: {kind_name}", kind_name=kind.kind_name),
            )
            for kind, values in seen
        )
        if self.session.do(edits[0] if len(edits) == 1 else ImportObservations(edits)):
            self.show_page(FRAMES)
            side = self._sides.get(self.session.workbook.log[count].id) if len(edits) == 1 else None
            told = "" if side is None else difference_words(side[1])
            many = "" if len(edits) == 1 else say("{count} of them.", count=len(edits))
            self._say_saved(told or many)

    def end(self) -> None:
        """Wait for what is under way: the window is closing."""
        self.frames.work.cancel()
        self.frames.work.wait()
        self.over_time.work.end()

    def _written(self, observation: str) -> None:
        self.table.pick(TermKey(observation))
        side = self._sides.get(observation)
        told = "" if side is None else difference_words(side[1])
        self._say_saved(told)

    def _say_saved(self, more: str) -> None:
        self.session.message.emit(say("Entry saved. {more}", more=more).strip(), False)

    def _ask_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window(), say("Observations from a table"), "", str(TABLES))
        if name:
            self.bring_in(Path(name))

    def bring_in(self, path: Path) -> None:
        """Write the observations of a table down; rows that cannot be used are named."""
        try:
            rows = read_log_csv(read_text(path), self.session.workbook)
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            return
        good = tuple(row.edit for row in rows if row.edit is not None)
        bad = [row for row in rows if row.edit is None and not row.same]
        done = bool(good) and self.session.do(ImportObservations(good))
        told = say("{also} saved from {name}.", also=len(good) if done else 0, name=path.name)
        if bad:
            told += say(
                " {count} left out; line {line}: {reason}", count=len(bad), line=bad[0].line, reason=bad[0].reason
            )
        self.session.message.emit(told, bool(bad))

    def _ask_export(self) -> None:
        start = say("{title} log.csv", title=self.session.title)
        chosen = ask_where(self, say("Export the log"), start, str(TABLES), (".csv", ".txt"))
        if chosen is None:
            return
        path, _ = chosen
        workbook = self.session.workbook
        try:
            write_text(path, "\ufeff" + log_to_csv(workbook.log, workbook.states_by_id))
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            return
        self.session.message.emit(
            say("{count} observations written to {path}.", count=len(workbook.log), path=path), False
        )


def _mark(side: Compared | None) -> Cell:
    """Return how an observation is to its prediction: agreed, or how far to which side."""
    if side is None or side.agreement is Agreement.NOT_PREDICTED:
        return Cell("–", "steel", tip=difference_words(side))
    if side.agreement is Agreement.AGREES:
        return Cell(say("agrees"), "good", tip=difference_words(side))
    difference = side.difference
    if difference is None:
        return Cell(say("differs"), "look", tip=difference_words(side))
    by = number_words(abs(difference), side.unit, stays_mm=side.stays_mm)
    return Cell(
        say("{by} less", by=by) if difference < 0.0 else say("{by} more", by=by), "look", tip=difference_words(side)
    )
