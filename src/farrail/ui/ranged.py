"""The intervals of the train in view, as far as they are worked out for the train as it is."""

from collections.abc import Mapping

from PySide6.QtCore import SignalInstance

from farrail.language import say
from farrail.readouts.figure import Figure
from farrail.readouts.finding import Finding
from farrail.readouts.range_findings import NO_RANGES, RangeReport
from farrail.readouts.read import Readout
from farrail.readouts.unknown_field import UnknownField
from farrail.train.train import Train
from farrail.ui.background_task import Same
from farrail.workbook.workbook import Workbook


class Ranged:
    """What a session is asked about intervals."""

    _ranges: tuple[RangeReport, object] | None
    ranges_changed: SignalInstance

    @property
    def train(self) -> Train | None:
        """The train in view."""
        raise NotImplementedError

    @property
    def workbook(self) -> Workbook:
        """The workbook as it is."""
        raise NotImplementedError

    @property
    def readout(self) -> Readout | None:
        """The readout of the train in view."""
        raise NotImplementedError

    @property
    def ranges(self) -> RangeReport | None:
        """What the unknowns of the train in view make of it; None while that is not known."""
        if self._ranges is None:
            return None
        report, question = self._ranges
        return report if question == self.range_question else None

    @property
    def range_question(self) -> object:
        """What the intervals of the train in view rest on: it and its parts; None without a train."""
        train, parts = self.train, self.workbook.by_id
        return None if train is None else Same([train, *(parts.get(part_id) for part_id in train.part_ids())])

    def set_ranges(self, ranges: RangeReport) -> None:
        """Take the intervals worked out for the train in view."""
        self._ranges = ranges, self.range_question
        self.ranges_changed.emit()

    def figure(self, figure_id: str) -> Figure | None:
        """Return a figure of the train in view, with its range where that is known; None where there is none."""
        readout = self.readout
        found = None if readout is None else readout.figures.get(figure_id)
        return None if found is None else self.ranged({figure_id: found})[figure_id]

    def to_enter(self, finding: Finding) -> str:
        """Return what to enter to settle a finding, in words; "" where no one value would."""
        part = self.workbook.by_id.get(finding.part)
        if part is None or not finding.value:
            return ""
        steps = tuple(int(step) if step.isdigit() else step for step in finding.value.split("."))
        return say("Enter {value}", value=UnknownField(part.name, type(part), steps))

    def ranged(self, figures: Mapping[str, Figure]) -> dict[str, Figure]:
        """Return figures of the train in view with their intervals, as far as those are worked out."""
        return self.range_report.figures(figures)

    @property
    def range_report(self) -> RangeReport:
        """The intervals of the train in view, as far as they are worked out; none for no train."""
        return self.ranges or NO_RANGES
