"""Open fields are entered before saving, and no file is replaced without a question."""

import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, press, type_in
from tests.ui.test_parts import value_row

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import StoreError
from farrail.ui.version_sheet import VersionSheet
from farrail.ui.window import MainWindow
from farrail.workbook.backups import backup_of
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.edits.trains import RemoveTrain
from farrail.workbook.file_kinds import FileKind, kind_of
from farrail.workbook.history import MOST_STEPS, History
from farrail.workbook.store import read_file, write_bytes, write_file, write_text

MakeWindow = Callable[..., MainWindow]


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "demo.farrail.json"
    write_file(path, demo_workbook())
    return path


def trigger(window: MainWindow, name: str) -> None:
    found(window, QAction, name).trigger()
    QApplication.processEvents()


# Typed, not entered


def opened(make_window: MakeWindow, file: Path, train: str, station: str) -> MainWindow:
    window = make_window()
    window.files.open_path(file)
    window.session.show_train(train)
    window.stations.show_station(station)
    return window


def type_into_table(window: MainWindow, text: str, qtbot: QtBot) -> None:
    """Open the editor of a spacer's length in Parts and type, without Enter."""
    window.parts.show_part("spacer-5")
    table = window.parts.sheet.table
    index = table.ledger.index(value_row(window.parts, "Length"), 1)
    table.setCurrentIndex(index)
    table.edit(index)
    type_in(window, "ledger_editor", text, qtbot, enter=False)


def test_saving_enters_the_open_field(make_window: MakeWindow, file: Path, qtbot: QtBot) -> None:
    window = opened(make_window, file, "sea-stacks", "parts")
    type_into_table(window, "11.11", qtbot)
    trigger(window, "act_save")
    window.stations.show_station("exposure")
    type_in(window, "metered_time", "1/500", qtbot, enter=False)
    trigger(window, "act_save")
    saved = read_file(file).workbook
    assert saved.by_id["spacer-5"].path_length_mm.value == 11.11  # type: ignore[attr-defined]
    assert saved.train("sea-stacks").conditions.metered_s == pytest.approx(1 / 500)


def test_invalid_text_stays_and_nothing_is_saved_or_closed(make_window: MakeWindow, file: Path, qtbot: QtBot) -> None:
    window = opened(make_window, file, "sea-stacks", "parts")
    before = file.read_bytes()
    type_into_table(window, "eleven", qtbot)
    trigger(window, "act_save")
    assert file.read_bytes() == before
    editor = found(window.parts.sheet.table, QLineEdit, "ledger_editor")
    assert editor.text() == "eleven"
    assert not window.close()
    assert "press Escape" in window.bar.text.text()
    qtbot.keyClick(editor, Qt.Key.Key_Escape)


def test_closing_asks_about_an_open_field(
    make_window: MakeWindow, file: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = opened(make_window, file, "barnacles", "close_up")
    type_in(window, "closeup_distance", "70", qtbot, enter=False)
    asked: list[str] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.objectName()))
    assert not window.close()
    assert asked == ["unsaved_guard"]


# Replacing


def answer(monkeypatch: pytest.MonkeyPatch, name: str, button: str) -> None:
    """Have the file dialog return a name, and press a button of the question that follows."""
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (name, ""))

    def press_it() -> None:
        box = QApplication.activeModalWidget()
        if isinstance(box, QMessageBox):
            found(box, QPushButton, button).click()

    QTimer.singleShot(0, press_it)


@pytest.mark.parametrize("button", ["replace_file_no", "replace_file_yes"])
def test_save_as_asks_once_the_ending_is_known(
    make_window: MakeWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, button: str
) -> None:
    other = tmp_path / "other.farrail.json"
    write_file(other, demo_workbook().model_copy(update={"name": "Precious"}))
    window = make_window()
    answer(monkeypatch, str(tmp_path / "other"), button)
    assert window.files.save_as() is (button == "replace_file_yes")
    assert (read_file(other).workbook.name == "Precious") is (button == "replace_file_no")


def test_an_export_asks_too(make_window: MakeWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "shelf.csv").write_text("mine\n")
    window = make_window()
    answer(monkeypatch, str(tmp_path / "shelf"), "replace_file_no")
    trigger(window, "act_export")
    assert (tmp_path / "shelf.csv").read_text() == "mine\n"


