"""One value put into a file from the command line, beside a window that may have it open."""

import csv
import io
import json
from datetime import date
from pathlib import Path

import pytest
from tests.command_line import far_rail

from farrail.cli import edit
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, ChangedOutside, EditRefused, FarRailError, InUse
from farrail.logbook.kinds.keeping import Flats
from farrail.parts.kinds.filters import SheetFilter
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.workbook.lock import FileLock
from farrail.workbook.store import read_file, write_file


def test_a_value_and_a_name_are_changed_and_the_earlier_version_stays(file: Path) -> None:
    run = far_rail("edit", str(file), "spacer-12", "path_length_mm", "12.05 ±0.02")
    assert run.returncode == 0, run.stderr
    assert "12.05 ±0.02 now (published)" in run.stdout
    part = read_file(file).workbook.by_id["spacer-12"]
    assert isinstance(part, Spacer)
    assert part.path_length_mm.value == pytest.approx(12.05)
    assert part.path_length_mm.origin is Origin.PUBLISHED
    assert list(file.parent.glob("*.bak*"))
    assert edit.run(file, part.name, "name", "My ring", Origin.MEASURED) == 0
    assert read_file(file).workbook.by_id["spacer-12"].name == "My ring"


def test_the_second_side_is_told(file: Path) -> None:
    window, digest = FileLock(file), read_file(file).digest
    run = far_rail("edit", str(file), "spacer-12", "path_length_mm", "12.05")
    assert run.returncode == 2
    assert run.stderr == f"far-rail: {file.name} is open in a Far Rail window: change it there, or close it first.\n"
    assert read_file(file).digest == digest
    window.release()
    # A window that was only looking, and saves after the other side has written, is shown as well.
    edit.run(file, "spacer-12", "path_length_mm", "12.05", Origin.MEASURED)
    with pytest.raises(ChangedOutside):
        write_file(file, demo_workbook(), digest)
    again = FileLock(file)
    with pytest.raises(InUse):
        edit.run(file, "spacer-12", "path_length_mm", "13", Origin.MEASURED)
    again.release()


@pytest.mark.parametrize(
    ("part", "field", "value", "words"),
    [
        ("nothing", "path_length_mm", "1", "There is no part “nothing”"),
        ("spacer-12", "glass", "1", "has no field “glass”; it has: "),
        ("spacer-12", "path_length_mm", "abc", "abc"),
        ("spacer-12", "owned", "x", "the old value stays"),
    ],
)
def test_what_cannot_be_is_refused_in_a_sentence(file: Path, part: str, field: str, value: str, words: str) -> None:
    before = file.read_bytes()
    with pytest.raises(FarRailError, match=words) as found:
        edit.run(file, part, field, value, Origin.MEASURED)
    assert isinstance(found.value, EditRefused | BadInput)
    assert file.read_bytes() == before
    assert [p.name for p in file.parent.iterdir()] == [file.name]


def test_flats_are_no_longer_valid_after_an_edit_from_the_command_line(file: Path, tmp_path: Path) -> None:
    lines = tmp_path / "edits.jsonl"
    taken = '{"edit": "write-down", "kind": "flats", "train": "lantern-wheel", "day": "2026-10-01", "values": {}}\n'
    rename = '{"edit": "rename-train", "train": "lantern-wheel", "name": "Lantern"}\n'
    flip = '{"edit": "flip-part", "train": "lantern-wheel", "index": 3}\n'
    for text, since in ((taken + rename, None), (flip, date.today().isoformat())):
        lines.write_text(text)
        assert edit.run_lines(file, lines, new=False) == 0
        flats = read_file(file).workbook.log[-1]
        assert isinstance(flats, Flats)
        assert flats.void_since == since


def test_a_workbook_is_named_and_a_part_is_known_by_a_piece_of_its_name(file: Path) -> None:
    assert far_rail("edit", str(file), "--name", "My gear").returncode == 0
    assert read_file(file).workbook.name == "My gear"
    assert far_rail("edit", str(file), "pacer 12", "path_length_mm", "12.1", "--as", "measured").returncode == 0
    part = read_file(file).workbook.by_id["spacer-12"]
    assert isinstance(part, Spacer)
    assert (part.path_length_mm.value, part.path_length_mm.origin) == (12.1, Origin.MEASURED)
    several = far_rail("edit", str(file), "Spacer", "path_length_mm", "12.1")
    assert several.returncode == 2
    assert "write one of these ids: spacer-5" in several.stderr
    assert "did you mean Spacer 12" in far_rail("edit", str(file), "Sapcer 12", "path_length_mm", "1").stderr


def test_tables_that_were_brought_in_already_change_nothing(file: Path, tmp_path: Path) -> None:
    """The program's own tables, given back: exit code 0, the file as it was."""
    shelf, seen = tmp_path / "shelf.csv", tmp_path / "log.csv"
    assert far_rail("csv", str(file), "--out", str(shelf)).returncode == 0
    seen.write_text(far_rail("log", str(file), "--csv").stdout, encoding="utf-8")
    digest = read_file(file).digest
    again = far_rail("csv", str(file), "--import", str(shelf))
    assert (again.returncode, again.stderr) == (0, "")
    assert "already there, unchanged" in again.stdout
    told = far_rail("log", str(file), "--import", str(seen))
    assert told.returncode == 0
    assert f"{len(demo_workbook().log)} in the log already" in told.stdout
    assert read_file(file).digest == digest
    # Numbers below zero are numbers for every spreadsheet.
    rows = list(csv.DictReader(io.StringIO(seen.read_text("utf-8"))))
    assert any(row["difference"].startswith("-") and float(row["difference"]) < 0.0 for row in rows)


def test_a_calibrated_value_is_applied_by_its_key(file: Path) -> None:
    told = json.loads(far_rail("calibrate", str(file), "--train", "sea-stacks", "--json").stdout)
    assert told["version"] == 1
    value = told["found"]["solid-3-0.density"]["value"]
    done = far_rail("calibrate", str(file), "--train", "sea-stacks", "--apply", "solid-3-0.density")
    assert done.returncode == 0, done.stderr
    part = read_file(file).workbook.by_id["solid-3-0"]
    assert isinstance(part, SheetFilter)
    assert part.density is not None
    assert part.density.value == pytest.approx(value, abs=1e-3)
    assert part.density.origin is Origin.MEASURED
    assert isinstance(part.density.in_use, Reading)
    assert part.density.in_use.seen
    wrong = far_rail("calibrate", str(file), "--train", "sea-stacks", "--apply", "solid-3-0.width_mm")
    assert wrong.returncode == 2
    assert "the values are: " in wrong.stderr
