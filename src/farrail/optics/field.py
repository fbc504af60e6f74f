"""What the frame covers: angle of view, pixel scale, and a frame against an image circle.

Angle of view 2·atan(d/2f) of a rectilinear lens and the pixel scale 206.265·p/f follow from the definition of the
angle; the area of a rectangle inside a circle is plane geometry.
"""

import math

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.units import mm_to_micrometres

FIELD_SOURCE = N_("rectilinear projection h = f·tan θ")
ARCSECONDS_PER_RADIAN = 180.0 * 3600.0 / math.pi
CIRCLE_SOURCE = N_("plane geometry of a rectangle about the centre of a circle")


def angle_of_view_deg(side_mm: float, focal_length_mm: float) -> float:
    """Return the angle a side of the frame covers, in degrees.

    Raises:
        BadInput: side or focal length not above zero.
    """
    _positive(side_mm, say("side of the frame"))
    _positive(focal_length_mm, say("focal length"))
    return math.degrees(2.0 * math.atan(side_mm / (2.0 * focal_length_mm)))


def pixel_scale_arcsec(pixel_mm: float, focal_length_mm: float) -> float:
    """Return how many seconds of arc a pixel covers near the axis: ``206.265 · p[µm] / f[mm]``.

    Raises:
        BadInput: pixel or focal length not above zero.
    """
    _positive(pixel_mm, say("pixel"))
    _positive(focal_length_mm, say("focal length"))
    return ARCSECONDS_PER_RADIAN * pixel_mm / focal_length_mm


def length_on_sensor_mm(angle_deg: float, focal_length_mm: float) -> float:
    """Return how long an angle about the axis is on the sensor: ``2 f tan(θ/2)``.

    Raises:
        BadInput: an angle of 180° or more, or not above zero.
    """
    if not 0.0 < angle_deg < 180.0:
        raise BadInput(
            "An angle of {angle_deg:g}° has no size on a flat frame; give more than 0° and less than 180°.",
            angle_deg=angle_deg,
        )
    _positive(focal_length_mm, say("focal length"))
    return 2.0 * focal_length_mm * math.tan(math.radians(angle_deg) / 2.0)


def covered_fraction(
    width_mm: float, height_mm: float, diameter_mm: float, right_mm: float = 0.0, up_mm: float = 0.0
) -> float:
    """Return the part of a frame that is inside an image circle, whose centre may be beside the frame's.

    Args:
        width_mm: the frame's width.
        height_mm: its height.
        diameter_mm: the circle's diameter.
        right_mm: the frame's middle to the right of the circle's.
        up_mm: the same upward.

    Raises:
        BadInput: a length not above zero.
    """
    for name, value in (("width", width_mm), ("height", height_mm), (say("image circle"), diameter_mm)):
        _positive(value, name)
    r = diameter_mm / 2.0
    left, right = right_mm - width_mm / 2.0, right_mm + width_mm / 2.0
    bottom, top = up_mm - height_mm / 2.0, up_mm + height_mm / 2.0
    if math.hypot(max(-left, right), max(-bottom, top)) <= r:
        return 1.0
    # Rectangles with a corner on the circle's centre, added and taken off.
    corners = ((right, top, 1), (left, top, -1), (right, bottom, -1), (left, bottom, 1))
    inside = sum(sign * _from_centre(x, y, r) for x, y, sign in corners)
    return min(max(inside / (width_mm * height_mm), 0.0), 1.0)


def _from_centre(x: float, y: float, r: float) -> float:
    """Return the area within a circle of the rectangle from its centre to a corner; negative where one side is."""
    a, b = min(abs(x), r), min(abs(y), r)

    def under(at: float) -> float:
        return (at * math.sqrt(max(r * r - at * at, 0.0)) + r * r * math.asin(min(at / r, 1.0))) / 2.0

    # Full height up to where the circle falls below the edge, the circle's own height from there.
    edge = min(math.sqrt(max(r * r - b * b, 0.0)), a)
    return math.copysign(1.0, x) * math.copysign(1.0, y) * (edge * b + under(a) - under(edge))


def rectangle_in_circle_mm(width_mm: float, height_mm: float, diameter_mm: float) -> tuple[float, float]:
    """Return the largest rectangle of a frame's aspect inside a circle, never larger than the frame."""
    share = min(diameter_mm / math.hypot(width_mm, height_mm), 1.0)
    return width_mm * share, height_mm * share


def pixels_across(length_mm: float, pixel_mm: float) -> int:
    """Return how many whole pixels fit into a length."""
    return math.floor(mm_to_micrometres(length_mm) / mm_to_micrometres(pixel_mm) + 1e-6)


def _positive(value: float, what: str) -> None:
    if not (math.isfinite(value) and value > 0.0):
        raise BadInput("A {what} of {value:g} mm cannot be used; give a length above zero.", what=what, value=value)
