"""A splitter whose handles are a hairline of the theme."""

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSplitter, QSplitterHandle

from farrail.ui.theme.apply import current_theme


class Divider(QSplitter):
    """Divides a window by a hairline that can be dragged."""

    def createHandle(self) -> QSplitterHandle:
        """Return a handle that paints itself."""
        return _Hairline(self.orientation(), self)


class _Hairline(QSplitterHandle):
    def paintEvent(self, _: QPaintEvent) -> None:
        """Fill it: it is one pixel wide."""
        QPainter(self).fillRect(self.rect(), QColor(current_theme().hairline))
