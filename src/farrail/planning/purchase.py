"""What to buy when nothing at hand serves: the cheapest single part or kit that makes a plan possible."""

from collections.abc import Mapping
from dataclasses import dataclass

from farrail.parts.base import Through
from farrail.parts.connections import Thread
from farrail.parts.registry import Part
from farrail.parts.shelved import TO_BUY
from farrail.parts.standard_sizes import standard_shims, standard_spacers
from farrail.planning.cancel import Cancel
from farrail.planning.pieces import Piece, Task, pieces_of, useful
from farrail.planning.proposal import Proposal, proposal_of
from farrail.planning.search import Window, search
from farrail.train.rows import Shelf
from farrail.train.train import Train


@dataclass(frozen=True)
class Purchase:
    """The cheapest single thing to buy that makes a plan possible, and the plan with it.

    Attributes:
        name: the part's name, or the kit's.
        price: what it costs, None where nobody has said.
        parts: what comes with it: one part, or the kit's.
        on_shelf: whether it is on the shelf already, as wanted.
        is_kit: whether it is a kit.
        proposal: the plan with it.
    """

    name: str
    price: float | None
    parts: tuple[Part, ...]
    on_shelf: bool
    is_kit: bool
    proposal: Proposal


def cheapest_purchase(
    train: Train,
    shelf: Shelf,
    task: Task,
    pieces: list[Piece],
    window: Window,
    kit_prices: Mapping[str, float],
    cancel: Cancel | None,
) -> Purchase | None:
    """Return the cheapest wanted part or kit that makes a plan possible, else a usual size that does.

    Raises:
        Undecided: cancelled, or out of time.
    """
    for name, price, parts, is_kit in _wanted(shelf, kit_prices):
        # Searched from the cheapest up, so that the first that serves is the cheapest.
        ids = {p.id for p in parts}
        more = [piece for part in parts for piece in pieces_of(part, max(part.owned, 1))]
        candidates = useful([*pieces, *more], task)
        answer = search(task, candidates, window, one_of=ids, most_of=None if is_kit else 1, cancel=cancel)
        if answer is not None:
            return Purchase(name, price, parts, True, is_kit, proposal_of(answer, task, train, shelf))
    usual = _usual(task)
    candidates = useful([*pieces, *(piece for part in usual.values() for piece in pieces_of(part, 1))], task)
    ids = set(usual) & {p.part.id for p in candidates}
    answer = search(task, candidates, window, one_of=ids, most_of=1, cancel=cancel)
    if answer is None:
        return None
    bought = next(usual[part_id] for part_id in answer.counts if part_id in usual)
    proposal = proposal_of(answer, task, train, {**shelf, bought.id: bought})
    return Purchase(bought.name, None, (bought,), False, False, proposal)


def _wanted(
    shelf: Shelf, kit_prices: Mapping[str, float]
) -> list[tuple[str, float | None, tuple[Part, ...], bool]]:  # fmt: skip
    """Return the wanted loose parts and kits, cheapest first; what has no price comes last."""
    loose = [p for p in shelf.values() if isinstance(p, Through) and p.fills and p.status in TO_BUY]
    found: list[tuple[str, float | None, tuple[Part, ...], bool]] = []
    kits: dict[str, list[Part]] = {}
    for part in loose:
        if part.kit:
            kits.setdefault(part.kit, []).append(part)
        else:
            found.append((part.name, part.price, (part,), False))
    found += [(name, kit_prices.get(name), tuple(parts), True) for name, parts in kits.items()]
    return sorted(found, key=lambda f: (f[1] is None, f[1] or 0.0, f[0]))


def _usual(task: Task) -> dict[str, Part]:
    """Return the usual spacers of the train's threads, and the usual shims."""
    ends = [task.start, task.end, *(end for block in task.blocks for end in (block.front, block.rear))]
    threads = {end.standard for end in ends if isinstance(end.standard, Thread)}
    usual: dict[str, Part] = {p.id: p for thread in threads for p in standard_spacers(thread)}
    return usual | {p.id: p for p in standard_shims(42.0)}
