"""Completion scripts for bash, zsh and fish, made from the command line itself; for names of a workbook they ask it."""

import shlex
from enum import StrEnum
from pathlib import Path

from farrail.cli.described import Command

TEMPLATES = Path(__file__).parent.parent / "assets" / "completion"


class Shell(StrEnum):
    """A shell that completes."""

    BASH = "bash"
    ZSH = "zsh"
    FISH = "fish"


class NamesOf(StrEnum):
    """What of a workbook a shell completes."""

    TRAINS = "trains"
    PARTS = "parts"


def script(shell: Shell, program: Command) -> str:
    """Return what a shell reads to complete the program's words.

    Args:
        shell: which.
        program: the command line.
    """
    from jinja2 import Environment, FileSystemLoader, StrictUndefined

    # Nothing here is a page: words are quoted for the shell that reads them.
    made = Environment(loader=FileSystemLoader(TEMPLATES), undefined=StrictUndefined, autoescape=False)
    made.filters |= {"sh": _for_sh, "fish": _for_fish, "spec": _in_a_spec}
    commands = list(program.walk())
    return made.get_template(f"{shell.value}.j2").render(
        program=program, commands=commands, groups=[one for one in commands if one.words and one.commands]
    )


def _for_sh(text: str) -> str:
    return shlex.quote(text) if text else '""'


def _for_fish(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace("'", "\\'")
    return f"'{escaped}'"


def _in_a_spec(text: str) -> str:
    """Return text that is inside a zsh specification: its colons and brackets mean themselves."""
    flat = " ".join(text.split())
    for sign in "\\:[]":
        flat = flat.replace(sign, f"\\{sign}")
    return flat
