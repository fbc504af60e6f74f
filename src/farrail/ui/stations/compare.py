"""The Compare station: two to four trains, or states of one, at one scale and in one table."""

from dataclasses import dataclass, replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import FarRailError
from farrail.language import say, say_n
from farrail.logbook.compare_words import cell_words, deciding_words, line_label, sides_words, wish_words
from farrail.logbook.side_by_side import MOST, Column, SideBySide
from farrail.logbook.state import as_owned_now
from farrail.parts.inventory_item import AT_HAND, TO_BUY, Status
from farrail.planning.states import states_of
from farrail.quantities import unit_word
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.rail.stacked import CompareRails
from farrail.ui.session import Session
from farrail.ui.stations.compare_photos import ComparePhotos
from farrail.ui.stations.station import Headline, Station
from farrail.ui.widgets.compare_curves import LETTERS, CompareCurves
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.ledger_rows import Column as LedgerColumn
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import TermKey
from farrail.ui.widgets.save_name import ask_where
from farrail.workbook.edits.several import Several
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.history import Edit
from farrail.workbook.store import write_text

FIGURES, DIFFERS, CURVES, MISSING, PHOTOS = range(5)
# Two stops down a corner is as good as dark.
MOST_STOPS = 2.0
SEAT = "seat"


@dataclass(frozen=True)
class Choice:
    """Something that can be compared: a train of the workbook, a state kept of one, or a train with something off."""

    key: str
    name: str
    train: Train
    shelf: Shelf


