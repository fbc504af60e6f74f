"""The plan for a train's spacing: proposals, or the proof that there is none and what would fix it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from farrail.cancel import Cancel
from farrail.language import say
from farrail.planning.aim import Aim
from farrail.planning.alike import Few, few
from farrail.planning.guide import GuideWay, guide_ways
from farrail.planning.pieces import Piece, Task, microns, pieces_at_hand, task_of, useful
from farrail.planning.proposal import Proposal, proposal_of
from farrail.planning.purchase import Purchase, cheapest_purchase
from farrail.planning.reorder import orders_of
from farrail.planning.room import AlsoFits, what_else_fits
from farrail.planning.search import MOST_PIECES, Found, Window, search
from farrail.planning.solver import Undecided
from farrail.planning.thinner import Saving, thinner_constructions
from farrail.readouts.read import read
from farrail.readouts.spacing.model import Spacing
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf
from farrail.train.train import Train
from farrail.units import MICROMETRES_PER_MM

# How far short a camera lens may be placed before its focusing ring has little left to make up; common practice.
LENS_SHORT_MM = 2.0
NEAREST_REACH_UM = microns(400.0)
# Nearer by less than this is no other way; between the simplest and the nearest so many more are shown.
# Where the train lands, so many thinner constructions are shown as a choice.
THINNER_AS_A_CHOICE = 3
WORTH_UM, MOST_BETWEEN = 20, 2


class Proof(StrEnum):
    """What the search established."""

    OPTIMAL = "optimal"
    IMPOSSIBLE = "impossible"
    UNDECIDED = "undecided"


@dataclass(frozen=True)
class Plan:
    """What the planner found.

    Attributes:
        proposals: distinct ways, best first.
        proof: whether that is proven.
        nearest_mm: when impossible, the errors nearest to zero from below and above; None where there is none.
        buy: when impossible, what would fix it.
        thinner: thinner constructions, the largest saving first: what to do where there is no room, else a choice.
        also: when there is room to spare, what else on the shelf would fit in it.
        text: one sentence.
        guide: what to place on each guide port that is not in focus, the best proposal placed where the train does not
            land.
    """

    proposals: tuple[Proposal, ...]
    proof: Proof
    nearest_mm: tuple[float | None, float | None]
    buy: Purchase | None
    thinner: tuple[Saving, ...]
    also: tuple[AlsoFits, ...]
    text: str
    guide: tuple[GuideWay, ...] = ()


@dataclass(frozen=True)
class _Question:
    """One order of the fixed parts with what may be placed between them."""

    task: Task
    pieces: list[Piece]
    window: Window


def plan(
    train: Train,
    shelf: Shelf,
    *,
    most: int = 4,
    aim: Aim = Aim.IN_USE,
    reorder: bool = False,
    kit_prices: Mapping[str, float] | None = None,
    cancel: Cancel | None = None,
) -> Plan:
    """Plan a train's spacing from what is available, and what hangs on its guide ports.

    Args:
        train: the train; its telescope, corrector, housings and camera stay, spacers, shims and adapters are loose.
        shelf: parts by id.
        most: how many proposals to look for.
        aim: which published figure to aim at where they differ; errors are still shown against the one in use.
        reorder: also try housings at other places and flipped.
        kit_prices: what kits cost, by name.
        cancel: set from outside to stop; the plan is then undecided.
    """
    made = _planned(train, shelf, most, aim, kit_prices or {}, cancel, reorder=reorder)
    try:
        landing = made.proposals[0].train if made.proposals and not _lands(train, shelf) else train
        ways = guide_ways(landing, shelf, cancel)
    except Undecided:
        ways = ()
    if aim is Aim.IN_USE and made.proposals and read(train, shelf).verdict.met:
        # What is right already is not taken apart for nothing.
        as_it_is = sorted(made.proposals, key=lambda one: one.train.rear_train != train.rear_train)
        text = say("No change is needed: the train is within tolerance as it is.")
        made = replace(made, proposals=tuple(as_it_is), text=f"{text} {made.text}")
    return replace(made, guide=ways)


def _lands(train: Train, shelf: Shelf) -> bool:
    """Return whether a train lands as it is."""
    spacing = read(train, shelf).spacing
    error, allowed = spacing.error_mm, spacing.allowed_mm
    return error is not None and allowed is not None and allowed[0] - 1e-9 <= error <= allowed[1] + 1e-9


def _planned(
    train: Train, shelf: Shelf, most: int, aim: Aim, kit_prices: Mapping[str, float], cancel: Cancel | None, *,
    reorder: bool,
) -> Plan:  # fmt: skip
    now = read(train, shelf)
    spacing, task = now.spacing, task_of(now.layout)
    if task is None or spacing.required_mm is None or spacing.requirement is None:
        text = say("No back focus is given, so there is nothing to plan for. Enter one in Parts.")
        return Plan((), Proof.UNDECIDED, (None, None), None, (), (), text)
    window = window_of(spacing, aim)
    at_hand = pieces_at_hand(shelf, task)
    orders = list(orders_of(task, shelf, at_hand)) if reorder else [task]
    taken = [few(useful(at_hand, order), order) for order in orders]
    questions = [_Question(order, one.pieces, window) for order, one in zip(orders, taken, strict=True)]
    partly = next((one for one in taken if not one.complete), None)
    answers: list[tuple[Found, _Question]] = []
    also: tuple[AlsoFits, ...] = ()
    proof, trouble = Proof.OPTIMAL, ""
    try:
        _answer(questions, most, answers, cancel)
        _closer(answers, cancel)
        if not answers:
            some = few(at_hand, task)
            none = _impossible(train, shelf, questions, some.pieces, kit_prices, cancel)
            return none if partly is None else replace(none, proof=Proof.UNDECIDED, text=_of_some(partly, found=False))
        also = what_else_fits(train, shelf, task, questions[0].pieces, window, cancel)
    except Undecided as error:
        proof, trouble = Proof.UNDECIDED, str(error)
    found = tuple(proposal_of(answer, question.task, train, shelf) for answer, question in answers)
    shown = say("{trouble} What was found until then is shown.", trouble=trouble) if found else trouble
    thinner = () if trouble else thinner_constructions(train, shelf)[:THINNER_AS_A_CHOICE]
    text = shown if trouble else _ways(len(found)) if partly is None else _of_some(partly, found=True)
    return Plan(found, proof if partly is None else Proof.UNDECIDED, (None, None), None, thinner, also, text)


def _answer(questions: list[_Question], most: int, made: list[tuple[Found, _Question]], cancel: Cancel | None) -> None:
    """Put up to `most` distinct answers over all orders into `made`, best first.

    The best of each order is found first; the best of those is the best of all. What is still wanted comes from the
    order that gave it, without what earlier answers used.

    Raises:
        Undecided: cancelled, or out of time; what was found until then is in `made`.
    """
    for question in questions:
        answer = search(question.task, question.pieces, question.window, cancel=cancel)
        if answer is not None:
            made.append((answer, question))
    made.sort(key=lambda m: _rank(m[0], m[1]))
    del made[most:]
    if made:
        question = made[0][1]
        seen = [answer.counts for answer, asked in made if asked is question]
        while len(made) < most:
            answer = search(question.task, question.pieces, question.window, excluded=seen, cancel=cancel)
            if answer is None:
                break
            seen.append(answer.counts)
            made.append((answer, question))


def _closer(made: list[tuple[Found, _Question]], cancel: Cancel | None) -> None:
    """Put beside the way with fewest joints those that are nearer, if any do: each for the fewest joints it takes.

    Raises:
        Undecided: cancelled, or out of time.
    """
    if not made:
        return
    simplest, question = made[0]
    window = question.window

    def miss(answer: Found) -> int:
        return abs(answer.laid_um - window.aim_um)

    best = search(question.task, question.pieces, window, cancel=cancel, nearest=True)
    if best is None or miss(simplest) - miss(best) < WORTH_UM:
        return
    found: list[Found] = []
    joints = simplest.joints + 1
    while joints < best.joints and len(found) < MOST_BETWEEN:
        answer = search(question.task, question.pieces, window, cancel=cancel, nearest=True, most_joints=joints)
        joints += 1
        nearest = min([simplest, *found], key=miss)
        if answer is not None and miss(nearest) - miss(answer) >= WORTH_UM:
            found.append(answer)
    known = [answer.gaps for answer, _ in made]
    more = [one for one in (*found, best) if one.gaps not in known]
    more = [one for n, one in enumerate(more) if all(miss(one) < miss(other) for other in more[:n])]
    made[1:1] = [(one, question) for one in more]


def _rank(answer: Found, question: _Question) -> tuple[int, int, float]:
    """Fewest joints, then smallest error, then cheapest."""
    price = sum(piece.part.price or 0.0 for gap in answer.gaps for piece, _ in gap)
    return answer.joints, abs(answer.laid_um - question.window.aim_um), price


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
    """Return where the placed distance may be: every filter of the set within tolerance, if that can be.

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
        # A little too near costs nothing that matters; the ring's whole travel is only what can be allowed.
        allowed = spacing.allowed_mm or (0.0, 0.0)
        return Window(microns(low - min(LENS_SHORT_MM, -allowed[0])), microns(low + allowed[1]), microns(low))
    tolerance = spacing.tolerance_mm or 0.0
    middle = (low + high) / 2.0
    if high - low > 2.0 * tolerance:
        return Window(microns(middle - tolerance), microns(middle + tolerance), microns(middle))
    return Window(microns(high - tolerance), microns(low + tolerance), microns(middle))


