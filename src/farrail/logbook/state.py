"""A train as it was placed when something was seen: kept as it is, no matter what happens to train and shelf later."""

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from farrail.errors import BadWorkbook
from farrail.parts.frozen import Frozen
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import AnyPart, Part
from farrail.train.rows import Shelf
from farrail.train.train import Conditions, Day, Train


class State(Frozen):
    """One state of a train.

    Attributes:
        id: by which observations name it.
        name: what its owner called it; "" where it was kept for an observation alone.
        day: on which it was kept.
        train: the train as it was placed, what is ticked of putting it together left out.
        parts: every part it used, as it was known then.
    """

    id: PartId
    name: Annotated[str, Field(max_length=120)] = ""
    day: Day
    train: Train
    parts: Annotated[tuple[AnyPart, ...], Field(max_length=400)] = ()

    @property
    def by_id(self) -> dict[PartId, Part]:
        """Its parts by id."""
        return {part.id: part for part in self.parts}


def kept_parts(train: Train, shelf: Shelf) -> tuple[Part, ...]:
    """Return every part of a train once, as it is known.

    Raises:
        BadWorkbook: the shelf lacks one.
    """
    wanted = dict.fromkeys(train.part_ids())
    missing = [part_id for part_id in wanted if part_id not in shelf]
    if missing:
        raise BadWorkbook(
            "Train “{name}” uses “{missing}”, which is not on the shelf.", name=train.name, missing=missing[0]
        )
    return tuple(shelf[part_id] for part_id in wanted)


def as_laid(train: Train) -> Train:
    """Return a train with nothing but what it is placed of: its ticks and what was built are no part of it."""
    return train.model_copy(update={"ticks": (), "built": None})


def alike(one: Train, other: Train) -> bool:
    """Return whether two trains are alike, any called and however they are used."""
    told = {"id": "x", "name": "x", "conditions": Conditions(), "ticks": (), "built": None}
    return one.model_copy(update=told) == other.model_copy(update=told)


def known_now(state: State, shelf: Mapping[PartId, Part]) -> dict[PartId, Part]:
    """Return the parts of a state as they are known now; what has left the shelf since, as it was known then."""
    return {part.id: shelf.get(part.id, part) for part in state.parts}
