"""What a person types for a value, read as boxes label it: “10x” close-up lenses, stops, percent."""

import re

from farrail.errors import BadInput, EditRefused
from farrail.optics.exposure import density_of_stops, density_of_transmission
from farrail.parts.provenance import Origin, Reading, Span
from farrail.workbook.edits.shelf import parse_figure, parse_reading

_TIMES = re.compile(r"^\+?\s*([\d.,]+)\s*[x×]$", re.IGNORECASE)
_DIOPTRES = re.compile(r"^\+\s*|\s*(?:dpt|dioptres?|D)$", re.IGNORECASE)
_STOPS = re.compile(r"^(.*?)\s*(?:stops?|st)$", re.IGNORECASE)
_PERCENT = re.compile(r"^(.*?)\s*%$")


def parse_value(path: str, text: str, origin: Origin) -> Reading | Span:
    """Read a value typed for a field of a part.

    A close-up lens's “10x” means +10 dioptres; a density may be given in stops or as the light it passes. What was
    written stays in the note.

    Args:
        path: the field.
        text: what was typed.
        origin: where the number came from.

    Raises:
        EditRefused: it is no value.
    """
    plain, leaf = text.strip(), path.rsplit(".", 1)[-1]
    if leaf == "dioptres":
        times = _TIMES.match(plain)
        if times:
            return parse_reading(times[1], origin).model_copy(update={"note": f"labelled {plain}: means dioptres"})
        return parse_figure(_DIOPTRES.sub("", plain), origin)
    if leaf == "density":
        for pattern, convert in ((_STOPS, density_of_stops), (_PERCENT, _passing)):
            match = pattern.match(plain)
            if match:
                given = parse_reading(match[1], origin)
                try:
                    value = round(convert(given.value), 4)
                    spread = abs(convert(given.value + given.tolerance) - convert(given.value))
                except BadInput as error:
                    raise EditRefused(str(error)) from None
                note = f"given as {plain}"
                return Reading(value=value, origin=origin, tolerance=round(spread, 4), note=note)
    return parse_figure(plain, origin)


def _passing(percent: float) -> float:
    return density_of_transmission(percent / 100.0)
