"""The calibration of the train in view: values before and after, what is open, what to look at next."""

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from farrail.language import say, say_n
from farrail.logbook.consequences import Consequence, consequences
from farrail.logbook.learning.doubts import Doubt, contested, doubts_of, without_outvoted
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found, Refused
from farrail.logbook.learning.spacing_stars import Ladder, back_focus_of, ladder_of, works_as_it_lies
from farrail.logbook.next_best import NextBest, next_best
from farrail.logbook.value_names import part_name, value_name
from farrail.logbook.words import (
    consequence_words,
    doubt_words,
    evidence_words,
    ladder_words,
    next_words,
    refused_words,
)
from farrail.parts.fields import value_at
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import Quantity
from farrail.parts.registry import Part
from farrail.quantities import headed, in_words
from farrail.train.train import Train
from farrail.train.zoom_tables import pupil_depth_at
from farrail.ui.session import Session
from farrail.ui.widgets.interval_bar import IntervalBar
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import RowKey, TermKey
from farrail.workbook.edits.learnt import TakeOver, shelf_with
from farrail.workbook.workbook import Workbook


class LearntPage(QWidget):
    """Values calibrated, each to be applied or left; what follows is shown before it is done."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self._of: tuple[Train, Workbook] | None = None
        self._found: tuple[Found, ...] = ()
        self._doubts: tuple[Doubt, ...] = ()
        # Values not applied unasked, and those a hand has included or excluded.
        self._unsure: set[str] = set()
        self._toggled: set[str] = set()
        self.table = Ledger(
            "log_learnt", say("Calibration from the log"),
            (
                Column("", False, 30, said=say("applied")), Column(say("Value")),
                Column(say("now"), True, 76), Column(say("calibrated"), True, 62, lengths=True),
             Column(say("between, 95 %"), True, 122, 0, lengths=True)),
        )  # fmt: skip
        self.table.row_activated.connect(lambda key, _: self.toggle(key))
        self.table.row_picked.connect(lambda _: self._show_bar())
        self._bar = IntervalBar("log_interval")
        self._text = Label()
        self._text.setObjectName("log_taught")
        self._text.setWordWrap(True)
        self._text.setTextFormat(Qt.TextFormat.RichText)
        self._text.setAlignment(Qt.AlignmentFlag.AlignTop)
        scroll = QScrollArea()
        scroll.setAccessibleName(say("Evidence, scrollable"))
        scroll.setObjectName("log_taught_area")
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._text)
        self.take = QPushButton(say("Apply"))
        self.take.setObjectName("log_take_over")
        self.take.clicked.connect(self.take_over)
        self._leave = QPushButton(say("Include / exclude"))
        self._leave.setObjectName("log_leave")
        self._leave.setToolTip(say("Include or exclude the selected value (Enter)"))
        self._leave.clicked.connect(lambda: self.toggle(self.table.current_key()))
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        buttons.addWidget(self.take)
        buttons.addWidget(self._leave)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.table)
        box.addWidget(self._bar)
        box.addLayout(buttons)
        box.addWidget(scroll, 1)

    @property
    def picked(self) -> tuple[Found, ...]:
        """The values that would be applied."""
        return tuple(one for one in self._found if self._applies(one))

    def _applies(self, one: Found) -> bool:
        return (one.key in self._unsure) == (one.key in self._toggled)

    def refresh(self) -> None:
        """Show what the log calibrates of the train in view; what was worked out already is kept."""
        train, workbook = self._session.train, self._session.workbook
        if train is None:
            self._of, self._found = None, ()
            self.table.set_rows([])
            self._text.setText(say("Add a train and log what you see with it: its calibration appears here."))
            self.take.setEnabled(False)
            self._leave.setEnabled(False)
            return
        if self._of is not None and self._of[0] is train and self._of[1] is workbook:
            return
        self._of = (train, workbook)
        evidence = Evidence.of(workbook.log, workbook.states_by_id, workbook.by_id)
        self._doubts = doubts_of(evidence)
        evidence = without_outvoted(evidence, self._doubts)
        self._found, refused = learn(evidence, train)
        # What rests on entries that contradict each other is not applied unasked.
        unsure = contested(self._doubts)
        self._unsure = {one.key for one in self._found if unsure & set(one.seen)}
        self._refused = refused
        self._ladders = [
            ladder for part_id in dict.fromkeys(train.part_ids())
            if isinstance(part := workbook.by_id[part_id], Corrector)
            and (ladder := ladder_of(evidence, part, back_focus_of(train, workbook.by_id, part.id))) is not None
        ]  # fmt: skip
        # What the log shows already need not be looked at again.
        sure = [one for one in self._found if one.key not in self._unsure]
        self._next = next_best(train, shelf_with(workbook, sure))
        self._works = works_as_it_lies(evidence, train)
        self._show()

    def _show(self) -> None:
        workbook = self._session.workbook
        self.table.set_rows([self._row(one, workbook) for one in self._found])
        self._fit()
        self._show_bar()
        picked = self.picked
        self.take.setEnabled(bool(picked))
        self._leave.setEnabled(bool(self._found))
        self.take.setText(
            say_n("Apply {count} value", "Apply {count} values", len(picked), count=len(picked))
            if picked
            else say("Apply")
        )
        changed: tuple[Consequence, ...] = ()
        if picked:
            after = TakeOver(picked).apply(workbook)
            changed = consequences(workbook.trains, workbook.by_id, after.by_id)
        self._text.setText(
            _told(self._found, changed, self._refused, self._ladders, self._next, self._doubts, workbook, bool(picked))
        )

    def _fit(self) -> None:
        """Make the table as high as its rows, up to half the page; what follows is right under it."""
        table = self.table
        rows = sum(table.rowHeight(number) for number in range(len(self._found)))
        head = table.horizontalHeader().height()
        table.setFixedHeight(min(head + max(rows, 28) + 4, max(self.height() // 2, 120)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit the table."""
        super().resizeEvent(event)
        self._fit()

    def _show_bar(self) -> None:
        """Show the value picked, or the first, as a bar."""
        key = self.table.current_key()
        wanted = key.term if isinstance(key, TermKey) else ""
        one = next((found for found in self._found if found.key == wanted), self._found[0] if self._found else None)
        self._bar.setVisible(one is not None)
        if one is not None:
            now = _now(self._session.workbook.by_id.get(one.part), one)
            before = None if now is None else now.value
            self._bar.show_value((one.low, one.value, one.high), before, _digits(one), one.unit)

    def _row(self, one: Found, workbook: Workbook) -> Row:
        part = workbook.by_id.get(one.part)
        digits = _digits(one)
        now = _now(part, one)
        name = f"{part_name(one.part, workbook.by_id)}: {value_name(part, one.path, one.focal_mm)}"
        count = len(one.seen)
        cells = (
            Cell("✓", "good") if self._applies(one) else Cell("–", "steel"),
            Cell(
                name,
                tip=say_n(
                    "From {count} observation: {listed}",
                    "From {count} observations: {listed}",
                    count,
                    count=count,
                    listed=", ".join(one.seen),
                ),
            ),
            Cell(
                "–" if now is None else in_words(now.value, one.unit, digits)[0],
                "steel",
                origin=None if now is None else now.origin,
            ),
            Cell(
                in_words(one.value, one.unit, digits)[0],
                strong=True,
            ),
            Cell(
                say(
                    "{low} to {high}",
                    low=in_words(one.low, one.unit, digits)[0],
                    high=in_words(one.high, one.unit, digits)[0],
                ),
                "steel",
            ),
        )
        return Row(cells, TermKey(one.key))

    def toggle(self, key: RowKey | None) -> None:
        """Leave a value out, or take it again."""
        if isinstance(key, TermKey):
            self._toggled ^= {key.term}
            self._show()
            self.table.pick(key)

    def take_over(self) -> None:
        """Set the values picked to what was calibrated, in one step."""
        if self.picked and self._session.do(TakeOver(self.picked)):
            self._session.message.emit(say("Applied as measured; the observations stay linked to the values."), False)


