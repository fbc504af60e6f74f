"""The plan for a train's spacing: proposals, or the proof that there is none and what would mend it."""

from collections import Counter
from dataclasses import dataclass, replace
from enum import StrEnum

from farrail.optics.focus import depth_of_focus_mm
from farrail.parts.connections import Thread
from farrail.parts.kinds import TO_BUY, Part
from farrail.parts.standard_sizes import standard_shims, standard_spacers
from farrail.planning.cancel import Cancel
from farrail.planning.pieces import (
    LOOSE,
    Piece,
    Task,
    microns,
    pieces_at_hand,
    pieces_of,
    task_of,
    useful,
)
from farrail.planning.search import Found, Undecided, Window, search
from farrail.planning.thinner import Saving, thinner_constructions
from farrail.readouts.read import read
from farrail.readouts.spacing import Spacing
from farrail.train.layout import Shelf
from farrail.train.train import Laid, Train
from farrail.units import MICROMETRES_PER_MM

# How far short a camera lens may be laid before its focusing ring has little left to make up; common practice.
LENS_SHORT_MM = 2.0
NEAREST_REACH_UM = microns(400.0)


class Proof(StrEnum):
    """What the search established."""

    OPTIMAL = "optimal"
    IMPOSSIBLE = "impossible"
    UNDECIDED = "undecided"


class Aim(StrEnum):
    """Which of several published figures to aim at."""

    IN_USE = "in-use"
    LOWEST = "lowest"
    HIGHEST = "highest"
    MIDDLE = "middle"


@dataclass(frozen=True)
class Proposal:
    """One way to lay the train so that the sensor lands.

    Attributes:
        train: the train as it would be.
        names: the loose pieces it lays, toward the sensor.
        change: what it changes on the train as it lies, in words.
        error_mm: laid less required with the filter now in the beam.
        worst_filter_mm: the largest error of any filter of the set, by size.
        joints: joints between the datum and the camera.
        worst_mm: worst case of its stack-up.
        rss_mm: 95 % half width of its stack-up.
        working: the sum behind its error.
    """

    train: Train
    names: tuple[str, ...]
    change: str
    error_mm: float
    worst_filter_mm: float
    joints: int
    worst_mm: float
    rss_mm: float
    working: str


@dataclass(frozen=True)
class Purchase:
    """The cheapest single thing to buy that makes a plan possible, and the plan with it."""

    part: Part
    on_shelf: bool
    proposal: Proposal


@dataclass(frozen=True)
class Plan:
    """What the planner found.

    Attributes:
        proposals: distinct ways, best first.
        proof: whether that is proven.
        nearest_mm: when impossible, the errors nearest to zero from below and above; None where there is none.
        buy: when impossible, what would mend it.
        thinner: when there is no room, which thinner constructions save most.
        text: one sentence.
    """

    proposals: tuple[Proposal, ...]
    proof: Proof
    nearest_mm: tuple[float | None, float | None]
    buy: Purchase | None
    thinner: tuple[Saving, ...]
    text: str


def plan(train: Train, shelf: Shelf, *, most: int = 4, aim: Aim = Aim.IN_USE, cancel: Cancel | None = None) -> Plan:
    """Plan a train's spacing from what is at hand.

    Args:
        train: the train; its telescope, corrector, housings and camera stay, spacers, shims and adapters are loose.
        shelf: parts by id.
        most: how many proposals to look for.
        aim: which published figure to aim at where they differ; errors are still told against the one in use.
        cancel: set from outside to stop; the plan is then undecided.
    """
    now = read(train, shelf)
    spacing, task = now.spacing, task_of(now.layout)
    if task is None or spacing.required_mm is None or spacing.requirement is None:
        return Plan(
            (), Proof.UNDECIDED, (None, None), None, (), "Nothing fixes the distance, so nothing can be planned."
        )
    window = window_of(spacing, aim)
    pieces = useful(pieces_at_hand(shelf, task), task)
    found: list[Proposal] = []
    seen: list[dict[str, int]] = []
    try:
        while len(found) < most:
            answer = search(task, pieces, window, excluded=seen, cancel=cancel)
            if answer is None:
                break
            seen.append(answer.counts)
            found.append(proposal_of(answer, task, train, shelf))
        if found:
            return Plan(tuple(found), Proof.OPTIMAL, (None, None), None, (), _ways(len(found)))
        return _impossible(train, shelf, task, pieces, window, cancel)
    except Undecided as error:
        text = f"{error} What was found until then is shown." if found else str(error)
        return Plan(tuple(found), Proof.UNDECIDED, (None, None), None, (), text)


def aims_mm(spacing: Spacing) -> dict[Aim, float]:
    """Return the distances that can be aimed at: the figure in use, and the published ones where they differ."""
    need = spacing.requirement
    if need is None:
        return {}
    found = {Aim.IN_USE: need.distance.value}
    band = need.distance.published_band
    if band is not None:
        found |= {Aim.LOWEST: band[0], Aim.HIGHEST: band[1], Aim.MIDDLE: (band[0] + band[1]) / 2.0}
    return found


