"""Several trains at once: one set of purchases with which every one of them lands, proven cheapest.

Each train's gaps are a `GapModel` of its own in one model of the solver; what they share is what is owned and what is
bought. Parts either move from train to train, one being used at a time, or each train is kept whole.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from farrail.cancel import Cancel
from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.registry import Part
from farrail.planning.pieces import Piece, Task, pieces_at_hand, task_of, useful
from farrail.planning.plan import Proof, window_of
from farrail.planning.proposal import Proposal, proposal_of
from farrail.planning.purchase import Bought, bought_of, offered_pieces, offers_wanted, price_of, usual_of
from farrail.planning.search import (
    MOST_PIECES,
    MOST_PURCHASES,
    Found,
    GapModel,
    Offered,
    Window,
)
from farrail.planning.solver import Model, Undecided
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Train

# More trains than this are no choice any more, and the solver's numbers end.
MOST_TRAINS = 6


@dataclass(frozen=True)
class Together:
    """What came of planning several trains at once.

    Attributes:
        proposals: how each train is placed, in the order asked for; empty where it cannot be done.
        bought: what must be bought, cheapest together, then fewest.
        twice: what stays on several trains and is not owned so often, bought where each train is kept whole.
        kept_whole: whether each train is kept whole.
        proof: whether it is proven.
        text: one sentence.
    """

    proposals: tuple[Proposal, ...]
    bought: tuple[Bought, ...]
    twice: tuple[Bought, ...]
    kept_whole: bool
    proof: Proof
    text: str

    @property
    def price(self) -> float | None:
        """What all purchases cost; None where nothing was entered of some of them."""
        return price_of((*self.bought, *self.twice))

    def counts(self) -> dict[PartId, tuple[int, ...]]:
        """Return how many of each loose piece every train takes, in the order of the trains."""
        rows = [Counter(one.part for one in p.train.rear_train if one.part in p.loose) for p in self.proposals]
        return {part: tuple(row[part] for row in rows) for part in dict.fromkeys(key for row in rows for key in row)}

    @property
    def new_parts(self) -> tuple[Part, ...]:
        """What is bought and not on the shelf yet."""
        return tuple(part for item in self.bought if not item.on_shelf for part in item.parts)


@dataclass(frozen=True)
class _Question:
    """One train with its gaps and where its sensor may be."""

    train: Train
    task: Task
    window: Window


def plan_together(
    trains: Sequence[Train],
    shelf: Shelf,
    *,
    kept_whole: bool = False,
    kit_prices: Mapping[str, float] | None = None,
    cancel: Cancel | None = None,
) -> Together:
    """Find how several trains land with what is available and one set of purchases, the cheapest.

    Args:
        trains: two to six trains; optic, corrector, housings and camera of each stay.
        shelf: parts by id.
        kept_whole: no part is in two of them; else parts move, and each train has all that is available.
        kit_prices: what kits cost, by name.
        cancel: set from outside to stop; the answer is then undecided.

    Raises:
        BadInput: not two to six different trains, or one of them has nothing that fixes its distance.
    """
    if not 2 <= len(trains) <= MOST_TRAINS or len({train.id for train in trains}) < len(trains):
        raise BadInput("Choose two to {most_trains} different trains to be planned together.", most_trains=MOST_TRAINS)
    questions = [_question(train, shelf) for train in trains]
    twice = _held_twice(questions, shelf) if kept_whole else ()
    wanted = offers_wanted(shelf, kit_prices or {})
    # One more of what is owned serves as well as anything new; where parts move, only if its price is known.
    wanted += [
        (part.name, Offered((part.id,), part.price, False)) for part in shelf.values()
        if _loose(part) and (kept_whole or part.price is not None)
    ]  # fmt: skip
    usual: dict[str, Part] = {}
    for question in questions:
        usual |= usual_of(question.task)
    ready = [(part.name, Offered((part.id,), part.price, False)) for part in usual.values()]
    try:
        for offers, more in (([], {}), (wanted, {}), ([*wanted, *ready], usual)):
            made = _solve(questions, {**shelf, **more}, offers, shelf, kept_whole=kept_whole, cancel=cancel)
            if made is not None:
                found, bought = made
                proposals = tuple(
                    proposal_of(answer, q.task, q.train, {**shelf, **more})
                    for q, answer in zip(questions, found, strict=True)
                )
                return Together(proposals, bought, twice, kept_whole, Proof.OPTIMAL, _told(bought, twice))
    except Undecided as error:
        return Together((), (), twice, kept_whole, Proof.UNDECIDED, str(error))
    text = say(
        "No purchase of up to {most_purchases} pieces or kits a train brings all of them "
        "to back focus; that is proven.",
        most_purchases=MOST_PURCHASES,
    )
    return Together((), (), twice, kept_whole, Proof.IMPOSSIBLE, text)


def _question(train: Train, shelf: Shelf) -> _Question:
    now = read(train, shelf)
    task = task_of(now.layout)
    if task is None or now.spacing.required_mm is None or now.spacing.requirement is None:
        raise BadInput("Train “{name}” has no back focus; leave it out, or enter its back focus.", name=train.name)
    return _Question(train, task, window_of(now.spacing))


def _held_twice(questions: Sequence[_Question], shelf: Shelf) -> tuple[Bought, ...]:
    """Return what stays on several trains, filters included, and is not owned so often."""
    held: Counter[PartId] = Counter()
    for question in questions:
        for laid in question.task.fixed:
            held.update(laid.part_ids())
    found = []
    for part_id, count in held.items():
        part = shelf[part_id]
        owned = part.owned if part.status in AT_HAND else 0
        if count > max(owned, 1):
            lacking = count - max(owned, 1)
            price = None if part.price is None else part.price * lacking
            found.append(Bought(part.name, lacking, price, (part,), True, False))
    return tuple(found)


def _solve(
    questions: Sequence[_Question], shelf: Shelf, offers: list[tuple[str, Offered]], owned: Shelf, *, kept_whole: bool,
    cancel: Cancel | None,
) -> tuple[list[Found], tuple[Bought, ...]] | None:  # fmt: skip
    """Return how each train is placed and what is bought for it; None where that is provably not to be."""
    model = Model()
    new = [(name, offer) for name, offer in offers if not _again(offer, owned)]
    more = [piece for _, offer in new for piece in offered_pieces(offer, shelf, owned)]
    fixed = Counter(part_id for q in questions for laid in q.task.fixed for part_id in laid.part_ids())
    models = []
    again = {offer.parts[0] for _, offer in offers if _again(offer, owned)}
    for question in questions:
        pieces = useful([*_with_bought(owned, question.task, again), *more], question.task)
        models.append(GapModel(model, question.task, pieces, question.window))
    spare = {part.id: max(part.owned - fixed[part.id], 0) for part in owned.values() if part.status in AT_HAND}
    if kept_whole:
        for part_id, count in spare.items():
            if part_id not in again:
                model.add(sum(m.used(part_id) for m in models) <= count)
    counts = [_bought_of(model, models, offer, shelf, spare, kept_whole=kept_whole) for _, offer in offers]
    most = MOST_PURCHASES * len(models)
    if offers:
        model.add(sum(counts) >= 1)
        model.add(sum(counts) <= most)
        for one in models:
            uses = [one.used(part) for _, offer in new if not offer.is_kit for part in offer.parts]
            model.add(sum(uses) <= MOST_PURCHASES)
    cost = sum(offer.price_steps * count for (_, offer), count in zip(offers, counts, strict=True))
    joints, error = sum(m.joints for m in models), sum(m.error for m in models)
    # Cheapest, then fewest bought; then, of these, fewest joints and the smallest errors together.
    if offers:
        wanted = cost * (most + 1) + sum(counts)
        model.minimize(wanted)
        first = model.solve(cancel)
        if first is None:
            return None
        model.add(wanted == first.objective_value)
    model.minimize(joints * 1_000_000 + error)
    solver = model.solve(cancel)
    if solver is None:
        return None
    bought = []
    for (name, offer), count in zip(offers, counts, strict=True):
        times = solver.value(count)
        if times:
            bought.append(bought_of(name, offer, times, shelf, owned))
    return [m.read(solver) for m in models], tuple(bought)


def _with_bought(owned: Shelf, task: Task, again: set[PartId]) -> list[Piece]:
    """Return what is available, of what may be bought again so many more."""
    return [
        replace(piece, stock=piece.stock + MOST_PURCHASES) if piece.part.id in again else piece
        for piece in pieces_at_hand(owned, task)
    ]


def _loose(part: Part) -> bool:
    return isinstance(part, TubePart) and part.fills and part.status in AT_HAND


def _again(offer: Offered, owned: Shelf) -> bool:
    """Whether an offer is of one more of what is available."""
    return not offer.is_kit and offer.parts[0] in owned and owned[offer.parts[0]].status in AT_HAND


def _bought_of(
    model: Model, models: Sequence[GapModel], offer: Offered, shelf: Shelf, spare: Mapping[PartId, int], *,
    kept_whole: bool,
) -> Any:  # fmt: skip
    """Return how many of something are bought: as many as one train takes, or all of them together."""
    most = 1 if offer.is_kit else MOST_PURCHASES * len(models)
    count = model.new_int_var(0, most, "bought")
    for part in offer.parts:
        uses = [m.used(part) for m in models]
        stock = max(shelf[part].owned, 1) if offer.is_kit else 1
        for use in [sum(uses)] if kept_whole else uses:
            model.add(use <= spare.get(part, 0) + min(stock, MOST_PIECES) * count)
    return count


def _told(bought: Sequence[Bought], twice: Sequence[Bought]) -> str:
    named = [item.words for item in (*twice, *bought)]
    if not named:
        return say("All trains reach back focus with parts you own.")
    listed = " + ".join(named)
    if any(item.price is None for item in (*twice, *bought)):
        return say(
            "All trains reach back focus with this purchase: {listed}. "
            "A price is not entered, so it may not be the cheapest.",
            listed=listed,
        )
    return say("All trains reach back focus with this purchase: {listed}. That is proven cheapest.", listed=listed)
