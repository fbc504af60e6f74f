"""What a person types for a value, read as boxes label it: “10x” close-up lenses, stops, percent, ND numbers."""

import math
import re
from collections.abc import Callable

from farrail.errors import BadInput, EditRefused
from farrail.language import say
from farrail.optics.exposure import density_of_stops, density_of_transmission
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading, Span
from farrail.parts.written import plain_text, shown
from farrail.workbook.edits.shelf import parse_figure

_TIMES = re.compile(r"^\+?\s*([\d.,]+)\s*[x×]$", re.IGNORECASE)
_LEADING_TIMES = re.compile(r"^[x×]\s*", re.IGNORECASE)
_STOPS = re.compile(r"^(.*?)\s*(?:stops?|st|ev)$", re.IGNORECASE)
_PERCENT = re.compile(r"^(.*?)\s*(?:%|percent)$")
_ND = re.compile(r"^nd\s*(\d+(?:[.,]\d+)?)$", re.IGNORECASE)
_F_NUMBER = re.compile(r"^(?:f\s*/?\s*|1\s*:\s*)(?=[\d.,])", re.IGNORECASE)
# A close-up lens by its focal length: 500 mm is +2.
_FOCAL = re.compile(r"^(?:f\s*[=:]?\s*)?([+-]?[\d.,]+\s*(?:mm|cm|m))$", re.IGNORECASE)
# What people write around a figure that says nothing the field does not: “back focus 55 ± 0.3”, “8-15 fisheye”.
_NAME = re.compile(
    r"^(?:back\s*-?\s*focus|bf|focal\s+length|f|flange(?:\s+distance)?|length|thickness|depth|distance|aperture|width"
    r"|auflagema(?:ß|ss)|brennweite|länge|dicke|abstand|tiefe|breite)\s*[=:]?\s*(?=[+-]?[\d.,])",
    re.IGNORECASE,
)
_SORT = re.compile(r"\s*\b(?:fisheye|fish-eye|zoom|macro|makro|tilt-shift|lens|objektiv|achromat)\b", re.IGNORECASE)
_RATIO = re.compile(r"^([\d.,]+)\s*:\s*([\d.,]+)$")
_OPTICAL = re.compile(
    r"^(?:(?:t/n|optical(?: thickness)?)\s*=?\s*(?P<ahead>[\d.,].*)|(?P<behind>[\d.,].*?)\s*t/n)$", re.I
)
_REDUCTION = re.compile(r"^(?:reduction|shift)\s*(?:of|=|:)?\s*", re.IGNORECASE)
# What a value is measured in is the end of its name.
_UNITS = (
    ("_mm", "mm"),
    ("_um", "µm"),
    ("_nm", "nm"),
    ("_deg", "°"),
    ("_percent", "%"),
    ("_stops", "stops"),
    ("_g", "g"),
)
_NAMED = {"dioptres": "dpt", "factor": "×", "reduction_factor": "×", "nearest_magnification": "×"}


def unit_of(path: str) -> str:
    """Return what a value at a path is measured in; "" for a bare number."""
    leaf = path.rsplit(".", 1)[-1]
    return _NAMED.get(leaf) or next((unit for ending, unit in _UNITS if leaf.endswith(ending)), "")


def parse_value(path: str, text: str, origin: Origin) -> Reading | Span:
    """Read a value typed for a field of a part.

    A close-up lens's “10x” means +10 dioptres; a density may be given in stops, as the light it passes, or as boxes
    print it: ND1000 passes a thousandth, ND 3.0 is a density. What was written stays in the note.

    Args:
        path: the field.
        text: what was typed.
        origin: where the number came from.

    Raises:
        EditRefused: it is no value.
    """
    plain, leaf = plain_text(text), path.rsplit(".", 1)[-1]
    if leaf == "dioptres":
        plain = _SORT.sub("", plain).strip()
        focal = _FOCAL.match(plain)
        if focal:
            return _power_of(parse_figure(focal[1], origin), plain, text)
        times = _TIMES.match(plain)
        if times:
            return _noted(parse_figure(times[1], origin, "dpt"), say("labelled {plain}: means dioptres", plain=plain))
        return parse_figure(plain.removeprefix("+").strip(), origin, "dpt")
    if leaf == "density":
        return _density(plain, origin)
    if leaf in ("f_number", "near_f_number"):
        return parse_figure(_F_NUMBER.sub("", plain), origin, "")
    if unit_of(path) == "×" and (ratio := _RATIO.match(plain)):
        over, under = (parse_figure(word, origin, "") for word in ratio.groups())
        if under.value == 0.0:
            raise EditRefused("“{shown}” is no scale; write 1:2.", shown=shown(text))
        return Reading(
            value=round(over.value / under.value, 6), origin=origin, note=say("given as {plain}", plain=plain)
        )
    if unit_of(path) == "×":
        plain = _LEADING_TIMES.sub("", plain)
    return parse_figure(_SORT.sub("", _NAME.sub("", plain)).strip(), origin, unit_of(path))


