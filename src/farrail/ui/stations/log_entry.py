"""One observation to write down or to change: its kind, its fields, and what was predicted beside it."""

from datetime import date
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import BadInput, FarRailError
from farrail.exchange.csv_log import checked_day
from farrail.exchange.photo import photo_facts
from farrail.language import N_, say
from farrail.lengths import as_shown
from farrail.logbook.beside import beside
from farrail.logbook.entered import entered, with_tolerance
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.learning.model import Evidence
from farrail.logbook.observation import Observation, serves_words
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.state import as_laid, state_on
from farrail.logbook.words import difference_words, kind_words
from farrail.parts.written import Written
from farrail.ui.session import Session
from farrail.ui.stations.log_fields import Answer, CornerBoxes, answers_of
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.short_field import ShortField
from farrail.workbook.edits.log import ChangeObservation, RemoveObservation, SetAside, WriteDown

PHOTOS = N_("Photos (*.jpg *.jpeg *.tif *.tiff *.png *.dng);;All files (*)")


class EntryPage(QWidget):
    """A form for one observation, made again for each kind."""

    # An observation was written down: its id.
    written = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._seen: Observation | None = None
        self._answers: list[Answer] = []
        self.kind = QComboBox()
        self.kind.setObjectName("log_kind")
        self.kind.setAccessibleName(say("Observation"))
        self.kind.activated.connect(lambda _: self._begin(self._kind()))
        self.day = ShortField("The day it was seen, such as 2026-10-03")
        self.day.setObjectName("log_day")
        self.day.setFixedWidth(110)
        self.day.returnPressed.connect(self.give)
        self.day.textChanged.connect(lambda _: self._choose_state())
        self.state = QComboBox()
        self.state.setObjectName("log_state")
        self.state.setAccessibleName(say("The train as it was"))
        self.state.setToolTip(say("State of the train when this was seen: as now, or as in a snapshot"))
        self.state.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.state.setMinimumContentsLength(12)
        self.state.activated.connect(lambda _: self._by_hand())
        self._state_by_hand = False
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.kind, 1)
        head.addWidget(self.state, 1)
        head.addWidget(self.day)
        self._form = QWidget()
        self._grid = QGridLayout(self._form)
        self._grid.setContentsMargins(0, 0, 8, 0)
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(6)
        scroll = QScrollArea()
        scroll.setAccessibleName(say("The entry, to be scrolled"))
        scroll.setObjectName("log_form")
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._form)
        self._beside = Label()
        self._beside.setObjectName("log_beside")
        self._beside.setWordWrap(True)
        self._serves = Label()
        self._serves.setObjectName("log_serves")
        self._serves.setProperty("role", "steel")
        self._serves.setWordWrap(True)
        self.save = self._button("log_save", say("Save entry"), self.give)
        self._photo = self._button("log_photo", say("Photo…"), self._ask_photo)
        self._aside = self._button("log_aside", say("Set aside"), self.set_aside)
        self._aside.setToolTip(say("Keep this entry, but calibrate nothing from it"))
        self._remove = self._button("log_remove", say("Remove"), self.remove)
        self._new = self._button("log_new", say("New"), lambda: self.begin(None))
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for button in (self.save, self._photo, self._new, self._aside, self._remove):
            buttons.addWidget(button)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addLayout(head)
        box.addWidget(scroll, 1)
        box.addWidget(self._serves)
        box.addWidget(self._beside)
        box.addLayout(buttons)

    def _button(self, name: str, text: str, run: Any) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    # What is in it

    def begin(self, kind: type[Observation] | None) -> None:
        """Begin a new observation with the train in view, of a kind or the first that suits it."""
        self._seen = None
        readout = self._session.readout
        suiting = [one for one in OBSERVATIONS.values() if readout is not None and one.suits(readout)]
        self.kind.clear()
        for one in suiting:
            self.kind.addItem(kind_words(one), one.model_fields["kind"].default)
        wanted = kind if kind in suiting else next(iter(suiting), None)
        self.kind.setCurrentIndex(suiting.index(wanted) if wanted in suiting else -1)
        self.kind.setEnabled(bool(suiting))
        self._fill_states()
        self.day.refuse("")
        self.day.setText(date.today().isoformat())
        self._begin(wanted)

    def _fill_states(self) -> None:
        """Offer the snapshots of the train; nothing where it has none that differ from it."""
        train = self._session.train
        self._state_by_hand = False
        self.state.clear()
        self.state.addItem(say("As it is now"), "")
        for state in sorted(self._session.workbook.states, key=lambda one: one.day, reverse=True):
            if train is not None and state.train.id == train.id and state.train != as_laid(train):
                self.state.addItem(
                    say("As of {day}", day=state.day) + (f", {state.name}" if state.name else ""), state.id
                )
        self.state.setVisible(self.state.count() > 1)

    def _by_hand(self) -> None:
        self._state_by_hand = True

    def _choose_state(self) -> None:
        """Choose the snapshot of the day typed, until a hand has chosen another."""
        train = self._session.train
        if train is None or self._state_by_hand or self._seen is not None:
            return
        then = state_on(self._session.workbook.states, train, self.day.text().strip())
        self.state.setCurrentIndex(max(self.state.findData("" if then is None else then.id), 0))

    def _begin(self, kind: type[Observation] | None) -> None:
        self._seen = None
        self._fill(kind, {})
        self._beside.setText("")
        self.save.setText(say("Save entry"))
        self._remove.setEnabled(False)
        self._aside.setEnabled(False)

    def show_seen(self, seen: Observation) -> None:
        """Show an observation of the log, to read or to change."""
        self._seen = seen
        self.kind.clear()
        self.kind.addItem(kind_words(type(seen)), seen.kind)
        self.kind.setEnabled(False)
        self._fill_states()
        at = self.state.findData(seen.state)
        self.state.setCurrentIndex(max(at, 0))
        self.day.refuse("")
        self.day.setText(seen.day)
        self._fill(type(seen), seen.model_dump())
        self.save.setText(say("Change"))
        self._remove.setEnabled(True)
        self._aside.setEnabled(True)
        self._aside.setText(say("Use again") if seen.aside else say("Set aside"))
        self._tell_beside()

    def _tell_beside(self) -> None:
        seen, workbook = self._seen, self._session.workbook
        if seen is None or seen.state not in workbook.states_by_id:
            self._beside.setText("")
            return
        both = beside(seen, Evidence(workbook.log, workbook.states_by_id, workbook.by_id))
        then, now = difference_words(both.then), difference_words(both.now)
        told = say("Then: {then}", then=then) if then else say("There is no prediction for this.")
        if now and now != then:
            told += say("\nWith what is known now: {now}", now=now)
        self._beside.setText(told)

    def _kind(self) -> type[Observation] | None:
        return OBSERVATIONS.get(str(self.kind.currentData()))

    def _fill(self, kind: type[Observation] | None, values: dict[str, Any]) -> None:
        while (item := self._grid.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                # Out of the form at once: what is found in it by name is what is shown.
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()
        self._answers = []
        self.save.setEnabled(kind is not None)
        self._photo.setEnabled(kind is not None)
        self._serves.setText("" if kind is None else serves_words(kind))
        if kind is None:
            return
        readout = self._session.readout
        self._answers = answers_of(kind, values, readout if self._seen is None else None, self._session.workbook)
        for row, answer in enumerate(self._answers):
            label = Label(answer.label)
            label.setToolTip(answer.help)
            label.setBuddy(answer.widget)
            side = Qt.AlignmentFlag.AlignTop if answer.corners else Qt.AlignmentFlag.AlignVCenter
            self._grid.addWidget(label, row, 0, side)
            self._grid.addWidget(answer.widget, row, 1)
            if answer.unit:
                unit = Label(answer.unit)
                unit.setProperty("role", "steel")
                self._grid.addWidget(unit, row, 2)
            if isinstance(answer.widget, QLineEdit):
                answer.widget.returnPressed.connect(self.give)
        self._grid.setColumnStretch(1, 1)
        self._grid.setRowStretch(len(self._answers), 1)

    def focus_first(self) -> None:
        """Put the caret where what was seen is typed."""
        for answer in self._answers:
            if answer.needed:
                answer.widget.setFocus()
                if isinstance(answer.widget, QLineEdit):
                    answer.widget.selectAll()
                return
        if self._answers:
            self._answers[0].widget.setFocus()

    # What is done with it

    def give(self) -> None:
        """Write the observation down, or change it."""
        kind, train = self._kind(), self._session.train
        if kind is None or (train is None and self._seen is None):
            return
        try:
            day = checked_day(self.day.text().strip())
        except BadInput as error:
            self.day.refuse(str(error))
            self._session.message.emit(str(error), True)
            return
        values: dict[str, Any] = {}
        tolerances: dict[str, float] = {}
        for answer in self._answers:
            try:
                value = _read(answer, kind)
                if isinstance(value, Written):
                    tolerances[answer.name] = value.tolerance
                    value = int(value.low) if answer.whole else value.low
                values[answer.name] = value
            except FarRailError as error:
                if isinstance(answer.widget, ShortField):
                    answer.widget.refuse(str(error))
                self._session.message.emit(f"{answer.label}: {error}", True)
                return
        values = with_tolerance(kind, values, tolerances)
        if self._seen is not None:
            label = say("Change: {kind_name}, {day}", kind_name=kind.kind_name, day=day)
            chosen = str(self.state.currentData() or "")
            then = {"state": chosen} if chosen and self._state_by_hand else {}
            self._session.do(ChangeObservation(self._seen.id, {**values, **then, "day": day}, label=label))
            return
        assert train is not None
        given = {name: value for name, value in values.items() if value is not None}
        count = len(self._session.workbook.log)
        if self._session.do(
            WriteDown(
                kind,
                train.id,
                day,
                given,
                str(self.state.currentData() or "") or None,
                label=say("Save entry: {kind_name}", kind_name=kind.kind_name),
            )
        ):
            self.written.emit(self._session.workbook.log[count].id)

    def set_aside(self) -> None:
        """Keep the entry shown without calibrating from it, or use it again."""
        seen = self._seen
        if seen is not None and self._session.do(SetAside(seen.id, not seen.aside)):
            self.show_seen(self._session.workbook.log_by_id[seen.id])

    def remove(self) -> None:
        """Take the observation out."""
        seen = self._seen
        if seen is None:
            return
        label = say("Remove: {kind_name}, {day}", kind_name=type(seen).kind_name, day=seen.day)
        self._session.do(RemoveObservation(seen.id, label=label))

    def _ask_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window(), say("A photo that shows it"), "", str(PHOTOS))
        if name:
            self.take_photo(Path(name))

    def take_photo(self, path: Path) -> None:
        """Name a photo, and fill in what it says of how it was taken."""
        by_name = {answer.name: answer for answer in self._answers}
        if "photo" in by_name:
            by_name["photo"].put(str(path))
        try:
            facts = photo_facts(path)
        except BadInput as error:
            self._session.message.emit(str(error), True)
            return
        if facts.silent:
            self._session.message.emit(
                say("{name} has no exposure data; enter the values yourself.", name=path.name), False
            )
            return
        for field, value in (("focal_mm", facts.focal_mm), ("f_number", facts.f_number), ("time", facts.time)):
            if value is not None and field in by_name:
                by_name[field].put(say("{value:g}", value=value) if isinstance(value, float) else value)
        if facts.day is not None:
            self.day.refuse("")
            self.day.setText(facts.day)


def _read(answer: Answer, kind: type[Observation]) -> Any:
    """Return what is in a field as the kind takes it, a number with what was written behind ±.

    Raises:
        FarRailError: it is no number.
    """
    widget = answer.widget
    if isinstance(widget, CornerBoxes):
        return widget.corners
    if isinstance(widget, QCheckBox):
        return widget.isChecked()
    if isinstance(widget, QComboBox):
        return widget.currentData()
    text = widget.text().strip() if isinstance(widget, QLineEdit) else ""
    if not text:
        return "" if answer.is_text else None
    if answer.is_text:
        return text
    return entered(kind, answer.name, as_shown(text) if answer.length else text)


def suits_front(key: str) -> type[Observation]:
    """Return the kind of observation that fits a station."""
    return OBSERVATIONS[FITS.get(key, "note")]


# What one sees while a station is in front.
FITS = {
    "front": str(Darkening.model_fields["kind"].default), "light": "corner_loss", "close_up": "field_width",
    "spacing": "corner_stars", "exposure": "filter_stops", "build": "flats", "parts": "mass", "log": "note",
}  # fmt: skip
