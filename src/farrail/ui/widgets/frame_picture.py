"""A frame as a picture, with lines of equal light as measured and as predicted, and rings about dust."""

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.frames.flat import FlatReading
from farrail.frames.picture import Picture
from farrail.language import say
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text
from farrail.ui.theme.tokens import Theme
from farrail.ui.widgets.sharing import share_picture

# Shares of the middle's light at which lines are drawn.
LEVELS = (0.95, 0.9, 0.8, 0.65, 0.5, 0.3)
# Stops by which measured and predicted light differ, at which lines are drawn; below the first nothing is shaded.
STEPS = (0.05, 0.1, 0.2, 0.5, 1.0)
MOST_COLUMNS = 700
# A press that moves less than this, in pixels of the screen, is a click.
CLICK_PX = 4.0
# So many points of the wash are in a cell along a side; every so many-th line of it is hatched.
HATCH = 8
Ring = tuple[float, float, float, str]


class FramePicture(QWidget):
    """A frame, as large as fits."""

    # A place of the frame was clicked: column and row in pixels.
    picked = Signal(float, float)
    # A circle was drawn about a place: column, row and width in pixels.
    drawn = Signal(float, float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Show nothing yet."""
        super().__init__(parent)
        self.setObjectName("frame_picture")
        self.setAccessibleName(say("The frame"))
        share_picture(self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._image: QImage | None = None
        self._size = (1, 1)
        self._lines: list[tuple[list[QPointF], bool]] = []
        self._flat: FlatReading | None = None
        self._shade: QImage | None = None
        self._pressed: QPointF | None = None
        self._circle: Ring | None = None
        self._rings: tuple[Ring, ...] = ()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(420, 280)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be looked at."""
        return QSize(220, 140)

    def show_picture(self, picture: Picture | None) -> None:
        """Show a frame, stretched from its darkest to its brightest hundredth; None shows nothing."""
        self._lines, self._rings, self._flat, self._shade = [], (), None, None
        if picture is None:
            self._image = None
            self.update()
            return
        step = max(picture.size[0] // MOST_COLUMNS, 1)
        light = np.nan_to_num(picture.light[::step, ::step])
        low, high = np.percentile(light, [1.0, 99.7])
        grey = np.clip((light - low) / max(float(high - low), 1e-9), 0.0, 1.0) ** 0.6 * 255.0
        data = np.ascontiguousarray(grey.astype(np.uint8))
        rows, columns = data.shape
        # A copy: the array goes when this is done.
        self._image = QImage(data.tobytes(), columns, rows, columns, QImage.Format.Format_Indexed8).copy()
        self._size = picture.size
        self.setAccessibleDescription(picture.name)
        self.update()

    def show_light(self, flat: FlatReading) -> None:
        """Draw lines of equal light over the frame: measured ones solid, predicted ones dashed."""
        self._flat, self._shade = flat, None
        self._lines = [*self._contours(flat.share, LEVELS, solid=True),
                       *self._contours(flat.predicted, LEVELS, solid=False)]  # fmt: skip
        self.update()

    def show_difference(self, *, shown: bool) -> None:
        """Shade what is darker or brighter than predicted, with lines of equal difference; or lines of light again."""
        flat = self._flat
        if flat is None:
            return
        if not shown:
            self.show_light(flat)
            return
        stops = flat.difference_stops
        self._lines = [*self._contours(-stops, STEPS, solid=True), *self._contours(stops, STEPS, solid=False)]
        self._shade = _shading(np.nan_to_num(stops.reshape(flat.cells.shape)), current_theme())
        self.update()

    def _contours(
        self, values: np.ndarray, levels: Sequence[float], *, solid: bool
    ) -> list[tuple[list[QPointF], bool]]:
        """Return lines of equal value over the flat's cells."""
        from contourpy import contour_generator

        assert self._flat is not None
        cells = self._flat.cells
        columns, rows = cells.columns[: cells.shape[1]], cells.rows[:: cells.shape[1]]
        maker = contour_generator(columns, rows, np.ma.masked_invalid(values.reshape(cells.shape)))
        return [
            ([QPointF(x, y) for x, y in np.asarray(line, dtype=float).reshape(-1, 2).tolist()], solid)
            for level in levels for line in maker.lines(level)
        ]  # fmt: skip

    def show_rings(self, rings: Sequence[Ring]) -> None:
        """Draw rings about dust: column, row and diameter in pixels, and what is written beside."""
        self._rings = tuple(rings)
        self.update()

    def show_marks(self, places: Sequence[tuple[float, float]]) -> None:
        """Mark places that were clicked, with the line between two of them."""
        self._rings = tuple((column, row, 0.0, "") for column, row in places)
        self._lines = [([QPointF(column, row) for column, row in places], True)] if len(places) > 1 else []
        self.update()

    def _placed(self) -> tuple[float, float]:
        """Return how large a pixel is drawn, and where the frame's left edge is."""
        scale = min(self.width() / self._size[0], self.height() / self._size[1])
        return scale, (self.width() - self._size[0] * scale) / 2.0

    def _at(self, place: QPointF) -> QPointF | None:
        """Return which pixel of the frame is at a place; None outside it."""
        scale, left = self._placed()
        column, row = (place.x() - left) / scale, place.y() / scale
        inside = self._image is not None and 0.0 <= column < self._size[0] and 0.0 <= row < self._size[1]
        return QPointF(column, row) if inside else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a click, or a circle about this place."""
        self._pressed = event.position() if self._at(event.position()) is not None else None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Draw the circle out to the hand."""
        if self._pressed is not None:
            self._circle = self._circle_to(event.position())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Say which place was clicked, or which circle was drawn."""
        pressed, self._pressed, self._circle = self._pressed, None, None
        self.update()
        middle = None if pressed is None else self._at(pressed)
        if pressed is None or middle is None:
            return
        self._pressed = pressed
        circle, self._pressed = self._circle_to(event.position()), None
        if circle is None:
            self.picked.emit(middle.x(), middle.y())
        else:
            self.drawn.emit(circle[0], circle[1], circle[2])

    def _circle_to(self, hand: QPointF) -> Ring | None:
        """Return the circle from where was pressed out to the hand; None where it hardly moved."""
        if self._pressed is None:
            return None
        away = hand - self._pressed
        radius = math.hypot(away.x(), away.y())
        middle = self._at(self._pressed)
        if middle is None or radius < CLICK_PX:
            return None
        return middle.x(), middle.y(), 2.0 * radius / self._placed()[0], ""

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame and what is drawn over it."""
        p, theme = QPainter(self), current_theme()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is None:
            p.setPen(QPen(QColor(theme.hairline), 1.0, Qt.PenStyle.DashLine))
            p.drawRect(QRectF(0.5, 0.5, self.width() - 1.0, self.height() - 1.0))
            p.setPen(QColor(theme.steel))
            p.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, say("Drop a frame here, or open one"))
            p.end()
            return
        self._image.setColorTable(_shades(theme))
        scale, left = self._placed()
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.drawImage(QRectF(left, 0.0, self._size[0] * scale, self._size[1] * scale), self._image)
        if self._shade is not None:
            p.drawImage(QRectF(left, 0.0, self._size[0] * scale, self._size[1] * scale), self._shade)
        p.translate(left, 0.0)
        for line, solid in self._lines:
            shown = [QPointF(at.x() * scale, at.y() * scale) for at in line]
            for colour, wide in ((theme.paper, 3.0), (theme.stop if solid else theme.ink, 1.4)):
                p.setPen(QPen(QColor(colour), wide, Qt.PenStyle.SolidLine if solid else Qt.PenStyle.DashLine))
                p.drawPolyline(shown)
        for column, row, across, text in (*self._rings, *([self._circle] if self._circle is not None else [])):
            middle, radius = QPointF(column * scale, row * scale), max(across * scale / 2.0, 5.0) + 3.0
            for colour, wide in ((theme.paper, 3.0), (theme.stop, 1.4)):
                p.setPen(QPen(QColor(colour), wide))
                p.drawEllipse(middle, radius, radius)
            draw_text(p, middle.x() + radius + 3.0, middle.y() + 4.0, text, 12, MEDIUM)
        p.end()


def _shading(stops: np.ndarray, theme: Theme) -> QImage:
    """Return a wash over a grid: darker than predicted in one colour and hatched, brighter in another."""
    fine = np.kron(stops, np.ones((HATCH, HATCH)))
    # Between cells the wash goes over smoothly, as the light does.
    strength = np.clip(np.abs(fine) / STEPS[-2], 0.0, 1.0) ** 0.5 * (np.abs(fine) >= STEPS[0])
    rows, columns = np.mgrid[0 : fine.shape[0], 0 : fine.shape[1]]
    hatched = (fine < 0.0) & ((rows + columns) % HATCH < 2)
    wash = np.zeros((*fine.shape, 4), dtype=np.uint8)
    for darker, colour in ((True, QColor(theme.stop)), (False, QColor(theme.glass_edge))):
        wash[(fine < 0.0) == darker, :3] = colour.red(), colour.green(), colour.blue()
    wash[..., 3] = (strength * np.where(hatched, 210.0, 110.0)).astype(np.uint8)
    high, wide = fine.shape
    return QImage(wash.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()


def _shades(theme: Theme) -> list[int]:
    """Return what each of 256 brightnesses looks like: white, or in a dark theme no brighter than its ink.

    A white frame would undo an hour of getting used to the dark.
    """
    ink, paper = QColor(theme.ink), QColor(theme.paper)
    top = ink if ink.lightness() > paper.lightness() else QColor("#ffffff")
    return [QColor(top.red() * n // 255, top.green() * n // 255, top.blue() * n // 255).rgb() for n in range(256)]
