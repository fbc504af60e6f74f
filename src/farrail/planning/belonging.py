"""Where a part of the shelf belongs on a train: the joints it mates at, the seats and slots that take it."""

from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.parts.base import TubePart
from farrail.parts.connections import Plain
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat, FilterWheel
from farrail.parts.registry import Part
from farrail.train.layout import Layout, build_layout
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Side, Train


@dataclass(frozen=True)
class Belongs:
    """One place where a part goes.

    Attributes:
        side: which row.
        index: the joint before the row's part of this index; with a slot, that part itself.
        flipped: whether it mates only when flipped.
        slot: the seat or slot of that part it goes into; None: it is placed at a joint.
    """

    side: Side
    index: int
    flipped: bool = False
    slot: int | None = None


def places_for(train: Train, shelf: Shelf, part: Part) -> tuple[Belongs, ...]:
    """Return the places where a part goes and mates, the likeliest first.

    A sheet goes into a free slot, bare glass into a free seat that takes it. Anything else goes to a joint where both
    its ends mate with what is there, else to one end of a row where the end toward the train does: what is ahead
    goes to the front of a lens, the outermost place first; all else behind the optic, the place nearest the camera
    first. Where nothing is known of a connection, nothing speaks against it.
    """
    if isinstance(part, SheetFilter):
        return tuple(_slots(train, shelf, part))
    if isinstance(part, RoundFilter) and isinstance(part.front.standard, Plain):
        seats = tuple(_seats(train, shelf, part))
        if seats:
            return seats
    if not isinstance(part, TubePart):
        return ()
    before = _apart(build_layout(train, shelf))
    lens = isinstance(shelf[train.optic], CameraLens)
    sides = (Side.FRONT, Side.REAR) if part.stands_ahead or (lens and isinstance(part, RoundFilter)) else (
        Side.REAR, Side.FRONT
    )  # fmt: skip
    found = []
    for side in sides:
        if side is Side.FRONT and not lens:
            continue
        count = len(train.row(side))
        here = [place for index in range(count, -1, -1) if (place := _at(train, shelf, part, side, index, before))]
        found += here
        if here:
            # Another side is no place for what belongs on this one.
            break
    return tuple(found)


def _at(train: Train, shelf: Shelf, part: Part, side: Side, index: int, before: set[object]) -> Belongs | None:
    """Return a joint as a place where a part mates, flipped only where it must be."""
    row = train.row(side)
    for flipped in (False, True):
        laid = MountedPart(part=part.id, flipped=flipped)
        trial = train.model_copy(update={side.value: (*row[:index], laid, *row[index:])})
        try:
            layout = build_layout(trial, shelf)
        except FarRailError:
            continue
        if len(_apart(layout)) <= len(before) and not _touching(layout, side, index):
            return Belongs(side, index, flipped)
    return None


def _apart(layout: Layout) -> set[object]:
    return {(joint.side, joint.index) for joint in layout.joints if joint.mismatch is not None}


def _touching(layout: Layout, side: Side, index: int) -> bool:
    """Whether a part newly placed at an index does not mate with what is beside it."""
    return any(j.mismatch is not None for j in layout.joints if j.side is side and j.index in (index, index + 1))


def _slots(train: Train, shelf: Shelf, sheet: SheetFilter) -> list[Belongs]:
    found = []
    for index, laid in enumerate(train.front_stack):
        holder = shelf[laid.part]
        if not isinstance(holder, FilterHolder):
            continue
        held = [*laid.filters, *(None,) * holder.slots][: holder.slots]
        free = [slot for slot, one in enumerate(held) if one is None and holder.accepts(sheet, slot)]
        found += [Belongs(Side.FRONT, index, slot=slot) for slot in free[:1]]
    return found


def _seats(train: Train, shelf: Shelf, glass: RoundFilter) -> list[Belongs]:
    found = []
    for index, laid in enumerate(train.rear_train):
        seat = shelf[laid.part]
        if not isinstance(seat, FilterSeat) or not _goes_in(seat, glass):
            continue
        if isinstance(seat, FilterWheel):
            free = [slot for slot, one in enumerate(laid.filters) if one is None]
            found += [Belongs(Side.REAR, index, slot=slot) for slot in free[:1]]
        else:
            found.append(Belongs(Side.REAR, index, slot=len(laid.filters)))
    return found


def _goes_in(seat: FilterSeat, glass: RoundFilter) -> bool:
    wide, thick = seat.seat_diameter_mm, seat.seat_thickness_mm
    fits = wide is None or glass.cell_mm <= wide.value + 1e-9
    return fits and (thick is None or glass.path_length_mm.value <= thick.value + 1e-9)
