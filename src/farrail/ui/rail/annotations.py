"""What is written on the drawing: names, the rule, dimension lines, and the miss."""

import math
from dataclasses import dataclass

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from farrail import lengths
from farrail.language import say
from farrail.readouts.read import Readout
from farrail.readouts.spacing.grounds import State
from farrail.readouts.spacing.verdict import landing
from farrail.ui.rail.frame import VERDICT_PX, Frame
from farrail.ui.rail.rule import RULE_ABOVE_PX, rule_picture
from farrail.ui.rail.section import Section
from farrail.ui.theme.fonts import MEDIUM, REGULAR, STRONG, draw_text, elided, font, text_width_px
from farrail.ui.theme.tokens import Theme

LABEL_GAP_PX = 12.0
LABEL_WIDEST_PX = 128.0
NAME_BASE_PX = 24.0
LENGTH_BASE_PX = 39.0
# How far a loss moves down at a time, past what is written already.
STEP_DOWN_PX = 3.0


@dataclass
class _Label:
    name: str
    length: str
    centre: float
    width: float
    foot: QPointF
    chosen: bool
    assumed: bool


# Two ends of a required distance farther apart than this say no more than that no one knows it.
HARDLY_KNOWN_MM = 10.0


class Annotator:
    """Writes on one drawing with one theme through one frame."""

    def __init__(self, painter: QPainter, frame: Frame, theme: Theme) -> None:
        """Write on `painter`, which must be active."""
        self._p = painter
        self._f = frame
        self._t = theme

    def write(self, section: Section, readout: Readout, selected: tuple[str, int] | None) -> None:
        """Write names, rule, dimension lines and the miss."""
        self._p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._labels(section, selected)
        self._rule()
        self._dimensions(section, readout)
        self._working_distance(section)
        self._losses(section)

    def write_strip(self, section: Section, readout: Readout, selected: tuple[str, int] | None) -> None:
        """Write beside a drawing that is a strip: the verdict at its right end, and what is picked."""
        p, f, t = self._p, self._f, self._t
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        chain = QPen(QColor(t.steel), 1.0)
        chain.setDashPattern([14, 4, 2, 4])
        p.setPen(chain)
        p.drawLine(QPointF(0.0, f.axis_px), QPointF(f.width_px - VERDICT_PX, f.axis_px))
        verdict = readout.verdict
        loud = verdict.state in (State.SHORT, State.LONG, State.NO_ROOM)
        colour = t.stop if loud else t.good if verdict.met else t.steel
        apart = sum(joint.mismatch is not None for joint in readout.layout.joints)
        text, unless = landing(verdict, apart) if verdict.met else (verdict.mark, "")
        x, y, size = f.width_px - VERDICT_PX + 10.0, f.height_px / 2.0 + 4.0, 18 if loud else 15
        if text:
            self._glyph(x + 7.0, y - size * 0.34, t.look if unless else colour, loud, doubtful=bool(unless))
            p.setPen(QColor(t.look if unless else colour))
            draw_text(p, x + 22.0, y, text, size, STRONG)
        p.setPen(QColor(t.steel))
        small = unless or elided(readout.layout.train.name, 11, REGULAR, VERDICT_PX - 40.0)
        draw_text(p, x + 22.0, y + 19.0, small, 11, REGULAR)
        for body in section.bodies:
            if selected == (body.side.value, body.index):
                p.setPen(QColor(t.accent))
                draw_text(p, 16.0, 20.0, f"{body.name}, {body.length_text}", 12, STRONG)

    # Names

    def _labels(self, section: Section, selected: tuple[str, int] | None) -> None:
        f, p, t = self._f, self._p, self._t
        count = max(len(section.bodies), 1)
        widest = min(LABEL_WIDEST_PX, max((f.width_px - 40.0) / count - LABEL_GAP_PX, 34.0))
        labels = []
        for body in sorted(section.bodies, key=lambda b: b.z0 + b.z1):
            z = (body.z0 + body.z1) / 2.0
            x = f.x(z)
            if x < -30.0 or x > f.width_px + 30.0:
                continue
            width, name = text_width_px(body.name, 12, MEDIUM), body.name
            if width > widest:
                name = elided(body.name, 12, MEDIUM, widest)
                width = text_width_px(name, 12, MEDIUM)
            width = max(width, 38.0)
            foot = QPointF(x, max(f.y(body.outer_mm), f.top_px) - 1.0)
            chosen = selected == (body.side.value, body.index)
            labels.append(_Label(name, body.length_text, x, width, foot, chosen, body.origin == "assumed"))
        _spread(labels, 10.0, f.width_px - 10.0)
        for label in labels:
            p.setPen(QPen(QColor(t.accent if label.chosen else t.hairline), 1.0))
            knee = QPointF(label.centre, LENGTH_BASE_PX + 6.0)
            p.drawPolyline([knee, QPointF(label.centre, LENGTH_BASE_PX + 10.0), label.foot])
            p.setPen(QColor(t.accent if label.chosen else t.ink))
            self._centred(label.centre, NAME_BASE_PX, label.name, 12, STRONG if label.chosen else MEDIUM)
            p.setPen(QColor(t.look if label.assumed else t.steel))
            length = f"{label.length} ?" if label.assumed else label.length
            self._centred(label.centre, LENGTH_BASE_PX, length, 11, REGULAR)

    def _centred(self, x: float, baseline: float, text: str, size_px: int, weight: QFont.Weight) -> None:
        draw_text(self._p, x - text_width_px(text, size_px, weight) / 2.0, baseline, text, size_px, weight)

    def _rule(self) -> None:
        ratio = self._p.device().devicePixelRatio()
        rule = rule_picture(self._f, self._t, ratio, lengths.current())
        self._p.drawPixmap(QPointF(0.0, self._f.axis_px - RULE_ABOVE_PX), rule)

    # Dimension lines and the miss

    def _dimensions(self, section: Section, readout: Readout) -> None:
        spacing, f, t = readout.spacing, self._f, self._t
        if section.sensor_mm is None:
            return
        sensor = f.x(section.sensor_mm)
        first, second = f.axis_px + 44.0, f.axis_px + 70.0
        self._dimension(
            f.x(0.0), sensor, first, say("actual {actual_mm:.2f length}", actual_mm=spacing.actual_mm), t.ink
        )
        if section.required_mm is None or spacing.requirement is None:
            return
        required = f.x(section.required_mm)
        distance = spacing.requirement.distance
        if distance.high - distance.low > HARDLY_KNOWN_MM:
            # Where it should land is hardly known: a range is shown, and no miss is cried out.
            text = say(
                "required {low:g length} to {high:g length}, not known yet", low=distance.low, high=distance.high
            )
            self._dimension(f.x(0.0), required, second, text, t.steel)
            return
        text = say("required {value:.2f length}", value=distance.value)
        if spacing.extension.whole_mm:
            text += say(" + {whole_mm:.2f length} meant", whole_mm=spacing.extension.whole_mm)
        if abs(spacing.shift_mm) >= 0.005:
            text += say(
                " {also} {shift_mm:.2f length} glass",
                also="+" if spacing.shift_mm > 0 else "−",
                shift_mm=abs(spacing.shift_mm),
            )
        self._dimension(f.x(0.0), required, second, text, t.ink)
        self._band(section.required_mm, readout, second)
        self._miss(section, readout, sensor, required, first)

    def _working_distance(self, section: Section) -> None:
        """Write how far the subject is from the foremost glass."""
        close, f = section.close, self._f
        if close is None or not close.shown:
            return
        y = f.axis_px + 44.0
        bare = say("{distance_mm:.1f length}", distance_mm=close.distance_mm)
        ends = section.ends.get("closeup.working_distance_mm")
        if ends is not None and ends[1] - ends[0] >= 0.5:
            low, high = max(ends[0], 0.0), ends[1]
            bare = say("{low:.0f length} to {high:.0f length}", low=low, high=high)
        text = say("working distance {bare}", bare=bare)
        short = f.x(close.glass_mm) - f.x(close.subject_mm) < text_width_px(text, 12, MEDIUM) + 44.0
        self._dimension(
            f.x(close.subject_mm),
            f.x(close.glass_mm),
            y,
            bare if short else text,
            self._t.ink,
        )

    def _band(self, required_mm: float, readout: Readout, y: float) -> None:
        """Mark on the dimension line where the other published figures would put its end."""
        need = readout.spacing.requirement
        band = need.distance.published_band if need is not None else None
        if need is None or band is None:
            return
        ends = [self._f.x(required_mm + figure - need.distance.value) for figure in band]
        colour = QColor(self._t.look)
        self._p.setPen(QPen(colour, 1.0))
        self._p.drawLines([QLineF(x, y - 9.0, x, y + 9.0) for x in ends])
        colour.setAlphaF(0.45)
        self._p.fillRect(QRectF(ends[0], y - 4.0, max(ends[1] - ends[0], 1.5), 8.0), colour)

    def _dimension(self, x0: float, x1: float, y: float, text: str, colour: str) -> None:
        p = self._p
        p.setPen(QPen(QColor(colour), 1.0))
        p.drawLines([QLineF(x, y - 6.0, x, y + 6.0) for x in (x0, x1)])
        width = text_width_px(text, 12, MEDIUM)
        middle = (x0 + x1) / 2.0
        if x1 - x0 > width + 44.0:
            p.drawLines([QLineF(x0, y, middle - width / 2 - 9, y), QLineF(middle + width / 2 + 9, y, x1, y)])
            self._centred(middle, y + 4.5, text, 12, MEDIUM)
        else:
            p.drawLine(QPointF(x0, y), QPointF(x1, y))
            draw_text(p, min(x0, x1) - width - 12.0, y + 4.5, text, 12, MEDIUM)
        # Architects' ticks rather than arrow heads.
        p.setPen(QPen(QColor(colour), 1.8))
        p.drawLines([QLineF(x - 4, y + 4, x + 4, y - 4) for x in (x0, x1)])

    def _miss(self, section: Section, readout: Readout, sensor: float, required: float, y: float) -> None:
        f, p, t = self._f, self._p, self._t
        verdict = readout.verdict
        loud = verdict.state in (State.SHORT, State.LONG, State.NO_ROOM)
        colour = t.stop if loud else t.good if verdict.met else t.steel
        top = f.y(section.half_diagonal_mm + 5.0)
        pen = QPen(QColor(colour), 1.6 if loud else 1.0, Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.drawLine(QPointF(required, top), QPointF(required, y + 32.0))
        if loud:
            band = QColor(t.stop)
            band.setAlphaF(0.20)
            left, right = sorted((sensor, required))
            p.fillRect(QRectF(left, f.axis_px, right - left, y - f.axis_px + 26.0), band)
        if readout.spacing.nothing_entered:
            # A camera no one has said anything of is drawn where the optic needs it: that is no verdict.
            p.setPen(QColor(t.steel))
            draw_text(p, max(sensor, required) + 16.0, y, say("no distances entered yet"), 12)
            return
        x = max(sensor, required) + 16.0
        size = 22 if loud else 14
        apart = sum(joint.mismatch is not None for joint in readout.layout.joints)
        text, unless = landing(verdict, apart) if verdict.met else (verdict.mark, "")
        tolerance, need = readout.spacing.tolerance_mm, readout.spacing.requirement
        small = ""
        if tolerance is not None:
            small = say("allowed ±{tolerance:.2f mm}", tolerance=tolerance)
        elif need is not None and need.is_lens:
            meant = readout.spacing.extension.tubes_mm
            small = say("extension as intended") if meant else say("focusing corrects too short, not too long")
        if unless:
            small, colour = unless, t.look
        if x + 20.0 + text_width_px(small, 11, REGULAR) > f.width_px - 8.0:
            small = ""
        room = f.width_px - text_width_px(text, size, STRONG) - 36.0
        if x > room + 8.0 and not loud:
            # No room beside the sensor: under both dimension lines, where nothing is crossed.
            y, small = f.axis_px + 92.0, ""
        x = min(x, room)
        self._glyph(x + 7.0, y - size * 0.28, colour, loud, doubtful=bool(unless))
        p.setPen(QColor(colour))
        draw_text(p, x + 20.0, y + size * 0.08, text, size, STRONG)
        if small:
            p.setPen(QColor(t.steel))
            draw_text(p, x + 20.0, y + 19.0, small, 11)

    def _glyph(self, x: float, y: float, colour: str, loud: bool, *, doubtful: bool) -> None:
        """Draw the state's shape: a diamond for a miss, a triangle for joints apart, a tick for a landing."""
        p = self._p
        if doubtful:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(colour))
            p.drawPolygon(QPolygonF([QPointF(x, y - 7), QPointF(x + 7, y + 6), QPointF(x - 7, y + 6)]))
            p.setBrush(Qt.BrushStyle.NoBrush)
            return
        if loud:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(colour))
            p.drawPolygon(QPolygonF([QPointF(x, y - 7), QPointF(x + 7, y), QPointF(x, y + 7), QPointF(x - 7, y)]))
            p.setBrush(Qt.BrushStyle.NoBrush)
        else:
            p.setPen(QPen(QColor(colour), 2.0))
            p.drawPolyline([QPointF(x - 5, y), QPointF(x - 1, y + 4), QPointF(x + 6, y - 5)])

    def _losses(self, section: Section) -> None:
        """Write the loss beside each notch, below what is written there already."""
        f, p, t = self._f, self._p, self._t
        p.setFont(font(11, STRONG))
        p.setPen(QColor(t.stop))
        written: list[QRectF] = []
        for notch in section.notches:
            if notch.stops < 0.005:
                continue
            text = say("dark") if notch.stops == float("inf") else say("−{stops:.2f} stops", stops=notch.stops)
            ends = section.ends.get(notch.figure)
            if ends is not None and ends[1] - ends[0] >= 0.05 and ends[1] < float("inf"):
                text = say("−{low:.1f} to {high:.1f} stops", low=ends[0], high=ends[1])
            at = f.point(notch.z_mm, notch.radius_mm) + QPointF(9.0, 18.0)
            size = QFontMetricsF(p.font()).boundingRect(text).adjusted(-3, -1, 3, 1)
            at += QPointF(0.0, _down_px(size.translated(at), written))
            written.append(size.translated(at))
            p.fillRect(written[-1], QColor(t.panel))
            p.drawText(at, text)


