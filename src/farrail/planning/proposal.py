"""A proposal: one way to place a train so that the sensor lands, read like any other train."""

from collections import Counter
from dataclasses import dataclass, replace

from farrail.language import say
from farrail.optics.tolerances import chance_within
from farrail.parts.base import is_module
from farrail.parts.inventory_item import PartId
from farrail.planning.alike import Copies
from farrail.planning.pieces import Task
from farrail.planning.search import Found
from farrail.readouts.figure import Figure
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train
from farrail.units import MICROMETRES_PER_MM

# Short by less than this is not short.
ROUNDING_MM = 0.005


@dataclass(frozen=True)
class Proposal:
    """One way to place the train so that the sensor lands.

    Attributes:
        train: the train as it would be.
        names: the loose pieces it places, toward the sensor.
        loose: their ids, each once.
        change: what it changes on the train as it is, in words.
        error_mm: placed less required with the filter now in the beam.
        worst_filter_mm: the largest error of any filter of the set, by size.
        joints: joints between the datum and the camera.
        worst_mm: worst case of its stack-up.
        rss_mm: 95 % half width of its stack-up.
        chance: how likely it lands within tolerance, its parts off by anything their tolerances allow; None where
            nothing says what is allowed.
        shown: the figures whose workings it is shown with: placed distance and error.
    """

    train: Train
    names: tuple[str, ...]
    change: str
    error_mm: float
    worst_filter_mm: float
    joints: int
    worst_mm: float
    rss_mm: float
    chance: float | None
    shown: tuple[Figure, ...]
    loose: frozenset[PartId] = frozenset()


def proposal_of(answer: Found, task: Task, train: Train, shelf: Shelf) -> Proposal:
    """Return an answer as a train with its figures."""
    rows: list[MountedPart] = list(task.head)
    named: list[tuple[str, str]] = []
    copies = Copies()
    for number, gap in enumerate(answer.gaps):
        for piece, length in gap:
            adjustable = piece.longest_um > piece.shortest_um
            setting = length / MICROMETRES_PER_MM if adjustable else None
            part = copies.part_of(piece)
            rows.append(MountedPart(part=part.id, flipped=piece.flipped, setting_mm=setting))
            turned = say(", flipped") if piece.flipped else ""
            where = say(" at {setting:.2f}", setting=setting) if setting is not None else ""
            named.append((part.id, f"{part.name}{turned}{where}"))
        if number < len(task.blocks):
            rows.extend(task.blocks[number].laid)
    rows.extend(task.tail)
    proposed = train.model_copy(update={"rear_train": tuple(rows)})
    words = _change(train, proposed, named, shelf)
    made = read_proposal(read(proposed, shelf), tuple(name for _, name in named), words)
    return replace(made, loose=frozenset(part for part, _ in named))


def read_proposal(readout: Readout, names: tuple[str, ...], change: str) -> Proposal:
    """Return a placed train as a proposal."""
    figures, spacing = readout.spacing_figures, readout.spacing
    errors = [f.error_mm for f in spacing.filters] or [spacing.error_mm or 0.0]
    focusing = spacing.focusing
    if focusing is not None and focusing.nearest is None and (spacing.error_mm or 0.0) < -ROUNDING_MM:
        change = say("{change} (only if the focusing ring travels that far: enter its closest focus)", change=change)
    return Proposal(
        train=readout.layout.train,
        names=names,
        change=change,
        error_mm=spacing.error_mm or 0.0,
        worst_filter_mm=max(errors, key=abs),
        joints=len(readout.layout.behind_datum) + 1,
        worst_mm=figures["spacing.stack_worst_mm"].number,
        rss_mm=figures["spacing.stack_rss_mm"].number,
        chance=None
        if spacing.allowed_mm is None
        else chance_within(spacing.error_mm or 0.0, spacing.allowed_mm, spacing.tolerances_mm),
        shown=(figures["spacing.laid_mm"], figures["spacing.error_mm"]),
    )


def _change(train: Train, proposed: Train, named: list[tuple[str, str]], shelf: Shelf) -> str:
    """Return what comes in and what goes out, in words."""
    before, after = (Counter(laid.part for laid in t.rear_train) for t in (train, proposed))
    added, removed = after - before, before - after
    coming = []
    for part, name in named:
        if added[part] > 0:
            added[part] -= 1
            coming.append(name)
    coming += [shelf[i].name for i in added.elements()]
    going = [shelf[i].name for i in removed.elements()]
    words = [
        say("add {listed}", listed=" + ".join(coming)) if coming else "",
        say("take out {listed}", listed=" + ".join(going)) if going else "",
    ]
    words.append(_order(train, proposed, shelf))
    text = ", ".join(word for word in words if word)
    if text:
        return text
    return (
        say("no change")
        if train.rear_train == proposed.rear_train
        else say("the same parts in another order or setting")
    )


def _order(train: Train, proposed: Train, shelf: Shelf) -> str:
    """Return which housings are flipped or change places, in words."""
    housings = [[laid for laid in t.rear_train if laid.filters or is_module(shelf[laid.part])]
                for t in (train, proposed)]  # fmt: skip
    before = {laid.part: laid.flipped for laid in housings[0]}
    turned = [shelf[laid.part].name for laid in housings[1] if before.get(laid.part, laid.flipped) != laid.flipped]
    kept = [[laid.part for laid in row if laid.part in before] for row in housings]
    words = [say("turn {listed} round", listed=say(" and ").join(turned))] if turned else []
    if kept[0] != kept[1]:
        words.append(say("order {listed}", listed=", ".join(shelf[i].name for i in kept[1])))
    return ", ".join(words)
