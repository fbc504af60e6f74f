"""Works out beside the hand what a train's unknowns make of its figures, once the hand rests."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from PySide6.QtCore import QObject, QTimer

from farrail.language import say
from farrail.logbook.next_best import next_findings
from farrail.readouts.range_findings import RangeReport, range_report
from farrail.readouts.ranges import EVERY, MAIN, Subjects
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.ui.session import Session
from farrail.ui.widgets.background import Background
from farrail.workbook.workbook import Workbook

RESTED_MS = 250


@dataclass(frozen=True)
class Worked:
    """What was worked out: of which workbook, and which figures."""

    report: RangeReport
    workbook: Workbook
    subjects: Subjects


class Ranging(QObject):
    """Keeps a session's ranges up to date."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        """Begin with the train in view."""
        super().__init__(parent)
        self._session = session
        # What all figures were last worked out for.
        self._done: Worked | None = None
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
        done = self._done
        if done is not None and done.report.train is train and done.workbook.shelf is workbook.shelf:
            return
        self._begin(train, workbook, MAIN)

    def _begin(self, train: Train, workbook: Workbook, subjects: Subjects) -> None:
        """Begin with the figures that decide; all others follow once those are shown."""
        self._work.start(
            lambda cancel: Worked(_report(train, workbook.by_id, subjects, cancel.is_set), workbook, subjects)
        )

    def wait(self) -> None:
        """Wait for what is under way; the event loop delivers it."""
        self._work.wait()
        # The figures that decide set off all others.
        self._work.wait()

    def _take(self, answer: object) -> None:
        if not isinstance(answer, Worked):
            return
        self._session.set_ranges(answer.report, answer.workbook)
        self._done = answer if answer.subjects is EVERY or not answer.report.spreads else None
        train = answer.report.train
        if answer.subjects is MAIN and answer.report.spreads and train is not None:
            self._begin(train, answer.workbook, EVERY)


def _report(train: Train, shelf: Shelf, subjects: Subjects, stopped: Callable[[], bool]) -> RangeReport:
    """Return what a train's unknowns make of it, and what to look at first."""
    report = range_report(train, shelf, subjects, stopped)
    more = () if stopped() else next_findings(train, shelf)
    return replace(report, findings=(*report.findings, *more))
