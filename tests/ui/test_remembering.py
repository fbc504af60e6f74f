"""Pages turned to are found again at the next start; what is no such record in the settings is none."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication, QPushButton
from tests.ui.hands import found

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