class CompareStation(Station):
    """What differs between set-ups, and which is better at what."""

    key = "compare"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._choices: dict[str, Choice] = {}
        self._side: SideBySide | None = None
        self._made_of: tuple[object, ...] | None = None
        self._work = BackgroundTask(lambda: self._made_of, self)
        self._work.answered.connect(self._take_ranges)
        self._work.failed.connect(lambda error: session.log.tell(error, say("Working out ranges")))
        self._headline = Headline("compare")
        self.boxes: list[QComboBox] = []
        choose = QHBoxLayout()
        choose.setSpacing(6)
        for number in range(MOST):
            box = QComboBox()
            box.setObjectName(f"compare_{number + 1}")
            box.setAccessibleName(say("Train {letters}", letters=LETTERS[number]))
            box.setMinimumContentsLength(8)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.activated.connect(lambda _: self._show())
            self.boxes.append(box)
            choose.addWidget(Label(LETTERS[number]))
            choose.addWidget(box, 1)
        self.align = QComboBox()
        self.align.setObjectName("compare_align")
        self.align.setAccessibleName(say("Aligned at"))
        self.align.addItem(say("At the datum"), "")
        self.align.addItem(say("At the thread seat"), SEAT)
        self.align.activated.connect(lambda _: self._show())
        choose.addWidget(self.align)
        self.rails = CompareRails()
        self.pages = PageTabs(
            (
                (say("Figures"), "compare_figures"),
                (say("Differences"), "compare_differs"),
                (say("Curves"), "compare_curves"),
                (say("Missing"), "compare_missing"),
                (say("Photos"), "compare_photos"),
            )
        )
        self.pages.chosen.connect(self.show_page)
        self.only = QCheckBox(say("Only what differs"))
        self.only.setObjectName("compare_only")
        self.only.setChecked(True)
        self.only.toggled.connect(lambda _: self._show_figures())
        tabs = QHBoxLayout()
        tabs.addWidget(self.pages, 1)
        tabs.addWidget(self.only)
        self.table = Ledger(
            "compare_table", say("Figures side by side"),
            (LedgerColumn("", said=say("figure")), *(LedgerColumn(letter, True, 150, 100) for letter in LETTERS)),
        )  # fmt: skip
        self.photos = ComparePhotos(session)
        self._stack = QStackedWidget()
        for page in (self.table, self._words_page(), self._curves_page(), self._missing_page(), self.photos):
            self._stack.addWidget(page)
        sheet = QVBoxLayout(self)
        sheet.setContentsMargins(18, 12, 20, 10)
        sheet.setSpacing(6)
        sheet.addWidget(self._headline)
        sheet.addLayout(choose)
        sheet.addWidget(self.rails, 5)
        sheet.addLayout(tabs)
        sheet.addWidget(self._stack, 5)

    def _words_page(self) -> QWidget:
        self._words = Label()
        self._words.setObjectName("compare_words")
        self._words.setWordWrap(True)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._words.setContentsMargins(0, 4, 8, 4)
        scroll = QScrollArea()
        scroll.setAccessibleName(say("Trains, to be scrolled"))
        scroll.setObjectName("compare_words_area")
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setWidget(self._words)
        return scroll

    def _curves_page(self) -> QWidget:
        self._sweeps = CompareCurves("compare_sweeps", say("Corner loss added by the front stack, stops"))
        self._profiles = CompareCurves("compare_profiles", say("Relative illumination"))
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(16)
        row.addWidget(self._profiles)
        row.addWidget(self._sweeps)
        return page

    def _missing_page(self) -> QWidget:
        self.missing = Ledger(
            "compare_wishes",
            say("Parts you do not own"),
            (LedgerColumn(say("Parts you do not own")), LedgerColumn(say("price"), True, 110)),
        )
        self.wish = QPushButton(say("Put on the wish list"))
        self.wish.setObjectName("compare_wish")
        self.wish.clicked.connect(self._wish)
        export = QPushButton(say("Export…"))
        export.setObjectName("compare_export")
        export.setToolTip(say("The list with prices and total as a CSV table"))
        export.clicked.connect(self._ask_export)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.wish)
        row.addWidget(export)
        row.addStretch(1)
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.missing, 1)
        box.addLayout(row)
        return page

    # What is shown

    def refresh(self) -> None:
        """Offer what there is to compare, and compare what is chosen."""
        if not self.session.dragging:
            self.rest_later()

    def refresh_rest(self) -> None:
        """Fill the lists, and compare."""
        self._choices = {choice.key: choice for choice in self._every_choice()}
        train = self.session.train
        for number, box in enumerate(self.boxes):
            before = box.currentData()
            box.clear()
            if number:
                box.addItem("–", "")
            for choice in self._choices.values():
                box.addItem(choice.name, choice.key)
            wanted = f"train:{train.id}" if number == 0 and train is not None else before
            box.setCurrentIndex(max(box.findData(wanted), 0))
            box.setEnabled(train is not None)
        if train is not None and not any(box.currentData() for box in self.boxes[1:]):
            other = next((key for key in self._choices if key != f"train:{train.id}" and self._alike(key, train)), "")
            self.boxes[1].setCurrentIndex(max(self.boxes[1].findData(other), 0))
        self._show()

    def _alike(self, key: str, train: Train) -> bool:
        """Whether something is worth a first comparison with a train: it is on the same optic."""
        return key.startswith("train:") and self._choices[key].train.optic == train.optic

    def _every_choice(self) -> list[Choice]:
        workbook, train = self.session.workbook, self.session.train
        shelf = workbook.by_id
        found = [Choice(f"train:{one.id}", one.name, one, shelf) for one in workbook.trains]
        if train is not None:
            found += [Choice(one.id, one.name, one, shelf) for one in states_of(train, shelf)]
        for state in workbook.states:
            dated = f"“{state.name}”" if state.name else state.day
            found.append(
                Choice(f"kept:{state.id}", f"{state.train.name}, {dated}", state.train, as_owned_now(state, shelf))
            )
        return found

    def chosen(self) -> list[Choice]:
        """Return what is compared, in order, each once."""
        keys = dict.fromkeys(str(box.currentData() or "") for box in self.boxes)
        return [self._choices[key] for key in keys if key in self._choices]

    def _show(self) -> None:
        chosen = self.chosen()
        made_of = tuple((choice.key, choice.train, _parts_of(choice)) for choice in chosen)
        if made_of != self._made_of or self._side is None:
            self._made_of = made_of
            self._side = self._beside(chosen)
            self._work.begin(
                lambda cancel: [range_report(one.train, one.shelf, EVERY, cancel.is_set) for one in chosen]
            )
        self._show_side()

    def _take_ranges(self, answer: object) -> None:
        """Show the figures with their intervals."""
        if self._side is not None and isinstance(answer, list):
            columns = zip(self._side.columns, answer, strict=True)
            self._side = SideBySide(tuple(replace(column, ranges=ranges) for column, ranges in columns))
            self._show_side()

    def wait(self) -> None:
        """Wait for the intervals."""
        self._work.wait()

    def end(self) -> None:
        """Cancel the work: the window is closing."""
        self._work.end()
        self.photos.end()

    def _show_side(self) -> None:
        side = self._side
        named = [] if side is None else [(column.name, column.readout) for column in side.columns]
        self.rails.show_trains(named, at_seat=self.align.currentData() == SEAT)
        if side is None or len(side.columns) < 2:
            self._headline.say(
                say("Choose two trains to compare."), say("Or a train and a state it was kept in; up to four.")
            )
        else:
            better = [sum(number in line.best for line in side.lines) for number in range(len(side.columns))]
            counts = ", ".join(
                say("{letters} in {count}", letters=LETTERS[n], count=count) for n, count in enumerate(better)
            )
            differ = sum(line.differs for line in side.lines)
            self._headline.say(
                deciding_words(side, LETTERS),
                say("They differ in {differ} figures. Better: {counts}.", differ=differ, counts=counts),
            )
        self.show_page(self._stack.currentIndex())

    def _beside(self, chosen: list[Choice]) -> SideBySide | None:
        prices = self.session.workbook.kit_prices
        columns = tuple(Column(one.train, one.shelf, one.name, prices) for one in chosen)
        return SideBySide(columns) if columns else None

    def show_page(self, number: int) -> None:
        """Bring figures (0), words (1), curves (2), what is missing (3) or the photos (4) to the front."""
        self.pages.choose(number)
        self._stack.setCurrentIndex(number)
        self.only.setVisible(number == FIGURES)
        (self._show_figures, self._show_words, self._show_curves, self._show_missing, self._show_photos)[number]()

    def _show_figures(self) -> None:
        side = self._side
        if side is None:
            self.table.set_rows([])
            return
        count = len(side.columns)
        lines = [line for line in side.lines if line.differs or not self.only.isChecked()]
        rows = []
        for line in lines:
            cells = [Cell(line_label(line))]
            for number in range(len(LETTERS)):
                if number >= count:
                    cells.append(Cell(""))
                    continue
                best = number in line.best
                cells.append(
                    Cell(
                        f"{cell_words(line, number, short=True)}{say('  better') if best else ''}",
                        "good" if best else "",
                        strong=best,
                    )
                )
            rows.append(Row(tuple(cells), TermKey(line.key)))
        self.table.set_rows(rows)
        self.table.leave_out(range(count + 1, len(LETTERS) + 1))

    def _show_words(self) -> None:
        self._words.setText("" if self._side is None else sides_words(self._side, LETTERS))

    def _show_curves(self) -> None:
        columns = [] if self._side is None else self._side.columns
        sweeps, profiles = [], []
        for letter, column in zip(LETTERS, columns, strict=False):
            front, light = column.readout.front, column.readout.light
            if front.judged and front.range_mm[1] > front.range_mm[0]:
                sweeps.append((letter, list(front.now.focal_mm), list(front.now.stops)))
            if light.layout.camera is not None and light.corner_mm:
                heights, ri = light.profile
                profiles.append((letter, heights[::8].tolist(), ri[::8].tolist()))
        self._sweeps.show_curves(sweeps, say("focal length, mm"), MOST_STOPS, percent=False)
        self._profiles.show_curves(profiles, say("image height, {unit}", unit=unit_word("mm")), 1.0, percent=True)

    def _show_photos(self) -> None:
        chosen, columns = self.chosen(), [] if self._side is None else self._side.columns
        self.photos.show_trains(
            [(column.name, column.readout, one.shelf) for one, column in zip(chosen, columns, strict=False)]
        )

    def _show_missing(self) -> None:
        rows = [] if self._side is None else wish_words(self._side, self.session.workbook.kit_prices)
        self.missing.set_rows(
            [Row((Cell(name), Cell(price)), TermKey(str(number))) for number, (name, price) in enumerate(rows)]
            or [Row((Cell(say("You own everything."), "good"), Cell("")), TermKey("none"))]
        )
        self.wish.setEnabled(bool(self._to_wish()))

    def _to_wish(self) -> list[str]:
        """Return the parts that are neither available nor on the wish list yet."""
        side, mine = self._side, self.session.workbook.by_id
        if side is None:
            return []
        return [
            part.id for part, _ in side.wishes if part.id in mine and mine[part.id].status not in (*AT_HAND, *TO_BUY)
        ]

    def _wish(self) -> None:
        wanted = self._to_wish()
        edits: tuple[Edit, ...] = tuple(SetField(part_id, "status", Status.WANTED) for part_id in wanted)
        if edits:
            self.session.do(
                Several(
                    edits,
                    label=say_n(
                        "Put {count} part on the wish list",
                        "Put {count} parts on the wish list",
                        len(edits),
                        count=len(edits),
                    ),
                )
            )

    def _ask_export(self) -> None:
        if self._side is None:
            return
        chosen = ask_where(self, say("Export the list"), "wishes.csv", say("Tables (*.csv)"), (".csv", ".txt"))
        if chosen is None:
            return
        path, _ = chosen
        try:
            write_text(path, "\ufeff" + self.missing.ledger.as_text(","))
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            return
        self.session.message.emit(say("Written to {path}.", path=path), False)


def _parts_of(choice: Choice) -> Same:
    """Return the parts that a choice uses: its figures change only with them and its train."""
    return Same(choice.shelf.get(part_id) for part_id in choice.train.part_ids())
