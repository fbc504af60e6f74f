"""Dragging a part of the shelf: what travels, and the drag itself."""

from PySide6.QtCore import QMimeData, Qt
from PySide6.QtGui import QColor, QDrag, QPainter, QPixmap
from PySide6.QtWidgets import QWidget

from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

MIME = "application/x-farrail-part"


def part_data(part_id: str, name: str) -> QMimeData:
    """Return what travels: the part's id, and its name for programs that take text."""
    data = QMimeData()
    data.setData(MIME, part_id.encode())
    data.setText(name)
    return data


def dragged_part(data: QMimeData) -> str | None:
    """Return the id of a dragged part, or None when something else is dragged."""
    return bytes(data.data(MIME).data()).decode(errors="replace") if data.hasFormat(MIME) else None


def start_drag(source: QWidget, part_id: str, name: str) -> None:
    """Drag a part from a widget until it is dropped."""
    drag = QDrag(source)
    drag.setMimeData(part_data(part_id, name))
    drag.setPixmap(_tag(name))
    drag.exec(Qt.DropAction.CopyAction)


def _tag(name: str) -> QPixmap:
    theme = current_theme()
    tag = QPixmap(220, 26)
    tag.fill(QColor(theme.accent_wash))
    painter = QPainter(tag)
    painter.setFont(font(12, MEDIUM))
    painter.setPen(QColor(theme.ink))
    painter.drawRect(0, 0, tag.width() - 1, tag.height() - 1)
    painter.drawText(tag.rect().adjusted(8, 0, -8, 0), Qt.AlignmentFlag.AlignVCenter, name)
    painter.end()
    return tag
