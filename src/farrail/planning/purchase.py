"""What to buy when nothing available serves: the cheapest pieces and kits, up to three, that make a plan possible."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from farrail.cancel import Cancel
from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.connections import Thread
from farrail.parts.inventory_item import TO_BUY
from farrail.parts.registry import Part
from farrail.parts.standard_sizes import standard_shims, standard_spacers
from farrail.planning.pieces import Piece, Task, pieces_of, useful
from farrail.planning.proposal import Proposal, proposal_of
from farrail.planning.search import Offered, Window, search
from farrail.train.rows import Shelf
from farrail.train.train import Train

# Of a usual size that is not on the shelf up to so many pieces may be bought.
USUAL_PIECES = 3


@dataclass(frozen=True)
class Bought:
    """One thing of a purchase: its name, how many pieces, what they cost together, what comes with it."""

    name: str
    count: int
    price: float | None
    parts: tuple[Part, ...]
    on_shelf: bool
    is_kit: bool

    @property
    def words(self) -> str:
        """Its name with how many."""
        kit = say("the kit ") if self.is_kit else ""
        return f"{self.count} × {self.name}" if self.count > 1 else f"{kit}{self.name}"


def price_of(items: Sequence[Bought]) -> float | None:
    """Return what things cost together; None where nothing was entered of some of them."""
    prices = [item.price for item in items]
    return None if None in prices else float(sum(price for price in prices if price is not None))


def bought_of(name: str, offer: Offered, times: int, shelf: Shelf, owned: Shelf) -> Bought:
    """Return so many of an offer as bought; `owned` is what is on the shelf already."""
    price = None if offer.price is None else offer.price * times
    parts = tuple(shelf[part] for part in offer.parts)
    return Bought(name, times, price, parts, parts[0].id in owned, offer.is_kit)


def offered_pieces(offer: Offered, shelf: Shelf, owned: Shelf) -> list[Piece]:
    """Return the ways in which what an offer brings can be placed; of a size that is not on the shelf several."""
    found: list[Piece] = []
    for part_id in offer.parts:
        part = shelf[part_id]
        # Of a kit there is what is in it; of anything else as many may be bought as a purchase has.
        stock = max(part.owned, 1) if offer.is_kit and part_id in owned else max(part.owned, USUAL_PIECES)
        found += pieces_of(part, stock)
    return found


@dataclass(frozen=True)
class Purchase:
    """The cheapest purchase that makes a plan possible, of up to three pieces or kits, and the plan with it."""

    items: tuple[Bought, ...]
    proposal: Proposal

    @property
    def name(self) -> str:
        """What is bought, in words."""
        return " + ".join(item.words for item in self.items)

    @property
    def price(self) -> float | None:
        """What it costs together; None where nothing was entered of some of it."""
        return price_of(self.items)

    @property
    def parts(self) -> tuple[Part, ...]:
        """All parts that come with it."""
        return tuple(part for item in self.items for part in item.parts)

    @property
    def new_parts(self) -> tuple[Part, ...]:
        """Those that are not on the shelf yet."""
        return tuple(part for item in self.items if not item.on_shelf for part in item.parts)


def cheapest_purchase(
    train: Train,
    shelf: Shelf,
    task: Task,
    pieces: list[Piece],
    window: Window,
    kit_prices: Mapping[str, float],
    cancel: Cancel | None,
) -> Purchase | None:
    """Return the cheapest wanted parts and kits that make a plan possible, else usual sizes that do.

    Everything available may be placed with them, also what fits only once something is bought.

    Args:
        train: the train.
        shelf: parts by id.
        task: its gaps.
        pieces: all pieces available, whether they fit anywhere now or not.
        window: where the placed distance may be.
        kit_prices: what kits cost, by name.
        cancel: set from outside to stop.

    Raises:
        Undecided: cancelled, or out of time.
    """
    wanted = offers_wanted(shelf, kit_prices)
    usual = usual_of(task)
    for offers, known in ((wanted, {}), ([*wanted, *_offers_of(usual)], usual)):
        if not offers:
            continue
        found = _bought(train, {**shelf, **known}, task, pieces, window, offers, shelf, cancel)
        if found is not None:
            return found
    return None


def _bought(
    train: Train, shelf: Shelf, task: Task, pieces: list[Piece], window: Window,
    offers: list[tuple[str, Offered]], owned: Shelf, cancel: Cancel | None,
) -> Purchase | None:  # fmt: skip
    more = [piece for _, offer in offers for piece in offered_pieces(offer, shelf, owned)]
    candidates = useful([*pieces, *more], task)
    there = {piece.part.id for piece in candidates}
    able = [(name, offer) for name, offer in offers if there & set(offer.parts)]
    if not able:
        return None
    answer = search(task, candidates, window, offered=[offer for _, offer in able], cancel=cancel)
    if answer is None:
        return None
    items = []
    for name, offer in able:
        count = sum(answer.counts.get(part, 0) for part in offer.parts)
        if count:
            items.append(bought_of(name, offer, 1 if offer.is_kit else count, shelf, owned))
    return Purchase(tuple(items), proposal_of(answer, task, train, shelf))


def offers_wanted(shelf: Shelf, kit_prices: Mapping[str, float]) -> list[tuple[str, Offered]]:
    """Return the wanted loose parts and kits."""
    loose = [p for p in shelf.values() if isinstance(p, TubePart) and p.fills and p.status in TO_BUY]
    kits: dict[str, list[str]] = {}
    found = []
    for part in loose:
        if part.kit:
            kits.setdefault(part.kit, []).append(part.id)
        else:
            found.append((part.name, Offered((part.id,), part.price, False)))
    return found + [(name, Offered(tuple(ids), kit_prices.get(name), True)) for name, ids in kits.items()]


def _offers_of(usual: Mapping[str, Part]) -> list[tuple[str, Offered]]:
    return [(part.name, Offered((part.id,), part.price, False)) for part in usual.values()]


def usual_of(task: Task) -> dict[str, Part]:
    """Return the usual spacers of the train's threads, and the usual shims for them."""
    ends = [task.start, task.end, *(end for block in task.blocks for end in (block.front, block.rear))]
    threads = {end.standard for end in ends if isinstance(end.standard, Thread)}
    usual: dict[str, Part] = {p.id: p for thread in threads for p in standard_spacers(thread)}
    widest = max((thread.diameter_mm for thread in threads), default=42.0)
    return usual | {p.id: p for p in standard_shims(widest)}
