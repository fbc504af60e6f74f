"""What to take along for trains, and which pouch or case each piece goes into."""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.kinds.cases import Carries, Case
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.provenance import Quantity
from farrail.parts.registry import Part
from farrail.train.layout import Layout
from farrail.train.rows import Shelf

# What a case is made for; anything is every part that is no case itself.
KINDS: dict[Carries, type[Part]] = {
    Carries.SHEETS: SheetFilter,
    Carries.ROUND_FILTERS: RoundFilter,
    Carries.ANYTHING: Part,
}


@dataclass(frozen=True)
class Assignment:
    """A part to take along.

    Attributes:
        part: the part.
        count: how many of it the trains need at once.
        loose: how many of them travel on their own; a filter left in its seat does not.
    """

    part: Part
    count: int
    loose: int


@dataclass(frozen=True)
class Packed:
    """One pouch or case with what goes into it.

    Attributes:
        case: the case; of several alike each rests on its own.
        pieces: the parts in it and how many of each, widest first.
    """

    case: Case
    pieces: tuple[tuple[Part, int], ...]

    @property
    def count(self) -> int:
        """How many pieces are in it."""
        return sum(count for _, count in self.pieces)


@dataclass(frozen=True)
class Packing:
    """What goes where.

    Attributes:
        packed: pouches and cases in use.
        without_place: pieces that a case available is made for, which is full or too narrow.
        loaded: what travels inside another part.
    """

    packed: tuple[Packed, ...]
    without_place: tuple[tuple[Part, int], ...]
    loaded: tuple[tuple[Part, int], ...]


def taken_for(layouts: Iterable[Layout]) -> tuple[Assignment, ...]:
    """Return the parts of trains and how many: what two share is taken once; what one has twice, twice.

    Drawers and wheels are kept loaded: a filter in a seat travels in it where every train that needs it has it there.
    """
    counts: Counter[PartId] = Counter()
    loose: Counter[PartId] = Counter()
    parts: dict[PartId, Part] = {}
    for layout in layouts:
        inside = Counter(_in_seats(layout))
        mine = Counter(layout.train.part_ids())
        counts |= mine
        loose |= mine - inside
        parts |= {part_id: layout.parts[part_id] for part_id in mine}
    return tuple(Assignment(parts[part_id], count, loose[part_id]) for part_id, count in counts.items())


def _in_seats(layout: Layout) -> Iterator[PartId]:
    """Yield the filters that are in seats, which a drawer or wheel keeps."""
    for placed in (*layout.front, *layout.rear):
        if isinstance(placed.part, FilterSeat):
            yield from (one for one in placed.laid.filters if one is not None)


def cases_of(shelf: Shelf) -> tuple[Case, ...]:
    """Return the pouches and cases available, each as often as it is owned."""
    mine = [part for part in shelf.values() if isinstance(part, Case) and part.status in AT_HAND]
    return tuple(case for case in mine for _ in range(case.owned))


def packing_of(taken: Iterable[Assignment], cases: Iterable[Case]) -> Packing:
    """Return which pouch or case each piece goes into.

    The widest piece chooses first, among the cases made for its kind before those for anything; of those it goes where
    something is already, else into the narrowest that takes it. As what fits a narrow case fits every wider one of
    its kind, no other way finds a place for more sheets or round filters in the cases made for them.

    Args:
        taken: what is taken along.
        cases: the cases available, one by one.
    """
    taken = list(taken)
    boxes: list[tuple[Case, Counter[PartId]]] = [(case, Counter()) for case in cases]
    made_for = {case.carries for case, _ in boxes}
    homeless: Counter[PartId] = Counter()
    parts = {one.part.id: one.part for one in taken}
    for one in sorted(taken, key=lambda item: (-width_of(item.part), item.part.name)):
        for _ in range(one.loose):
            box = _box_for(one.part, boxes)
            if box is not None:
                box[one.part.id] += 1
            elif any(isinstance(one.part, KINDS[carries]) for carries in made_for):
                homeless[one.part.id] += 1
    packed = tuple(Packed(case, _pieces(inside, parts)) for case, inside in boxes if inside)
    loaded = tuple((one.part, one.count - one.loose) for one in taken if one.count > one.loose)
    return Packing(packed, _pieces(homeless, parts), loaded)


def _pieces(counts: Counter[PartId], parts: Mapping[PartId, Part]) -> tuple[tuple[Part, int], ...]:
    return tuple((parts[part_id], count) for part_id, count in counts.items())


def _box_for(part: Part, boxes: list[tuple[Case, Counter[PartId]]]) -> Counter[PartId] | None:
    open_to = [(case, inside) for case, inside in boxes if inside.total() < case.holds and takes(case, part)]

    def order(box: tuple[Case, Counter[PartId]]) -> tuple[bool, bool, float, str]:
        case, inside = box
        return case.carries is Carries.ANYTHING, not inside, _widest(case.widest_mm), case.name

    return min(open_to, key=order)[1] if open_to else None


def _widest(width: Quantity | None) -> float:
    return float("inf") if width is None else width.value


def width_of(part: Part) -> float:
    """Return how wide a part is as it slides into a pouch, mm: a sheet without its frame, else its rim."""
    return part.width_mm.value if isinstance(part, SheetFilter) else part.outer_diameter_mm


def takes(case: Case, part: Part) -> bool:
    """Return whether a case is made for a part, and wide enough for it."""
    if isinstance(part, Case):
        return False
    return isinstance(part, KINDS[case.carries]) and width_of(part) <= _widest(case.widest_mm)


def with_cases(packing: Packing, taken: Iterable[Assignment]) -> tuple[Assignment, ...]:
    """Return what is taken along, and after it the cases it travels in."""
    used: dict[PartId, Assignment] = {}
    for one in packing.packed:
        before = used.get(one.case.id)
        used[one.case.id] = Assignment(one.case, 1, 1) if before is None else replace(before, count=before.count + 1)
    return (*taken, *used.values())
