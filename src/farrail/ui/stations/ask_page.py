"""Asking for a subject's size: the Close-up station's page that searches the shelf and places what is picked."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from farrail.cancel import Cancel
from farrail.errors import FarRailError
from farrail.language import say
from farrail.lengths import as_shown
from farrail.parts.kinds.cameras import Camera
from farrail.parts.origin import Origin
from farrail.planning.ask import Answer, Asked, Wish, ask, laid, width_and_tolerance
from farrail.planning.combinations import close_up_parts
from farrail.planning.offers import Offer
from farrail.quantities import typed_bare, unit_word
from farrail.train.rows import Shelf
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.stations.close_up_words import answer_row, asked_words, corner_words
from farrail.ui.widgets.flow_layout import FlowLayout
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth, RowKey
from farrail.ui.widgets.short_field import short_field
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import LayCloseUp


class AskPage(QWidget):
    """Fill the frame with so much, so far away, for so much light."""

    # An offer to show on the rail before it is placed, or None to show the train itself again.
    previewed = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._asked: Asked | None = None
        self._shown: tuple[Answer, ...] = ()
        self.width_ = short_field(
            "ask_width", say("Width of the subject in the frame ({unit})", unit=unit_word("mm")), typed_bare(18.0), 64
        )
        self.width_.setToolTip(say("Width of the subject in the frame, such as 22 mm or 22 mm ± 5 %"))
        self.distance = short_field(
            "ask_distance", say("Least working distance, {unit}", unit=unit_word("mm")), say("any"), 44
        )
        self.stops = short_field("ask_stops", say("Most stops lost against infinity"), say("any"), 44)
        for field in (self.width_, self.distance, self.stops):
            field.returnPressed.connect(self.ask)
        asking = QWidget()
        button = QPushButton(say("Search"))
        button.setObjectName("ask_go")
        button.clicked.connect(self.ask)
        self.reversed_ = QPushButton(say("Reversed"))
        self.reversed_.setObjectName("ask_reversed")
        self.reversed_.setCheckable(True)
        self.reversed_.setChecked(True)
        self.reversed_.setProperty("chip", "true")
        self.reversed_.setToolTip(say("Lenses reversed on the camera or on the front of another lens are allowed"))
        row = FlowLayout(asking, 3)
        for word, field in (
            (say("Fill with"), self.width_),
            (say("{unit} from", unit=unit_word("mm")), self.distance),
            (say("{unit}, max.", unit=unit_word("mm")), self.stops),
        ):
            row.addWidget(Label(word))
            row.addWidget(field)
        for widget in (Label(say("stops")), button):
            row.addWidget(widget)
        policy = asking.sizePolicy()
        policy.setHeightForWidth(True)
        asking.setSizePolicy(policy)
        self.table = Ledger(
            "ask_answers", say("Combinations that do it, the best first"),
            (
                Column(say("From subject to camera")), Column(say("away"), True, 71, lengths=True),
                Column(say("stops"), True, 73), Column(say("to buy"), True, 52),
            ),
        )  # fmt: skip
        self.table.row_picked.connect(self._pick)
        self.table.row_activated.connect(lambda *_: self._lay())
        self.lay = QPushButton(say("Apply"))
        self.lay.setObjectName("ask_lay")
        self.lay.setEnabled(False)
        self.lay.clicked.connect(self._lay)
        self._text = Label(say("Every lens, tube, close-up lens and ring of the shelf is tried."))
        self._text.setObjectName("ask_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        self._why = Label()
        self._why.setObjectName("ask_why")
        self._why.setWordWrap(True)
        self._why.hide()
        below = QHBoxLayout()
        below.setSpacing(10)
        below.addWidget(self.lay)
        below.addWidget(self._why, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        box.addWidget(asking)
        said = QHBoxLayout()
        said.addWidget(self._text, 1)
        said.addWidget(self.reversed_)
        box.addLayout(said)
        box.addWidget(self.table, 1)
        box.addLayout(below)
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self._outdated)
        self.work.failed.connect(self._failed)
        for changed in (session.changed, session.train_changed):
            changed.connect(self.work.check)

    def refresh(self) -> None:
        """Drop answers that no longer hold: the parts, the camera or the aperture have changed."""
        self.work.check()

    def _outdated(self) -> None:
        self._asked, self._shown = None, ()
        self.table.set_rows([])
        self.lay.setEnabled(False)
        self._why.hide()
        self._text.setText(say("The train or the parts have changed: search again."))
        self._text.setToolTip("")
        self.previewed.emit(None)

    def _question(self) -> object:
        train, camera, shelf = self._session.train, self._session.camera, self._session.workbook.by_id
        if train is None or camera is None:
            return None
        return Same([camera, *close_up_parts(shelf)]), train.conditions.f_number

    def ask(self) -> None:
        """Search in a thread."""
        train, camera, shelf = self._session.train, self._session.camera, self._session.workbook.by_id
        if train is None or camera is None:
            self._session.message.emit(say("There is no frame to fill: add a camera at the end of the train."), True)
            return
        try:
            # An empty width falls back on what the field shows.
            width, tolerance = width_and_tolerance(
                as_shown(self.width_.text().strip() or self.width_.placeholderText())
            )
            wish = Wish(
                width, self._number(self.distance, 0.0, length=True), self._number(self.stops, 99.0), tolerance,
                self.reversed_.isChecked(),
            )  # fmt: skip
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        f_number = train.conditions.f_number
        self._text.setText(say("Searching …"))
        self.work.begin(lambda cancel: _answered(wish, shelf, camera, f_number, cancel))

    def wish_for_subject(self) -> None:
        """Ask at once for the subject the train has."""
        train = self._session.train
        wide = None if train is None else train.conditions.subject_width_mm
        if wide is not None:
            self.width_.setText(typed_bare(wide))
            self.ask()

    def _number(self, field: QLineEdit, otherwise: float, *, length: bool = False) -> float:
        text = as_shown(field.text().strip()) if length else field.text().strip()
        return parse_reading(text, Origin.MEASURED).value if text else otherwise

    def _show(self, answer: object) -> None:
        if isinstance(answer, FarRailError):
            self._text.setText(str(answer))
            self.table.set_rows([])
            return
        assert isinstance(answer, Asked)
        self._asked = answer
        self._shown = answer.answers or answer.misses
        # Hide an empty column to leave more room for the long names.
        self.table.leave_out(() if any(item.combination.missing for item in self._shown) else (3,))
        self.table.set_rows([answer_row(item, number) for number, item in enumerate(self._shown)])
        self.table.clearSelection()
        self.lay.setEnabled(False)
        self._why.hide()
        told, why_not = asked_words(answer)
        self._text.setText(told)
        self._text.setToolTip(why_not)
        if self._shown:
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)
            self.table.setCurrentIndex(self.table.ledger.index(0, 0))

    def _failed(self, error: Exception) -> None:
        """Free the page after a search that broke."""
        self.table.set_rows([])
        self._text.setText(say("The search broke off; ask again."))
        self._session.tell_failure(error, say("The search"))

    def picked(self) -> Answer | None:
        """Return the combination picked in the table."""
        key = self.table.current_key()
        return self._shown[key.number] if isinstance(key, Nth) and key.number < len(self._shown) else None

    def _pick(self, key: RowKey | None) -> None:
        answer = self.picked()
        self.lay.setEnabled(answer is not None)
        if answer is not None:
            prices = [
                say("price not known") if p.price is None else say("{price:g}", price=p.price)
                for p in answer.combination.missing
            ]
            parts = zip(answer.combination.missing, prices, strict=True)
            bought = ", ".join(f"{part.name} ({price})" for part, price in parts)
            words = [answer.why] if answer.why else []
            words += [say("buy {bought}", bought=bought)] if bought else []
            words += [*answer.cautions, *corner_words(answer)]
            text = "; ".join(words)
            self._why.setText(f"{text[:1].upper()}{text[1:]}." if text else say("You own all of it."))
            self._why.show()
        self.show_preview(True)

    def show_preview(self, wanted: bool) -> None:
        """Show the picked combination on the rail, or the train itself."""
        answer, train = self.picked(), self._session.train
        if not wanted or answer is None or train is None:
            self.previewed.emit(None)
            return
        self.previewed.emit(Offer(laid(answer, train), answer.combination.words))

    def _lay(self) -> None:
        """Place the picked combination: one step of undo."""
        answer, train = self.picked(), self._session.train
        if answer is not None and train is not None:
            self.previewed.emit(None)
            self._session.do(LayCloseUp(train.id, laid(answer, train)))


def _answered(wish: Wish, shelf: Shelf, camera: Camera, f_number: float | None, cancel: Cancel) -> object:
    """Return what came of a wish, or the sentence that says why nothing could."""
    try:
        return ask(wish, shelf, camera, f_number, stopped=cancel.is_set)
    except FarRailError as error:
        return error
