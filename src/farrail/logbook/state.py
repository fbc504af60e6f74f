"""A train as it was placed when something was seen: kept as it is, no matter what happens to train and shelf later."""

from collections.abc import Iterable, Mapping
from typing import Annotated

from pydantic import Field

from farrail.errors import BadWorkbook
from farrail.parts.frozen import Frozen
from farrail.parts.inventory_item import PartId, Status
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


def state_on(states: Iterable[State], train: Train, day: str) -> State | None:
    """Return the kept state a train was in on a day; None where nothing says that it was otherwise than now.

    A state of that very day counts, else the last one before it, if a later state shows that the train was changed
    only afterwards.

    Args:
        states: all that are kept.
        train: the train as it is now.
        day: such as 2026-10-03.
    """
    mine = sorted((state for state in states if state.train.id == train.id), key=lambda state: state.day)
    before = [state for state in mine if state.day <= day]
    found = next((state for state in before if state.day == day), None)
    if found is None and before and any(state.day > day for state in mine):
        found = before[-1]
    return None if found is None or found.train == as_laid(train) else found


def as_owned_now(state: State, shelf: Shelf) -> dict[PartId, Part]:
    """Return a state's parts as they were, but owned as they are today: what is gone from the shelf is lost."""
    found: dict[PartId, Part] = {}
    for key, part in state.by_id.items():
        now = shelf.get(key)
        owned = {"status": Status.LOST} if now is None else {"status": now.status, "owned": now.owned}
        found[key] = part.model_copy(update=owned)
    return found
