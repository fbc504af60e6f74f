"""A part's own cut section, to scale, as its values stand: part of the part sheet."""

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.parts.registry import Part
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.painter import SectionPainter
from farrail.ui.rail.section import Section, section_of_part
from farrail.ui.theme.apply import current_theme

MARGIN_PX, RULE_PX = 6.0, 16.0


class PartDrawing(QWidget):
    """The upper half of one part, with its length below the axis."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty drawing."""
        super().__init__(parent)
        self.setObjectName("part_drawing")
        self.setAccessibleName("The part's cut section")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self._part: Part | None = None
        self._section: Section | None = None

    def show_part(self, part: Part | None) -> None:
        """Draw another part; a camera or telescope, of which only the ends are known, is not drawn."""
        if part is not self._part:
            self._part = part
            self._section = None if part is None else section_of_part(part)
            self.setVisible(self._section is not None)
            self.update()

    @property
    def length_mm(self) -> float:
        """Length of the part drawn, 0 for none."""
        return 0.0 if self._section is None else self._section.bodies[0].z1 - self._section.bodies[0].z0

    def sizeHint(self) -> QSize:
        """Return a small sheet beside the part's name; the values below give the numbers."""
        return QSize(190, 92)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the section as large as it fits, lengths and diameters at one scale."""
        section, theme = self._section, current_theme()
        if section is None:
            return
        body = section.bodies[0]
        p = QPainter(self)
        axis = self.height() - RULE_PX
        length = max(section.right_mm - section.left_mm, 1.0)
        scale = min((self.width() - 2 * MARGIN_PX) / length, (axis - MARGIN_PX) / max(body.outer_mm, 1.0))
        # Small parts are not blown up beyond life size on a common screen, twice over.
        scale = min(scale, 8.0)
        left = (self.width() - length * scale) / 2.0 - section.left_mm * scale
        frame = Frame(scale, left, axis, self.width(), self.height(), top_px=MARGIN_PX)
        SectionPainter(p, frame, theme).paint(section, None)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        outer = (frame.x(section.left_mm) - MARGIN_PX, frame.x(section.right_mm) + MARGIN_PX)
        p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DashDotLine))
        p.drawLine(QPointF(outer[0], axis), QPointF(outer[1], axis))
        p.setPen(QPen(QColor(theme.steel), 1.0))
        left, end, y = frame.x(body.z0), frame.x(body.z1), axis + 9.0
        p.drawLine(QPointF(left, y), QPointF(end, y))
        for x in (left, end):
            p.drawLine(QPointF(x - 3.0, y + 3.0), QPointF(x + 3.0, y - 3.0))
        p.end()
