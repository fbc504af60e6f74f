"""A small photo before each row of a table: what each of its trains would take, made in the background."""

from collections.abc import Iterable, Mapping

from farrail.cancel import Cancel
from farrail.errors import FarRailError
from farrail.preview.model import NotWanted, PreviewSettings, frame_preview
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.picture_marks import image_of
from farrail.ui.widgets.row_keys import RowKey

# How wide one is; its height follows from the sensor.
WIDE_PX = 60


class Thumbnails:
    """Makes the small photos of one table, all of the same scene."""

    def __init__(self, session: Session, table: Ledger) -> None:
        """Begin with none."""
        self._session, self._table = session, table
        self._asked: object = None
        self.work = BackgroundTask(lambda: self._asked, table)
        self.work.answered.connect(self._show)
        self.work.failed.connect(lambda error: session.tell_failure(error, "thumbnails"))

    def ask(self, trains: Mapping[RowKey, Train], rests_on: Iterable[object], settings: PreviewSettings) -> None:
        """Ask for the photos of trains by the keys of their rows; those shown before are taken away.

        Args:
            trains: the trains of the rows; all follow from `rests_on`.
            rests_on: what they were made from: while it is the very same, nothing is made again.
            settings: how all are taken.
        """
        shelf: Shelf = self._session.workbook.by_id
        asked = dict(trains)
        question = Same([*rests_on, self._session.workbook.shelf]), settings
        if question == self._asked:
            return
        self.forget()
        self._asked = question

        def make(cancel: Cancel) -> object:
            made = {}
            for key, train in asked.items():
                try:
                    photo = frame_preview(read(train, shelf), settings, WIDE_PX, quick=True, stopped=cancel.is_set)
                except (FarRailError, NotWanted):
                    continue
                made[key] = photo.quickly_shown
            return made

        self.work.begin(make)

    def forget(self) -> None:
        """Show none."""
        self.work.forget()
        self._asked = None
        self._table.show_thumbnails({})

    def _show(self, answer: object) -> None:
        assert isinstance(answer, dict)
        self._table.show_thumbnails({key: image_of(values) for key, values in answer.items()})
