"""The light figures with what their working needs."""

from collections.abc import Iterator

from farrail.optics.field import pixels_across
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.readouts.figure import Figure
from farrail.readouts.light.figure_texts import (
    ApertureLoss,
    CleanFrame,
    CleanShare,
    CornerIllumination,
    CornerLoss,
    EdgeLoss,
    ExitPupil,
    FocalLength,
    GuideLoss,
    LimitingPart,
    NeededDiameter,
    SensorFNumber,
)
from farrail.readouts.light.guide import guide_lights
from farrail.readouts.light.model import Clearance, Light
from farrail.units import MICROMETRES_PER_MM, stops_lost


def light_figures(light: Light) -> Iterator[Figure]:
    """Yield all light figures of a train in reading order; none without a camera."""
    corner_mm = light.corner_mm
    if corner_mm is None:
        return
    first_order = light.layout.first_order
    f_number, exit_pupil = first_order.effective_f_number, first_order.exit_pupil
    optics = weakest([f_number.origin, exit_pupil.origin])
    origin = weakest([optics, *(c.origin for c in light.clearances)])
    yield Figure(SensorFNumber(quantity=f_number), f_number.value, f_number.origin)
    known = exit_pupil.low == exit_pupil.high
    yield Figure(
        ExitPupil(quantity=exit_pupil), exit_pupil.value, exit_pupil.origin,
        None if known else exit_pupil.low, None if known else exit_pupil.high,
    )  # fmt: skip
    if first_order.power is not None:
        focal = first_order.focal_length
        yield Figure(FocalLength(quantity=focal), focal.value, focal.origin)
    yield from _loss(light, corner_mm, origin)
    first = light.limiting
    yield Figure(
        LimitingPart(clearance=first, taking=light.taking), None if first is None else first.placed.part.name,
        origin if first is None else first.origin,
    )  # fmt: skip
    yield from _clean(light, origin)
    for guide in guide_lights(light):
        yield Figure(GuideLoss(guide=guide), guide.stops, guide.origin, which=guide.prism.part.id)
    for number, c in enumerate(light.clearances, start=1):
        yield _needed(light, c, number, corner_mm)
        yield Figure(
            ApertureLoss(clearance=c, last=light.last[number - 1]), c.alone_stops, c.origin,
            which=f"{number}.{c.placed.part.id}",
        )  # fmt: skip


def _loss(light: Light, corner_mm: float, origin: Origin) -> Iterator[Figure]:
    ri = light.corner_ri if light.corner_ri is not None else 1.0
    yield Figure(
        CornerIllumination(apertures=len(light.images), corner_mm=corner_mm, f_number=light.pupil.f_number), ri, origin
    )
    yield Figure(CornerLoss(ri=ri), stops_lost(ri), origin)
    for name, value in light.edges.items():
        yield Figure(EdgeLoss(ri=value, edge=name), stops_lost(value), origin, which=name)


def _clean(light: Light, origin: Origin) -> Iterator[Figure]:
    clean, camera = light.clean_mm, light.layout.camera
    if clean is None or camera is None:
        return
    pixels: tuple[int, ...] | None = None
    if camera.pixel_size_um is not None:
        pixel = camera.pixel_size_um.value / MICROMETRES_PER_MM
        pixels = tuple(pixels_across(side, pixel) for side in clean)
    frame = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    yield Figure(CleanFrame(pixels=pixels), clean, origin)
    share = 100.0 * clean[0] * clean[1] / (frame[0] * frame[1])
    yield Figure(CleanShare(clean_mm=clean, frame_mm=frame), share, origin)


def _needed(light: Light, c: Clearance, number: int, corner_mm: float) -> Figure:
    unknown = c.placed.place_unknown
    return Figure(
        NeededDiameter(clearance=c, pupil=light.pupil, corner_mm=corner_mm, centred=light.centred),
        c.needed_mm,
        c.origin,
        c.needed_best_mm if unknown else None,
        c.needed_mm if unknown else None,
        f"{number}.{c.placed.part.id}",
    )
