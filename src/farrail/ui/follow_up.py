"""What an edit leaves open: a part corrected or exchanged, a calibrated value that rests on an entry changed since."""

from collections.abc import Callable
from datetime import date

from farrail.language import say
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part
from farrail.workbook.edits.exchanged import ExchangePart, asks_exchange
from farrail.workbook.edits.learnt import TakeBack, UpdateFrom, resting_on
from farrail.workbook.edits.log import ChangeObservation, RemoveObservation, SetAside
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.history import Edit
from farrail.workbook.workbook import Workbook

# Text of a choice, name of its button, what it does.
Choice = tuple[str, str, Callable[[], object]]


def follow_up(
    before: Workbook, edit: Edit, do: Callable[[Edit], object], asked: set[PartId]
) -> tuple[str, tuple[Choice, ...]] | None:  # fmt: skip
    """Return a question that an edit leaves open, with its choices; None where nothing is open.

    Args:
        before: the workbook as it was.
        edit: what was done.
        do: what makes an edit.
        asked: parts of which was asked already; the one asked of now is added.
    """
    part = None if isinstance(edit, SetReading) and edit.part in asked else asks_exchange(before, edit)
    if part is not None:
        asked.add(part.id)
        return _exchange(part, do)
    if isinstance(edit, ChangeObservation | SetAside | RemoveObservation):
        parts = resting_on(before, edit.observation)
        if parts:
            return _resting(", ".join(one.name for one in parts), edit.observation, do)
    return None


def _exchange(part: Part, do: Callable[[Edit], object]) -> tuple[str, tuple[Choice, ...]]:
    words = say(
        "{name} has entries in the log. Was its value corrected, or is it another part now? "
        "A correction changes how those evenings are read; an exchange does not.",
        name=part.name,
    )
    return words, (
        (say("Corrected"), "message_dismiss", lambda: None),
        (say("Exchanged"), "exchange_part", lambda: do(ExchangePart(part, date.today().isoformat()))),
    )


def _resting(names: str, observation: str, do: Callable[[Edit], object]) -> tuple[str, tuple[Choice, ...]]:
    return say("A calibrated value of {names} rests on this entry.", names=names), (
        (say("Update it"), "log_update", lambda: do(UpdateFrom(observation))),
        (say("Take it back"), "log_take_back", lambda: do(TakeBack(observation))),
        (say("Leave it"), "message_dismiss", lambda: None),
    )
