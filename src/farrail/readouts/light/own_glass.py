"""What is taken of a lens beyond its pupil's place: how its pupil walks, and how its own front glass vignettes."""

from dataclasses import dataclass, replace

import numpy as np

from farrail.optics.illumination import illumination_at
from farrail.optics.oblique import Directions
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.close_up.conjugate import ObjectConjugate
from farrail.train.layout import Layout
from farrail.train.zoom_tables import pupil_depth_at

# How far behind its seat a lens's front glass is taken to be where nothing was entered; common practice, no source.
USUAL_GLASS_DEPTH_MM = 5.0
# From what field angle on a pupil is taken to walk, by how much for each degree beyond, and how far at most; from
# memory, to be measured.
WALKS_FROM_DEG, WALK_MM_A_DEGREE, MOST_WALK_MM = 32.0, 0.4, 10.0


@dataclass(frozen=True)
class Doubt:
    """What is taken of an entrance pupil in place of what is known.

    Attributes:
        depth: a share more of its depth, where an assumed number has no interval.
        end: −1 for the lower end of the depth's interval, 1 for its upper, 0 for its typical value.
        walk_mm: how far it walks to the corner; None as known.
    """

    depth: float = 0.0
    walk_mm: float | None = None
    end: int = 0


NO_DOUBT = Doubt()


@dataclass(frozen=True)
class OwnGlass:
    """A lens's front glass as an aperture: how wide, and how far behind the thread seat it is."""

    image: ApertureImage
    depth_mm: float


def assumed_walk_mm(lens: CameraLens, field_angle_deg: float) -> float:
    """Return how far a pupil may shift toward the corner where that is not entered; 0 in a narrow field."""
    if lens.pupil_walk_mm is not None or any(at.walk_mm is not None for at in lens.entrance_pupils):
        return 0.0
    beyond = max(field_angle_deg - WALKS_FROM_DEG, 0.0)
    return min(beyond * WALK_MM_A_DEGREE, MOST_WALK_MM)


def own_glass_of(lens: CameraLens, directions: Directions) -> OwnGlass | None:
    """Return a lens's front glass, as measured or as its corner loss wide open says; None where neither is known.

    Of a lens whose loss alone is known the glass is taken where such glass usually is, and as wide as gives that
    loss at the frame's corner.
    """
    depth = lens.front_element_depth_mm
    at = USUAL_GLASS_DEPTH_MM if depth is None else depth.value
    if lens.front_element_mm is not None:
        image = ApertureImage(radius_mm=lens.front_element_mm.value / 2.0, distance_mm=0.0, front=True)
        return OwnGlass(image, at)
    if lens.corner_loss_stops is None or lens.corner_loss_stops.value <= 0.0 or directions.corner_mm <= 0.0:
        return None
    focal, n = lens.focal_length_mm.value, lens.f_number.value
    pupil = Pupil(n, np.inf, focal, directions=directions)
    ahead = max(pupil_depth_at(lens, focal).value - at, 1.0)
    corner, wanted = np.array([[directions.corner_mm, 0.0]]), 2.0**-lens.corner_loss_stops.value
    low, high = 0.0, focal / n + ahead * 12.0
    for _ in range(50):
        middle = (low + high) / 2.0
        image = ApertureImage(radius_mm=middle, distance_mm=ahead, front=True)
        light = float(illumination_at(pupil, [image], corner)[0])
        low, high = (middle, high) if light < wanted else (low, middle)
    return OwnGlass(ApertureImage(radius_mm=high, distance_mm=ahead, front=True), at)


def own_glass_seen(layout: Layout, pupil: Pupil, near: ObjectConjugate) -> tuple[ApertureImage, ...]:
    """Return a lens's front glass as the entrance pupil sees it now; () where nothing is known of it."""
    lens = layout.optic
    own = own_glass_of(lens, pupil.directions) if isinstance(lens, CameraLens) and not layout.reversed else None
    if own is None:
        return ()
    ahead = layout.first_order.entrance_pupil.value - own.depth_mm
    lever, larger = near.place(np.array([ahead]))
    radius = own.image.radius_mm * float(larger[0])
    return (replace(own.image, radius_mm=radius, distance_mm=float(lever[0]), larger=float(larger[0])),)
