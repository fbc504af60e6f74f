"""What a choice of rings costs in light: each lens at its widest, behind its rings and one filter of the main size."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from farrail.parts.connections import Gender, thread
from farrail.parts.glass import Plate
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import assumed
from farrail.parts.registry import Part
from farrail.planning.rings import RingPlan, StepRing
from farrail.readouts.front.model import Front
from farrail.train.layout import build_layout
from farrail.train.train import Conditions, MountedPart, Train

# A usual screw-in filter where none of the main size is available: its cell, and what its rim takes off the thread.
FILTER_MM, FILTER_RIM_MM = 5.0, 3.5
# Where landscapes are taken; common practice, no source. The lens wide open is tried beside it and the worse shown.
USUAL_F_NUMBER = 8.0
PITCH_MM = 0.75


@dataclass(frozen=True)
class RingCost:
    """What a ring plan takes from the corners of one lens.

    Attributes:
        lens: its id.
        name: its name.
        focal_mm: its shortest focal length.
        stops: what rings and a filter add in the darkest corner; `inf` where it is dark.
        f_number: at which of the two f-numbers tried.
        first_clean_mm: the focal length from which on the corner stays clean; None where it never does.
    """

    lens: str
    name: str
    focal_mm: float
    stops: float
    f_number: float
    first_clean_mm: float | None


def ring_costs(plan: RingPlan, shelf: Mapping[str, Part]) -> tuple[RingCost, ...]:
    """Return what a plan costs each lens at its widest, the worse of wide open and f/8, the worst lens first.

    Each is judged on the largest frame available that its image circle covers; lenses without one are left out.
    """
    ends = dict(plan.ends)
    found = [cost for lens, chain in plan.chains if (cost := _cost(lens, chain, ends[lens], shelf)) is not None]
    return tuple(sorted(found, key=lambda cost: -cost.stops))


def _cost(lens_id: str, chain: Sequence[StepRing], main: float, shelf: Mapping[str, Part]) -> RingCost | None:
    lens = shelf.get(lens_id)
    if not isinstance(lens, CameraLens):
        return None
    camera = _frame_for(lens, shelf)
    if camera is None:
        return None
    parts: list[Part] = [_ring(ring, number) for number, ring in enumerate(chain)]
    parts.append(_filter(main, shelf))
    row = tuple(MountedPart(part=part.id) for part in parts)
    known = {part.id: part for part in (lens, camera, *parts)}
    shortest = lens.focal_length_mm.value

    def behind(f_number: float) -> Front:
        train = Train(
            id="ring-cost", name="ring cost", optic=lens.id, front_stack=row, camera=camera.id,
            conditions=Conditions(f_number=f_number),
        )  # fmt: skip
        return Front(build_layout(train, known))

    tried = sorted({lens.f_number.value, max(USUAL_F_NUMBER, lens.f_number.value)}, reverse=True)
    lost = [behind(f_number).loss_at(shortest) for f_number in tried]
    worst = lost.index(max(lost))
    clean = [behind(f_number).now.first_clean_mm for f_number in tried]
    return RingCost(
        lens.id,
        lens.name,
        shortest,
        lost[worst],
        tried[worst],
        None if None in clean else max(c for c in clean if c is not None),
    )


def _frame_for(lens: CameraLens, shelf: Mapping[str, Part]) -> Camera | None:
    """Return the camera available with the largest frame inside the lens's image circle."""
    circle = lens.image_circle_mm
    cameras = [part for part in shelf.values() if isinstance(part, Camera) and part.status in AT_HAND]
    if circle is not None:
        # A frame's corner may stick out of the circle by what both figures are rounded to.
        cameras = [camera for camera in cameras if camera.diagonal_mm <= circle.value + 0.5]
    return max(cameras, key=lambda camera: camera.diagonal_mm, default=None)


def _ring(ring: StepRing, number: int) -> Adapter:
    return Adapter(
        id=f"ring-cost-{number}", name=ring.name, outer_diameter_mm=ring.high + 3.0,
        front=thread(ring.high, PITCH_MM, Gender.INTERNAL), rear=thread(ring.low, PITCH_MM, Gender.EXTERNAL),
        path_length_mm=assumed(ring.length_mm),
        clear_aperture_mm=None if ring.clear_mm is None else assumed(ring.clear_mm),
    )  # fmt: skip


def _filter(main: float, shelf: Mapping[str, Part]) -> Part:
    """Return the thickest screw-in filter of the main size available, or a usual one."""
    owned = [
        part for part in shelf.values()
        if isinstance(part, RoundFilter) and part.status in AT_HAND
        and part.rear.standard.kind == "thread" and part.rear.standard.diameter_mm == main
    ]  # fmt: skip
    if owned:
        return max(owned, key=lambda part: part.path_length_mm.value)
    end = thread(main, PITCH_MM, Gender.INTERNAL)
    return RoundFilter(
        id="ring-cost-filter", name=f"a usual {main:g} mm filter", outer_diameter_mm=main + 3.0,
        front=end, rear=thread(main, PITCH_MM, Gender.EXTERNAL), path_length_mm=assumed(FILTER_MM),
        clear_aperture_mm=assumed(main - FILTER_RIM_MM),
        glass=Plate(thickness_mm=assumed(2.0), index=assumed(1.5168)),
    )  # fmt: skip
