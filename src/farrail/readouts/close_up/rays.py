"""The rays of a close subject, as the drawing shows them: from its middle and its corner to the lens's pupil."""

import math
from dataclasses import dataclass

from farrail.readouts.close_up.model import CloseUp

# A subject farther than this is outside the drawing: only the direction of its light is shown.
SHOWN_MM = 260.0
Ray = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class CloseRays:
    """Where a close subject is on the rail and how its light runs; heights in mm from the axis.

    Attributes:
        subject_mm: the subject's plane.
        half_mm: half the diagonal of what fills the frame.
        glass_mm: the foremost glass, from which the working distance is counted.
        distance_mm: that distance.
        axis: edges of the light from the subject's middle, (place, height) from the subject to the pupil.
        corner: likewise from its corner.
        shown: whether it is near enough to be drawn.
    """

    subject_mm: float
    half_mm: float
    glass_mm: float
    distance_mm: float
    axis: tuple[Ray, Ray]
    corner: tuple[Ray, Ray]
    shown: bool


def close_rays(close: CloseUp) -> CloseRays | None:
    """Return the rays of a close-up train; None where nothing close is in focus.

    Between pupil and innermost close-up lens they run toward what the lens itself is focused on; on from there, past
    the further lenses of the stack, straight to the subject.
    """
    system, layout, camera = close.system, close.layout, close.layout.camera
    if system is None or camera is None or not close.active or not close.now.magnification > 0.0:
        return None
    now, stack, near = close.now, system.stack, system.near
    distance = now.distance_mm
    seat = layout.front_seat_mm
    focal = near.focal_at(close.focus_position)
    behind = near.principal_mm if system.reversed else layout.first_order.entrance_pupil.value
    pupil, radius = seat + behind, focal / (2.0 * system.f_number)
    half = camera.diagonal_mm / 2.0
    glass = seat - stack.ahead_mm
    subject, height = glass - distance, half / now.magnification
    plane = seat - stack.first_mm
    if now.of_lens > 1e-9:
        ahead = (now.of_lens * (focal - near.principal_at(close.focus_position) - stack.first_mm) + focal) / now.of_lens
        virtual, seen = plane - ahead, half * system.converter / now.of_lens
    else:
        virtual, seen = -math.inf, 0.0

    def ray(at_pupil: float, share: float) -> Ray:
        end = (pupil, at_pupil)
        if not stack.lenses:
            return ((subject, share * height), end)
        if math.isinf(virtual):
            # The lens is set to infinity: its light runs parallel, at the corner's slope.
            slope = share * half * system.converter / focal
            bent = at_pupil + slope * (pupil - plane)
        else:
            bent = at_pupil + (share * seen - at_pupil) * (pupil - plane) / (pupil - virtual)
        return ((subject, share * height), (plane, bent), end)

    return CloseRays(
        subject_mm=subject, half_mm=height, glass_mm=glass, distance_mm=distance,
        axis=(ray(radius, 0.0), ray(-radius, 0.0)), corner=(ray(radius, 1.0), ray(-radius, 1.0)),
        shown=distance <= SHOWN_MM,
    )  # fmt: skip
