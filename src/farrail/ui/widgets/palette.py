"""The palette: commands, trains, parts, pages and figures by a few letters of their names."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QEvent, QObject, QSettings, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHeaderView, QLineEdit, QTreeWidget, QTreeWidgetItem, QWidget

from farrail.language import say
from farrail.ui.other_words import hits
from farrail.ui.widgets.popover import Popover

PAGE_ROWS = 10
# A workbook may hold hundreds of parts: so many of what fits are listed.
MOST_ROWS = 200
WIDTH_PX = 620
# What was run lately is listed first: so many of it, under this key of the settings.
MOST_RECENT, RECENT_KEY = 8, "palette/recent"


@dataclass(frozen=True)
class Entry:
    """Something that can be found.

    Attributes:
        name: what it is called.
        kind: what it is: a command, a train, a part, …
        run: what choosing it does.
        chosen: whether it is in use.
        value: its shortcut, or a figure's value.
    """

    name: str
    kind: str
    run: Callable[[], object]
    chosen: bool = False
    value: str = ""


class Palette(Popover):
    """Type a few letters, press Enter."""

    def __init__(
        self,
        entries: Iterable[Entry],
        parent: QWidget,
        more: Callable[[str], Iterable[Entry]] | None = None,
        settings: QSettings | None = None,
    ) -> None:
        """List what can be found.

        Args:
            entries: all that is there.
            parent: the window.
            more: asked with what is typed; its answers come last.
            settings: where what was run lately is kept.
        """
        super().__init__(say("Find a command, train, part or page"), parent, WIDTH_PX)
        self._settings = settings
        kept: Any = settings.value(RECENT_KEY, []) if settings is not None else []
        # One entry alone is kept as text, not as a list.
        self._recent = [kept] if isinstance(kept, str) else [str(name) for name in kept or ()]
        place = {name: number for number, name in enumerate(self._recent)}
        self._entries = tuple(sorted(entries, key=lambda entry: place.get(entry.name, MOST_RECENT)))
        self._more = more
        self._listed: list[Entry] = []
        self.field = QLineEdit()
        self.field.setObjectName("palette_field")
        self.field.setAccessibleName(say("Find a command, train, part, page, filter or figure"))
        self.field.setPlaceholderText(say("A few letters of a command, train, part, page or figure"))
        self.field.textChanged.connect(self._fill)
        self.field.returnPressed.connect(self._run)
        self.field.installEventFilter(self)
        self.found = QTreeWidget()
        self.found.setObjectName("palette_list")
        self.found.setColumnCount(3)
        self.found.setHeaderHidden(True)
        self.found.setRootIsDecorated(False)
        self.found.setUniformRowHeights(True)
        self.found.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.found.header()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
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
            item = QTreeWidgetItem([entry.name, entry.value, entry.kind])
            item.setToolTip(0, entry.name)
            item.setForeground(2, self.palette().placeholderText())
            self.found.addTopLevelItem(item)
        self._choose(0)

    @property
    def _row(self) -> int:
        return self.found.currentIndex().row() if self._listed else -1

    def _choose(self, row: int) -> None:
        if self._listed:
            self.found.setCurrentIndex(self.found.model().index(max(0, min(row, len(self._listed) - 1)), 0))

    def _run(self) -> None:
        row = self._row
        if row < 0:
            return
        chosen = self._listed[row]
        if self._settings is not None:
            recent = [chosen.name, *(name for name in self._recent if name != chosen.name)]
            self._settings.setValue(RECENT_KEY, recent[:MOST_RECENT])
        self.close()
        chosen.run()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Up, down and the page keys in the line walk the list."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            steps = {
                Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -PAGE_ROWS, Qt.Key.Key_PageDown: PAGE_ROWS
            }  # fmt: skip
            step = steps.get(Qt.Key(event.key()), 0)
            if step:
                self._choose(self._row + step)
                return True
        return super().eventFilter(watched, event)
