"""Edits to the log: what was seen is written down with the train as it is, changed, taken out."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from pydantic import ValidationError

from farrail.complaints import complaint
from farrail.errors import BadWorkbook, EditRefused
from farrail.language import N_, Text, begun_large, begun_small, say, say_n
from farrail.logbook.observation import Observation
from farrail.logbook.state import State, as_laid, kept_parts
from farrail.parts.field_info import FieldInfo
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part
from farrail.readouts.read import read
from farrail.train.train import Train
from farrail.workbook.edits.trains import free_id
from farrail.workbook.workbook import Workbook


def with_state(workbook: Workbook, train: Train, day: str) -> tuple[Workbook, PartId]:
    """Return the workbook with a train kept as it is, and the state's id; one kept alike already is used again.

    Raises:
        EditRefused: the shelf lacks a part of it.
    """
    laid = as_laid(train)
    try:
        parts = kept_parts(laid, workbook.by_id)
    except BadWorkbook as error:
        raise EditRefused(str(error)) from None
    for state in reversed(workbook.states):
        if state.train == laid and state.parts == parts:
            return workbook, state.id
    taken = set(workbook.states_by_id)
    state = State(id=free_id(f"{train.id[:50]}-as-of-{day}", taken), day=day, train=laid, parts=parts)
    return workbook.model_copy(update={"states": (*workbook.states, state)}), state.id


def free_observation_id(workbook: Workbook, kind: str, day: str) -> str:
    """Return an id for an observation made on a day."""
    taken, number = workbook.log_by_id, 1
    stem = f"{kind.replace('_', '-')}-{day}"
    while f"{stem}-{number}" in taken:
        number += 1
    return f"{stem}-{number}"


@dataclass(frozen=True)
class WriteDown:
    """Write an observation down, tied to its train as it is now.

    Attributes:
        kind: the kind's class.
        train_id: the train it was made with.
        day: when.
        values: what was seen, by the kind's fields.
        state: the kept state the train was in; None: as it is now.
    """

    kind: type[Observation]
    train_id: PartId
    day: str
    values: Mapping[str, Any] = field(hash=False)
    state: PartId | None = None
    label: Text = N_("Save an observation")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the observation at the end of its log."""
        train = next((one for one in workbook.trains if one.id == self.train_id), None)
        if train is None:
            raise EditRefused("That train is gone; show the one this was seen with.")
        then = None if self.state is None else workbook.states_by_id.get(self.state)
        if self.state is not None and then is None:
            raise EditRefused("That snapshot is gone; choose another, or the train as it is now.")
        kept, state = with_state(workbook, train, self.day) if then is None else (workbook, then.id)
        tag = str(self.kind.model_fields["kind"].default)
        entry = {"id": free_observation_id(workbook, tag, self.day), "train": self.train_id, "state": state,
                "day": self.day, **self.values}  # fmt: skip
        seen = made(self.kind, entry)
        shelf = workbook.by_id if then is None else {**workbook.by_id, **then.by_id}
        _check(seen, train if then is None else then.train, shelf)
        return kept.model_copy(update={"log": (*kept.log, seen)})


def _check(seen: Observation, train: Train, shelf: Mapping[PartId, Part]) -> None:
    """Refuse what cannot have been seen with a train, and days that are none.

    Raises:
        EditRefused: with what can be.
    """
    try:
        date.fromisoformat(seen.day)
    except ValueError:
        raise EditRefused("{day} is not a day of the calendar; enter it again.", day=seen.day) from None
    if type(seen).refusal is not Observation.refusal:
        why = seen.refusal(read(train, shelf))
        if why:
            raise EditRefused(why)


def made(kind: type[Observation], entry: Mapping[str, Any]) -> Observation:
    """Return an observation.

    Raises:
        EditRefused: a value it cannot be without is missing, or is outside what can be.
    """
    try:
        return kind.model_validate(dict(entry))
    except ValidationError as error:
        raise EditRefused(_refusal(kind, entry, error)) from None


