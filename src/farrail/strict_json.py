"""JSON as this program reads it: no name twice in a record, no NaN, no record without end, refused in its own words."""

import json
import math
from typing import Any

from farrail.errors import BadInput

# No record of a workbook or an edit has nearly so many names.
MOST_NAMES = 1000


def read_json(text: str) -> Any:
    """Return what a JSON text holds.

    Raises:
        json.JSONDecodeError: it is no JSON; it says where.
        BadInput: it is JSON that cannot be used, said as a phrase that goes on inside a sentence.
    """
    try:
        return json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_record, parse_int=_whole)
    except RecursionError:
        raise BadInput("it is nested too deeply") from None


def _record(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Return a record; one name twice is refused: it is not known which of the two is meant."""
    if len(pairs) > MOST_NAMES:
        raise BadInput("a record in it has {count} names; at most {most} are read", count=len(pairs), most=MOST_NAMES)
    found = dict(pairs)
    if len(found) != len(pairs):
        seen: set[str] = set()
        twice = next(name for name, _ in pairs if name in seen or seen.add(name))  # type: ignore[func-returns-value]
        raise BadInput("“{twice}” appears twice in one record", twice=twice[:60])
    return found


def _refuse_constant(text: str) -> float:
    raise BadInput("it holds {text}, which is no number", text=text)


def _whole(text: str) -> int:
    try:
        return int(text)
    except ValueError:
        raise BadInput("it holds a number of {count} digits", count=len(text)) from None


def plain(value: Any) -> Any:
    """Return a value as JSON can hold it: an infinity or NaN becomes null."""
    return None if isinstance(value, float) and not math.isfinite(value) else value
