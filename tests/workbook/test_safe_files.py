"""Links, long names, modes, backups, locks and leftovers."""

import errno
import fcntl
import os
import threading
from pathlib import Path

import pytest
from tests.starter import starter_workbook

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadWorkbook, InUse, ReadOnlyFile, StoreError
from farrail.workbook import store
from farrail.workbook.backups import backup_of
from farrail.workbook.lock import FileLock
from farrail.workbook.reading import to_text
from farrail.workbook.recovery import Autosave, Since, left_behind
from farrail.workbook.safe_files import TEMPORARY, sweep
from farrail.workbook.store import digest_at, read_file, read_text, write_file, write_text
from farrail.workbook.workbook import Workbook, empty_workbook


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return tmp_path / "mine.farrail.json"


def named(name: str) -> Workbook:
    return starter_workbook().model_copy(update={"name": name})


def test_a_save_through_a_link_writes_the_real_file_and_keeps_link_and_mode(tmp_path: Path) -> None:
    real = tmp_path / "attic" / "real.farrail.json"
    real.parent.mkdir()
    write_file(real, named("one"))
    real.chmod(0o640)
    link = tmp_path / "link.farrail.json"
    link.symlink_to(real)
    write_file(link, named("two"), digest_at(link))
    assert link.is_symlink()
    assert read_file(real).workbook.name == "two"
    assert real.stat().st_mode & 0o777 == 0o640
    assert backup_of(real).stat().st_mode & 0o777 == 0o640
    assert read_file(backup_of(real)).workbook.name == "one"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["attic", "link.farrail.json"]
    held = FileLock(real)
    with pytest.raises(InUse):
        FileLock(link)
    held.release()
    circle = tmp_path / "circle.farrail.json"
    circle.symlink_to(circle)
    with pytest.raises(StoreError, match="circle"):
        read_file(circle)
    dangling = tmp_path / "new-link.farrail.json"
    dangling.symlink_to(tmp_path / "attic" / "new.farrail.json")
    write_file(dangling, named("three"))
    assert read_file(tmp_path / "attic" / "new.farrail.json").workbook.name == "three"


