"""A row that goes on in the next line where it has no room."""

from PySide6.QtCore import QMargins, QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Items side by side, wrapped like words."""

    def __init__(self, parent: QWidget | None = None, spacing_px: int = 4) -> None:
        """Be empty."""
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self.setSpacing(spacing_px)
        self.setContentsMargins(QMargins(0, 0, 0, 0))

    def addItem(self, item: QLayoutItem) -> None:
        """Add an item at the end."""
        self._items.append(item)

    def count(self) -> int:
        """How many items there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """Return an item; None beyond the last."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Take an item out."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """Want no more room than the items need."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """Its height depends on its width."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Return the height of all lines."""
        return self._place(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        """Place the items."""
        super().setGeometry(rect)
        self._place(rect, move=True)

    def sizeHint(self) -> QSize:
        """Return the size of one line."""
        hints = [item.sizeHint() for item in self._shown()]
        wide = sum(hint.width() for hint in hints) + self.spacing() * max(len(hints) - 1, 0)
        return QSize(wide, max((hint.height() for hint in hints), default=0))

    def minimumSize(self) -> QSize:
        """Return the size of the largest item."""
        least = QSize()
        for item in self._shown():
            least = least.expandedTo(item.minimumSize())
        return least

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _place(self, rect: QRect, *, move: bool) -> int:
        """Place the items, each in the middle of its line's height; returns the height of all lines."""
        lines: list[list[tuple[QLayoutItem, int, QSize]]] = [[]]
        x = rect.x()
        for item in self._shown():
            hint = item.sizeHint()
            if x > rect.x() and x + hint.width() > rect.right() + 1:
                x = rect.x()
                lines.append([])
            lines[-1].append((item, x, hint))
            x += hint.width() + self.spacing()
        y = rect.y()
        for line in lines:
            high = max((hint.height() for _, _, hint in line), default=0)
            for item, at, hint in line if move else ():
                top = y + (high - hint.height()) // 2
                item.setGeometry(QRect(QPoint(at, top), QSize(min(hint.width(), rect.width()), hint.height())))
            y += high + self.spacing()
        return y - self.spacing() - rect.y()
