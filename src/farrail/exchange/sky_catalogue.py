"""Names and sizes of sky targets, from an open catalogue that a package carries (OpenNGC, CC-BY-SA-4.0).

Loaded only when a name is looked up.
"""

from farrail.errors import BadInput
from farrail.train.train import Target

LEAST_ARCMIN = 0.1


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
        name=found.name, width_arcmin=float(major), height_arcmin=float(minor or major),
        turned_deg=_angle(float(angle)) if angle is not None else 0.0,
    )  # fmt: skip


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
