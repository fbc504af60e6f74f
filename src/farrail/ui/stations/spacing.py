"""The Spacing station: the running total, the miss, and what it rests on."""

from PySide6.QtCore import QPoint
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import EditRefused, FarRailError
from farrail.language import begun_large, local_number, say, word
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.quantities import as_typed, headed, unit_word
from farrail.readouts.read import Readout
from farrail.readouts.spacing.grounds import State
from farrail.readouts.spacing.model import GlassLine, Line, Spacing
from farrail.readouts.spacing.names import COUNTED, datum_name, glass_name, line_name, requirement_name
from farrail.train.train import Side
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.stations.part_rows import one_number
from farrail.ui.stations.plan_panel import PlanPanel
from farrail.ui.stations.station import TABS_PX, Headline, Station
from farrail.ui.stations.together_page import TogetherPage
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.need_line import NeedLine
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.row_keys import FigureKey, LineKey, RequirementKey, RowKey, SlotKey
from farrail.ui.widgets.value_card import ValueCard, quantity_text
from farrail.ui.widgets.working import FigureLine, figure_text, show_working
from farrail.workbook.edits.laying import SetFilter, SetInBeam, SetSpacer, SetStandoff
from farrail.workbook.edits.shelf import SetReading, parse_reading

WORDY = "spacing.measure_first"
JOINT_LINES = ("gap", "standoff")
# What a thread leaves follows from both engagements, and what is held adds nothing: neither is typed here.
FOLLOWS = ("gap", "held")
TOGETHER = 3
REQUIRED = FigureKey("spacing.required_mm")

# How high the page is read in while proposals are shown.
PLANNED_PX = 500


