"""How a lens places angles on the frame.

rectilinear h = f·tan θ, equidistant h = f·θ, equisolid h = 2f·sin(θ/2), stereographic h = 2f·tan(θ/2),
orthographic h = f·sin θ (standard projections of camera lenses; cited from memory).
"""

import math
from typing import Literal, TypeAlias

import numpy as np

from farrail.optics.clipping import Array

Projection: TypeAlias = Literal["rectilinear", "equidistant", "equisolid", "stereographic", "orthographic"]


def field_angle_rad(height_mm: float, focal_mm: float, projection: Projection) -> float:
    """Return the angle from the axis of the direction that an image height shows; π/2 and more for a fisheye."""
    return float(angles_rad(np.asarray(height_mm), focal_mm, projection))


def angles_rad(heights_mm: Array, focal_mm: "Array | float", projection: Projection) -> Array:
    """Return the field angles of image heights, zero or more; shapes broadcast. What no angle shows gets the widest."""
    ratio = np.asarray(heights_mm / focal_mm, dtype=float)
    if projection == "equidistant":
        return ratio
    if projection == "equisolid":
        return np.asarray(2.0 * np.arcsin(np.minimum(ratio / 2.0, 1.0)))
    if projection == "stereographic":
        return np.asarray(2.0 * np.arctan(ratio / 2.0))
    if projection == "orthographic":
        return np.asarray(np.arcsin(np.minimum(ratio, 1.0)))
    return np.asarray(np.arctan(ratio))


def image_height_mm(angle_rad: float, focal_mm: float, projection: Projection) -> float:
    """Return the image height at which a direction is shown; a rectilinear lens shows none beyond 90°: infinity."""
    if projection == "equidistant":
        return focal_mm * angle_rad
    if projection == "equisolid":
        return 2.0 * focal_mm * math.sin(angle_rad / 2.0)
    if projection == "stereographic":
        return 2.0 * focal_mm * math.tan(angle_rad / 2.0)
    if projection == "orthographic":
        return focal_mm * math.sin(min(angle_rad, math.pi / 2.0))
    return focal_mm * math.tan(angle_rad) if angle_rad < math.pi / 2.0 else math.inf
