"""Manual, completion, and the program's place on the desktop."""

import os
import shutil
import sys
from pathlib import Path

import typer

from farrail.cli import manual
from farrail.cli.completion import NamesOf, Shell, script
from farrail.cli.described import described
from farrail.cli.printing import FINE
from farrail.desktop.installing import install, undo
from farrail.desktop.pieces import Piece, desktop_pieces, shell_pieces
from farrail.errors import BadInput
from farrail.language import say
from farrail.workbook.store import read_file


def print_manual(app: typer.Typer, of: str | None, folder: Path | None) -> int:
    """Print a page of the manual, or write every page into a folder; returns the exit code.

    Raises:
        BadInput: there is no such command.
    """
    pages = manual.pages(described(app))
    if folder is not None:
        folder.mkdir(parents=True, exist_ok=True)
        for name, page in pages.items():
            (folder / f"{name}.1").write_text(page, "utf-8")
        print(say("{count} pages written to {folder}.", count=len(pages), folder=folder))
        return FINE
    name = "-".join(("far-rail", *(of or "").split()))
    if name not in pages:
        raise BadInput("There is no command “{of}”; far-rail help lists them.", of=of)
    print(pages[name], end="")
    return FINE


def print_completion(app: typer.Typer, shell: Shell) -> int:
    """Print the script a shell completes from; returns the exit code."""
    print(script(shell, described(app)), end="")
    return FINE


def print_names(file: Path, of: NamesOf) -> int:
    """Print the names of a workbook's trains or parts, a line each; returns the exit code.

    Raises:
        FarRailError: the file cannot be read.
    """
    workbook = read_file(file).workbook
    for one in workbook.trains if of is NamesOf.TRAINS else workbook.shelf:
        print(one.name)
    return FINE


def pieces(app: typer.Typer, command: str, *, vendor: bool) -> list[Piece]:
    """Return everything a desktop is given.

    Args:
        app: the program.
        command: what starts it.
        vendor: for a package, not for one account.
    """
    program = described(app)
    completions = {shell.value: script(shell, program) for shell in Shell}
    return [*desktop_pieces(command), *shell_pieces(manual.pages(program), completions, vendor=vendor)]


def install_desktop(app: typer.Typer, *, take_away: bool, into: Path | None) -> int:
    """Put the program on the desktop, or take it away again; returns the exit code."""
    home = into or _data_home()
    if take_away:
        done = undo(home)
        for path in done.kept:
            print(say("{path} was changed since and stays.", path=path))
        print(
            say("{count} files removed.", count=len(done.files))
            if done.files
            else say("Nothing was installed in {home}.", home=home)
        )
        return FINE
    # A package's command is on every path.
    command = "far-rail" if into is not None else started_by()
    done = install(pieces(app, command, vendor=into is not None), home, index=into is None)
    print(
        say(
            "{count} files written under {home}: menu entry, icons, file type, manual and completion.",
            count=len(done.files),
            home=home,
        )
    )
    print(say("Remove them with: far-rail install-desktop --undo"))
    return FINE


def started_by() -> str:
    """Return what starts this program: the launcher of a checkout, or the command that was called.

    Raises:
        BadInput: it was started in another way, and no such command is available.
    """
    launcher = os.environ.get("FAR_RAIL_LAUNCHER", "")
    if launcher:
        return launcher
    called = Path(sys.argv[0]).absolute()
    beside = Path(sys.executable).with_name("far-rail")
    for path in (called, beside):
        if path.name == "far-rail" and path.is_file():
            return str(path)
    found = shutil.which("far-rail")
    if found is None:
        raise BadInput("A menu entry needs an installed far-rail command; install the program first.")
    return found


def _data_home() -> Path:
    from platformdirs import user_data_path

    return user_data_path()
