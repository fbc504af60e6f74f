"""Under a part's values: what the one in hand means, and what else can be done with it than typing."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from farrail.language import say
from farrail.parts.choice_names import choice_name
from farrail.parts.connections import Connection
from farrail.parts.fields import Offered, Shape
from farrail.parts.provenance import Quantity
from farrail.ui.session import Session
from farrail.ui.stations.part_rows import ANSWERS
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.connection_picker import ConnectionPicker
from farrail.ui.widgets.plain import Label


class FieldInHand(QWidget):
    """One line of help, and choices where a field has some."""

    # A text is given for the field in hand, as if it had been typed.
    given = Signal(str)
    # A connection was picked for it, or None.
    connected = Signal(object)
    # Its figures are wanted.
    figures_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the line."""
        super().__init__(parent)
        self.setObjectName("field_in_hand")
        self._session = session
        self._name = Label()
        self._name.setFont(font(13, MEDIUM))
        self._help = Label()
        self._help.setObjectName("field_help")
        self._help.setProperty("role", "steel")
        self._help.setWordWrap(True)
        self.picker = ConnectionPicker()
        self.picker.picked.connect(self.connected)
        self._choices = QHBoxLayout()
        self._choices.setSpacing(5)
        self._choices.addStretch(1)
        self._unknown = self._button("field_unknown", say("Not known"), lambda: self.given.emit(""))
        self._figures = self._button("field_figures", say("Figures…"), self.figures_wanted.emit)
        words = QHBoxLayout()
        words.setSpacing(10)
        words.addWidget(self._name)
        words.addWidget(self._help, 1)
        words.addWidget(self._unknown)
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(self.picker)
        row.addLayout(self._choices)
        row.addWidget(self._figures)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(4)
        box.addLayout(words)
        box.addLayout(row)
        self.setFixedHeight(74)

    def _button(self, name: str, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.setProperty("choice", "true")
        button.clicked.connect(lambda: run())
        return button

    def show_field(self, offered: Offered | None) -> None:
        """Show what can be done with a field, or nothing."""
        while self._choices.count() > 1:
            item = self._choices.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()
        self.setEnabled(offered is not None)
        field = None if offered is None else offered.field
        self._name.setText("" if field is None else field.label)
        self._help.setText("" if field is None else field.help)
        connection = field is not None and field.shape is Shape.CONNECTION
        self.picker.setVisible(connection)
        quantity = field is not None and field.shape is Shape.QUANTITY
        self._unknown.setVisible(quantity or connection)
        self._unknown.setText(say("None") if connection and field is not None and field.optional else say("Not known"))
        self._figures.setVisible(quantity)
        if offered is None or field is None:
            return
        if connection:
            ends = [end for part in self._session.workbook.shelf for end in part.ends if end is not None and end.known]
            value = offered.value if isinstance(offered.value, Connection) else None
            self.picker.show_connection(value, tuple(dict.fromkeys(end.standard for end in ends)))
        self._unknown.setEnabled(offered.value is not None)
        self._figures.setEnabled(isinstance(offered.value, Quantity))
        for choice, text, chosen in _choices_of(offered):
            button = self._button(f"choice_{choice}", text, partial(self.given.emit, choice))
            button.setCheckable(True)
            button.setChecked(chosen)
            self._choices.insertWidget(self._choices.count() - 1, button)


def _choices_of(offered: Offered) -> list[tuple[str, str, bool]]:
    """Return each choice as it is given, what it is called, and whether it is in force."""
    field, value = offered.field, offered.value
    if field.shape is Shape.CHOICE:
        now = getattr(value, "value", value)
        return [(choice, choice_name(choice), choice == now) for choice in field.choices]
    if field.shape is Shape.YES_OR_NO:
        return [(ANSWERS[answer].id, str(ANSWERS[answer]), answer is value) for answer in (True, False)]
    if field.shape is Shape.YES_NO_OR_SILENT:
        return [(ANSWERS[answer].id, str(ANSWERS[answer]), answer is value) for answer in (True, False, None)]
    return []