def _impossible(
    train: Train, shelf: Shelf, questions: list[_Question], at_hand: list[Piece], kit_prices: Mapping[str, float],
    cancel: Cancel | None,
) -> Plan:  # fmt: skip
    nearest = (_nearest(questions, below=True, cancel=cancel), _nearest(questions, below=False, cancel=cancel))
    first = questions[0]
    buy = cheapest_purchase(train, shelf, first.task, at_hand, first.window, kit_prices, cancel)
    thinner: tuple[Saving, ...] = ()
    bound = say("using up to {most_pieces} pieces", most_pieces=MOST_PIECES)
    text = say("No combination of parts you own is within tolerance {bound}; that is proven.", bound=bound)
    if nearest == (None, None):
        text = say("No combination of parts you own connects both ends {bound}; that is proven.", bound=bound)
    elif nearest[0] is None:
        thinner = thinner_constructions(train, shelf)
        text = say("There is no room: even the shortest way to mate everything is too long; that is proven.")
    proof = Proof.IMPOSSIBLE
    unseen = _not_looked_at(train, shelf)
    if unseen:
        # Where no one has looked, nothing is proven: what mates there is not known.
        proof = Proof.UNDECIDED
        text = say(
            "No combination found, but none is ruled out: the connections of {listed} are not known.",
            listed=say(" and ").join(unseen[:3]),
        )
    return Plan((), proof, nearest, buy, thinner, (), text)


