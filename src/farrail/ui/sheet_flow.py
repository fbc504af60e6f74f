"""Columns of text on paper: blocks go down one column and into the next, and none is split between two."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QFont, QPainter, QPen, QTextDocument

# The weight that the fonts have: a bolder one would be drawn twice, and read twice.
STYLE = (
    "p { margin: 1px 0 1px 0 } b { font-weight: 600 } "
    "h3 { margin: 7px 0 1px 0; font-weight: 600 } h4 { margin: 5px 0 1px 0; font-weight: 600 }"
)
# Between two columns, and what a tick box takes ahead of its text, both in the size of the text.
GUTTER, INDENT, BOX = 2.0, 1.7, 0.95
# Room above a section, in the same.
SECTION = 0.45


@dataclass(frozen=True)
class Block:
    """A piece of text that stays together.

    Attributes:
        html: what it says.
        ticked: whether the box ahead of it is ticked; None: it has no box.
        leads: whether it belongs to the block after it, as a heading does.
        section: whether some room is left above it.
    """

    html: str
    ticked: bool | None = None
    leads: bool = False
    section: bool = False


def text_of(html: str, face: QFont, wide: float, device: Any) -> QTextDocument:
    """Return text broken into lines for a device, so wide."""
    document = QTextDocument()
    document.setDefaultFont(face)
    document.setDefaultStyleSheet(STYLE)
    document.documentLayout().setPaintDevice(device)
    document.setDocumentMargin(0.0)
    document.setHtml(html)
    document.setTextWidth(wide)
    return document


class Flow:
    """Fills the columns of pages."""

    def __init__(self, painter: QPainter | None, pages: Any, face: QFont, columns: int, top: float) -> None:
        """Begin below `top` on the page a painter is at; `pages` makes new ones. Without a painter it only counts."""
        self._painter, self._pages, self._face = painter, pages, face
        self._columns, self._first_top = columns, top
        self._size = face.pointSizeF()
        gutter = GUTTER * self._size if columns > 1 else 0.0
        self._wide = (pages.width() - gutter * (columns - 1)) / columns
        self._step = self._wide + gutter
        self._column, self._top, self._y = 0, top, top
        self.pages = 1

    def add(self, blocks: Sequence[Block]) -> None:
        """Draw blocks one after another; what leads stays with what it leads."""
        made = [(block, self._document(block)) for block in blocks]
        for number, (block, document) in enumerate(made):
            high = document.size().height()
            together = high
            follower = number
            while made[follower][0].leads and follower + 1 < len(made):
                follower += 1
                together += made[follower][1].size().height()
            if self._y + together > self._pages.height() and self._y > self._top:
                self._next_column()
            self._y += SECTION * self._size if block.section and self._y > self._top else 0.0
            self._draw(block, document)
            self._y += high

    def _document(self, block: Block) -> QTextDocument:
        indent = INDENT * self._size if block.ticked is not None else 0.0
        return text_of(block.html, self._face, self._wide - indent, self._pages)

    def _next_column(self) -> None:
        self._column += 1
        if self._column == self._columns:
            self.pages += 1
            if self._painter is not None:
                self._pages.newPage()
            self._column, self._top = 0, 0.0
        self._y = self._top

    def _draw(self, block: Block, document: QTextDocument) -> None:
        painter, x = self._painter, self._column * self._step
        if painter is None:
            return
        painter.save()
        if block.ticked is not None:
            _box(painter, QPointF(x, self._y), self._size, ticked=block.ticked)
            x += INDENT * self._size
        painter.translate(x, self._y)
        document.drawContents(painter, QRectF(0.0, 0.0, self._wide, document.size().height()))
        painter.restore()


def _box(painter: QPainter, at: QPointF, size: float, *, ticked: bool) -> None:
    """Draw a tick box, as high as the capitals of the first line."""
    side = BOX * size
    box = QRectF(at.x() + 0.5, at.y() + 0.32 * size, side, side)
    painter.setPen(QPen(QColor("black"), 0.07 * size))
    painter.drawRect(box)
    if ticked:
        painter.setPen(QPen(QColor("black"), 0.13 * size))
        low = QPointF(box.left() + 0.42 * side, box.bottom() - 0.18 * side)
        painter.drawLine(QPointF(box.left() + 0.15 * side, box.center().y()), low)
        painter.drawLine(low, QPointF(box.right() - 0.12 * side, box.top() + 0.15 * side))
