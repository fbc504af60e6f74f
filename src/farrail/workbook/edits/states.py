"""Edits to the kept states of trains: keep one by name, take it away, place it again as a train of its own."""

from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import N_, Text, say
from farrail.workbook.edits.log import with_state
from farrail.workbook.edits.trains import checked_name, free_id
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class KeepState:
    """Keep a train as it is, under a name."""

    train_id: str
    name: str
    day: str
    label: Text = N_("Save snapshot")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the state kept; one alike without a name is given it."""
        name = checked_name(self.name, say("kept state"))
        train = next((one for one in workbook.trains if one.id == self.train_id), None)
        if train is None:
            raise EditRefused("That train is gone; show another.")
        if any(state.name == name and state.train.id == train.id for state in workbook.states):
            raise EditRefused(
                "A state of {name} is called “{name_2}” already; give this one another name.",
                name=train.name,
                name_2=name,
            )
        kept, key = with_state(workbook, train, self.day)
        states = []
        for state in kept.states:
            if state.id == key:
                if state.name:
                    raise EditRefused(
                        "The train is the same as in the snapshot “{name}” of {day}.", name=state.name, day=state.day
                    )
                state = state.model_copy(update={"name": name})
            states.append(state)
        return kept.model_copy(update={"states": tuple(states)})


@dataclass(frozen=True)
class DropState:
    """Keep a state no longer by name; it stays while an observation was made with it."""

    state: str
    label: Text = N_("Drop a kept state")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the state's name, and without the state where nothing needs it."""
        gone = workbook.states_by_id.get(self.state)
        if gone is None or not gone.name:
            raise EditRefused("That state is not kept any more.")
        needed = any(seen.state == self.state for seen in workbook.log)
        states = tuple(
            state.model_copy(update={"name": ""}) if state is gone else state
            for state in workbook.states if state is not gone or needed
        )  # fmt: skip
        return workbook.model_copy(update={"states": states})


@dataclass(frozen=True)
class RestoreState:
    """Place a kept state again as a new train; parts that have left the shelf come back as they were."""

    state: str
    label: Text = N_("Open a snapshot as a new train")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train at its end."""
        state = workbook.states_by_id.get(self.state)
        if state is None:
            raise EditRefused("That state is not kept any more.")
        missing = tuple(part for part in state.parts if part.id not in workbook.by_id)
        name = f"{state.train.name[:80]}, {state.name[:30] or 'as of ' + state.day}"
        taken = {train.id for train in workbook.trains}
        train = state.train.model_copy(update={"id": free_id(name, taken), "name": name})
        return workbook.model_copy(update={"shelf": (*workbook.shelf, *missing), "trains": (*workbook.trains, train)})
