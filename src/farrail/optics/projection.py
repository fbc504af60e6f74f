"""How a lens lays angles on the frame, and the tangent of a field point's direction, which the front stack needs.

rectilinear h = f·tan θ, equidistant h = f·θ, equisolid h = 2f·sin(θ/2), stereographic h = 2f·tan(θ/2),
orthographic h = f·sin θ (standard projections of camera lenses; cited from memory).
"""

import math
from typing import Literal, TypeAlias

import numpy as np

from farrail.optics.clipping import Array

Projection: TypeAlias = Literal["rectilinear", "equidistant", "equisolid", "stereographic", "orthographic"]
# Directions steeper than this are taken as this: nothing laid flat ahead of a lens reaches beyond.
STEEPEST_RAD = math.radians(89.0)


def field_angle_rad(height_mm: float, focal_mm: float, projection: Projection) -> float:
    """Return the angle from the axis of the direction that an image height shows; π/2 and more for a fisheye."""
    ratio = height_mm / focal_mm
    if projection == "equidistant":
        return ratio
    if projection == "equisolid":
        return 2.0 * math.asin(min(ratio / 2.0, 1.0))
    if projection == "stereographic":
        return 2.0 * math.atan(ratio / 2.0)
    if projection == "orthographic":
        return math.asin(min(ratio, 1.0))
    return math.atan(ratio)


def tangent_factor(heights_mm: Array, focal_mm: float, projection: Projection) -> Array:
    """Return how much larger tan θ is than h/f, for image heights of any shape; 1 for a rectilinear lens."""
    ratio = np.abs(heights_mm) / focal_mm
    if projection == "rectilinear":
        return np.ones_like(ratio)
    if projection == "equidistant":
        angle = ratio
    elif projection == "equisolid":
        angle = 2.0 * np.arcsin(np.minimum(ratio / 2.0, 1.0))
    elif projection == "stereographic":
        angle = 2.0 * np.arctan(ratio / 2.0)
    else:
        angle = np.arcsin(np.minimum(ratio, 1.0))
    tangent = np.tan(np.minimum(angle, STEEPEST_RAD))
    return np.where(ratio > 1e-12, tangent / np.maximum(ratio, 1e-12), 1.0)
