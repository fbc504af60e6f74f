"""Names, places and sizes of sky targets, from an open catalogue that a package carries (OpenNGC, CC-BY-SA-4.0).

Loaded only when a name is looked up.
"""

import math
import re
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

from farrail.errors import BadInput
from farrail.train.train import Target

LEAST_ARCMIN = 0.1
# So many names are offered while one is typed, and so many neighbours drawn, the largest.
MOST_OFFERED, MOST_NEIGHBOURS = 12, 12
SIZED = "majax >= ? AND ra IS NOT NULL AND type NOT IN ('Dup', 'NonEx')"


@dataclass(frozen=True)
class Neighbour:
    """An object of the catalogue near a target, in the tangent plane about it, north up and east to the left.

    Attributes:
        name: what it is called.
        right_deg: how far to the right (west) its middle is.
        up_deg: how far up (north).
        width_arcmin: its long axis.
        height_arcmin: its short axis.
        turned_deg: its long axis against the width, anticlockwise.
    """

    name: str
    right_deg: float
    up_deg: float
    width_arcmin: float
    height_arcmin: float
    turned_deg: float


@lru_cache(maxsize=32)
def neighbours(right_ascension_deg: float, declination_deg: float, reach_deg: float) -> tuple[Neighbour, ...]:
    """Return what the catalogue has around a place of the sky, the largest first.

    Args:
        right_ascension_deg: the place (J2000).
        declination_deg: the same.
        reach_deg: how far around it, at most 10 degrees.
    """
    ra_0, dec_0 = math.radians(right_ascension_deg), math.radians(declination_deg)
    reach = math.radians(min(reach_deg, 10.0))
    rows = _rows(
        f"SELECT name, ra, dec, majax, minax, pa FROM objects WHERE {SIZED} AND dec BETWEEN ? AND ?",
        (LEAST_ARCMIN, dec_0 - reach, dec_0 + reach),
    )
    found = []
    for name, ra, dec, major, minor, angle in rows:
        ahead = math.sin(dec_0) * math.sin(dec) + math.cos(dec_0) * math.cos(dec) * math.cos(ra - ra_0)
        apart = math.acos(max(min(ahead, 1.0), -1.0))
        # What is at the place itself is the target.
        if math.radians(LEAST_ARCMIN / 60.0) < apart <= reach:
            right, up = _tangent(ra, dec, ra_0, dec_0)
            turned = 0.0 if angle is None else _angle(float(angle))
            found.append(Neighbour(_spaced(name), right, up, float(major), float(minor or major), turned))
    return tuple(sorted(found, key=lambda one: -one.width_arcmin)[:MOST_NEIGHBOURS])


def _tangent(ra: float, dec: float, ra_0: float, dec_0: float) -> tuple[float, float]:
    """Return a place of the sky in the tangent plane about another, degrees to the right and up.

    The standard coordinates of a plate (Meeus, Astronomical Algorithms, from memory).
    """
    ahead = math.sin(dec_0) * math.sin(dec) + math.cos(dec_0) * math.cos(dec) * math.cos(ra - ra_0)
    east = math.cos(dec) * math.sin(ra - ra_0) / ahead
    north = (math.cos(dec_0) * math.sin(dec) - math.sin(dec_0) * math.cos(dec) * math.cos(ra - ra_0)) / ahead
    return -math.degrees(east), math.degrees(north)


def names_like(text: str) -> tuple[str, ...]:
    """Return names of the catalogue that begin with a text, for a list under a field.

    Args:
        text: such as `NGC 70` or `M 4`; a common name by its beginning.
    """
    words = " ".join(text.split())
    if len(words) < 2:
        return ()
    names = _names()
    squeezed = _squeezed(words)
    return tuple(name for key, name in names if key.startswith(squeezed))[:MOST_OFFERED]


def _squeezed(text: str) -> str:
    """Return a name as it is compared: without spaces and zeros that only fill up, in one case."""
    return re.sub(r"(?<![0-9])0+(?=[0-9])", "", text.replace(" ", "")).casefold()


@lru_cache(maxsize=1)
def _names() -> tuple[tuple[str, str], ...]:
    """Return every name whose size is known, with what it is compared by, in the order of the catalogue's numbers."""
    rows = _rows(f"SELECT name, messier, commonnames FROM objects WHERE {SIZED}", (LEAST_ARCMIN,))
    names: dict[str, None] = {}
    for name, messier, common in rows:
        if messier:
            names[f"M {int(messier)}"] = None
        names[_spaced(name)] = None
        names.update(dict.fromkeys(part.strip() for part in (common or "").split(",") if part.strip()))
    return tuple((_squeezed(name), name) for name in sorted(names, key=_order))


