"""A person's hands on the window: what is found by its name, read, pressed and typed over."""

from typing import TypeVar

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.popover import Popover

LEFT = Qt.MouseButton.LeftButton
Kind = TypeVar("Kind", bound=QObject)


def found(root: QObject, kind: type[Kind], name: str = "") -> Kind:
    """Return what is inside something, by its kind and name."""
    child = root.findChild(kind, name) if name else root.findChild(kind)
    assert isinstance(child, kind), name
    return child


def ledger(window: QWidget, name: str) -> Ledger:
    return found(window, Ledger, name)


def rows(table: Ledger) -> list[list[str]]:
    return [[cell.text for cell in row.cells] for row in table.ledger.rows]


def label(window: QWidget, name: str) -> str:
    return found(window, QLabel, name).text()


def popover() -> Popover:
    shown = QApplication.activePopupWidget()
    assert isinstance(shown, Popover)
    return shown


def press(window: QWidget, name: str, qtbot: QtBot) -> None:
    qtbot.mouseClick(found(window, QPushButton, name), LEFT)


def type_in(window: QWidget, name: str, text: str, qtbot: QtBot, *, enter: bool = True) -> None:
    """Type a text into a field in place of what it holds."""
    field = found(window, QLineEdit, name)
    field.setFocus()
    field.selectAll()
    qtbot.keyClick(field, Qt.Key.Key_Delete)
    qtbot.keyClicks(field, text)
    if enter:
        qtbot.keyClick(field, Qt.Key.Key_Return)


def type_over(table: Ledger, row: int, column: int, text: str, qtbot: QtBot) -> None:
    """Edit a cell as with F2: select, type, Enter."""
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(row, column))
    qtbot.keyClick(table, Qt.Key.Key_F2)
    editor = table.findChildren(QLineEdit, "ledger_editor")[-1]
    editor.selectAll()
    editor.insert(text)  # keyClicks knows no ± sign
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()


def reason(table: Ledger) -> str:
    """Return why what is typed into a table cannot be taken, as it is under the field; "" for nothing."""
    shown = found(table, QLabel, f"{table.objectName()}_reason")
    return shown.text() if shown.isVisible() else ""
