"""The language of the program: messages with named values, translated when they are shown.

A message is its own id, in English. `assets/language/CODE/LC_MESSAGES/farrail.po` holds it in another language, with
the same names in braces and with plural forms; the standard library reads the compiled catalogue beside it. Text in
tables that are made while modules load is marked by `N_` and translated by `say` or `str` where it is shown, so that
the language can change in the running window.
"""

import gettext
import os
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from functools import cache, wraps
from pathlib import Path
from string import Formatter
from typing import Any, TypeVar

from farrail import user_settings
from farrail.lengths import prepared

ENGLISH = "en"
SAVED_AS = "language"
FOLDER = Path(__file__).parent / "assets" / "language"
DOMAIN = "farrail"
# Languages that part a number's decimals with a comma.
COMMA = frozenset({"de"})

Answer = TypeVar("Answer")

_current = ENGLISH
# The words of members of enumerations that were asked for in the language in force.
_words: dict[StrEnum, str] = {}
_catalogue: gettext.NullTranslations = gettext.NullTranslations()


@dataclass(frozen=True)
class Message:
    """A message without values, translated whenever it is turned into text.

    Attributes:
        id: the English text.
    """

    id: str

    def __str__(self) -> str:
        """The message in the language in force."""
        return _catalogue.gettext(self.id)


Text = str | Message


def N_(message: str) -> Message:  # noqa: N802 - the name that translators' tools look for
    """Mark a text for translation where it is shown: in tables made while modules load."""
    return Message(message)


class _Local(Formatter):
    """Writes numbers as the language does: 16,46 in German."""

    def format_field(self, value: Any, format_spec: str) -> str:
        text = format(value, format_spec)
        number = format_spec and isinstance(value, (int, float)) and not isinstance(value, bool)
        return local_number(text) if number else text


_local = _Local()


def languages() -> tuple[str, ...]:
    """Return the languages there are."""
    return (ENGLISH, *sorted(path.parents[1].name for path in FOLDER.glob(f"*/LC_MESSAGES/{DOMAIN}.mo")))


def current() -> str:
    """Return the language in force, such as `de`."""
    return _current


def choose(language: str) -> None:
    """Speak a language from now on; one there is no catalogue for is English.

    Args:
        language: such as `de`.
    """
    global _current, _catalogue  # one program, one language
    _words.clear()
    if language != ENGLISH and language in languages():
        _current, _catalogue = language, gettext.translation(DOMAIN, FOLDER, [language])
    else:
        _current, _catalogue = ENGLISH, gettext.NullTranslations()


def of_environment() -> str:
    """Return the language the system asks for (LC_ALL, LC_MESSAGES, LANG, in this order), as far as there is one."""
    for name in ("LC_ALL", "LC_MESSAGES", "LANG"):
        told = os.environ.get(name, "")
        if told:
            return told.split("_")[0].split(".")[0].casefold()
    return ENGLISH


def saved() -> str:
    """Return the language kept for the window; "" where the system's is followed."""
    told = user_settings.saved(SAVED_AS)
    return told if told in languages() else ""


def save(language: str) -> None:
    """Keep a language for the window's next starts; "" follows the system's.

    Raises:
        OSError: it cannot be kept.
    """
    user_settings.save(SAVED_AS, language)


def say(message: str | Message, /, **values: Any) -> str:
    """Return a message in the language in force, with its values put in.

    Args:
        message: the English text, with a name in braces for each value: `{gap:.2f mm} too short.`; how lengths
            are written there is shown in `farrail.lengths`.
        values: what stands for each name.
    """
    return _filled(_catalogue.gettext(message.id if isinstance(message, Message) else message), values)


def say_n(one: str, many: str, count: float, /, **values: Any) -> str:
    """Return one of two messages, by a count.

    Args:
        one: the message for exactly one.
        many: the message for none and for several.
        count: how many there are.
        values: what stands for each name.
    """
    # Plural rules count whole things; "1.5 stops" is read like many.
    whole = int(count) if count == int(count) else 2
    return _filled(_catalogue.ngettext(one, many, whole), values)


def joined(*sentences: str) -> str:
    """Return sentences one behind another; empty ones are left out."""
    return " ".join(filter(None, sentences))


def word(member: StrEnum) -> str:
    """Return the word of a member of an enumeration: measured, published.

    Args:
        member: such as `Origin.MEASURED`; a catalogue holds `measured` in the context `Origin`.
    """
    found = _words.get(member)
    if found is None:
        found = _words[member] = _catalogue.pgettext(type(member).__name__, member.value)
    return found


def cached_by_language(function: Callable[..., Answer]) -> Callable[..., Answer]:
    """Cache a function whose answers hold text: one answer for each language and arguments."""
    answers = cache(lambda _language, *arguments: function(*arguments))

    @wraps(function)
    def answer(*arguments: Any) -> Answer:
        return answers(_current, *arguments)

    return answer


def _filled(text: str, values: dict[str, Any]) -> str:
    if not values:
        return text
    text, values = prepared(text, values)
    for name, value in values.items():
        if isinstance(value, float) and value <= 0.0:
            values[name] = _Negative(value)
    if _current == ENGLISH:
        return text.format(**values)
    return _local.vformat(text, (), {name: _in_words(value) for name, value in values.items()})


class _Negative(float):
    """A number below zero as people write it: with a true minus, and without one where only zeros are left."""

    def __format__(self, format_spec: str) -> str:
        """Return the number in a format."""
        text = float.__format__(self, format_spec)
        return text.replace("-", "−" if any(digit in text for digit in "123456789∞i") else "")


def _in_words(value: Any) -> Any:
    return word(value) if isinstance(value, StrEnum) else value


def local_number(text: str) -> str:
    """Return a number that was written with a decimal point as the language writes it.

    Args:
        text: such as `16.46`.
    """
    return text.replace(".", ",") if _current in COMMA else text


def begun_large(text: str) -> str:
    """Return a text as a heading or a sentence begins.

    Args:
        text: such as `filter wheel`.
    """
    return f"{text[:1].upper()}{text[1:]}"


def begun_small(text: str) -> str:
    """Return a text that goes on inside a sentence: English begins it small; German nouns keep their capital.

    Args:
        text: such as `Flip part`.
    """
    return text if _current == "de" else f"{text[:1].lower()}{text[1:]}"


def names_in(message: str) -> frozenset[str]:
    """Return the names of the values in a message.

    Args:
        message: in any language.
    """
    return frozenset(name for _, name, _, _ in Formatter().parse(message) if name is not None)
