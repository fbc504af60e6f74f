"""A short line to type one number or time into, named for people, tests and screen readers."""

from typing import ClassVar

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit


class ShortField(QLineEdit):
    """A line that stays as it was typed, marked and with the reason as its tip, while it cannot be taken."""

    # The one that is handing on what was typed; what is refused meanwhile was typed in it.
    giving: ClassVar["ShortField | None"] = None

    def __init__(self, title: str) -> None:
        """Make an empty line."""
        super().__init__()
        self._title = title
        self._kept = ""
        self.setAccessibleName(title)
        self.setToolTip(title)
        self.returnPressed.connect(self._give)
        self.editingFinished.connect(self._give)
        self.textEdited.connect(lambda _: self.refuse(""))

    def _give(self) -> None:
        ShortField.giving = self
        for other in self.window().findChildren(ShortField):
            # Only one thing at a time cannot be taken: what was refused elsewhere goes back to what is.
            if other is not self and other.property("wrong"):
                other.refuse("")
                other.setText(other._kept)
        QTimer.singleShot(0, self, self._given)

    def _given(self) -> None:
        if ShortField.giving is self:
            ShortField.giving = None

    def setText(self, text: str | None) -> None:
        """Show a value as it is; what was refused stays until it is typed over or given up with Escape."""
        self._kept = text or ""
        if not self.property("wrong"):
            super().setText(text)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape brings the value back that is."""
        if event.key() == Qt.Key.Key_Escape and self.property("wrong"):
            self.refuse("")
            self.setText(self._kept)
            return
        super().keyPressEvent(event)

    def refuse(self, why: str) -> None:
        """Say in place why what is here cannot be taken; "" takes that back."""
        if (why != "") != bool(self.property("wrong")):
            self.setProperty("wrong", why != "")
            self.style().unpolish(self)
            self.style().polish(self)
        self.setToolTip(why or self._title)
        self.setAccessibleDescription(why)


def short_field(name: str, title: str, example: str, width_px: int) -> ShortField:
    """Return a line to type in.

    Args:
        name: its object name.
        title: what a screen reader and the tool tip call it.
        example: what is in it while it is empty.
        width_px: how wide it is.
    """
    field = ShortField(title)
    field.setObjectName(name)
    field.setPlaceholderText(example)
    field.setFixedWidth(width_px)
    return field
