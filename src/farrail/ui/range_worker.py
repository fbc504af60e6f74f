"""Works out beside the hand what a train's unknowns make of its figures, once the hand rests."""

from dataclasses import dataclass, replace

from PySide6.QtCore import QObject, QTimer

from farrail.cancel import Stopped
from farrail.language import say
from farrail.readouts.range_findings import RangeReport, range_report
from farrail.readouts.ranges import EVERY, MAIN, Subjects
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask
from farrail.ui.session import Session

RESTED_MS = 250


@dataclass(frozen=True)
class Worked:
    """What was worked out, and of which figures."""

    report: RangeReport
    subjects: Subjects


class Ranging(QObject):
    """Keeps a session's ranges up to date."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        """Begin with the train in view."""
        super().__init__(parent)
        self._session = session
        # What all figures were last worked out for.
        self._done: object = None
        self._work = BackgroundTask(lambda: session.range_question, self)
        self._work.answered.connect(self._take)
        self._work.failed.connect(lambda error: session.log.tell(error, say("Working out ranges")))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(RESTED_MS)
        self._timer.timeout.connect(self.begin)
        for changed in (session.changed, session.train_changed, session.rested):
            changed.connect(self._later)
        self._timer.start()

    def _later(self) -> None:
        """Cancel outdated work, and start again after a pause in editing."""
        self._work.check()
        self._timer.start()

    def begin(self) -> None:
        """Begin to work them out, unless a hand is dragging."""
        train = self._session.train
        if train is None or self._session.dragging:
            return
        # An edit that leaves the train and its parts alone leaves its intervals as they are.
        if self._done is None or self._done != self._session.range_question:
            self._begin(train, self._session.workbook.by_id, MAIN)

    def _begin(self, train: Train, shelf: Shelf, subjects: Subjects) -> None:
        """Begin with the figures that decide; all others follow once those are shown."""
        self._work.begin(lambda cancel: Worked(_report(train, shelf, subjects, cancel.is_set), subjects))

    def wait(self) -> None:
        """Wait for what is under way; the event loop delivers it."""
        self._work.wait()
        # The figures that decide set off all others.
        self._work.wait()

    def _take(self, answer: object) -> None:
        if not isinstance(answer, Worked):
            return
        session, done = self._session, answer.subjects is EVERY or not answer.report.spreads
        self._done = session.range_question if done else None
        session.set_ranges(answer.report)
        if not done and session.train is not None:
            self._begin(session.train, session.workbook.by_id, EVERY)


def _report(train: Train, shelf: Shelf, subjects: Subjects, stopped: Stopped) -> RangeReport:
    """Return what a train's unknowns make of it, and what to look at first."""
    from farrail.logbook.next_best import next_findings

    report = range_report(train, shelf, subjects, stopped)
    more = () if stopped() else next_findings(train, shelf)
    return replace(report, findings=(*report.findings, *more))
