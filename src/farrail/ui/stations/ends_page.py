"""The table of ends: the Close-up station's page of one lens with everything available, as one writes it on a card."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from farrail.language import N_, say
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.planning.ask import answer_at, laid
from farrail.planning.combinations import close_up_parts
from farrail.planning.ends import End, EndsTable, table_of_ends
from farrail.planning.offers import Offer
from farrail.quantities import unit_word
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.stations.close_up_words import ends_row, ends_titles
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import Nth
from farrail.workbook.edits.trains import LayCloseUp

# Of each end: what fills the frame, from the front, from the sensor, gain.
OF_AN_END = (
    (N_("wide"), 78, True, None), (N_("front"), 52, True, None), (N_("sensor"), 56, True, None),
    (N_("gain"), 56, False, None), (N_("∞ wide"), 56, True, 0), (N_("∞ front"), 56, True, 0),
)  # fmt: skip
NO_LENS = N_("Add a camera lens and a camera to use this page.")


class EndsPage(QWidget):
    """A lens at both ends of its zoom, bare and with each tube, close-up lens and stack available."""

    # An offer to show on the rail before it is placed, or None to show the train itself again.
    previewed = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._table: EndsTable | None = None
        columns = [
            Column(str(title), True, width, narrow, lengths=lengths)
            for _ in range(2)
            for title, width, lengths, narrow in OF_AN_END
        ]
        self.table = Ledger(
            "closeup_ends", say("The lens at both ends of its zoom, with each tube and close-up lens you own"),
            (Column(say("Equipment")), *columns),
        )  # fmt: skip
        self.table.row_picked.connect(lambda _: self.show_preview(True))
        self.table.row_activated.connect(lambda *_: self._lay())
        self._text = Label()
        self._text.setObjectName("ends_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        box.addWidget(self.table, 1)
        box.addWidget(self._text)
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self._empty)
        self.work.failed.connect(self._failed)

    def _inputs(self) -> tuple[CameraLens, Camera, float | None] | None:
        """Return lens, camera and aperture of the train in view; None without a lens and a camera."""
        train, camera = self._session.train, self._session.camera
        lens = None if train is None else self._session.workbook.by_id.get(train.optic)
        if train is None or camera is None or not isinstance(lens, CameraLens):
            return None
        return lens, camera, train.conditions.f_number

    def _question(self) -> object:
        """Return the inputs of the table: lens, camera, aperture and close-up parts."""
        inputs = self._inputs()
        if inputs is None:
            return None
        lens, camera, f_number = inputs
        return Same([lens, camera, *close_up_parts(self._session.workbook.by_id)]), f_number

    def _empty(self) -> None:
        self._table = None
        self.table.set_rows([])
        self.previewed.emit(None)

    def refresh(self) -> None:
        """Work the table out, in the background, when lens, parts, camera or aperture have changed."""
        inputs, shelf = self._inputs(), self._session.workbook.by_id
        if inputs is None:
            self.work.forget()
            self._empty()
            self._text.setText(str(NO_LENS))
        elif not self.work.asked:
            self._text.setText(say("Working it out …"))
            lens, camera, f_number = inputs
            self.work.begin(lambda cancel: table_of_ends(lens, shelf, camera, f_number, cancel.is_set))

    def _show(self, answer: object) -> None:
        assert isinstance(answer, EndsTable)
        self._table = answer
        self.table.ledger.set_titles(ends_titles(answer, [str(title) for title, *_ in OF_AN_END]))
        second = range(1 + len(OF_AN_END), 1 + 2 * len(OF_AN_END))
        self.table.leave_out(() if len(answer.focal_mm) > 1 else second)
        self.table.set_rows([ends_row(row, number) for number, row in enumerate(answer.rows)])
        self.table.clearSelection()
        nothing = say("{name} does not fit this camera, with none of your adapters.", name=answer.lens.name)
        told = say(
            "Each at its closest focus, in {unit}: field, distance from the front glass and from the sensor. ∞: the "
            "same with the lens at its infinity mark.",
            unit=unit_word("mm"),
        )
        self._text.setText(
            say("{caption} Right-click copies the table as CSV.", caption=told) if answer.rows else nothing
        )

    def _failed(self, error: Exception) -> None:
        self._empty()
        self._text.setText(say("The table broke off; change the train or the shelf to try again."))
        self._session.tell_failure(error, say("The table of ends"))

    def _picked(self) -> End | None:
        """Return the picked row at the end of the zoom that the train is set to, or the nearer one to it."""
        key, train = self.table.current_key(), self._session.train
        if self._table is None or train is None or not isinstance(key, Nth) or key.number >= len(self._table.rows):
            return None
        wanted = train.conditions.focal_mm or self._table.focal_mm[0]
        ends = [end for end in self._table.rows[key.number].ends if end is not None]
        return min(ends, key=lambda end: abs(end.combination.focal_mm - wanted), default=None)

    def _train(self) -> Train | None:
        end, train = self._picked(), self._session.train
        return None if end is None or train is None else laid(answer_at(end.combination, 1.0), train)

    def show_preview(self, wanted: bool) -> None:
        """Show the picked row on the rail, or the train itself."""
        end, train = self._picked(), self._train() if wanted else None
        self.previewed.emit(None if end is None or train is None else Offer(train, end.combination.words))

    def _lay(self) -> None:
        """Place the picked row: one step of undo."""
        train, now = self._train(), self._session.train
        if train is not None and now is not None:
            self.previewed.emit(None)
            self._session.do(LayCloseUp(now.id, train))
