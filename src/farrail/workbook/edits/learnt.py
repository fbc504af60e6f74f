"""Edits that take what the log calibrates into the shelf, and take it back again."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from farrail.errors import EditRefused
from farrail.language import N_, Text, say, say_n
from farrail.logbook.learning.doubts import contested, doubts_of, without_outvoted
from farrail.logbook.learning.learn import learn_of
from farrail.logbook.learning.model import Assumption, Evidence, Found
from farrail.parts.fields import begun
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens, NearAt, PupilAt
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.parts.registry import Part
from farrail.train.zoom_tables import pupil_depth_at
from farrail.workbook.edits.shelf import SetReading, change_part, field_of
from farrail.workbook.workbook import Workbook

# Entries of a zoom's table this near to each other, as a share, are one.
SAME_ENTRY = 0.04
DIGITS = 3


@dataclass(frozen=True)
class TakeOver:
    """Set values to what was calibrated, measured from observations that stay linked to them; one step."""

    found: tuple[Found, ...]
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        count = len(self.found)
        return say_n("Apply {count} value from the log", "Apply {count} values from the log", count, count=count)

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the values in use."""
        if not self.found:
            raise EditRefused("No value is selected to apply.")
        for one in self.found:
            workbook = _taken(workbook, one)
        return workbook


def shelf_with(workbook: Workbook, found: Sequence[Found]) -> Mapping[PartId, Part]:
    """Return the parts as they would be with calibrated values in use; a value that cannot be used is left out."""
    for one in found:
        try:
            workbook = TakeOver((one,)).apply(workbook)
        except EditRefused:
            continue
    return workbook.by_id


def reading_of(found: Found) -> Reading:
    """Return a calibrated value as a figure: measured, its interval as its tolerance, linked to what was seen."""
    return Reading(
        value=round(found.value, DIGITS), origin=Origin.MEASURED, tolerance=round(found.off, DIGITS), seen=found.seen
    )


def _taken(workbook: Workbook, found: Found) -> Workbook:
    part = workbook.by_id.get(found.part)
    if part is None:
        raise EditRefused("A part this calibration refers to is no longer in your parts list.")
    reading = reading_of(found)
    if found.focal_mm is None or not isinstance(part, CameraLens):
        old = field_of(begun(part, found.path), found.path)
        new = added(old, reading) if isinstance(old, Quantity) else Quantity(readings=(reading,))
        return SetReading(part.id, found.path, reading).owning(change_part(workbook, part.id, found.path, new))
    if found.path.startswith("entrance_pupils"):
        rows: tuple[Any, ...] = _pupils(part, found, reading)
        return change_part(workbook, part.id, "entrance_pupils", _sorted(rows))
    return change_part(workbook, part.id, "near_points", _sorted(_near(part, found, reading)))


def added(quantity: Quantity, reading: Reading) -> Quantity:
    """Return a quantity with a calibrated figure in use; it replaces an earlier calibrated one, and no other."""
    kept = tuple(old for old in quantity.readings if not (isinstance(old, Reading) and old.seen))
    return Quantity(readings=(*kept, reading), chosen=len(kept))


def _sorted(rows: tuple[Any, ...]) -> tuple[Any, ...]:
    return tuple(sorted(rows, key=lambda at: at.focal_mm))


def _entry(rows: tuple[Any, ...], focal_mm: float) -> int | None:
    near = [n for n, at in enumerate(rows) if abs(at.focal_mm - focal_mm) <= SAME_ENTRY * focal_mm]
    return min(near, key=lambda n: abs(rows[n].focal_mm - focal_mm), default=None)


def _pupils(lens: CameraLens, found: Found, reading: Reading) -> tuple[PupilAt, ...]:
    assert found.focal_mm is not None
    rows = lens.entrance_pupils
    offset = found.value - pupil_depth_at(lens, found.focal_mm).value
    if found.taken is Assumption.SHARED_OFFSET:
        # One offset for all of the table: every entry that is not calibrated itself goes along.
        rows = tuple(
            at
            if _learnt(at.depth_mm, found.seen)
            else at.model_copy(update={"depth_mm": _moved(at.depth_mm, offset, found)})
            for at in rows
        )
    number = _entry(rows, found.focal_mm)
    walk = found.path.endswith("walk_mm")
    if number is None:
        depth = pupil_depth_at(lens, found.focal_mm) if walk else Quantity(readings=(reading,))
        new = PupilAt(focal_mm=found.focal_mm, depth_mm=depth, walk_mm=Quantity(readings=(reading,)) if walk else None)
        return (*rows, new)
    old = rows[number]
    changed = {"walk_mm": Quantity(readings=(reading,))} if walk else {"depth_mm": added(old.depth_mm, reading)}
    return (*rows[:number], old.model_copy(update=changed), *rows[number + 1 :])


def _learnt(quantity: Quantity, seen: Sequence[str]) -> bool:
    use = quantity.in_use
    return isinstance(use, Reading) and set(use.seen) == set(seen)


