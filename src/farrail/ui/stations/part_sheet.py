"""The part sheet: one part of the shelf with every value it has or could have, each edited in place."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.language import begun_large, say, say_n
from farrail.parts.connections import Connection, not_known
from farrail.parts.fields import Offered, Shape, offered_fields
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import KIND_NAMES, Part
from farrail.readouts.spacing.messages import AssumedDecides
from farrail.ui.session import Session
from farrail.ui.stations.field_in_hand import FieldInHand
from farrail.ui.stations.part_drawing import PartDrawing
from farrail.ui.stations.part_rows import edit_of, sheet_rows
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.origin_bar import OriginBar
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import FieldKey, RowKey, ValueKey
from farrail.ui.widgets.value_card import ValueCard
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.history import Edit

# Where a part's length is, by its kind.
LENGTHS = ("path_length_mm", "shortest_mm", "flange_focal_mm", "glass.thickness_mm")


class PartSheet(QWidget):
    """Shows a part; every line of it can be typed over, and made not known again."""

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
            say("Values of the part"),
            (Column(say("Value")), Column(say("is"), False, 178, 150), Column(say("from"), False, 118, 42)),
        )
        self.table.edited.connect(self._edit)
        self.table.judge = self._why_not
        self.table.typing.connect(self._draw_typed)
        self.table.row_activated.connect(self._activate)
        self.table.row_picked.connect(self._show_hand)
        self.hand = FieldInHand(session)
        self.hand.given.connect(lambda text: self._edit(self.table.current_key(), 1, text))
        self.hand.connected.connect(self._connect_end)
        self.hand.figures_wanted.connect(lambda: self._activate(self.table.current_key(), 2))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(3)
        words = QVBoxLayout()
        words.setSpacing(3)
        words.addWidget(self._name)
        words.addWidget(self._kind)
        words.addStretch(1)
        self.sources = OriginBar(session)
        head = QHBoxLayout()
        head.setSpacing(12)
        head.addLayout(words, 1)
        self.drawing = PartDrawing()
        head.addWidget(self.drawing)
        box.addLayout(head)
        box.addWidget(self.sources)
        box.addWidget(self.table, 1)
        box.addWidget(self.hand)

    def show_part(self, part: Part | None) -> None:
        """Show a part of the shelf, or that there is none."""
        other = part is None or self._part is None or part.id != self._part.id
        self._part = part
        self.drawing.show_part(part)
        self.sources.setVisible(part is not None)
        self.hand.setVisible(part is not None)
        if part is None:
            self._name.setText(say("No part to show"))
            self._kind.setText(say("Make a new part below, take a ready-made size, or clear the search."))
            self.table.set_rows([])
            self.hand.show_field(None)
            return
        uses = len(self._session.workbook.uses_of(part.id))
        where = say("on no train") if uses == 0 else say_n("on {uses} train", "on {uses} trains", uses, uses=uses)
        maker = f", {part.maker}" if part.maker else ""
        self._name.setText(part.name)
        self._kind.setText(f"{begun_large(str(KIND_NAMES[part.kind]))}{maker}, {where}")
        self.table.set_rows(sheet_rows(part, self._session.workbook, self._first(part)))
        if other:
            self.table.clearSelection()
            self.table.setCurrentIndex(self.table.ledger.index(-1, -1))
            self.table.scrollToTop()
        self._show_hand(self.table.current_key())

    def _first(self, part: Part) -> str:
        """Return the path of the value of a part that decides the verdict of the train in view, "" for none."""
        readout = self._session.readout
        found = () if readout is None else readout.spacing_findings
        return next((f.value for f in found if isinstance(f.text, AssumedDecides) and f.part == part.id), "")

    def focus_name(self) -> None:
        """Begin typing the part's name."""
        for number, row in enumerate(self.table.ledger.rows):
            if row.key == FieldKey("name"):
                index = self.table.ledger.index(number, 1)
                self.table.setCurrentIndex(index)
                self.table.edit(index)

    def focus_length(self) -> None:
        """Give the part's length the keyboard, ready to be typed over; its first value where it has none."""
        rows = self.table.ledger.rows
        at = next((n for n, row in enumerate(rows) if isinstance(row.key, ValueKey) and row.key.path in LENGTHS), None)
        if at is None:
            at = next((n for n, row in enumerate(rows) if isinstance(row.key, ValueKey)), 0)
        if rows:
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)
            self.table.setCurrentIndex(self.table.ledger.index(at, 1))

    def focus_value(self, path: str) -> None:
        """Give the row of a value the keyboard; of a value inside a record the row the record begins with."""
        rows = enumerate(self.table.ledger.rows)
        paths = {row.key.path: n for n, row in rows if isinstance(row.key, ValueKey | FieldKey)}
        head = path.partition(".")[0]
        at = paths.get(path, next((n for one, n in paths.items() if one.partition(".")[0] == head), None))
        if at is None:
            return self.focus_length()
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)
        index = self.table.ledger.index(at, 1)
        self.table.setCurrentIndex(index)
        self.table.scrollTo(index)

    # Edits

    def _edit_for(self, part: Part, key: RowKey | None, text: str) -> Edit | None:
        if not isinstance(key, ValueKey | FieldKey):
            return None
        return edit_of(part, key.path, text, self._session.workbook, self._session.reading_from)

    def _why_not(self, key: RowKey | None, column: int, text: str) -> str:
        """Return why a text cannot be taken for a line, "" where it can."""
        part = self._part
        if part is None:
            return ""
        try:
            edit = self._edit_for(part, key, text)
            if edit is not None:
                edit.apply(self._session.workbook)
        except FarRailError as error:
            return str(error)
        return ""

    def _edit(self, key: RowKey | None, column: int, text: str) -> None:
        """Take what was typed over a line."""
        part = self._part
        if part is None:
            return
        try:
            edit = self._edit_for(part, key, text)
            if edit is not None and edit.apply(self._session.workbook) != self._session.workbook:
                self._session.do(edit)
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            self.show_part(self._session.workbook.by_id.get(part.id))

    def _connect_end(self, connection: object) -> None:
        """Take a connection picked from the lists."""
        key, part = self.table.current_key(), self._part
        if part is None or not isinstance(key, FieldKey):
            return
        label = say("Edit {name}", name=part.name)
        if isinstance(connection, Connection):
            self._session.do(SetField(part.id, key.path, connection, label=label))
        else:
            offered = self._offered(key)
            old = offered.value if offered is not None else None
            across = old.standard.size_mm if isinstance(old, Connection) else 48.0
            self._session.do(SetField(part.id, key.path, not_known(across), label=label))

    def _draw_typed(self, key: RowKey | None, column: int, text: str) -> None:
        """Draw the part as it would be with what is typed so far; what is no value yet leaves the drawing."""
        part = self._part
        if part is None:
            return
        if not isinstance(key, ValueKey | FieldKey):
            self.drawing.show_part(self._session.workbook.by_id.get(part.id))
            return
        try:
            edit = self._edit_for(part, key, text)
            if edit is not None:
                self.drawing.show_part(edit.apply(self._session.workbook).by_id.get(part.id))
        except FarRailError:
            pass

    def take_reading(self, text: str) -> bool:
        """Type a device's reading over the picked value; False where no value is picked."""
        key = self.table.current_key()
        if not isinstance(key, ValueKey):
            return False
        self._session.read_from(Origin.MEASURED)
        self._edit(key, 1, text)
        return True

    # The field in hand

    def _offered(self, key: RowKey | None) -> Offered | None:
        part = self._part
        if part is None or not isinstance(key, ValueKey | FieldKey):
            return None
        return next((one for one in offered_fields(part) if one.field.path == key.path), None)

    def _show_hand(self, key: RowKey | None) -> None:
        """Explain the field in hand, and point at it on the drawing."""
        offered = self._offered(key)
        self.hand.show_field(offered)
        self.drawing.point_at("" if offered is None else offered.field.path)

    def picked_value(self) -> Offered | None:
        """Return the value picked in the table, if it is one."""
        offered = self._offered(self.table.current_key())
        return offered if offered is not None and offered.field.shape is Shape.QUANTITY else None

    def _activate(self, key: RowKey | None, column: int) -> None:
        """Open a value's card: all its figures and where they came from."""
        part, offered = self._part, self._offered(key)
        if part is None or offered is None or offered.field.shape is not Shape.QUANTITY:
            return
        field = offered.field
        quantity = offered.value if isinstance(offered.value, Quantity) else None
        at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(180, 40))
        ValueCard(self._session, part.id, field.path, field.label, quantity, field.unit, self).show_at(at)
