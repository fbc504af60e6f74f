"""Sheet filters: how large one must be, where a graduated filter's line falls in the picture, and how soft it looks."""

import math
from dataclasses import dataclass

import numpy as np

from farrail.errors import BadInput
from farrail.optics.clipping import Array
from farrail.optics.oblique import STEEPEST_RAD
from farrail.optics.projection import image_height_mm
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import Gradation, RoundFilter, SheetFilter
from farrail.readouts.front.model import Front
from farrail.train.layout import Layout
from farrail.train.placed import Place, Placed

# How far usual gradations run where the maker is silent; common practice, no source.
USUAL_TRANSITION_MM = {Gradation.HARD: 3.0, Gradation.MEDIUM: 15.0, Gradation.SOFT: 35.0, Gradation.REVERSE: 35.0}
# How much brighter the sky may stay than the ground, in stops, to look natural; common practice, no source.
SKY_LEFT_STOPS = 1.0
# The strongest graduated filter that is usual; common practice, no source.
STRONGEST_STOPS = 4.0
# At so many places along each side of the frame a sheet's size is asked for.
BORDER_STEPS = 33


@dataclass(frozen=True)
class SheetNeed:
    """How large a sheet must be that is so far ahead of the entrance pupil.

    Attributes:
        sizes_mm: width, height, and width to turn freely, for the whole frame; where no sheet reaches the corners, for
            the middles of its sides alone.
        corners: whether any sheet can serve the corners: they must look less than 89° aside.
        sides: whether any can serve the middles of the sides.
    """

    sizes_mm: tuple[float, float, float]
    corners: bool
    sides: bool


def sheet_need(front: Front, ahead_mm: float) -> SheetNeed:
    """Return how large a sheet must be for a lens of any projection, as focused and with what is behind it.

    Args:
        front: the lens and what is ahead of it.
        ahead_mm: E + z, the sheet's distance ahead of the entrance pupil's place on the axis.

    Raises:
        BadInput: there is no camera.
    """
    camera, pupil = front.layout.camera, front.pupil
    if camera is None:
        raise BadInput("The filter size depends on the frame; add a camera to the train.")
    half_w, half_h = camera.sensor_width_mm.value / 2.0, camera.sensor_height_mm.value / 2.0
    along = np.linspace(-1.0, 1.0, BORDER_STEPS)
    border = np.array([(x * half_w, s * half_h) for x in along for s in (-1.0, 1.0)]
                      + [(s * half_w, y * half_h) for y in along for s in (-1.0, 1.0)])  # fmt: skip
    middles = np.array([(half_w, 0.0), (0.0, half_h)])
    lever, larger = front.near_subject.place(np.array([max(ahead_mm, 0.0)]))
    cone = pupil.focal_length_mm / pupil.f_number / float(larger[0])
    true_mm = float(lever[0]) / float(larger[0])

    def reach(points: Array) -> tuple[Array, bool]:
        heights = np.hypot(points[:, 0], points[:, 1])
        angles = pupil.directions.angles(heights, pupil.focal_length_mm)
        walked = pupil.directions.walked_mm(angles, pupil.focal_length_mm)
        out = np.maximum(true_mm - walked, 0.0) * np.tan(angles) / np.maximum(heights, 1e-12)
        return np.abs(points) * out[:, None], bool(angles.max() < STEEPEST_RAD - 1e-9)

    everywhere, corners = reach(border)
    beside, sides = reach(middles)
    served = everywhere if corners else beside
    wide, high = (2.0 * float(served[:, axis].max()) + cone for axis in (0, 1))
    free = 2.0 * float(np.hypot(served[:, 0], served[:, 1]).max()) + cone
    return SheetNeed((wide, high, free), corners, sides)


def shown_at_mm(front: Front, aside_mm: float, ahead_mm: float) -> float:
    """Return the image height at which a place of a sheet, so far beside the axis, is shown; signed."""
    lever, larger = front.near_subject.place(np.array([max(ahead_mm, 1e-6)]))
    true_mm, pupil = float(lever[0]) / float(larger[0]), front.pupil
    angle = math.atan(abs(aside_mm) / max(true_mm, 1e-6))
    height = image_height_mm(angle, pupil.focal_length_mm, pupil.directions.projection)
    return math.copysign(height, aside_mm)


def slot_z_mm(placed: Placed, holder: FilterHolder, slot: int) -> float:
    """Return where the middle of a holder's slot is on the rail."""
    return placed.on_rail_mm(holder.slot_at_mm(slot, placed.z_rear_mm - placed.z_front_mm))


