"""Which thinner constructions there are: what saves most where there is no room, and a choice where there is."""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.language import say
from farrail.parts.base import FixedLength, TubePart
from farrail.parts.connections import Thread
from farrail.parts.inventory_item import AT_HAND, TO_BUY
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.kinds.tubes import Adapter, Spacer
from farrail.planning.pieces import key_after, key_before
from farrail.readouts.read import Readout, read
from farrail.train.placed import Placed
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train

MOST_SAVINGS = 8


@dataclass(frozen=True)
class Saving:
    """One construction in the place of another, and the length it frees.

    Attributes:
        words: what takes the place of what.
        saves_mm: length freed.
        to_buy: whether something of it is only wanted.
        train: the train built so; the rest of it stays as it is.
        part: id of the part that is changed.
        price: what is to be bought for it costs; None where nothing was entered, or nothing is bought.
    """

    words: str
    saves_mm: float
    to_buy: bool
    train: Train
    part: str
    price: float | None = None


def thinner_constructions(train: Train, shelf: Shelf) -> tuple[Saving, ...]:
    """Return the constructions that free length, the largest saving first.

    A thinner part of the same kind, a filter held between two rings in place of its housing, the camera without its
    front ring, or another camera.
    """
    now = read(train, shelf)
    found = [*_other_parts(now, shelf), *_held_filters(now, shelf), *_cameras(now, shelf)]
    best: dict[str, Saving] = {}
    for saving in sorted(found, key=lambda s: -s.saves_mm):
        best.setdefault(saving.words, saving)
    return tuple(best.values())[:MOST_SAVINGS]


def _saved_mm(now: Readout, train: Train, shelf: Shelf) -> float | None:
    """Return what a change frees, None where it frees nothing or makes a joint worse."""
    then = read(train, shelf)
    saves = round(now.spacing.actual_mm - then.spacing.actual_mm, 3)
    wrong = [sum(j.mismatch is not None for j in r.layout.joints) for r in (now, then)]
    return saves if saves > 0.0005 and wrong[1] <= wrong[0] else None


def _with_row(train: Train, index: int, laid: tuple[MountedPart, ...]) -> Train:
    row = train.rear_train
    return train.model_copy(update={"rear_train": (*row[:index], *laid, *row[index + 1 :])})


def _other_parts(now: Readout, shelf: Shelf) -> Iterator[Saving]:
    train = now.layout.train
    for placed in now.layout.behind_datum:
        for part in shelf.values():
            if part.kind != placed.part.kind or part.id == placed.part.id or not isinstance(part, FixedLength):
                continue
            if part.status not in (*AT_HAND, *TO_BUY) or part.path_length_mm.value >= placed.length.value:
                continue
            to_buy = part.status in TO_BUY
            if isinstance(part, TubePart) and part.fills and not (to_buy and isinstance(part, Adapter)):
                continue  # the planner has tried without spacers, and with every loose part available
            for flipped in (False, True):
                laid = placed.laid.model_copy(update={"part": part.id, "flipped": flipped})
                other = _with_row(train, placed.index, (laid,))
                saves = _saved_mm(now, other, shelf)
                if saves is not None:
                    words = say(
                        "{also}{name} instead of {name_2}",
                        also=say("buy ") if to_buy else "",
                        name=part.name,
                        name_2=placed.part.name,
                    )
                    yield Saving(words, saves, to_buy, other, placed.part.id, part.price if to_buy else None)
                    break


def _held_filters(now: Readout, shelf: Shelf) -> Iterator[Saving]:
    """Yield the filter in the beam held between two rings available, in the place of its drawer or wheel."""
    used = now.layout.train.part_ids()
    rings = [
        p for p in shelf.values()
        if isinstance(p, (Adapter, Spacer)) and p.status in AT_HAND and p.owned > used.count(p.id)
    ]  # fmt: skip
    for placed in now.layout.behind_datum:
        part = shelf.get(placed.laid.filter_in_beam or "")
        if isinstance(placed.part, FilterSeat) and isinstance(part, RoundFilter):
            bare = part.without_cell()
            best: Saving | None = None
            for first, second in _pairs(placed, rings):
                row = (first, MountedPart(part=part.id, out_of_cell=bare is not part), second)
                other = _with_row(now.layout.train, placed.index, row)
                saves = _saved_mm(now, other, shelf)
                if saves is not None:
                    names = say("{name} and {name_2}", name=shelf[first.part].name, name_2=shelf[second.part].name)
                    words = say(
                        "{name} held between {names} instead of {name_2}",
                        name=part.name,
                        names=names,
                        name_2=placed.part.name,
                    )
                    if best is None or saves > best.saves_mm:
                        best = Saving(words, saves, False, other, placed.part.id)
            if best is not None:
                yield best


def _pairs(placed: Placed, rings: list[Adapter | Spacer]) -> Iterator[tuple[MountedPart, MountedPart]]:
    """Yield two rings that go where a housing is and whose own joint is a thread, which can hold a filter."""
    enters, leaves = key_before(placed.front), key_after(placed.rear)
    ways = [(r, False, r.front, r.rear) for r in rings] + [(r, True, r.rear, r.front) for r in rings]
    firsts = [w for w in ways if key_before(w[2]) == enters and isinstance(w[3].standard, Thread)]
    seconds = [w for w in ways if key_after(w[3]) == leaves]
    for one in firsts:
        for other in seconds:
            twice = one[0].id == other[0].id and one[0].owned < 2
            if not twice and key_after(one[3]) == key_before(other[2]):
                yield MountedPart(part=one[0].id, flipped=one[1]), MountedPart(part=other[0].id, flipped=other[1])


def _cameras(now: Readout, shelf: Shelf) -> Iterator[Saving]:
    train, camera = now.layout.train, now.layout.camera
    if camera is None:
        return
    if camera.front_ring is not None:
        # The ring behind decides whether something else must go before it; the spacing planner bridges that.
        ring = camera.front_ring.length_mm.value
        bare = train.model_copy(update={"camera_bare": True})
        yield Saving(say("{name} without its front ring", name=camera.name), round(ring, 3), False, bare, camera.id)
    for part in shelf.values():
        if isinstance(part, Camera) and part.id != camera.id and part.status in AT_HAND:
            other = train.model_copy(update={"camera": part.id, "camera_bare": False})
            saves = _saved_mm(now, other, shelf)
            if saves is not None:
                yield Saving(
                    say("{name} instead of {name_2}", name=part.name, name_2=camera.name),
                    saves,
                    False,
                    other,
                    camera.id,
                )
