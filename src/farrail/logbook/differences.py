"""What differs between two states of a train, or between two trains: parts, settings, joints."""

from collections import Counter
from dataclasses import dataclass
from enum import StrEnum

from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Side, Train


class Change(StrEnum):
    """What kind of difference it is."""

    OPTIC = "optic"
    CAMERA = "camera"
    ADDED = "added"
    GONE = "gone"
    ORDER = "order"
    LAID = "laid"
    CONDITIONS = "conditions"
    VALUE = "value"


@dataclass(frozen=True)
class Difference:
    """One difference.

    Attributes:
        change: what kind.
        part: the part it is about, "" for none.
        name: its name.
        before: how it was, in the value's own words.
        after: how it is.
        count: how many pieces.
    """

    change: Change
    part: PartId = ""
    name: str = ""
    before: str = ""
    after: str = ""
    count: int = 1


def differences(before: Train, after: Train, then: Shelf, now: Shelf) -> tuple[Difference, ...]:
    """Return what differs between two trains, in the order of the work.

    Args:
        before: one train.
        after: the other.
        then: the parts of the first.
        now: the parts of the second.
    """
    found: list[Difference] = []

    def name(part_id: PartId | None, shelf: Shelf) -> str:
        part = shelf.get(part_id or "")
        return "" if part is None else part.name

    if (before.optic, before.optic_reversed) != (after.optic, after.optic_reversed):
        told = Difference(
            Change.OPTIC, after.optic, name(after.optic, now), name(before.optic, then), name(after.optic, now)
        )
        found.append(told)
    found += _parts(before, after, then, now)
    for side in Side:
        found += _rows(before.row(side), after.row(side), now)
    if _camera(before) != _camera(after):
        found.append(
            Difference(Change.CAMERA, after.camera or "", name(after.camera, now), name(before.camera, then),
                       name(after.camera, now))
        )  # fmt: skip
    if before.conditions != after.conditions:
        found.append(Difference(Change.CONDITIONS))
    shared = dict.fromkeys(part for part in before.part_ids() if part in after.part_ids())
    for part_id in shared:
        one, other = then.get(part_id), now.get(part_id)
        if one is not None and other is not None and one is not other and _values(one) != _values(other):
            found.append(Difference(Change.VALUE, part_id, other.name))
    return tuple(found)


def _values(part: Part) -> dict[str, object]:
    """Return what a part is, without how it is kept and bought."""
    return part.model_dump(exclude={"owned", "status", "price", "kit", "note", "maker"})


def _parts(before: Train, after: Train, then: Shelf, now: Shelf) -> list[Difference]:
    had, has = Counter(_laid_ids(before)), Counter(_laid_ids(after))
    gone, added = had - has, has - had
    found = []
    for change, counts, shelf in ((Change.GONE, gone, then), (Change.ADDED, added, now)):
        for part_id, count in counts.items():
            part = shelf.get(part_id)
            found.append(Difference(change, part_id, part_id if part is None else part.name, count=count))
    return found


def _laid_ids(train: Train) -> list[PartId]:
    return [part_id for laid in (*train.front_stack, *train.rear_train) for part_id in laid.part_ids()]


def _rows(before: tuple[MountedPart, ...], after: tuple[MountedPart, ...], now: Shelf) -> list[Difference]:
    """Return what is otherwise of what both rows have."""
    found = []
    had, has = [laid.part for laid in before], [laid.part for laid in after]
    common = Counter(had) & Counter(has)
    if [p for p in had if p in common] != [p for p in has if p in common]:
        found.append(Difference(Change.ORDER))
    for laid in after:
        old = next((one for one in before if one.part == laid.part), None)
        if old is not None and _how(old) != _how(laid):
            part = now.get(laid.part)
            found.append(Difference(Change.LAID, laid.part, laid.part if part is None else part.name))
    return found


def _how(laid: MountedPart) -> tuple[object, ...]:
    return (
        laid.flipped,
        laid.setting_mm,
        laid.turned_deg,
        laid.in_beam,
        laid.standoff_mm,
        laid.shifts_mm,
        laid.out_of_cell,
    )


def _camera(train: Train) -> tuple[object, ...]:
    return train.camera, train.camera_bare, train.camera_standoff_mm, train.camera_turned_deg
