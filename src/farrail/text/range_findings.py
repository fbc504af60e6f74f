"""Sentences about what depends on values that are not known."""

from collections.abc import Callable

from farrail.language import begun_small, say
from farrail.parts.base import PartBase
from farrail.parts.fields import field_at
from farrail.text.names import loss_name
from farrail.text.values import Values, in_words, signed_length, unit_word

Told = tuple[str, str]


def field_label(kind: type[PartBase], path: tuple[str | int, ...]) -> str:
    """Return what a field of a kind is called, in small letters as it stands within a sentence."""
    names = [step for step in path if isinstance(step, str)]
    told = field_at(kind, ".".join(names)) or field_at(kind, names[0])
    label = names[-1].replace("_", " ") if told is None else told.label
    label = label.removeprefix("… ")
    return label if label[1:2].isupper() else begun_small(label)


def unknown_name(v: Values) -> str:
    """Return an unknown with whose it is."""
    return f"{v.part}: {field_label(v.kind, v.path)}"


def _turns(v: Values, unit: str) -> str:
    return (
        ""
        if v.flips_at is None
        else say(
            " It turns at {flips_at}, the other unknowns in their middle.",
            flips_at=" ".join(in_words(v.flips_at, unit)).strip(),
        )
    )


def _stops(what: str) -> Callable[[Values], Told]:
    def sentence(v: Values) -> Told:
        between = say("{low_stops:.2f} to {loss_name}", low_stops=v.low_stops, loss_name=loss_name(v.high_stops))
        if not v.turns:
            return (
                say("{what} loses {between}, as far as is known.", what=what, between=between),
                say("Most of that rests on {unknown_name}. Measure it first.", unknown_name=unknown_name(v)),
            )
        return (
            say(
                "Whether {what} stays free of vignetting depends on {unknown_name}: {between}.",
                what=begun_small(what),
                unknown_name=unknown_name(v),
                between=between,
            ),
            say("Nothing is good here before that is measured.{turns}", turns=_turns(v, "")),
        )

    return sentence


def _spacing(v: Values) -> Told:
    return (
        say(
            "Whether the sensor lands depends on {unknown_name}: {signed} to {signed_2} {unit}.",
            unknown_name=unknown_name(v),
            signed=signed_length(v.low_mm),
            signed_2=signed_length(v.high_mm),
            unit=unit_word("mm"),
        ),
        say("Measure that first.{turns}", turns=_turns(v, "")),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "light.depends": _stops(say("The corner")),
    "front.depends": _stops(say("The corner behind the front stack")),
    "spacing.depends": _spacing,
}
