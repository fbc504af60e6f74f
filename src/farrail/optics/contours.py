"""Lines of equal loss over a frame, as a general contouring library traces them."""

import numpy as np

from farrail.optics.clipping import Array

# Stops at which lines are drawn; the last is close to dark.
LEVELS_STOPS = (0.1, 0.25, 1.0 / 3.0, 0.5, 1.0, 2.0, 4.0)


def equal_loss_lines(ri: Array) -> list[tuple[float, list[Array]]]:
    """Return the lines of equal loss of a map of RI, by level in stops.

    Args:
        ri: RI at cell centres, (rows, columns), row 0 at the picture's top.

    Returns:
        For each level that occurs, its lines as (N, 2) arrays of places from 0 to 1 across and down the frame.
    """
    from contourpy import contour_generator

    rows, columns = ri.shape
    x, y = (np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows
    stops = -np.log2(np.maximum(ri, 1e-6))
    traced = contour_generator(x, y, stops)
    found = []
    for level in LEVELS_STOPS:
        lines = [np.asarray(line) for line in traced.lines(level) if len(line) > 2]
        if lines:
            found.append((level, lines))
    return found
