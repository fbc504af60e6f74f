"""Files in the window: save, open, guard, conflicts, second windows, recovery, drops."""

import errno
import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QAction, QDragEnterEvent, QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QMenu, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, press

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui import autosave
from farrail.ui.window import MainWindow
from farrail.workbook.backups import backup_of
from farrail.workbook.edits.laying import RemovePart
from farrail.workbook.edits.trains import SetFNumber
from farrail.workbook.recovery import Autosave
from farrail.workbook.store import read_file, write_file
from farrail.workbook.workbook import Workbook, empty_workbook


def change(window: MainWindow) -> None:
    assert window.session.do(RemovePart("witch-broom", 4))


def killed_with(unsaved: Workbook, tmp_path: Path, file: Path | None = None) -> None:
    """Leave behind what a window leaves that is killed with unsaved work."""
    killed = Autosave(tmp_path / "recovery")
    killed.keep(unsaved, file, None if file is None else read_file(file).digest)
    killed.let_go()  # what the end of the process does to its lock


def trigger(window: MainWindow, name: str) -> None:
    action = found(window, QAction, name)
    action.trigger()


def answering(name: str) -> None:
    """Press a button of the guard that is about to open."""

    def press_it() -> None:
        box = QApplication.activeModalWidget()
        assert isinstance(box, QMessageBox)
        button = found(box, QPushButton, name)
        button.click()

    QTimer.singleShot(50, press_it)


def test_save_as_then_save_then_open_again(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    target = tmp_path / "skerry"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    change(window)
    assert window.windowTitle().startswith("• Hallan Skerry")
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    saved = tmp_path / "skerry.farrail.json"
    assert read_file(saved).workbook == window.session.workbook
    assert window.windowTitle() == "skerry – Far Rail"
    window.session.undo()
    assert window.windowTitle().startswith("•")
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert read_file(saved).workbook == demo_workbook()
    trigger(window, "act_new")
    assert window.session.workbook == empty_workbook()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(saved), ""))
    trigger(window, "act_open")
    assert window.session.workbook == demo_workbook()
    assert window.files.recent() == [saved]


@pytest.mark.parametrize(("answer", "leaves"), [("guard_stay", False), ("guard_leave", True)])
def test_unsaved_changes_are_guarded(window: MainWindow, answer: str, leaves: bool) -> None:
    change(window)
    answering(answer)
    trigger(window, "act_new")
    assert (window.session.workbook == empty_workbook()) == leaves


def test_the_guard_saves(make_window: Callable[..., MainWindow], file: Path) -> None:
    window = make_window()
    assert window.files.open_path(file)
    change(window)
    wanted = window.session.workbook
    answering("guard_save")
    assert window.close()
    assert read_file(file).workbook == wanted


@pytest.mark.parametrize(("button", "kept"), [("conflict_overwrite", True), ("message_dismiss", False)])
def test_a_file_changed_by_another_program_is_not_overwritten_unasked(
    window: MainWindow, file: Path, qtbot: QtBot, button: str, kept: bool
) -> None:
    window.files.open_path(file)
    change(window)
    other = file.read_text().replace("Hallan Skerry", "Elsewhere")
    file.write_text(other)
    trigger(window, "act_save")
    assert "changed by another program" in window.bar.text.text()
    assert file.read_text() == other
    press(window, button, qtbot)
    assert (read_file(file).workbook == window.session.workbook) == kept


