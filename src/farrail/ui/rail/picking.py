"""Find the part under the pointer, and the place of a part or joint in the drawing."""

from PySide6.QtCore import QRectF

from farrail.train.train import Side
from farrail.ui.rail.frame import Frame
from farrail.ui.rail.section import Body, Section

PICK_PX = 6.0
JOINT_BAND_PX = 12.0


def body_under(section: Section, frame: Frame, x_px: float) -> Body | None:
    """Return the part drawn in a column of pixels, thin ones with some grace."""
    hits = []
    for body in section.bodies:
        left, right = frame.x(body.z0), frame.x(body.z1)
        grace = max(0.0, PICK_PX - (right - left) / 2.0)
        if body.index >= 0 and left - grace <= x_px <= right + grace:
            hits.append((abs(x_px - (left + right) / 2.0) if grace else right - left, body))
    return min(hits, key=lambda hit: hit[0])[1] if hits else None


def place_of(section: Section, frame: Frame, side: Side, index: int, *, joint: bool) -> QRectF | None:
    """Return where a part, or the joint before it, is drawn, in pixels; None where it is not."""
    if joint:
        for on, number, z, _ in section.joints:
            if (on, number) == (side, index):
                return QRectF(frame.x(z) - JOINT_BAND_PX, frame.axis_px - JOINT_BAND_PX,
                              2.0 * JOINT_BAND_PX, 2.0 * JOINT_BAND_PX)  # fmt: skip
        return None
    for body in section.bodies:
        if (body.side, body.index) == (side, index):
            left, top = frame.x(body.z0), max(frame.y(body.outer_mm), frame.top_px)
            return QRectF(left, top, max(frame.x(body.z1) - left, 2.0), max(frame.axis_px - top, 2.0))
    return None
