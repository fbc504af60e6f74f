"""The program's place on a desktop: entry, metainfo, file type, manual and completion, checked by their own tools."""

import json
import os
import re
import shutil
import subprocess
import sys
import tomllib
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication, QLabel

from farrail.cli.citizen import pieces
from farrail.cli.completion import Shell, script
from farrail.cli.described import described
from farrail.cli.program import app
from farrail.demo.hallan_skerry import demo_workbook
from farrail.desktop.installing import RECEIPT, install, undo
from farrail.desktop.licences import PACKAGES, licences
from farrail.desktop.pieces import APP_ID, Piece, quoted
from farrail.errors import StoreError
from farrail.ui.sheets import show_about
from farrail.ui.window import MainWindow
from farrail.workbook.edits.trains import RenameTrain
from farrail.workbook.store import write_file

ROOT = Path(__file__).parents[2]


def tool(name: str, *words: str) -> subprocess.CompletedProcess[str]:
    if shutil.which(name) is None:
        pytest.skip(f"{name} is not at hand")
    return subprocess.run([name, *words], capture_output=True, text=True)


@pytest.fixture(scope="module")
def home(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with everything in place."""
    folder = tmp_path_factory.mktemp("share")
    install(pieces(app, "/opt/my tools/far-rail", vendor=False), folder, index=False)
    return folder


def test_the_entry_is_valid_and_starts_what_was_installed(home: Path) -> None:
    path = home / "applications" / f"{APP_ID}.desktop"
    lines = path.read_text("utf-8").splitlines()
    assert 'Exec="/opt/my tools/far-rail" --join %f' in lines
    assert "MimeType=application/x-far-rail+json;" in lines
    told = tool("desktop-file-validate", str(path))
    assert told.returncode == 0, told.stdout
    assert told.stdout == ""


def test_the_metainfo_is_valid(home: Path) -> None:
    told = tool("appstreamcli", "validate", "--no-net", str(home / "metainfo" / f"{APP_ID}.metainfo.xml"))
    assert told.returncode == 0, told.stdout + told.stderr


def test_a_workbook_is_known_by_its_name(home: Path) -> None:
    """The desktop's own index knows the kind of a name that ends so, and of another JSON file not."""
    told = tool("update-mime-database", str(home / "mime"))
    assert told.returncode == 0, told.stderr
    index = (home / "mime" / "globs2").read_text("utf-8")
    assert "80:application/x-far-rail+json:*.farrail.json" in index
    assert "application/json" in (home / "mime" / "subclasses").read_text("utf-8")


def test_every_page_of_the_manual_is_sound_roff(home: Path) -> None:
    pages = sorted((home / "man" / "man1").iterdir())
    names = {page.name for page in pages}
    assert {"far-rail.1", "far-rail-plan.1", "far-rail-calc-tilt.1"} <= names
    for page in pages:
        told = tool("groff", "-man", "-ww", "-K", "utf8", "-T", "utf8", str(page))
        assert told.returncode == 0, page.name
        assert told.stderr == "", page.name
        assert "Far Rail" in told.stdout


def test_completion_is_valid_and_completes(tmp_path: Path) -> None:
    program = described(app)
    for shell in Shell:
        text = script(shell, program)
        path = tmp_path / shell.value
        path.write_text(text, "utf-8")
        if shutil.which(shell.value):
            assert subprocess.run([shell.value, "-n", str(path)], capture_output=True).returncode == 0, shell
        for command in program.commands:
            assert command.words[0] in text
    ask = (
        f'. {tmp_path / "bash"}; try() {{ COMP_WORDS=("$@"); COMP_CWORD=$(($#-1)); COMPREPLY=(); _far_rail; '
        'echo "${COMPREPLY[*]}"; }; try far-rail pla; try far-rail plan x --aim l; try far-rail calc ti; '
        "try far-rail calc tilt --fl; try far-rail frame st; try far-rail plan bas"
    )
    told = subprocess.run(["bash", "-c", ask], capture_output=True, text=True, cwd=tmp_path)
    assert told.stderr == ""
    assert told.stdout.split("\n")[:6] == ["plan", "lowest", "tilt", "--flange", "stars", "bash"]
    if shutil.which("fish"):
        wish = f"source {tmp_path / 'fish'}; complete -C 'far-rail plan x --aim low'"
        assert "lowest" in subprocess.run(["fish", "-c", wish], capture_output=True, text=True).stdout


def test_names_of_the_file_on_the_line_are_completed_and_never_run(tmp_path: Path) -> None:
    """bash, with the program standing on the path; a train whose name would be a command stays a name."""
    book = tmp_path / "my gear.farrail.json"
    workbook = demo_workbook()
    bad = RenameTrain("lichen", "$(touch /tmp/x) `id`").apply(workbook)
    write_file(book, bad)
    (tmp_path / "bash").write_text(script(Shell.BASH, described(app)), "utf-8")
    program = tmp_path / "far-rail"
    program.write_text(f'#!/bin/sh\nexec {sys.executable} -m farrail "$@"\n')
    program.chmod(0o755)
    ask = (
        f'. {tmp_path / "bash"}; try() {{ COMP_WORDS=("$@"); COMP_CWORD=$(($#-1)); COMPREPLY=(); _far_rail; '
        'printf "%s\\n" "${COMPREPLY[@]}" --; }; '
        f"try {program} plan '{str(book).replace(' ', chr(92) + ' ')}' --train Lan; "
        f"try {program} plan '{str(book).replace(' ', chr(92) + ' ')}' --train '$'; "
        f"try {program} plan none.farrail.json --train L"
    )
    told = subprocess.run(["bash", "-c", ask], capture_output=True, text=True, cwd=tmp_path)
    assert told.stderr == ""
    lantern, odd, nothing, _ = told.stdout.split("--\n")
    wanted = [train.name for train in workbook.trains if train.name.startswith("Lan")]
    assert [line.replace("\\", "") for line in lantern.splitlines()] == wanted
    assert odd.replace("\\", "").strip() == "$(touch /tmp/x) `id`"
    assert nothing.strip() == ""
    if shutil.which("fish"):
        plain = tmp_path / "gear.farrail.json"
        write_file(plain, bad)
        (tmp_path / "fish").write_text(script(Shell.FISH, described(app)), "utf-8")
        source = f"set PATH {tmp_path} $PATH; source {tmp_path / 'fish'}"
        wish = f"{source}; complete -C 'far-rail plan {plain} --train Tern'"
        assert "Tern" in subprocess.run(["fish", "-c", wish], capture_output=True, text=True).stdout


@pytest.mark.parametrize(
    ("path", "written"),
    [
        ("/opt/far-rail", "/opt/far-rail"),
        ("/home/an a/far-rail", '"/home/an a/far-rail"'),
        # Desktop Entry Specification: in quotes a dollar takes a backslash, and in a string a backslash is two.
        ("/a$b/c", '"/a\\\\$b/c"'),
        ("/50%/x", "/50%%/x"),
    ],
)
def test_paths_are_quoted_as_the_specification_says(path: str, written: str) -> None:
    assert quoted(path) == written


def test_undo_takes_away_what_was_put_there_and_nothing_else(tmp_path: Path) -> None:
    theirs = tmp_path / "applications" / "other.desktop"
    theirs.parent.mkdir()
    theirs.write_text("theirs")
    done = install(pieces(app, "far-rail", vendor=False), tmp_path, index=False)
    install(pieces(app, "far-rail", vendor=False), tmp_path, index=False)
    changed = tmp_path / "man" / "man1" / "far-rail.1"
    changed.write_text("mine now")
    gone = undo(tmp_path, index=False)
    assert len(gone.files) == len(done.files) - 1
    assert gone.kept == (changed,)
    left = sorted(path for path in tmp_path.rglob("*") if path.is_file())
    assert left == sorted([theirs, changed])
    assert undo(tmp_path, index=False).files == ()


def test_a_spoilt_receipt_takes_nothing_from_elsewhere(tmp_path: Path) -> None:
    outside = tmp_path / "outside"
    outside.write_text("keep")
    home = tmp_path / "share"
    receipt = home / RECEIPT
    for text in ("no json", "[1]", json.dumps({"../outside": "x", str(outside): "x"})):
        receipt.parent.mkdir(parents=True, exist_ok=True)
        receipt.write_text(text)
        assert undo(home, index=False).files == ()
        assert outside.read_text() == "keep"


def test_a_folder_that_cannot_be_written_is_one_sentence(tmp_path: Path) -> None:
    (tmp_path / "applications").write_text("a file where a folder should be")
    with pytest.raises(StoreError, match="cannot be written"):
        install([Piece("applications/x.desktop", b"x")], tmp_path, index=False)


def test_the_command_installs_and_undoes(tmp_path: Path) -> None:
    environment = {**os.environ, "XDG_DATA_HOME": str(tmp_path), "FAR_RAIL_LAUNCHER": "/opt/far-rail/far-rail"}
    command = [sys.executable, "-m", "farrail", "install-desktop"]
    told = subprocess.run(command, capture_output=True, text=True, env=environment)
    assert told.returncode == 0, told.stderr
    assert "--undo" in told.stdout
    assert (tmp_path / "applications" / f"{APP_ID}.desktop").exists()
    told = subprocess.run([*command, "--undo"], capture_output=True, text=True, env=environment)
    assert "files removed" in told.stdout
    assert not (tmp_path / "applications" / f"{APP_ID}.desktop").exists()


def test_the_manual_of_an_unknown_command_is_one_sentence() -> None:
    told = subprocess.run([sys.executable, "-m", "farrail", "man", "plam"], capture_output=True, text=True)
    assert told.returncode == 2
    assert told.stderr.count("\n") == 1


def test_every_package_the_program_asks_for_has_its_licence_said() -> None:
    wanted = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]["dependencies"]
    names = {re.split(r"[ <>=!~;]", one, maxsplit=1)[0] for one in wanted}
    assert names == set(PACKAGES)
    said = {one.package.lower().replace("_", "-"): one.licence for one in licences()}
    assert set(said) == {name.lower() for name in names}
    assert all(said.values())
    # Published by their authors: Qt for Python and SEP under the LGPL, NumPy and Astropy under the BSD licence.
    assert "LGPL-3.0" in said["pyside6-essentials"]
    assert "LGPL-3.0" in said["sep"]
    assert said["numpy"].startswith("BSD-3-Clause")
    assert said["astropy"] == "BSD-3-Clause"


def test_about_names_what_travels_inside_the_packages(make_window: Callable[..., MainWindow]) -> None:
    window = make_window()
    show_about(window)
    (sheet,) = [one for one in QApplication.topLevelWidgets() if one.objectName() == "about_sheet" and one.isVisible()]
    text = " ".join(label.text() for label in sheet.findChildren(QLabel))
    assert "LibRaw" in text
    assert "LGPL-2.1 or CDDL-1.0" in text
    assert "ezdxf" in text
    sheet.close()
