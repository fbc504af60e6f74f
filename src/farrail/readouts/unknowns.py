"""The unknowns of a train: values entered as an interval, and fields left empty."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel

from farrail.parts.base import PartBase
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.not_entered import Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.front.model import Front
from farrail.readouts.light.own_glass import assumed_walk_mm
from farrail.train.layout import Layout
from farrail.train.zoom_tables import f_number_at

Step = str | int
# Not inputs of any readout: what is kept of a part, and what it is drawn with.
NOT_INPUTS = ("price",)


@dataclass(frozen=True)
class Unknown:
    """One value of which only an interval is known.

    Attributes:
        part: whose it is.
        path: the steps to it, names of fields and numbers of table rows.
        low: its lower end.
        high: its upper end.
        typical: the value used where one number is needed.
        inverse: whether values in between are spread evenly in 1/value.
        entered: whether its two ends were entered; otherwise they are the default of an empty field.
    """

    part: PartId
    path: tuple[Step, ...]
    low: float
    high: float
    typical: float = field(compare=False)
    inverse: bool = field(default=False, compare=False)
    entered: bool = field(default=True, compare=False)

    @property
    def field(self) -> str:
        """Its path as a field's, such as `glass.thickness_mm`."""
        return ".".join(str(step) for step in self.path)

    def at(self, share: float) -> float:
        """Return its value at a share of the way from its lower to its upper end."""
        if self.inverse:
            return 1.0 / (1.0 / self.low + share * (1.0 / self.high - 1.0 / self.low))
        return self.low + share * (self.high - self.low)

    @property
    def typical_share(self) -> float:
        """The share at which its typical value is."""
        if self.inverse:
            return (1.0 / self.typical - 1.0 / self.low) / (1.0 / self.high - 1.0 / self.low)
        return (self.typical - self.low) / (self.high - self.low)


def unknowns_of(layout: Layout) -> tuple[Unknown, ...]:
    """Return everything that is unknown of a train's parts, each value once."""
    found: dict[tuple[PartId, tuple[Step, ...]], Unknown] = {}
    use = _use_of(layout)
    for part in _parts_of(layout):
        for path, quantity in _open_quantities(part, ()):
            found.setdefault((part.id, path), Unknown(part.id, path, quantity.low, quantity.high, quantity.value))
        own = use if part is layout.optic else _beside(use, layout)
        for default in part.not_entered(own):
            if default.high > default.low:
                path = (default.path,)
                found[part.id, path] = Unknown(
                    part.id, path, default.low, default.high, default.typical, default.inverse, entered=False
                )
    lens, pupil = layout.optic, layout.first_order.exit_pupil
    own_pupil = isinstance(lens, CameraLens) and layout.corrector is None and lens.exit_pupil_distance_mm is None
    if own_pupil and not layout.reversed and isinstance(pupil.in_use, Span) and layout.apertures:
        path = ("exit_pupil_distance_mm",)
        found[lens.id, path] = Unknown(lens.id, path, pupil.low, pupil.high, pupil.value, entered=False)
    walk = _walk_of(layout)
    if walk is not None:
        found[walk.part, walk.path] = walk
    return tuple(found.values())


def _walk_of(layout: Layout) -> Unknown | None:
    """Return how far the entrance pupil of a wide lens walks to the corner, where a front stack rests on it."""
    front = Front(layout)
    if front.lens is None or not front.judged:
        return None
    most = assumed_walk_mm(front.lens, front.field_angle_deg)
    return Unknown(front.lens.id, ("pupil_walk_mm",), 0.0, most, 0.0, entered=False) if most > 0.0 else None


def _use_of(layout: Layout) -> Use:
    optic, focal = layout.optic, layout.first_order.own_focal_length.value
    close = isinstance(optic, CameraLens) and layout.camera is not None and CloseUp(layout).active
    own = f_number_at(optic, focal).value if isinstance(optic, CameraLens) else 0.0
    depth = layout.first_order.entrance_pupil.value
    return Use(focal, layout.diagonal_mm, own, depth, close, layout.reversed, optic=True)


def _beside(use: Use, layout: Layout) -> Use:
    return Use(layout.optic.focal_length_mm.value, use.diagonal_mm, use.f_number, close_up=use.close_up)


def _parts_of(layout: Layout) -> Iterator[PartBase]:
    for part_id in dict.fromkeys(layout.train.part_ids()):
        part = layout.parts.get(part_id)
        if part is not None:
            yield part


def _open_quantities(record: BaseModel, path: tuple[Step, ...]) -> Iterator[tuple[tuple[Step, ...], Quantity]]:
    for name in type(record).model_fields:
        yield from _within(getattr(record, name), (*path, name))


def _within(value: Any, path: tuple[Step, ...]) -> Iterator[tuple[tuple[Step, ...], Quantity]]:
    if isinstance(value, Quantity):
        if isinstance(value.in_use, Span) and value.high > value.low and path[-1] not in NOT_INPUTS:
            yield path, value
    elif isinstance(value, BaseModel):
        yield from _open_quantities(value, path)
    elif isinstance(value, tuple):
        for number, one in enumerate(value):
            yield from _within(one, (*path, number))


def with_values(parts: Mapping[PartId, PartBase], values: Mapping[Unknown, float]) -> dict[PartId, PartBase]:
    """Return parts in which unknown values are given numbers."""
    changed = dict(parts)
    for unknown, value in values.items():
        part = changed.get(unknown.part)
        if part is not None:
            changed[unknown.part] = _put(part, unknown.path, Quantity.of(value, Origin.ASSUMED))
    return changed


def _put(holder: Any, path: tuple[Step, ...], value: Quantity) -> Any:
    step, rest = path[0], path[1:]
    if isinstance(step, int):
        row = list(holder)
        row[step] = _put(row[step], rest, value) if rest else value
        return tuple(row)
    inner = _put(getattr(holder, step), rest, value) if rest else value
    return holder.model_copy(update={step: inner})
