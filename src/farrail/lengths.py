"""The unit lengths are shown in: millimetres, or inches for whoever measures in them.

A message says which of its values are lengths, in their format: `{gap:.2f mm}` is shown with its unit, and
`{gap:.2f length}` is the bare number beside it, as in `{low:.2f length} to {high:.2f mm}`. What is named by a size in
millimetres, such as a focal length, a filter thread or a sensor, is written `{focal:g} mm` and stays so: no one
is about a 1.97 inch lens. Values are in millimetres always; only what is shown changes. A bare number in a file or on
the command line is in millimetres; one that is typed into a field that shows its unit is in that unit.
"""

import re
from enum import StrEnum
from functools import cache
from typing import Any

from farrail import user_settings
from farrail.units import inches_to_mm, mm_to_inches


class LengthUnit(StrEnum):
    """A unit lengths are shown in."""

    MM = "mm"
    INCH = "in"

    @property
    def mm(self) -> float:
        """How many mm one of it is."""
        return 1.0 if self is LengthUnit.MM else inches_to_mm(1.0)


SAVED_AS = "lengths"
# An inch holds 25.4 mm: two places more say at least as finely.
MORE_PLACES = 2
_LENGTH = re.compile(r"\{(?P<name>\w+):(?P<sign>\+?)(?P<spec>\.\d+f|g) (?P<told>mm|length)\}")
# A number, how far it may be off, or a range, without a unit; and a number with a share behind it.
_BARE = re.compile(r"[\d\s.,/+−-]+(?:(?:±|to|bis|…|–)[\d\s.,/]+)?")
_SHARE = re.compile(r"([\d\s.,/]+)(±[\d\s.,]+%)")
_current = LengthUnit.MM


def current() -> LengthUnit:
    """Return the unit in force."""
    return _current


def choose(unit: LengthUnit) -> None:
    """Say lengths in a unit from now on."""
    global _current  # one program, one unit
    _current = unit


def saved() -> LengthUnit:
    """Return the unit kept for every start: millimetres where none was chosen."""
    told = user_settings.saved(SAVED_AS)
    return LengthUnit(told) if told in list(LengthUnit) else LengthUnit.MM


def save(unit: LengthUnit) -> None:
    """Keep a unit for the next starts.

    Raises:
        OSError: it cannot be kept.
    """
    user_settings.save(SAVED_AS, unit.value)


def in_unit(length_mm: float, places: int = 0) -> tuple[float, int]:
    """Return a length as a number of the unit in force, and to how many places it is shown as finely as asked for.

    Args:
        length_mm: in mm.
        places: after the point, where it is shown in mm.
    """
    return (length_mm, places) if _current is LengthUnit.MM else (mm_to_inches(length_mm), places + MORE_PLACES)


def as_shown(text: str) -> str:
    """Return what was typed into a field that shows the unit in force: a bare number is given that unit."""
    plain = text.replace("+/-", "±").strip()
    if _current is LengthUnit.MM or not any(sign.isdigit() for sign in plain):
        return text
    share = _SHARE.fullmatch(plain)
    if share is not None:
        return f"{share[1].strip()} {_current.value} {share[2]}"
    return f"{plain} {_current.value}" if _BARE.fullmatch(plain) else text


def prepared(message: str, values: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    """Return a message and its values as the standard formatter takes them, lengths in the unit in force.

    Args:
        message: in any language.
        values: what stands for each name, lengths in mm.
    """
    if _current is LengthUnit.MM:
        return _in_mm(message), values
    template, lengths = _in_inches(message)
    return template, {**values, **{name: mm_to_inches(values[name]) for name in lengths}}


@cache
def _in_mm(message: str) -> str:
    return _LENGTH.sub(lambda m: f"{{{m['name']}:{m['sign']}{m['spec']}}}{_unit(m, 'mm')}", message)


@cache
def _in_inches(message: str) -> tuple[str, tuple[str, ...]]:
    names = tuple(m["name"] for m in _LENGTH.finditer(message))
    return _LENGTH.sub(lambda m: f"{{{m['name']}:{m['sign']}{_finer(m['spec'])}}}{_unit(m, 'in')}", message), names


def _finer(spec: str) -> str:
    return ".4g" if spec == "g" else f".{int(spec[1:-1]) + MORE_PLACES}f"


def _unit(match: re.Match[str], unit: str) -> str:
    return f" {unit}" if match["told"] == "mm" else ""
