"""What graduated filters take of the light, place by place: transmission over the picture, apart from vignetting."""

import math

import numpy as np

from farrail.optics.clipping import Array
from farrail.parts.kinds.filters import Gradation
from farrail.readouts.front.model import Front
from farrail.readouts.front.sheets import USUAL_TRANSITION_MM, SheetInSlot, sheets_in
from farrail.readouts.light.aperture_images import sensor_offset

# A reverse gradation is densest at its line and thins upward to this share of its density; common practice, no source.
REVERSE_LEFT = 1.0 / 3.0
# How hard the clear side of a reverse gradation begins.
REVERSE_EDGE_MM = USUAL_TRANSITION_MM[Gradation.HARD]
# Strips of the pupil over which the gradation is averaged.
STRIPS = 25
# Places at which what a sheet passes is worked out for a picture of many pixels.
PROFILE_PLACES = 1024
FINE_PLACES = 16_384
# A picture of fewer pixels than this needs a quarter of them.
SMALL_PX = 50_000


def graduated_stops_at(front: Front, points_mm: Array) -> Array:
    """Return the stops that graduated filters take at places of the sensor, (P,); zeros without any.

    Each place's bundle crosses a sheet as a disc as wide as the entrance pupil, whose light is averaged over the
    gradation; sheets one behind another multiply.

    Args:
        front: the lens and what is ahead of it.
        points_mm: places on the sensor as seen from behind, (P, 2); the picture is that turned by half a turn.
    """
    stops = np.zeros(len(points_mm))
    for item in sheets_in(front):
        if item.sheet.graded and item.sheet.density is not None and item.ahead_mm > 0.0:
            along = _along_mm(front, item, -points_mm[:, 0], -points_mm[:, 1])
            stops -= np.log2(_passed_along(front, item, along))
    return stops


def graduated_map(front: Front, columns: int, rows: int) -> Array | None:
    """Return the stops that graduated filters apply the picture, its upper left corner first; None without any.

    Args:
        front: the lens and what is ahead of it.
        columns: places across the picture, its edges included.
        rows: places down it.
    """
    camera = front.layout.camera
    if camera is None or not any(item.sheet.graded for item in sheets_in(front)):
        return None
    x = np.linspace(-0.5, 0.5, columns) * camera.sensor_width_mm.value
    y = np.linspace(0.5, -0.5, rows) * camera.sensor_height_mm.value
    right, up = sensor_offset(front.layout)
    across, down = np.meshgrid(x, y)
    places = np.stack([right - across.ravel(), up - down.ravel()], axis=1)
    return graduated_stops_at(front, places).reshape(rows, columns)


def graduated_fields(front: Front, seen_mm: tuple[Array, Array]) -> Array:
    """Return the stops that graduated filters cost in each pixel of a picture, of the pixels' shape.

    What a sheet passes depends on how far above its line a bundle crosses it alone: a profile of that is looked up.

    Args:
        front: the lens and what is ahead of it.
        seen_mm: what each pixel shows, right and up of the axis in the picture.
    """
    # Without a graduated filter: a field of zeros that takes no memory.
    stops: Array = np.broadcast_to(np.float32(0.0), seen_mm[0].shape)
    for item in sheets_in(front):
        if not item.sheet.graded or item.sheet.density is None or item.ahead_mm <= 0.0:
            continue
        along = _along_mm(front, item, *seen_mm)
        low, high = float(along.min()), float(along.max())
        places = np.linspace(low, high + 1e-6, PROFILE_PLACES if along.size > SMALL_PX else PROFILE_PLACES // 4)
        cost = -np.log2(_passed_along(front, item, places))
        # Even places need no search: the nearest of many.
        many = np.interp(np.linspace(low, high, FINE_PLACES), places, cost).astype(np.float32)
        stops = stops + many.take(((along - low) * ((FINE_PLACES - 1) / (high - low + 1e-9)) + 0.5).astype(np.int32))
    return stops


def _along_mm(front: Front, item: SheetInSlot, x_mm: Array, y_mm: Array) -> Array:
    """Return how far above a sheet's line the middle of the bundle of each place of the picture crosses it."""
    pupil = front.pupil
    lever, larger = front.near_subject.place(np.array([item.ahead_mm]))
    true_mm = float(lever[0]) / float(larger[0])

    def out(heights_mm: Array) -> Array:
        angles = pupil.directions.angles(heights_mm, pupil.focal_length_mm)
        walked = pupil.directions.walked_mm(angles, pupil.focal_length_mm)
        found: Array = np.maximum(true_mm - walked, 0.0) * np.tan(angles) / np.maximum(heights_mm, 1e-12)
        return found

    scale: Array | float
    heights = np.zeros(0) if pupil.directions.straight else np.hypot(x_mm, y_mm)
    if pupil.directions.straight:
        scale = max(true_mm, 0.0) / pupil.focal_length_mm
    elif heights.size > PROFILE_PLACES:
        few = np.linspace(1e-6, float(heights.max()) + 1e-6, PROFILE_PLACES)
        scale = np.interp(heights, few, out(few))
    else:
        scale = out(heights)
    turned = math.radians(front.layout.front_in_frame_deg[item.placed.index])
    # Turned clockwise, the sheet's own up points to the right.
    along: Array = (x_mm * math.sin(turned) + y_mm * math.cos(turned)) * scale - item.shift_mm
    return along


def _passed_along(front: Front, item: SheetInSlot, along_mm: Array) -> Array:
    """Return the share of light that a graduated sheet passes of bundles that cross it so far above its line, (P,)."""
    pupil = front.pupil
    _, larger = front.near_subject.place(np.array([item.ahead_mm]))
    radius = pupil.focal_length_mm / pupil.f_number / float(larger[0]) / 2.0
    across = np.linspace(-1.0, 1.0, 2 * STRIPS + 1)[1::2]
    weights = np.sqrt(1.0 - across**2)
    density = _density_share(item, along_mm[:, None] + radius * across[None, :])
    assert item.sheet.density is not None
    light = 10.0 ** (-item.sheet.density.value * density)
    return np.asarray((light * weights).sum(axis=1) / weights.sum())


def _density_share(item: SheetInSlot, along_mm: Array) -> Array:
    """Return the share of a sheet's density at places so far above its line, 0 to 1."""
    sheet = item.sheet
    run = sheet.transition_mm.value if sheet.transition_mm is not None else USUAL_TRANSITION_MM[sheet.gradation]
    if sheet.gradation is Gradation.REVERSE:
        rising = np.clip(0.5 + along_mm / REVERSE_EDGE_MM, 0.0, 1.0)
        return np.asarray(rising * (1.0 - (1.0 - REVERSE_LEFT) * np.clip(along_mm / max(run, 1e-6), 0.0, 1.0)))
    return np.asarray(np.clip(0.5 + along_mm / max(run, 1e-6), 0.0, 1.0))
