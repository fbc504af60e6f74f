"""What is typed and not entered yet: saving, closing and writing take it first."""

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemDelegate, QAbstractItemView, QApplication, QLineEdit, QWidget

from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.short_field import ShortField


def enter_typed(window: QWidget) -> bool:
    """Have the field that is being typed in take its text, as Enter would.

    Fields that begin something with Enter, such as a search, are left alone: nothing of theirs is saved.

    Args:
        window: whose field.

    Returns:
        False where the text cannot be taken: it stays, marked with the reason.
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
        # Enter would be taken later, once the program is idle again.
        view.commitData(field)
        view.closeEditor(field, QAbstractItemDelegate.EndEditHint.NoHint)
        return True
    if isinstance(field, NumberField):
        enter = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Return, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(field, enter)
        return not field.isModified()
    field.editingFinished.emit()
    return not (isinstance(field, ShortField) and bool(field.property("wrong")))
