"""Pictures of single parts, kept while scale and theme stay: an edit moves most parts and changes few."""

import math
from collections.abc import Callable

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QPixmap

from farrail.ui.rail.frame import Frame
from farrail.ui.rail.section import Shape

# A part is placed to this share of a pixel; four pictures of it are kept at most.
PHASES = 4
MARGIN_PX = 6.0
MOST_TILES = 600

Draw = Callable[[QPainter, Frame], None]


class Tiles:
    """The pictures of one view."""

    def __init__(self) -> None:
        """Keep nothing yet."""
        self._setting: tuple[object, ...] = ()
        self._tiles: dict[tuple[object, ...], tuple[QPixmap, QPointF]] = {}

    def begin(self, *setting: object) -> None:
        """Forget everything when what all pictures depend on has changed."""
        if setting != self._setting or len(self._tiles) > MOST_TILES:
            self._setting = setting
            self._tiles.clear()

    def paint(self, p: QPainter, frame: Frame, shape: Shape, z0: float, key: tuple[object, ...], draw: Draw) -> None:
        """Paint a part at its place, from its picture where there is one.

        Args:
            p: paints on the view.
            frame: of the view.
            shape: the part's.
            z0: where its end toward the scene is.
            key: what else its picture depends on.
            draw: draws it with a painter through a frame in which its end is at z = 0.
        """
        x = frame.x(z0)
        whole = math.floor(x * PHASES + 0.5)
        pixel, phase = divmod(whole, PHASES)
        found = self._tiles.get((shape, phase, *key))
        if found is None:
            found = self._tiles[shape, phase, *key] = _picture(p, frame, shape, phase / PHASES, draw)
        picture, at = found
        p.drawPixmap(QPointF(pixel + at.x(), at.y()), picture)


def _picture(p: QPainter, frame: Frame, shape: Shape, phase: float, draw: Draw) -> tuple[QPixmap, QPointF]:
    """Return a part's picture, and where its corner is from the pixel at which the part begins."""
    places = [z for z, _ in shape.outline] + [z for lens in shape.elements for z, _ in lens]
    places += [z for z0, z1, _, _ in shape.skirts for z in (z0, z1)]
    left = math.floor(min(places) * frame.scale - MARGIN_PX)
    right = math.ceil(max(places) * frame.scale + 1.0 + MARGIN_PX)
    top = math.floor(max(frame.y(shape.outer_mm), frame.top_px) - MARGIN_PX)
    bottom = math.ceil(frame.axis_px + MARGIN_PX)
    ratio = p.device().devicePixelRatio()
    picture = QPixmap(math.ceil((right - left) * ratio), math.ceil((bottom - top) * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill("transparent")
    painter = QPainter(picture)
    painter.translate(-left, -top)
    own = Frame(frame.scale, phase, frame.axis_px, frame.width_px, frame.height_px, frame.top_px)
    draw(painter, own)
    painter.end()
    return picture, QPointF(left, top)