@dataclass(frozen=True)
class SheetInSlot:
    """One sheet in a holder on a lens.

    Attributes:
        sheet: the sheet.
        slot: its slot, from the rear.
        placed: the holder.
        ahead_mm: E + z.
        needed_mm: width, height, and width to turn freely, for the frame now.
        shift_mm: how far it is slid up.
        line: where its line falls in the picture, from −1 (bottom edge) to 1 (top edge); None for no line.
        blur: how soft the line looks, as a share of the picture's height.
        uncovered: whether light passes beside the sheet into the frame.
        need: the same sizes, and whether any sheet can serve corners and sides.
    """

    sheet: SheetFilter
    slot: int
    placed: Placed
    ahead_mm: float
    needed_mm: tuple[float, float, float]
    shift_mm: float
    line: float | None
    blur: float | None
    uncovered: bool
    need: SheetNeed

    @property
    def slide_mm(self) -> float:
        """How far it must slide to bring its line to the middle of the picture, up positive."""
        return -self.shift_mm

    @property
    def place(self) -> Place:
        """Where it is in the train."""
        return Place(self.placed.side, self.placed.index, self.slot)


def sheets_in(front: Front) -> tuple[SheetInSlot, ...]:
    """Return every sheet of a front stack, from the lens outward."""
    layout, camera, lens = front.layout, front.layout.camera, front.lens
    if camera is None or lens is None:
        return ()
    found = []
    for placed in layout.front:
        if isinstance(placed.part, FilterHolder):
            for slot, sheet_id in enumerate(placed.laid.filters):
                sheet = layout.parts.get(sheet_id or "")
                if isinstance(sheet, SheetFilter):
                    found.append(_sheet(front, camera, placed, placed.part, slot, sheet))
    return tuple(found)


def _sheet(
    front: Front, camera: Camera, placed: Placed, holder: FilterHolder, slot: int, sheet: SheetFilter
) -> SheetInSlot:
    layout = front.layout
    height = camera.sensor_height_mm.value
    ahead = layout.first_order.entrance_pupil.value + layout.front_seat_mm - slot_z_mm(placed, holder, slot)
    need = sheet_need(front, ahead)
    needed = need.sizes_mm
    shift = placed.laid.shift_mm(slot)
    line = blur = None
    if sheet.graded and ahead > 0.0:
        # The line runs through the sheet's middle.
        line = shown_at_mm(front, shift, ahead) / (height / 2.0)
        transition = sheet.transition_mm
        run = transition.value if transition is not None else USUAL_TRANSITION_MM[sheet.gradation]
        blur = blur_share(front, shift, run, ahead, height)
    half_w, half_h = sheet.width_mm.value / 2.0, sheet.height_mm.value / 2.0
    reach = needed[1] / 2.0
    # Any edge inside the frame's light shows: the clear part of a graduated filter ends in an edge as well.
    beside = half_w < needed[0] / 2.0 - 1e-9 or half_h - abs(shift) < reach - 1e-9 or not need.corners
    return SheetInSlot(sheet, slot, placed, ahead, needed, shift, line, blur, beside, need)


def blur_share(front: Front, shift_mm: float, run_mm: float, ahead_mm: float, height_mm: float) -> float:
    """Return over how much of the picture's height a gradation runs, the pupil's own width included."""
    pupil = front.pupil
    half = (run_mm + pupil.focal_length_mm / pupil.f_number) / 2.0
    ends = (shown_at_mm(front, shift_mm + half, ahead_mm), shown_at_mm(front, shift_mm - half, ahead_mm))
    return (ends[0] - ends[1]) / height_mm


def graduated_strength_stops(sky_stops_brighter: float) -> float:
    """Return how strong a graduated filter to choose for a sky metered so many stops brighter than the ground.

    The sky stays SKY_LEFT_STOPS brighter, as the eye expects, or more where the strongest is not enough; whole stops
    from 0 to STRONGEST_STOPS, halves upward.

    Raises:
        BadInput: no number.
    """
    if not math.isfinite(sky_stops_brighter):
        raise BadInput("Give the difference between sky and ground in stops, such as 3.")
    return min(max(float(math.floor(sky_stops_brighter - SKY_LEFT_STOPS + 0.5)), 0.0), STRONGEST_STOPS)


def filters_ahead(layout: Layout) -> list[str]:
    """Return the names of all filters ahead of a lens, from the lens outward."""
    found = []
    for placed in layout.front:
        if isinstance(placed.part, RoundFilter):
            found.append(placed.part.name)
        ids = (placed.laid.drop_in, *placed.laid.filters)
        found += [layout.parts[i].name for i in ids if i is not None and i in layout.parts]
    return found
