"""Files in the window: save, open, guard, conflicts, second windows, recovery, drops."""

import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QAction, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot

from farrail.demo.hallan_skerry import demo_workbook
from farrail.demo.starter import starter_workbook
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import RemovePart
from farrail.workbook.recovery import Autosave
from farrail.workbook.store import read_file, write_file


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "mine.farrail.json"
    write_file(path, demo_workbook())
    return path


def change(window: MainWindow) -> None:
    assert window.session.do(RemovePart("witch-broom", 4))


def trigger(window: MainWindow, name: str) -> None:
    action = window.findChild(QAction, name)
    assert isinstance(action, QAction)
    action.trigger()


def press(window: MainWindow, name: str, qtbot: QtBot) -> None:
    button = window.findChild(QPushButton, name)
    assert isinstance(button, QPushButton), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def answering(name: str) -> None:
    """Press a button of the guard that is about to open."""

    def press_it() -> None:
        box = QApplication.activeModalWidget()
        assert isinstance(box, QMessageBox)
        button = box.findChild(QPushButton, name)
        assert isinstance(button, QPushButton)
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
    assert window.session.workbook == starter_workbook()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(saved), ""))
    trigger(window, "act_open")
    assert window.session.workbook == demo_workbook()
    assert window.files.recent() == [saved]


@pytest.mark.parametrize(("answer", "leaves"), [("guard_stay", False), ("guard_leave", True)])
def test_unsaved_changes_are_guarded(window: MainWindow, answer: str, leaves: bool) -> None:
    change(window)
    answering(answer)
    trigger(window, "act_new")
    assert (window.session.workbook == starter_workbook()) == leaves


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
    make_window: Callable[..., MainWindow], file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    first, second = make_window(), make_window()
    first.files.open_path(file)
    second.files.open_path(file)
    assert "open in another Far Rail window" in second.bar.text.text()
    assert "looking only" in second.header.workbook.text()
    copy = tmp_path / "copy.farrail.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(copy), ""))
    trigger(second, "act_save")
    assert copy.is_file()
    assert "looking only" not in second.header.workbook.text()


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
    killed = Autosave(tmp_path / "recovery")
    killed.keep(changed, file)
    assert killed._lock is not None
    killed._lock.close()  # what the end of the process does to its lock
    window = make_window()
    window.files.offer_recovery()
    assert "ended without saving mine.farrail.json" in window.bar.text.text()
    press(window, "recover_take", qtbot)
    assert window.session.workbook == changed
    assert window.session.path == file
    assert not window.session.history.clean
    trigger(window, "act_save")
    assert read_file(file).workbook == changed
    assert not list((tmp_path / "recovery").glob("*.recovery"))


def test_unsaved_work_is_kept_beside_and_dropped_when_saved(window: MainWindow, file: Path, tmp_path: Path) -> None:
    window.files.open_path(file)
    change(window)
    window._keep_unsaved()
    from PySide6.QtCore import QThreadPool

    QThreadPool.globalInstance().waitForDone()
    assert len(list((tmp_path / "recovery").glob("*.recovery"))) == 1
    trigger(window, "act_save")
    assert not list((tmp_path / "recovery").glob("*.recovery"))


def test_the_welcome_offers_a_workbook_of_ones_own(window: MainWindow, qtbot: QtBot) -> None:
    window.files.welcome()
    press(window, "welcome_new", qtbot)
    assert window.session.workbook.name == "Untitled"
