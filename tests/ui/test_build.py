"""The Assembly page: steps walked through with the space bar, ticked, started over, and repeated after a change."""

from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QPushButton, QWidget
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, press, rows

from farrail.ui.actions.laying import lay_by_choice
from farrail.ui.stations.build_papers import A4, LARGE, LETTER
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import RemovePart
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.workbook import empty_workbook


def open_build(make_window: Callable[..., MainWindow], train: str) -> MainWindow:
    window = make_window(train=train)
    window.stations.show_station("build")
    QApplication.processEvents()
    return window


def test_the_space_bar_walks_through_the_steps_and_lights_what_meets(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = open_build(make_window, "witch-broom")
    table = ledger(window, "build_steps")
    assert label(window, "build_headline").startswith("17 steps to go")
    table.setFocus()
    for _ in range(5):
        qtbot.keyClick(table, Qt.Key.Key_Space)
    train = window.session.train
    assert train is not None
    assert [tick.day for tick in train.ticks] == [date.today().isoformat()] * 5
    assert label(window, "build_headline").startswith("12 steps to go")
    # The sixth step is the first joint behind the flattener: its two faces are lit on the rail.
    assert label(window, "build_what") == "Screw Ring 48/42 on Tern flattener (M48×0.75)."
    picked = window.session.selection
    assert (picked.joint, picked.index) == (True, 1)
    assert [row[0] for row in rows(table)].count("✓") == 5
    book = window.session.workbook
    assert from_text(to_text(book), "x") == book
    press(window, "build_anew", qtbot)
    assert label(window, "build_headline").startswith("17 steps to go")
    window.session.undo()
    assert label(window, "build_headline").startswith("12 steps to go")


def test_a_change_says_what_to_do_again(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = open_build(make_window, "witch-broom")
    box = found(window, QComboBox, "build_start")
    press(window, "build_built", qtbot)
    box.setCurrentIndex(box.findText("To redo after changes"))
    box.activated.emit(box.currentIndex())
    assert label(window, "build_headline") == "No steps to repeat."
    train = window.session.train
    assert train is not None
    window.session.do(RemovePart(train.id, len(train.rear_train) - 1))
    QApplication.processEvents()
    assert "to do again" in label(window, "build_headline")
    steps = [row[1] for row in rows(ledger(window, "build_steps"))]
    assert "Take new flats." in steps
    assert not any(step.startswith("Clear a table") for step in steps)


def test_cautions_stand_beside_the_steps(make_window: Callable[..., MainWindow]) -> None:
    window = open_build(make_window, "sea-stacks")
    told = label(window, "build_cautions")
    assert "Never point a lens or your eye at the Sun" in told
    assert "ISO 12312-2" in told


def test_a_workbook_without_a_train_says_so(make_window: Callable[..., MainWindow]) -> None:
    from farrail.workbook.workbook import empty_workbook

    window = make_window(empty_workbook())
    window.stations.show_station("build")
    assert label(window, "build_headline") == "No train in view."


def test_the_sheet_is_written_where_one_says(
    make_window: Callable[..., MainWindow], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    window = open_build(make_window, "sea-stacks")
    for name, written in (("mine", "mine.pdf"), ("phone.html", "phone.html")):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, n=name: (str(tmp_path / n), ""))
        press(window, "build_sheet", qtbot)
        assert (tmp_path / written).stat().st_size > 5000
        assert "is written to" in window.bar.text.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "mine.pdf"), ""))
    press(window, "build_sheet", qtbot)
    assert "no such folder" in window.bar.text.text()


def test_a_ring_as_thick_as_the_train_is_short_is_written(
    make_window: Callable[..., MainWindow], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    window = open_build(make_window, "witch-broom-short")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "ring.stl"), ""))
    press(window, "build_ring", qtbot)
    assert "4.98 mm thick" in window.bar.text.text()
    assert "Threads are not modelled" in window.bar.text.text()
    assert (tmp_path / "ring.stl").stat().st_size > 10_000
    window.session.show_train("witch-broom")
    press(window, "build_ring", qtbot)
    assert "no ring is missing" in window.bar.text.text()


def test_an_adapter_is_drawn_for_a_turner(
    make_window: Callable[..., MainWindow], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_build(make_window, "witch-broom-short")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "whole"), ""))
    found(window, QAction, "build_order_whole").trigger()
    # 55 mm published less 12.5 mm in the camera; the filter that place between is gone with the rest.
    assert "42.50 ± 0.10 mm" in window.bar.text.text()
    assert (tmp_path / "whole.pdf").stat().st_size > 3000
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "gap.dxf"), ""))
    found(window, QAction, "build_order_gap").trigger()
    assert "4.98 ± 0.10 mm" in window.bar.text.text()
    assert (tmp_path / "gap.dxf").stat().st_size > 3000
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "gap.dxf"), ""))
    found(window, QAction, "build_order_gap").trigger()
    assert "its folder does not exist" in window.bar.text.text()
    window.session.show_train("sea-stacks")
    found(window, QAction, "build_order_whole").trigger()
    assert "not turned on a lathe" in window.bar.text.text()


def test_what_is_done_either_way_stands_under_the_cautions(make_window: Callable[..., MainWindow]) -> None:
    window = open_build(make_window, "sea-stacks")
    told = label(window, "build_customs")
    assert "Behind the square filters: free of vignetting from 24.4 mm" in told
    assert "Taken off: free of vignetting from 27.5 mm" in told
    window.session.show_train("witch-broom")
    assert not found(window, QWidget, "build_customs").isVisibleTo(window)


def test_no_button_waits_for_nothing_in_an_empty_workbook(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(empty_workbook())
    window.stations.show_station("build")
    QApplication.processEvents()
    for name in ("build_tick", "build_built", "build_anew", "build_sheet", "build_ring", "build_order"):
        assert not found(window, QPushButton, name).isEnabled()


def test_a_pouch_lies_on_no_rail_and_says_so(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(train="sea-stacks")
    before = window.session.workbook
    said: list[tuple[str, bool]] = []
    window.session.message.connect(lambda words, wrong: said.append((words, wrong)))
    assert not lay_by_choice(window.session, "brae-pouch")
    assert said == [("Brae pouch, ten sheets is not part of a train; the pack list uses it.", True)]
    assert window.session.workbook is before


def test_a_sheet_in_large_type_is_asked_for_by_its_kind(
    make_window: Callable[..., MainWindow], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    """A4 is 595 by 842 points, Letter 612 by 792 (ISO 216, ANSI/ASME Y14.1); large type takes more pages."""
    window = open_build(make_window, "sea-stacks")
    pages, target = {}, tmp_path / "sheet.pdf"
    for kind in map(str, (A4, LETTER, LARGE)):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, k=kind: (str(target), k))
        press(window, "build_sheet", qtbot)
        read = PdfReader(target)
        pages[kind] = (len(read.pages), round(read.pages[0].mediabox.width), round(read.pages[0].mediabox.height))
    normal, letter, large = pages.values()
    assert normal[1:] == large[1:] == (595, 842)
    assert letter[1:] == (612, 792)
    assert large[0] > normal[0]
