"""Under which licence each package is that the program is made of, as the package itself says."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from importlib.metadata import Distribution, PackageNotFoundError, distribution

from farrail.language import N_, Message

# The packages the program asks for, as `pyproject.toml` has them.
PACKAGES = (
    "PySide6-Essentials", "numpy", "contourpy", "ortools", "pydantic", "typer", "platformdirs", "jinja2", "astropy",
    "tifffile", "sep", "rawpy", "pillow", "PyOngc", "ezdxf", "trimesh", "networkx", "lxml",
)  # fmt: skip
# What travels inside a package under a licence of its own.
INSIDE: dict[str, tuple[str, Message]] = {
    "rawpy": ("LibRaw", N_("reads raw files; LGPL-2.1 or CDDL-1.0, its text is beside it")),
    "PySide6_Essentials": ("Qt", N_("the windows; LGPL-3.0, its text is in Debian's common licences")),
}
# Packages whose own words are a whole text, or none: what that text is.
SAID = {"sep": "LGPL-3.0-or-later AND BSD-3-Clause AND MIT", "PyOngc": "MIT; data CC-BY-SA-4.0"}
LONGEST = 80


@dataclass(frozen=True)
class Licence:
    """A package with its licence.

    Attributes:
        package: its name.
        version: of it.
        licence: in a few words, such as `BSD-3-Clause`; "" where it does not say.
    """

    package: str
    version: str
    licence: str


def licences(packages: Iterable[str] = PACKAGES) -> Iterator[Licence]:
    """Yield what each installed package of some says of itself."""
    for name in packages:
        try:
            yield licence_of(distribution(name))
        except PackageNotFoundError:
            continue


def licence_of(found: Distribution) -> Licence:
    """Return what an installed package says of itself."""
    about = found.metadata
    name = str(about["Name"])
    classified = [
        line.rsplit("::", 1)[1].strip() for line in about.get_all("Classifier") or [] if line.startswith("License ::")
    ]
    written = [
        SAID.get(name, ""), *(about.get_all("License-Expression") or []),
        *(line.split("\n")[0] for line in about.get_all("License") or []), ", ".join(classified),
    ]  # fmt: skip
    said = next((one for one in written if one and len(one) <= LONGEST), "")
    return Licence(name, str(about["Version"]), said)
