"""Edits to what is done of putting a train together."""

from dataclasses import dataclass

from farrail.language import N_, Text
from farrail.train.train import Built, Tick, Train
from farrail.workbook.edits.trains import change_train
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class TickStep:
    """Tick a step on a day; None takes the tick away."""

    train_id: str
    step: str
    day: str | None
    label: Text = N_("Tick a step")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the tick."""

        def change(train: Train) -> Train:
            others = tuple(tick for tick in train.ticks if tick.step != self.step)
            more = () if self.day is None else (Tick(step=self.step, day=self.day),)
            return train.model_copy(update={"ticks": (*others, *more)})

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class MarkBuilt:
    """Say that the train is as it is, put together on a day; its ticks start over."""

    train_id: str
    day: str
    label: Text = N_("Mark the train as put together")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train kept as it is."""

        def change(train: Train) -> Train:
            built = Built(
                day=self.day, optic=train.optic, optic_reversed=train.optic_reversed, front_stack=train.front_stack,
                rear_train=train.rear_train, camera=train.camera, camera_bare=train.camera_bare,
            )  # fmt: skip
            return train.model_copy(update={"built": built, "ticks": ()})

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class ClearTicks:
    """Begin the steps of a train again."""

    train_id: str
    label: Text = N_("Start the steps over")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without the train's ticks."""
        return change_train(workbook, self.train_id, lambda train: train.model_copy(update={"ticks": ()}))
