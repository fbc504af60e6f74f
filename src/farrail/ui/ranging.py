"""Works out beside the hand what a train's unknowns make of its figures, once the hand rests."""

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QObject, QTimer

from farrail.language import say
from farrail.logbook.next_best import next_findings
from farrail.readouts.range_findings import RangeReport, range_report
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.ui.session import Session
from farrail.ui.widgets.background import Background

RESTED_MS = 250


class Ranging(QObject):
    """Keeps a session's ranges up to date."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        """Begin with the train in view."""
        super().__init__(parent)
        self._session = session
        self._work = Background(self)
        self._work.done.connect(self._take)
        self._work.failed.connect(lambda error: session.log.tell(error, say("Working out ranges")))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(RESTED_MS)
        self._timer.timeout.connect(self.begin)
        for changed in (session.changed, session.train_changed, session.rested):
            changed.connect(self._later)
        self._timer.start()

    def _later(self) -> None:
        """Give up what is under way, for it is out of date, and begin anew once nothing changes any more."""
        self._work.cancel()
        self._timer.start()

    def begin(self) -> None:
        """Begin to work them out, unless a hand is dragging."""
        train = self._session.train
        if train is None or self._session.dragging:
            return
        workbook = self._session.workbook
        self._work.start(lambda cancel: (_report(train, workbook.by_id, cancel.is_set), workbook))

    def wait(self) -> None:
        """Wait for what is under way; the event loop delivers it."""
        self._work.wait()

    def _take(self, answer: object) -> None:
        if isinstance(answer, tuple):
            report, workbook = answer
            self._session.set_ranges(report, workbook)


def _report(train: Train, shelf: Shelf, stopped: Callable[[], bool]) -> RangeReport:
    """Return what a train's unknowns make of it, and what to look at first."""
    report = range_report(train, shelf, stopped=stopped)
    more = () if stopped() else next_findings(train, shelf)
    return replace(report, findings=(*report.findings, *more))
