"""How a connection is written, and what people write for one.

Tables write its name, its gender and its engagement in mm: `M42x0.75 external 4`. People write the same in other words:
`female M42 x 0,75`, `C mount internal`, `44 mm SLR bayonet internal`, `1.25 in nosepiece external`.
"""

import re
from collections.abc import Callable, Iterable

from pydantic import ValidationError

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.connections import (
    Bayonet,
    Connection,
    Gender,
    Nosepiece,
    NotKnown,
    OnlyFits,
    Plain,
    Standard,
    Thread,
)
from farrail.parts.registers import BAYONET_REGISTERS_MM
from farrail.parts.written import NUMBER, number, plain_text, read_written, shown
from farrail.units import MM_PER_INCH

_GENDERS = {
    "external": Gender.EXTERNAL, "male": Gender.EXTERNAL, "ext": Gender.EXTERNAL, "ext.": Gender.EXTERNAL,
    "internal": Gender.INTERNAL, "female": Gender.INTERNAL, "int": Gender.INTERNAL, "int.": Gender.INTERNAL,
    "außen": Gender.EXTERNAL, "aussen": Gender.EXTERNAL, "außengewinde": Gender.EXTERNAL, "ag": Gender.EXTERNAL,
    "innen": Gender.INTERNAL, "innengewinde": Gender.INTERNAL, "ig": Gender.INTERNAL,
}  # fmt: skip
_GENDER = "|".join(re.escape(word) for word in sorted(_GENDERS, key=len, reverse=True))
_ENDS = re.compile(
    rf"^(?:(?P<first>{_GENDER})\s+)?(?P<name>.*?)(?:,?\s+(?P<gender>{_GENDER}))?"
    rf"(?:,?\s+(?P<depth>{NUMBER})(?:\s*mm)?)?$",
    re.IGNORECASE,
)
_NOSEPIECE = re.compile(r"(?:nosepiece\s+(?P<after>.+?)|(?P<before>.+?)\s+nosepiece)(?P<screw>\s+by screw)?", re.I)
_ALONE = re.compile(r"M\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE)
# Ends known by a name: how they are called, and what they are.
NAMED: dict[str, Standard] = {
    "t mount": Thread(diameter_mm=42.0, pitch_mm=0.75),
    "c mount": Thread(diameter_mm=MM_PER_INCH, pitch_mm=round(MM_PER_INCH / 32.0, 5)),
    "cs mount": Thread(diameter_mm=MM_PER_INCH, pitch_mm=round(MM_PER_INCH / 32.0, 5)),
    **{name.casefold(): Bayonet(name=name, throat_mm=throat) for name, (_, throat) in BAYONET_REGISTERS_MM.items()},
}


def says_gender(text: str) -> bool:
    """Whether a text says external or internal, in no matter what words people have for it."""
    match = _ENDS.match(plain_text(text)[:200])
    return match is not None and bool(match["gender"] or match["first"])


def connection_cell(connection: Connection) -> str:
    """Return a connection as one cell of a table: the same in every language."""
    return _written(connection, connection.gender.value)


def connection_typed(connection: Connection) -> str:
    """Return a connection as it can be typed again, in the language in force."""
    return re.sub(r"(?<=\d)x(?=\d)", "×", _written(connection, say(connection.gender.value)))


def _written(connection: Connection, gender_word: str) -> str:
    gender = "" if connection.gender is Gender.NONE else f" {gender_word}"
    depth = "" if connection.engagement_mm is None else f" {connection.engagement_mm!r}"
    return f"{_standard_words(connection.standard)}{gender}{depth}"


def _standard_words(standard: Standard) -> str:
    if isinstance(standard, Thread):
        return f"M{standard.diameter_mm!r}x{standard.pitch_mm!r}"
    if isinstance(standard, Bayonet):
        mark = f", mark {standard.mark_deg!r}" if standard.mark_deg else ""
        return f"{standard.name} [throat {standard.throat_mm!r}{mark}]"
    if isinstance(standard, Nosepiece):
        return f"nosepiece {standard.diameter_mm!r} mm{' by screw' if standard.held_by == 'screw' else ''}"
    if isinstance(standard, Plain):
        return f"plain {standard.diameter_mm!r} mm"
    if isinstance(standard, NotKnown):
        return f"not known {standard.diameter_mm!r} mm"
    return f"fits only {standard.name} [{standard.diameter_mm!r}]"


def parse_connection(text: str, known: Iterable[Connection] = ()) -> Connection:
    """Read a connection as a person writes it: in the words of the tables, by a usual name, or as a label shows it.

    Args:
        text: what was written.
        known: connections whose labels are understood.

    Raises:
        BadInput: it is none; the sentence says what is missing.
    """
    words = plain_text(text).casefold().replace("×", "x")
    for one in known:
        if one.label.casefold().replace("×", "x") == words:
            return one.model_copy(update={"engagement_mm": None})
    match = _ENDS.match(plain_text(text))
    name = "" if match is None else match["name"].strip().casefold()
    for one in known:
        # "44 mm SLR bayonet internal" beside a lens that shows it: the other half of what is known.
        if match is not None and one.standard.label.casefold() == name and not isinstance(one.standard, Plain):
            gender = _GENDERS.get((match["gender"] or match["first"] or "").lower())
            if gender is not None:
                return Connection(standard=one.standard, gender=gender)
    return parse_connection_cell(text)


def parse_connections(text: str, known: Iterable[Connection] = ()) -> tuple[Connection, Connection]:
    """Read the front and the rear connection of a part: `M48x0.75 internal to M42x0.75 external`.

    Raises:
        BadInput: they are not two connections.
    """
    known = tuple(known)
    parts = re.split(r"\s+(?:to|auf)\s+|\s*(?:->|→|/)\s*", plain_text(text), maxsplit=1)
    if len(parts) != 2:
        raise BadInput(
            "“{shown}” names one end; write both, front first: M48x0.75 internal to M42x0.75 external.",
            shown=shown(text),
        )
    return parse_connection(parts[0], known), parse_connection(parts[1], known)


def parse_connection_cell(text: str) -> Connection:
    """Read a connection from one cell.

    Raises:
        BadInput: it is none.
    """
    plain = re.sub(r"(.*nosepiece.*?)\s+(\w+)\s+(by screw)$", r"\1 \3 \2", plain_text(text)[:200], flags=re.IGNORECASE)
    match = _ENDS.match(plain) if len(text) <= 200 else None
    if match is None:
        raise BadInput("“{shown}” is not a connection; write M42x0.75 external.", shown=shown(text))
    gender = _GENDERS.get((match["gender"] or match["first"] or "").lower(), Gender.NONE)
    name, depth_text = match["name"].strip(), match["depth"]
    unfinished = name.lower() in ("plain", "nosepiece", "not known") or name.endswith(("x", "X", "×"))
    if unfinished and depth_text:
        # `plain 50`, `M42 x 0.75`: the number is a size, and nothing is said of the engagement.
        name, depth_text = f"{name} {depth_text}", None
    try:
        standard = _standard(name, text)
        if gender is Gender.NONE and not isinstance(standard, Plain | NotKnown):
            raise BadInput("“{shown}” does not say whether it is external or internal.", shown=shown(text))
        depth = number(depth_text) if depth_text else None
        if isinstance(standard, NotKnown):
            gender, depth = Gender.NONE, None
        return Connection(standard=standard, gender=gender, engagement_mm=depth)
    except ValidationError:
        raise BadInput(
            "“{shown}” has a size no connection has; write M42x0.75 external 4.5.", shown=shown(text)
        ) from None


def _standard(name: str, text: str) -> Standard:
    if not name:
        raise BadInput("“{shown}” is not a connection; write M42x0.75 external.", shown=shown(text))
    if name.casefold() in ("not known", "unknown", "?"):
        return NotKnown()
    if name.casefold() in NAMED:
        return NAMED[name.casefold()]
    patterns: tuple[tuple[str, Callable[[re.Match[str]], Standard]], ...] = (
        (rf"M?\s*({NUMBER})\s*[x×]\s*({NUMBER})",
         lambda m: Thread(diameter_mm=number(m[1]), pitch_mm=number(m[2]))),
        (rf"plain\s+({NUMBER})(?:\s*mm)?", lambda m: Plain(diameter_mm=number(m[1]))),
        (rf"not known\s+({NUMBER})(?:\s*mm)?", lambda m: NotKnown(diameter_mm=number(m[1]))),
        (rf"fits only (.+?) \[({NUMBER})\]", lambda m: OnlyFits(name=m[1], diameter_mm=number(m[2]))),
        (rf"(.+?) \[throat ({NUMBER})(?:, mark ({NUMBER}))?\]",
         lambda m: Bayonet(name=m[1], throat_mm=number(m[2]), mark_deg=number(m[3]) if m[3] else 0.0)),
    )  # fmt: skip
    for pattern, make in patterns:
        match = re.fullmatch(pattern, name, re.IGNORECASE)
        if match:
            return make(match)
    nosepiece = _NOSEPIECE.fullmatch(name)
    if nosepiece:
        across = read_written(nosepiece["after"] or nosepiece["before"])
        return Nosepiece(diameter_mm=across.low, held_by="screw" if nosepiece["screw"] else "shoulder")
    alone = _ALONE.fullmatch(name)
    if alone:
        raise BadInput(
            "“{shown}” lacks its pitch; write M{alone}x0.75 external where it is 0.75 mm.",
            shown=shown(text),
            alone=alone[1],
        )
    raise BadInput("“{shown}” is not a connection; write M42x0.75 external.", shown=shown(text))
