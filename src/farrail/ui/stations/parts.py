"""The Parts station: the shelf, and the part picked from it with every value it has."""

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker
from PySide6.QtGui import QAction
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from farrail.language import begun_large, say, word
from farrail.parts.base import FixedLength
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import KIND_NAMES, TEMPLATES, Part
from farrail.simulated.caliper import true_length_mm
from farrail.ui.actions.laying import lay_by_choice
from farrail.ui.session import Session
from farrail.ui.stations.import_sheet import ImportSheet
from farrail.ui.stations.page_sheet import PageSheet
from farrail.ui.stations.part_sheet import PartSheet
from farrail.ui.stations.ready_made_sheet import ReadyMadeSheet
from farrail.ui.stations.shelf_table import ShelfLedger
from farrail.ui.stations.station import Station
from farrail.ui.widgets.caliper_strip import CaliperStrip
from farrail.ui.widgets.clearing import clearable
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.plain import plain_tip, plain_title
from farrail.ui.widgets.row_keys import Heading, PartKey, RowKey
from farrail.ui.widgets.value_card import quantity_text
from farrail.workbook.edits.laying import can_lie
from farrail.workbook.edits.several import Several
from farrail.workbook.edits.shelf import AddPart, DiscardPart, DuplicatePart
from farrail.workbook.shelf_view import Facet, ShelfFilter, counts_of, grouped, haystack


