"""The part sheet: one part of the shelf with all its values, each edited in place."""

from PySide6.QtCore import QPoint
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.parts.fields import ValueField, value_fields
from farrail.parts.provenance import Origin
from farrail.parts.registry import KIND_NAMES, Part
from farrail.ui.session import Session
from farrail.ui.stations.part_drawing import PartDrawing
from farrail.ui.stations.part_rows import edit_of, plain_rows, value_rows
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Column, Ledger
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import FieldKey, RowKey, ValueKey
from farrail.ui.widgets.value_card import ValueCard
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit


class PartSheet(QWidget):
    """Shows a part; every line of it can be typed over."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make an empty sheet."""
        super().__init__(parent)
        self.setObjectName("part_sheet")
        self._session = session
        self._part: Part | None = None
        self._name = Label()
        self._name.setObjectName("part_name")
        self._name.setFont(font(17, STRONG))
        self._name.setWordWrap(True)
        self._kind = Label()
        self._kind.setProperty("role", "steel")
        self._kind.setWordWrap(True)
        self.table = Ledger(
            "part_values",
            "Values of the part",
            (Column("Value"), Column("is", False, 156, 132), Column("from", False, 122, 42)),
        )
        self.table.edited.connect(self._edit)
        self.table.typing.connect(self._draw_typed)
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
        self.drawing = PartDrawing()
        head.addWidget(self.drawing)
        box.addLayout(head)
        box.addSpacing(4)
        box.addWidget(self.table, 1)

    def show_part(self, part: Part | None) -> None:
        """Show a part of the shelf, or that there is none."""
        self._part = part
        self.drawing.show_part(part)
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
        self.table.set_rows([*value_rows(part), *plain_rows(part, self._session.workbook)])

    def focus_name(self) -> None:
        """Begin typing the part's name."""
        for number, row in enumerate(self.table.ledger.rows):
            if row.key == FieldKey("name"):
                index = self.table.ledger.index(number, 1)
                self.table.setCurrentIndex(index)
                self.table.edit(index)

    def _edit(self, key: RowKey | None, column: int, text: str) -> None:
        """Take what was typed over a line."""
        part = self._part
        if part is None:
            return
        try:
            if isinstance(key, ValueKey):
                reading = parse_value(key.path, text, Origin.MEASURED)
                self._session.do(SetReading(part.id, key.path, reading, label=f"Measure {part.name}"))
            elif isinstance(key, FieldKey):
                self._session.do(edit_of(part, key.path, text, self._session.workbook))
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            self.show_part(self._session.workbook.by_id.get(part.id))

    def _draw_typed(self, key: RowKey | None, column: int, text: str) -> None:
        """Draw the part as it would be with what is typed so far; what is no value yet leaves the drawing."""
        part = self._part
        if part is None:
            return
        if not isinstance(key, ValueKey | FieldKey):
            self.drawing.show_part(self._session.workbook.by_id.get(part.id))
            return
        try:
            if isinstance(key, ValueKey):
                edit: Edit = SetReading(part.id, key.path, parse_value(key.path, text, Origin.MEASURED))
            else:
                edit = edit_of(part, key.path, text, self._session.workbook)
            self.drawing.show_part(edit.apply(self._session.workbook).by_id.get(part.id))
        except FarRailError:
            pass

    def take_reading(self, text: str) -> bool:
        """Begin to type a device's reading over the picked value; False where no value is picked."""
        key = self.table.current_key()
        if not isinstance(key, ValueKey):
            return False
        self._edit(key, 1, text)
        return True

    def picked_value(self) -> ValueField | None:
        """Return the value picked in the table, if it is one."""
        key, part = self.table.current_key(), self._part
        if part is None or not isinstance(key, ValueKey):
            return None
        return next((f for f in value_fields(part) if f.path == key.path), None)

    def _activate(self, key: RowKey | None, column: int) -> None:
        """Open a value's card: all its figures and where they came from."""
        part = self._part
        if part is None or not isinstance(key, ValueKey):
            return
        for field in value_fields(part):
            if field.path == key.path:
                at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(180, 40))
                card = ValueCard(self._session, part.id, field.path, field.label, field.quantity, field.unit, self)
                card.show_at(at)
