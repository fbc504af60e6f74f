"""A part's own cut section, to scale, as its values are: part of the part sheet."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.parts.fields import value_at
from farrail.parts.provenance import Quantity
from farrail.parts.registry import Part
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.painter import SectionPainter
from farrail.ui.rail.section import Section, section_of_part
from farrail.ui.theme.apply import current_theme
from farrail.ui.widgets.sharing import share_picture

MARGIN_PX, RULE_PX = 6.0, 16.0
# What a field measures: along the part, free inside it, or a depth from one of its ends.
LENGTHS = ("path_length_mm", "shortest_mm", "longest_mm")
CLEAR = ("clear_aperture_mm", "step_clear_mm", "seat_aperture_mm", "drop_in_mm")
FROM_FRONT = ("seat_mm", "step_at_mm", "glass_depth_mm", "principal_mm")
FROM_REAR = ("first_slot_mm", "drop_in_at_mm")


class PartDrawing(QWidget):
    """The upper half of one part, with its length below the axis."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty drawing."""
        super().__init__(parent)
        self.setObjectName("part_drawing")
        self.setAccessibleName(say("The part's cut section"))
        share_picture(self)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self._part: Part | None = None
        self._section: Section | None = None
        self._pointed = ""

    def point_at(self, path: str) -> None:
        """Point at what a field of the part is about; "" or a field of no place points at nothing."""
        if path != self._pointed:
            self._pointed = path
            self.update()

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
        return QSize(236, 126)

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
        self._point(p, frame, section)
        p.end()

    def _point(self, p: QPainter, frame: Frame, section: Section) -> None:
        """Draw over the section what the field in hand measures."""
        body, accent = section.bodies[0], QColor(current_theme().accent)
        left, right, axis = frame.x(body.z0), frame.x(body.z1), frame.axis_px
        p.setPen(QPen(accent, 2.2))
        path = self._pointed
        if path.endswith(LENGTHS):
            p.drawLine(QPointF(left, axis + 9.0), QPointF(right, axis + 9.0))
        elif path in ("front", "rear"):
            x = left if path == "front" else right
            p.drawLine(QPointF(x, axis), QPointF(x, frame.y(body.outer_mm)))
        elif path == "outer_diameter_mm":
            p.drawLine(QPointF(left - 3.0, axis), QPointF(left - 3.0, frame.y(body.outer_mm)))
        elif (reach := self._reach()) is not None:
            low, high = sorted((frame.x(reach[0]), frame.x(reach[1])))
            y = axis - 5.0
            p.drawLine(QPointF(low, y), QPointF(high, y))
            for x in (low, high):
                p.drawLine(QPointF(x, y - 4.0), QPointF(x, y + 4.0))
        elif path.startswith("glass"):
            for block in section.glass:
                p.drawRect(
                    QRectF(QPointF(frame.x(block.z0), frame.y(block.radius_mm)), QPointF(frame.x(block.z1), axis))
                )
        elif path in CLEAR and (clear := self._value(path)) is not None:
            radius = clear.value / 2.0
            x = (left + right) / 2.0
            p.drawLine(QPointF(x, axis), QPointF(x, frame.y(radius)))
            p.drawLine(QPointF(x - 4.0, frame.y(radius)), QPointF(x + 4.0, frame.y(radius)))

    def _reach(self) -> tuple[float, float] | None:
        """Return the two places on the axis a depth is measured between, None for what is no depth."""
        body = None if self._section is None else self._section.bodies[0]
        if body is None or self._pointed not in (*FROM_FRONT, *FROM_REAR):
            return None
        value = self._value(self._pointed)
        if value is None:
            return None
        start = body.z0 if self._pointed in FROM_FRONT else body.z1
        return start, start + value.value * (1.0 if self._pointed in FROM_FRONT else -1.0)

    def _value(self, path: str) -> Quantity | None:
        value = None if self._part is None else value_at(self._part, path)[1]
        return value if isinstance(value, Quantity) else None