def test_a_second_window_may_look_and_save_elsewhere(
    make_window: Callable[..., MainWindow], file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    first, second = make_window(), make_window()
    first.files.open_path(file)
    second.files.open_path(file)
    assert "open in another Far Rail window" in second.bar.text.text()
    assert "read-only" in second.header.workbook.text()
    copy = tmp_path / "copy.farrail.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(copy), ""))
    trigger(second, "act_save")
    assert not copy.exists()
    press(second, "trouble_save_as", qtbot)
    assert copy.is_file()
    assert "read-only" not in second.header.workbook.text()


def test_a_file_that_cannot_be_read_is_told_and_the_workbook_stays(window: MainWindow, tmp_path: Path) -> None:
    bad = tmp_path / "bad.farrail.json"
    bad.write_text("{")
    assert not window.files.open_path(bad)
    assert "bad.farrail.json is not readable JSON" in window.bar.text.text()
    assert window.session.workbook == demo_workbook()


def test_a_full_disk_is_told_and_the_file_stays(
    window: MainWindow, file: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.files.open_path(file)
    change(window)
    before = file.read_bytes()

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    trigger(window, "act_save")
    assert "the disk is full" in window.bar.text.text()
    assert file.read_bytes() == before
    assert not window.session.history.clean


def test_a_dropped_file_is_opened(window: MainWindow, file: Path, qtbot: QtBot) -> None:
    trigger(window, "act_new")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(file))])
    how = (Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    # On the rail, which takes parts and leaves files to the window.
    QApplication.sendEvent(window.rail, QDragEnterEvent(QPoint(5, 5), *how))
    QApplication.sendEvent(window.rail, QDropEvent(QPointF(5, 5), *how))
    qtbot.waitUntil(lambda: window.session.path == file)


def test_killed_work_is_offered_and_recovered(
    make_window: Callable[..., MainWindow], file: Path, tmp_path: Path, qtbot: QtBot
) -> None:
    changed = RemovePart("witch-broom", 4).apply(demo_workbook())
    killed_with(changed, tmp_path, file)
    window = make_window()
    window.files.offer_recovery()
    assert "ended without saving mine.farrail.json" in window.bar.text.text()
    assert "Work of a moment ago was kept. The file is as it was" in window.bar.text.text()
    press(window, "recover_take", qtbot)
    assert window.session.workbook == changed
    assert window.session.path == file
    assert not window.session.history.clean
    trigger(window, "act_save")
    assert read_file(file).workbook == changed
    assert not list((tmp_path / "recovery").glob("*.recovery"))


def test_recovered_work_does_not_overwrite_what_was_saved_later_unasked(
    make_window: Callable[..., MainWindow], file: Path, tmp_path: Path, qtbot: QtBot
) -> None:
    changed = RemovePart("witch-broom", 4).apply(demo_workbook())
    killed_with(changed, tmp_path, file)
    later = RemovePart("witch-broom", 3).apply(demo_workbook())
    write_file(file, later)
    window = make_window()
    window.files.offer_recovery()
    assert "The file was written since" in window.bar.text.text()
    press(window, "recover_take", qtbot)
    assert "saving asks" in window.bar.text.text()
    trigger(window, "act_save")
    assert read_file(file).workbook == later
    press(window, "conflict_overwrite", qtbot)
    assert read_file(file).workbook == changed
    assert read_file(backup_of(file)).workbook == later


def test_an_offer_stays_until_it_is_answered_and_the_next_follows(
    make_window: Callable[..., MainWindow], tmp_path: Path, qtbot: QtBot
) -> None:
    folder = tmp_path / "recovery"
    for index in (3, 4):
        killed_with(RemovePart("witch-broom", index).apply(demo_workbook()), tmp_path)
    (folder / "broken.recovery").write_text("{")
    window = make_window()
    window.files.offer_recovery()
    assert "never saved" in window.bar.text.text()
    trigger(window, "act_undo")
    window.session.message.emit("Something else.", False)
    assert "Something else" in window.bar.text.text()
    window.bar.read()
    assert "never saved" in window.bar.text.text()
    press(window, "recover_later", qtbot)
    assert "never saved" in window.bar.text.text()
    press(window, "recover_drop", qtbot)
    assert window.bar.isHidden()
    assert len(list(folder.glob("*.recovery"))) == 2  # the one put off, and the broken one


def test_steady_work_is_kept_as_well(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(autosave, "QUIET_MS", 400)
    monkeypatch.setattr(autosave, "LATEST_MS", 900)
    watch = autosave.Keeping(window.session, window)
    kept: list[int] = []
    for number in range(24):
        window.session.do(SetFNumber("witch-broom", 3.0 + number / 10.0))
        QTest.qWait(100)  # an edit every tenth of a second: never quiet
        window.session.wait_for_copy()
        kept.append(len(list((tmp_path / "recovery").glob("*.recovery"))))
    assert kept.index(1) <= 12
    watch.stop()


def test_undone_to_what_is_saved_nothing_is_left_to_keep(window: MainWindow, tmp_path: Path) -> None:
    change(window)
    assert window.session.autosave()
    assert list((tmp_path / "recovery").glob("*.recovery"))
    trigger(window, "act_undo")
    assert window.session.autosave()
    assert not list((tmp_path / "recovery").glob("*.recovery"))


def test_work_that_cannot_be_kept_is_told_once(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[str] = []
    window.session.message.connect(lambda text, _: told.append(text))

    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, "full")

    change(window)
    with monkeypatch.context() as broken:
        broken.setattr(os, "fsync", full)
        assert not window.session.autosave()
        assert not window.session.autosave()
    assert len([text for text in told if "disk is full" in text]) == 1
    assert window.session.autosave()


def test_a_read_only_file_asks(window: MainWindow, file: Path, qtbot: QtBot) -> None:
    file.chmod(0o444)
    window.files.open_path(file)
    change(window)
    trigger(window, "act_save")
    assert "marked read-only" in window.bar.text.text()
    assert read_file(file).workbook == demo_workbook()
    press(window, "read_only_write", qtbot)
    assert read_file(file).workbook == window.session.workbook
    assert file.stat().st_mode & 0o777 == 0o444


def test_a_window_that_only_looked_takes_over(make_window: Callable[..., MainWindow], file: Path) -> None:
    first, second = make_window(), make_window()
    first.files.open_path(file)
    second.files.open_path(file)
    change(second)
    trigger(second, "act_save")
    assert read_file(file).workbook == demo_workbook()
    first.session.close_file()
    trigger(second, "act_save")
    assert read_file(file).workbook == second.session.workbook
    assert "read-only" not in second.header.workbook.text()


def test_unsaved_work_is_kept_beside_and_dropped_when_saved(window: MainWindow, file: Path, tmp_path: Path) -> None:
    window.files.open_path(file)
    change(window)
    window.session.autosave_beside()
    window.session.wait_for_copy()
    assert len(list((tmp_path / "recovery").glob("*.recovery"))) == 1
    trigger(window, "act_save")
    assert not list((tmp_path / "recovery").glob("*.recovery"))


def test_the_first_page_leads_to_an_empty_sheet_the_demo_and_recent_files(
    window: MainWindow, file: Path, qtbot: QtBot
) -> None:
    trigger(window, "act_first")
    press(window, "welcome_new", qtbot)
    assert window.session.workbook == empty_workbook()
    assert window.stations.isVisible()
    window.files.open_path(file)
    change(window)
    trigger(window, "act_save")
    trigger(window, "act_new")
    assert not window.stations.isVisible()
    line = found(window, QPushButton, "recent_0")
    assert "mine" in line.accessibleName()
    assert "mm too" in line.accessibleName()
    press(window, "recent_0", qtbot)
    assert window.session.path == file
    assert window.stations.isVisible()
    trigger(window, "act_first")
    press(window, "welcome_demo", qtbot)
    assert window.session.workbook == demo_workbook()


def test_how_many_versions_are_kept_is_chosen_in_the_menu(window: MainWindow, file: Path) -> None:
    window.files.open_path(file)
    menu = found(window, QMenu, "versions_menu")
    menu.aboutToShow.emit()
    assert [a.text() for a in menu.actions() if a.isChecked()] == ["3"]
    next(a for a in menu.actions() if a.text() == "None").trigger()
    change(window)
    window.session.save()
    assert not list(file.parent.glob("*.bak*"))
    menu.aboutToShow.emit()
    assert [a.text() for a in menu.actions() if a.isChecked()] == ["None"]
    next(a for a in menu.actions() if a.text() == "1").trigger()
    for f_number in (5.0, 6.0, 7.0):
        assert window.session.do(SetFNumber("witch-broom", f_number))
        window.session.save()
    assert len(list(file.parent.glob("*.bak*"))) == 1
