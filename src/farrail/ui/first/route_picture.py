"""A small cut section for each way in: what the route will place on the rail."""

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from farrail.ui.rail.sketch import paint_section


class RoutePicture(QWidget):
    """Paints the upper half of a train, cut open, on its axis."""

    def __init__(self, route: str, parent: QWidget | None = None) -> None:
        """Show a route's train."""
        super().__init__(parent)
        self._route = route
        self.setFixedSize(QSize(178, 70))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint it in the theme in force."""
        painter = QPainter(self)
        paint_section(painter, QRectF(6, 0, self.width() - 12, self.height()), self._route)
        painter.end()
