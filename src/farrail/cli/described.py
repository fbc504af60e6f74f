"""The command line described by itself: every command, argument and option, for manual and completion."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import EnumType
from inspect import cleandoc
from pathlib import Path
from typing import Any, get_args

import typer

from farrail.language import say


@dataclass(frozen=True)
class Word:
    """An argument or an option.

    Attributes:
        names: of an option what it is written as, longest last; of an argument its name in capitals.
        told: what it is for.
        value: what is behind an option, "" where nothing does; of an argument its name.
        choices: what it may be, where that is a list.
        is_path: whether it names a file or folder.
        wanted: whether it must be given.
        again: whether it may be given more than once.
        default: what holds where it is not given, "" for nothing.
    """

    names: tuple[str, ...]
    told: str
    value: str
    choices: tuple[str, ...] = ()
    is_path: bool = False
    wanted: bool = False
    again: bool = False
    default: str = ""

    @property
    def named(self) -> str:
        """What of a workbook it names: "trains" or "parts"; "" for neither."""
        word = self.names[-1].strip("-").lower()
        return {"train": "trains", "trains": "trains", "part": "parts", "camera": "parts"}.get(word, "")


@dataclass(frozen=True)
class Command:
    """A command.

    Attributes:
        words: how it is called, such as `("calc", "tilt")`; empty for the program itself.
        told: what it does.
        arguments: what is behind it, in order.
        options: what may be added.
        commands: those under it.
    """

    words: tuple[str, ...]
    told: str
    arguments: tuple[Word, ...]
    options: tuple[Word, ...]
    commands: tuple["Command", ...] = ()

    @property
    def brief(self) -> str:
        """The first sentence of what it does, without its full stop."""
        first = self.told.split("\n\n")[0].replace("\n", " ")
        return first.split("; ")[0].rstrip(".")

    def walk(self) -> Iterator["Command"]:
        """Return it and all under it."""
        yield self
        for command in self.commands:
            yield from command.walk()


def described(app: typer.Typer) -> Command:
    """Return the program's command line.

    Args:
        app: the program.
    """
    return _command(typer.main.get_command(app), ())


def _command(found: Any, words: tuple[str, ...]) -> Command:
    arguments: list[Word] = []
    options: list[Word] = []
    for one in found.params:
        if getattr(one, "hidden", False):
            continue
        (arguments if one.param_type_name == "argument" else options).append(_word(one))
    under = getattr(found, "commands", {})
    return Command(
        words,
        say(cleandoc(found.help)) if found.help else "",
        tuple(arguments),
        tuple(options),
        tuple(_command(under[name], (*words, name)) for name in under if not under[name].hidden),
    )


def _word(one: Any) -> Word:
    flag = bool(getattr(one, "is_flag", False))
    meant = one.type_descriptor.annotation
    # Of a list, or of what may be left out, what one of them is.
    meant = next((inner for inner in get_args(meant) if isinstance(inner, type)), meant)
    choices = tuple(str(meant[name].value) for name in meant.__members__) if isinstance(meant, EnumType) else ()
    metavar = "|".join(choices) if choices else str(one.name).upper()
    is_path = isinstance(meant, type) and issubclass(meant, Path)
    option = one.param_type_name == "option"
    names = tuple(sorted((*one.opts, *one.secondary_opts), key=len)) if option else (metavar,)
    again = bool(one.multiple) or one.nargs == -1
    default = "" if flag or callable(one.default) or one.default in (None, (), []) else f"{one.default}"
    told = say(one.help.strip()) if one.help else ""
    return Word(names, told, "" if flag else metavar, choices, is_path, bool(one.required), again, default)