class SpacingStation(Station):
    """Does the sensor land where the optic needs it."""

    key = "spacing"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._headline, self._need = Headline("spacing"), NeedLine(session, "spacing")
        self._figures = {
            key: FigureLine(caption, key.replace(".", "_"), self)
            for key, caption in (
                ("spacing.spare_mm", say("Still to fill")),
                ("spacing.stack_worst_mm", say("Stack-up, worst case")),
                ("spacing.stack_rss_mm", say("Stack-up, 95 %")),
                ("spacing.depth_of_focus_mm", say("Depth of focus")),
                ("spacing.telescope_error_mm", say("Telescope to corrector")),
                ("spacing.farthest_focus_mm", say("Farthest focus")),
                (WORDY, say("Measure first:")),
            )
        }
        self._filters = Ledger(
            "filter_errors",
            say("Error with each filter"),
            (
                Column(say("Filter")),
                Column(say("shift"), True, 64, 0),
                Column(say("error"), True, 74),
                Column(say("refocus"), True, 92),
            ),
        )
        self._filters.row_activated.connect(self._turn_wheel)
        self._filters.edited.connect(self._fill_slot)
        self._filters.judge = self._why_no_filter
        self.plan = PlanPanel(session)
        self.plan.previewed.connect(self.previewed)
        self.plan.shown.connect(self.room_wanted)
        self.together = TogetherPage(session)
        self.together.previewed.connect(self.previewed)
        self._tabs = PageTabs(
            ((say("Combinations"), "show_plan"), (say("Filter set"), "show_filters"), (say("Figures"), "show_figures"),
             (say("Several trains"), "show_together"))
        )  # fmt: skip
        self._below = QStackedWidget()
        self._below.addWidget(self.plan)
        self._below.addWidget(self._filters)
        figures = QWidget()
        self._grid = QGridLayout(figures)
        self._grid.setContentsMargins(0, 8, 0, 0)
        self._grid.setHorizontalSpacing(18)
        self._grid.setVerticalSpacing(2)
        self._grid.setColumnStretch(0, 1)
        self._grid.setColumnStretch(1, 1)
        self._grid.setRowStretch(9, 1)
        self._told: list[str] = []
        self._below.addWidget(figures)
        self._below.addWidget(self.together)
        self._tabs.chosen.connect(self.show_below)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self._headline)
        left.addWidget(self._need)
        left.addSpacing(6)
        left.addWidget(self._tabs)
        left.addWidget(self._below, 1)

        self.running = Ledger(
            "running_total", say("Running total from the datum to the sensor"),
            (Column(say("Part")), Column(say("length"), True, 76, 70), Column(say("running total"), True, 76, 70),
             Column(say("from"), False, 118, 42)),
        )  # fmt: skip
        self.running.edited.connect(self._edit)
        self.running.row_activated.connect(self._activate)
        self.running.row_picked.connect(self._pick)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 16, 20, 10)
        sheet.setSpacing(34)
        sheet.addLayout(left, 9)
        sheet.addWidget(self.running, 10)

    def refresh(self) -> None:
        """Show the spacing of the train in view."""
        self.rest_later()
        readout = self.session.readout
        if readout is None:
            self._headline.say(say("No train in view."), say("Start one from the train menu."))
            self.running.set_rows([])
            self._filters.set_rows([])
            return
        self._headline.say(readout.verdict.headline, readout.verdict.detail)
        self.running.set_rows(_running_rows(readout))
        self.follow_selection()

    def needed_px(self, usual_px: int) -> int:
        """Return what its table needs: nothing of it scrolls where there is room."""
        return max(usual_px, TABS_PX + self.running.whole_px, PLANNED_PX if self.plan.offers else 0)

    def follow_selection(self) -> None:
        """Mark the row of the part picked on the rail."""
        picked = self.session.selection
        if not picked.empty and not picked.joint and picked.side is Side.REAR:
            self.running.pick(LineKey(picked.index))
        else:
            self.running.clearSelection()
        self.rest_later()

    def refresh_rest(self) -> None:
        """Show the page below the headline that is in front."""
        self.together.refresh()
        self._need.refresh()
        readout = self.session.readout
        if readout is None:
            for line in self._figures.values():
                line.set_figure(None)
            return
        for key, line in self._figures.items():
            figure = readout.spacing_figures.get(key)
            if key == "spacing.spare_mm" and readout.verdict.state is not State.SHORT:
                figure = None
            line.set_figure(figure, None if figure is None else _short(key, figure_text(figure)))
        self._place_figures()
        self._filters.set_rows([*_filter_rows(readout.spacing), *_empty_rows(readout)])
        filters = self._tabs.button(1)
        filters.setEnabled(bool(readout.spacing.filters))
        if not readout.spacing.filters and self._below.currentIndex() == 1:
            self.show_below(0)

    def _place_figures(self) -> None:
        """Set the figures there are in two columns, without holes."""
        told = [key for key, line in self._figures.items() if line.has_figure]
        if told != self._told:
            self._told = told
            for number, key in enumerate(told):
                # A name may be long: it has the last row to itself.
                wide = key == WORDY
                place = (len(told) // 2 + 1, 0, 1, 2) if wide else (number // 2, number % 2, 1, 1)
                self._grid.addWidget(self._figures[key], *place)

    def find_plan(self) -> None:
        """Ask the planner about the train in view."""
        self.show_below(0)
        self.plan.ask()

    def show_below(self, number: int) -> None:
        """Bring the planner (0), the filters (1), the figures (2) or several trains (3) to the front."""
        self._below.setCurrentIndex(number)
        self._tabs.choose(number)
        # The table of several trains takes the width of the whole station.
        self.running.setVisible(number != TOGETHER)
        self.show_preview(True)

    def _line(self, key: RowKey | None) -> Line | None:
        readout = self.session.readout
        if readout is None or not isinstance(key, LineKey):
            return None
        for line in readout.spacing.lines:
            if _key(line) == key:
                return line
        return None

    def _edit(self, key: RowKey | None, column: int, text: str) -> None:
        """Take a typed length: a measurement of the part, or an adjustable spacer's setting."""
        readout, train = self.session.readout, self.session.train
        if readout is None or train is None:
            return
        try:
            line, need = self._line(key), readout.spacing.requirement
            known = need.distance if line is None and need is not None else None if line is None else line.length
            given = text if known is None else as_typed(text, known.value, known.tolerance)
            reading = parse_reading(given, Origin.MEASURED)
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            return
        if line is not None and line.path == "setting" and line.index is not None:
            self.session.do(SetSpacer(train.id, line.index, reading.value))
        elif line is not None and line.path == "standoff" and line.index is not None:
            self.session.do(SetStandoff(train.id, line.index, reading.value))
        elif line is not None:
            self.session.do(
                SetReading(line.part, line.path, reading, label=say("Measure {line_name}", line_name=line_name(line)))
            )
        elif isinstance(key, RequirementKey) and need is not None:
            self.session.do(
                SetReading(
                    need.part,
                    need.path,
                    reading,
                    label=say("Measure {requirement_name}", requirement_name=requirement_name(need)),
                )
            )

    def _activate(self, key: RowKey | None, column: int) -> None:
        """Show where a value came from, or how a sum came about."""
        readout = self.session.readout
        if readout is None:
            return
        at = QCursor.pos() if self.running.underMouse() else self.running.mapToGlobal(QPoint(240, 40))
        line, need = self._line(key), readout.spacing.requirement
        if line is not None and line.path in ("path_length_mm", "flange_to_sensor_mm"):
            ValueCard(self.session, line.part, line.path, "length", line.length, "mm", self).show_at(at)
        elif isinstance(key, RequirementKey) and need is not None:
            ValueCard(self.session, need.part, need.path, requirement_name(need), need.distance, "mm", self).show_at(at)
        else:
            figure = key.id if isinstance(key, FigureKey) else "spacing.laid_mm"
            show_working(self.session.figure(figure), self, at)

    def show_preview(self, wanted: bool) -> None:
        """Show the picked proposal of the planner on the rail, or the train as it is."""
        page = self.together if self._below.currentIndex() == TOGETHER else self.plan
        page.show_preview(wanted)

    def end(self) -> None:
        """Give up the search: the window is closing."""
        self.plan.end()
        self._need.work.end()
        self.together.work.cancel()
        self.together.work.wait()

    def _pick(self, key: RowKey | None) -> None:
        if isinstance(key, LineKey) and key.index is not None:
            self.session.select(Selection(Side.REAR, key.index, joint=bool(key.mark)))

    def _filter_named(self, text: str) -> PartId | None:
        """Return the filter of the shelf that a text names, None for an empty slot.

        Raises:
            EditRefused: none is called so, or several are.
        """
        words = text.casefold().split()
        if not words or words in (["empty"], ["none"]):
            return None
        filters = [part for part in self.session.workbook.shelf if isinstance(part, RoundFilter)]
        named = [p for p in filters if p.name.casefold() == text.strip().casefold()]
        named = named or [p for p in filters if all(one in p.name.casefold() for one in words)]
        if len(named) == 1:
            return named[0].id
        if not named:
            raise EditRefused(
                "No filter on the shelf is called “{text}”; add it in Parts, or write empty.",
                text=text.strip()[:40],
            )
        raise EditRefused(
            "Several filters are called so: {listed}. Write more of the name.",
            listed=", ".join(p.name for p in named[:4]),
        )

    def _why_no_filter(self, key: RowKey | None, column: int, text: str) -> str:
        try:
            self._filter_named(text)
        except EditRefused as error:
            return str(error)
        return ""

    def _fill_slot(self, key: RowKey | None, column: int, text: str) -> None:
        """Put the filter named into the slot typed over, or empty it."""
        train = self.session.train
        if train is None or not isinstance(key, SlotKey):
            return
        try:
            label = say("Change the filter of slot {slot}", slot=key.slot + 1)
            self.session.do(SetFilter(train.id, key.index, key.slot, self._filter_named(text), label=label))
        except EditRefused as error:
            self.session.message.emit(str(error), True)

    def _turn_wheel(self, key: RowKey | None, column: int) -> None:
        """Turn the activated filter into the beam."""
        train = self.session.train
        if train is not None and isinstance(key, SlotKey):
            self.session.do(SetInBeam(train.id, key.index, key.slot))


def _short(key: str, text: str) -> str:
    """Tolerances and depths go to both sides; a far distance reads better in metres."""
    return f"±{text}" if "stack" in key or "depth" in key else text


def _signed(value: float) -> str:
    if abs(value) < 0.005:
        return local_number("0.00")
    return say("{value:+.2f length}", value=value).replace("-", "−")


def _running_rows(readout: Readout) -> list[Row]:
    spacing = readout.spacing
    rows = [_line_row(line) for line in spacing.lines]
    need, required, error = spacing.requirement, spacing.required_mm, spacing.error_mm
    if need is not None:
        name = f"{headed(requirement_name(need))}, {word(need.distance.origin)}"
        band = need.distance.published_band
        tip = (
            ""
            if band is None
            else say("Published figures run from {band:.2f length} to {band_2:.2f mm}.", band=band[0], band_2=band[1])
        )
        rows.append(
            Row(
                (
                    Cell(name, tip=datum_name(need)),
                    Cell("", edit=one_number(need.distance)),
                    Cell(say("{value:.2f length}", value=need.distance.value), strong=True),
                    _from(need.distance, say("2 figures") if band else "", tip),
                ),
                RequirementKey(),
            )
        )
    rows += [_glass_row(glass) for glass in spacing.glass_lines]
    if spacing.credit_mm:
        rows.append(
            Row((Cell(say("Glass already included")), Cell(_signed(-spacing.credit_mm)), Cell(""), Cell("")), REQUIRED)
        )
    if spacing.extension.whole_mm:
        meant, tip = (
            say("{whole_mm:.2f length}", whole_mm=spacing.extension.whole_mm),
            say(
                "{listed} {unit}: tubes, bellows, converters",
                unit=unit_word("mm"),
                listed=" + ".join(say("{mm:.2f length}", mm=mm) for mm in spacing.extension.lengths_mm),
            ),
        )
        rows.append(Row((Cell(say("Extension, as intended"), tip=tip), Cell(meant), Cell(""), Cell("")), REQUIRED))
    if required is not None:
        total = (
            Cell(say("Required"), strong=True),
            Cell(""),
            Cell(say("{required:.2f length}", required=required), strong=True),
            Cell(""),
        )
        rows.append(Row(total, REQUIRED, heavy=True))
    if error is not None:
        role = "good" if spacing.within_tolerance else "" if spacing.within_tolerance is None else "stop"
        known = spacing.tolerance_mm is not None
        allowed = say("allowed ±{tolerance_mm:.2f length}", tolerance_mm=spacing.tolerance_mm) if known else ""
        cells = (
            Cell(say("Error (actual − required)"), strong=True),
            Cell(""),
            Cell(_signed(error), role, strong=True),
            Cell(allowed, "steel"),
        )
        rows.append(Row(cells, FigureKey("spacing.error_mm")))
    return rows


def _key(line: Line) -> LineKey:
    """Return a line's row key; a joint's line has the index of the part behind it, and its own mark."""
    return LineKey(line.index, line.path if line.path in JOINT_LINES else "")


def _line_row(line: Line) -> Row:
    edit = None if line.path in FOLLOWS else one_number(line.length)
    cells = (
        Cell(line_name(line), "steel" if line.path in JOINT_LINES else ""),
        Cell(say("{value:.2f length}", value=line.length.value), edit=edit, tip=quantity_text(line.length)),
        Cell(say("{to_here_mm:.2f length}", to_here_mm=line.to_here_mm), strong=True),
        _from(line.length),
    )
    return Row(cells, _key(line))


def _glass_row(glass: GlassLine) -> Row:
    name = glass_name(glass)
    shift = say("+{shift_mm:.2f length}", shift_mm=glass.glass.shift_mm) if glass.counted else local_number("0.00")
    cells = (
        Cell(
            say("Glass of {name}", name=name) if glass.counted else say("{name}, allowed for", name=begun_large(name)),
            "" if glass.counted else "steel",
            tip=str(COUNTED[glass.why]),
        ),
        Cell(shift, "" if glass.counted else "steel", tip=glass.glass.working),
        Cell(""),
        Cell(word(glass.glass.origin), "steel", origin=glass.glass.origin),
    )
    return Row(cells, FigureKey("spacing.glass_shift_mm"))


def _from(quantity: Quantity, more: str = "", tip: str = "") -> Cell:
    text = word(quantity.origin) if not more else f"{word(quantity.origin)} ({len(quantity.readings)})"
    return Cell(text, "steel", origin=quantity.origin, tip=tip or quantity.in_use.note)


def _empty_rows(readout: Readout) -> list[Row]:
    """Return a row for each empty slot of a wheel, to be filled by a name."""
    rows = []
    for placed in readout.layout.behind_datum:
        for slot, filter_id in enumerate(placed.laid.filters):
            if filter_id is None:
                blank = Cell("", "steel")
                cells = (Cell(say("{slot}  empty", slot=slot + 1), "steel", edit="", clears=True), blank, blank, blank)
                rows.append(Row(cells, SlotKey(placed.index, slot)))
    return rows


def _filter_rows(spacing: Spacing) -> list[Row]:
    tolerance = spacing.tolerance_mm
    rows = []
    indexes = [p.index for p in spacing.layout.behind_datum if p.laid.filters]
    for item in spacing.filters:
        off = tolerance is not None and abs(item.error_mm) > tolerance + 1e-9
        mark = say("in the beam") if item.in_beam else _signed(item.refocus_mm)
        cells = (
            Cell(item.label, strong=item.in_beam, edit=item.label, clears=True),
            Cell(say("{shift_mm:.2f length}", shift_mm=item.shift_mm)),
            Cell(_signed(item.error_mm), "stop" if off else "", strong=item.in_beam),
            Cell(mark, "steel"),
        )
        rows.append(Row(cells, SlotKey(indexes[0] if indexes else 0, item.slot)))
    return rows