class PartsStation(Station):
    """The shelf and one part of it."""

    key = "parts"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._shown: str | None = None
        # The part that is listed besides those that the filter lets through.
        self._besides = ""
        # The parts that the list shows.
        self._listed: frozenset[str] = frozenset()
        self._indexed: tuple[Part, ...] = ()
        self._words: dict[str, tuple[Part, str]] = {}
        self._filter = ShelfFilter()
        self._group: Facet | None = None
        self._rows: dict[str, tuple[Part, int, Row]] = {}
        self.search = QLineEdit()
        self.search.setObjectName("shelf_search")
        self.search.setPlaceholderText(say("Find by name, kind, maker …"))
        self.search.setAccessibleName(say("Find on the shelf by name, kind or maker"))
        clearable(self.search)
        self.search.textChanged.connect(self.refresh)
        self.shelf = ShelfLedger()
        self.shelf.session = session
        self.shelf.row_picked.connect(self._show)
        self.shelf.order_changed.connect(self.refresh)
        self.shelf.row_activated.connect(self._activate)
        self.sheet = PartSheet(session)
        self.shelf.lay_wanted.connect(lambda: self.lay(self._shown or ""))
        self.shelf.copy_wanted.connect(self.duplicate)
        self.shelf.name_wanted.connect(self.sheet.focus_name)
        self.shelf.discard_wanted.connect(self.discard)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        new = self._button(say("New part"), "new_part", None)
        new.setMenu(self._kinds_menu())
        self._lay = self._button(say("Add to the train"), "lay_part", lambda: self.lay(self._shown or ""))
        self._copy = self._button(say("Duplicate"), "duplicate_part", self.duplicate)
        self._discard = self._button(say("Remove"), "discard_part", self.discard)
        table = self._button(say("Table"), "table_menu", None)
        self.table_menu = QMenu(self)
        table.setMenu(self.table_menu)
        for button in (new, self._lay, self._copy, self._discard):
            buttons.addWidget(button)
        buttons.addStretch(1)
        left = QVBoxLayout()
        left.setSpacing(8)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(self.search, 1)
        self._filter_button = self._button(say("Filter"), "shelf_filter", None)
        self._filter_menu = QMenu(self)
        self._filter_menu.aboutToShow.connect(self._fill_filters)
        self._filter_button.setMenu(self._filter_menu)
        self._group_button = self._button(say("Group"), "shelf_group", None)
        self._group_button.setMenu(self._groups_menu())
        top.addWidget(self._filter_button)
        top.addWidget(self._group_button)
        top.addWidget(table)
        left.addLayout(top)
        left.addWidget(self.shelf, 1)
        left.addLayout(buttons)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 14, 20, 12)
        sheet.setSpacing(28)
        sheet.addLayout(left, 10)
        self.importing = ImportSheet(session)
        self.importing.closed.connect(self._end_import)
        self.sizes = ReadyMadeSheet(session)
        self.sizes.closed.connect(self._end_import)
        self.page = PageSheet(session)
        self.page.closed.connect(self._end_import)
        self._right = QStackedWidget()
        self._right.addWidget(self.sheet)
        self._right.addWidget(self.importing)
        self._right.addWidget(self.sizes)
        self._right.addWidget(self.page)
        self.caliper = CaliperStrip()
        self.caliper.hide()
        self.caliper.hold_wanted.connect(self._hold)
        self.caliper.sent.connect(self._take_reading)
        self.caliper.trouble.connect(lambda text: session.message.emit(text, True))
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addWidget(self._right, 1)
        right.addWidget(self.caliper)
        sheet.addLayout(right, 11)

    @property
    def shown(self) -> str | None:
        """Id of the part shown."""
        return self._shown

    def show_import(self, text: str, where: str) -> None:
        """Show what a table would bring.

        Raises:
            BadInput: it is no table of parts.
        """
        self.importing.show_table(text, where)
        self._right.setCurrentWidget(self.importing)

    def show_ready_made(self, name: str = "") -> None:
        """Show the ready-made sizes beside the shelf: all, or the one of a name, picked."""
        self._right.setCurrentWidget(self.sizes)
        self.sizes.open(name)

    def paste_page(self) -> None:
        """Read the clipboard as a page about the part shown."""
        if self._shown is None:
            self.session.message.emit(say("Make a part first, then paste what a page says of it."), True)
            return
        self._right.setCurrentWidget(self.page)
        self.page.open(self._shown, QApplication.clipboard().text())

    def show_caliper(self, wanted: bool) -> None:
        """Show or hide the simulated caliper; with it in hand, what is typed is measured."""
        if wanted:
            self.session.read_from(Origin.MEASURED)
        self.caliper.setVisible(wanted)

    def _hold(self) -> None:
        offered = self.sheet.picked_value()
        quantity = None if offered is None else offered.value
        if offered is None or not isinstance(quantity, Quantity) or offered.field.unit != "mm" or self._shown is None:
            self.session.message.emit(
                say("Pick a length of the part first; its part then goes between the jaws."), True
            )
            return
        self.caliper.hold(true_length_mm(self._shown, offered.field.path, quantity.value))

    def _take_reading(self, text: str) -> None:
        if not self.sheet.take_reading(text):
            self.session.message.emit(say("The reading goes nowhere: pick a value, or click into a field first."), True)

    def _end_import(self, part_id: str) -> None:
        self._right.setCurrentWidget(self.sheet)
        if part_id:
            self.show_part(part_id)

    def _button(self, text: str, name: str, action: Callable[[], None] | None) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        if action is not None:
            button.clicked.connect(action)
        return button

    def _kinds_menu(self) -> QMenu:
        menu = QMenu(self)
        for kind in TEMPLATES:
            action = QAction(begun_large(str(KIND_NAMES[kind])), menu)
            action.triggered.connect(self._adder(kind))
            menu.addAction(action)
        menu.addSeparator()
        menu.addAction(say("Ready-made sizes…")).triggered.connect(lambda: self.show_ready_made())
        return menu

    def _groups_menu(self) -> QMenu:
        menu = QMenu(self)
        for facet in (None, *Facet):
            action = menu.addAction(say("Not grouped") if facet is None else say("By {value}", value=facet))
            action.triggered.connect(lambda _=False, f=facet: self.group_by(f))
        return menu

    def _fill_filters(self) -> None:
        """Fill the menu with what the shelf has under each facet."""
        menu = self._filter_menu
        menu.clear()
        for facet in Facet:
            counts = counts_of(self.session.workbook.shelf, facet)
            sub = menu.addMenu(begun_large(word(facet)))
            sub.setEnabled(bool(counts))
            for value, count in counts:
                action = sub.addAction(plain_title(f"{value}  ({count})"))
                action.setCheckable(True)
                action.setChecked((facet, value) in self._filter.wanted)
                action.triggered.connect(lambda _=False, f=facet, v=value: self.filter_by(self._filter.toggled(f, v)))
        menu.addSeparator()
        everything = menu.addAction(say("Show everything"))
        everything.setEnabled(bool(self._filter.wanted))
        everything.triggered.connect(lambda: self.filter_by(ShelfFilter()))

    def filter_by(self, wanted: ShelfFilter) -> None:
        """Show only what a filter lets through."""
        self._filter, self._besides = wanted, ""
        text = wanted.text
        self._filter_button.setText(
            say("Filter")
            if not text
            else plain_title(say("Filter: {also}", also=text if len(text) < 16 else text[:14] + "…"))
        )
        self._filter_button.setToolTip(
            plain_tip(say("Shown: {text}", text=text)) if text else say("Show only some kinds, connections, makers …")
        )
        self.refresh()

    def group_by(self, facet: Facet | None) -> None:
        """Put the shelf's rows under headings, or not."""
        self._group = facet
        self._group_button.setText(say("Group") if facet is None else say("By {value}", value=facet))
        self.refresh()

    def _adder(self, kind: str) -> Callable[[], None]:
        return lambda: self.add(kind)

    def add(self, kind: str) -> None:
        """Put a new part of a kind on the shelf and show it."""
        if self.session.do(AddPart(TEMPLATES[kind](), label=say("Add {kind_names}", kind_names=KIND_NAMES[kind]))):
            self.show_part(self.session.workbook.shelf[-1].id)
            self.sheet.focus_name()

    def duplicate(self) -> None:
        """Copy the part shown and show the copy."""
        if self._shown is not None and self.session.do(DuplicatePart(self._shown)):
            ids = [p.id for p in self.session.workbook.shelf]
            self.show_part(ids[ids.index(self._shown) + 1])

    def discard(self) -> None:
        """Take the selected parts off the shelf; refused in words while a train uses one."""
        wanted = self.shelf.selected_parts()
        if len(wanted) > 1:
            edits = tuple(DiscardPart(one) for one in wanted)
            label = say("Remove {count} parts from the shelf", count=len(wanted))
            self.session.do(Several(edits, label))
        elif self._shown is not None:
            self.session.do(DiscardPart(self._shown))

    def lay(self, part_id: str) -> None:
        """Add a part at the picked joint, behind the picked part, or at the end; replace an optic or a camera."""
        lay_by_choice(self.session, part_id)

    def show_part(self, part_id: str) -> None:
        """Show a part of the shelf."""
        self._shown = part_id
        with QSignalBlocker(self.search):
            self.search.clear()
        # A new part, or one asked for by name, is listed even where the filter does not let it through.
        self._besides = part_id
        self.refresh()

    def focus_value(self, path: str = "") -> None:
        """Give a value of the shown part the keyboard, ready to be typed over; its length where none is named."""
        if path:
            self.sheet.focus_value(path)
        else:
            self.sheet.focus_length()

    def _activate(self, key: RowKey | None, column: int) -> None:
        if isinstance(key, PartKey):
            self.lay(key.part)

    def _show(self, key: RowKey | None) -> None:
        if isinstance(key, PartKey) and key.part != self._shown:
            self._shown = key.part
            self._refresh_sheet()

    def refresh(self) -> None:
        """Show the part; the shelf as searched follows where the part is still one of those found."""
        shown = self.session.workbook.by_id.get(self._shown or "")
        if shown is None or shown.id not in self._listed:
            self._refresh_list()
            self._refresh_sheet()
        else:
            self._refresh_sheet()
            self.rest_later()

    def refresh_rest(self) -> None:
        """Show the shelf as searched, and another part where it no longer holds the one shown."""
        before = self._shown
        self._refresh_list()
        if self._shown != before:
            self._refresh_sheet()

    def _refresh_list(self) -> None:
        workbook = self.session.workbook
        words = self.search.text().casefold().split()
        self._index(workbook.shelf)
        parts = [p for p in workbook.shelf if all(word in self._words[p.id][1] for word in words)]
        if self._filter.wanted:
            parts = [p for p in parts if self._filter.lets(p) or p.id == self._besides]
        rows = _ordered([self._row_of(p, workbook.use_counts[p.id]) for p in parts], self.shelf.order)
        self.shelf.set_rows(rows if self._group is None else self._under_headings(parts, rows, self._group))
        if self._shown is None or all(p.id != self._shown for p in parts):
            self._shown = parts[0].id if parts else None
        self._listed = frozenset(part.id for part in parts)
        self.shelf.pick(None if self._shown is None else PartKey(self._shown))

    def _under_headings(self, parts: list[Part], rows: list[Row], facet: Facet) -> list[Row]:
        place = {row.key: (number, row) for number, row in enumerate(rows)}
        found: list[Row] = []
        for name, members in grouped(parts, facet):
            blank = (Cell(""), Cell(""), Cell(f"{len(members)}", "steel"), Cell(""))
            found.append(Row((Cell(name[0].upper() + name[1:], strong=True), *blank), Heading(name), heavy=True))
            found += [row for _, row in sorted((place[PartKey(p.id)] for p in members), key=lambda item: item[0])]
        return found

    def _index(self, shelf: tuple[Part, ...]) -> None:
        """Keep what each part can be found by; parts are immutable, so only new ones are read."""
        if shelf is not self._indexed:
            self._indexed = shelf
            old = self._words
            self._words = {p.id: old[p.id] if p.id in old and old[p.id][0] is p else (p, haystack(p)) for p in shelf}

    def _row_of(self, part: Part, uses: int) -> Row:
        """Return a part's row, the one made before while part and uses are the same."""
        kept = self._rows.get(part.id)
        if kept is None or kept[0] is not part or kept[1] != uses:
            kept = (part, uses, _row(part, uses))
            self._rows[part.id] = kept
        return kept[2]

    def _refresh_sheet(self) -> None:
        part = self.session.workbook.by_id.get(self._shown or "")
        self.sheet.show_part(part)
        for button in (self._copy, self._discard):
            button.setEnabled(part is not None)
        self._lay.setEnabled(part is not None and self.session.train is not None)
        usable = part is not None and not can_lie(part)
        sheet = part is not None and part.kind == "sheet_filter"
        self._lay.setText(
            say("Slide into a slot") if sheet else say("Use in this train") if usable else say("Add to the train")
        )