def _named(words: str, number: str, messier: str | None) -> str:
    """Return what a target is called: by its Messier number if it was asked for by that."""
    return _spaced(messier) if messier and re.match(r"m\s*\d", words, re.IGNORECASE) else _spaced(number)


def _spaced(name: str) -> str:
    """Return a name of the catalogue as people write it: `NGC 224` for `NGC0224`."""
    return re.sub(r"^([A-Za-z]+)0*(?=\d)", r"\1 ", name)


def _rows(query: str, values: tuple[float, ...]) -> list[tuple[Any, ...]]:
    """Return rows of the catalogue; the package around it is not loaded for that, it takes a second."""
    import sqlite3
    from contextlib import closing
    from importlib.util import find_spec

    package = find_spec("pyongc")
    if package is None or package.origin is None:
        return []
    at = Path(package.origin).with_name("ongc.db").as_uri()
    with closing(sqlite3.connect(f"{at}?mode=ro", uri=True)) as catalogue:
        return catalogue.execute(query, values).fetchall()


def _order(name: str) -> tuple[str, int, str]:
    number = re.search(r"\d+", name)
    return name.split(" ")[0], int(number.group()) if number else 0, name


def look_up(name: str) -> Target:
    """Return a target of the catalogue by one of its names, such as `NGC 7000` or `M 31`.

    Raises:
        BadInput: the catalogue does not know it, or not how large it is.
    """
    words = " ".join(name.split())
    if not words:
        raise BadInput("Write the name of a target, such as NGC 7000, or its size, such as 40 x 30.")
    from pyongc import exceptions, ongc

    try:
        found = ongc.Dso(words.replace(" ", ""))
    except (exceptions.UnknownIdentifier, exceptions.ObjectNotFound):
        known = _by_common_name(words)
        if known:
            return look_up(known[0]).model_copy(update={"name": known[1]})
        raise BadInput(
            "The catalogue does not know “{words}”; write its size in minutes of arc, such as 40 x 30.",
            words=words[:30],
        ) from None
    major, minor, angle = found.dimensions
    if major is None or major < LEAST_ARCMIN:
        raise BadInput(
            "The catalogue does not say how large {words} is; write its size, such as 40 x 30.", words=words[:30]
        )
    return Target(
        name=_named(words, found.name, found.identifiers[0]),
        width_arcmin=float(major), height_arcmin=float(minor or major),
        turned_deg=_angle(float(angle)) if angle is not None else 0.0,
        right_ascension_deg=math.degrees(float(found.rad_coords[0])) % 360.0,
        declination_deg=math.degrees(float(found.rad_coords[1])),
    )  # fmt: skip


def _by_common_name(words: str) -> tuple[str, str] | None:
    """Return the number of an object by one of its common names, and that name; None where there is none."""
    rows = _rows(f"SELECT name, commonnames FROM objects WHERE {SIZED} AND commonnames != ''", (LEAST_ARCMIN,))
    for name, common in rows:
        for one in common.split(","):
            if one.strip().casefold() == words.casefold():
                return name, one.strip()
    return None


def _angle(position_angle_deg: float) -> float:
    """Return how far the long axis is turned from the picture's width, with north up and east to the left."""
    return (90.0 + position_angle_deg + 90.0) % 180.0 - 90.0


def parse_target(text: str) -> Target:
    """Read a target: a size in minutes of arc such as `40 x 30`, or a name of the catalogue.

    Raises:
        BadInput: it is neither.
    """
    sides = text.lower().replace("×", "x").replace("'", "").replace("′", "").split("x")
    try:
        numbers = [float(side.strip().replace(",", ".")) for side in sides]
    except ValueError:
        return look_up(text)
    if len(numbers) > 2 or not all(LEAST_ARCMIN <= n <= 10_000.0 for n in numbers):
        raise BadInput(
            "“{text}” is no size; write minutes of arc from 0.1 up, such as 40 x 30.", text=text.strip()[:30]
        )
    wide, high = numbers[0], numbers[-1]
    return Target(name=f"{wide:g}′ × {high:g}′", width_arcmin=wide, height_arcmin=high)
