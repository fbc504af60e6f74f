"""A small photo before each row of a table: what each of its trains would take, made in the background."""

from collections.abc import Iterable, Mapping

import numpy as np

from farrail.cancel import Cancel
from farrail.errors import FarRailError
from farrail.parts.registry import Part
from farrail.preview.model import NotWanted, PreviewSettings, frame_preview
from farrail.preview.noise import Plane
from farrail.readouts.read import read
from farrail.train.rows import with_parts
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

    def ask(
        self,
        trains: Mapping[RowKey, Train],
        rests_on: Iterable[object],
        settings: PreviewSettings,
        bought: Iterable[Part] = (),
        crops: Mapping[RowKey, float] | None = None,
    ) -> None:
        """Ask for the photos of trains by the keys of their rows; those shown before are taken away.

        Args:
            trains: the trains of the rows; all follow from `rests_on`.
            rests_on: what they were made from: while it is the very same, nothing is made again.
            settings: how all are taken.
            bought: parts of them that are not on the shelf.
            crops: which share of the frame's sides is kept, where it is not all.
        """
        shelf = with_parts(self._session.workbook.by_id, bought)
        asked, kept = dict(trains), dict(crops or {})
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
                made[key] = _middle(photo.quickly_shown, kept.get(key, 1.0))
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


def _middle(shown: Plane, share: float) -> Plane:
    """Return the middle of a picture: a share of its width and height."""
    down, across = (round(side * (1.0 - share) / 2.0) for side in shown.shape[:2])
    return np.ascontiguousarray(shown[down : shown.shape[0] - down, across : shown.shape[1] - across])
