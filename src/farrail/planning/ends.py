"""The table of ends: a lens at both ends of its zoom, bare and with everything available that brings it closer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from farrail.cancel import Stopped, never
from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.planning.combinations import Combination, combinations_of
from farrail.readouts.close_up.system import subject_to_sensor_mm, systems

# Less is no close-up: the lens then sees as far as one likes.
LEAST_MAGNIFICATION = 1e-4


@dataclass(frozen=True)
class End:
    """A combination at its nearest focus and at the infinity mark, at one end of its zoom.

    Attributes:
        combination: what it is made of.
        width_mm: what fills the frame's width.
        from_front_mm: from the foremost glass to the subject.
        from_sensor_mm: from the subject to the sensor.
        gain: magnification against the lens alone at its nearest there; None where it does not focus alone.
        stops: light lost against the lens at infinity.
        far_width_mm: what fills the frame's width with the lens at its infinity mark; None where it then sees afar.
        far_from_front_mm: from the foremost glass to the subject there; None likewise.
    """

    combination: Combination
    width_mm: float
    from_front_mm: float
    from_sensor_mm: float
    gain: float | None
    stops: float
    far_width_mm: float | None = None
    far_from_front_mm: float | None = None


@dataclass(frozen=True)
class EndsRow:
    """What is placed with the lens, and what comes of it at each focal length of the table; None without a focus."""

    parts: tuple[Part, ...]
    ends: tuple[End | None, ...]


@dataclass(frozen=True)
class EndsTable:
    """A lens's table: the focal lengths of its columns, and a row for each set of parts, the bare lens first."""

    lens: CameraLens
    focal_mm: tuple[float, ...]
    rows: tuple[EndsRow, ...]


def table_of_ends(
    lens: CameraLens, shelf: Mapping[PartId, Part], camera: Camera, f_number: float | None = None,
    stopped: Stopped = never,
) -> EndsTable:  # fmt: skip
    """Return a lens's table: bare, with each tube or close-up lens available, and with each stack of either.

    A lens flipped or carried on the front of another is asked for, not tabled, and so are tubes and close-up
    lenses together: the table is what one writes on a card and takes along.

    Args:
        lens: the lens.
        shelf: parts by id; those available are used.
        camera: whose frame is filled.
        f_number: what the lens is used at; None for wide open.
        stopped: returns True once the search is cancelled.

    Raises:
        Cancelled: the search is cancelled.
    """
    owned = {part.id: part for part in shelf.values() if part.status in AT_HAND} | {lens.id: lens}
    found = [
        c for c in combinations_of(owned, camera, f_number, [lens.id], stopped)
        if not c.reversed and c.carried is None and not (c.ahead and c.behind)
    ]  # fmt: skip
    focals = tuple(sorted({c.focal_mm for c in found}))
    points, afar = _nearest(found), _farthest(found)
    bare = {c.focal_mm: size for c, (size, *_) in zip(found, points, strict=True) if not c.ahead and not c.behind}
    rows: dict[tuple[str, ...], dict[float, End]] = {}
    parts: dict[tuple[str, ...], tuple[Part, ...]] = {}
    width = camera.sensor_width_mm.value
    for (c, (size, front, sensor, stops)), (far_size, far_front) in zip(
        zip(found, points, strict=True), afar, strict=True
    ):
        laid = (*reversed(c.ahead), *c.behind)
        # Two orders of one stack differ by its glass alone: the first stands for both.
        key = tuple(sorted(part.id for part in laid))
        parts.setdefault(key, laid)
        here = rows.setdefault(key, {})
        if c.focal_mm not in here and size > 0.0:
            alone = bare.get(c.focal_mm, 0.0)
            sees_near = far_size > LEAST_MAGNIFICATION
            here[c.focal_mm] = End(
                c, width / size, front, sensor, size / alone if alone > 0.0 else None, stops,
                width / far_size if sees_near else None, far_front if sees_near else None,
            )  # fmt: skip
    table = [EndsRow(parts[key], tuple(here.get(focal) for focal in focals)) for key, here in rows.items()]
    return EndsTable(lens, focals, tuple(sorted(table, key=_order)))


def _nearest(found: Sequence[Combination]) -> list[tuple[float, float, float, float]]:
    """Return magnification, distances from front and sensor, and stops lost at each nearest focus; NaN without one."""
    if not found:
        return []
    at = systems([c.system for c in found]).at(np.ones(len(found)))
    told = []
    for number, c in enumerate(found):
        front, of_lens = float(at.distance_mm[number]), float(at.of_lens[number])
        sensor = subject_to_sensor_mm(c.system, c.lens, 1.0, front, of_lens)
        told.append((float(at.magnification[number]), front, sensor, float(at.stops[number])))
    return told


def _farthest(found: Sequence[Combination]) -> list[tuple[float, float]]:
    """Return magnification and distance from the front of each at the infinity mark; NaN where nothing is sharp."""
    if not found:
        return []
    at = systems([c.system for c in found]).at(np.zeros(len(found)))
    return list(zip(at.magnification.tolist(), at.distance_mm.tolist(), strict=True))


def _order(row: EndsRow) -> tuple[bool, float]:
    """The bare lens first, then from the widest field to the smallest at the last end."""
    last = next((end for end in reversed(row.ends) if end is not None), None)
    return bool(row.parts), 0.0 if last is None else -last.width_mm
