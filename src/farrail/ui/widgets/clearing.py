"""Fields that can be cleared with a click."""

from PySide6.QtWidgets import QLineEdit, QToolButton

from farrail.language import say


def clearable(field: QLineEdit) -> None:
    """Give a field a button that clears it, and the button a name: Qt's own has none."""
    field.setClearButtonEnabled(True)
    for button in field.findChildren(QToolButton):
        button.setAccessibleName(say("Clear what is typed"))
        button.setToolTip(say("Clear what is typed"))
