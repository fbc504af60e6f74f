"""Several windows: on one workbook, on several, the rail by itself, and what a second start hands over."""

import os
import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtNetwork import QLocalSocket
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found

from farrail.train.train import Side
from farrail.ui.floating import RailWindow
from farrail.ui.selection import NOTHING, Selection
from farrail.ui.session import Session
from farrail.ui.single_instance import Listening, address, handed_over
from farrail.ui.window import MainWindow
from farrail.ui.windows import Windows
from farrail.workbook.edits.laying import FlipPart, LayPart, MovePart, RemovePart
from farrail.workbook.edits.shelf import ImportParts
from farrail.workbook.edits.trains import RemoveTrain, RenameTrain
from farrail.workbook.history import Edit
from farrail.workbook.store import read_file
from farrail.workbook.workbook import Workbook, empty_workbook


@pytest.fixture
def first(windows: Windows, demo: Workbook, tmp_path: Path) -> MainWindow:
    window = windows.add(Session(demo, tmp_path / "recovery"))
    window.show()
    return window


def act(window: MainWindow, name: str) -> None:
    next(action for action in window.actions() if action.objectName() == f"act_{name}").trigger()


def test_two_windows_on_one_workbook_show_two_trains(windows: Windows, first: MainWindow) -> None:
    act(first, "window")
    second = windows.all[1]
    assert second.isVisible()
    second.session.show_train("sea-stacks")
    assert first.session.train is not None
    assert first.session.train.id == "witch-broom"
    # What is done in one is seen in the other, with its undo.
    first.session.do(RenameTrain("sea-stacks", "Stacks at dusk"))
    assert second.session.train is not None
    assert second.session.train.name == "Stacks at dusk"
    assert "Stacks at dusk" in second.header.train.toolTip()
    second.session.undo()
    assert first.session.workbook.train("sea-stacks").name != "Stacks at dusk"


@pytest.mark.parametrize("seed", range(4))
def test_what_is_selected_stays_selected_whatever_the_other_window_does(
    windows: Windows, first: MainWindow, seed: int
) -> None:
    """Random edits in one window; in the other the very part stays selected, or nothing is once it is gone."""
    dice = random.Random(seed)
    act(first, "window")
    second = windows.all[1]
    session, other = second.session, first.session
    assert session.train is not None
    # Parts that are on the rail once: which one is meant can be shown by its id alone.
    for _ in range(30):
        row = session.train.rear_train
        index = dice.randrange(len(row))
        session.select(Selection(Side.REAR, index))
        part = row[index].part
        place, count = dice.randrange(len(row)), len(row)
        edit: Edit = dice.choice((
            RemovePart("witch-broom", place), FlipPart("witch-broom", place), MovePart("witch-broom", place, 0),
            LayPart("witch-broom", "spacer-12", place),
            RenameTrain("witch-broom", f"Night {dice.random()}"),
        ))  # fmt: skip
        other.do(edit)
        session_row = session.train.rear_train
        if len([one for one in row if one.part == part]) == 1 == len([o for o in session_row if o.part == part]):
            assert session.selected_part() == part, edit
        elif all(one.part != part for one in session_row):
            assert session.selection == NOTHING, edit
        if len(session_row) < count or len(session_row) > 12:
            other.undo()


def test_a_train_removed_in_one_window_is_missed_in_the_other(windows: Windows, first: MainWindow) -> None:
    act(first, "window")
    second = windows.all[1]
    name = second.session.workbook.train("sea-stacks").name
    second.session.show_train("sea-stacks")
    first.session.do(RemoveTrain("sea-stacks"))
    shown = second.session.train
    assert shown is not None
    told = f"“{name}” was removed in another window; this one shows “{shown.name}” now."
    assert second.bar.text.text().endswith(told)
    assert second.header.train.toolTip().startswith(shown.name[:12])


