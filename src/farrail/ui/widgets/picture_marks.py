"""Marks over a photo that can be read on any scene: light lines with a dark edge, words on a dark strip."""

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from farrail.language import local_number, say
from farrail.optics.clipping import Array
from farrail.preview.model import CornerLoss
from farrail.readouts.light.model import Light
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.frame_overlays import size_words

# The mark itself and its edge; in the dark-adapted theme both are red.
LIGHT, EDGE = "#FFFFFF", "#101418"
RED_LIGHT, RED_EDGE = "#FF7A66", "#140303"
ZEBRA_PX = 6
# An interval narrower than this is not worth a word; corners that differ by less are alike.
WORTH_STOPS, SAME_STOPS = 0.1, 0.05
# Lines that are drawn, in stops, with what is written beside them.
CONTOURS = {0.1: "0.1", 1.0 / 3.0: "1/3", 1.0: "1", 2.0: "2"}


def _colours() -> tuple[QColor, QColor]:
    red = current_theme().name == "dark-adapted"
    return QColor(RED_LIGHT if red else LIGHT), QColor(RED_EDGE if red else EDGE)


def outlined_path(p: QPainter, line: QPolygonF, wide_px: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> None:
    """Draw a line that is seen on light and on dark."""
    light, edge = _colours()
    p.setBrush(Qt.BrushStyle.NoBrush)
    edge.setAlphaF(0.75)
    p.setPen(QPen(edge, wide_px + 2.0))
    p.drawPolyline(line)
    p.setPen(QPen(light, wide_px, style))
    p.drawPolyline(line)


def draw_outlined(p: QPainter, at: QPointF, text: str) -> None:
    """Write a text that is seen on light and on dark: on a dark strip the scene shines through."""
    light, edge = _colours()
    metrics = p.fontMetrics()
    box = QRectF(
        at.x() - 4.0, at.y() - metrics.ascent() - 1.0, metrics.horizontalAdvance(text) + 8.0, metrics.height() + 2.0
    )
    p.save()
    edge.setAlphaF(0.62)
    p.setBrush(edge)
    p.setPen(Qt.PenStyle.NoPen)
    p.drawRoundedRect(box, 3.0, 3.0)
    p.setPen(light)
    p.drawText(at, text)
    p.restore()


def draw_crop(p: QPainter, frame: QRectF, scale: float, crop_mm: tuple[float, float]) -> None:
    """Outline the crop that is free of vignetting, with its size."""
    box = QRectF(0.0, 0.0, crop_mm[0] * scale, crop_mm[1] * scale)
    box.moveCenter(frame.center())
    if box.width() >= frame.width() - 1.0:
        return
    outlined_path(p, QPolygonF(box), 1.2, Qt.PenStyle.DashLine)
    text = say("crop {wide:.1f} × {high:.1f} mm", wide=crop_mm[0], high=crop_mm[1])
    draw_outlined(p, QPointF(box.left() + 5.0, box.top() + 15.0), text)


def draw_zebra(p: QPainter, frame: QRectF, clipped: np.ndarray, lost: np.ndarray) -> None:
    """Stripe what is blown out one way and what is lost in noise the other way."""
    rows, columns = clipped.shape
    y, x = np.mgrid[0:rows, 0:columns]
    step = max(round(ZEBRA_PX * columns / max(frame.width(), 1.0)), 2)
    rising, falling = ((x + y) // step) % 3 == 0, ((x - y) // step) % 3 == 0
    light, edge = _colours()
    values = np.zeros((rows, columns, 4), dtype=np.uint8)
    for mask, colour in ((clipped & rising, edge), (lost & falling, light)):
        values[mask] = (colour.red(), colour.green(), colour.blue(), 190)
    image = QImage(values.tobytes(), columns, rows, columns * 4, QImage.Format.Format_RGBA8888).copy()
    p.drawImage(frame, image)


def draw_split(p: QPainter, frame: QRectF, split: float, bare: QImage) -> None:
    """Draw the photo without filters left of a line, and say on both sides which is which."""
    at = frame.left() + frame.width() * split
    p.save()
    p.setClipRect(QRectF(frame.left(), frame.top(), at - frame.left(), frame.height()))
    p.drawImage(frame, bare)
    p.restore()
    outlined_path(p, QPolygonF([QPointF(at, frame.top()), QPointF(at, frame.bottom())]), 1.6)
    p.setFont(font(12, MEDIUM))
    left = say("without filters")
    x = max(at - 10.0 - p.fontMetrics().horizontalAdvance(left), frame.left() + 6.0)
    draw_outlined(p, QPointF(x, frame.top() + 18.0), left)
    draw_outlined(p, QPointF(at + 10.0, frame.top() + 18.0), say("filters on"))


def draw_contours(p: QPainter, frame: QRectF, found: list[tuple[float, list[Array]]]) -> None:
    """Draw lines of equal loss with their stops."""
    p.setFont(font(11, MEDIUM))
    wanted = [(level, lines) for level, lines in found if level in CONTOURS]
    for number, (level, lines) in enumerate(wanted):
        for line in lines:
            places = [QPointF(frame.left() + x * frame.width(), frame.top() + y * frame.height()) for x, y in line]
            outlined_path(p, QPolygonF(places), 1.2)
        # Lines that are close together are labelled at another corner each, or one below the other along them.
        line = sorted(lines, key=len)[-1 - number % len(lines)]
        share = (number // len(lines) + 1) / (-(-len(wanted) // len(lines)) + 1)
        x, y = line[min(int(len(line) * share), len(line) - 1)]
        at = QPointF(frame.left() + x * frame.width() + 4.0, frame.top() + y * frame.height() + 4.0)
        at.setX(min(max(at.x(), frame.left() + 4.0), frame.right() - 60.0))
        at.setY(min(max(at.y(), frame.top() + 34.0), frame.bottom() - 44.0))
        draw_outlined(p, at, local_number(CONTOURS[level]))


def cause_words(loss: CornerLoss, ends: tuple[float, float] | None) -> str:
    """Return what a corner loses and which part takes most; its interval where something is not entered."""
    if ends is not None and ends[1] - ends[0] >= WORTH_STOPS:
        low, high = ends
        if math.isfinite(high):
            return say("{name}: {low:.1f} to {high:.1f} stops", name=loss.name, low=low, high=high)
        if math.isfinite(low):
            return say("{name}: {low:.1f} stops to black", name=loss.name, low=low)
    if math.isfinite(loss.stops):
        return say("{name}: {stops:.1f} stops", name=loss.name, stops=loss.stops)
    return say("{name}: black", name=loss.name)


def draw_causes(
    p: QPainter, frame: QRectF, losses: tuple[CornerLoss, ...], ends: tuple[float, float] | None = None
) -> None:
    """Name at each corner what it loses and which part takes most; `ends` is the interval of the darkest one's loss."""
    p.setFont(font(12, MEDIUM))
    most = max((loss.stops for loss in losses), default=0.0)
    for loss in losses:
        if not loss.part:
            continue
        text = cause_words(loss, ends if loss.stops >= most - SAME_STOPS or loss.stops == most else None)
        # Two names side by side have half the width each.
        text = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, int(frame.width() / 2.0 - 18.0))
        wide = p.fontMetrics().horizontalAdvance(text)
        x = frame.left() + 8.0 if loss.corner.endswith("left") else frame.right() - wide - 8.0
        y = frame.top() + 18.0 if loss.corner.startswith("top") else frame.bottom() - 26.0
        draw_outlined(p, QPointF(x, y), text)


def draw_label(p: QPainter, frame: QRectF, light: Light, text: str) -> None:
    """Write the frame's size below, and what the picture is."""
    camera = light.layout.camera
    assert camera is not None
    p.setFont(font(11))
    draw_outlined(p, QPointF(frame.left() + 8.0, frame.bottom() - 8.0), size_words(camera))
    wide = p.fontMetrics().horizontalAdvance(text)
    draw_outlined(p, QPointF(frame.right() - wide - 8.0, frame.bottom() - 8.0), text)


def draw_trouble(p: QPainter, frame: QRectF, text: str) -> None:
    """Say in the picture's place why there is none."""
    theme = current_theme()
    p.fillRect(frame, QColor(theme.panel))
    p.setPen(QColor(theme.steel))
    p.setFont(font(12))
    wrapped = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
    p.drawText(frame.adjusted(10.0, 6.0, -10.0, -6.0), wrapped, text)


def image_of(values: np.ndarray) -> QImage:
    """Return a picture as the theme shows it: dark-adapted eyes get red alone."""
    rows, columns = values.shape[:2]
    if current_theme().name == "dark-adapted":
        grey = values.astype(np.float32) @ np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)
        values = np.stack([grey * 0.85, grey * 0.10, grey * 0.06], axis=-1).astype(np.uint8)
    values = np.ascontiguousarray(values)
    return QImage(values.tobytes(), columns, rows, columns * 3, QImage.Format.Format_RGB888).copy()