def window_of(spacing: Spacing, aim: Aim = Aim.IN_USE) -> Window:
    """Return where the laid distance may lie: every filter of the set within tolerance, if that can be.

    Where the set's shifts differ by more than the tolerance allows, the middle between them is aimed at.
    """
    need = spacing.requirement
    assert need is not None
    assert spacing.required_mm is not None
    aims = aims_mm(spacing)
    required = spacing.required_mm + aims.get(aim, need.distance.value) - need.distance.value
    asked = [required + f.refocus_mm for f in spacing.filters] or [required]
    low, high = min(asked), max(asked)
    if need.is_lens:
        reach = depth_of_focus_mm(spacing.f_number)
        return Window(microns(low - LENS_SHORT_MM), microns(low + reach), microns(low))
    tolerance = spacing.tolerance_mm or 0.0
    middle = (low + high) / 2.0
    if high - low > 2.0 * tolerance:
        return Window(microns(middle - tolerance), microns(middle + tolerance), microns(middle))
    return Window(microns(high - tolerance), microns(low + tolerance), microns(middle))


def proposal_of(answer: Found, task: Task, train: Train, shelf: Shelf) -> Proposal:
    """Return an answer as a train with its figures, read like any other."""
    rows: list[Laid] = list(train.rear_train[: task.ahead])
    named: list[tuple[str, str]] = []
    for number, gap in enumerate(answer.gaps):
        for piece, length in gap:
            adjustable = piece.longest_um > piece.shortest_um
            setting = length / MICROMETRES_PER_MM if adjustable else None
            rows.append(Laid(part=piece.part.id, flipped=piece.flipped, setting_mm=setting))
            turned = ", flipped" if piece.flipped else ""
            where = f" at {setting:.2f}" if setting is not None else ""
            named.append((piece.part.id, f"{piece.part.name}{turned}{where}"))
        if number < len(task.fixed):
            rows.append(task.fixed[number])
    proposed = train.model_copy(update={"rear_train": tuple(rows)})
    readout = read(proposed, shelf)
    figures, spacing = readout.spacing.figures, readout.spacing
    errors = [f.error_mm for f in spacing.filters] or [spacing.error_mm or 0.0]
    return Proposal(
        train=proposed,
        names=tuple(name for _, name in named),
        change=_change(train, proposed, named, shelf),
        error_mm=spacing.error_mm or 0.0,
        worst_filter_mm=max(errors, key=abs),
        joints=len(readout.layout.behind_datum) + 1,
        worst_mm=figures["spacing.stack_worst_mm"].number,
        rss_mm=figures["spacing.stack_rss_mm"].number,
        working=f"{figures['spacing.laid_mm'].working.numbers}; {figures['spacing.error_mm'].working.numbers}",
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
    going = [shelf[i].name for i in removed.elements()]
    words = [f"add {' + '.join(coming)}" if coming else "", f"take out {' + '.join(going)}" if going else ""]
    text = ", ".join(word for word in words if word)
    if text:
        return text
    return "as it lies" if train.rear_train == proposed.rear_train else "the same parts in another order or setting"


def _impossible(
    train: Train, shelf: Shelf, task: Task, pieces: list[Piece], window: Window, cancel: Cancel | None
) -> Plan:
    below = search(task, pieces, replace(window, low_um=0, high_um=window.aim_um), cancel=cancel, nearest=True)
    far = window.aim_um + NEAREST_REACH_UM
    above = search(task, pieces, replace(window, low_um=window.aim_um, high_um=far), cancel=cancel, nearest=True)
    nearest = tuple(None if f is None else (f.laid_um - window.aim_um) / MICROMETRES_PER_MM for f in (below, above))
    buy = _purchase(train, shelf, task, pieces, window, cancel)
    thinner: tuple[Saving, ...] = ()
    text = "Nothing at hand fills the gap within tolerance; that is proven."
    if below is None and above is None:
        text = "Nothing at hand makes the connections mate from end to end; that is proven."
    elif below is None:
        thinner = thinner_constructions(train, shelf)
        text = "There is no room: even the shortest way to mate everything is too long; that is proven."
    return Plan((), Proof.IMPOSSIBLE, (nearest[0], nearest[1]), buy, thinner, text)


def _purchase(
    train: Train, shelf: Shelf, task: Task, pieces: list[Piece], window: Window, cancel: Cancel | None
) -> Purchase | None:
    """Return the cheapest single part that makes a plan possible: a wanted one of the shelf, else a usual size."""
    wanted = [p for p in shelf.values() if isinstance(p, LOOSE) and p.status in TO_BUY]
    wanted.sort(key=lambda p: (p.price is None, p.price or 0.0, p.name))
    for part in wanted:
        # Searched from the cheapest up, so that the first that serves is the cheapest.
        candidates = useful([*pieces, *pieces_of(part, 1)], task)
        answer = search(task, candidates, window, one_of={part.id}, cancel=cancel)
        if answer is not None:
            return Purchase(part, True, proposal_of(answer, task, train, shelf))
    camera = task.layout.camera
    ends = [p.rear for p in task.layout.behind_datum] + ([camera.front] if camera is not None else [])
    threads = {end.standard for end in ends if isinstance(end.standard, Thread)}
    usual: dict[str, Part] = {p.id: p for thread in threads for p in standard_spacers(thread)}
    usual |= {p.id: p for p in standard_shims(42.0)}
    candidates = useful([*pieces, *(piece for part in usual.values() for piece in pieces_of(part, 1))], task)
    answer = search(task, candidates, window, one_of=set(usual) & {p.part.id for p in candidates}, cancel=cancel)
    if answer is None:
        return None
    bought = next(usual[part_id] for part_id in answer.counts if part_id in usual)
    return Purchase(bought, False, proposal_of(answer, task, train, {**shelf, bought.id: bought}))


def _ways(count: int) -> str:
    return "One way from what is at hand." if count == 1 else f"{count} ways from what is at hand, best first."
