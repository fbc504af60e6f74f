"""A step of putting a train together, and a caution, as values. `text` makes sentences of them."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import TypedDict

from farrail.assembly.stages import Stage, Start, Tool
from farrail.train.layout import Layout
from farrail.train.placed import Place


class StepValues(TypedDict, total=False):
    """The names and numbers that the sentences of a step need; each rule fills what its own name."""

    train: str
    optic: str
    camera: str
    guide: str
    part: str
    seat: str
    holder: str
    before: str
    after: str
    left: str
    right: str
    thread: str
    slot: int
    empty: int
    length_mm: float
    set_mm: float
    corner_um: int
    wheel: bool
    nearer_sensor: bool
    telescope: bool
    threaded: bool
    polariser: bool


@dataclass(frozen=True)
class Hit:
    """One place a rule is about.

    Attributes:
        place: the member, or the joint before it; None for the train as a whole.
        joint: whether the joint before it is meant.
        part: id of the part it is about, "" for none.
        values: names and numbers its sentences need.
    """

    place: Place | None = None
    joint: bool = False
    part: str = ""
    values: StepValues = field(default_factory=StepValues, hash=False)


@dataclass(frozen=True)
class Rule:
    """One row of the table of rules.

    Attributes:
        key: its identity; the words are found by it.
        stage: where and when its step is done.
        find: yields the places of a train it is about; none where it has nothing to say.
        minutes: how long one such step takes; common practice, no source.
        tool: what it needs.
        starts: from what beginnings it is done; the whole work from the bench has every step but the tear-down.
    """

    key: str
    stage: Stage
    find: Callable[[Layout], Iterable[Hit]]
    minutes: float = 1.0
    tool: Tool | None = None
    starts: tuple[Start, ...] = (Start.BENCH,)


@dataclass(frozen=True)
class Step:
    """One step of the work.

    Attributes:
        rule: the rule it comes from.
        stage: where and when it is done.
        hit: what it is about.
        minutes: how long it takes.
        tool: what it needs.
        number: its place in the order, from 1.
    """

    rule: str
    stage: Stage
    hit: Hit
    minutes: float
    tool: Tool | None
    number: int

    @property
    def key(self) -> str:
        """A stable id: the rule, and where it speaks."""
        place = self.hit.place
        where = "" if place is None else f":{place.side.value}.{place.index}.{place.slot}"
        return f"{self.rule}{where}:{self.hit.part}" if self.hit.part else f"{self.rule}{where}"
