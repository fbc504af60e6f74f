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
            stops -= np.log2(_passed(front, item, -points_mm))
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


def _passed(front: Front, item: SheetInSlot, seen_mm: Array) -> Array:
    """Return the share of light that a graduated sheet passes toward places of the picture, (P,)."""
    pupil = front.pupil
    heights = np.hypot(seen_mm[:, 0], seen_mm[:, 1])
    angles = pupil.directions.angles(heights, pupil.focal_length_mm)
    lever, larger = front.near_subject.place(np.array([item.ahead_mm]))
    true_mm = float(lever[0]) / float(larger[0])
    walked = pupil.directions.walked_mm(angles, pupil.focal_length_mm)
    out = np.maximum(true_mm - walked, 0.0) * np.tan(angles) / np.maximum(heights, 1e-12)
    turned = math.radians(front.layout.front_in_frame_deg[item.placed.index])
    # Turned clockwise, the sheet's own up points to the right.
    up = np.array([math.sin(turned), math.cos(turned)])
    along = (seen_mm @ up) * out - item.shift_mm
    radius = pupil.focal_length_mm / pupil.f_number / float(larger[0]) / 2.0
    across = np.linspace(-1.0, 1.0, 2 * STRIPS + 1)[1::2]
    weights = np.sqrt(1.0 - across**2)
    density = _density_share(item, along[:, None] + radius * across[None, :])
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
