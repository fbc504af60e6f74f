"""The Debian package, built by one command: ./far-rail debian [--out FOLDER].

The package carries the pinned packages in a folder of its own, so that it needs nothing but Python and Qt's system
libraries. They are taken from the environment the command runs in, which the lock file has filled.
"""

import argparse
import fnmatch
import gzip
import platform
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from importlib.metadata import Distribution, PackageNotFoundError, distribution
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from farrail import __version__
from farrail.cli.citizen import pieces
from farrail.cli.program import app
from farrail.desktop.licences import INSIDE, licence_of

HOME = "usr/lib/far-rail"
# Of Qt only what a window of widgets needs travels; the rest is three quarters of it.
QT_LIBRARIES = (
    "libQt6Core.*", "libQt6Gui.*", "libQt6Widgets.*", "libQt6Svg.*", "libQt6Network.*", "libQt6DBus.*",
    "libQt6PrintSupport.*", "libQt6OpenGL.*", "libQt6XcbQpa.*", "libQt6Wayland*", "libQt6WlShell*", "libQt6EglFS*",
    "libicu*",
)  # fmt: skip
QT_MODULES = ("QtCore", "QtGui", "QtWidgets", "QtSvg", "QtNetwork", "QtDBus", "QtPrintSupport")
QT_PLUGINS = (
    "platforms", "platformthemes", "platforminputcontexts", "imageformats", "iconengines", "xcbglintegrations",
    "wayland-*", "printsupport", "tls", "networkinformation", "egldeviceintegrations",
)  # fmt: skip
QT_KEPT = (
    *(f"PySide6/{module}.abi3.so" for module in QT_MODULES),
    *(f"PySide6/Qt/lib/{library}" for library in QT_LIBRARIES),
    *(f"PySide6/Qt/plugins/{folder}/*" for folder in QT_PLUGINS),
    "PySide6/Qt/translations/qtbase_*", "PySide6/*.py", "PySide6/libpyside6.*", "PySide6/support/*",
)  # fmt: skip
# Programs and tests of the packages, and what only compilers read.
LEFT_OUT = ("*/tests/*", "*/test/*", "*.pyi", "*.h", "*.hpp", "*.pxd", "*.pyx", "*.lib", "../*", "*/include/*", "*.pyc")
# What is required by a package and loaded by nothing that travels: the solver is used through its compiled half alone
# (farrail/planning/solver.py), whose Python half would load a table library.
NEVER_LOADED = (
    "pandas",
    "dateutil",
    "python_dateutil",
    "tzdata",
    "absl",
    "absl_py",
    "immutabledict",
    "google",
    "protobuf",
)
SOLVER_KEPT = ("ortools/.libs/*", "ortools/__init__.py", "ortools/sat/*", "ortools/util/*")
LAUNCHER = """#!/bin/sh
PYTHONPATH=/{home} exec /usr/bin/python3 -P -m farrail "$@"
"""
CONTROL = """Package: far-rail
Version: {version}
Section: science
Priority: optional
Architecture: {architecture}
Maintainer: The Far Rail team <far-rail@localhost>
Installed-Size: {size}
Depends: {depends}
Recommends: fonts-dejavu-core, xdg-utils
Description: puts an optical train on one rail, to scale
 Far Rail puts the real parts of an optical train on one rail, to scale, and
 predicts before anything is bought or screwed together: does the sensor meet
 the required back focus, which part darkens which corner and by how much,
 how close and how large, what the light costs, in what order it goes together.
"""
COPYRIGHT = """Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: Far Rail

Files: *
Copyright: The Far Rail team
License: MIT

{packages}Comment: Each package has its licence's text in its folder that ends in .dist-info, the
 fonts have theirs beside them. The texts of LGPL-2.1, LGPL-3 and GPL-3, under which
 Qt, LibRaw and SEP are, are in /usr/share/common-licenses. Their shared libraries are
 files of their own, and may be replaced.

License: MIT
"""


def locked(lock: Path) -> list[Distribution]:
    """Return the distributions a lock file names, as far as this machine takes them.

    Args:
        lock: the lock file.
    """
    names = re.findall(r"^([A-Za-z0-9._-]+)==", lock.read_text("utf-8"), re.MULTILINE)
    return list(_present(names))


def _present(names: list[str]) -> Iterator[Distribution]:
    for name in names:
        try:
            yield distribution(name)
        except PackageNotFoundError:
            # One meant for another system or another Python.
            continue


def wanted(place: str) -> bool:
    """Whether a file of a package travels.

    Args:
        place: where it lies in the environment's library folder.
    """
    if any(fnmatch.fnmatch(place, pattern) for pattern in LEFT_OUT):
        return False
    top = place.split("/")[0]
    if top in NEVER_LOADED or any(fnmatch.fnmatch(top, f"{name}-*.dist-info") for name in NEVER_LOADED):
        return False
    if place.startswith("ortools/"):
        return any(fnmatch.fnmatch(place, pattern) for pattern in SOLVER_KEPT)
    return not place.startswith("PySide6/") or any(fnmatch.fnmatch(place, pattern) for pattern in QT_KEPT)