def test_a_drag_reaches_the_other_window_when_the_hand_rests(windows: Windows, first: MainWindow) -> None:
    act(first, "window")
    second = windows.all[1]
    seen: list[str] = []
    second.session.changed.connect(lambda: seen.append(second.session.workbook.train("witch-broom").name))
    first.session.begin_drag()
    for name in ("One", "Two"):
        first.session.do(RenameTrain("witch-broom", name))
    assert seen == []
    first.session.end_drag()
    assert seen == ["Two"]


def test_only_the_last_window_asks_about_unsaved_work(windows: Windows, first: MainWindow, tmp_path: Path) -> None:
    act(first, "window")
    second = windows.all[1]
    first.session.do(RenameTrain("witch-broom", "Changed"))
    assert first.close()
    assert windows.all == (second,)
    assert second.session.workbook.train("witch-broom").name == "Changed"
    assert not second.session.history.clean
    # Saved from the one that stayed.
    second.session.save(tmp_path / "kept.farrail.json")
    assert read_file(tmp_path / "kept.farrail.json").workbook.train("witch-broom").name == "Changed"


@pytest.mark.parametrize(("button", "open_then"), [("guard_stay", 2), ("guard_leave", 0)])
def test_quitting_asks_once_about_all_unsaved_workbooks(
    windows: Windows, first: MainWindow, tmp_path: Path, button: str, open_then: int
) -> None:
    second = windows.add(Session(empty_workbook(), tmp_path / "recovery"))
    second.show()
    first.session.do(RenameTrain(first.session.workbook.trains[0].id, "Other"))
    second.session.do(ImportParts((first.session.workbook.shelf[0],)))
    asked = []

    def press() -> None:
        box = QApplication.activeModalWidget()
        assert isinstance(box, QMessageBox)
        asked.append(box.text())
        found(box, QPushButton, button).click()

    QTimer.singleShot(50, press)
    first.quit_wanted.emit()
    assert len(asked) == 1
    assert asked[0].startswith("2 workbooks have changes")
    assert len(windows.all) == open_then


def test_another_workbook_in_one_window_leaves_the_other(windows: Windows, first: MainWindow, file: Path) -> None:
    act(first, "window")
    second = windows.all[1]
    second.files.empty()
    assert second.session.workbook == empty_workbook()
    assert first.session.workbook.trains
    assert not first.session.shared
    second.files.open_path(file)
    assert second.session.path == file
    assert first.session.path is None
    # A third on the saved file shares its lock, and saves from either.
    act(second, "window")
    third = windows.all[2]
    third.session.do(RenameTrain("witch-broom", "From the third"))
    second.session.save()
    assert third.session.history.clean
    assert second.close()
    third.session.do(RenameTrain("witch-broom", "Again"))
    third.session.save()
    assert read_file(file).workbook.train("witch-broom").name == "Again"


def test_a_file_that_is_open_comes_to_the_front(windows: Windows, first: MainWindow, file: Path) -> None:
    shown = windows.show_file(file, first)
    assert shown is not None
    assert shown is not first
    assert windows.show_file(file, first) is shown
    assert not first.files.open_path(file)
    assert len(windows.all) == 2
    assert windows.show_file(file.with_name("gone.farrail.json"), first) is None
    assert "gone.farrail.json" in first.bar.text.text()


def test_an_untouched_window_is_used(windows: Windows, file: Path, tmp_path: Path) -> None:
    window = windows.add(Session(empty_workbook(), tmp_path / "recovery"))
    window.show_first()
    assert windows.show_file(file, window) is window
    assert window.session.path == file


