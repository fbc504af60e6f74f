"""A route's ledger of questions: one in hand, the answered ones quiet above it, the verdict so far beside it."""

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.language import N_, say, say_n
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.read import Readout, read
from farrail.ui.first.question_row import QuestionRow
from farrail.ui.session import Session
from farrail.ui.stations.close_up_words import sentences as close_up_sentences
from farrail.ui.stations.front_words import sentences as front_sentences
from farrail.ui.stations.station import Headline
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.origin_bar import OriginBar
from farrail.ui.widgets.plain import Label
from farrail.workbook.routes.answer import Answer, Route, new_train_id, open_questions, still_needed
from farrail.workbook.routes.question import Question, RouteContext
from farrail.workbook.routes.words import ROUTES, ask_of, waits_for

# What a route ends in: what the button says, and the station and deed it stands for.
ENDS = {
    Route.NIGHT: N_("Find what fills it"),
    Route.FILTERS: N_("See what helps"),
    Route.CLOSE_UP: N_("Find what fills the frame"),
}
TYPING_MS = 150


class RoutePage(QWidget):
    """Asks, takes answers as edits, and shows the verdict so far."""

    # The train as it would be with what is being typed, or None.
    previewed = Signal(object)
    # The route has led to its end: its key.
    ended = Signal(str)
    # The stations, or the first page, are wanted.
    stations_wanted = Signal()
    first_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page; it has no route yet."""
        super().__init__(parent)
        self.setObjectName("route_page")
        self._session = session
        self._route, self._train = Route.NIGHT, ""
        self._rows: dict[str, QuestionRow] = {}
        self._hand, self._passed = "", ""
        self._typed: tuple[str, str] = ("", "")
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(TYPING_MS)
        self._wait.timeout.connect(self._draw_typed)
        self._title = Label()
        self._title.setFont(font(17, STRONG))
        self._box = QWidget()
        self._list = QVBoxLayout(self._box)
        self._list.setContentsMargins(0, 0, 6, 0)
        self._list.setSpacing(0)
        self._list.addStretch(1)
        self._scroll = QScrollArea()
        self._scroll.setObjectName("route_questions")
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(self._box)
        top = QHBoxLayout()
        top.addWidget(self._title)
        top.addStretch(1)
        top.addWidget(OriginBar(session))
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addLayout(top)
        left.addWidget(self._scroll, 1)
        # The buttons are beneath the question in hand, so that they are where the eyes are.
        self._bar = QWidget(self._box)
        steps = QHBoxLayout(self._bar)
        steps.setContentsMargins(0, 4, 0, 8)
        steps.setSpacing(8)
        for name, text, run in (
            ("route_back", say("Back"), self.back),
            ("route_unknown", say("I do not know"), self.forget),
            ("route_next", say("Next"), self.take),
        ):
            steps.addWidget(self._button(name, text, run))
        self._to_come = Label()
        self._to_come.setProperty("role", "steel")
        steps.addSpacing(8)
        steps.addWidget(self._to_come)
        steps.addStretch(1)
        self._headline = Headline("route")
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self._headline)
        right.addStretch(1)
        self._end = self._button("route_end", "", lambda: self.ended.emit(self._route.value))
        right.addWidget(self._end)
        out = QHBoxLayout()
        out.setSpacing(8)
        out.addWidget(self._button("route_stations", say("Open the pages"), self.stations_wanted.emit))
        out.addWidget(self._button("route_first", say("First page"), self.first_wanted.emit))
        out.addStretch(1)
        right.addLayout(out)
        side = QWidget()
        side.setLayout(right)
        side.setFixedWidth(312)
        right.setContentsMargins(0, 0, 0, 0)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 12, 20, 10)
        sheet.setSpacing(26)
        sheet.addLayout(left, 1)
        sheet.addWidget(side)
        session.changed.connect(self._follow)
        session.ranges_changed.connect(self._say_ranges)

    def _button(self, name: str, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    # Where the route is

    @property
    def stand(self) -> RouteContext:
        """Where the route is in the workbook."""
        return RouteContext(self._session.workbook, self._train)

    def begin(self, route: Route) -> None:
        """Begin a route for a further train."""
        for row in self._rows.values():
            self._list.removeWidget(row)
            row.hide()
            row.setParent(None)
            row.deleteLater()
        self._rows.clear()
        self._route, self._hand, self._passed = route, "", ""
        self._train = new_train_id(self._session.workbook, route)
        self._title.setText(str(ROUTES[route.value][0]))
        self._end.setText(str(ENDS[route]))
        self.refresh()
        self._go_to(self._open()[0].key)

    def _open(self) -> list[Question]:
        return open_questions(self._route, self.stand)

    def _follow(self) -> None:
        if self.isVisible():
            self.refresh()

    def _say_ranges(self) -> None:
        """Show the verdict with the intervals that are worked out; the fields keep what is being typed."""
        if self.isVisible():
            self._say(self.stand)

    def refresh(self) -> None:
        """Show the questions asked now, their answers, and the verdict."""
        stand, asked = self.stand, self._open()
        self._list.removeWidget(self._bar)
        keys = [question.key for question in asked]
        for number, question in enumerate(asked):
            if question.key not in self._rows:
                self._rows[question.key] = self._made(question)
            row = self._rows[question.key]
            if self._list.indexOf(row) != number:
                self._list.removeWidget(row)
                self._list.insertWidget(number, row)
            row.setVisible(True)
        for key, row in self._rows.items():
            if key not in keys:
                self._list.removeWidget(row)
                row.hide()
        if self._hand not in keys:
            self._hand = keys[min(len(keys) - 1, 0)]
        place = keys.index(self._hand)
        for number, question in enumerate(asked):
            row = self._rows[question.key]
            row.refresh(stand)
            row.set_stand("hand" if number == place else "answered" if number < place else "later")
        self._list.insertWidget(place + 1, self._bar)
        left = len(asked) - place - 1
        self._to_come.setText(
            say_n("{count} more question", "{count} more questions", left, count=left) if left else say("the last one")
        )
        self._say(stand)

    def _made(self, question: Question) -> QuestionRow:
        row = QuestionRow(self._route.value, question)
        row.answered.connect(lambda key, text: self.answer(key, text))
        row.left.connect(lambda key, text: self.answer(key, text, go_on=False))
        row.entered.connect(self._enter)
        row.typing.connect(self._note_typing)
        return row

    def _say(self, stand: RouteContext) -> None:
        """Say the verdict so far, or what is still needed for one."""
        waits = still_needed(self._route, stand)
        train, readout = stand.train, self._session.readout
        shown = train is not None and readout is not None and readout.layout.train is train
        self._end.setEnabled(shown and not waits)
        if train is not None and not shown:
            self._headline.say(
                say("Another train is in view."), say("The next answer goes on with {name}.", name=train.name)
            )
            return
        if waits or not shown:
            begun = say("Each answer appears on the rail at once. You can leave unknown values empty.")
            self._headline.say(waits_for(self._route.value, [q.stem for q in waits]), begun if train is None else "")
            return
        assert readout is not None
        self._headline.say(*_verdict(self._route, readout, self._session.range_report))

    # Answers

    def answer(self, key: str, text: str, *, go_on: bool = True) -> None:
        """Take an answer: one step of undo; what cannot be taken stays in its field, with the reason under it."""
        row = self._rows[key]
        self._stop_typing()
        text = text.strip()
        if text != row.question.told(self.stand) or row.question.choices:
            label = ask_of(self._route.value, row.question.stem).what
            edit = Answer(self._route, self._train, key, text, self._session.reading_from, label)
            why = self._try(edit)
            if why is None:
                row.refuse("")
                before = self._session.workbook
                if edit.apply(before) != before and not self._session.do(edit):
                    row.refuse(say("That cannot be taken; the line at the foot of the window says why."))
                    return
                self._session.show_train(self._train)
                self.refresh()
            else:
                row.refuse(why)
                QTimer.singleShot(0, self, self._show_hand)
                return
        else:
            row.refuse("")
        if go_on:
            self._go_on(key)

    def _try(self, edit: Answer) -> str | None:
        """Return why an answer cannot be taken, None where it can."""
        try:
            edit.apply(self._session.workbook)
        except FarRailError as error:
            return str(error)
        return None

    def _go_on(self, key: str) -> None:
        keys = [question.key for question in self._open()]
        place = keys.index(key) if key in keys else -1
        asked = {question.key: question for question in self._open()}
        while place + 1 < len(keys) and asked[keys[place + 1]].preset:
            place += 1
        if place + 1 < len(keys):
            self._go_to(keys[place + 1])
        elif self._end.isEnabled():
            self._end.setFocus(Qt.FocusReason.TabFocusReason)

    def _go_to(self, key: str) -> None:
        self._hand = key
        self.refresh()
        row = self._rows[key]
        row.take_focus()
        QTimer.singleShot(0, self, self._show_hand)

    def _show_hand(self) -> None:
        row = self._rows.get(self._hand)
        if row is not None and row.isVisible():
            self._scroll.ensureWidgetVisible(row, 0, 60)

    def _enter(self, key: str) -> None:
        if key != self._hand:
            self._hand = key
            self.refresh()

    def take(self) -> None:
        """Take what is written in the question in hand, and go on."""
        row = self._rows[self._hand]
        if row.field is not None:
            self.answer(self._hand, row.field.text())
        else:
            self._go_on(self._hand)

    def forget(self) -> None:
        """Leave the question in hand not known, and go on; an answer it had is taken back."""
        row = self._rows[self._hand]
        if row.field is not None:
            row.refuse("")
            row.field.clear()
            self.answer(self._hand, "")
        else:
            self._go_on(self._hand)

    def back(self) -> None:
        """Go to the question before."""
        keys = [question.key for question in self._open()]
        place = keys.index(self._hand) if self._hand in keys else 0
        if place:
            self._go_to(keys[place - 1])
        else:
            self.first_wanted.emit()

    # What is being typed

    def _note_typing(self, key: str, text: str) -> None:
        self._typed = (key, text)
        if key:
            self._rows[key].refuse("")
            self._wait.start()
        else:
            self._stop_typing()

    def _stop_typing(self) -> None:
        self._wait.stop()
        self.previewed.emit(None)

    def _draw_typed(self) -> None:
        """Draw the train as it would be with what is typed so far; what is no answer yet leaves the drawing."""
        key, text = self._typed
        if not text.strip() or key not in self._rows:
            self.previewed.emit(None)
            return
        edit = Answer(self._route, self._train, key, text, self._session.reading_from)
        try:
            workbook = edit.apply(self._session.workbook)
            self.previewed.emit(read(workbook.train(self._train), workbook.by_id))
        except FarRailError:
            pass


def _verdict(route: Route, readout: Readout, ranges: RangeReport) -> tuple[str, str]:
    """Return the verdict a route leads to."""
    if route is Route.FILTERS:
        return front_sentences(readout.front, ranges)
    if route is Route.CLOSE_UP:
        return close_up_sentences(readout.close_up, ranges)
    return readout.verdict.headline, readout.verdict.detail
