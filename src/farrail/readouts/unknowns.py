"""What a train does not know: every value of its parts of which only two ends are given, and what follows from that."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from farrail.parts.base import PartBase
from farrail.parts.kinds.filters import POLARISER_STOPS, RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Origin, Quantity, Span
from farrail.parts.shelved import PartId
from farrail.train.layout import Layout

Step = str | int
# Not inputs of any readout: what is kept of a part, and what it is drawn with.
NOT_INPUTS = ("price",)


@dataclass(frozen=True)
class Unknown:
    """One value of which only its two ends are known.

    Attributes:
        part: whose it is.
        path: the steps to it, names of fields and numbers of table rows.
        low: its lower end.
        high: its upper end.
    """

    part: PartId
    path: tuple[Step, ...]
    low: float
    high: float

    @property
    def field(self) -> str:
        """Its path as a field's, such as `glass.thickness_mm`."""
        return ".".join(str(step) for step in self.path)

    def at(self, share: float) -> float:
        """Return its value at a share of the way from its lower to its upper end."""
        return self.low + share * (self.high - self.low)


def unknowns_of(layout: Layout) -> tuple[Unknown, ...]:
    """Return everything that is unknown of a laid train's parts, each value once."""
    found: dict[tuple[PartId, tuple[Step, ...]], Unknown] = {}
    for part in _parts_of(layout):
        for path, quantity in _open_quantities(part, ()):
            found.setdefault((part.id, path), Unknown(part.id, path, quantity.low, quantity.high))
        if isinstance(part, RoundFilter | SheetFilter) and part.polariser and part.polariser_stops is None:
            path = ("polariser_stops",)
            found.setdefault((part.id, path), Unknown(part.id, path, POLARISER_STOPS.low, POLARISER_STOPS.high))
    lens, pupil = layout.optic, layout.first_order.exit_pupil
    own = isinstance(lens, CameraLens) and layout.corrector is None and lens.exit_pupil_distance_mm is None
    if own and not layout.reversed and isinstance(pupil.in_use, Span) and layout.apertures:
        path = ("exit_pupil_distance_mm",)
        found[lens.id, path] = Unknown(lens.id, path, pupil.low, pupil.high)
    return tuple(found.values())


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
