"""Ray matrices of thin lenses and travel, for checks; made from refraction alone.

Matrices: Gerrard and Burch, *Introduction to Matrix Methods in Optics* (cited from memory).
"""

import numpy as np


def lens(focal_mm: float) -> np.ndarray:
    """Return the matrix of a thin lens."""
    return np.array([[1.0, 0.0], [-1.0 / focal_mm, 1.0]])


def travel(length_mm: float) -> np.ndarray:
    """Return the matrix of a length of air."""
    return np.array([[1.0, length_mm], [0.0, 1.0]])


def conjugate(*elements: np.ndarray) -> tuple[float, float]:
    """Return where the subject is before the first element, and |m|, from the subject's side to the sensor."""
    system = np.eye(2)
    for element in elements:
        system = element @ system
    # (system · travel(d)) images: its upper right element, A·d + B, is zero; m is then A.
    (a, b), _ = system
    return float(-b / a), float(abs(a))