def _power_of(focal: Reading | Span, plain: str, text: str) -> Reading:
    """Return the power in dioptres, 1000 / f, of a focal length in mm."""
    if not focal.value:
        raise EditRefused("“{shown}” is not a focal length; write 250 mm, or dioptres such as +4.", shown=shown(text))
    power = round(1000.0 / focal.value, 4)
    return Reading(value=power, origin=focal.origin, note=say("given as {plain}", plain=plain))


def parse_shift(text: str, thickness_mm: float | None, origin: Origin) -> Reading | Span:
    """Read a printed focus shift, or the optical thickness t/n some boxes print in its place: `1.32 t/n`.

    Args:
        text: what was typed; `reduction 0.68` is a shift too.
        thickness_mm: how thick the glass is, None where nothing was entered.
        origin: where the number came from.

    Raises:
        EditRefused: it is neither, or the thickness a t/n needs is not known.
    """
    plain = plain_text(text)
    optical = _OPTICAL.match(plain)
    if optical is None:
        return parse_figure(_REDUCTION.sub("", plain), origin)
    given = parse_figure(optical["ahead"] or optical["behind"], origin)
    if thickness_mm is None:
        raise EditRefused("An optical thickness needs the glass's own: type the glass thickness first, then this.")
    if not 0.2 * thickness_mm <= given.value < thickness_mm:
        raise EditRefused(
            "Glass of {thickness_mm:g} mm cannot be {value:g} mm thick optically; t/n is less.",
            thickness_mm=thickness_mm,
            value=given.value,
        )
    # The shift t(1 - 1/n) is what the optical thickness t/n leaves of t.
    shift = round(thickness_mm - given.value, 4)
    return Reading(
        value=shift, origin=given.origin, tolerance=given.tolerance, note=say("given as {plain}", plain=plain)
    )


def _density(plain: str, origin: Origin) -> Reading | Span:
    for pattern, convert in ((_STOPS, density_of_stops), (_PERCENT, _passing)):
        match = pattern.match(plain)
        if match:
            return _converted(parse_figure(match[1], origin, ""), convert, plain)
    printed = _ND.match(plain)
    if printed is None:
        return parse_figure(plain, origin, "")
    number = float(printed[1].replace(",", "."))
    if "." in printed[1] or "," in printed[1]:
        return _noted(parse_figure(printed[1], origin, ""), say("given as {plain}", plain=plain))
    # Factors are powers of two and the large round ones; a small odd number may as well be a density.
    if number < 2.0 or (number < 8.0 and not math.log2(number).is_integer()):
        raise EditRefused(
            "“{shown}” may be a density or a factor; write ND {number:.1f} for the density, or the stops.",
            shown=shown(plain),
            number=number,
        )
    return _converted(parse_figure(printed[1], origin, ""), lambda factor: density_of_transmission(1.0 / factor), plain)


def _converted(given: Reading | Span, convert: Callable[[float], float], plain: str) -> Reading | Span:
    note = say("given as {plain}", plain=plain)
    try:
        if isinstance(given, Span):
            ends = sorted((round(convert(given.low), 4), round(convert(given.high), 4)))
            return Span(low=ends[0], high=ends[1], note=note)
        value = round(convert(given.value), 4)
        spread = abs(convert(given.value + given.tolerance) - convert(given.value))
    except BadInput as error:
        raise EditRefused(str(error)) from None
    return Reading(value=value, origin=given.origin, tolerance=round(spread, 4), note=note)


def _noted(reading: Reading | Span, note: str) -> Reading | Span:
    return reading.model_copy(update={"note": note})


def _passing(percent: float) -> float:
    return density_of_transmission(percent / 100.0)
