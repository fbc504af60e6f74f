"""A number that can be typed, beside a slider or alone: Enter takes it, arrows step it, Escape brings it back."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from farrail.errors import FarRailError
from farrail.language import N_
from farrail.parts.origin import Origin
from farrail.parts.provenance import Span
from farrail.ui.session import Session
from farrail.ui.widgets.short_field import ShortField
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit

# What an empty field means, in words a person may write.
NOTHING = ("", "none", N_("not entered"), "infinity", N_("infinity"), "inf", "∞", N_("as it comes"), "own")


class NumberField(ShortField):
    """Shows a value of the train and turns what is typed over it into an edit."""

    def __init__(
        self, session: Session, name: str, title: str, path: str, step: float,
        make: Callable[[float | None], Edit | None], width_px: int = 74,
    ) -> None:  # fmt: skip
        """Make an empty field.

        Args:
            session: whose train is changed.
            name: object name.
            title: what a screen reader and the tool tip call it.
            path: what is typed, named as a part's value is: its ending says the unit.
            step: by how much an arrow changes it; the page keys by ten times that.
            make: returns the edit for a value, None for one that is left out; None where there is nothing to edit.
            width_px: how wide it is.
        """
        super().__init__(title)
        self.setObjectName(name)
        self.setFixedWidth(width_px)
        self._session, self.path, self._step, self._make = session, path, step, make
        self._value: float | None = None
        self._shown = ""
        self.returnPressed.connect(self._take)
        self.editingFinished.connect(self._leave)

    def say(self, value: float | None, text: str) -> None:
        """Show a value as it is; what is being typed is not disturbed."""
        self._value, self._shown = value, text
        if not (self.hasFocus() and self.isModified()):
            self.refuse("")
            self.setText(text)

    def _take(self) -> None:
        """Take what is typed; what cannot be taken stays, marked, with its reason as the tip and in the message bar."""
        if not self.isModified():
            return
        try:
            self._do_with(self._read(self.text()))
        except FarRailError as error:
            self.refuse(str(error))
            self._session.message.emit(str(error), True)

    def _read(self, text: str) -> float | None:
        if text.strip().casefold() in (str(word).casefold() for word in NOTHING):
            return None
        found = parse_value(self.path, text, Origin.MEASURED)
        if isinstance(found, Span):
            raise FarRailError("“{text}” is a range, and one number is asked for here.", text=text.strip()[:30])
        return found.value

    def _do_with(self, value: float | None) -> None:
        edit = self._make(value)
        if edit is None:
            return
        edit.apply(self._session.workbook)
        self.setModified(False)
        self._session.do(edit)
        self.selectAll()

    def _leave(self) -> None:
        """What is typed and not taken with Enter goes when the field is left."""
        if not self.hasFocus():
            self._back()

    def _back(self) -> None:
        """Show again what is."""
        self.setModified(False)
        self.refuse("")
        self.setText(self._shown)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Step with the arrows, bring the value back with Escape."""
        steps = {Qt.Key.Key_Up: 1.0, Qt.Key.Key_Down: -1.0, Qt.Key.Key_PageUp: 10.0, Qt.Key.Key_PageDown: -10.0}
        by = steps.get(Qt.Key(event.key()))
        if by is not None and self._value is not None:
            try:
                self._do_with(round(self._value + by * self._step, 6))
            except FarRailError as error:
                self._session.message.emit(str(error), True)
            return
        if event.key() == Qt.Key.Key_Escape and self.isModified():
            self._back()
            return
        super().keyPressEvent(event)