@pytest.mark.parametrize(
    ("there", "kind"),
    [
        (b"\x89PNG\r\n", FileKind.PICTURE), (b"%PDF-1.7", FileKind.PDF), (b"SIMPLE  =    T", FileKind.FRAME),
        (b"PK\x03\x04", FileKind.PACKED), (b"<svg>", FileKind.PAGE), (b'{"a": 1}', FileKind.DATA),
        (b"solid\0\0", FileKind.BINARY), (b"", None), (b"a,b\n", FileKind.TEXT),
    ],
)  # fmt: skip
def test_files_of_another_kind_are_never_replaced(tmp_path: Path, there: bytes, kind: FileKind | None) -> None:
    path = tmp_path / "there"
    path.write_bytes(there)
    assert kind_of(there) is kind
    if kind in (None, FileKind.TEXT):
        write_text(path, "id,name\n")
        return
    with pytest.raises(StoreError, match="which would be lost"):
        write_text(path, "id,name\n")
    assert path.read_bytes() == there
    write_bytes(path, there + b" more")


def test_a_table_never_takes_the_place_of_a_workbook(file: Path) -> None:
    before = file.read_bytes()
    for data in (b"id,name\n", b"SIMPLE  =    T", b'{"figures": []}'):
        with pytest.raises(StoreError, match="holds a workbook"):
            write_bytes(file, data)
    assert file.read_bytes() == before


# Undo


def test_a_thousand_steps_can_be_undone_and_the_end_is_told(make_window: MakeWindow) -> None:
    history = History(demo_workbook())
    for number in range(MOST_STEPS + 5):
        history.do(SetField("spacer-5", "note", f"{number}"))
    count = 0
    while history.undo() is not None:
        count += 1
    assert count == MOST_STEPS
    assert history.at_the_end_kept
    window = make_window()
    assert not window.session.history.at_the_end_kept


# Earlier versions


def test_an_opened_backup_is_an_unsaved_copy(
    make_window: MakeWindow, file: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = opened(make_window, file, "sea-stacks", "parts")
    window.session.do(SetField("spacer-5", "name", "Five"))
    trigger(window, "act_save")
    backup = backup_of(file)
    before = backup.read_bytes()
    window.files.open_path(backup)
    assert window.session.path is None
    assert not window.session.history.clean
    assert f"an earlier version of {file.name}" in window.bar.text.text()
    asked: list[str] = []

    def ask(*arguments: object) -> tuple[str, str]:
        asked.append(str(arguments[2]))
        return "", ""

    monkeypatch.setattr(QFileDialog, "getSaveFileName", ask)
    trigger(window, "act_save")
    assert asked == [str(file)]
    assert backup.read_bytes() == before


def test_an_earlier_version_is_seen_before_it_is_restored(make_window: MakeWindow, file: Path, qtbot: QtBot) -> None:
    window = opened(make_window, file, "sea-stacks", "parts")
    first = window.session.workbook
    window.session.do(SetField("spacer-5", "name", "Five"))
    window.session.do(RemoveTrain("witch-broom"))
    trigger(window, "act_save")
    saved = file.read_bytes()
    trigger(window, "act_restore_version")
    sheet = window.findChild(VersionSheet)
    assert sheet is not None
    told = label(sheet, "version_changes")
    assert "Parts with other values: Spacer 5" in told
    assert "Trains that come back: Tern 72 on the Witch Broom" in told
    press(sheet, "version_restore", qtbot)
    assert window.session.workbook == first
    assert file.read_bytes() == saved
    window.session.undo()
    assert window.session.workbook.by_id["spacer-5"].name == "Five"


def test_a_second_name_of_the_file_is_mentioned(make_window: MakeWindow, file: Path, tmp_path: Path) -> None:
    os.link(file, tmp_path / "other.farrail.json")
    window = opened(make_window, file, "sea-stacks", "parts")
    before = file.read_bytes()
    window.session.do(SetField("spacer-5", "name", "Five"))
    trigger(window, "act_save")
    assert "a hard link" in window.bar.text.text()
    assert (tmp_path / "other.farrail.json").read_bytes() == before
    window.session.do(SetField("spacer-5", "name", "Six"))
    trigger(window, "act_save")
    assert "hard link" not in window.bar.text.text()