@pytest.mark.parametrize("letter", ["a", "ß"])
def test_the_longest_names_save_and_keep_a_backup(tmp_path: Path, letter: str) -> None:
    stem = letter * ((255 - len(".farrail.json")) // len(letter.encode()))
    path = tmp_path / f"{stem}.farrail.json"
    for number in range(3):
        write_file(path, named(f"{number}"))
    assert read_file(path).workbook.name == "2"
    assert read_file(backup_of(path)).workbook.name == "1"
    first = FileLock(path)
    with pytest.raises(InUse):
        FileLock(path)
    first.release()
    assert len({backup_of(tmp_path / f"{stem[:-1]}{end}.farrail.json") for end in "xyz"}) == 3


def test_older_versions_are_thinned_by_age(file: Path) -> None:
    def save(name: str, at: float) -> None:
        write_file(file, named(name))
        os.utime(file, (at, at))

    day = 86_400.0
    for name, at in (("week", 0.0), ("day", 6.0 * day), ("hour", 7.0 * day), ("now", 7.0 * day + 3600.0)):
        save(name, at)
    assert [read_file(backup_of(file, n)).workbook.name for n in (1, 2, 3)] == ["hour", "day", "week"]
    for number in range(5):
        save(f"quick {number}", 7.0 * day + 3600.0 + number)
    # The first two of the five find versions an hour and a day apart to move on; the others push nothing out.
    assert [read_file(backup_of(file, n)).workbook.name for n in (1, 2, 3)] == ["quick 3", "now", "hour"]
    assert not backup_of(file, 4).exists()
    before = backup_of(file).read_bytes()
    write_file(file, named("none kept"), kept=0)
    assert backup_of(file).read_bytes() == before


def test_a_disk_without_second_names_keeps_versions_too(file: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def refuse(*_: object) -> None:
        raise OSError(errno.EPERM, "no links here")

    monkeypatch.setattr(os, "link", refuse)
    for number, at in enumerate((0.0, 1000.0, 200_000.0, 400_000.0)):
        write_file(file, named(f"{number}"))
        os.utime(file, (at, at))
    assert [read_file(backup_of(file, n)).workbook.name for n in (1, 2)] == ["2", "1"]


def test_a_read_only_file_is_not_written_unasked(file: Path) -> None:
    write_file(file, named("one"))
    file.chmod(0o444)
    with pytest.raises(ReadOnlyFile, match="marked read-only"):
        write_file(file, named("two"))
    write_file(file, named("two"), read_only_too=True)
    assert read_file(file).workbook.name == "two"
    assert file.stat().st_mode & 0o777 == 0o444


def test_what_would_not_open_again_replaces_nothing(file: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    write_file(file, named("good"))
    before = file.read_bytes()
    spoilt = (lambda w: to_text(w)[:-40], lambda w: to_text(named("other")), lambda w: to_text(w).replace("id", "di"))
    for spoil in spoilt:
        monkeypatch.setattr(store, "to_text", spoil)
        with pytest.raises(StoreError, match="would not open again"):
            write_file(file, named("bad"))
        assert file.read_bytes() == before
        assert [p.name for p in file.parent.iterdir()] == [file.name]


def test_only_regular_files_are_read(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe.farrail.json"
    os.mkfifo(pipe)
    with pytest.raises(StoreError, match="pipe or a device"):
        read_file(pipe)
    with pytest.raises(StoreError, match="pipe or a device"):
        read_text(Path("/dev/zero"))
    link = tmp_path / "link.csv"
    link.symlink_to("/dev/zero")
    with pytest.raises(StoreError, match="pipe or a device"):
        read_text(link)
    write_text(tmp_path / "table.csv", "a;b\n")
    assert read_text(tmp_path / "table.csv") == "a;b\n"
    with pytest.raises(BadWorkbook):
        read_file(tmp_path / "table.csv")


def test_leftovers_of_a_killed_save_are_swept_and_those_being_written_stay(tmp_path: Path) -> None:
    dead, living, foreign = (tmp_path / name for name in (f".a.1{TEMPORARY}", f".b.2{TEMPORARY}", ".c.tmp"))
    for path in (dead, living, foreign):
        path.write_text("x")
    with living.open() as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        assert sweep(tmp_path) == [dead]
    assert living.exists()
    assert foreign.exists()


def test_a_lock_is_never_taken_twice(file: Path) -> None:
    write_file(file, named("one"))
    holders, most, wrong = [0], [0], threading.Lock()

    def use() -> None:
        for _ in range(60):
            try:
                lock = FileLock(file)
            except InUse:
                continue
            with wrong:
                holders[0] += 1
                most[0] = max(most[0], holders[0])
            with wrong:
                holders[0] -= 1
            lock.release()

    threads = [threading.Thread(target=use) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most[0] == 1
    # A lock file another window has made meanwhile is not this one's to remove.
    first = FileLock(file)
    place = file.with_name(f".{file.name}.lock")
    place.unlink()
    second = FileLock(file)
    first.release()
    assert place.exists()
    second.release()
    assert not place.exists()


def killed(folder: Path, workbook: Workbook, belongs_to: Path | None, digest: str | None) -> None:
    window = Autosave(folder)
    window.keep(workbook, belongs_to, digest)
    window.let_go()


def test_what_became_of_the_file_since(tmp_path: Path, file: Path) -> None:
    folder = tmp_path / "recovery"
    digest = write_file(file, named("begun"))
    killed(folder, named("work"), file, digest)
    assert [one.since for one in left_behind(folder)] == [Since.AS_IT_WAS]
    write_file(file, named("saved later"))
    assert [one.since for one in left_behind(folder)] == [Since.WRITTEN_SINCE]
    file.unlink()
    assert [one.since for one in left_behind(folder)] == [Since.GONE]
    killed(folder, demo_workbook(), None, None)
    assert {one.since for one in left_behind(folder)} == {Since.GONE, Since.NEVER_SAVED}
    # Killed between the rename of a save and the tidying: that work is saved and no loss.
    write_file(file, named("work"))
    assert [one.since for one in left_behind(folder)] == [Since.NEVER_SAVED]
    assert len(list(folder.glob("*.recovery"))) == 1


@pytest.mark.parametrize(
    "text",
    ["", "{", "[]\n{}", "null\n", '{"belongs_to": 7}\n{}', '{"belongs_to": null, "kept_at": "soon"}\n[1]', "\xff"],
)
def test_one_bad_entry_hides_no_other(tmp_path: Path, text: str) -> None:
    (tmp_path / "bad.recovery").write_text(text, encoding="latin-1")
    (tmp_path / "gone.recovery").symlink_to(tmp_path / "nowhere")
    (tmp_path / "folder.recovery").mkdir()
    killed(tmp_path, demo_workbook(), None, None)
    assert [one.workbook for one in left_behind(tmp_path)] == [demo_workbook()]


def test_an_older_state_never_comes_after_a_newer_one_or_a_save(tmp_path: Path) -> None:
    window = Autosave(tmp_path)
    old, new = window.ask(), window.ask()
    window.keep(named("new"), None, None, new)
    window.keep(named("old"), None, None, old)
    late = window.ask()
    window.drop()
    window.keep(named("late"), None, None, late)
    assert not list(tmp_path.glob("*.recovery"))
    # Undone to what is saved, and then edited again: the late drop takes nothing newer along.
    undone, edited = window.ask(), window.ask()
    window.keep(named("edited"), None, None, edited)
    window.drop(undone)
    window.let_go()
    assert [one.workbook.name for one in left_behind(tmp_path)] == ["edited"]


def test_saving_keeps_extended_attributes(tmp_path: Path) -> None:
    path = tmp_path / "mine.farrail.json"
    write_file(path, demo_workbook())
    try:
        os.setxattr(path, "user.xdg.tags", b"night")
    except OSError:
        pytest.skip("this disk keeps no extended attributes")
    write_file(path, empty_workbook(), None)
    assert os.getxattr(path, "user.xdg.tags") == b"night"
