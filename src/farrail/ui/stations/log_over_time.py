"""One thing over many evenings: readings by day, what is left to a calibrated value, and when something moved."""

from functools import partial

from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from farrail.language import say
from farrail.logbook.over_time import Series, marks_of
from farrail.logbook.seen_words import number_words
from farrail.logbook.words import series_words
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.time_plot import TimePlot
from farrail.workbook.over_time import all_series


class OverTimePage(QWidget):
    """Readings of the train in view, by day."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._series: list[Series] = []
        self.chosen = QComboBox()
        self.chosen.setObjectName("log_series")
        self.chosen.setAccessibleName(say("Quantity shown over time"))
        self.chosen.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.chosen.activated.connect(lambda _: self._show())
        self.plot = TimePlot()
        self._text = Label()
        self._text.setObjectName("log_over_time_words")
        self._text.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.chosen)
        box.addWidget(self.plot, 3)
        box.addWidget(self._text)
        box.addStretch(1)

        # Hundreds of evenings are each compared with their train: that is no work for the window's own thread.
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._fill)
        self.work.failed.connect(lambda error: session.tell_failure(error, say("The look at the log")))

    def refresh(self) -> None:
        """Show what was measured with the train in view."""
        train, workbook = self._session.train, self._session.workbook
        if train is None:
            self._fill([])
        elif not self.work.asked:
            self.work.begin(lambda _: all_series(workbook, train))

    def _question(self) -> object:
        train = self._session.train
        return None if train is None else Same([train, self._session.workbook])

    def _fill(self, answer: object) -> None:
        assert isinstance(answer, list)
        before = self._series[self.chosen.currentIndex()].key if self.chosen.currentIndex() >= 0 else None
        self._series = answer
        self.chosen.clear()
        self.chosen.addItems([one.name for one in self._series])
        keys = [one.key for one in self._series]
        if before in keys:
            self.chosen.setCurrentIndex(keys.index(before))
        self._show()

    def _show(self) -> None:
        number = self.chosen.currentIndex()
        series = self._series[number] if 0 <= number < len(self._series) else None
        self.chosen.setVisible(bool(self._series))
        self.plot.setVisible(series is not None)
        train, workbook = self._session.train, self._session.workbook
        if series is None or train is None:
            self._text.setText(say("Measure the same thing on two evenings with this train: its readings appear here."))
            return
        words = partial(number_words, unit=series.unit, stays_mm=series.stays_mm)
        self.plot.show_series(series, marks_of(workbook.log, workbook.states_by_id, train.id), words)
        self._text.setText(series_words(series))