def _refusal(kind: type[Observation], entry: Mapping[str, Any], error: ValidationError) -> str:
    """Return in a sentence what an observation cannot be without, or what cannot be in it."""
    first = error.errors()[0]
    name = str(first["loc"][-1]) if first["loc"] else ""
    info = kind.model_fields.get(name)
    said = [item for item in (info.metadata if info is not None else ()) if isinstance(item, FieldInfo)]
    label, help_ = (said[0].label, said[0].help) if said else (name, "")
    if first["type"] == "missing" or (first["type"].endswith("_type") and entry.get(name) is None):
        return say(
            "{kind_name}: give “{label}” as well.",
            kind_name=begun_large(str(kind.kind_name)),
            label=label,
        )
    if first["type"] == "string_pattern_mismatch":
        return say(
            "{label}: “{text}” is not possible; enter it again ({help_}).",
            label=label,
            text=str(entry.get(name))[:30],
            help_=help_,
        )
    message = complaint(first)
    return say(
        "{label}: {message_}; write it again.",
        label=label,
        message_=begun_small(message),
    )


@dataclass(frozen=True)
class ChangeObservation:
    """Change what an observation says; the train it was made with stays as it was."""

    observation: str
    values: Mapping[str, Any] = field(hash=False)
    label: Text = N_("Change an observation")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the observation changed."""
        return _changed(
            workbook, self.observation,
            lambda seen: made(type(seen), {**seen.model_dump(), **self.values, "id": seen.id}),
        )  # fmt: skip


def _changed(workbook: Workbook, observation: str, change: Callable[[Observation], Observation]) -> Workbook:
    log = list(workbook.log)
    for number, seen in enumerate(log):
        if seen.id == observation:
            log[number] = change(seen)
            return workbook.model_copy(update={"log": tuple(log)})
    raise EditRefused("That observation is gone; pick another.")


@dataclass(frozen=True)
class SetAside:
    """Keep an observation without calibrating from it, or use it again."""

    observation: str
    aside: bool
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Set an observation aside") if self.aside else say("Use an observation again")

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the observation marked."""
        return _changed(workbook, self.observation, lambda seen: seen.model_copy(update={"aside": self.aside}))


@dataclass(frozen=True)
class RemoveObservation:
    """Take an observation out of the log; a state kept for it alone goes with it."""

    observation: str
    label: Text = N_("Remove an observation")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the observation."""
        gone = workbook.log_by_id.get(self.observation)
        if gone is None:
            raise EditRefused("That observation is gone already.")
        log = tuple(seen for seen in workbook.log if seen is not gone)
        needed = {seen.state for seen in log}
        states = tuple(state for state in workbook.states if state.id in needed or state.name)
        return workbook.model_copy(update={"log": log, "states": states})


@dataclass(frozen=True)
class ImportObservations:
    """Write several observations down in one step, each tied to its train as it is now."""

    edits: tuple[WriteDown, ...]
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say_n(
            "Import {count} observation", "Import {count} observations", len(self.edits), count=len(self.edits)
        )

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with all of them."""
        states: dict[PartId, PartId] = {}
        numbers: dict[tuple[str, str], int] = {}
        taken = set(workbook.log_by_id)
        made_anew: list[Observation] = []
        trains = {train.id: train for train in workbook.trains}
        for edit in self.edits:
            train = trains.get(edit.train_id)
            if train is None:
                raise EditRefused("There is no train “{train_id}”; read the table again.", train_id=edit.train_id)
            if edit.train_id not in states:
                workbook, states[edit.train_id] = with_state(workbook, train, edit.day)
            tag = str(edit.kind.model_fields["kind"].default)
            number = numbers.get((tag, edit.day), 0) + 1
            while (name := f"{tag.replace('_', '-')}-{edit.day}-{number}") in taken:
                number += 1
            numbers[tag, edit.day] = number
            taken.add(name)
            entry = {"id": name, "train": edit.train_id, "state": edit.state or states[edit.train_id],
                    "day": edit.day, **edit.values}  # fmt: skip
            seen = made(edit.kind, entry)
            _check(seen, train, workbook.by_id)
            made_anew.append(seen)
        return workbook.model_copy(update={"log": (*workbook.log, *made_anew)})
