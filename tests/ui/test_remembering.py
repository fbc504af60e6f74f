"""Pages turned to and columns drawn are found again at the next start; what is no such record is none."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QSettings
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton
from tests.ui.hands import LEFT, found, ledger

from farrail.ui.widgets.ledger import Ledger
from farrail.ui.window import MainWindow

MakeWindow = Callable[..., MainWindow]


def test_pages_are_found_again_station_by_station(make_window: MakeWindow) -> None:
    first = make_window(train="sea-stacks")
    first.stations.show_station("light")
    found(first.light, QPushButton, "show_field").click()
    first.stations.show_station("front")
    found(first.front, QPushButton, "show_sky").click()
    first.close()
    again = make_window(train="sea-stacks")
    assert again.stations.current.key == "front"
    assert found(again.front, QPushButton, "show_sky").isChecked()
    # The other waits until it is shown, so that no start pays for it.
    assert not found(again.light, QPushButton, "show_field").isChecked()
    again.stations.show_station("light")
    assert found(again.light, QPushButton, "show_field").isChecked()
    # A hand that turns another page is not turned back.
    found(again.light, QPushButton, "show_ways").click()
    again.stations.show_station("front")
    again.stations.show_station("light")
    QApplication.processEvents()
    assert found(again.light, QPushButton, "show_ways").isChecked()
    again.session.history.mark_saved()


def test_a_page_never_shown_this_time_is_kept(make_window: MakeWindow) -> None:
    first = make_window()
    first.stations.show_station("light")
    found(first.light, QPushButton, "show_field").click()
    first.stations.show_station("spacing")
    first.close()
    make_window().close()
    third = make_window()
    third.stations.show_station("light")
    assert found(third.light, QPushButton, "show_field").isChecked()


@pytest.mark.parametrize("kept", ["", "no json", "[1]", '{"light": 3}', '{"light": "gone", "nowhere": "x"}'])
def test_odd_records_are_none(make_window: MakeWindow, tmp_path: Path, kept: str) -> None:
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    settings.setValue("window/pages", kept)
    settings.sync()
    window = make_window()
    window.stations.show_station("light")
    assert found(window.light, QPushButton, "show_clearance").isChecked()


def draw(table: Ledger, number: int, by_px: int) -> None:
    """Draw a column's right edge with the mouse."""
    header = table.horizontalHeader()
    edge = header.sectionViewportPosition(number) + header.sectionSize(number) - 1
    y = header.height() // 2
    QTest.mousePress(header.viewport(), LEFT, pos=QPoint(edge, y))
    QTest.mouseMove(header.viewport(), QPoint(edge + by_px // 2, y))
    QTest.mouseMove(header.viewport(), QPoint(edge + by_px, y))
    QTest.mouseRelease(header.viewport(), LEFT, pos=QPoint(edge + by_px, y))
    QApplication.processEvents()


def test_a_column_drawn_wider_is_so_at_the_next_start(make_window: MakeWindow) -> None:
    first = make_window()
    first.stations.show_station("spacing")
    QApplication.processEvents()
    table = ledger(first, "running_total")
    before = table.columnWidth(1)
    draw(table, 1, 34)
    assert table.columnWidth(1) == before + 34
    # It stays while the window and the train change.
    first.resize(1180, 760)
    first.session.show_train("sea-stacks")
    QApplication.processEvents()
    assert table.columnWidth(1) == before + 34
    first.close()
    again = make_window()
    again.stations.show_station("spacing")
    QApplication.processEvents()
    table = ledger(again, "running_total")
    assert table.columnWidth(1) == before + 34
    # A double-click on its edge gives it back; only what was drawn is kept.
    header = table.horizontalHeader()
    header.sectionHandleDoubleClicked.emit(1)
    assert table.columnWidth(1) == before
    assert not table.own_px


def test_columns_left_out_and_shown_again_are_nobodys_hand(make_window: MakeWindow) -> None:
    window = make_window()
    window.stations.show_station("compare")
    QApplication.processEvents()
    for size in ((1040, 680), (1280, 800)):
        window.resize(*size)
        for station in window.stations.all:
            window.stations.show_station(station.key)
            QApplication.processEvents()
    assert [table.objectName() for table in window.findChildren(Ledger) if table.own_px] == []


@pytest.mark.parametrize(
    "kept",
    ["", "[]", "3", '{"running_total": 4}', '{"running_total": {"0": 90, "9": 90, "x": 3, "1": "wide", "2": 1e9}}'],
)
def test_odd_widths_are_none(make_window: MakeWindow, tmp_path: Path, kept: str) -> None:
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    settings.setValue("window/columns", kept)
    settings.sync()
    window = make_window()
    assert ledger(window, "running_total").own_px == {}
