"""The frame: how millimetres on the rail become pixels in the view."""

from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF

from farrail.ui.rail.section import Section

# Room kept free of the section, in pixels: labels above, rule and dimension lines below, air at the sides.
ABOVE_PX = 64.0
BELOW_PX = 104.0
SIDE_PX = 28.0
# A view lower than this is a strip; it is about so high, and keeps so much room for the verdict at its right end.
STRIP_BELOW_PX, STRIP_PX = 190.0, 112
STRIP_TOP_PX, VERDICT_PX = 12.0, 250.0
# The share of the width a train fills where there is height enough.
FILLED = 0.8
LEAST_SCALE, MOST_SCALE = 0.4, 80.0


@dataclass(frozen=True)
class Frame:
    """One scale for lengths and diameters alike.

    Attributes:
        scale: pixels per mm.
        origin_px: where z = 0 is.
        axis_px: where the axis is.
        width_px: width of the view.
        height_px: height of the view.
        top_px: the row above which nothing of the section is drawn.
    """

    scale: float
    origin_px: float
    axis_px: float
    width_px: float
    height_px: float
    top_px: float = ABOVE_PX

    def x(self, z_mm: float) -> float:
        """Return the pixel column of a place on the rail."""
        return self.origin_px + z_mm * self.scale

    def y(self, radius_mm: float) -> float:
        """Return the pixel row of a distance from the axis."""
        return self.axis_px - radius_mm * self.scale

    def point(self, z_mm: float, radius_mm: float) -> QPointF:
        """Return the pixel of a point of the section."""
        return QPointF(self.x(z_mm), self.y(radius_mm))

    def z(self, x_px: float) -> float:
        """Return the place on the rail under a pixel column."""
        return (x_px - self.origin_px) / self.scale

    @property
    def section_area(self) -> QRectF:
        """The area the section may cover."""
        return QRectF(0.0, self.top_px, self.width_px, self.axis_px - self.top_px)

    def zoomed(self, factor: float, at_px: float) -> "Frame":
        """Return the frame zoomed about a pixel column."""
        scale = min(max(self.scale * factor, LEAST_SCALE), MOST_SCALE)
        z = self.z(at_px)
        return replace(self, scale=scale, origin_px=at_px - z * scale)

    def panned(self, by_px: float) -> "Frame":
        """Return the frame moved sideways."""
        return replace(self, origin_px=self.origin_px + by_px)


def fitted(section: Section, width_px: float, height_px: float) -> Frame:
    """Return the frame that shows a whole section; in a low view the drawing alone, with the verdict beside it."""
    if height_px < STRIP_BELOW_PX:
        return _strip(section, width_px, height_px)
    axis = height_px - BELOW_PX
    radius = min(max(section.tallest_mm, 20.0), section.fitted_radius_mm)
    length = max(section.right_mm - section.left_mm, 10.0)
    scale = min((width_px - 2.0 * SIDE_PX) / length, max(axis - ABOVE_PX, 40.0) / radius)
    scale = min(max(scale, LEAST_SCALE), MOST_SCALE)
    middle = (section.left_mm + section.right_mm) / 2.0
    return Frame(scale, width_px / 2.0 - middle * scale, axis, width_px, height_px)


def height_filling(section: Section, width_px: float) -> float:
    """Return how high a view has to be for a whole section to fill so much of its width as is pleasant to look at."""
    radius = min(max(section.tallest_mm, 20.0), section.fitted_radius_mm)
    length = max(section.right_mm - section.left_mm, 10.0)
    return ABOVE_PX + BELOW_PX + radius * min(FILLED * width_px / length, MOST_SCALE)


def _strip(section: Section, width_px: float, height_px: float) -> Frame:
    axis, room = height_px - 14.0, width_px - VERDICT_PX - 2.0 * SIDE_PX
    radius = min(max(section.tallest_mm, 20.0), section.fitted_radius_mm)
    length = max(section.right_mm - section.left_mm, 10.0)
    scale = min(max(min(room / length, (axis - STRIP_TOP_PX) / radius), LEAST_SCALE), MOST_SCALE)
    middle = (section.left_mm + section.right_mm) / 2.0
    return Frame(scale, SIDE_PX + room / 2.0 - middle * scale, axis, width_px, height_px, STRIP_TOP_PX)


def still_fits(section: Section | None, frame: Frame | None, height_px: float) -> bool:
    """Whether a section sits well in the frame it had: inside it, and not much smaller than it could be."""
    if section is None or frame is None:
        return False
    inside = frame.x(section.left_mm) >= 6.0 and frame.x(section.right_mm) <= frame.width_px - 6.0
    wanted = fitted(section, frame.width_px, height_px).scale
    return inside and frame.scale * 0.999 <= wanted <= frame.scale * 1.25
