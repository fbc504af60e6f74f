"""The frame map: the picture as the camera displays it, darkened where light is lost, with lines of equal loss.

A quick map follows the hand; a fine one is made in small chunks once the hand rests.
"""

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.language import say
from farrail.optics.clipping import Array
from farrail.optics.contours import equal_loss_lines
from farrail.optics.illumination import GRID_ROWS, enlarged
from farrail.readouts.front.graduated_light import graduated_map
from farrail.readouts.front.model import Front
from farrail.readouts.light.aperture_images import sensor_offset
from farrail.readouts.light.model import Light
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.frame_overlays import (
    draw_cover,
    draw_graduated,
    draw_target,
    hatch_regions,
    name_regions,
    size_words,
)
from farrail.ui.widgets.read_out import Point, ReadOut

QUICK, FINE, REGIONS = (48, 32), (384, 256), (72, 48)
# Lines drawn over the shading.
SHADING_STOPS = (0.1, 0.25, 0.5, 1.0, 2.0, 4.0)
REST_MS, CHUNK_ROWS = 90, 7
ABOVE, BELOW = 22.0, 38.0
# So many places of the picture are read by key.
READ_COLUMNS, READ_ROWS = 9, 7
GRADUATED_COLUMNS, GRADUATED_ROWS = 41, 81