def _ordered(rows: list[Row], order: tuple[int, bool] | None) -> list[Row]:
    """Return rows sorted by a column, numbers as numbers and what is missing last."""
    if order is None:
        return rows
    column, downward = order

    def key(row: Row) -> tuple[float, str]:
        text = row.cells[column].text
        try:
            # As a number is written in the language in force.
            return float(text.replace("−", "-").replace(",", ".")), ""
        except ValueError:
            return 0.0, text.casefold()

    blank = [row for row in rows if row.cells[column].text in ("", "–")]
    return sorted((row for row in rows if row not in blank), key=key, reverse=downward) + blank


def _stock(part: Part) -> str:
    """Return how many are owned, or what became of the part."""
    return f"{part.owned}" if part.status in AT_HAND else word(part.status)


def _row(part: Part, uses: int) -> Row:
    length = part.path_length_mm if isinstance(part, FixedLength) else getattr(part, "flange_to_sensor_mm", None)
    cells = (
        Cell(part.name, tip=part.maker),
        Cell(str(KIND_NAMES[part.kind]), "steel"),
        Cell(
            "" if length is None else say("{value:.2f length}", value=length.value),
            tip="" if length is None else quantity_text(length),
        ),
        Cell(_stock(part), "" if part.status in AT_HAND and part.owned else "look"),
        Cell(f"{uses}" if uses else "–", "" if uses else "steel"),
    )
    return Row(cells, PartKey(part.id))
