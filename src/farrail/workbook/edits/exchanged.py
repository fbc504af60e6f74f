"""A part exchanged for another of its kind: old evenings stay with the old one, the trains hold the new one."""

from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import Text, say
from farrail.parts.fields import begun
from farrail.parts.inventory_item import PartId, Status
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span, widest
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.shelf import SetReading, field_of
from farrail.workbook.edits.trains import free_id
from farrail.workbook.history import Edit
from farrail.workbook.workbook import MOST_PARTS, Workbook


@dataclass(frozen=True)
class ExchangePart:
    """Make of a changed part another one, which the trains hold from now on.

    The old part, as it was known, stays on the shelf beside it, marked as lost: what was seen with it goes on
    calibrating it, and never the new one.

    Attributes:
        part: the part as it was before the change.
        day: of the exchange.
    """

    part: Part
    day: str
    merge_key: str | None = None

    @property
    def label(self) -> Text:
        """What undo calls it."""
        return say("Exchange {name}", name=self.part.name)

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with a new part in the old one's place in all trains."""
        changed = workbook.by_id.get(self.part.id)
        if changed is None:
            raise EditRefused("That part is no longer on the shelf; choose another.")
        new = changed.model_copy(update={"id": free_id(changed.name, _taken(workbook))})
        name = say("{name}, until {day}", name=self.part.name[:100], day=self.day)
        old = self.part.model_copy(update={"name": name, "status": Status.LOST})
        shelf = tuple(both for one in workbook.shelf for both in ((new, old) if one.id == old.id else (one,)))
        if len(shelf) > MOST_PARTS:
            raise EditRefused("A shelf holds at most {most} parts; remove one first.", most=MOST_PARTS)
        trains = tuple(_holding(train, old.id, new.id) for train in workbook.trains)
        return workbook.model_copy(update={"shelf": shelf, "trains": trains})


def _taken(workbook: Workbook) -> set[PartId]:
    """Return the ids of all parts, those in snapshots too."""
    return {*workbook.by_id, *(part.id for state in workbook.states for part in state.parts)}


def _holding(train: Train, old: PartId, new: PartId) -> Train:
    """Return a train that holds another part wherever it held one."""
    if old not in train.part_ids():
        return train

    def other(part: PartId | None) -> PartId | None:
        return new if part == old else part

    def held(laid: MountedPart) -> MountedPart:
        port = laid.guide
        if port is not None:
            between = tuple(new if one == old else one for one in port.between)
            port = port.model_copy(update={"camera": other(port.camera), "between": between})
        return laid.model_copy(update={
            "part": other(laid.part), "filters": tuple(other(one) for one in laid.filters), "lens": other(laid.lens),
            "drop_in": other(laid.drop_in), "guide": port,
        })  # fmt: skip

    rows = {side.value: tuple(held(laid) for laid in train.row(side)) for side in Side}
    return train.model_copy(update={**rows, "optic": other(train.optic), "camera": other(train.camera)})


def asks_exchange(before: Workbook, edit: Edit) -> Part | None:
    """Return the part of which an edit leaves open whether it was corrected or exchanged; None where nothing is open.

    It is open where a figure that was measured or published is replaced by another, and evenings in the log were spent
    with that part.
    """
    if not isinstance(edit, SetReading):
        return None
    part = before.by_id.get(edit.part)
    if part is None or not _seen_with(before, part.id):
        return None
    old = field_of(begun(part, edit.path), edit.path)
    if not isinstance(old, Quantity) or old.origin is Origin.ASSUMED or _meets(old, edit.reading):
        return None
    return part


def _meets(old: Quantity, new: Reading | Span) -> bool:
    """Return whether two figures may be of one value, each within its tolerance."""
    (low, high), (old_low, old_high) = widest(new), widest(old)
    return low <= old_high and old_low <= high


def _seen_with(workbook: Workbook, part: PartId) -> bool:
    states = {state.id for state in workbook.states if any(one.id == part for one in state.parts)}
    return any(seen.state in states and not type(seen).only_words for seen in workbook.log)