def _not_looked_at(train: Train, shelf: Shelf) -> list[str]:
    """Return the parts from the datum to the camera of which a connection is not known."""
    layout = build_layout(train, shelf)
    ends = [(placed.part.name, end) for placed in layout.behind_datum for end in (placed.front, placed.rear)]
    if layout.camera is not None:
        ends.append((layout.camera.name, layout.camera.front))
    return list(dict.fromkeys(name for name, end in ends if end is not None and not end.known))


def _nearest(questions: list[_Question], *, below: bool, cancel: Cancel | None) -> float | None:
    """Return the error nearest to zero from one side, over all orders; None where there is none."""
    errors = []
    for question in questions:
        aim = question.window.aim_um
        ends = (0, aim) if below else (aim, aim + NEAREST_REACH_UM)
        window = replace(question.window, low_um=ends[0], high_um=ends[1])
        answer = search(question.task, question.pieces, window, cancel=cancel, nearest=True)
        if answer is not None:
            errors.append((answer.laid_um - aim) / MICROMETRES_PER_MM)
    return min(errors, key=abs, default=None)


def _of_some(taken: Few, *, found: bool) -> str:
    """Return what a search of a part of the shelf has shown."""
    if found:
        return say(
            "Searched: {searched} of {of} different spacers, adapters and shims. There may be a better way.",
            searched=taken.searched, of=taken.of,
        )  # fmt: skip
    return say(
        "Searched: {searched} of {of} different spacers, adapters and shims, and found nothing. That proves nothing; "
        "mark parts that you no longer have as lost.",
        searched=taken.searched, of=taken.of,
    )  # fmt: skip


def _ways(count: int) -> str:
    return (
        say("One combination from parts you own.")
        if count == 1
        else say(
            "{count} combinations from parts you own. First comes the one with the fewest joints, then the one with "
            "the smallest error, then the cheapest.",
            count=count,
        )
    )