class FrameMap(ReadOut):
    """The picture as the train leaves it."""

    # The pointer is over a place of the sensor, (right, up) in mm from the axis seen from behind; None: it has left.
    probed = Signal(tuple)
    # Room above and below the picture for what is written there.
    above_px, below_px = ABOVE, BELOW
    # Whether lines say where a graduated filter costs a stop; a photo shows the filter itself.
    graduated_lines = True

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty map."""
        super().__init__(parent)
        self.setObjectName("frame_map")
        self.setAccessibleName(say("Relative illumination over the picture"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)
        self.natural = False
        self.regions = True
        self._light: Light | None = None
        self._ri: Array | None = None
        self._fine = False
        self._rows: list[Array] = []
        self._image: tuple[str, QImage] | None = None
        self._lines: list[tuple[float, list[Array]]] = []
        self._who: np.ndarray | None = None
        self._graduated: Array | None = None
        self._read: tuple[object, list[Point]] | None = None
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(self._refine)

    def show_light(self, light: Light | None) -> None:
        """Show another readout: quickly now, finely once the hand rests."""
        if light is not self._light:
            self._light = light
            front = Front(light.layout, light.near) if light is not None and self.graduated_lines else None
            self._graduated = None if front is None else graduated_map(front, GRADUATED_COLUMNS, GRADUATED_ROWS)
            self._begin()

    def set_natural(self, wanted: bool) -> None:
        """Show the natural falloff too, or not."""
        self.natural = wanted
        self._begin()

    def _begin(self) -> None:
        self._ri, self._fine, self._rows, self._who, self._image = None, False, [], None, None
        self._lines = []
        self._rest.start(REST_MS)
        self.update()

    def finish(self) -> None:
        """Make the fine map now, as for a picture."""
        while self._light is not None and not self._fine:
            self._refine()
        self._rest.stop()

    def _refine(self) -> None:
        """Make the next chunk of the fine map."""
        light = self._light
        if light is None or light.layout.camera is None:
            self._fine = True
            return
        if light.centred and sensor_offset(light.layout) == (0.0, 0.0):
            self._take(light.map(*FINE, natural=self.natural))
            return
        done = sum(len(rows) for rows in self._rows)
        if done < GRID_ROWS:
            self._rows.append(light.grid_rows(done, min(done + CHUNK_ROWS, GRID_ROWS)))
            self._rest.start(0)
            return
        ri = enlarged(np.concatenate(self._rows), *FINE)
        self._take(ri * light.natural(*FINE) if self.natural else ri)

    def _take(self, ri: Array) -> None:
        self._ri, self._fine, self._image = ri, True, None
        self._lines = equal_loss_lines(ri)
        self._who = self._light.clipping_map(*REGIONS) if self._light is not None else None
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(240, 190)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(150, 120)

    def _frame(self) -> tuple[QRectF, float]:
        """Return where the picture is, and pixels per mm."""
        assert self._light is not None
        camera = self._light.layout.camera
        assert camera is not None
        width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
        room = max(self.height() - self.above_px - self.below_px, 20.0)
        scale = min(self.width() / width, room / height)
        return QRectF(0.5, self.above_px, width * scale - 1.0, height * scale - (0.0 if self.below_px else 1.0)), scale

    def _place(self, at: QPointF) -> tuple[float, float] | None:
        """Return the place on the sensor a point of the picture shows; None beside the picture."""
        if self._light is None or self._light.layout.camera is None:
            return None
        frame, scale = self._frame()
        if not frame.contains(at):
            return None
        right, up = sensor_offset(self._light.layout)
        # The picture is the sensor turned by half a turn.
        return right - (at.x() - frame.center().x()) / scale, up + (at.y() - frame.center().y()) / scale

    @property
    def columns(self) -> int:
        """Places are read in a field."""
        return READ_COLUMNS

    def points(self) -> list[Point]:
        """Return places of the picture, row by row from its top left."""
        light = self._light
        if light is None or light.layout.camera is None:
            return []
        key = (id(light), self.width(), self.height())
        if self._read is None or self._read[0] != key:
            self._read = key, self._points_of(light)
        return self._read[1]

    def _points_of(self, light: Light) -> list[Point]:
        frame, scale = self._frame()
        spots = [
            frame.topLeft()
            + QPointF(frame.width() * x / (READ_COLUMNS - 1), frame.height() * y / (READ_ROWS - 1))
            for y in range(READ_ROWS) for x in range(READ_COLUMNS)
        ]  # fmt: skip
        right, up = sensor_offset(light.layout)
        away = [(at.x() - frame.center().x(), frame.center().y() - at.y()) for at in spots]
        places = np.array([(right - x / scale, up - y / scale) for x, y in away])
        share = light.light_at(places)
        return [
            Point(
                at,
                say(
                    "{side}, {side_2}: {s:.0f} %",
                    side=_side(x / scale, say("right"), say("left")),
                    side_2=_side(y / scale, say("up"), say("down")),
                    s=100.0 * s,
                ),
            )
            for at, (x, y), s in zip(spots, away, share.tolist(), strict=True)
        ]

    def sentence(self) -> str:
        """Return what the corners keep and what is clean."""
        light = self._light
        if light is None or light.corner_ri is None:
            return ""
        if light.tightest is None:
            return self.clean_words()
        clean = (
            ""
            if light.clean_mm is None
            else say(
                "; vignetting-free crop {clean_mm:.1f length} × {clean_mm_2:.1f mm}",
                clean_mm=light.clean_mm[0],
                clean_mm_2=light.clean_mm[1],
            )
        )
        return say("Corner illumination {corner_ri:.0f} %{clean}", corner_ri=100.0 * light.corner_ri, clean=clean)

    def arrived(self, number: int) -> None:
        """Draw the bundle of the place on the rail, as under the pointer."""
        points = self.points() if number >= 0 else []
        inside = self._frame()[0].adjusted(0.01, 0.01, -0.01, -0.01) if points else QRectF()
        if not points:
            self.probed.emit(None)
            return
        at = points[number].at
        held = QPointF(min(max(at.x(), inside.left()), inside.right()), min(max(at.y(), inside.top()), inside.bottom()))
        self.probed.emit(self._place(held))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Say which place of the sensor is under the pointer."""
        self.probed.emit(self._place(event.position()))

    def leaveEvent(self, event: QEvent) -> None:
        """The pointer has left."""
        self.probed.emit(None)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the picture with its shading and what it means."""
        light, theme = self._light, current_theme()
        if light is None or light.layout.camera is None:
            return
        frame, scale = self._frame()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.drawImage(frame, self.base_image())
        p.save()
        p.setClipRect(frame)
        self.draw_marks(p, frame, scale)
        draw_target(p, frame, scale, light.layout)
        p.restore()
        p.setPen(QPen(QColor(theme.ink), 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(frame)
        if self.below_px:
            self._write_around(p, frame, light)
        self.paint_point(p)
        p.end()

    def base_image(self) -> QImage:
        """What the marks are drawn over: the light alone."""
        return self._shaded(current_theme().name)

    def draw_marks(self, p: QPainter, frame: QRectF, scale: float) -> None:
        """Draw where light is lost, and to what."""
        light = self._light
        assert light is not None
        if self.regions and self._who is not None:
            hatch_regions(p, frame, self._who)
        self._draw_lines(p, frame)
        for image in light.images:
            if image.passes is not None and not image.front:
                draw_cover(p, frame, scale, light, image)
        if self._fine:
            self._clean(p, frame, light)
        if self._graduated is not None:
            draw_graduated(p, frame, self._graduated)
        if self.regions and self._who is not None:
            name_regions(p, frame, self._who, light)

    def _write_around(self, p: QPainter, frame: QRectF, light: Light) -> None:
        theme, camera = current_theme(), light.layout.camera
        assert camera is not None
        # Where the camera's top is: a shadow from above falls on the picture's bottom.
        p.setBrush(QColor(theme.steel))
        p.setPen(Qt.PenStyle.NoPen)
        top = QPointF(frame.center().x(), frame.top() - 4.0)
        p.drawPolygon(QPolygonF([top, top + QPointF(-4.0, -6.0), top + QPointF(4.0, -6.0)]))
        p.setFont(font(11))
        p.setPen(QColor(theme.steel))
        p.drawText(QPointF(frame.center().x() + 9.0, frame.top() - 4.0), say("picture's top"))
        p.drawText(QPointF(4.0, frame.bottom() + 15.0), size_words(camera))
        if self._fine:
            p.setPen(QColor(theme.good if self._clean_throughout(light) else theme.stop))
            p.drawText(QPointF(4.0, frame.bottom() + 30.0), self.clean_words())

    def _clean_throughout(self, light: Light) -> bool:
        clean, camera = light.clean_mm, light.layout.camera
        return camera is None or clean is None or clean[0] >= camera.sensor_width_mm.value - 1e-6

    def clean_words(self) -> str:
        """Return what of the picture is free of vignetting."""
        light = self._light
        if light is None:
            return ""
        if light.tightest is None:
            return say("vignetting not judged: no clear aperture is known")
        clean = light.clean_mm
        if clean is None or self._clean_throughout(light):
            return say("free of vignetting to the corner")
        return say("vignetting-free crop {clean:.1f length} × {clean_2:.1f mm}", clean=clean[0], clean_2=clean[1])

    def _clean(self, p: QPainter, frame: QRectF, light: Light) -> None:
        clean, camera = light.clean_mm, light.layout.camera
        if clean is None or camera is None or clean[0] >= camera.sensor_width_mm.value - 1e-6:
            return
        share = clean[0] / camera.sensor_width_mm.value
        box = QRectF(0.0, 0.0, frame.width() * share, frame.height() * share)
        box.moveCenter(frame.center())
        p.setPen(QPen(QColor(current_theme().good), 1.0, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)

    def _draw_lines(self, p: QPainter, frame: QRectF) -> None:
        theme = current_theme()
        p.setFont(font(10, MEDIUM))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for level, lines in self._lines:
            if level not in SHADING_STOPS:
                continue
            for line in lines:
                path = QPainterPath()
                points = [QPointF(frame.left() + x * frame.width(), frame.top() + y * frame.height()) for x, y in line]
                path.addPolygon(QPolygonF(points))
                p.setPen(QPen(QColor(theme.stop), 1.0))
                p.drawPath(path)
            longest = max(lines, key=len)
            x, y = longest[len(longest) // 2]
            at = QPointF(frame.left() + x * frame.width() - 9.0, frame.top() + y * frame.height() + 4.0)
            text = say("{level:g}", level=level)
            box = p.fontMetrics().boundingRect(text).translated(at.toPoint()).adjusted(-2, 0, 2, 0)
            if frame.contains(QRectF(box)):
                p.fillRect(box, QColor(theme.panel))
                p.setPen(QColor(theme.stop))
                p.drawText(at, text)

    def _shaded(self, theme_name: str) -> QImage:
        if self._image is None or self._image[0] != theme_name:
            theme = current_theme()
            assert self._light is not None
            if self._ri is None:
                self._ri = self._light.map(*QUICK, natural=self.natural, quick=True)
            rows, columns = self._ri.shape
            bright = _rgb(theme.hatch if theme.dark else theme.panel)
            dark = _rgb(theme.paper if theme.dark else theme.ink)
            # The eye reads stops, not fractions: four stops down is drawn as dark.
            ri = np.clip(1.0 + np.log2(np.maximum(self._ri, 1e-6)) / 4.0, 0.0, 1.0)[..., None]
            # A hair above the half: a value that is just on it comes out the same on every run.
            pixels = np.ascontiguousarray(np.floor(dark + (bright - dark) * ri + 0.500001).astype(np.uint8))
            image = QImage(pixels.tobytes(), columns, rows, columns * 3, QImage.Format.Format_RGB888).copy()
            self._image = (theme_name, image)
        return self._image[1]


def _side(mm: float, more: str, less: str) -> str:
    """Return how far from the middle, and which way."""
    return (
        say("{mm:.1f mm}", mm=0.0)
        if abs(mm) < 0.05
        else say("{mm:.1f mm} {also}", mm=abs(mm), also=more if mm > 0.0 else less)
    )


def _rgb(colour: str) -> Array:
    made = QColor(colour)
    return np.array([made.red(), made.green(), made.blue()], dtype=np.float64)
