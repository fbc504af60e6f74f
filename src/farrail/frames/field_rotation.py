"""Field rotation: stars trailed around the guide star while the frame was taken, not by anything in the train.

A trail grows with the distance from the centre it turns about and is square to the line to it. In second moments, for a
turn ω about (cx, cy), a line of length L adds L²/12: ``q1 = ω²/12·((y − cy)² − (x − cx)²)`` and
``q2 = −ω²/6·(x − cx)(y − cy)``, where q is a² − b² along and across 45°. Expanded that is linear in five unknowns. A
wrong spacing draws stars out about the frame's middle, and faster than with the square of the distance.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.tolerances import TWO_SIDED_95

# A pattern is there when it is so many deviations from none and explains at least this share of what is drawn out.
SURE, LEAST_SHARE = 5.0, 0.35
# Nearer to the frame's middle than this share of half the diagonal a centre may be the middle itself.
NEAR_MIDDLE = 0.25
# A wrong spacing adds at least so much in the corner to the growth with the square; frames of trails of 3 to 12 pixels,
# measured, add up to 0.05, of spacings wrong by 0.6 mm and more 0.21 and more.
LEAST_GROWTH = 0.12


@dataclass(frozen=True)
class FieldRotation:
    """A turn of the field during the exposure.

    Attributes:
        turn_deg: how far.
        centre_mm: about what, from the middle of the sensor, right and up as seen from behind the camera.
        corner_um: how long a star's trail is in the farthest corner.
        centre_off_mm: how far the centre may be off, either way, with 95 %.
        about_middle: whether the centre may be the frame's middle: then a spacing that is long looks alike.
    """

    turn_deg: float
    centre_mm: tuple[float, float]
    corner_um: float
    about_middle: bool
    centre_off_mm: float = 0.0


def rotation_of(
    places_mm: Array, sigma_mm: Array, length: Array, angle_rad: Array, half: Array
) -> FieldRotation | None:
    """Return the turn that stars show; None where there is none.

    Args:
        places_mm: of the stars, (S, 2).
        sigma_mm: geometric mean of each star's two deviations, (S,).
        length: one less the short over the long axis, (S,).
        angle_rad: of the long axis, (S,).
        half: half the sensor's width and height, mm, (2,).
    """
    ratio = np.clip(1.0 - length, 0.05, 1.0)
    drawn = sigma_mm**2 * (1.0 / ratio - ratio)
    q = np.concatenate([drawn * np.cos(2.0 * angle_rad), drawn * np.sin(2.0 * angle_rad)])
    x, y = places_mm.T
    one, none = np.ones_like(x), np.zeros_like(x)
    columns = (
        (y * y - x * x, -2.0 * x * y), (2.0 * x, 2.0 * y), (-2.0 * y, 2.0 * x), (one, none), (none, one),
    )  # fmt: skip
    turning = np.stack([np.concatenate(pair) for pair in columns], axis=1)
    r2 = x * x + y * y
    growth = np.concatenate([r2 * (y * y - x * x), -2.0 * r2 * x * y])[:, None]
    values, off, share = _fitted(turning, q)
    if values[0] < SURE * off[0] or share < LEAST_SHARE:
        return None
    centre = values[1] / values[0], values[2] / values[0]
    turn = math.sqrt(12.0 * values[0])
    reach = max(math.hypot(sx * half[0] - centre[0], sy * half[1] - centre[1]) for sx in (-1, 1) for sy in (-1, 1))
    sideways = math.hypot(values[1], values[2]) > SURE * math.hypot(off[1], off[2])
    about_middle = not sideways or math.hypot(*centre) < NEAR_MIDDLE * math.hypot(*half)
    if about_middle:
        more, _, _ = _fitted(np.hstack([turning, growth]), q)
        if more[5] * float(half @ half) > LEAST_GROWTH * more[0]:
            return None
    # Of a quotient: the deviations of both, taken as not going together.
    centre_off = TWO_SIDED_95 * math.hypot(math.hypot(off[1], off[2]), math.hypot(*centre) * off[0]) / values[0]
    place = float(centre[0]), float(centre[1])
    return FieldRotation(math.degrees(turn), place, 1000.0 * turn * reach, about_middle, float(centre_off))


def _fitted(matrix: Array, q: Array) -> tuple[Array, Array, float]:
    """Return unknowns, their deviations and the share of what is drawn out that they explain; outliers count less."""
    weight: Array = np.ones_like(q)
    values: Array = np.zeros(matrix.shape[1])
    for _ in range(5):
        root = np.sqrt(weight)
        values = np.asarray(np.linalg.lstsq(matrix * root[:, None], q * root, rcond=None)[0], dtype=float)
        left = q - matrix @ values
        spread = 1.4826 * float(np.median(np.abs(left))) or 1e-12
        weight = np.asarray((1.0 - np.minimum(np.abs(left) / (4.685 * spread), 1.0) ** 2) ** 2, dtype=float)
    normal = (matrix * weight[:, None]).T @ matrix
    off = np.sqrt(np.maximum(np.diag(np.linalg.pinv(normal)), 0.0)) * spread
    left = q - matrix @ values
    share = 1.0 - float((weight * left**2).sum() / max(float((weight * q**2).sum()), 1e-30))
    return values, off, share
