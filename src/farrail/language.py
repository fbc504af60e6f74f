"""The language a person is spoken to in: every sentence is a message with named values.

A message is its own id. A catalogue, `assets/language/de.json`, holds it in another language, with the same names in
braces; where two forms are needed for one and many, both are messages. Nothing here knows an interface: the window and
the command line choose the language before anything else is loaded, for titles and labels are made while modules load.
"""

import json
import os
from enum import StrEnum
from pathlib import Path
from string import Formatter
from typing import Any

from farrail import kept as _kept
from farrail.lengths import prepared

ENGLISH = "en"
KEPT_AS = "language"
FOLDER = Path(__file__).parent / "assets" / "language"
# Languages that part a number's decimals with a comma.
COMMA = frozenset({"de"})

_current = ENGLISH
_messages: dict[str, str] = {}


class _Local(Formatter):
    """Writes numbers as the language does: 16,46 in German."""

    def format_field(self, value: Any, format_spec: str) -> str:
        text = format(value, format_spec)
        number = format_spec and isinstance(value, (int, float)) and not isinstance(value, bool)
        return local_number(text) if number else text


_local = _Local()


def languages() -> tuple[str, ...]:
    """Return the languages there are."""
    return (ENGLISH, *sorted(path.stem for path in FOLDER.glob("*.json")))


def current() -> str:
    """Return the language in force, such as `de`."""
    return _current


def choose(language: str) -> None:
    """Speak a language from now on; one there is no catalogue for is English.

    Args:
        language: such as `de`.
    """
    global _current, _messages  # one program, one language
    catalogue = FOLDER / f"{language}.json"
    if language == ENGLISH or not catalogue.is_file():
        _current, _messages = ENGLISH, {}
    else:
        _current, _messages = language, json.loads(catalogue.read_text("utf-8"))


def of_environment() -> str:
    """Return the language the system asks for (LC_ALL, LC_MESSAGES, LANG, in this order), as far as there is one."""
    for name in ("LC_ALL", "LC_MESSAGES", "LANG"):
        told = os.environ.get(name, "")
        if told:
            return told.split("_")[0].split(".")[0].casefold()
    return ENGLISH


def kept() -> str:
    """Return the language kept for the window; "" where the system's is followed."""
    told = _kept.kept(KEPT_AS)
    return told if told in languages() else ""


def keep(language: str) -> None:
    """Keep a language for the window's next starts; "" follows the system's.

    Raises:
        OSError: it cannot be kept.
    """
    _kept.keep(KEPT_AS, language)


def say(message: str, /, **values: Any) -> str:
    """Return a message in the language in force, with its values put in.

    Args:
        message: the English text, with a name in braces for each value: `{gap:.2f mm} too short.`; how lengths
            are written there is told in `farrail.lengths`.
        values: what stands for each name.
    """
    told = _messages.get(message, message)
    if not values:
        return told
    told, values = prepared(told, values)
    if _messages:
        return _local.vformat(told, (), {name: _in_words(value) for name, value in values.items()})
    return told.format(**values)


def word(member: StrEnum) -> str:
    """Return the word of a member of an enumeration: measured, published.

    Args:
        member: such as `Origin.MEASURED`; a catalogue holds it as `Origin.measured`.
    """
    return _messages.get(f"{type(member).__name__}.{member.value}", member.value)


def _in_words(value: Any) -> Any:
    return word(value) if isinstance(value, StrEnum) else value


def say_n(one: str, many: str, count: float, /, **values: Any) -> str:
    """Return one of two messages, by a count.

    Args:
        one: the message for exactly one.
        many: the message for none and for several.
        count: how many there are.
        values: what stands for each name.
    """
    return say(one if count == 1 else many, **values)


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
