"""The part sheet: one part of the shelf with all its values, each edited in place."""

from collections.abc import Hashable
from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from farrail.errors import EditRefused, FarRailError
from farrail.parts.connections import Connection, parse_connection
from farrail.parts.fields import ValueField, value_fields
from farrail.parts.kinds import KIND_NAMES, FilterWheel, Part, Status
from farrail.parts.provenance import Origin, Quantity, Span
from farrail.ui.session import Session
from farrail.ui.stations.part_drawing import PartDrawing
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Cell, Column, Ledger, Row
from farrail.ui.widgets.value_card import ValueCard, quantity_text
from farrail.workbook.edits.shelf import SetField, SetReading, parse_reading


class PartSheet(QWidget):
    """Shows a part; every line of it can be typed over."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make an empty sheet."""
        super().__init__(parent)
        self.setObjectName("part_sheet")
        self._session = session
        self._part: Part | None = None
        self._name = QLabel()
        self._name.setObjectName("part_name")
        self._name.setFont(font(17, STRONG))
        self._name.setWordWrap(True)
        self._kind = QLabel()
        self._kind.setProperty("role", "steel")
        self._kind.setWordWrap(True)
        self.table = Ledger(
            "part_values",
            "Values of the part",
            (Column("Value"), Column("is", False, 156, 132), Column("from", False, 106, 42)),
        )
        self.table.edited.connect(self._edit)
        self.table.row_activated.connect(self._activate)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(3)
        words = QVBoxLayout()
        words.setSpacing(3)
        words.addWidget(self._name)
        words.addWidget(self._kind)
        words.addStretch(1)
        head = QHBoxLayout()
        head.setSpacing(16)
        head.addLayout(words, 1)
        self._drawing = PartDrawing()
        head.addWidget(self._drawing)
        box.addLayout(head)
        box.addSpacing(4)
        box.addWidget(self.table, 1)

    def show_part(self, part: Part | None) -> None:
        """Show a part of the shelf, or that there is none."""
        self._part = part
        self._drawing.show_part(part)
        if part is None:
            self._name.setText("No part to show")
            self._kind.setText("Make a new part below, or clear the search.")
            self.table.set_rows([])
            return
        uses = len(self._session.workbook.uses_of(part.id))
        where = "on no train" if uses == 0 else f"on {uses} train{'s' if uses > 1 else ''}"
        maker = f", {part.maker}" if part.maker else ""
        self._name.setText(part.name)
        self._kind.setText(f"{KIND_NAMES[part.kind].capitalize()}{maker}, {where}")
        self.table.set_rows([*_value_rows(part), *_plain_rows(part)])

    def focus_name(self) -> None:
        """Begin typing the part's name."""
        for number, row in enumerate(self.table.ledger.rows):
            if row.key == ("field", "name"):
                index = self.table.ledger.index(number, 1)
                self.table.setCurrentIndex(index)
                self.table.edit(index)

    def _edit(self, key: Hashable, column: int, text: str) -> None:
        """Take what was typed over a line."""
        part = self._part
        if part is None or not isinstance(key, tuple):
            return
        what, path = key
        try:
            if what == "value":
                reading = parse_reading(text, Origin.MEASURED)
                self._session.do(SetReading(part.id, path, reading, label=f"Measure {part.name}"))
            else:
                value = self._parsed(path, text)
                self._session.do(SetField(part.id, path, value, label=f"Edit {part.name}"))
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            self.show_part(self._session.workbook.by_id.get(part.id))

    def _parsed(self, path: str, text: str) -> Any:
        if path in ("front", "rear"):
            return parse_connection(text, _known_connections(self._session))
        if path in ("owned", "slots"):
            whole = parse_reading(text, Origin.MEASURED).value
            return int(whole) if whole == int(whole) else whole
        if path == "status":
            words = " ".join(text.lower().split()).replace("home made", "home-made")
            if words not in [s.value for s in Status]:
                raise EditRefused(f"“{text[:30]}” is no status; write one of {', '.join(s.value for s in Status)}.")
            return Status(words)
        if path in ("outer_diameter_mm", "price"):
            return parse_reading(text, Origin.MEASURED).value
        return text

    def _activate(self, key: Hashable, column: int) -> None:
        """Open a value's card: all its figures and where they came from."""
        part = self._part
        if part is None or not isinstance(key, tuple) or key[0] != "value":
            return
        for field in value_fields(part):
            if field.path == key[1]:
                at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(180, 40))
                card = ValueCard(self._session, part.id, field.path, field.label, field.quantity, field.unit, self)
                card.show_at(at)


def _known_connections(session: Session) -> list[Connection]:
    found = []
    for part in session.workbook.shelf:
        for end in ("front", "rear"):
            connection = getattr(part, end, None)
            if connection is not None:
                found.append(connection)
    return found


def _value_rows(part: Part) -> list[Row]:
    return [_value_row(field) for field in value_fields(part)]


def _value_row(field: ValueField) -> Row:
    quantity = field.quantity
    if quantity is None:
        cells = (
            Cell(field.label),
            Cell("not known", "steel", edit=""),
            Cell("give one", "steel", origin=Origin.ASSUMED),
        )
        return Row(cells, ("value", field.path))
    several = f" ({len(quantity.readings)})" if len(quantity.readings) > 1 else ""
    cells = (
        Cell(field.label),
        Cell(quantity_text(quantity, field.unit), edit=_edit_text(quantity), tip=quantity.in_use.note),
        Cell(f"{quantity.origin}{several}", "steel", origin=quantity.origin, tip=quantity.in_use.note),
    )
    return Row(cells, ("value", field.path))


def _edit_text(quantity: Quantity) -> str:
    if isinstance(quantity.in_use, Span):
        return ""
    spread = f" ± {quantity.tolerance:g}" if quantity.tolerance else ""
    return f"{quantity.value:g}{spread}"


def _plain_rows(part: Part) -> list[Row]:
    rows = []
    for end, label in (("front", "Front connection"), ("rear", "Rear connection")):
        connection = getattr(part, end, None)
        if connection is not None:
            text = connection.label
            rows.append(_plain_row(label, text, end, tip=f"{text}; {_engages(connection)}"))
    rows.append(_plain_row("Outer diameter, drawn", f"{part.outer_diameter_mm:g}", "outer_diameter_mm", " mm"))
    if isinstance(part, FilterWheel):
        rows.append(_plain_row("Slots", f"{part.slots}", "slots"))
    rows.append(_plain_row("Owned", f"{part.owned}", "owned"))
    rows.append(_plain_row("Status", part.status.value, "status", tip=", ".join(s.value for s in Status)))
    price = "" if part.price is None else f"{part.price:g}"
    rows.append(_plain_row("Price", price, "price"))
    rows.append(_plain_row("Name", part.name, "name"))
    rows.append(_plain_row("Maker", part.maker, "maker"))
    rows.append(_plain_row("Note", part.note, "note", tip=part.note))
    return rows


def _engages(connection: Connection) -> str:
    depth = connection.engagement_mm
    return "nobody has looked how far it engages" if depth is None else f"engages {depth:g} mm"


def _plain_row(label: str, text: str, path: str, unit: str = "", tip: str = "") -> Row:
    shown = f"{text}{unit}" if text else "–"
    return Row((Cell(label), Cell(shown, "" if text else "steel", edit=text, tip=tip), Cell("")), ("field", path))
