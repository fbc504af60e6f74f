"""The program: a subcommand of the command line, or the window."""

import contextlib
import os
import sys
from io import TextIOWrapper
from typing import TextIO

COMMANDS = (
    "readout",
    "plan",
    "need",
    "ask",
    "edit",
    "csv",
    "calc",
    "fixes",
    "rings",
    "steps",
    "sheet",
    "pack",
    "ring",
    "order",
    "log",
    "calibrate",
    "compare",
    "frame",
    "bench",
    "schema",
    "pages",
    "demo",
    "picture",
    "pictures",
    "doctor",
    "man",
    "completion",
    "names",
    "install-desktop",
)


def _meant(arguments: list[str]) -> list[str]:
    """Return what is to be run: `help` is no file, and a command written slightly wrong is shown.

    Raises:
        FarRailError: the first word is no command and no file, and near to a command.
    """
    first = arguments[0] if arguments else ""
    if first == "help":
        sys.argv[1:] = [*arguments[1:], "--help"]
        return sys.argv[1:]
    if not first or first in COMMANDS or first.startswith("-") or "." in first or "/" in first:
        return arguments
    from difflib import get_close_matches
    from pathlib import Path

    near = get_close_matches(first.casefold(), COMMANDS, 1, 0.6)
    if near and not Path(first).exists():
        from farrail.errors import FarRailError

        raise FarRailError(
            "There is no command “{first}”, and no file of that name; did you mean “{near}”?",
            first=first,
            near=near[0],
        )
    return arguments


def _there(file: str) -> None:
    """Refuse a file that is not there before a window is tried, which may have no display to open on.

    Raises:
        FarRailError: it is not there.
    """
    from pathlib import Path

    if file and file != "demo" and not file.startswith("-") and not Path(file).exists():
        from farrail.errors import FarRailError

        raise FarRailError("{name} is not there; check the name, or far-rail demo opens an example.", name=file)


# What is read by programs, or written into this project's own pages, is English no matter what the system speaks.
ENGLISH_ONLY = ("pages", "schema", "completion", "install-desktop", "pictures")


def _choose_speech(arguments: list[str]) -> None:
    """Speak the language kept, or the system's, and say lengths as chosen; what a script reads never changes."""
    from farrail import language, lengths

    command = next((one for one in arguments if not one.startswith("-")), "")
    if "--json" in arguments or "--csv" in arguments or command in (*ENGLISH_ONLY, "csv"):
        return
    language.choose(language.saved() or language.of_environment())
    lengths.choose(lengths.LengthUnit.INCH if "--inches" in arguments else lengths.saved())


def _write_what_can_be_written() -> None:
    """Show characters that cannot be encoded, as in file names that are not UTF-8, as question marks."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            stream.reconfigure(errors="replace")


def _let_go_of_output() -> None:
    """Discard output that cannot be written: the interpreter would try to flush it again at exit."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    for stream in (sys.stdout, sys.stderr):
        with contextlib.suppress(OSError, ValueError, AttributeError):
            if not _flushes(stream):
                os.dup2(nowhere, stream.fileno())


def _flushes(stream: TextIO) -> bool:
    try:
        stream.flush()
    except OSError:
        return False
    return True


def main() -> None:
    """Run the command line when a subcommand or option is named, otherwise open the window on a file."""
    _write_what_can_be_written()
    arguments = sys.argv[1:]
    _choose_speech(arguments)
    from farrail.errors import FarRailError

    try:
        arguments = _meant(arguments)
        # Opening the window is the fast path: the command line's parser is not even imported for it.
        first = arguments[0] if arguments else ""
        if arguments == ["demo"] or first == "--join" or not (first in COMMANDS or first.startswith("-")):
            if len(arguments) == 1:
                _there(first)
            from farrail.ui.start import run

            sys.exit(run(arguments))
        from farrail.cli.help_page import run as run_command
        from farrail.cli.program import app

        code = run_command(app, sys.argv[1:])
        # Flush here to report a full disk; errors at interpreter exit are only printed as warnings.
        sys.stdout.flush()
        sys.exit(code)
    except FarRailError as error:
        from farrail.cli.printing import refuse

        refuse(error)
    except BrokenPipeError:
        # The reader closed the pipe, as `head` does.
        _let_go_of_output()
        sys.exit(0)
    except OSError as error:
        from farrail.cli.printing import refuse

        _let_go_of_output()
        reason = error.strerror or str(error)
        refuse(FarRailError("The output cannot be written: {reason}; write it elsewhere.", reason=reason))
    except KeyboardInterrupt:
        sys.exit(130)
    except Exception as error:
        from farrail.cli.printing import own_trouble

        own_trouble(error)


if __name__ == "__main__":
    main()
