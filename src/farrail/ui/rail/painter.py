"""Painting the cut section: light, glass, hatched metal, sensor and camera."""

from functools import lru_cache

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF

from farrail.readouts.light.bundles import Bundle
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.section import Body, GlassBlock, Section, Shape
from farrail.ui.rail.tiles import Tiles
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.theme.tokens import Theme

HATCH_PX = 7
THREAD_PITCH_PX = 3.2
SHIM_LEAST_PX = 3.0
# What a camera's name takes at least, with the air beside it.
LEAST_NAME_PX = 58.0

# Rays of the corner are dashed and those of the axis are not: they are distinguished without their colours too.
CORNER_LINE, AXIS_LINE = Qt.PenStyle.DashLine, Qt.PenStyle.SolidLine


class SectionPainter:
    """Paints one section with one theme through one frame; knows nothing of widgets."""

    def __init__(self, painter: QPainter, frame: Frame, theme: Theme, tiles: Tiles | None = None) -> None:
        """Paint on `painter`, which must be active; `tiles` keeps what is painted of single parts, on a screen."""
        self._p = painter
        self._f = frame
        self._t = theme
        self._tiles = tiles

    def paint(self, section: Section, selected: tuple[str, int] | None) -> None:
        """Paint the section; `selected` is (side, index) of the part picked, if one is."""
        p, f = self._p, self._f
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setClipRect(f.section_area.adjusted(0.0, 0.0, 0.0, 1.0))
        self._camera(section)
        self._bundle(section.corner_bundle, section, self._t.corner_light, 0.20, CORNER_LINE)
        self._bundle(section.axis_bundle, section, self._t.axis_light, 0.26, AXIS_LINE)
        self._front_bundles(section)
        self._close_rays(section)
        for number, body in enumerate(section.bodies):
            chosen = selected == (body.side.value, body.index)
            self._body_at_its_place(body, leaning=1 if number % 2 else -1, chosen=chosen)
        for z0, z1, radius in section.seat_spans:
            self._seat_span(z0, z1, radius)
        for block in section.glass:
            self._glass(block)
        for joint_body in self._apart(section):
            self._break_apart(joint_body)
        self._notches(section)
        self._sensor(section)
        p.setClipping(False)
        self._waves(section)
        p.restore()

    # Light

    def _bundle(self, bundle: Bundle | None, section: Section, colour: str, strength: float, line: Qt.PenStyle) -> None:
        if bundle is None or bundle.dark or section.sensor_mm is None:
            return
        f, p, sensor = self._f, self._p, section.sensor_mm
        # Before the exit pupil the rays bend in glass that is not known: they are drawn from the pupil on.
        start = section.left_mm - (2.0 if section.bodies[0].break_left else -1.0)
        if bundle.convergence_per_mm > 0.0:
            start = max(start, sensor - 1.0 / bundle.convergence_per_mm)
        low, high = bundle.edges_mm(sensor - start)
        polygon = QPolygonF([f.point(start, high), f.point(sensor, bundle.height_mm), f.point(start, low)])
        fill = QColor(colour)
        fill.setAlphaF(strength)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(fill)
        # The edge lines below smooth the outline; smoothing this large fill too would cost more than all else.
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.drawPolygon(polygon)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(colour), 1.0, line))
        for edge in (high, low):
            p.drawLine(f.point(start, edge), f.point(sensor, bundle.height_mm))

    def _front_bundles(self, section: Section) -> None:
        """Draw the parallel light of the axis and of the frame's corner up to the entrance pupil."""
        front, f, p = section.front_bundle, self._f, self._p
        if front is None:
            return
        start, pupil, radius = section.left_mm - 8.0, front.z_pupil_mm, front.radius_mm
        for slope, colour, strength, line in (
            (front.tangent, self._t.corner_light, 0.2, CORNER_LINE), (0.0, self._t.axis_light, 0.26, AXIS_LINE)
        ):  # fmt: skip
            rise = (pupil - start) * slope
            corners = [f.point(pupil, radius), f.point(start, rise + radius), f.point(start, rise - radius),
                       f.point(pupil, -radius)]  # fmt: skip
            fill = QColor(colour)
            fill.setAlphaF(strength)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(fill)
            p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            p.drawPolygon(QPolygonF(corners))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setPen(QPen(QColor(colour), 1.0, line))
            p.drawLine(corners[0], corners[1])
            p.drawLine(corners[3], corners[2])

    def _close_rays(self, section: Section) -> None:
        """Draw a close subject and its light, from its middle and its corner to the lens's pupil."""
        close, f, p = section.close, self._f, self._p
        if close is None:
            return
        for edges, colour, strength, line in (
            (close.corner, self._t.corner_light, 0.2, CORNER_LINE),
            (close.axis, self._t.axis_light, 0.26, AXIS_LINE),
        ):
            upper, lower = ([f.point(z, r) for z, r in edge] for edge in edges)
            fill = QColor(colour)
            fill.setAlphaF(strength)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(fill)
            p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            p.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setPen(QPen(QColor(colour), 1.0, line))
            p.drawPolyline(upper)
            p.drawPolyline(lower)
        if close.shown:
            p.setPen(QPen(QColor(self._t.ink), 4.0, c=Qt.PenCapStyle.FlatCap))
            x = f.x(close.subject_mm) - 2.0
            p.drawLine(QPointF(x, f.y(close.half_mm)), QPointF(x, f.y(0.0)))

    # Metal

    def _body_at_its_place(self, body: Body, *, leaning: int, chosen: bool) -> None:
        f = self._f
        if self._tiles is None or body.ghost or body.break_left:
            own = Frame(f.scale, f.x(body.z0), f.axis_px, f.width_px, f.height_px, f.top_px)
            SectionPainter(self._p, own, self._t)._shape(body.shape, leaning, chosen=chosen, ghost=body.ghost)
            if body.break_left:
                self._break_line(f.x(body.z0), f.y(body.outer_mm), f.y(body.bore_mm))
            return

        def draw(painter: QPainter, own: Frame) -> None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            SectionPainter(painter, own, self._t)._shape(body.shape, leaning, chosen=chosen, ghost=False)

        self._tiles.paint(self._p, f, body.shape, body.z0, (leaning, chosen), draw)

    def _shape(self, shape: Shape, leaning: int, *, chosen: bool, ghost: bool) -> None:
        """Draw a part's shape, its end toward the scene at z = 0 of the frame."""
        p, f, t = self._p, self._f, self._t
        polygon = QPolygonF([f.point(z, r) for z, r in shape.outline])
        if shape.thin and shape.long_mm * f.scale < SHIM_LEAST_PX:
            middle = f.x(shape.long_mm / 2.0)
            top, bottom = f.y(shape.outer_mm), f.y(shape.bore_mm)
            half = SHIM_LEAST_PX / 2.0
            polygon = QPolygonF(QRectF(middle - half, top, 2.0 * half, bottom - top))
        for element in shape.elements:
            self._fill(QPolygonF([f.point(z, r) for z, r in element]), t.glass, t.glass_edge, 1.0)
        path = QPainterPath()
        path.addPolygon(polygon)
        path.closeSubpath()
        if ghost:
            self._ghost(path)
        else:
            self._hatched(path, leaning, chosen)
        if shape.cavity is not None:
            z0, z1, r0, r1 = shape.cavity
            hollow = QRectF(f.point(z0, r1), f.point(z1, r0))
            p.setBrush(QColor(t.paper))
            p.setPen(QPen(QColor(t.ink), 0.8))
            p.drawRect(hollow)
        for z_from, z_to, radius in shape.threads:
            self._thread(z_from, z_to, radius)
        for z0, z1, r0, r1 in shape.skirts:
            skirt = QPainterPath()
            skirt.addRect(QRectF(f.point(z0, r1), f.point(z1, r0)))
            self._hatched(skirt, leaning, chosen)
        for z0, z1, r0, r1 in shape.prisms:
            box = QRectF(f.point(z0, r1), f.point(z1, r0))
            self._fill(QPolygonF(box), t.glass, t.glass_edge, 1.0)
            p.setPen(QPen(QColor(t.glass_edge), 1.0))
            # The mirrored face that turns the guide's light aside.
            p.drawLine(box.topRight(), box.bottomLeft())

    def _hatched(self, path: QPainterPath, leaning: int, chosen: bool) -> None:
        p, t = self._p, self._t
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.accent_wash if chosen else t.metal))
        # The outline drawn last smooths the edge; smoothing the fills as well would only cost time.
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.drawPath(path)
        box = path.boundingRect()
        if box.width() > 0.5 and box.height() > 0.5:
            # The tile is placed from the drawing's origin, so that the lines do not crawl when a part moves.
            p.setBrush(_hatch(t.accent if chosen else t.hatch, leaning, p.device().devicePixelRatio()))
            p.drawPath(path)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setBrush(Qt.BrushStyle.NoBrush)
        # Lines up to one pixel wide are drawn some twenty times faster than wider ones; twice gives them weight.
        p.setPen(QPen(QColor(t.accent if chosen else t.ink), 2.0 if chosen else 1.0))
        p.drawPath(path)
        p.drawPath(path)

    def _ghost(self, path: QPainterPath) -> None:
        """Draw a part that is only proposed."""
        wash = QColor(self._t.accent)
        wash.setAlphaF(0.22)
        self._p.setBrush(wash)
        self._p.setPen(QPen(QColor(self._t.accent), 1.6, Qt.PenStyle.DashLine))
        self._p.drawPath(path)

    def _thread(self, z_from: float, z_to: float, radius: float) -> None:
        """Draw the teeth of an external thread along its crest."""
        f, p = self._f, self._p
        x, end, y = f.x(z_from), f.x(z_to), f.y(radius)
        points = [QPointF(x, y)]
        down = True
        while x < end:
            x = min(x + THREAD_PITCH_PX / 2.0, end)
            points.append(QPointF(x, y + (2.2 if down else 0.0)))
            down = not down
        p.setPen(QPen(QColor(self._t.ink), 0.9))
        p.drawPolyline(points)

    def _break_line(self, x: float, top: float, bottom: float) -> None:
        """Draw the zigzag of a shortened part."""
        p, t = self._p, self._t
        cut = top < self._f.top_px
        top = self._f.top_px + 1.0 if cut else top - 5.0
        middle = (top + bottom) / 2.0
        points = [
            QPointF(x, top), QPointF(x, middle - 6), QPointF(x - 5, middle - 1), QPointF(x + 5, middle + 3),
            QPointF(x, middle + 8), QPointF(x, bottom + 5),
        ]  # fmt: skip
        p.setPen(QPen(QColor(t.paper), 5.0))
        p.drawPolyline(points)
        p.setPen(QPen(QColor(t.ink), 1.0))
        p.drawPolyline([point - QPointF(2.5, 0) for point in points])
        p.drawPolyline([point + QPointF(2.5, 0) for point in points])

    def _waves(self, section: Section) -> None:
        """Draw the wave under which a part too tall for the drawing is cut off."""
        f = self._f
        spans = [(b.z0, b.z1, b.outer_mm) for b in section.bodies]
        if section.camera is not None:
            spans.append((section.camera[2], section.right_mm, section.camera[3]))
        for z0, z1, radius in spans:
            if f.y(radius) < f.top_px:
                self._wave(f.x(z0), f.x(z1))

    def _wave(self, left: float, right: float) -> None:
        f, p, t = self._f, self._p, self._t
        y = f.top_px
        wave = QPainterPath(QPointF(left, y))
        steps = max(2, round((right - left) / 14))
        for i in range(steps):
            x0 = left + (right - left) * i / steps
            x1 = left + (right - left) * (i + 1) / steps
            wave.quadTo(QPointF((x0 + x1) / 2, y + (5 if i % 2 else -5)), QPointF(x1, y))
        above = QPainterPath(wave)
        above.lineTo(right + 1, y - 4)
        above.lineTo(left - 1, y - 4)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.fillPath(above, QColor(t.paper))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(t.ink), 1.0))
        p.drawPath(wave)

    # Joints drawn apart

    def _apart(self, section: Section) -> list[float]:
        return [z for _, _, z, mates in section.joints if not mates]

    def _break_apart(self, z: float) -> None:
        f, p, t = self._f, self._p, self._t
        x, top, bottom = f.x(z), f.top_px - 4.0, f.axis_px - 4.0
        points, left, y = [], True, top
        while y < bottom:
            points.append(QPointF(x + (-3.5 if left else 3.5), y))
            left, y = not left, y + 7.0
        p.setPen(QPen(QColor(t.paper), 4.5))
        p.drawPolyline(points)
        p.setPen(QPen(QColor(t.stop), 1.8))
        p.drawPolyline(points)

    # Glass, sensor, camera

    def _glass(self, block: GlassBlock) -> None:
        f, t = self._f, self._t
        if block.holder_mm > block.radius_mm:
            z0, z1 = block.z0 - 0.7, block.z1 + 0.7
            tray = QPainterPath()
            tray.addRect(QRectF(f.point(z0, block.holder_mm), f.point(z1, block.radius_mm - 0.8)))
            self._hatched(tray, 1, False)
        rect = QRectF(f.point(block.z0, block.radius_mm), f.point(block.z1, 0.0))
        self._fill(QPolygonF(rect), t.glass, t.glass_edge, 1.0)

    def _seat_span(self, z0: float, z1: float, radius: float) -> None:
        """Shade where a filter of unknown place may be."""
        f, t = self._f, self._t
        colour = QColor(t.look)
        colour.setAlphaF(0.13)
        rect = QRectF(f.point(z0, radius), f.point(z1, 0.0))
        self._p.setPen(QPen(QColor(t.look), 0.8, Qt.PenStyle.DotLine))
        self._p.setBrush(colour)
        self._p.drawRect(rect)

    def _camera(self, section: Section) -> None:
        if section.camera is None or section.sensor_mm is None:
            return
        f, p, t = self._f, self._p, self._t
        name, size, flange, radius = section.camera
        right = section.right_mm
        body = QRectF(f.point(flange, radius), f.point(right, 0.0))
        p.setPen(QPen(QColor(t.ink), 1.0))
        p.setBrush(QColor(t.panel))
        p.drawRect(body)
        self._break_line(f.x(right), f.y(radius), f.axis_px)
        text_left = f.x(section.sensor_mm) + 12.0
        if section.required_mm is not None:
            # The line of what is required runs up into the camera where the train is short: the name is beyond it.
            required = f.x(section.required_mm)
            text_left = required + 8.0 if text_left - 8.0 < required < f.x(right) - LEAST_NAME_PX else text_left
        room = f.x(right) - text_left - 12.0
        if room > LEAST_NAME_PX - 12.0:
            top = max(f.y(radius), f.top_px) + 26.0
            p.setFont(font(12, MEDIUM))
            p.setPen(QColor(t.ink))
            metrics = p.fontMetrics()
            for line in _wrapped(name, metrics.horizontalAdvance, room):
                p.drawText(QPointF(text_left, top), line)
                top += 16.0
            p.setFont(font(11))
            p.setPen(QColor(t.steel))
            size = size if p.fontMetrics().horizontalAdvance(size) <= room else size.removesuffix(" mm")
            if p.fontMetrics().horizontalAdvance(size) <= room:
                p.drawText(QPointF(text_left, top + 1.0), size)

    def _sensor(self, section: Section) -> None:
        if section.sensor_mm is None:
            return
        f, p = self._f, self._p
        p.setPen(QPen(QColor(self._t.ink), 4.0, c=Qt.PenCapStyle.FlatCap))
        x = f.x(section.sensor_mm) + 2.0
        p.drawLine(QPointF(x, f.y(section.half_diagonal_mm)), QPointF(x, f.y(0.0)))

    def _notches(self, section: Section) -> None:
        """Mark where a part bites into the corner's bundle."""
        f, t = self._f, self._t
        for notch in section.notches:
            tip = f.point(notch.z_mm, notch.radius_mm)
            wedge = QPolygonF([tip + QPointF(0, 7), tip + QPointF(-5.5, -4), tip + QPointF(5.5, -4)])
            self._fill(wedge, t.stop, t.paper, 1.2)

    def _fill(self, polygon: QPolygonF, colour: str, edge: str, width: float) -> None:
        self._p.setPen(QPen(QColor(edge), width))
        self._p.setBrush(QBrush(QColor(colour)))
        self._p.drawPolygon(polygon)


