"""A clear sky's polarisation, and what a polariser leaves of it over a wide frame.

Single scattering (Rayleigh): the degree is P = P_max·sin²γ/(1 + cos²γ), γ the angle from the Sun, and the light swings
along e ∥ s × u, at right angles to the line of sight s and the Sun's direction u. An ideal polariser with its axis a,
taken at right angles to s, passes T = ½[1 + P(2(a·e)² − 1)] (Malus; textbooks of atmospheric optics, from memory).
Vectors are (right, up, ahead) as the camera sees them, on the last axis.
"""

import math

import numpy as np

from farrail.language import N_
from farrail.optics.clipping import Array
from farrail.optics.projection import Projection, angles_rad

SOURCE = N_("Rayleigh: P = P_max·sin²γ/(1 + cos²γ), e ∥ s × u; Malus: T = ½[1 + P(2(a·e)² − 1)]")


def sight_lines(x_mm: Array, y_mm: Array, focal_mm: float, projection: Projection) -> Array:
    """Return the directions that points of the picture show, x to the right and y up, (…, 3)."""
    height = np.hypot(x_mm, y_mm)
    angle = angles_rad(height, focal_mm, projection)
    across = np.divide(np.sin(angle), height, out=np.zeros_like(angle), where=height > 0.0)
    return np.stack([across * x_mm, across * y_mm, np.cos(angle)], axis=-1)


def sun_direction(high_deg: float, right_deg: float, camera_up_deg: float = 0.0) -> Array:
    """Return the Sun's direction as a camera sees it that looks `camera_up_deg` above the horizon, (3,)."""
    high, right, up = (math.radians(angle) for angle in (high_deg, right_deg, camera_up_deg))
    east, zenith, ahead = math.cos(high) * math.sin(right), math.sin(high), math.cos(high) * math.cos(right)
    return np.array(
        [east, zenith * math.cos(up) - ahead * math.sin(up), ahead * math.cos(up) + zenith * math.sin(up)]
    )  # fmt: skip


def degree_of_polarisation(sight: Array, sun: Array, most: float) -> Array:
    """Return how far the sky's light is polarised along lines of sight, 0 to `most`."""
    cosine = np.clip(sight @ sun, -1.0, 1.0)
    return np.asarray(most * (1.0 - cosine**2) / (1.0 + cosine**2))


def darkest_axis_rad(sun: Array) -> float:
    """Return the turn of a polariser's axis, from the right toward up, that is darkest in the middle of the picture.

    That is at right angles to the light's own direction there. Looking straight at the Sun or away from it there is
    none: 0 then.
    """
    swings = np.cross(np.array([0.0, 0.0, 1.0]), sun)
    if float(np.hypot(swings[0], swings[1])) < 1e-12:
        return 0.0
    return math.atan2(float(swings[1]), float(swings[0])) + math.pi / 2.0


def passed(sight: Array, sun: Array, most: float, axis_rad: float) -> Array:
    """Return the share of the sky's light that an ideal polariser passes along lines of sight.

    Args:
        sight: unit vectors, (…, 3).
        sun: the Sun's direction, (3,).
        most: how far the sky is polarised at 90° from the Sun, 0 to 1.
        axis_rad: turn of the polariser's axis, from the right toward up.
    """
    share = degree_of_polarisation(sight, sun, most)
    swings = np.cross(sight, sun)
    axis = np.array([math.cos(axis_rad), math.sin(axis_rad), 0.0])
    across = axis - (sight @ axis)[..., None] * sight
    lengths = np.linalg.norm(swings, axis=-1) * np.linalg.norm(across, axis=-1)
    along = np.divide((swings * across).sum(axis=-1), lengths, out=np.zeros_like(share), where=lengths > 1e-12)
    return np.asarray(0.5 * (1.0 + share * (2.0 * along**2 - 1.0)))


def stops_of(share: Array) -> Array:
    """Return stops lost for shares of light passed; what passes nothing counts a millionth."""
    return np.asarray(-np.log2(np.maximum(share, 1e-6)))
