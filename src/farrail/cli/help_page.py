"""What `--help` prints, and what a command line that cannot be parsed is answered with, in the language in force."""

import shutil
import sys
import textwrap
from collections.abc import Iterator, Sequence

import typer

from farrail import __version__
from farrail.cli.described import Command, Word, described
from farrail.errors import BadInput
from farrail.language import N_, say

HELP, VERSION = ("--help", "-h"), ("--version", "-V")
# Commands by what they are for, in the order of the work.
TASKS = (
    (N_("Predict"), ("readout", "picture", "compare", "calc")),
    (N_("Plan and buy"), ("plan", "need", "fixes", "rings", "ask", "ring", "order")),
    (N_("Put together"), ("steps", "sheet", "pack")),
    (N_("Observe and calibrate"), ("log", "calibrate", "frame", "bench")),
    (N_("Workbooks and tables"), ("demo", "edit", "csv", "schema")),
    (N_("This machine"), ("doctor", "install-desktop", "completion", "man")),
    (N_("For developers"), ("pages", "pictures")),
)
# Wide enough to read, narrow enough for half a screen.
WIDEST, NARROWEST, INDENT = 96, 48, 2


def run(app: typer.Typer, arguments: Sequence[str]) -> int:
    """Run the command line; returns the exit code.

    Args:
        app: the program.
        arguments: what was written behind its name.

    Raises:
        BadInput: the words cannot be parsed.
    """
    plain = list(arguments)[: arguments.index("--")] if "--" in arguments else list(arguments)
    wants_help = any(word in HELP for word in plain)
    command = typer.main.get_command(app)
    called = _called(described(app), plain)
    if wants_help or (called.commands and _only_group(called, plain)):
        print(page(called))
        return 0
    if len(plain) == 1 and plain[0] in VERSION:
        # Answered before the library that parses arguments loads what checks their types.
        print(say("Far Rail {version__}", version__=__version__))
        return 0
    first = next((word for word in plain[len(called.words) :] if not word.startswith("-")), "")
    if called.commands and called.words and first:
        call = " ".join(("far-rail", *called.words))
        raise BadInput("{call} has no command {word}; {call} --help lists them.", call=call, word=first)
    try:
        result = command.main(list(arguments), prog_name="far-rail", standalone_mode=False)
    except typer.exceptions.TyperException as error:
        raise _refusal(error, called) from error
    except SystemExit as end:
        # Typer answers a closed pipe by wrapping the output and ending with 1; for `head` that is no failure.
        if "PacifyFlushWrapper" in type(sys.stdout).__name__:
            raise BrokenPipeError from end
        raise
    return result if isinstance(result, int) else 0


def page(command: Command) -> str:
    """Return the help of a command as text as wide as the terminal."""
    wide = max(NARROWEST, min(WIDEST, shutil.get_terminal_size().columns))
    lines = [say("Usage: {call}", call=" ".join(_call(command))), ""]
    for paragraph in command.told.split("\n\n"):
        lines += [*textwrap.wrap(" ".join(paragraph.split()), wide), ""]
    named = {one.words[-1]: (one.words[-1], f"{one.brief}.") for one in command.commands}
    groups = TASKS if not command.words else ((N_("Commands"), tuple(named)),)
    for title, rows in (
        (say("Arguments"), [_row(word) for word in command.arguments]),
        (say("Options"), [*(_row(word) for word in command.options), (", ".join(HELP), say("Print this help."))]),
        *((say(task), [named[name] for name in names if name in named]) for task, names in groups),
    ):
        if rows:
            lines += [f"{title}:", *_table(rows, wide), ""]
    return "\n".join(lines).rstrip()


def _called(command: Command, arguments: list[str]) -> Command:
    """Return the command that is called, as far as the words name one."""
    for word in arguments:
        under = {one.words[-1]: one for one in command.commands}
        if word in under:
            command = under[word]
        elif not word.startswith("-"):
            break
    return command


def _only_group(called: Command, arguments: list[str]) -> bool:
    """Whether a group of commands is called by its name alone."""
    return list(called.words) == arguments


def _call(command: Command) -> Iterator[str]:
    yield from ("far-rail", *command.words)
    if command.commands:
        yield say("COMMAND")
    yield from (word.names[0] if word.wanted else f"[{word.names[0]}]" for word in command.arguments)
    needed = [word for word in command.options if word.wanted]
    yield from (f"{word.names[-1]} {word.value}".strip() for word in needed)
    if len(needed) < len(command.options):
        yield say("[OPTIONS]")


def _row(word: Word) -> tuple[str, str]:
    option = word.names[0].startswith("-")
    name = ", ".join(word.names) + (f" {word.value}" if option and word.value else "")
    notes = [say("must be given")] if word.wanted else []
    notes += [say("may be repeated")] if word.again else []
    notes += [say("otherwise {default}", default=word.default)] if word.default else []
    return name, f"{word.told} ({', '.join(notes)})" if notes else word.told


def _table(rows: list[tuple[str, str]], wide: int) -> Iterator[str]:
    left = min(max(len(name) for name, _ in rows), wide // 3)
    for name, text in rows:
        wrapped = textwrap.wrap(text, wide - left - 2 * INDENT) or [""]
        if len(name) > left:
            yield f"{'':{INDENT}}{name}"
            name = ""
        yield f"{'':{INDENT}}{name:<{left}}{'':{INDENT}}{wrapped[0]}".rstrip()
        yield from (f"{'':{left + 2 * INDENT}}{line}" for line in wrapped[1:])


def _refusal(error: typer.exceptions.TyperException, called: Command) -> BadInput:
    """Return in one sentence why words cannot be parsed, and where help is."""
    call = " ".join(("far-rail", *called.words))
    option = getattr(error, "option_name", "")
    if option and hasattr(error, "possibilities"):
        return BadInput("{call} has no option {option}; {call} --help lists them.", call=call, option=option)
    if option:
        return BadInput("{option} needs a value behind it; {call} --help shows which.", call=call, option=option)
    param = getattr(error, "param", None)
    if param is None:
        return BadInput("{call}: a word is missing or too many; {call} --help shows how it is written.", call=call)
    word = _word_of(param, called)
    if hasattr(error, "param_type"):
        return BadInput("{call} needs {name}; {call} --help shows how it is written.", call=call, name=word.names[-1])
    if word.choices:
        listed = ", ".join(word.choices)
        return BadInput("{name} is none of {listed}; write one of them.", name=word.names[-1], listed=listed)
    return BadInput("{name} has a value that cannot be; {call} --help shows which can.", name=word.names[-1], call=call)


def _word_of(param: object, called: Command) -> Word:
    opts = set(getattr(param, "opts", ()))
    words = (*called.arguments, *called.options)
    return next(word for word in words if opts & set(word.names) or word.names[0].lower() in opts)
