"""The figures of what the frame covers."""

import math
from collections.abc import Iterator

from farrail.optics.field import pixel_scale_arcsec, rectangle_in_circle_mm
from farrail.parts.kinds.cameras import Camera
from farrail.parts.provenance import weakest
from farrail.readouts.field.coverage import Circle, circle_against, field_deg
from farrail.readouts.field.figure_texts import (
    FieldAngle,
    FieldOfView,
    HingeDistance,
    ImageCircleCover,
    ImageCircleMargin,
    InscribedFrame,
    MosaicPanel,
    PixelScale,
    TargetPanels,
)
from farrail.readouts.field.sky import framing_of
from farrail.readouts.figure import Figure
from farrail.train.layout import Layout
from farrail.units import MICROMETRES_PER_MM

# A mosaic of more is a survey: only its number is said.
MOST_PANELS = 36


def coverage_figures(layout: Layout) -> Iterator[Figure]:
    """Yield the figures of what the frame covers; none without a camera."""
    camera = layout.camera
    if camera is None:
        return
    focal = layout.first_order.focal_length
    origin = weakest([focal.origin, camera.sensor_width_mm.origin, camera.sensor_height_mm.origin])
    sides = camera.sensor_width_mm.value, camera.sensor_height_mm.value, camera.diagonal_mm
    angles, projection = field_deg(layout, camera), layout.first_order.directions.projection
    yield Figure(
        FieldOfView(focal_mm=focal.value, sides_mm=sides[:2], projection=projection),
        angles[:2],
        origin,
    )
    for name, side, angle in zip(("width", "height", "diagonal"), sides, angles, strict=True):
        yield Figure(FieldAngle(focal_mm=focal.value, side_mm=side, projection=projection), angle, origin, which=name)
    if camera.pixel_size_um is not None:
        pixel = camera.pixel_size_um
        scale = pixel_scale_arcsec(pixel.value / MICROMETRES_PER_MM, focal.value)
        yield Figure(
            PixelScale(focal_mm=focal.value, pixel_um=pixel.value), scale, weakest([focal.origin, pixel.origin]),
        )  # fmt: skip
    tilt = layout.train.conditions.tilt_deg
    if tilt:
        hinge_mm = focal.value / math.sin(math.radians(abs(tilt)))
        yield Figure(HingeDistance(focal_mm=focal.value, tilt_deg=tilt), hinge_mm, focal.origin)
    circle = circle_against(layout, camera)
    if circle is not None:
        yield from _circle_figures(circle, camera)


def _circle_figures(circle: Circle, camera: Camera) -> Iterator[Figure]:
    origin = circle.diameter.origin
    yield Figure(ImageCircleMargin(circle), circle.margin_mm, origin)
    yield Figure(ImageCircleCover(circle), 100.0 * circle.covered, origin)
    width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    inside = rectangle_in_circle_mm(width, height, circle.diameter.value)
    yield Figure(InscribedFrame(), inside, origin)


def sky_figures(layout: Layout) -> Iterator[Figure]:
    """Yield the target's figures."""
    framing = framing_of(layout)
    if framing is None:
        return
    origin = layout.first_order.focal_length.origin
    yield Figure(TargetPanels(framing), float(framing.columns * framing.rows), origin)
    if len(framing.panels) == 1 or len(framing.panels) > MOST_PANELS:
        return
    for panel in framing.panels:
        if panel.right_ascension_deg is not None and panel.declination_deg is not None:
            place = panel.right_ascension_deg, panel.declination_deg
            which = f"{panel.row}-{panel.column}"
            yield Figure(MosaicPanel(panel, framing.target.name), place, origin, which=which)
