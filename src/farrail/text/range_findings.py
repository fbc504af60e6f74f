"""Sentences about what depends on values that are not known."""

from collections.abc import Callable

from farrail.parts.base import PartBase
from farrail.parts.fields import field_at
from farrail.text.names import loss_name
from farrail.text.values import Values, signed

Told = tuple[str, str]


def field_label(kind: type[PartBase], path: tuple[str | int, ...]) -> str:
    """Return what a field of a kind is called, in small letters as it stands within a sentence."""
    names = [step for step in path if isinstance(step, str)]
    told = field_at(kind, ".".join(names)) or field_at(kind, names[0])
    label = names[-1].replace("_", " ") if told is None else told.label
    label = label.removeprefix("… ")
    return label if label[1:2].isupper() else f"{label[:1].lower()}{label[1:]}"


def unknown_name(v: Values) -> str:
    """Return an unknown with whose it is."""
    return f"{v.part}: {field_label(v.kind, v.path)}"


def _turns(v: Values, unit: str) -> str:
    return "" if v.flips_at is None else f" It turns at {v.flips_at:.2f}{unit}, the other unknowns in their middle."


def _stops(what: str) -> Callable[[Values], Told]:
    def sentence(v: Values) -> Told:
        between = f"{v.low_stops:.2f} to {loss_name(v.high_stops)}"
        if not v.turns:
            return (
                f"{what} loses {between}, as far as is known.",
                f"Most of that rests on {unknown_name(v)}. Measure it first.",
            )
        return (
            f"Whether {what[:1].lower()}{what[1:]} stays free of vignetting depends on {unknown_name(v)}: {between}.",
            f"Nothing is good here before that is measured.{_turns(v, '')}",
        )

    return sentence


def _spacing(v: Values) -> Told:
    return (
        f"Whether the sensor lands depends on {unknown_name(v)}: {signed(v.low_mm)} to {signed(v.high_mm)} mm.",
        f"Measure that first.{_turns(v, '')}",
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "light.depends": _stops("The corner"),
    "front.depends": _stops("The corner behind the front stack"),
    "spacing.depends": _spacing,
}
