"""What people write for a number: units, fractions of an inch, decimal commas, tolerances and ranges.

A text is read as one figure of a unit: `16.46`, `16,46 ± 0.02`, `2.5 cm`, `1 1/4"`, `20 µm`, or, where no one knows
better, a range such as `54 to 56`.
"""

import math
import re
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_
from farrail.units import MM_PER_INCH

# Longer than any figure anybody writes.
LONGEST = 200
_INCH = ("in", "inch", "inches", '"', "”", "″", "''", "zoll")
_FOOT = ("ft", "foot", "feet", "fuß")
_MICROMETRE = ("µm", "μm", "um", "micron", "microns")
_NUMBER = r"[+-]?(?:\d+\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|\d+(?:[.,]\d*)?(?:[eE][+-]?\d+)?|[.,]\d+)"
_UNIT = r"(?:[^\W\d_]+|[\"”″°%×]|'')?"
_PLUS_MINUS = r"(?:±|\+\s*/\s*-|\+\s*-)"
_ONE = re.compile(rf"({_NUMBER})\s*({_UNIT})(?:\s*{_PLUS_MINUS}\s*({_NUMBER})\s*({_UNIT}))?")
# Between the ends of a range and before them are the words of every language the window speaks.
_SPAN = re.compile(
    rf"(?:(?:from|von)\s+)?({_NUMBER})\s*({_UNIT})\s*(?:to|bis|\.\.\.|…|–|—|-)\s*({_NUMBER})\s*({_UNIT})", re.IGNORECASE
)
_BETWEEN = re.compile(
    rf"(?:between|zwischen)\s+({_NUMBER})\s*({_UNIT})\s*(?:and|und)\s+({_NUMBER})\s*({_UNIT})", re.IGNORECASE
)
# A number as the tables write it.
NUMBER = r"[-−+]?\d+(?:[.,]\d+)?(?:[eE][-+]?\d+)?"
_PAIR = re.compile(rf"({_NUMBER})\s*(?:mm)?\s*(?:[x×*]|by)\s*({_NUMBER})\s*(?:mm)?", re.IGNORECASE)


@dataclass(frozen=True)
class Written:
    """One figure as it was written, in the unit asked for.

    Attributes:
        low: the number, or the lower end of a range.
        high: the number, or the upper end.
        tolerance: half width; 0 where none was written.
    """

    low: float
    high: float
    tolerance: float = 0.0


# How many of the unit asked for one of the written unit is.
_SCALES: dict[str, dict[str, float]] = {
    "mm": {
        "mm": 1.0,
        "cm": 10.0,
        "m": 1000.0,
        **dict.fromkeys(_FOOT, 12.0 * MM_PER_INCH),
        **dict.fromkeys(_INCH, MM_PER_INCH),
        **dict.fromkeys(_MICROMETRE, 1e-3),
    },
    "µm": {**dict.fromkeys(_MICROMETRE, 1.0), "mm": 1000.0, "nm": 1e-3},
    "nm": {"nm": 1.0, **dict.fromkeys(_MICROMETRE, 1000.0)},
    "°": dict.fromkeys(("°", "deg", "degree", "degrees", "grad"), 1.0),
    "%": dict.fromkeys(("%", "percent", "prozent"), 1.0),
    "stops": dict.fromkeys(("stop", "stops", "st", "ev", "blende", "blenden"), 1.0),
    "dpt": dict.fromkeys(("dpt", "dioptre", "dioptres", "d", "dioptrie", "dioptrien"), 1.0),
    "×": {**dict.fromkeys(("x", "×", "times"), 1.0), **dict.fromkeys(("%", "percent", "prozent"), 0.01)},
    "g": {
        **dict.fromkeys(("g", "gram", "grams", "gramm"), 1.0),
        "kg": 1000.0,
        **dict.fromkeys(("oz", "ounces"), 28.349523125),
        **dict.fromkeys(("lb", "lbs", "pounds"), 453.59237),
    },
    "": {},
}
_WHAT = {
    "mm": (N_("a length"), N_("a number such as 16.46 or 16.46 ± 0.02")),
    "µm": (N_("a size in µm"), N_("a number such as 3.76")),
    "nm": (N_("a wavelength"), N_("nanometres such as 656.3")),
    "°": (N_("an angle"), N_("degrees such as 90")),
    "%": (N_("a percentage"), N_("a number such as 2.5")),
    "stops": (N_("a number of stops"), N_("a number such as 3 or 1.5")),
    "dpt": (N_("a power"), N_("dioptres such as +4")),
    "×": (N_("a factor"), N_("a number such as 1.4")),
    "g": (N_("a mass"), N_("grams such as 320")),
    "": (N_("a number"), N_("one such as 1.5")),
}


