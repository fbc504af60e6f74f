"""Sentences about what depends on values that are not known."""

from collections.abc import Callable

from farrail.language import N_, Message, begun_small, say
from farrail.parts.base import PartBase
from farrail.parts.fields import PartField, field_at
from farrail.text.names import loss_name
from farrail.text.values import Values, in_words, signed_length, unit_word

Told = tuple[str, str]


def field_label(kind: type[PartBase], path: tuple[str | int, ...]) -> str:
    """Return what a field of a kind is called, in small letters as it stands within a sentence."""
    name, told = _field(kind, path)
    label = name.replace("_", " ") if told is None else told.label
    label = label.removeprefix("… ")
    return label if label[1:2].isupper() else begun_small(label)


def _field(kind: type[PartBase], path: tuple[str | int, ...]) -> tuple[str, PartField | None]:
    """Return a field's own name, and what it is of a kind; of an entry of a table the table."""
    names = [step for step in path if isinstance(step, str)]
    return names[-1], field_at(kind, ".".join(names)) or field_at(kind, names[0])


def unknown_name(v: Values) -> str:
    """Return an unknown with whose it is."""
    return f"{v.part}: {field_label(v.kind, v.path)}"


def _turns(v: Values) -> str:
    if v.flips_at is None:
        return ""
    name, told = _field(v.kind, v.path)
    # An entry of a table says its unit by its name, as every field does.
    unit = (told.unit if told is not None else "") or ("mm" if name.endswith("_mm") else "")
    at = " ".join(in_words(v.flips_at, unit)).strip()
    return say(" The verdict changes at {flips_at}, the others at their typical values.", flips_at=at)


def _stops(what: Message) -> Callable[[Values], Told]:
    def sentence(v: Values) -> Told:
        between = say("{low_stops:.2f} to {loss_name}", low_stops=v.low_stops, loss_name=loss_name(v.high_stops))
        if not v.turns:
            return (
                say("{what}: {between}, depending on what is not known.", what=what, between=between),
                say("Enter or measure first: {unknown_name}.", unknown_name=unknown_name(v)),
            )
        return (
            say(
                "Whether {what} stays free of vignetting depends on {unknown_name}: {between}.",
                what=begun_small(str(what)),
                unknown_name=unknown_name(v),
                between=between,
            ),
            say("Not judged until that is entered or measured.{turns}", turns=_turns(v)),
        )

    return sentence


def _spacing(v: Values) -> Told:
    return (
        say(
            "The spacing error depends on {unknown_name}: {signed} to {signed_2} {unit}.",
            unknown_name=unknown_name(v),
            signed=signed_length(v.low_mm),
            signed_2=signed_length(v.high_mm),
            unit=unit_word("mm"),
        ),
        say("Enter or measure it first.{turns}", turns=_turns(v)),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "light.depends": _stops(N_("The corner")),
    "front.depends": _stops(N_("The corner behind the front stack")),
    "spacing.depends": _spacing,
}