def test_the_rail_stands_by_itself_and_comes_back(windows: Windows, first: MainWindow, qtbot: QtBot) -> None:
    first.resize(1280, 800)
    qtbot.wait(30)
    whole = first.rail.height()
    act(first, "float")
    apart = first.floating.apart
    assert apart is not None
    assert apart.isVisible()
    assert first.rail.window() is apart
    assert "Witch" in apart.windowTitle()
    first.stations.show_station("light")
    # Keys of the window work there: the picked part goes with Delete and comes back with Ctrl+Z.
    qtbot.waitExposed(apart)
    apart.activateWindow()
    first.rail.setFocus()
    before = first.session.workbook.train("witch-broom")
    QTest.keyClick(first.rail, Qt.Key.Key_End)
    QTest.keyClick(first.rail, Qt.Key.Key_Left)
    QTest.keyClick(first.rail, Qt.Key.Key_Delete)
    assert first.session.workbook.train("witch-broom") != before
    QTest.keyClick(first.rail, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert first.session.workbook.train("witch-broom") == before
    apart.close()
    assert first.floating.apart is None
    assert first.rail.window() is first
    assert first.rail.isVisible()
    first.bar.put_away()
    first.stations.show_station("spacing")
    qtbot.waitUntil(lambda: abs(first.rail.height() - whole) < 3)
    # Its window closes with it.
    first.floating.toggle()
    again = first.findChild(RailWindow)
    assert again is not None
    first.session.history.mark_saved()
    first.close()
    assert not again.isVisible()


@pytest.fixture
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    # A short name: a socket's path may have about a hundred bytes.
    with tempfile.TemporaryDirectory(prefix="run") as run:
        monkeypatch.setenv("XDG_RUNTIME_DIR", run)
        yield tmp_path / "state"


def test_a_second_start_hands_its_file_to_the_first(
    windows: Windows, first: MainWindow, file: Path, state: Path, qtbot: QtBot
) -> None:
    listening = Listening(windows.show_file, windows)
    assert listening.heard
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    start = [sys.executable, "-m", "farrail", "--join", str(file)]
    second = subprocess.Popen(start, env=environment, cwd=file.parent)
    try:
        qtbot.waitUntil(lambda: len(windows.all) == 2, timeout=20_000)
        assert windows.all[1].session.path == file
        assert second.wait(timeout=20) == 0
    finally:
        second.kill()
    # A third, which listens as well, finds the place taken.
    assert not Listening(windows.show_file, windows).heard


@pytest.mark.parametrize(
    "line",
    [
        b"nonsense\n",
        b"[]\n",
        b'{"open": 3}\n',
        b'{"else": ""}\n',
        b"x" * 30_000,
        b"[" * 15_000 + b"\n",
        b'{"open": "/a\\u0000b"}\n',
    ],
)
def test_nonsense_on_the_socket_is_let_go(
    windows: Windows, first: MainWindow, state: Path, qtbot: QtBot, line: bytes
) -> None:
    listening = Listening(windows.show_file, windows)
    assert listening.heard
    socket = QLocalSocket()
    at = address()
    assert at is not None
    socket.connectToServer(at)
    assert socket.waitForConnected(1000)
    socket.write(line)
    socket.flush()
    end = time.monotonic() + 3.0
    while socket.state() != QLocalSocket.LocalSocketState.UnconnectedState and time.monotonic() < end:
        qtbot.wait(20)
    assert [window.session.path for window in windows.all] == [None]
    socket.abort()


def test_with_nobody_there_the_start_goes_on_by_itself(file: Path, state: Path) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "FAR_RAIL_START_PROBE": "1"}
    told = subprocess.run(
        [sys.executable, "-m", "farrail", "--join", str(file)], env=environment, capture_output=True, text=True
    )
    assert told.stdout.startswith("usable ")


def test_nothing_is_shared_where_others_could_listen_first(
    windows: Windows, first: MainWindow, state: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """In a folder others may write to, or without one of its own, the program neither listens nor hands over."""
    at = address()
    assert at is not None
    assert Path(at).parent.stat().st_mode & 0o077 == 0
    open_to_all = tmp_path / "open"
    open_to_all.mkdir()
    open_to_all.chmod(0o777)
    for folder in (str(open_to_all), "", "relative", str(tmp_path / "missing")):
        monkeypatch.setenv("XDG_RUNTIME_DIR", folder)
        assert address() is None
        assert not handed_over("")
        assert not Listening(windows.show_file, windows).heard
