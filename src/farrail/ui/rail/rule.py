"""The steel rule on the axis: drawn once for a scale and kept, since most edits leave it as it was."""

from functools import lru_cache

from PySide6.QtCore import QLineF, QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from farrail.language import say
from farrail.lengths import LengthUnit
from farrail.ui.rail.frame import Frame
from farrail.ui.theme.fonts import font, text_width_px
from farrail.ui.theme.tokens import Theme

RULE_ABOVE_PX, RULE_BELOW_PX = 2.0, 30.0
# Small and large steps, the finest first.
STEPS = {
    LengthUnit.MM: ((0.1, 1.0), (0.5, 5.0), (1.0, 10.0), (5.0, 50.0), (10.0, 100.0), (50.0, 500.0)),
    LengthUnit.INCH: ((0.01, 0.1), (0.02, 0.2), (0.05, 0.5), (0.1, 1.0), (0.2, 2.0), (0.5, 5.0), (2.0, 20.0)),
}


@lru_cache(maxsize=4)
def rule_picture(frame: Frame, theme: Theme, ratio: float, unit: LengthUnit) -> QPixmap:
    """Return the axis with its ticks and numbers as wide as the view, its zero at the datum."""
    picture = QPixmap(round(frame.width_px * ratio), round((RULE_ABOVE_PX + RULE_BELOW_PX) * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    p = QPainter(picture)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axis = RULE_ABOVE_PX
    chain = QPen(QColor(theme.steel), 1.2)
    chain.setDashPattern([14, 4, 2, 4])
    p.setPen(chain)
    p.drawLine(QPointF(0, axis), QPointF(frame.width_px, axis))
    each = unit.mm
    small, large = _steps(frame.scale * each, unit)
    first, last = int(frame.z(0.0) / each / small) - 1, int(frame.z(frame.width_px) / each / small) + 1
    p.setFont(font(11))
    p.setPen(QPen(QColor(theme.steel), 1.0))
    ticks, per_large = [], round(large / small)
    for number in range(first, last + 1):
        x = round(frame.x(number * small * each)) + 0.5
        whole, half = number % per_large == 0, 2 * number % per_large == 0
        ticks.append(QLineF(x, axis, x, axis + (10.0 if whole else 7.0 if half else 4.0)))
        if whole and 14.0 < x < frame.width_px - 14.0:
            text = say("{small:g}", small=round(number * small, 6)).replace("-", "−")
            # The datum says what is counted in, where that is not the unit of the trade.
            text = f"0 {unit}" if number == 0 and unit is LengthUnit.INCH else text
            p.drawText(QPointF(x - text_width_px(text, 11) / 2.0, axis + 24.0), text)
    # Upright lines on half pixels need no smoothing, and are crisper without.
    p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    p.drawLines(ticks)
    p.end()
    return picture


def _steps(scale: float, unit: LengthUnit) -> tuple[float, float]:
    """Return the small and the large step of the rule in a unit, so that numbers are at least 45 px apart."""
    *steps, coarsest = STEPS[unit]
    for small, large in steps:
        if large * scale >= 45.0 and small * scale >= 4.0:
            return small, large
    return coarsest