def _down_px(box: QRectF, written: list[QRectF]) -> float:
    """Return how far down a box goes, in steps, until it is on nothing written."""
    top = box.top()
    beside = [other for other in written if other.left() < box.right() and box.left() < other.right()]
    for other in sorted(beside, key=QRectF.top):
        if top < other.bottom() and other.top() < top + box.height():
            top += STEP_DOWN_PX * math.ceil((other.bottom() - top) / STEP_DOWN_PX)
    return top - box.top()


def _spread(labels: list[_Label], left: float, right: float) -> None:
    """Move label centres apart until none overlaps, each as near its part as may be.

    Labels that would overlap are joined into blocks, each centred on the mean of what its members want.
    """
    blocks: list[_Block] = []
    for label in labels:
        block = _Block([label], label.width, label.foot.x() - label.width / 2.0)
        while blocks and blocks[-1].end(left, right) + LABEL_GAP_PX > block.start(left, right):
            block = blocks.pop().joined(block)
        blocks.append(block)
    for block in blocks:
        x = block.start(left, right)
        for label in block.labels:
            label.centre = x + label.width / 2.0
            x += label.width + LABEL_GAP_PX


@dataclass
class _Block:
    """Labels side by side: their width with the gaps, and the sum of where each wants the block to begin."""

    labels: list[_Label]
    width: float
    wanted: float

    def start(self, left: float, right: float) -> float:
        """Return where it begins."""
        return max(min(self.wanted / len(self.labels), right - self.width), left)

    def end(self, left: float, right: float) -> float:
        """Return where it ends."""
        return self.start(left, right) + self.width

    def joined(self, other: "_Block") -> "_Block":
        """Return both as one; what the other's labels want is counted from the new beginning."""
        before = self.width + LABEL_GAP_PX
        wanted = self.wanted + other.wanted - before * len(other.labels)
        return _Block([*self.labels, *other.labels], before + other.width, wanted)


def paint_not_current(painter: QPainter, area: QRectF, theme: Theme) -> None:
    """Pale what is no longer true, and say so."""
    pale = QColor(theme.paper)
    pale.setAlphaF(0.72)
    painter.fillRect(area, pale)
    painter.setPen(QColor(theme.stop))
    draw_text(
        painter,
        22.0,
        area.bottom() - 14.0,
        say("◆  Not current: the drawing is from before the last change"),
        12,
        STRONG,
    )
