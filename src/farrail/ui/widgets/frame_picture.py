"""A frame as a picture, with lines of equal light as measured and as predicted, and rings about dust."""

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.frames.picture import Picture
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text
from farrail.ui.theme.tokens import Theme

# Shares of the middle's light at which lines are drawn.
LEVELS = (0.95, 0.9, 0.8, 0.65, 0.5, 0.3)
MOST_COLUMNS = 700
Ring = tuple[float, float, float, str]


class FramePicture(QWidget):
    """A frame, as large as fits."""

    # A place of the frame was clicked: column and row in pixels.
    picked = Signal(float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Show nothing yet."""
        super().__init__(parent)
        self.setObjectName("frame_picture")
        self.setAccessibleName("The frame")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._image: QImage | None = None
        self._size = (1, 1)
        self._lines: list[tuple[list[QPointF], bool]] = []
        self._rings: tuple[Ring, ...] = ()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(420, 280)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be looked at."""
        return QSize(220, 140)

    def show_picture(self, picture: Picture | None) -> None:
        """Show a frame, stretched from its darkest to its brightest hundredth; None shows nothing."""
        self._lines, self._rings = [], ()
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

    def show_light(self, columns: np.ndarray, rows: np.ndarray, measured: np.ndarray, predicted: np.ndarray) -> None:
        """Draw lines of equal light over the frame: measured ones solid, predicted ones dashed.

        Args:
            columns: of a grid, pixels from the left, (C,).
            rows: of it, pixels from the top, (R,).
            measured: light against the middle, (R, C).
            predicted: likewise.
        """
        from contourpy import contour_generator

        self._lines = []
        for grid, solid in ((measured, True), (predicted, False)):
            maker = contour_generator(columns, rows, grid)
            for level in LEVELS:
                for line in maker.lines(level):
                    points = np.asarray(line, dtype=float).reshape(-1, 2)
                    self._lines.append(([QPointF(x, y) for x, y in points.tolist()], solid))
        self.update()

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
        """Return how large a pixel is drawn, and where the frame's left edge stands."""
        scale = min(self.width() / self._size[0], self.height() / self._size[1])
        return scale, (self.width() - self._size[0] * scale) / 2.0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Tell which place of the frame was clicked."""
        scale, left = self._placed()
        column, row = (event.position().x() - left) / scale, event.position().y() / scale
        if self._image is not None and 0.0 <= column < self._size[0] and 0.0 <= row < self._size[1]:
            self.picked.emit(column, row)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame and what is drawn over it."""
        p, theme = QPainter(self), current_theme()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is None:
            p.setPen(QPen(QColor(theme.hairline), 1.0, Qt.PenStyle.DashLine))
            p.drawRect(QRectF(0.5, 0.5, self.width() - 1.0, self.height() - 1.0))
            p.setPen(QColor(theme.steel))
            p.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, "Drop a frame here, or open one")
            p.end()
            return
        self._image.setColorTable(_shades(theme))
        scale, left = self._placed()
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.drawImage(QRectF(left, 0.0, self._size[0] * scale, self._size[1] * scale), self._image)
        p.translate(left, 0.0)
        for line, solid in self._lines:
            shown = [QPointF(at.x() * scale, at.y() * scale) for at in line]
            for colour, wide in ((theme.paper, 3.0), (theme.stop if solid else theme.ink, 1.4)):
                p.setPen(QPen(QColor(colour), wide, Qt.PenStyle.SolidLine if solid else Qt.PenStyle.DashLine))
                p.drawPolyline(shown)
        for column, row, across, text in self._rings:
            middle, radius = QPointF(column * scale, row * scale), max(across * scale / 2.0, 5.0) + 3.0
            for colour, wide in ((theme.paper, 3.0), (theme.stop, 1.4)):
                p.setPen(QPen(QColor(colour), wide))
                p.drawEllipse(middle, radius, radius)
            draw_text(p, middle.x() + radius + 3.0, middle.y() + 4.0, text, 12, MEDIUM)
        p.end()


def _shades(theme: Theme) -> list[int]:
    """Return what each of 256 brightnesses looks like: white, or in a dark theme no brighter than its ink.

    A white frame would undo an hour of getting used to the dark.
    """
    ink, paper = QColor(theme.ink), QColor(theme.paper)
    top = ink if ink.lightness() > paper.lightness() else QColor("#ffffff")
    return [QColor(top.red() * n // 255, top.green() * n // 255, top.blue() * n // 255).rgb() for n in range(256)]
