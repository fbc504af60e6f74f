"""A sky target with its frame or the panels of its mosaic, the camera turned as it is, and what else is near."""

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from farrail.exchange.sky_catalogue import Neighbour, neighbours
from farrail.language import say
from farrail.readouts.field.sky import Framing, sky_place_words
from farrail.ui.background_task import BackgroundTask
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, draw_text, font, text_width_px
from farrail.ui.widgets.read_out import Point, ReadOut

MARGIN_PX = 22.0
# Panels drawn one by one; of more only the outline of all.
MOST_DRAWN = 100
# A neighbour smaller than this is a dot, and has no room for its name.
NAMED_PX = 5.0
# Lengths of a scale bar, in minutes of arc.
BARS_ARCMIN = (1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 60.0, 120.0, 300.0, 600.0, 1200.0)


class MosaicPicture(ReadOut):
    """Draws the frame's panels upright, with the sky turned behind them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Begin without a target."""
        super().__init__(parent)
        self.setObjectName("mosaic")
        self.setAccessibleName(say("Target on the frame"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._framing: Framing | None = None
        self.near: tuple[Neighbour, ...] = ()
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._take)

    def show_framing(self, framing: Framing | None) -> None:
        """Show a target on the train's frame; None shows nothing."""
        self._framing, self.near = framing, ()
        self.setVisible(framing is not None)
        self.work.forget()
        question = self._question()
        if isinstance(question, tuple):
            self.work.begin(lambda _: neighbours(*question))
        self.update()

    def _question(self) -> object:
        framing = self._framing
        if framing is None or framing.target.right_ascension_deg is None or framing.target.declination_deg is None:
            return None
        wide, high = self._whole_mm(framing)
        reach = math.degrees(math.atan(math.hypot(wide, high) / 2.0 / framing.focal_mm))
        return framing.target.right_ascension_deg, framing.target.declination_deg, round(reach, 3)

    def _take(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self.near = answer
        self.update()

    def sizeHint(self) -> QSize:
        """Return a comfortable size."""
        return QSize(360, 220)

    def minimumSizeHint(self) -> QSize:
        """Return the least size that can be read."""
        return QSize(200, 120)

    @staticmethod
    def _whole_mm(framing: Framing) -> tuple[float, float]:
        """Return how wide and high all panels are together, on the sensor's scale."""
        share = 1.0 - framing.target.overlap
        wide, high = framing.sides_mm
        return wide * (1.0 + (framing.columns - 1) * share), high * (1.0 + (framing.rows - 1) * share)

    def _scale(self, framing: Framing) -> float:
        """Return pixels for a mm of the sensor."""
        wide, high = self._whole_mm(framing)
        wide, high = max(wide, framing.across_mm), max(high, framing.down_mm)
        room = self.rect()
        return max(min((room.width() - 2.0 * MARGIN_PX) / wide, (room.height() - 2.0 * MARGIN_PX) / high), 1e-6)

    def points(self) -> list[Point]:
        """Return the middles of the panels, with where each is aimed."""
        framing = self._framing
        if framing is None or len(framing.panels) > MOST_DRAWN:
            return []
        middle, scale = QRectF(self.rect()).center(), self._scale(framing)
        return [
            Point(middle + QPointF(panel.right_mm * scale, -panel.up_mm * scale),
                  say("panel: row {row}, column {column}", row=panel.row, column=panel.column) + (
                      "" if panel.right_ascension_deg is None or panel.declination_deg is None
                      else f": {sky_place_words(panel.right_ascension_deg, panel.declination_deg)}"))
            for panel in framing.panels
        ]  # fmt: skip

    def sentence(self) -> str:
        """Return the target, its panels, and how the camera is turned."""
        framing = self._framing
        if framing is None:
            return ""
        if framing.fits:
            return say("{name} fits one frame; camera turned {angle:.0f}°",
                       name=framing.target.name, angle=framing.camera_deg)  # fmt: skip
        return say(
            "{name}: {columns} × {rows} panels with {overlap:.0f} % overlap; camera turned {angle:.0f}°",
            name=framing.target.name, columns=framing.columns, rows=framing.rows,
            overlap=100.0 * framing.target.overlap, angle=framing.camera_deg,
        )  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the sky, the panels over it, and what it says."""
        framing, theme = self._framing, current_theme()
        if framing is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, scale = QRectF(self.rect()).center(), self._scale(framing)
        p.setBrush(Qt.BrushStyle.NoBrush)
        self._paint_sky(p, middle, scale, framing)
        p.setPen(QPen(QColor(theme.steel), 1.2))
        wide, high = framing.sides_mm
        for panel in framing.panels if len(framing.panels) <= MOST_DRAWN else ():
            box = QRectF(0.0, 0.0, wide * scale, high * scale)
            box.moveCenter(middle + QPointF(panel.right_mm * scale, -panel.up_mm * scale))
            p.drawRect(box)
        p.setFont(font(11, MEDIUM))
        draw_text(p, 4.0, 12.0, self.sentence(), 12, MEDIUM)
        self._paint_bar(p, scale, framing)
        if framing.target.right_ascension_deg is not None:
            self._paint_north(p, framing)
        self.paint_point(p)
        p.end()

    def _paint_sky(self, p: QPainter, middle: QPointF, scale: float, framing: Framing) -> None:
        theme, target = current_theme(), framing.target
        p.save()
        p.setClipRect(self.rect())
        p.translate(middle)
        p.rotate(-framing.camera_deg)
        degree = framing.focal_mm * math.radians(1.0) * scale
        p.setPen(QPen(QColor(theme.steel), 1.0, Qt.PenStyle.DotLine))
        for one in self.near:
            p.save()
            p.translate(one.right_deg * degree, -one.up_deg * degree)
            half = one.width_arcmin / 120.0 * degree, one.height_arcmin / 120.0 * degree
            p.rotate(-one.turned_deg)
            p.drawEllipse(QPointF(0.0, 0.0), max(half[0], 1.5), max(half[1], 1.5))
            p.restore()
        p.rotate(-target.turned_deg)
        p.setPen(QPen(QColor(theme.axis_light), 1.6))
        p.drawEllipse(QPointF(0.0, 0.0), framing.width_mm * scale / 2.0, framing.height_mm * scale / 2.0)
        p.restore()
        turn = math.radians(framing.camera_deg)
        for one in self.near:
            if one.width_arcmin / 120.0 * degree < NAMED_PX:
                continue
            x = (one.right_deg * math.cos(turn) - one.up_deg * math.sin(turn)) * degree
            y = (one.right_deg * math.sin(turn) + one.up_deg * math.cos(turn)) * degree
            at = min(max(middle.x() + x + 5.0, 4.0), self.width() - text_width_px(one.name, 11) - 4.0)
            draw_text(p, at, min(max(middle.y() - y - 3.0, 30.0), self.height() - 24.0), one.name, 11)

    def _paint_bar(self, p: QPainter, scale: float, framing: Framing) -> None:
        """Draw a length of the sky at the foot."""
        minute = framing.focal_mm * math.radians(1.0 / 60.0) * scale
        length = max((one for one in BARS_ARCMIN if one * minute <= self.width() / 3.0), default=BARS_ARCMIN[0])
        text = say("{length:g}′", length=length) if length < 60.0 else say("{length:g}°", length=length / 60.0)
        y, right = self.height() - 7.0, self.width() - 8.0
        left = right - length * minute
        p.setPen(QPen(QColor(current_theme().ink), 1.4))
        p.drawLine(QPointF(left, y), QPointF(right, y))
        for x in (left, right):
            p.drawLine(QPointF(x, y - 3.0), QPointF(x, y + 3.0))
        draw_text(p, left - text_width_px(text, 11) - 6.0, y + 4.0, text, 11)

    def _paint_north(self, p: QPainter, framing: Framing) -> None:
        """Draw where north is, turned as the sky is in the picture; a shorter stroke points east."""
        turn = math.radians(framing.camera_deg)
        foot, north = QPointF(26.0, self.height() - 22.0), QPointF(-math.sin(turn), -math.cos(turn))
        p.setPen(QPen(QColor(current_theme().ink), 1.2))
        p.drawLine(foot, foot + north * 14.0)
        p.drawLine(foot, foot + QPointF(-math.cos(turn), math.sin(turn)) * 8.0)
        tip = foot + north * 21.0
        draw_text(p, tip.x() - 4.0, tip.y() + 4.0, "N", 11, MEDIUM)
