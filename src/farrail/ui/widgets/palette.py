"""The palette: commands, trains, parts, pages and figures by a few letters of their names."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from farrail.language import say
from farrail.ui.other_words import hits
from farrail.ui.widgets.popover import Popover

PAGE_ROWS = 10
# A workbook may hold hundreds of parts: so many of what fits are listed.
MOST_ROWS = 200


@dataclass(frozen=True)
class Entry:
    """Something that can be found: its name, what is beside it, what it does, and whether it is in force."""

    name: str
    beside: str
    run: Callable[[], object]
    chosen: bool = False


class Palette(Popover):
    """Type a few letters, press Enter."""

    def __init__(
        self, entries: Iterable[Entry], parent: QWidget, more: Callable[[str], Iterable[Entry]] | None = None
    ) -> None:
        """List what can be found; `more` is asked with what is typed, and its answers come last."""
        super().__init__(say("Find a command, train, part or page"), parent, 520)
        self._entries = tuple(entries)
        self._more = more
        self._listed: list[Entry] = []
        self.field = QLineEdit()
        self.field.setObjectName("palette_field")
        self.field.setAccessibleName(say("Find a command, train, part, page, filter or figure"))
        self.field.setPlaceholderText(say("A few letters of a command, train, part, page or figure"))
        self.field.textChanged.connect(self._fill)
        self.field.returnPressed.connect(self._run)
        self.field.installEventFilter(self)
        self.found = QListWidget()
        self.found.setObjectName("palette_list")
        self.found.setAccessibleName(say("Results"))
        self.found.setMinimumHeight(320)
        self.found.itemActivated.connect(lambda _: self._run())
        self.body.addWidget(self.field)
        self.body.addWidget(self.found)
        self._fill("")
        self.field.setFocus(Qt.FocusReason.PopupFocusReason)

    def _fill(self, text: str) -> None:
        typed = text.casefold().strip()
        words = typed.split()
        scored = [(hits(entry.name.casefold(), words), entry) for entry in self._entries]
        fitting = [(score, entry) for score, entry in scored if score]
        # What begins with what was typed goes first, what only means the same last; else the order stays.
        fitting.sort(key=lambda one: (-one[0], not (typed and one[1].name.casefold().startswith(typed))))
        self._listed = [entry for _, entry in fitting]
        if typed and self._more is not None:
            self._listed += self._more(typed)
        del self._listed[MOST_ROWS:]
        self.found.clear()
        for entry in self._listed:
            self.found.addItem(QListWidgetItem(f"{entry.name}    {entry.beside}" if entry.beside else entry.name))
        self.found.setCurrentRow(0)

    def _run(self) -> None:
        row = self.found.currentRow()
        if row >= 0:
            self.close()
            self._listed[row].run()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Up, down and the page keys in the line walk the list."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            steps = {
                Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -PAGE_ROWS, Qt.Key.Key_PageDown: PAGE_ROWS
            }  # fmt: skip
            step = steps.get(Qt.Key(event.key()), 0)
            if step:
                row = self.found.currentRow() + step
                self.found.setCurrentRow(max(0, min(row, self.found.count() - 1)))
                return True
        return super().eventFilter(watched, event)
