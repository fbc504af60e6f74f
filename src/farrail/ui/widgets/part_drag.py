"""Dragging a part of the shelf: what travels, and the drag itself."""

from pydantic import TypeAdapter, ValidationError
from PySide6.QtCore import QMimeData, Qt
from PySide6.QtGui import QColor, QDrag, QPainter, QPixmap
from PySide6.QtWidgets import QWidget

from farrail.parts.registry import AnyPart, Part
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

MIME = "application/x-farrail-part"


def part_data(part: Part) -> QMimeData:
    """Return what is dragged: the whole part, for another workbook, and its name for programs that take text."""
    data = QMimeData()
    data.setData(MIME, part.model_dump_json().encode())
    data.setText(part.name)
    return data


def is_part(data: QMimeData) -> bool:
    """Whether a part is dragged."""
    return bool(data.hasFormat(MIME))


def dragged_part(data: QMimeData) -> Part | None:
    """Return a dragged part; None if something else is dragged, or no part this program can read."""
    if not is_part(data):
        return None
    try:
        found: Part = TypeAdapter(AnyPart).validate_json(bytes(data.data(MIME).data()))
    except (ValidationError, RecursionError):
        return None
    return found


def start_drag(source: QWidget, part: Part) -> None:
    """Drag a part from a widget until it is dropped."""
    drag = QDrag(source)
    drag.setMimeData(part_data(part))
    drag.setPixmap(_tag(part.name))
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
