"""The steps of a train in the order of the work, and what of them a change makes necessary again."""

from collections.abc import Iterable

from farrail.assembly.model import Rule, Step
from farrail.assembly.rules import RULES
from farrail.assembly.stages import Stage, Start
from farrail.train.layout import Layout
from farrail.train.train import Built, Side, Train

_ORDER = {stage: number for number, stage in enumerate(Stage)}
# Of the rear train a joint's step is shown once what hangs on it is ready: the part behind it first.
LAST_OF_A_HOUSING = ("empty_slots", "close_wheel")
_PART_FIRST = {rule.key: number for number, rule in enumerate(RULES)}


def steps_of(layout: Layout, start: Start = Start.BENCH, rules: Iterable[Rule] = RULES) -> tuple[Step, ...]:
    """Return the steps of putting a train together, in order.

    Args:
        layout: the placed train.
        start: what is there when the work begins.
        rules: the table of rules.
    """
    found = [(rule, hit) for rule in rules if start in rule.starts for hit in rule.find(layout)]
    found.sort(key=lambda item: _place_in_order(item[0], item[1].place))
    return tuple(
        Step(rule.key, rule.stage, hit, rule.minutes, rule.tool, number)
        for number, (rule, hit) in enumerate(found, start=1)
    )


def _place_in_order(rule: Rule, place: object) -> tuple[int, int, int, int]:
    """Return where a step is: by stage; along a row from the optic outward; there as the table has it."""
    index, slot = getattr(place, "index", -1), getattr(place, "slot", -1)
    along = index if rule.stage in (Stage.FILTERS, Stage.REAR, Stage.FRONT) else 0
    # Housings are blown out before and closed after their filters, each filter with all that is said of it.
    inside = slot if rule.stage in (Stage.FRONT, Stage.FILTERS) else -1
    if rule.key in LAST_OF_A_HOUSING:
        inside = 99
    return _ORDER[rule.stage], along, inside, _PART_FIRST.get(rule.key, 0)


def minutes_of(steps: Iterable[Step]) -> float:
    """Return how long steps take together."""
    return sum(step.minutes for step in steps)


def repeated(steps: Iterable[Step], built: Built | None, train: Train) -> tuple[Step, ...]:
    """Return the steps to do again since a train was last put together.

    A step is done again where its part or a neighbour of it has changed, and those at the site with it; without an
    earlier assembly all of them.

    Args:
        steps: the steps of the train as it is.
        built: the train as it was put together, None where it never was.
        train: the train as it is.
    """
    every = tuple(steps)
    if built is None:
        return every
    changed = {(side, index) for side in Side for index in _changed(built, train, side)}
    if built.camera != train.camera or built.camera_bare != train.camera_bare:
        changed.add((Side.REAR, len(train.rear_train)))
    if built.optic != train.optic or built.optic_reversed != train.optic_reversed:
        return every
    again = []
    for step in every:
        place = step.hit.place
        touched = place is not None and (
            (place.side, place.index) in changed or (step.hit.joint and (place.side, place.index - 1) in changed)
        )
        if touched or (changed and place is None and step.stage is Stage.SITE):
            again.append(step)
    return tuple(again)


def _changed(built: Built, train: Train, side: Side) -> set[int]:
    """Return the places of a row that are not as they were."""
    then, now = built.row(side), train.row(side)
    return {index for index in range(len(now)) if index >= len(then) or then[index] != now[index]} | (
        {len(now)} if len(then) != len(now) else set()
    )
