"""Output of the command line: no file is replaced without --force, and output errors are one sentence."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from tests.command_line import SOURCE, far_rail

from farrail.demo.hallan_skerry import demo_workbook
from farrail.workbook.store import read_file, write_file

ENVIRONMENT = {**os.environ, "PYTHONPATH": SOURCE}
START = [sys.executable, "-m", "farrail"]
READOUT = ("readout", "demo.farrail.json", "--train", "witch-broom")


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    write_file(tmp_path / "demo.farrail.json", demo_workbook())
    monkeypatch.chdir(tmp_path)
    return tmp_path


@pytest.mark.parametrize(
    "words",
    [
        ("csv", "demo.farrail.json", "shelf", "--out", "demo.farrail.json"),
        ("bench", "flat", "demo.farrail.json", "demo.farrail.json", "--train", "witch-broom", "--columns", "100"),
    ],
)
def test_no_export_takes_the_place_of_a_workbook(folder: Path, words: tuple[str, ...]) -> None:
    unasked = far_rail(*words)
    assert unasked.returncode == 2
    assert "give --force to replace it" in unasked.stderr
    forced = far_rail(*words, "--force")
    assert forced.returncode == 2
    assert "holds a workbook, which would be lost" in forced.stderr
    assert read_file(folder / "demo.farrail.json").workbook == demo_workbook()


def test_a_file_of_the_same_kind_is_replaced_with_force_alone(folder: Path) -> None:
    words = ("csv", "demo.farrail.json", "shelf", "--out", "shelf.csv")
    assert far_rail(*words).returncode == 0
    written = (folder / "shelf.csv").read_text()
    (folder / "shelf.csv").write_text("mine\n")
    assert far_rail(*words).returncode == 2
    assert (folder / "shelf.csv").read_text() == "mine\n"
    assert far_rail(*words, "--force").returncode == 0
    assert (folder / "shelf.csv").read_text() == written


def test_a_full_disk_is_told_in_a_sentence(folder: Path) -> None:
    with open("/dev/full", "w") as full:
        told = subprocess.run([*START, *READOUT], env=ENVIRONMENT, stdout=full, stderr=subprocess.PIPE, text=True)
    assert told.returncode == 2
    assert told.stderr == "far-rail: The output cannot be written: No space left on device; write it elsewhere.\n"


def test_a_reader_that_has_seen_enough_is_no_failure(folder: Path) -> None:
    reading, writing = os.pipe()
    os.close(reading)
    told = subprocess.run([*START, *READOUT], env=ENVIRONMENT, stdout=writing, stderr=subprocess.PIPE, text=True)
    os.close(writing)
    assert told.returncode == 0
    assert told.stderr == ""


def test_a_terminal_that_knows_few_signs_is_written_to_all_the_same(folder: Path) -> None:
    told = subprocess.run(
        [*START, *READOUT], env={**ENVIRONMENT, "PYTHONIOENCODING": "ascii"}, capture_output=True, text=True
    )
    assert told.returncode in (0, 1)
    assert "allowed ?0.50 mm" in told.stdout
    assert told.stderr == ""


def test_names_that_are_no_utf_8_are_read_and_written(folder: Path) -> None:
    odd = os.fsdecode(b"\xff\xfe.farrail.json")
    (folder / "demo.farrail.json").rename(folder / odd)
    assert far_rail("readout", odd, "--train", "witch-broom").returncode in (0, 1)
    table = os.fsdecode(b"\xfe.csv")
    assert far_rail("csv", odd, "shelf", "--out", table).returncode == 0
    assert (folder / table).read_text("utf-8-sig").startswith("kind,id,")
    assert far_rail("readout", os.fsdecode(b"\xff.farrail.json")).returncode == 2


def test_a_workbook_comes_from_standard_input_and_is_never_written_there(file: Path) -> None:
    data = file.read_bytes()
    command = [sys.executable, "-m", "farrail"]
    told = subprocess.run([*command, "readout", "-", "--train", "lichen"], input=data, capture_output=True)
    assert told.returncode in (0, 1)
    same = subprocess.run([*command, "readout", str(file), "--train", "lichen"], capture_output=True)
    assert told.stdout == same.stdout
    none = subprocess.run([*command, "readout", "-", "--train", "lichen"], input=b"no workbook", capture_output=True)
    assert none.returncode == 2
    assert none.stderr.count(b"\n") == 1
    changed = subprocess.run(
        [*command, "edit", "-", "spacer-5", "path_length_mm", "5"], input=data, capture_output=True
    )
    assert changed.returncode == 2
    assert b"Standard input cannot be changed" in changed.stderr
