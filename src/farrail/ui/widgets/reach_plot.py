"""The reach picture: magnification against working distance, a band for each combination the shelf allows."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail import lengths
from farrail.language import say, say_n
from farrail.lengths import LengthUnit
from farrail.planning.reach import DRIVES, Reach
from farrail.quantities import unit_word
from farrail.readouts.names import scale_name
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.axes import Axes, Scale, dot, note
from farrail.ui.widgets.read_out import Point, ReadOut

LEFT, RIGHT, TOP, BOTTOM = 46.0, 8.0, 18.0, 34.0
DISTANCES_MM = (5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0)
# What is written below the scale, in the unit lengths are shown in.
DISTANCES = {LengthUnit.MM: DISTANCES_MM, LengthUnit.INCH: (0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)}
SIZES = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0)
# Shared by many bands, lines are drawn thinly, so that where they are close together shows.
BAND_ALPHA = 0.55
FEW_AHEAD = 1
# How near the pointer must come to a band to be on it.
NEAR_PX = 14.0


@dataclass(frozen=True)
class Current:
    """The train's own band, (K,) each, and where on it the train is focused."""

    magnification: np.ndarray
    distance_mm: np.ndarray
    at: tuple[float, float]


class ReachPlot(ReadOut):
    """Bands over two logarithmic scales; the pointer reads one point of a band."""

    # The pointer came upon a band or left them all: the combination's number and its drive, or −1 and 0.
    hovered = Signal(int, float)
    # A band was clicked, likewise.
    picked = Signal(int, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty plot."""
        super().__init__(parent)
        self.setObjectName("reach_plot")
        self.setAccessibleName(say("Magnification against working distance for each combination of the shelf"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)
        self._reach: Reach | None = None
        self._current: Current | None = None
        self._own = np.zeros(0, dtype=bool)
        self._needed_mm = 0.0
        self._under: tuple[int, int] | None = None
        self._kept: tuple[Hashable, QPixmap] | None = None

    def show_reach(self, reach: Reach | None, lens: str) -> None:
        """Show other bands; those of the train's own lens are highlighted."""
        if reach is not self._reach:
            self._reach, self._kept = reach, None
        combinations = () if reach is None else reach.combinations
        # Those of the train's own lens are highlighted, as long as no one would shrug at so many lenses on one another.
        self._own = np.array([c.lens.id == lens and len(c.ahead) <= FEW_AHEAD for c in combinations], dtype=bool)
        self._under = None
        self.update()

    def show_current(self, current: Current | None, needed_mm: float) -> None:
        """Show the train's own band, and hatch what is nearer than `needed_mm`."""
        self._current, self._needed_mm = current, needed_mm
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(300, 190)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(200, 130)

    # Scales

    def _axes(self) -> Axes:
        """Return scales of magnification and distance that hold what is shown."""
        sizes, distances = [], []
        if self._reach is not None:
            sizes.append(self._reach.magnification.ravel())
            distances.append(self._reach.distance_mm.ravel())
        if self._current is not None:
            sizes.append(self._current.magnification)
            distances.append(self._current.distance_mm)
        area = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        return Axes(area, _ends(distances, DISTANCES_MM), _ends(sizes, SIZES))

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint scales, hatch, bands and the point under the pointer."""
        if self._reach is None and self._current is None:
            return
        axes = self._axes()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.drawPixmap(0, 0, self._still(axes))
        self._hatch(p, axes)
        p.save()
        p.setClipRect(axes.area)
        self._lines(p, axes)
        p.restore()
        self._point(p, axes)
        p.end()

    def _still(self, axes: Axes) -> QPixmap:
        """Return scales, bands and gaps, drawn once: a thousand lines take longer than a moving hand waits."""
        ratio, theme = self.devicePixelRatioF(), current_theme()
        key = (self._own.tobytes(), self.width(), self.height(), ratio, theme.name, axes.x, axes.y, lengths.current())
        if self._kept is None or self._kept[0] != key:
            picture = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            p = QPainter(picture)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            # A strip beside the scale shows what is reached; the labels are clear of it.
            sizes = ((size, scale_name(size)) for size in SIZES if axes.y.holds(size))
            axes.levels(p, sizes, strong=1.0, clear_px=12.0)
            axes.feet(p, DISTANCES[lengths.current()], ticked=True, each=lengths.current().mm)
            axes.titles(p, say("working distance, {unit}", unit=unit_word("mm")), say("size"))
            p.save()
            p.setClipRect(axes.area)
            self._bands(p, axes)
            p.restore()
            self._gaps(p, axes)
            p.end()
            self._kept = key, picture
        return self._kept[1]

    def _hatch(self, p: QPainter, axes: Axes) -> None:
        """Hatch the distances at which hood or shadow are in the way."""
        area, theme = axes.area, current_theme()
        if self._needed_mm <= axes.x.low:
            return
        end = min(self._needed_mm, axes.x.high)
        right = float(axes.across(end))
        colour = QColor(theme.look)
        colour.setAlphaF(0.35)
        p.save()
        p.setClipRect(QRectF(area.left(), area.top(), right - area.left(), area.height()))
        p.setPen(QPen(colour, 1.0))
        x = area.left() - area.height()
        while x < right:
            p.drawLine(QPointF(x, area.bottom()), QPointF(x + area.height(), area.top()))
            x += 8.0
        p.restore()
        axes.upright(p, end, theme.look, Qt.PenStyle.DotLine)
        p.setFont(font(11, MEDIUM))
        text = say("under {needed_mm:.0f mm} no room for light", needed_mm=self._needed_mm)
        left = min(right + 5.0, area.right() - p.fontMetrics().horizontalAdvance(text))
        note(p, QPointF(left, area.top() + 12.0), text, theme.look, theme.paper)

    def _bands(self, p: QPainter, axes: Axes) -> None:
        theme, reach = current_theme(), self._reach
        if reach is not None and len(reach.combinations):
            for own, shade, alpha in ((False, theme.hairline, 1.0), (True, theme.steel, BAND_ALPHA)):
                colour = QColor(shade)
                colour.setAlphaF(alpha)
                p.setPen(QPen(colour, 1.0))
                for number in np.flatnonzero(self._own == own):
                    p.drawPolyline(_band(axes, reach.magnification[number], reach.distance_mm[number]))

    def _lines(self, p: QPainter, axes: Axes) -> None:
        """Draw what moves: the band under the pointer, and the train's own."""
        theme, reach = current_theme(), self._reach
        if reach is not None and self._under is not None:
            index = self._under[0]
            p.setPen(QPen(QColor(theme.accent), 2.0))
            p.drawPolyline(_band(axes, reach.magnification[index], reach.distance_mm[index]))
        if self._current is not None:
            p.setPen(QPen(QColor(theme.corner_light), 3.0))
            p.drawPolyline(_band(axes, self._current.magnification, self._current.distance_mm))

    def _gaps(self, p: QPainter, axes: Axes) -> None:
        """Mark beside the scale which magnifications are reached, with a break where none is."""
        reach, theme = self._reach, current_theme()
        if reach is None or not len(reach.combinations):
            return
        values = reach.magnification[np.isfinite(reach.magnification) & (reach.magnification > 0.0)]
        if not values.size:
            return
        x = axes.area.left() - 5.0
        p.setPen(QPen(QColor(theme.good), 3.0, c=Qt.PenCapStyle.FlatCap))
        ends = [max(float(values.min()), axes.y.low)]
        for low, high in reach.gaps:
            ends += [low, high]
        ends.append(float(values.max()))
        for low, high in zip(ends[::2], ends[1::2], strict=True):
            p.drawLine(QPointF(x, float(axes.down(low))), QPointF(x, float(axes.down(high))))

    def _point(self, p: QPainter, axes: Axes) -> None:
        theme, reach, area = current_theme(), self._reach, axes.area
        if self._current is not None and self._current.at[0] > 0.0:
            size, distance = self._current.at
            dot(p, axes.at(distance, size), theme.corner_light, 5.0)
        if self._under is None or reach is None:
            return
        index, step = self._under
        size, distance = float(reach.magnification[index, step]), float(reach.distance_mm[index, step])
        at = axes.at(distance, size)
        dot(p, at, theme.accent, 4.0)
        p.setFont(font(11, MEDIUM))
        room = int(area.width() - 8.0)
        name = p.fontMetrics().elidedText(reach.combinations[index].words, Qt.TextElideMode.ElideMiddle, room)
        told = say(
            "{scale_name}, {distance:.0f mm} away, {stops:.1f} stops",
            scale_name=scale_name(size),
            distance=distance,
            stops=reach.stops[index, step],
        )
        wide = max(p.fontMetrics().horizontalAdvance(text) for text in (name, told))
        x = min(max(at.x() + 10.0, area.left()), area.right() - wide - 6.0)
        y = at.y() - 24.0 if at.y() > area.top() + 46.0 else at.y() + 22.0
        p.fillRect(QRectF(x - 4.0, y - 12.0, wide + 8.0, 32.0), QColor(theme.panel))
        p.setPen(QColor(theme.ink))
        p.drawText(QPointF(x, y), name)
        p.setPen(QColor(theme.steel))
        p.drawText(QPointF(x, y + 14.0), told)

    # Hands

    def point_at(self, at: QPointF) -> tuple[int, int] | None:
        """Return the combination and the place of its band under a point; None where there is none."""
        reach = self._reach
        if reach is None or not len(reach.combinations):
            return None
        axes = self._axes()
        x, y = axes.across(reach.distance_mm), axes.down(reach.magnification)
        far = np.hypot(x - at.x(), y - at.y())
        far = np.where(np.isnan(far), np.inf, far)
        index, step = np.unravel_index(int(np.argmin(far)), far.shape)
        return (int(index), int(step)) if far[index, step] <= NEAR_PX else None

    def pixel_of(self, index: int, step: int) -> QPointF:
        """Return where a place of a band is."""
        assert self._reach is not None
        return self._axes().at(
            float(self._reach.distance_mm[index, step]), float(self._reach.magnification[index, step])
        )

    def _read_places(self) -> list[tuple[int, int]]:
        """Return each combination with the middle of what it has in focus, the nearest first."""
        reach = self._reach
        if reach is None or not len(reach.combinations):
            return []
        there = np.isfinite(reach.distance_mm) & np.isfinite(reach.magnification) & (reach.magnification > 0.0)
        places = [
            (int(n), int(steps[len(steps) // 2])) for n in range(len(there)) if len(steps := np.flatnonzero(there[n]))
        ]
        return sorted(places, key=lambda place: float(reach.distance_mm[place]))

    def points(self) -> list[Point]:
        """Return the combinations, the nearest first."""
        reach = self._reach
        return (
            []
            if reach is None
            else [
                Point(
                    self.pixel_of(*at),
                    say(
                        "{words}: {scale_name}, {distance_mm:.0f mm} away, {stops:.1f} stops",
                        words=reach.combinations[at[0]].words,
                        scale_name=scale_name(float(reach.magnification[at])),
                        distance_mm=float(reach.distance_mm[at]),
                        stops=float(reach.stops[at]),
                    ),
                )
                for at in self._read_places()
            ]
        )

    def sentence(self) -> str:
        """Return how many combinations there are."""
        count = len(self._read_places())
        return (
            say_n("{count} combination of the shelf", "{count} combinations of the shelf", count, count=count)
            if count
            else ""
        )

    def arrived(self, number: int) -> None:
        """Read the band as the pointer does."""
        places = self._read_places()
        self._look(places[number] if 0 <= number < len(places) else None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter picks the band that is read."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._under is not None:
            self._tell(self.picked.emit, self._under)
            return
        super().keyPressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Read the band under the pointer."""
        self._look(self.point_at(event.position()))

    def leaveEvent(self, event: QEvent) -> None:
        """Nothing is under the pointer any more."""
        self._look(None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Pick the band under the pointer."""
        if event.button() == Qt.MouseButton.LeftButton:
            self._tell(self.picked.emit, self.point_at(event.position()))

    def _look(self, under: tuple[int, int] | None) -> None:
        if under != self._under:
            self._under = under
            self._tell(self.hovered.emit, under)
            self.update()

    def _tell(self, emit: Callable[[int, float], None], under: tuple[int, int] | None) -> None:
        emit(*((-1, 0.0) if under is None else (under[0], float(DRIVES[under[1]]))))


def _band(axes: Axes, size: np.ndarray, distance: np.ndarray) -> QPolygonF:
    """Return the line of a band, (K,) each; where nothing is in focus it has no place."""
    return axes.line(distance, np.where(size > 0.0, size, np.nan))


def _ends(values: list[np.ndarray], marks: tuple[float, ...]) -> Scale:
    """Return a scale between the marks around finite positive values, the widest where there are none."""
    flat = np.concatenate(values) if values else np.zeros(0)
    flat = flat[np.isfinite(flat) & (flat > 0.0)]
    if not flat.size:
        return Scale(marks[0], marks[-1], logarithmic=True)
    low = max((m for m in marks if m <= flat.min()), default=marks[0])
    high = min((m for m in marks if m >= flat.max()), default=marks[-1])
    return Scale(low, high if high > low else low * 10.0, logarithmic=True)
