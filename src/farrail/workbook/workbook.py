"""The workbook: a shelf of parts, trains placed from them, and a log."""

from collections import Counter
from functools import cached_property
from typing import Annotated, Final, Literal

from pydantic import Field

from farrail.errors import BadWorkbook
from farrail.language import say
from farrail.logbook.observation import Observation
from farrail.logbook.registry import AnyObservation
from farrail.logbook.state import State
from farrail.parts.base import TubePart
from farrail.parts.frozen import Frozen
from farrail.parts.inventory_item import PartId, Price
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.registry import AnyPart, Part
from farrail.train.train import Train

FORMAT: Final = "farrail-workbook"
VERSION: Final = 2
MOST_PARTS: Final = 5000


class Kit(Frozen):
    """A kit parts are bought in: what all of it costs."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    price: Price


class Workbook(Frozen):
    """Everything one file holds. Immutable: an edit makes a new workbook that shares what did not change."""

    format: Literal["farrail-workbook"] = FORMAT
    version: Literal[2] = VERSION
    name: Annotated[str, Field(min_length=1, max_length=120)]
    shelf: Annotated[tuple[AnyPart, ...], Field(max_length=MOST_PARTS)] = ()
    trains: Annotated[tuple[Train, ...], Field(max_length=500)] = ()
    # Prices of kits; which parts a kit holds is said by the parts.
    kits: Annotated[tuple[Kit, ...], Field(max_length=500)] = ()
    # What was seen, and the trains as they were placed then; of those some are kept for their own sake, by name.
    log: Annotated[tuple[AnyObservation, ...], Field(max_length=20_000)] = ()
    states: Annotated[tuple[State, ...], Field(max_length=5000)] = ()

    @cached_property
    def by_id(self) -> dict[PartId, Part]:
        """The shelf's parts by id."""
        return {part.id: part for part in self.shelf}

    def train(self, key: str) -> Train:
        """Return the train of an id or name; capitals do not matter, and any part of it that no other has is enough.

        Raises:
            BadWorkbook: there is none, or several begin so.
        """
        for train in self.trains:
            if key in (train.id, train.name):
                return train
        asked = key.strip().casefold()
        same = [t for t in self.trains if asked in (t.id.casefold(), t.name.casefold())]
        begun = [
            t
            for t in self.trains
            if asked and (t.id.casefold().startswith(asked) or t.name.casefold().startswith(asked))
        ]
        inside = [t for t in self.trains if asked and (asked in t.id.casefold() or asked in t.name.casefold())]
        found = same or begun or inside
        if len(found) == 1:
            return found[0]
        if found:
            several = ", ".join(f"“{t.name}” ({t.id})" for t in found)
            raise BadWorkbook(
                "Several trains are meant by “{key}”: {several}; write more of it.", key=key, several=several
            )
        names = ", ".join(f"“{t.name}”" for t in self.trains) or "none"
        raise BadWorkbook(
            "There is no train “{key}” in “{name}”; its trains are: {names}.", key=key, name=self.name, names=names
        )

    @cached_property
    def states_by_id(self) -> dict[PartId, State]:
        """The kept states by id."""
        return {state.id: state for state in self.states}

    @cached_property
    def log_by_id(self) -> dict[str, Observation]:
        """The observations by id."""
        return {seen.id: seen for seen in self.log}

    @cached_property
    def kit_prices(self) -> dict[str, float]:
        """What each kit costs, by name."""
        return {kit.name: kit.price for kit in self.kits}

    @cached_property
    def use_counts(self) -> Counter[PartId]:
        """On how many trains each part is."""
        return Counter(part_id for train in self.trains for part_id in set(train.part_ids()))

    def uses_of(self, part_id: PartId) -> list[Train]:
        """Return the trains that use a part."""
        return [t for t in self.trains if part_id in t.part_ids()]


def empty_workbook() -> Workbook:
    """Return a workbook with nothing in it."""
    return Workbook(name=say("Untitled"))


def check_references(workbook: Workbook) -> None:
    """Refuse a workbook whose ids repeat or whose trains name what is not there.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    for what, ids in (("part", [p.id for p in workbook.shelf]), ("train", [t.id for t in workbook.trains])):
        twice = [i for i, count in Counter(ids).items() if count > 1]
        if twice:
            raise BadWorkbook(
                "The {what} id “{twice}” appears twice; give each {what} its own id.",
                what=what,
                twice=twice[0],
            )
    for train in workbook.trains:
        check_train(train, workbook.by_id)
    check_log(workbook)


def check_log(workbook: Workbook) -> None:
    """Refuse a log whose ids repeat, or whose observations name a state that is not kept.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    for what, ids in (("observation", [o.id for o in workbook.log]), ("state", [s.id for s in workbook.states])):
        twice = [i for i, count in Counter(ids).items() if count > 1]
        if twice:
            raise BadWorkbook(
                "The {what} id “{twice}” appears twice; give each {what} its own id.",
                what=what,
                twice=twice[0],
            )
    states = {state.id for state in workbook.states}
    for seen in workbook.log:
        if seen.state not in states:
            raise BadWorkbook(
                "Observation “{id}” was made with a state “{state}” that is not kept; take it out of the log.",
                id=seen.id,
                state=seen.state,
            )
    for state in workbook.states:
        check_train(state.train, state.by_id)


def check_train(train: Train, shelf: dict[PartId, Part]) -> None:
    """Refuse a train that names parts the shelf does not have, or of a kind that cannot be there.

    Raises:
        BadWorkbook: with the place and the remedy.
    """
    wants: list[tuple[PartId, tuple[type, ...], str]] = [
        (train.optic, (Telescope, CameraLens), say("a telescope or camera lens as its optic"))
    ]
    if train.camera is not None:
        wants.append((train.camera, (Camera,), say("a camera at its end")))
    for laid in (*train.front_stack, *train.rear_train):
        wants.append((laid.part, (TubePart,), say("a part with two ends between the others")))
        holder = isinstance(shelf.get(laid.part), FilterHolder)
        role = say("a filter in each slot") if holder else say("a filter in each seat")
        wants += [(f, (SheetFilter if holder else RoundFilter,), role) for f in laid.filters if f is not None]
        if laid.drop_in is not None:
            wants.append((laid.drop_in, (RoundFilter,), say("a round filter dropped into a holder")))
        if laid.lens is not None:
            wants.append((laid.lens, (CameraLens,), say("a camera lens on the reversing ring")))
        if laid.guide is not None:
            wants += [
                (part_id, (TubePart,), say("parts with two ends on the guide port")) for part_id in laid.guide.between
            ]
            wants.append((laid.guide.camera, (Camera,), say("a camera on the guide port")))
    optic = shelf.get(train.optic)
    if train.optic_reversed and isinstance(optic, CameraLens) and optic.front is None:
        raise BadWorkbook(
            "Train “{name}” turns {name_2} round, which has no filter thread to be held by; choose another.",
            name=train.name,
            name_2=optic.name,
        )
    for part_id, kinds, role in wants:
        part = shelf.get(part_id)
        if part is None:
            raise BadWorkbook(
                "Train “{name}” uses a part “{part_id}” that is not on the shelf; add it or take it out.",
                name=train.name,
                part_id=part_id,
            )
        if not isinstance(part, kinds):
            raise BadWorkbook(
                "Train “{name}” needs {role}; “{name_2}” is not one.", name=train.name, role=role, name_2=part.name
            )