def qt_packages() -> list[str]:
    """Return the system's packages a window needs, as the launcher lists them."""
    launcher = (ROOT / "far-rail").read_text("utf-8")
    return sorted({match.group(1) for match in re.finditer(r"lib[\w.+-]+\.so\.\d+:(\S+?)['\s]", launcher)})


def fill(tree: Path) -> None:
    """Fill the tree a package unpacks.

    Args:
        tree: an empty folder that stands for /.
    """
    home = tree / HOME
    for package in locked(ROOT / "requirements.lock"):
        for file in package.files or ():
            if wanted(str(file)):
                _copy(Path(str(package.locate_file(file))), home / str(file))
    for path in sorted((ROOT / "src" / "farrail").rglob("*")):
        if path.is_file() and path.suffix != ".pyc":
            _copy(path, home / path.relative_to(ROOT / "src"))
    launcher = tree / "usr/bin/far-rail"
    launcher.parent.mkdir(parents=True)
    launcher.write_text(LAUNCHER.format(home=HOME))
    launcher.chmod(0o755)
    for piece in pieces(app, "far-rail", vendor=True):
        target = tree / "usr/share" / piece.place
        target.parent.mkdir(parents=True, exist_ok=True)
        if target.suffix == ".1":
            target.with_name(f"{target.name}.gz").write_bytes(gzip.compress(piece.data, 9, mtime=0))
        else:
            target.write_bytes(piece.data)
    papers = tree / "usr/share/doc/far-rail"
    papers.mkdir(parents=True)
    licence = (ROOT / "LICENSE").read_text("utf-8")
    told = "".join(f" {line or '.'}\n" for line in licence.splitlines())
    (papers / "copyright").write_text(COPYRIGHT.format(packages=_packages_said()) + told, "utf-8")
    (papers / "changelog.gz").write_bytes(gzip.compress((ROOT / "CHANGELOG.md").read_bytes(), 9, mtime=0))


def _packages_said() -> str:
    """Return a paragraph for each package: its files, and its licence as it says."""
    paragraphs = []
    for package in locked(ROOT / "requirements.lock"):
        one = licence_of(package)
        taken = [str(file) for file in package.files or () if wanted(str(file))]
        files = sorted({place.split("/")[0] + ("/*" if "/" in place else "") for place in taken})
        if files:
            inside = INSIDE.get(one.package)
            more = f"Comment: With {inside[0]}: {inside[1].id}.\n" if inside else ""
            listed = "\n ".join(f"{HOME}/{place}" for place in files)
            paragraphs.append(
                f"Files: {listed}\nCopyright: the authors of {one.package}\nLicense: {one.licence}\n{more}\n"
            )
    return "".join(paragraphs)


def _copy(source: Path, target: Path) -> None:
    if not source.is_file():
        return
    target.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy2(source, target)
    target.chmod(0o644)


def build(out: Path) -> Path:
    """Build the package.

    Args:
        out: the folder it is written into.

    Returns:
        The package.
    """
    architecture = subprocess.run(
        ["dpkg", "--print-architecture"], capture_output=True, text=True, check=True
    ).stdout.strip()
    out.mkdir(parents=True, exist_ok=True)
    package = out / f"far-rail_{__version__}_{architecture}.deb"
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder)
        tree.chmod(0o755)
        fill(tree)
        # Compiled here once, so that no start of an account that may not write there compiles anew.
        subprocess.run(
            [sys.executable, "-m", "compileall", "-q", "-j", "0", "-s", str(tree), "-p", "/", str(tree / HOME)],
            check=False, stdout=subprocess.DEVNULL,
        )  # fmt: skip
        size = sum(path.stat().st_size for path in tree.rglob("*") if path.is_file()) // 1024
        major, minor = sys.version_info[:2]
        depends = [f"python3 (>= {major}.{minor})", f"python3 (<< {major}.{minor + 1})", "libc6", *qt_packages()]
        (tree / "DEBIAN").mkdir()
        (tree / "DEBIAN" / "control").write_text(
            CONTROL.format(version=__version__, architecture=architecture, size=size, depends=", ".join(depends))
        )
        subprocess.run(
            ["dpkg-deb", "--root-owner-group", "-Zzstd", "-z9", "--build", str(tree), str(package)],
            check=True, stdout=subprocess.DEVNULL,
        )  # fmt: skip
    return package


def main() -> int:
    """Build the package where the arguments say."""
    parser = argparse.ArgumentParser(description="Builds the Debian package.")
    parser.add_argument("--out", type=Path, default=ROOT / "dist", help="the folder it is written into")
    out = parser.parse_args().out
    if shutil.which("dpkg-deb") is None:
        print(f"far-rail: dpkg-deb is missing on this {platform.system()}; on Debian: sudo apt-get install dpkg")
        return 2
    package = build(out)
    print(f"{package} ({package.stat().st_size / 1e6:.0f} MB); install it with: sudo apt install {package}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