@lru_cache(maxsize=32)
def _hatch(colour: str, leaning: int, ratio: float) -> QBrush:
    """Return a brush of 45° lines, drawn once for each colour, direction and screen density."""
    size = HATCH_PX
    tile = QImage(round(size * ratio), round(size * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    tile.setDevicePixelRatio(ratio)
    tile.fill(Qt.GlobalColor.transparent)
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(colour), 0.7))
    for offset in (-size, 0, size):
        if leaning > 0:
            painter.drawLine(QLineF(offset - 1, size + 1, offset + size + 1, -1))
        else:
            painter.drawLine(QLineF(offset - 1, -1, offset + size + 1, size + 1))
    painter.end()
    return QBrush(tile)


def _wrapped(text: str, advance: object, room: float) -> list[str]:
    """Break a name into at most two lines that fit; what still does not fit ends in an ellipsis."""
    assert callable(advance)
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and advance(longer) > room:
            lines.append(line)
            line = word
        else:
            line = longer
    lines.append(line)
    if len(lines) > 2:
        lines = [lines[0], lines[1] + " …"]
    return [one if advance(one) <= room else _elided(one, advance, room) for one in lines]


def _elided(text: str, advance: object, room: float) -> str:
    assert callable(advance)
    while len(text) > 1 and advance(text + "…") > room:
        text = text[:-1]
    return text + "…"
