"""Enter the text of the open field before saving, closing or exporting."""

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemDelegate, QAbstractItemView, QApplication, QLineEdit, QWidget

from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.short_field import ShortField


def enter_typed(window: QWidget) -> bool:
    """Enter the text of the field that is being edited, as the Enter key would.

    Fields where Enter starts something, such as a search, are not entered: they are not part of the workbook.

    Args:
        window: whose field.

    Returns:
        False if the text is not valid: it stays in the field, with the reason.
    """
    field = window.focusWidget()
    if not isinstance(field, QLineEdit) or not field.isModified() or not field.isVisible():
        return True
    view = field.parentWidget()
    while view is not None and not isinstance(view, QAbstractItemView):
        view = view.parentWidget()
    if isinstance(view, Ledger):
        if view.refuses(field):
            return False
        # Qt would handle the Enter key only after returning to the event loop.
        view.commitData(field)
        view.closeEditor(field, QAbstractItemDelegate.EndEditHint.NoHint)
        return True
    if isinstance(field, NumberField):
        enter = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Return, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(field, enter)
        return not field.isModified()
    field.editingFinished.emit()
    return not (isinstance(field, ShortField) and bool(field.property("wrong")))
