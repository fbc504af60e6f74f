"""What a desktop is given of the program, and where it looks for it.

The places are those of the XDG base directories, relative to one data folder: `~/.local/share` for one account,
`/usr/share` for a package. Desktop entry, AppStream metainfo and MIME type follow the specifications of the same names.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

from farrail import __version__

APP_ID = "org.farrail.FarRail"
# The day of this version, for the metainfo; with the version, it is in the change log too.
RELEASED = "2026-11-27"
ASSETS = Path(__file__).parent.parent / "assets"


@dataclass(frozen=True)
class Piece:
    """One file.

    Attributes:
        place: where it goes, relative to the data folder.
        data: what it holds.
    """

    place: str
    data: bytes


def quoted(argument: str) -> str:
    """Return one word as the Exec line of a desktop entry takes it (Desktop Entry Specification, “The Exec key”).

    Args:
        argument: a path, or a part of a command.
    """
    literal = argument.replace("%", "%%")
    if not any(sign in argument for sign in " \t\n\"'\\><~|&;$*?#()`"):
        return literal
    for sign in ("\\", '"', "`", "$"):
        literal = literal.replace(sign, f"\\{sign}")
    # The value itself is a string in which a backslash is written twice.
    return '"' + literal.replace("\\", "\\\\") + '"'


def desktop_pieces(command: str) -> Iterator[Piece]:
    """Return desktop entry, metainfo, icons and file type.

    Args:
        command: what starts the program: its name where it is on the path, else an absolute path.
    """
    entry = (ASSETS / "desktop" / f"{APP_ID}.desktop").read_text("utf-8")
    entry = entry.replace("Exec=far-rail", f"Exec={quoted(command)}")
    yield Piece(f"applications/{APP_ID}.desktop", entry.encode())
    info = (ASSETS / "desktop" / f"{APP_ID}.metainfo.xml").read_text("utf-8")
    info = info.replace("@VERSION@", __version__).replace("@DATE@", RELEASED)
    yield Piece(f"metainfo/{APP_ID}.metainfo.xml", info.encode())
    yield Piece(f"mime/packages/{APP_ID}.xml", (ASSETS / "desktop" / f"{APP_ID}.xml").read_bytes())
    icons = "icons/hicolor/scalable"
    yield Piece(f"{icons}/apps/{APP_ID}.svg", (ASSETS / "icons" / "far-rail.svg").read_bytes())
    name = "application-x-far-rail.svg"
    yield Piece(f"{icons}/mimetypes/{name}", (ASSETS / "icons" / name).read_bytes())


def shell_pieces(manual: Mapping[str, str], completions: Mapping[str, str], *, vendor: bool) -> Iterator[Piece]:
    """Return manual pages and completion scripts.

    Args:
        manual: each page by its name, such as `far-rail-plan`.
        completions: each script by its shell: bash, zsh, fish.
        vendor: into the places a package has, not those of one account.
    """
    for name, page in manual.items():
        yield Piece(f"man/man1/{name}.1", page.encode())
    zsh = "zsh/vendor-completions" if vendor else "zsh/site-functions"
    places = {
        "bash": "bash-completion/completions/far-rail",
        "zsh": f"{zsh}/_far-rail",
        "fish": "fish/vendor_completions.d/far-rail.fish",
    }
    for shell, script in completions.items():
        yield Piece(places[shell], script.encode())