def _moved(quantity: Quantity, offset: float, found: Found) -> Quantity:
    use = quantity.in_use
    reading = Reading(
        value=round(use.value + offset, DIGITS), origin=Origin.ASSUMED, tolerance=use.tolerance, seen=found.seen,
        note=say("moved with the entries calibrated from the log"),
    )  # fmt: skip
    return added(quantity, reading)


def _near(lens: CameraLens, found: Found, reading: Reading) -> tuple[NearAt, ...]:
    assert found.focal_mm is not None
    rows, number = lens.near_points, _entry(lens.near_points, found.focal_mm)
    name = found.path.rpartition(".")[2]
    if number is not None:
        old = rows[number]
        changed = old.model_copy(update={name: added(getattr(old, name), reading)})
        return (*rows[:number], changed, *rows[number + 1 :])
    # What the other of the two is no one has seen: as of a lens that keeps its focal length, assumed.
    m = reading.value if name == "magnification" else 0.12
    distance = found.focal_mm * (2.0 + m + 1.0 / m)
    told = {
        "magnification": Quantity.of(m, Origin.ASSUMED),
        "nearest_mm": Quantity.of(round(distance, 1), Origin.ASSUMED),
    }
    return (*rows, NearAt(focal_mm=found.focal_mm, **{**told, name: Quantity(readings=(reading,))}))


def resting_on(workbook: Workbook, observation: str) -> tuple[Part, ...]:
    """Return the parts of which a value rests on an observation."""
    return tuple(part for part in workbook.shelf if any(observation in r.seen for r in _readings(part)))


def _readings(record: BaseModel) -> Iterator[Reading]:
    for name in type(record).model_fields:
        value = getattr(record, name)
        for one in value if isinstance(value, tuple) else (value,):
            if isinstance(one, Reading):
                yield one
            elif isinstance(one, BaseModel):
                yield from _readings(one)


@dataclass(frozen=True)
class TakeBack:
    """Take back every value that rests on an observation; what was known before comes into use again."""

    observation: str
    label: Text = N_("Take back what rests on an observation")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without those figures."""
        shelf = list(workbook.shelf)
        for number, part in enumerate(shelf):
            if any(self.observation in reading.seen for reading in _readings(part)):
                shelf[number] = self._without(part)
        return workbook.model_copy(update={"shelf": tuple(shelf)})

    def _without(self, part: Part) -> Part:
        changed: dict[str, Any] = {}
        for name, info in type(part).model_fields.items():
            value = getattr(part, name)
            if isinstance(value, Quantity):
                left = self._left(value)
                # What a part cannot be without stays, as a guess.
                changed[name] = left if left is not None else (None if not info.is_required() else _guess(value))
            elif isinstance(value, tuple) and value and isinstance(value[0], PupilAt | NearAt):
                changed[name] = self._rows(value)
        try:
            return type(part).model_validate(part.model_copy(update=changed).model_dump(warnings=False))
        except ValidationError:
            raise EditRefused("{name} cannot be without that value; type another over it.", name=part.name) from None

    def _left(self, value: Quantity) -> Quantity | None:
        for index in reversed(range(len(value.readings))):
            reading = value.readings[index]
            if isinstance(reading, Reading) and self.observation in reading.seen:
                left = value.without(index)
                return None if left is None else left.choosing(len(left.readings) - 1)
        return value

    def _rows(self, rows: tuple[Any, ...]) -> tuple[Any, ...]:
        kept = []
        for row in rows:
            changed: dict[str, Any] = {}
            whole = True
            for name, info in type(row).model_fields.items():
                value = getattr(row, name)
                if isinstance(value, Quantity):
                    changed[name] = left = self._left(value)
                    whole = whole and (left is not None or not info.is_required())
            if whole:
                kept.append(row.model_copy(update=changed))
        return tuple(kept)


@dataclass(frozen=True)
class UpdateFrom:
    """Calibrate again what rests on an observation that was changed, set aside or removed; else take it back."""

    observation: str
    label: Text = N_("Update what rests on an observation")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with those values as the log calibrates them now."""
        resting = {part.id: _fields_resting(part, self.observation) for part in resting_on(workbook, self.observation)}
        before = TakeBack(self.observation).apply(workbook)
        evidence = Evidence.of(before.log, before.states_by_id, before.by_id)
        doubts = doubts_of(evidence)
        found, _ = learn_of(without_outvoted(evidence, doubts), set(resting))
        unsure = contested(doubts)
        anew = tuple(
            one for one in found if one.path.split(".")[0] in resting[one.part] and not unsure & set(one.seen)
        )  # fmt: skip
        return TakeOver(anew).apply(before) if anew else before


def _fields_resting(part: Part, observation: str) -> set[str]:
    """Return the fields of a part in which a figure rests on an observation."""
    return {
        name for name in type(part).model_fields
        for value in (getattr(part, name),)
        for record in (value if isinstance(value, tuple) else (value,))
        if isinstance(record, BaseModel) and any(observation in one.seen for one in _readings(record))
    }  # fmt: skip


def _guess(value: Quantity) -> Quantity:
    use = value.in_use
    return Quantity.of(use.value, Origin.ASSUMED, 0.0, say("taken back from the log"))
