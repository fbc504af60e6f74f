"""Numbers of an observation as people write them: 28 mm, f/11, 300 g, 15 cm, 6 in, 1/250, 190 ± 8."""

import re
from typing import Any

from farrail.errors import BadInput
from farrail.logbook.observation import Observation
from farrail.parts.field_info import FieldInfo
from farrail.parts.written import Written, read_written
from farrail.units import MM_PER_METRE

_F_NUMBER = re.compile(r"^\s*[fF]\s*/?\s*(?=\d)")
_SECONDS = re.compile(r"\s*(?:s|sec|seconds?|sek)\.?\s*$", re.IGNORECASE)
_CELSIUS = re.compile(r"\s*°?\s*[cC]\s*$")
_METRES = re.compile(r"[a-zA-Z]")


def unit_of(kind: type[Observation], name: str) -> str:
    """Return what a kind's field is measured in; "" for a bare number."""
    info = next((item for item in kind.model_fields[name].metadata if isinstance(item, FieldInfo)), None)
    return info.unit if info is not None else ""


def entered(kind: type[Observation], name: str, text: str) -> Written:
    """Return the number in a field, in the field's unit, with what was written behind ±.

    Args:
        kind: the kind.
        name: the field.
        text: what was typed.

    Raises:
        BadInput: it is no number of that unit, a range, or a whole number is asked for.
    """
    unit, plain = unit_of(kind, name), text.strip()
    if unit == "s":
        found = _time(_SECONDS.sub("", plain))
    elif unit == "°C":
        found = read_written(_CELSIUS.sub("", plain), "")
    elif unit == "m":
        found = read_written(plain, "mm" if _METRES.search(plain) else "")
        if _METRES.search(plain):
            found = Written(*(value / MM_PER_METRE for value in (found.low, found.high, found.tolerance)))
    else:
        found = read_written(_F_NUMBER.sub("", plain) if name == "f_number" else plain, unit)
    if found.low != found.high:
        raise BadInput("“{text}” is a range, and one number is asked for.", text=text[:30])
    annotation = str(kind.model_fields[name].annotation)
    if "int" in annotation and "float" not in annotation and not found.low.is_integer():
        raise BadInput("“{text}” is not a whole number.", text=text[:30])
    return found


def _time(text: str) -> Written:
    over, sign, under = text.partition("/")
    if not sign:
        return read_written(text, "")
    numbers = [read_written(part, "").low for part in (over, under)]
    if numbers[1] == 0.0:
        raise BadInput("“{text}” is no time; write 1/250 or 0.5.", text=text[:30])
    return Written(numbers[0] / numbers[1], numbers[0] / numbers[1])


def with_tolerance(kind: type[Observation], values: dict[str, Any], tolerances: dict[str, float]) -> dict[str, Any]:
    """Return values with what was written behind ± in the kind's own field for it, unless that was filled in.

    Args:
        kind: the kind.
        values: what was entered.
        tolerances: half widths written behind numbers, by field.
    """
    field = next((name for name in kind.model_fields if name.startswith("off_")), None)
    first = next((half for name, half in tolerances.items() if half > 0.0 and name != field), None)
    if field is None or first is None:
        return values
    given = values.get(field)
    usual = kind.model_fields[field].get_default()
    return values if given is not None and given != usual else {**values, field: first}
