"""One row under a page's headline: what the selected part, or the one to blame, must measure."""

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from farrail.language import say
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.widgets.plain import Label

if TYPE_CHECKING:
    from farrail.planning.room_needs import Room


class NeedLine(Label):
    """Shows the answer when it is there; hidden where the page has no such question."""

    def __init__(self, session: Session, room: "Room", parent: QWidget | None = None) -> None:
        """Begin hidden; `refresh` asks."""
        super().__init__(parent=parent)
        self._session, self._room = session, room
        self.setObjectName(f"need_{room}")
        self.setWordWrap(True)
        self.hide()
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self.hide)
        self.work.failed.connect(lambda error: session.tell_failure(error, say("The search for a measure")))

    def refresh(self) -> None:
        """Ask for the train and the selection as they are now, unless that was asked already."""
        readout, chosen, room = self._session.readout, self._session.selected_part(), self._room
        if readout is None:
            self.work.forget()
            self.hide()
        elif not self.work.asked:
            # What is shown answers an earlier question.
            self.hide()
            shelf = self._session.workbook.by_id

            def needs(_: object) -> object:
                from farrail.planning.room_needs import needs_in

                return tuple(need.sentence for need in needs_in(room, readout, shelf, chosen))

            self.work.begin(needs)

    def _question(self) -> object:
        train = self._session.train
        return None if train is None else (Same([train, self._session.workbook.shelf]), self._session.selected_part())

    def _show(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self.setText(say("Needed: {sentences}", sentences=" ".join(answer)) if answer else "")
        self.setVisible(bool(answer))
