"""Whether this machine has what the program needs, line by line, and what to do where it has not."""

import json
import os
import sys
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from farrail import __version__
from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.ui.platform_check import check_display

LEAST_PYTHON = (3, 11)
# PySide6 6.12 and later end the program while a window closes.
BELOW_QT = (6, 12)
NEEDED = ("PySide6-Essentials", "numpy", "pydantic", "typer", "platformdirs", "ortools", "contourpy")
# What single things need: without it they say so, and all else works.
WANTED = {
    "astropy": N_("frames as FITS"),
    "tifffile": N_("frames as TIFF"),
    "rawpy": N_("raw frames"),
    "sep": N_("stars and dust in frames"),
    "pillow": N_("frames as PNG or JPEG"),
    "PyOngc": N_("targets in the sky"),
    "ezdxf": N_("adapters as DXF"),
}


@dataclass(frozen=True)
class Check:
    """One thing looked at.

    Attributes:
        id: what it is, stable.
        well: whether it is as it should be.
        told: what was found.
        todo: what to do where it is not; "" where nothing need be done.
    """

    id: str
    well: bool
    told: str
    todo: str = ""


def checks() -> Iterator[Check]:
    """Return what was looked at."""
    yield Check("program", True, say("Far Rail {version__}", version__=__version__))
    python = ".".join(str(part) for part in sys.version_info[:3])
    old = sys.version_info[:2] < LEAST_PYTHON
    yield Check(
        "python", not old, say("Python {python}", python=python), say("install Python 3.11 or newer") if old else ""
    )
    for package in NEEDED:
        yield _package(package, "")
    for package, purpose in WANTED.items():
        yield _package(package, str(purpose))
    yield _qt()
    yield _display()
    yield _fonts()
    for name, folder in _folders():
        yield _folder(name, folder)


def _package(package: str, purpose: str) -> Check:
    try:
        return Check(f"package.{package}", True, f"{package} {version(package)}")
    except PackageNotFoundError:
        what = say(" ({purpose} cannot be read without it)", purpose=purpose) if purpose else ""
        return Check(
            f"package.{package}",
            False,
            say("{package} is missing{what}", package=package, what=what),
            say("install the pinned packages again"),
        )


def _qt() -> Check:
    try:
        told = version("PySide6-Essentials")
    except PackageNotFoundError:
        return Check("qt", False, say("Qt is missing"), say("install the pinned packages again"))
    newer = tuple(int(part) for part in told.split(".")[:2]) >= BELOW_QT
    return Check(
        "qt",
        not newer,
        say("Qt {version}", version=told),
        say("install the pinned packages: this Qt is too new") if newer else "",
    )


def _display() -> Check:
    try:
        check_display()
    except FarRailError as error:
        return Check("display", False, str(error), say("commands work without one; for the window do what it says"))
    shown = os.environ.get("QT_QPA_PLATFORM") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("DISPLAY") or "?"
    return Check("display", True, say("a window can open ({shown})", shown=shown))


def _fonts() -> Check:
    folder = Path(__file__).parent.parent / "assets" / "fonts"
    found = sorted(path.name for path in folder.glob("*.[ot]tf"))
    return Check(
        "fonts",
        len(found) >= 4,
        say("{count} fonts ship with it", count=len(found)),
        "" if found else say("install it again"),
    )


def _folders() -> Iterator[tuple[str, Path]]:
    from platformdirs import user_config_path, user_state_path

    yield "settings", user_config_path("far-rail")
    yield "recovery", user_state_path("far-rail")


def _folder(name: str, folder: Path) -> Check:
    """Try to write where the program keeps something."""
    there = folder
    while not there.exists() and there != there.parent:
        there = there.parent
    try:
        with tempfile.TemporaryFile(dir=there):
            return Check(f"folder.{name}", True, say("{folder} can be written", folder=folder))
    except OSError as error:
        return Check(
            f"folder.{name}",
            False,
            say("{folder} cannot be written ({strerror})", folder=folder, strerror=error.strerror),
            say("make {there} writable for you", there=there),
        )


def examine(*, as_json: bool, out: Callable[[str], object] = print) -> int:
    """Print what was looked at; exit code 1 where something is missing."""
    found = list(checks())
    if as_json:
        out(json.dumps({"version": 1, "checks": [asdict(one) for one in found]}, indent=2, ensure_ascii=False))
    else:
        for one in found:
            out(f"{'ok   ' if one.well else 'LOOK '} {one.told}{f' → {one.todo}' if one.todo else ''}")
    return 0 if all(one.well for one in found) else 1
