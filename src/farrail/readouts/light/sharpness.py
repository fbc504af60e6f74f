"""What the cone does to sharpness and colour: tilt allowed, the plates' spherical aberration, a narrow passband."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.optics.passband import edge_shift_nm, line_transmission, mean_shift_nm
from farrail.optics.plates import spherical_aberration_mm, tolerable_aberration_mm
from farrail.optics.tilt import allowed_tilt_deg, shim_across_mm
from farrail.parts.glass import Plate
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.provenance import Origin, weakest
from farrail.readouts.figure import Figure
from farrail.train.layout import Layout
from farrail.units import MICROMETRES_PER_MM, mm_to_micrometres

# A usual effective index of narrowband coatings where the box is silent; common practice, no source.
USUAL_INDEX = 2.0


@dataclass(frozen=True)
class Passband:
    """What a narrow filter in the beam lets through of its own line.

    Attributes:
        part: the filter's id.
        name: its name.
        passes: fraction of the line, flat-top passband.
        gaussian: fraction of the line, Gaussian passband.
        edge_nm: shift of the edge ray.
        mean_nm: mean shift over the pupil.
        width_nm: full width of the passband.
        origin: weakest input.
    """

    part: str
    name: str
    passes: float
    gaussian: float
    edge_nm: float
    mean_nm: float
    width_nm: float
    origin: Origin


def passbands_of(layout: Layout) -> tuple[Passband, ...]:
    """Return the narrow filters in the beam of a train."""
    n, hole = layout.first_order.f_number, layout.first_order.obstruction
    found = []
    for glass in layout.glass:
        part = glass.part
        if not isinstance(part, RoundFilter) or part.line_nm is None or part.passband_nm is None:
            continue
        line, width = part.line_nm.value, part.passband_nm.value
        index = part.effective_index.value if part.effective_index is not None else USUAL_INDEX
        origins = [n.origin, part.line_nm.origin, part.passband_nm.origin]
        origins.append(part.effective_index.origin if part.effective_index is not None else Origin.ASSUMED)
        flat = line_transmission(line, line, width, index, n.value, obstruction=hole)
        round_top = line_transmission(line, line, width, index, n.value, obstruction=hole, band="gaussian")
        shifts = edge_shift_nm(line, index, n.value), mean_shift_nm(line, index, n.value, hole)
        found.append(Passband(part.id, part.name, flat, round_top, *shifts, width, weakest(origins)))
    return tuple(found)


def aberration_of(layout: Layout) -> tuple[float, float, Origin]:
    """Return the plates' spherical aberration and what is tolerable, both in mm, and the weakest input."""
    n, total, origins = layout.first_order.f_number, 0.0, []
    for placed in layout.glass:
        if isinstance(placed.glass, Plate):
            total += spherical_aberration_mm(placed.glass.thickness_mm.value, placed.glass.index.value, n.value)
            origins.append(placed.glass.origin)
    return total, tolerable_aberration_mm(n.value), weakest([n.origin, *origins])


def sharpness_figures(layout: Layout) -> Iterator[Figure]:
    """Yield the figures; none without a camera."""
    camera = layout.camera
    if camera is None:
        return
    n, half = layout.first_order.f_number, camera.diagonal_mm / 2.0
    origin = weakest([n.origin, camera.sensor_width_mm.origin, camera.sensor_height_mm.origin])
    tilt = allowed_tilt_deg(half, n.value)
    yield Figure("light.tilt_allowed_deg", tilt, origin, {"f_number": n.value, "corner_mm": half})
    flange = camera.front.standard.size_mm
    yield Figure("light.tilt_shim_mm", shim_across_mm(flange, tilt), origin, {"flange_mm": flange, "tilt_deg": tilt})
    if camera.pixel_size_um is not None:
        pixel = camera.pixel_size_um
        by_pixel = allowed_tilt_deg(half, n.value, pixel.value / MICROMETRES_PER_MM)
        yield Figure(
            "light.tilt_pixel_deg", by_pixel, weakest([origin, pixel.origin]),
            {"f_number": n.value, "corner_mm": half, "pixel_um": pixel.value},
        )  # fmt: skip
    aberration, tolerable, weakest_glass = aberration_of(layout)
    if aberration > 0.0:
        yield Figure(
            "light.plate_aberration_um", mm_to_micrometres(aberration), weakest_glass,
            {"tolerable_um": mm_to_micrometres(tolerable)},
        )  # fmt: skip
    for band in passbands_of(layout):
        yield Figure("light.passband.*", 100.0 * band.passes, band.origin, {"band": band}, which=band.part)
