"""The command palette: every command by name."""

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from farrail.ui.widgets.popover import Popover


class Palette(Popover):
    """Type a few letters, press Enter."""

    def __init__(self, actions: list[QAction], parent: QWidget) -> None:
        """List all commands that can be used now."""
        super().__init__("What shall be done?", parent, 460)
        self._actions = [a for a in actions if a.isEnabled() and a.text()]
        self.field = QLineEdit()
        self.field.setObjectName("palette_field")
        self.field.setPlaceholderText("A few letters of a command")
        self.field.textChanged.connect(self._fill)
        self.field.returnPressed.connect(self._run)
        self.field.installEventFilter(self)
        self.found = QListWidget()
        self.found.setObjectName("palette_list")
        self.found.setMinimumHeight(320)
        self.found.itemActivated.connect(lambda _: self._run())
        self.body.addWidget(self.field)
        self.body.addWidget(self.found)
        self._fill("")
        self.field.setFocus(Qt.FocusReason.PopupFocusReason)

    def _fill(self, text: str) -> None:
        words = text.casefold().split()
        self.found.clear()
        for action in self._actions:
            name = action.text().replace("&", "")
            if all(word in name.casefold() for word in words):
                keys = action.shortcut().toString()
                item = QListWidgetItem(f"{name}    {keys}" if keys else name)
                item.setData(Qt.ItemDataRole.UserRole, action)
                self.found.addItem(item)
        self.found.setCurrentRow(0)

    def _run(self) -> None:
        item = self.found.currentItem()
        if item is not None:
            action = item.data(Qt.ItemDataRole.UserRole)
            self.close()
            action.trigger()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Up and down in the line walk the list."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
            if step:
                row = self.found.currentRow() + step
                self.found.setCurrentRow(max(0, min(row, self.found.count() - 1)))
                return True
        return super().eventFilter(watched, event)
