"""The frame map: the sensor true to aspect, darkened where light is lost, with lines of equal loss."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.optics.clipping import Array
from farrail.readouts.light import Light
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font

COLUMNS, ROWS = 48, 32


class FrameMap(QWidget):
    """The frame as the train leaves it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty map."""
        super().__init__(parent)
        self.setObjectName("frame_map")
        self.setAccessibleName("Relative illumination over the frame")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._light: Light | None = None
        self._image: tuple[Light, str, QImage] | None = None

    def show_light(self, light: Light | None) -> None:
        """Show another readout."""
        self._light = light
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(220, 170)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(140, 110)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame with its shading and what it means."""
        light, theme = self._light, current_theme()
        if light is None or light.layout.camera is None:
            return
        camera = light.layout.camera
        width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        room = QRectF(0.0, 22.0, self.width(), self.height() - 58.0)
        scale = min(room.width() / width, room.height() / height)
        frame = QRectF(0.0, room.top(), width * scale, height * scale)
        p.drawImage(frame, self._shaded(light, theme.name))
        p.setPen(QPen(QColor(theme.ink), 1.0))
        p.drawRect(frame)
        self._rings(p, light, frame, scale)
        p.setFont(font(11))
        p.setPen(QColor(theme.steel))
        p.drawText(QPointF(0.0, 14.0), "the frame")
        p.drawText(QPointF(0.0, frame.bottom() + 16.0), f"{width:g} × {height:g} mm")
        p.end()

    def _rings(self, p: QPainter, light: Light, frame: QRectF, scale: float) -> None:
        """Draw where each clipping part begins, once a radius, named in the frame's own corner of words."""
        theme, seen = current_theme(), set()
        p.save()
        p.setClipRect(frame)
        for c in light.clearances:
            radius = round(c.onset_mm, 2)
            if not c.clips or radius in seen or radius <= 0.0:
                continue
            seen.add(radius)
            p.setPen(QPen(QColor(theme.stop), 1.0, Qt.PenStyle.DashLine))
            p.drawEllipse(frame.center(), radius * scale, radius * scale)
        p.restore()
        if seen:
            p.setFont(font(11))
            p.setPen(QColor(theme.stop))
            p.drawText(QPointF(0.0, frame.bottom() + 32.0), f"clipped beyond {min(seen):.1f} mm")
        else:
            p.setFont(font(11))
            p.setPen(QColor(theme.good))
            p.drawText(QPointF(0.0, frame.bottom() + 32.0), "clean to the corner")

    def _shaded(self, light: Light, theme_name: str) -> QImage:
        if self._image is None or self._image[0] is not light or self._image[1] != theme_name:
            theme = current_theme()
            bright = _rgb(theme.hatch if theme.dark else theme.panel)
            dark = _rgb(theme.paper if theme.dark else theme.ink)
            # The eye reads stops, not fractions: four stops down is drawn as dark.
            ri = np.clip(1.0 + np.log2(np.maximum(light.map(COLUMNS, ROWS), 1e-6)) / 4.0, 0.0, 1.0)[..., None]
            pixels = np.ascontiguousarray(np.round(dark + (bright - dark) * ri).astype(np.uint8))
            image = QImage(pixels.tobytes(), COLUMNS, ROWS, COLUMNS * 3, QImage.Format.Format_RGB888).copy()
            self._image = (light, theme_name, image)
        return self._image[2]


def _rgb(colour: str) -> Array:
    made = QColor(colour)
    return np.array([made.red(), made.green(), made.blue()], dtype=np.float64)
