"""What turning a filter holder does to the corners."""

from dataclasses import dataclass

from farrail.readouts.front.model import Front


@dataclass(frozen=True)
class Turning:
    """What turning the holder does: added corner loss from 0° to 90° against the frame, wherever it is turned now.

    Attributes:
        angles_deg: angles, absolute.
        stops: loss at each.
        worst_deg: the angle with the greatest loss.
        clean_deg: the ranges of angles that are clean.
    """

    angles_deg: tuple[float, ...]
    stops: tuple[float, ...]
    worst_deg: float
    clean_deg: tuple[tuple[float, float], ...]


def turning_of(front: Front, limit_stops: float, steps: int = 31) -> Turning | None:
    """Return the sweep of a holder's angle; None where nothing rectangular is in the stack."""
    if not front.judged or all(o.half_height_mm is None for o in front.images):
        return None
    angles = tuple(90.0 * n / (steps - 1) for n in range(steps))
    first = next(p for p, o in zip(front.placed, front.images, strict=True) if o.half_height_mm is not None)
    now = front.layout.front_in_frame_deg[first.index]
    stops = tuple(front.turned_stops(angle - now) for angle in angles)
    worst = angles[stops.index(max(stops))]
    clean: list[tuple[float, float]] = []
    start: float | None = None
    for angle, lost in zip(angles, stops, strict=True):
        if lost <= limit_stops and start is None:
            start = angle
        if lost > limit_stops and start is not None:
            clean.append((start, angle - 90.0 / (steps - 1)))
            start = None
    if start is not None:
        clean.append((start, 90.0))
    return Turning(angles, stops, worst, tuple(clean))
