"""The value card: every figure known for a value, one of them in use, and a line for a new measurement."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QPushButton, QRadioButton, QWidget

from farrail import lengths
from farrail.errors import FarRailError
from farrail.language import begun_large, say, word
from farrail.parts.fields import field_at
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.quantities import inches, unit_word
from farrail.ui.session import Session
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.popover import Popover
from farrail.workbook.edits.figures import RemoveFigure
from farrail.workbook.edits.shelf import ChooseReading, SetReading
from farrail.workbook.edits.typed import parse_value


def reading_text(reading: Reading | Span, unit: str = "mm") -> str:
    """Return a figure in words: number, tolerance, origin and source."""
    # What was given is as it was given, in mm; in inches it is shown beside it.
    tail = f" {unit}" if unit else ""
    if isinstance(reading, Span):
        tail += f" ({inches(reading.low)} … {inches(reading.high)})" if unit == "mm" else ""
        number = say("{low:g} to {high:g}{tail}, unknown", low=reading.low, high=reading.high, tail=tail)
    else:
        tail += f" ({inches(reading.value)})" if unit == "mm" else ""
        spread = say(" ± {tolerance:g}", tolerance=reading.tolerance) if reading.tolerance else ""
        number = say(
            "{value:g}{spread}{tail}, {origin}", value=reading.value, spread=spread, tail=tail, origin=reading.origin
        )
    return f"{number} ({reading.note})" if reading.note else number


def quantity_text(quantity: Quantity | None, unit: str = "mm", *, stays_mm: bool = False) -> str:
    """Return the figure in use, short, as a table shows it."""
    if quantity is None:
        return say("not known")
    use = quantity.in_use
    if unit == "mm" and not stays_mm:
        if isinstance(use, Span):
            return say("{low:g length} to {high:g mm}", low=use.low, high=use.high)
        inch = lengths.current() is lengths.LengthUnit.INCH
        spread = say(" ± {tolerance:g}", tolerance=use.tolerance) if use.tolerance else ""
        if inch and use.tolerance:
            spread = say(" ± {tolerance:.2f length}", tolerance=use.tolerance)
        return say("{value:.2f length}{spread} {unit}", value=use.value, spread=spread, unit=unit_word(unit))
    tail = f" {unit}" if unit else ""
    if isinstance(use, Span):
        return say("{low:g} to {high:g}{tail}", low=use.low, high=use.high, tail=tail)
    spread = say(" ± {tolerance:g}", tolerance=use.tolerance) if use.tolerance else ""
    return (
        say("{value:.2f}{spread}{tail}", value=use.value, spread=spread, tail=tail)
        if unit
        else say("{value:g}{spread}", value=use.value, spread=spread)
    )


class ValueCard(Popover):
    """Choose which figure of a value is used, or give a new one."""

    def __init__(
        self, session: Session, part: PartId, path: str, label: str, quantity: Quantity | None, unit: str,
        parent: QWidget,
    ) -> None:  # fmt: skip
        """Arrange the card for one value of one part."""
        super().__init__(f"{session.workbook.by_id[part].name}: {label}", parent, 480)
        self.setObjectName("popover")
        self._session, self._part, self._path = session, part, path
        self._group = QButtonGroup(self)
        for index, reading in enumerate(quantity.readings if quantity is not None else ()):
            radio = QRadioButton(reading_text(reading, unit))
            radio.setToolTip(reading_text(reading, unit))
            radio.setObjectName(f"figure_choice_{index}")
            radio.setChecked(quantity is not None and index == quantity.chosen)
            radio.clicked.connect(self._chooser(index))
            self._group.addButton(radio, index)
            line = QHBoxLayout()
            line.addWidget(radio, 1)
            away = QPushButton(say("Remove"))
            away.setObjectName(f"figure_remove_{index}")
            away.setAccessibleName(say("Remove {reading_text}", reading_text=reading_text(reading, unit)))
            away.setProperty("usual", "true")
            away.clicked.connect(self._remover(index))
            line.addWidget(away)
            self.body.addLayout(line)
        if quantity is None:
            self.add_line(say("Not entered; a typical value is assumed."), role="steel")
        line = QHBoxLayout()
        self.field = QLineEdit()
        self.field.setObjectName("value_field")
        self.field.setPlaceholderText("16.46 ± 0.02" if unit else "1.52")
        self.field.setAccessibleName(say("New figure for {label}", label=label))
        self.field.returnPressed.connect(lambda: self._set(session.reading_from))
        line.addWidget(self.field, 1)
        self.source = QLineEdit()
        self.source.setObjectName("value_source")
        self.source.setPlaceholderText(say("where from: manual, page 4"))
        self.source.setAccessibleName(say("Source of the new figure for {label}", label=label))
        self.source.setMaxLength(200)
        self.source.returnPressed.connect(lambda: self._set(session.reading_from))
        self.body.addSpacing(4)
        self.body.addLayout(line)
        self.body.addWidget(self.source)
        buttons = QHBoxLayout()
        for origin in Origin:
            button = QPushButton(begun_large(word(origin)))
            button.setObjectName(f"value_as_{origin}")
            button.setToolTip(say("Use the number above as {origin}", origin=origin))
            button.clicked.connect(self._setter(origin))
            buttons.addWidget(button)
        buttons.addStretch(1)
        self.body.addLayout(buttons)
        self._trouble = Label()
        self._trouble.setObjectName("value_trouble")
        self._trouble.setProperty("role", "stop")
        self._trouble.setFont(font(12, MEDIUM))
        self._trouble.setWordWrap(True)
        self._trouble.hide()
        self.body.addWidget(self._trouble)
        self.field.setFocus(Qt.FocusReason.PopupFocusReason)

    def _chooser(self, index: int) -> Callable[[], None]:
        def choose() -> None:
            self._session.do(ChooseReading(self._part, self._path, index))
            self.close()

        return choose

    def _remover(self, index: int) -> Callable[[], None]:
        def remove() -> None:
            self._session.do(RemoveFigure(self._part, self._path, index))
            self.close()

        return remove

    def _setter(self, origin: Origin) -> Callable[[], None]:
        return lambda: self._set(origin)

    def _set(self, origin: Origin) -> None:
        try:
            part = self._session.workbook.by_id[self._part]
            field = field_at(type(part), self._path)
            length = field is not None and field.unit == "mm" and not field.stays_mm
            text = lengths.as_shown(self.field.text()) if length else self.field.text()
            reading = parse_value(self._path, text, origin)
            if self.source.text().strip():
                reading = reading.model_copy(update={"note": self.source.text().strip()})
            SetReading(self._part, self._path, reading).apply(self._session.workbook)
        except FarRailError as error:
            self._trouble.setText(str(error))
            self._trouble.show()
            self.adjustSize()
            return
        self._session.do(SetReading(self._part, self._path, reading))
        self.close()
