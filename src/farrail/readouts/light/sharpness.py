"""What the cone does to sharpness and colour: tilt allowed, the plates' spherical aberration, a narrow passband."""

import math
from dataclasses import dataclass

from farrail.optics.passband import edge_shift_nm, line_transmission, line_transmission_at, mean_shift_nm
from farrail.optics.plates import spherical_aberration_mm, tolerable_aberration_mm
from farrail.optics.tilt import corner_defocus_mm
from farrail.parts.glass import Plate
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.tubes import TiltPlate
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, weakest
from farrail.train.layout import Layout
from farrail.train.placed import Placed

# A usual effective index of narrowband coatings where the box is silent; common practice, no source.
USUAL_INDEX = 2.0


@dataclass(frozen=True)
class Passband:
    """What a narrow filter lets through of its own line, in the beam now or once it is turned into it.

    Attributes:
        part: the filter's id.
        name: its name.
        passes: fraction of the line, flat-top passband.
        gaussian: fraction of the line, Gaussian passband.
        edge_nm: shift of the edge ray.
        mean_nm: mean shift over the pupil.
        width_nm: full width of the passband.
        origin: weakest input.
        corner: fraction of the line in the frame's corner, where the chief ray is tilted too; None without a camera.
        corner_nm: mean shift there.
        f_number: of the cone where it is.
        in_beam: whether it is in the beam now.
    """

    part: str
    name: str
    passes: float
    gaussian: float
    edge_nm: float
    mean_nm: float
    width_nm: float
    origin: Origin
    corner: float | None = None
    corner_nm: float = 0.0
    f_number: float = 0.0
    in_beam: bool = True


def passbands_of(layout: Layout) -> tuple[Passband, ...]:
    """Return the narrow filters of a train, those in the beam and those that can be turned into it.

    Each is judged in the cone where it is: ahead of a corrector that is the telescope's own.
    """
    found: dict[str, Passband] = {}
    for placed in layout.rear:
        seats = [layout.parts.get(one or "") for one in placed.laid.filters]
        now = layout.parts.get(placed.laid.filter_in_beam or "")
        for part in (placed.part, *seats):
            narrow = isinstance(part, RoundFilter) and part.line_nm is not None and part.passband_nm is not None
            if narrow and isinstance(part, RoundFilter) and part.id not in found:
                found[part.id] = _passband(layout, part, placed.middle_mm, part is placed.part or part is now)
    return tuple(found.values())


def _passband(layout: Layout, part: RoundFilter, z_mm: float, in_beam: bool) -> Passband:
    order, camera = layout.first_order, layout.camera
    hole = order.obstruction
    n, slope, origin = _cone_at(layout, z_mm)
    assert part.line_nm is not None
    assert part.passband_nm is not None
    line, width = part.line_nm.value, part.passband_nm.value
    index = part.effective_index.value if part.effective_index is not None else USUAL_INDEX
    origins = [origin, part.line_nm.origin, part.passband_nm.origin]
    origins.append(part.effective_index.origin if part.effective_index is not None else Origin.ASSUMED)
    flat = line_transmission(line, line, width, index, n, obstruction=hole)
    round_top = line_transmission(line, line, width, index, n, obstruction=hole, band="gaussian")
    shifts = edge_shift_nm(line, index, n), mean_shift_nm(line, index, n, hole)
    corner, corner_nm = None, 0.0
    if camera is not None:
        corner, corner_nm = line_transmission_at(line, line, width, index, n, slope, obstruction=hole)
        origins.append(order.exit_pupil.origin)
    return Passband(
        part.id, part.name, flat, round_top, *shifts, width, weakest(origins), corner, corner_nm, n, in_beam
    )


def _cone_at(layout: Layout, z_mm: float) -> tuple[float, float, Origin]:
    """Return f-number and the corner's chief slope of the light at a place behind the optic, and the weakest input."""
    order, camera = layout.first_order, layout.camera
    corner = 0.0 if camera is None else camera.diagonal_mm / 2.0
    n, slope = order.effective_f_number.value, corner * order.pupil.convergence_per_mm
    behind = [one for one in order.powers if z_mm < one.z_mm - 1e-9]
    if not behind:
        return n, slope, order.f_number.origin
    # Ahead of powered parts the cone is as much faster or slower as they make it, and the image as much smaller or
    # larger; its chief rays come from the objective.
    factor = math.prod(one.power.magnification for one in behind)
    own = order.own_focal_length.value
    return n / factor, corner / factor / own, weakest([order.f_number.origin, order.power_origin])


def aberration_of(layout: Layout) -> tuple[float, float, Origin]:
    """Return the plates' spherical aberration and what is tolerable, both in mm, and the weakest input."""
    n, total, origins = layout.first_order.effective_f_number, 0.0, []
    for placed in layout.glass:
        if isinstance(placed.glass, Plate):
            total += spherical_aberration_mm(placed.glass.thickness_mm.value, placed.glass.index.value, n.value)
            origins.append(placed.glass.origin)
    return total, tolerable_aberration_mm(n.value), weakest([n.origin, *origins])


def tilt_plates_of(layout: Layout) -> list[tuple[Placed, float, Quantity]]:
    """Return each tilt plate of a known range, how far it can move the frame's corner in mm, and its range."""
    camera = layout.camera
    if camera is None:
        return []
    half = camera.diagonal_mm / 2.0
    return [
        (placed, corner_defocus_mm(half, placed.part.most_tilt_deg.value), placed.part.most_tilt_deg)
        for placed in layout.rear
        if isinstance(placed.part, TiltPlate) and placed.part.most_tilt_deg is not None
    ]