def read_written(text: str, unit: str = "mm") -> Written:
    """Read one figure.

    Args:
        text: what was written.
        unit: the unit asked for, one of mm, µm, nm, °, %, stops, dpt, ×, g or "" for a bare number.

    Raises:
        BadInput: it is no figure of that unit; the sentence says what it is taken for and what to write.
    """
    plain = plain_text(text)
    if len(plain) > LONGEST:
        raise _refused(text, unit)
    for pattern in (_BETWEEN, _SPAN):
        span = pattern.fullmatch(plain)
        if span:
            first, second = span[2] or span[4], span[4] or span[2]
            ends = (_in(span[1], first, unit, text), _in(span[3], second, unit, text))
            return Written(min(ends), max(ends))
    match = _ONE.fullmatch(plain)
    if match is None:
        raise _refused(text, unit)
    # "16.46 ± 20 µm": micrometres behind a tolerance are the tolerance's own.
    shared = match[2] or ("" if match[4] in _MICROMETRE else match[4]) or ""
    value = _in(match[1], shared, unit, text)
    half = abs(_in(match[3], match[4] or match[2] or "", unit, text)) if match[3] else 0.0
    return Written(value, value, half)


def read_pair(text: str) -> tuple[float, float]:
    """Read a width and a height in mm, such as `36x24` or `13.2 × 8.8 mm`.

    Raises:
        BadInput: it is no pair.
    """
    match = _PAIR.fullmatch(plain_text(text)) if len(text) <= LONGEST else None
    if match is None:
        raise BadInput("“{shown}” is not a width and a height; write 36 x 24.", shown=shown(text))
    return _in(match[1], "", "mm", text), _in(match[2], "", "mm", text)


def number(text: str) -> float:
    """Read a bare number with a decimal point or comma.

    Raises:
        BadInput: it is none.
    """
    plain = text.strip().replace("−", "-").replace(",", ".")
    if not re.fullmatch(NUMBER.replace("−", ""), plain):
        raise BadInput("“{text}” is not a number", text=text.strip()[:30])
    return float(plain)


def plain_text(text: str) -> str:
    """Return a text with one kind of minus and one kind of space."""
    return " ".join(text.replace("−", "-").replace("\u00a0", " ").replace("\u202f", " ").split())


def shown(text: str) -> str:
    """Return what was written for a sentence: in one line, cut, and kept from turning the sentence round."""
    line = " ".join("".join(c for c in text if c.isprintable()).split())
    line = line if len(line) <= 40 else f"{line[:39]}…"
    # Letters that run from right to left stay inside their quotation marks.
    return f"\u2068{line}\u2069" if any(ord(c) > 0x58F for c in line) else line


def _refused(text: str, unit: str) -> BadInput:
    what, write = _WHAT[unit]
    return BadInput("“{shown}” is not {what}; write {write}.", shown=shown(text), what=what, write=write)


def _in(number: str, written_unit: str, unit: str, text: str) -> float:
    """Return a number in the unit asked for."""
    scales = _SCALES[unit]
    key = written_unit if written_unit in scales else written_unit.casefold()
    if key and key not in scales:
        raise _refused(text, unit)
    if "/" in number and not (key in _INCH or unit in ("", "×", "stops")):
        raise BadInput(
            "“{shown}” is a fraction without a unit; write 1 1/4 in, or a decimal number of mm.", shown=shown(text)
        )
    value = _value(number) * (scales[key] if key else 1.0)
    if not math.isfinite(value):
        raise BadInput("“{shown}” is too large to be {what}.", shown=shown(text), what=_WHAT[unit][0])
    # An inch has four places more than anybody can measure; what is typed in mm stays as it was typed.
    return value if "/" not in number and (not key or scales[key] == 1.0) else round(value, 6)


def _value(number: str) -> float:
    sign = -1.0 if number.startswith("-") else 1.0
    body = number.lstrip("+-").strip()
    if "/" not in body:
        return sign * float(body.replace(",", "."))
    whole, _, fraction = body.rpartition(" ") if re.fullmatch(r"\d+\s+\d+\s*/\s*\d+", body) else ("0", "", body)
    if " " in body and "/" in whole:
        # A space on either side of the stroke: the whole number is what is before the numerator.
        whole, fraction = body.split()[0], "".join(body.split()[1:])
    over, _, under = fraction.replace(" ", "").partition("/")
    if int(under) == 0:
        return math.inf
    return sign * (float(whole or 0) + int(over) / int(under))
