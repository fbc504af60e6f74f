"""What is drawn over the frame map: which part clips where, a guider's prism, a sky target."""

import math

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen

from farrail.language import say
from farrail.optics.pupils import ApertureImage
from farrail.parts.kinds.cameras import Camera
from farrail.readouts.field.sky import framing_of
from farrail.readouts.light.aperture_images import sensor_offset
from farrail.readouts.light.model import Light
from farrail.train.layout import Layout
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font

HATCH_PX = 7.0
# Hatch directions by part: distinguished by pattern and label, not by colour.
DIRECTIONS = ((1.0, 1.0), (1.0, -1.0), (1.0, 0.0), (0.0, 1.0), (1.0, 0.5), (1.0, -0.5))


def size_words(camera: Camera) -> str:
    """Return how large the sensor is; that it is not entered where it is a range."""
    if not camera.size_entered:
        return say("sensor size not entered")
    return say("{value:g} × {value_2:g} mm", value=camera.sensor_width_mm.value, value_2=camera.sensor_height_mm.value)


def hatch_regions(p: QPainter, frame: QRectF, who: np.ndarray) -> None:
    """Hatch each region with its part's own pattern."""
    theme = current_theme()
    rows, columns = who.shape
    for order, number in enumerate(n for n in np.unique(who) if n >= 0):
        inside = who == number
        path = QPainterPath()
        for row in range(rows):
            edges = np.flatnonzero(np.diff(np.concatenate([[0], inside[row].astype(np.int8), [0]])))
            for start, end in zip(edges[::2], edges[1::2], strict=True):
                path.addRect(
                    QRectF(
                        frame.left() + start / columns * frame.width(), frame.top() + row / rows * frame.height(),
                        (end - start) / columns * frame.width(), frame.height() / rows + 0.5,
                    )
                )  # fmt: skip
        p.save()
        p.setClipPath(path, Qt.ClipOperation.IntersectClip)
        colour = QColor(theme.corner_light)
        colour.setAlphaF(0.55)
        p.setPen(QPen(colour, 1.0))
        p.drawLines(_hatch(frame, DIRECTIONS[order % len(DIRECTIONS)]))
        p.restore()


def name_regions(p: QPainter, frame: QRectF, who: np.ndarray, light: Light) -> None:
    """Write each region's part into it."""
    for number in np.unique(who):
        if number >= 0:
            _name(p, frame, who == number, light.placed[int(number)].part.name)


def _hatch(frame: QRectF, way: tuple[float, float]) -> list[QLineF]:
    length = math.hypot(*way)
    dx, dy = way[0] / length, way[1] / length
    reach = frame.width() + frame.height()
    centre, lines = frame.center(), []
    for step in range(int(-reach / HATCH_PX / 2), int(reach / HATCH_PX / 2) + 1):
        x, y = centre.x() - dy * step * HATCH_PX, centre.y() + dx * step * HATCH_PX
        lines.append(QLineF(x - dx * reach, y - dy * reach, x + dx * reach, y + dy * reach))
    return lines


def _name(p: QPainter, frame: QRectF, inside: np.ndarray, name: str) -> None:
    """Write a region's part at its largest corner of the picture."""
    theme = current_theme()
    rows, columns = inside.shape
    quarters = {
        (left, top): inside[
            (slice(0, rows // 2) if top else slice(rows // 2, rows)),
            (slice(0, columns // 2) if left else slice(columns // 2, columns)),
        ].sum()
        for left in (True, False)
        for top in (True, False)
    }
    left, top = max(quarters, key=lambda q: quarters[q])
    p.setFont(font(11, MEDIUM))
    width = p.fontMetrics().horizontalAdvance(name)
    x = frame.left() + 6.0 if left else frame.right() - width - 6.0
    y = frame.top() + 15.0 if top else frame.bottom() - 7.0
    box = QRectF(x - 3.0, y - 11.0, width + 6.0, 15.0)
    p.fillRect(box, QColor(theme.panel))
    p.setPen(QColor(theme.corner_light))
    p.drawText(QPointF(x, y), name)


def draw_cover(p: QPainter, frame: QRectF, scale: float, light: Light, cover: ApertureImage) -> None:
    """Outline a prism or handle where it is beside the sensor, turned as the picture is."""
    theme = current_theme()
    right, up = sensor_offset(light.layout)
    x, y = -(cover.centre_mm[0] - right) * scale, (cover.centre_mm[1] - up) * scale
    p.save()
    p.translate(frame.center() + QPointF(x, y))
    p.rotate(-math.degrees(cover.angle_rad))
    half_w, half_h = cover.radius_mm * scale, (cover.half_height_mm or 0.0) * scale
    p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DotLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(QRectF(-half_w, -half_h, 2.0 * half_w, 2.0 * half_h))
    p.restore()


def draw_target(p: QPainter, frame: QRectF, scale: float, layout: Layout) -> None:
    """Outline the sky target on the frame, as it is turned."""
    framing = framing_of(layout)
    if framing is None:
        return
    theme = current_theme()
    p.save()
    p.translate(frame.center())
    p.rotate(-framing.turned_deg)
    p.setPen(QPen(QColor(theme.axis_light), 1.4))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(QPointF(0.0, 0.0), framing.width_mm * scale / 2.0, framing.height_mm * scale / 2.0)
    p.restore()
    p.setFont(font(11))
    name = framing.target.name
    width = p.fontMetrics().horizontalAdvance(name)
    at = QPointF(frame.center().x() - width / 2.0, frame.center().y() + 4.0)
    p.fillRect(QRectF(at.x() - 3.0, at.y() - 11.0, width + 6.0, 15.0), QColor(theme.panel))
    p.setPen(QColor(theme.ink))
    p.drawText(at, name)


def draw_graduated(p: QPainter, frame: QRectF, stops: np.ndarray) -> None:
    """Draw where graduated filters take one, two, three … stops: dashed, apart from the lines of vignetting."""
    rows, columns = stops.shape
    theme = current_theme()
    p.setFont(font(10, MEDIUM))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for level in range(1, math.ceil(float(stops.max()))):
        # In each column the row at which the level is passed, from the top down.
        path, last = QPainterPath(), None
        for column in range(columns):
            over = np.flatnonzero(np.diff(np.sign(stops[:, column] - level)))
            if not over.size:
                last = None
                continue
            row = int(over[-1])
            a, b = stops[row, column] - level, stops[row + 1, column] - level
            share = row + float(a / (a - b))
            at = QPointF(
                frame.left() + column / (columns - 1) * frame.width(),
                frame.top() + share / (rows - 1) * frame.height(),
            )
            if last is None:
                path.moveTo(at)
            else:
                path.lineTo(at)
            last = at
        if last is None and path.isEmpty():
            continue
        p.setPen(QPen(QColor(theme.axis_light), 1.2, Qt.PenStyle.DashLine))
        p.drawPath(path)
        end = path.currentPosition()
        p.setPen(QColor(theme.ink))
        p.drawText(QPointF(end.x() - 96.0, end.y() - 3.0), say("graduated {level:g}", level=level))
