"""Safe files: atomic saves, backups, locks, outside changes and recovery."""

import errno
import os
import subprocess
import sys
from pathlib import Path

import pytest
from tests.starter import starter_workbook

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadWorkbook, ChangedOutside, InUse, StoreError
from farrail.workbook.backups import backup_of
from farrail.workbook.lock import FileLock
from farrail.workbook.recovery import Autosave, left_behind
from farrail.workbook.store import read_file, write_file


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return tmp_path / "mine.farrail.json"


def test_a_save_keeps_the_last_version_and_leaves_nothing_else(file: Path) -> None:
    write_file(file, demo_workbook())
    digest = write_file(file, starter_workbook())
    assert read_file(file).workbook == starter_workbook()
    assert read_file(file).digest == digest
    assert read_file(backup_of(file)).workbook == demo_workbook()
    assert sorted(p.name for p in file.parent.iterdir()) == ["mine.farrail.json", "mine.farrail.json.bak"]


@pytest.mark.parametrize(
    ("code", "words"), [(errno.ENOSPC, "disk is full"), (errno.EROFS, "read-only"), (errno.EACCES, "may not")]
)
def test_a_failed_save_leaves_the_file_as_it_was(
    file: Path, monkeypatch: pytest.MonkeyPatch, code: int, words: str
) -> None:
    write_file(file, demo_workbook())
    before = file.read_bytes()

    def fail(_: int) -> None:
        raise OSError(code, os.strerror(code))

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(StoreError, match=words):
        write_file(file, starter_workbook())
    assert file.read_bytes() == before
    assert [p.name for p in file.parent.iterdir()] == ["mine.farrail.json"]


def test_a_change_by_another_program_is_noticed(file: Path) -> None:
    digest = write_file(file, demo_workbook())
    file.write_text(file.read_text().replace("Hallan Skerry", "Elsewhere"))
    with pytest.raises(ChangedOutside, match="changed by another program"):
        write_file(file, starter_workbook(), digest)
    write_file(file, starter_workbook(), None)
    assert read_file(backup_of(file)).workbook.name == "Elsewhere"


def test_files_that_cannot_be_read(file: Path, tmp_path: Path) -> None:
    with pytest.raises(StoreError, match="it is not there"):
        read_file(file)
    with pytest.raises(StoreError, match="is a folder"):
        read_file(tmp_path)
    file.write_bytes(b"\xff\xfe\x00")
    with pytest.raises(BadWorkbook, match="not UTF-8 text"):
        read_file(file)
    with file.open("wb") as big:
        big.truncate(50_000_000)
    with pytest.raises(BadWorkbook, match="50 MB"):
        read_file(file)
    with pytest.raises(StoreError, match="folder does not exist"):
        write_file(tmp_path / "no" / "x.farrail.json", demo_workbook())


@pytest.mark.skipif(os.geteuid() == 0, reason="root may read everything; the errno test above stands in")
def test_no_permission(file: Path) -> None:
    write_file(file, demo_workbook())
    file.chmod(0)
    with pytest.raises(StoreError, match="may not"):
        read_file(file)


def test_a_second_window_is_told(file: Path) -> None:
    write_file(file, demo_workbook())
    lock = FileLock(file)
    with pytest.raises(InUse, match="open in another Far Rail window"):
        FileLock(file)
    lock.release()
    FileLock(file).release()


KILLED = """
import os, sys
from pathlib import Path
from farrail.demo.hallan_skerry import demo_workbook
from farrail.workbook.recovery import Autosave
Autosave(Path(sys.argv[1])).keep(demo_workbook(), Path("/tmp/mine.farrail.json"))
os.kill(os.getpid(), 9)
"""


def test_work_of_a_killed_window_is_found_and_that_of_a_living_one_is_not(tmp_path: Path) -> None:
    source = str(Path(__file__).parents[2] / "src")
    run = subprocess.run([sys.executable, "-c", KILLED, str(tmp_path)], env={**os.environ, "PYTHONPATH": source})
    assert run.returncode == -9
    living = Autosave(tmp_path)
    living.keep(starter_workbook(), None)
    living.keep(starter_workbook(), None)
    left = left_behind(tmp_path)
    assert [item.workbook for item in left] == [demo_workbook()]
    assert left[0].belongs_to == Path("/tmp/mine.farrail.json")
    living.drop()
    assert len(list(tmp_path.glob("*.recovery"))) == 1
