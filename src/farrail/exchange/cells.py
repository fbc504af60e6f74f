"""How one value of a part is written in one cell of a table, and read back without loss.

A quantity is its figures joined by " | ", the one in use marked with a star when there are several:
`16.5 published (manual) | *16.46 ± 0.02 measured`, or `6 to 12 unknown (closed)`. A bare number counts as published.
A connection is its name, its gender and its engagement in mm: `M42x0.75 external 4`.
"""

import re
from collections.abc import Sequence
from enum import Enum
from typing import Any

from pydantic import BaseModel

from farrail.errors import BadInput
from farrail.parts.fields import PartField, Shape
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.written import NUMBER as _NUMBER
from farrail.parts.written import number
from farrail.parts.written_ends import connection_cell, parse_connection_cell

_READING = re.compile(
    rf"^(?P<value>{_NUMBER})(?:\s*(?:±|\+/-)\s*(?P<tolerance>{_NUMBER}))?(?:\s*mm)?"
    r"(?:\s+(?P<origin>measured|published|assumed))?(?:\s*\((?P<note>.*)\))?$",
    re.IGNORECASE | re.DOTALL,
)
_SPAN = re.compile(
    rf"^(?P<low>{_NUMBER})\s+to\s+(?P<high>{_NUMBER})(?:\s+unknown)?(?:\s*\((?P<note>.*)\))?$", re.DOTALL
)

# A bar inside a note is written with a stroke before it, so that it does not part figures.
_BETWEEN = re.compile(r"\s(?<!\\)\|\s")


def quantity_cell(quantity: Quantity) -> str:
    """Return a quantity as one cell."""
    several = len(quantity.readings) > 1
    words = []
    for index, reading in enumerate(quantity.readings):
        star = "*" if several and index == quantity.chosen else ""
        note = f" ({reading.note.replace(chr(124), chr(92) + chr(124))})" if reading.note else ""
        if isinstance(reading, Span):
            words.append(f"{star}{reading.low!r} to {reading.high!r} unknown{note}")
        else:
            spread = f" ± {reading.tolerance!r}" if reading.tolerance else ""
            words.append(f"{star}{reading.value!r}{spread} {reading.origin}{note}")
    return " | ".join(words)


def parse_quantity(text: str, bare: Origin = Origin.PUBLISHED) -> Quantity:
    """Read a quantity from one cell.

    Args:
        text: the cell.
        bare: where a number without a word for it came from.

    Raises:
        BadInput: a figure in it cannot be read.
    """
    readings: list[Reading | Span] = []
    chosen = 0
    for index, word in enumerate(_BETWEEN.split(text)):
        word = word.strip().replace("\\|", "|")
        if word.startswith("*"):
            chosen, word = index, word[1:].strip()
        readings.append(_figure(word, bare))
    return Quantity(readings=tuple(readings), chosen=chosen)


def _figure(word: str, bare: Origin) -> Reading | Span:
    span = _SPAN.match(word)
    if span:
        return Span(low=number(span["low"]), high=number(span["high"]), note=span["note"] or "")
    match = _READING.match(word)
    if not match:
        raise BadInput("“{word}” is not a value; write 16.5 published or 16.46 ± 0.02 measured", word=word[:40])
    return Reading(
        value=number(match["value"]),
        origin=Origin(match["origin"].lower()) if match["origin"] else bare,
        tolerance=abs(number(match["tolerance"])) if match["tolerance"] else 0.0,
        note=match["note"] or "",
    )


def table_cell(rows: Sequence[BaseModel]) -> str:
    """Return a table over the focal length as one cell: `24.0 mm: 380.0 published @@ 0.17 published ;; 70.0 mm: …`.

    The first field of a row is the focal length, the others are quantities.
    """
    return " ;; ".join(f"{first!r} mm: {' @@ '.join(map(quantity_cell, rest))}" for first, *rest in map(_columns, rows))


def _columns(row: BaseModel) -> list[Any]:
    """Return a row's values; what may be left out and is is last."""
    return [value for name in type(row).model_fields if (value := getattr(row, name)) is not None]


def parse_table(text: str, row: type[BaseModel]) -> tuple[BaseModel, ...]:
    """Read a table over the focal length from one cell.

    Args:
        text: the cell.
        row: the record each of its rows makes.

    Raises:
        BadInput: an entry of it cannot be read.
    """
    names = list(row.model_fields)
    found = []
    for entry in text.split(";;"):
        focal, colon, rest = entry.partition(":")
        values = rest.split("@@")
        needed = sum(field.is_required() for field in row.model_fields.values()) - 1
        if not colon or not needed <= len(values) <= len(names) - 1:
            example = " @@ ".join(["380 published", "0.17 published"][: len(names) - 1])
            raise BadInput(
                "“{entry}” is no row of that table; write 24 mm: {example}", entry=entry.strip()[:30], example=example
            )
        columns = [number(focal.replace("mm", "")), *(parse_quantity(value.strip()) for value in values)]
        found.append(row(**dict(zip(names, columns, strict=False))))
    return tuple(found)


def written(field: PartField, value: Any) -> str:
    """Return a field's value as one cell; "" for nothing."""
    if field.shape is Shape.QUANTITY:
        return quantity_cell(value)
    if field.shape is Shape.CONNECTION:
        return connection_cell(value)
    if field.shape is Shape.TABLE:
        return table_cell(value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value.value if isinstance(value, Enum) else value)


def read_cell(field: PartField, text: str, bare: Origin = Origin.PUBLISHED) -> Any:
    """Read a field's value from one cell.

    Args:
        field: the field.
        text: the cell.
        bare: where a number without a word for it came from.

    Raises:
        BadInput: it is none.
    """
    if field.shape is Shape.QUANTITY:
        return parse_quantity(text, bare)
    if field.shape is Shape.CONNECTION:
        return parse_connection_cell(text)
    if field.shape is Shape.TABLE:
        assert field.row is not None
        return parse_table(text, field.row)
    if field.shape in (Shape.YES_OR_NO, Shape.YES_NO_OR_SILENT):
        silent = field.shape is Shape.YES_NO_OR_SILENT and text.strip().lower() == "silent"
        return None if silent else _yes_or_no(text)
    if field.shape is Shape.NUMBER:
        try:
            return parse_quantity(text).value
        except BadInput:
            raise BadInput("“{text}” is no number; write it in figures, as 35 or 2.5", text=text.strip()[:40]) from None
    return text


def _yes_or_no(text: str) -> bool:
    word = text.strip().lower()
    if word in ("yes", "true", "1"):
        return True
    if word in ("no", "false", "0"):
        return False
    raise BadInput("“{text}” is neither yes nor no; write one of them", text=text.strip()[:40])
