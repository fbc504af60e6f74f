"""The Compare station: trains and states beside each other, nothing edited, the better one marked by a word."""

import csv
import io
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication, QCheckBox, QComboBox, QFileDialog, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, press, rows

from farrail.parts.inventory_item import Status
from farrail.ui.stations.compare import CompareStation
from farrail.ui.window import MainWindow
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.workbook import empty_workbook


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    window = make_window(train="sea-stacks")
    window.stations.show_station("compare")
    QApplication.processEvents()
    return window


def choose(window: MainWindow, number: int, name: str) -> None:
    box = found(window, QComboBox, f"compare_{number}")
    at = box.findText(name)
    assert at >= 0, name
    box.setCurrentIndex(at)
    box.activated.emit(at)


def figures(window: MainWindow) -> dict[str, list[str]]:
    return {row[0]: row[1:] for row in rows(ledger(window, "compare_table"))}


def test_two_trains_by_hand(window: MainWindow) -> None:
    """The zoom with its polariser outermost and behind the sheets: 41.0 against 18.5 mm, clean from 29.13 and 17.00."""
    assert found(window, QComboBox, "compare_2").currentText() == "The zoom with its polariser behind the sheets"
    window.stations.of(CompareStation).wait()
    told = figures(window)
    assert told["Depth ahead of the lens, mm"][:2] == ["41.00", "18.50  better"]
    # With the interval of the entrance pupil, which is assumed: the other is better over all of it.
    assert told["First clean focal length, mm"][:2] == ["25.5–30.3", "17.00–17.55  better"]
    assert told["Parts"][:2] == ["9", "7  better"]
    assert "Joints that do not mate" not in told
    box = found(window, QCheckBox, "compare_only")
    box.setChecked(False)
    assert figures(window)["Joints that do not mate"][:2] == ["0", "0"]
    assert label(window, "compare_headline") == "B is free of vignetting from 17.0 mm, A from 29.1 mm."


def test_all_are_drawn_at_one_scale_through_one_line(window: MainWindow) -> None:
    station = window.stations.of(CompareStation)
    choose(window, 3, "17-35 mm zoom on the sea stacks at dusk")
    assert len(station.chosen()) == 2  # each once
    choose(window, 3, "12 mm with the slip-on 165 mm holder")
    scale, zero = station.rails.scale_and_zero
    first, last = station.rails._placed()[0], station.rails._placed()[-1]
    assert scale > 0.5
    for section, at in (first, last):
        assert zero + (section.left_mm - at) * scale >= 0.0
        assert zero + (section.right_mm - at) * scale <= station.rails.width()
    align = found(window, QComboBox, "compare_align")
    align.setCurrentIndex(1)
    align.activated.emit(1)
    # The lens is 96 mm long: aligned at the seat, its flange is so much behind the line.
    assert next(at for _, at in station.rails._placed()) == pytest.approx(-96.0)


def test_a_state_of_the_train_is_compared_without_an_edit(window: MainWindow, qtbot: QtBot) -> None:
    before = window.session.workbook
    choose(window, 2, "This train without Polariser 105")
    # 6 mm of polariser less.
    assert figures(window)["Depth ahead of the lens, mm"][:2] == ["41.00", "35.00  better"]
    press(window, "compare_differs", qtbot)
    assert "− Polariser 105" in label(window, "compare_words")
    assert window.session.workbook is before


def test_a_kept_state_is_told_against_the_train_as_it_lies(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="lantern-wheel")
    window.stations.show_station("compare")
    choose(window, 2, "Lantern 150 with its wheel, 2026-09-26")
    # Two shims of 1.0 and 0.2 mm: what was 0.08 too short is 1.12 too long.
    told = next(row for name, row in figures(window).items() if name.startswith("Error (actual − required)"))
    assert told[:2] == ["−0.08  better", "1.12"]
    press(window, "compare_differs", qtbot)
    text = label(window, "compare_words")
    assert "+ Shim 0.2" in text
    assert "+ Shim 1.0" in text


def test_what_is_missing_goes_on_the_wish_list_and_out_as_a_table(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    assert session.do(SetField("skerry-100", "status", Status.BROKEN))
    assert session.do(SetField("skerry-100", "price", 120.0))
    broken = session.workbook.by_id["skerry-100"]
    press(window, "compare_missing", qtbot)
    assert rows(ledger(window, "compare_wishes")) == [["Skerry holder 100", "120.00"], ["Together", "120.00"]]
    out = tmp_path / "wishes"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    press(window, "compare_export", qtbot)
    table = list(csv.reader(io.StringIO((tmp_path / "wishes.csv").read_text(encoding="utf-8-sig"))))
    assert table[1:] == [["Skerry holder 100", "120.00"], ["Together", "120.00"]]
    press(window, "compare_wish", qtbot)
    assert session.workbook.by_id["skerry-100"].status is Status.WANTED
    assert not found(window, QPushButton, "compare_wish").isEnabled()
    session.undo()
    assert session.workbook.by_id["skerry-100"] == broken


def test_curves_are_drawn_and_say_where_there_are_none(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "compare_curves", qtbot)
    QApplication.processEvents()
    assert not window.grab().isNull()
    station = window.stations.of(CompareStation)
    assert [letter for letter, *_ in station._sweeps._curves] == ["A", "B"]
    assert [letter for letter, *_ in station._profiles._curves] == ["A", "B"]


def test_an_empty_workbook_has_nothing_to_compare(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(empty_workbook())
    window.stations.show_station("compare")
    assert label(window, "compare_headline") == "Choose two trains to compare."
    for page in ("compare_differs", "compare_curves", "compare_missing", "compare_figures"):
        press(window, page, qtbot)
    assert not window.grab().isNull()
