"""What an edit makes must read back: the bounds of the format, asked of everything an edit has changed.

The bounds are once, in the models; here they are applied to what edits make by copying, which no model has checked.
"""

from functools import lru_cache

from pydantic import ValidationError

from farrail.complaints import complaint
from farrail.errors import EditRefused
from farrail.language import N_, begun_small, say
from farrail.parts.frozen import Frozen
from farrail.workbook.workbook import Workbook

COUNTED = {"shelf": N_("A shelf holds at most {most} parts"), "trains": N_("A workbook holds at most {most} trains"),
           "kits": N_("A workbook holds at most {most} kits"), "log": N_("A log holds at most {most} observations"),
           "states": N_("A workbook holds at most {most} snapshots of its trains")}  # fmt: skip


@lru_cache(maxsize=8)
def most_of(field: str) -> int:
    """Return how many records a workbook's row may hold."""
    return next(
        int(bound.max_length) for bound in Workbook.model_fields[field].metadata if hasattr(bound, "max_length")
    )


def check_bounds(before: Workbook, after: Workbook) -> None:
    """Refuse what would be saved and not read again; only what changed is looked at.

    Raises:
        EditRefused: a bound of the format is passed; nothing has changed.
    """
    for field, words in COUNTED.items():
        rows = getattr(after, field)
        if rows is getattr(before, field):
            continue
        if len(rows) > most_of(field):
            raise EditRefused("{words}; remove one first.", words=say(words, most=most_of(field)))
        known = {id(record) for record in getattr(before, field)}
        for record in rows:
            if id(record) not in known:
                _check(record)
    if after.name != before.name:
        _check(after.model_copy(update={"shelf": (), "trains": (), "kits": (), "log": (), "states": ()}))


def refusal(error: ValidationError, name: str) -> EditRefused:
    """Return what a validation complains of first, as a refusal in one sentence."""
    first = error.errors()[0]
    place = ".".join(str(step) for step in first["loc"])
    message = complaint(first)
    return EditRefused(
        "{name}: {place}: {message_}; it stays as it was.",
        name=name,
        place=place,
        message_=begun_small(message),
    )


def _check(record: Frozen) -> None:
    try:
        again = type(record).model_validate(record.model_dump(warnings=False))
    except ValidationError as error:
        raise refusal(error, getattr(record, "name", "This")) from None
    if again != record:
        raise EditRefused(
            "{getattr} would not read back as it is; it stays as it was.", getattr=getattr(record, "name", "This")
        )
