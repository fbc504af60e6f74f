"""One thing over many evenings: readings by day, what is left to a calibrated value, and when something moved."""

from functools import partial

from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from farrail.language import say
from farrail.logbook.over_time import Series, marks_of
from farrail.logbook.seen_words import number_words
from farrail.logbook.words import series_words
from farrail.train.train import Train
from farrail.ui.session import Session
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.time_plot import TimePlot
from farrail.workbook.over_time import all_series
from farrail.workbook.workbook import Workbook


class OverTimePage(QWidget):
    """Readings of the train in view, by day."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._of: tuple[Train, Workbook] | None = None
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

    def refresh(self) -> None:
        """Show what was measured with the train in view."""
        train, workbook = self._session.train, self._session.workbook
        if train is not None and self._of is not None and self._of[0] is train and self._of[1] is workbook:
            return
        self._of = None if train is None else (train, workbook)
        before = self._series[self.chosen.currentIndex()].key if self.chosen.currentIndex() >= 0 else None
        self._series = [] if train is None else all_series(workbook, train)
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
        if series is None or self._of is None:
            self._text.setText(say("Measure the same thing on two evenings with this train: its readings appear here."))
            return
        train, workbook = self._of
        words = partial(number_words, unit=series.unit, stays_mm=series.stays_mm)
        self.plot.show_series(series, marks_of(workbook.log, workbook.states_by_id, train.id), words)
        self._text.setText(series_words(series))