def _digits(one: Found) -> int:
    return 3 if one.unit in ("", "×") else 2


def _now(part: Part | None, one: Found) -> Quantity | None:
    """Return what is known of a value now."""
    if part is None:
        return None
    if one.focal_mm is not None and isinstance(part, CameraLens):
        return pupil_depth_at(part, one.focal_mm) if one.path == "entrance_pupils" else None
    value = value_at(part, one.path)[1]
    return value if isinstance(value, Quantity) else None


def _told(
    found: tuple[Found, ...], changed: tuple[Consequence, ...], refused: tuple[Refused, ...], ladders: list[Ladder],
    best: tuple[NextBest, ...], doubts: tuple[Doubt, ...], workbook: Workbook, picked: bool,
) -> str:  # fmt: skip
    shelf = workbook.by_id
    groups: list[tuple[str, list[str]]] = []
    if doubts:
        groups.append((say("Questionable entries"), [doubt_words(one, workbook.log_by_id, shelf) for one in doubts]))
    if picked:
        none = [say("No verdict changes.")]
        groups.append(
            (say("Verdicts that will change if you apply this"), [consequence_words(one) for one in changed] or none)
        )
    for one in found:
        name = f"{part_name(one.part, shelf)}: {value_name(shelf.get(one.part), one.path, one.focal_mm)}"
        groups.append((say("Why. {name}", name=name), evidence_words(one, workbook.log, workbook.states_by_id, shelf)))
    if ladders:
        groups.append((say("The next spacing to try"), [ladder_words(one, shelf) for one in ladders]))
    if best:
        groups.append((say("Next step"), [next_words(one, shelf) for one in best]))
    if refused:
        groups.append((say("Not known yet"), [refused_words(one, shelf) for one in refused]))
    if not groups:
        return say("Nothing to calibrate yet: log what you see with this train (Ctrl+I).")
    return "".join(
        f"<p style='margin: 8px 0 0 0; font-weight: 600'>{escape(headed(title))}</p>"
        + "".join(f"<p style='margin: 3px 0 0 0'>{escape(line)}</p>" for line in lines)
        for title, lines in groups
    )
