"""Which trains a change of the shelf judges otherwise: shown before it is made."""

from collections.abc import Iterable
from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.readouts.finding import Severity
from farrail.readouts.read import Readout, read
from farrail.readouts.spacing.grounds import State
from farrail.readouts.spacing.verdict import Verdict
from farrail.train.rows import Shelf
from farrail.train.train import Train

# A first clean focal length that moves by less is the same.
SAME_FOCAL_MM = 0.05


@dataclass(frozen=True)
class TrainVerdict:
    """What is said of a train: its spacing, where its front is clean, and what stops it."""

    spacing: Verdict
    first_clean_mm: float | None
    has_front: bool
    stops: frozenset[str]

    @property
    def state(self) -> State:
        """The spacing in one word."""
        return self.spacing.state


@dataclass(frozen=True)
class Consequence:
    """A train that is judged differently."""

    train: Train
    before: TrainVerdict
    after: TrainVerdict

    @property
    def spacing_changes(self) -> bool:
        """Whether the verdict on spacing is another."""
        return self.before.state is not self.after.state

    @property
    def front_changes(self) -> bool:
        """Whether another focal length is the first clean one."""
        return _moves(self.before.first_clean_mm, self.after.first_clean_mm)

    @property
    def stops_change(self) -> bool:
        """Whether something stops it that did not, or no longer."""
        return self.before.stops != self.after.stops


def _moves(one: float | None, other: float | None) -> bool:
    if one is None or other is None:
        return one is not other
    return abs(one - other) > SAME_FOCAL_MM


def judged(readout: Readout) -> TrainVerdict:
    """Return what is said of a train."""
    front = readout.front
    stops = frozenset(f.kind for f in readout.findings if f.severity is Severity.STOP)
    return TrainVerdict(readout.verdict, front.now.first_clean_mm if front.judged else None, front.judged, stops)


def consequences(trains: Iterable[Train], before: Shelf, after: Shelf) -> tuple[Consequence, ...]:
    """Return the trains that another shelf judges otherwise; those with no changed part are not looked at."""
    changed = {part_id for part_id, part in after.items() if before.get(part_id) is not part}
    found = []
    for train in trains:
        if changed.isdisjoint(train.part_ids()):
            continue
        try:
            pair = Consequence(train, judged(read(train, before)), judged(read(train, after)))
        except FarRailError:
            continue
        if pair.spacing_changes or pair.front_changes or pair.stops_change:
            found.append(pair)
    return tuple(found)
