"""One ring size for all lenses: the Front station's page that asks the planner for it."""

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from farrail.cancel import Cancel
from farrail.language import joined, say
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.planning.ring_cost import RingCost, ring_costs
from farrail.planning.ring_words import best_words, cost_words, split_words
from farrail.planning.rings import RingPlan, every_plan
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.stations.front_words import ring_row
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.plain import Label


class RingPage(QWidget):
    """Which main size serves every lens available, and which step rings to buy."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self.table = Ledger(
            "front_rings",
            say("One ring size for all lenses"),
            (
                Column(say("Main size"), False, 82),
                Column(say("to buy")),
                Column(say("for"), True, 44),
                Column(say("rings"), True, 48, 0),
                Column(say("corner"), True, 52, 0),
                Column(say("free from"), True, 70),
            ),
        )
        plan = QPushButton(say("Plan rings"))
        plan.setObjectName("plan_rings")
        plan.clicked.connect(self._plan)
        self.swapped = QCheckBox(say("Rings are swapped in the field"))
        self.swapped.setObjectName("rings_swapped")
        self.swapped.setToolTip(
            say("One ring is moved between all lenses of its size; otherwise each lens has its own.")
        )
        self._text = Label(say("For every lens you own with a filter thread."))
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self._outdated)
        for changed in (session.changed, session.train_changed):
            changed.connect(self.work.check)
        self.work.failed.connect(self._failed)
        row = QHBoxLayout()
        row.setSpacing(10)
        row.addWidget(plan)
        row.addWidget(self.swapped)
        row.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        box.addLayout(row)
        box.addWidget(self.table, 1)
        box.addWidget(self._text)

    def _question(self) -> object:
        """Return what a plan rests on: lenses, rings, filters, kits, and whether rings are swapped in the field."""
        workbook = self._session.workbook
        matter = [part for part in workbook.shelf if isinstance(part, CameraLens | Adapter | RoundFilter)]
        return Same(matter), tuple(sorted(workbook.kit_prices.items())), self.swapped.isChecked()

    def _outdated(self) -> None:
        self.table.set_rows([])
        self._text.setText(say("The lenses, rings or filters have changed: plan again."))

    def _plan(self) -> None:
        workbook = self._session.workbook
        shelf, prices, swapped = workbook.by_id, workbook.kit_prices, self.swapped.isChecked()
        self._text.setText(say("Searching …"))

        def search(cancel: Cancel) -> tuple[tuple[RingPlan, tuple[RingCost, ...]], ...]:
            plans = every_plan(shelf, prices, swapped=swapped, cancel=cancel)
            return tuple((plan, ring_costs(plan, shelf)) for plan in plans)

        self.work.begin(search)

    def _failed(self, error: Exception) -> None:
        """Free the page after a plan that broke."""
        self._text.setText(say("The plan broke off; plan again."))
        self._session.tell_failure(error, say("The ring plan"))

    def _show(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self.table.set_rows(
            [ring_row(plan, costs, number, self._session.workbook.by_id) for number, (plan, costs) in enumerate(answer)]
        )
        if not answer:
            self._text.setText(say("No lens you own has a filter thread, or no standard size is large enough."))
            return
        best, costs = answer[0]
        split = next((plan for plan, _ in answer if len(plan.sizes) > 1), None)
        self._text.setText(joined(best_words(best), cost_words(costs), split_words(split, best)))
