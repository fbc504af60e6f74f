"""The program's command line in the process of the tests: what it prints and its exit code, without a start each time.

A program of its own is started where the start is what is tested, or the command opens an application of its own.
"""

import contextlib
import io
import os
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from unittest import mock

from farrail import language, lengths
from farrail.__main__ import COMMANDS, main

SOURCE = str(Path(__file__).parents[1] / "src")
# Commands that make an application of Qt's own, or look at the machine.
OWN_PROCESS = ("sheet", "picture", "pictures", "doctor", "install-desktop", "order", "ring")


@dataclass(frozen=True)
class Ran:
    """What a command came to."""

    returncode: int
    stdout: str
    stderr: str


def started(*words: str, text: str = "", **environment: str) -> Ran:
    """Run a command as a process of its own, without a display."""
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    told = subprocess.run(
        [sys.executable, "-m", "farrail", *words], input=text, capture_output=True, text=True,
        env={**env, "PYTHONPATH": SOURCE, **environment},
    )  # fmt: skip
    return Ran(told.returncode, told.stdout, told.stderr)


def far_rail(*words: str, text: str = "", **environment: str) -> Ran:
    """Run a command as from a terminal of English; what it chooses for its process is undone."""
    if environment or not set(words) & set(COMMANDS) or set(words) & set(OWN_PROCESS):
        return started(*words, text=text, **environment)
    spoken, unit, pipes = language.current(), lengths.current(), []
    for said in (text.encode(), b"", b""):
        pipes.append(io.TextIOWrapper(io.BytesIO(said), "utf-8", newline="", write_through=True))
    into, out, err = pipes
    code: object = 0
    with (
        mock.patch.object(sys, "argv", ["far-rail", *words]),
        mock.patch.object(sys, "stdin", into),
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
    ):
        try:
            main()
        except SystemExit as ended:
            code = ended.code
        finally:
            language.choose(spoken)
            lengths.choose(unit)
    told = [pipe.buffer.getvalue().decode() for pipe in (out, err) if isinstance(pipe.buffer, io.BytesIO)]
    return Ran(code if isinstance(code, int) else 0 if code is None else 1, *told)
