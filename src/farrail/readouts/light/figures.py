"""The light figures with their working."""

from farrail.optics.field import pixels_across
from farrail.optics.illumination import SOURCE as RI_SOURCE
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE
from farrail.parts.provenance import Origin, Quantity, weakest
from farrail.readouts.figure import Figure, Working
from farrail.readouts.light.model import CLEAN_STOPS, Clearance, Light
from farrail.readouts.names import aperture_name
from farrail.train.train import Side
from farrail.units import MICROMETRES_PER_MM, stops_lost

STOP_SOURCE = "definition of a stop"


def light_figures(light: Light) -> list[Figure]:
    """Return all light figures of a train in reading order; none without a camera."""
    corner_mm = light.corner_mm
    if corner_mm is None:
        return []
    f_number: Quantity = light.layout.first_order.f_number
    exit_pupil = light.layout.first_order.exit_pupil
    optics = weakest([f_number.origin, exit_pupil.origin])
    origin = weakest([optics, *(c.origin for c in light.clearances)])
    figures = [
        Figure(
            "light.f_number", "f-number at the sensor", f_number.value, "",
            Working("N", f"{f_number.value:.3g}", f_number.in_use.note or f_number.origin), f_number.origin,
        ),
        Figure(
            "light.exit_pupil_mm", "exit pupil before the sensor", exit_pupil.value, "mm",
            Working("L", f"{exit_pupil.value:.1f} mm", exit_pupil.in_use.note or exit_pupil.origin), exit_pupil.origin,
        ),
    ]  # fmt: skip
    if light.layout.first_order.power is not None:
        focal = light.layout.first_order.focal_length
        figures.append(
            Figure(
                "light.focal_length_mm", "focal length at the sensor", focal.value, "mm",
                Working("f·(1 − d/f_r)", focal.in_use.note, "thin lens at its distance before the sensor"),
                focal.origin,
            )
        )  # fmt: skip
    figures += _loss(light, corner_mm, origin)
    figures += _first(light, origin)
    figures += _clean(light, origin)
    for number, c in enumerate(light.clearances, start=1):
        figures.append(_needed(light, c, number, corner_mm))
        figures.append(_loss_of(c, number, light.last[number - 1]))
    return figures


def _loss(light: Light, corner_mm: float, origin: Origin) -> list[Figure]:
    ri = light.corner_ri if light.corner_ri is not None else 1.0
    count = len(light.images)
    figures = [
        Figure(
            "light.corner_ri", "relative illumination in the corner", ri, "",
            Working(
                "open area of the pupil / area of the pupil",
                f"{count} apertures at h {corner_mm:.2f} mm, N {light.pupil.f_number:.3g}: {ri:.4f}", RI_SOURCE,
            ),
            origin,
        ),
        Figure(
            "light.corner_stops", "light lost in the corner", stops_lost(ri), "stops",
            Working("−log2 RI", f"−log2 {ri:.4f} = {stops_lost(ri):.2f}", STOP_SOURCE), origin,
        ),
    ]  # fmt: skip
    for name, value in light.edges.items():
        lost = stops_lost(value)
        working = Working("−log2 RI", f"−log2 {value:.4f} = {lost:.2f}", STOP_SOURCE)
        label = f"light lost in the middle of the picture's {name}"
        figures.append(Figure(f"light.edge.{name}_stops", label, lost, "stops", working, origin))
    return figures


def _first(light: Light, origin: Origin) -> list[Figure]:
    first = light.first_to_clip
    name = "none" if first is None else first.placed.part.name
    return [
        Figure(
            "light.limiting_part", "clips first", name, "",
            Working(
                "smallest image height at which a projected aperture touches the pupil's edge",
                "no aperture clips inside the frame" if first is None
                else f"{name}, {aperture_name(first.placed)}: from h {first.onset_mm:.2f} mm", RI_SOURCE,
            ),
            origin if first is None else first.origin,
        )
    ]  # fmt: skip


def _clean(light: Light, origin: Origin) -> list[Figure]:
    clean, camera = light.clean_mm, light.layout.camera
    if clean is None or camera is None:
        return []
    formula = f"largest frame of the sensor's aspect that loses at most {CLEAN_STOPS:g} stops"
    size = f"{clean[0]:.1f} × {clean[1]:.1f} mm"
    words, unit = size, ""
    if camera.pixel_size_um is not None:
        pixel = camera.pixel_size_um.value / MICROMETRES_PER_MM
        across, down = (pixels_across(side, pixel) for side in clean)
        words = f"{size}, {across} × {down} pixels"
    share = 100.0 * clean[0] * clean[1] / (camera.sensor_width_mm.value * camera.sensor_height_mm.value)
    return [
        Figure("light.clean_frame", "clean crop", words, unit, Working(formula, size, RI_SOURCE), origin),
        Figure(
            "light.clean_share", "clean part of the frame", share, "%",
            Working("clean area / frame area", f"{size} of {camera.sensor_width_mm.value:g} × "
                    f"{camera.sensor_height_mm.value:g} mm = {share:.0f} %", RI_SOURCE), origin,
        ),
    ]  # fmt: skip


def _needed(light: Light, c: Clearance, number: int, corner_mm: float) -> Figure:
    n, distance = light.pupil.f_number, c.distance_mm
    if c.placed.side is Side.FRONT:
        formula = "f/N + 2x·h/f"
        focal = light.pupil.focal_length_mm
        numbers = f"{focal:g}/{n:.3g} + 2·{distance:.2f}·{corner_mm:.2f}/{focal:g}"
    else:
        formula = "2h·|1 − x/L| + x/N"
        pupil = light.pupil.exit_distance_mm
        numbers = f"{2 * corner_mm:.2f}·|1 − {distance:.2f}/{pupil:.4g}| + {distance:.2f}/{n:.3g}"
    if not light.centred:
        formula += ", about its own centre and sides"
    unknown = c.placed.place_unknown
    return Figure(
        f"light.needed.{number}.{c.placed.part.id}_mm",
        f"clear diameter needed: {c.placed.part.name}, {aperture_name(c.placed)}", c.needed_mm, "mm",
        Working(formula, f"{numbers} = {c.needed_mm:.2f} mm", CLEAR_DIAMETER_SOURCE), c.origin,
        c.needed_best_mm if unknown else None, c.needed_mm if unknown else None,
    )  # fmt: skip


def _loss_of(c: Clearance, number: int, taken_last: float) -> Figure:
    last = stops_lost(1.0 - taken_last)
    return Figure(
        f"light.loss.{number}.{c.placed.part.id}_stops",
        f"lost in the corner to {c.placed.part.name}, {aperture_name(c.placed)}, alone", c.alone_stops, "stops",
        Working("−log2 RI behind it alone", f"alone {c.alone_stops:.2f}, after all others {100 * taken_last:.1f} % "
                f"of the pupil ({last:.2f} stops)", RI_SOURCE), c.origin,
    )  # fmt: skip
