"""The figures of tilt, glass and passbands at the sensor."""

from collections.abc import Iterator

from farrail.optics.tilt import allowed_tilt_deg, shim_across_mm
from farrail.parts.provenance import weakest
from farrail.readouts.figure import Figure
from farrail.readouts.light.sharpness import aberration_of, passbands_of, tilt_plates_of
from farrail.readouts.light.sharpness_texts import (
    GlassAberration,
    PassbandShare,
    TiltAllowed,
    TiltOfOnePixel,
    TiltPlateMoves,
    TiltShim,
)
from farrail.train.layout import Layout
from farrail.units import MICROMETRES_PER_MM, mm_to_micrometres


def sharpness_figures(layout: Layout) -> Iterator[Figure]:
    """Yield the figures; none without a camera."""
    camera = layout.camera
    if camera is None:
        return
    n, half = layout.first_order.effective_f_number, camera.diagonal_mm / 2.0
    origin = weakest([n.origin, camera.sensor_width_mm.origin, camera.sensor_height_mm.origin])
    tilt = allowed_tilt_deg(half, n.value)
    yield Figure(TiltAllowed(f_number=n.value, corner_mm=half), tilt, origin)
    flange = camera.front.standard.size_mm
    yield Figure(TiltShim(flange_mm=flange, tilt_deg=tilt), shim_across_mm(flange, tilt), origin)
    if camera.pixel_size_um is not None:
        pixel = camera.pixel_size_um
        by_pixel = allowed_tilt_deg(half, n.value, pixel.value / MICROMETRES_PER_MM)
        yield Figure(
            TiltOfOnePixel(f_number=n.value, corner_mm=half, pixel_um=pixel.value),
            by_pixel,
            weakest([origin, pixel.origin]),
        )
    for plate, moved, most in tilt_plates_of(layout):
        yield Figure(
            TiltPlateMoves(part=plate.part.name, most_deg=most.value, corner_mm=half),
            mm_to_micrometres(moved),
            weakest([origin, most.origin]),
            which=plate.part.id,
        )
    aberration, tolerable, weakest_glass = aberration_of(layout)
    if aberration > 0.0:
        yield Figure(
            GlassAberration(tolerable_um=mm_to_micrometres(tolerable)), mm_to_micrometres(aberration), weakest_glass,
        )  # fmt: skip
    for band in passbands_of(layout):
        yield Figure(PassbandShare(band=band), 100.0 * band.passes, band.origin, which=band.part)
