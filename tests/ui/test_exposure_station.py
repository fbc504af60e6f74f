"""The Exposure station, driven as a person would."""

from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QComboBox, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, press, rows, type_in
from tests.ui.test_front import settle

from farrail.ui.widgets.countdown import Countdown
from farrail.ui.window import MainWindow
from farrail.workbook.edits.front import LayStack


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    made = make_window(train="sea-stacks")
    made.stations.show_station("exposure")
    settle(made)
    return made


def write(window: MainWindow, name: str, text: str, qtbot: QtBot) -> None:
    type_in(window, name, text, qtbot)
    settle(window)


def test_the_ladder_and_the_time_with_everything_on(window: MainWindow, qtbot: QtBot) -> None:
    assert label(window, "exposure_headline") == "11.5 stops (11.0 to 12.0): 1/15 s becomes 2 min 05 s to 4 min 10 s."
    assert "Cover the viewfinder" in label(window, "exposure_detail")
    table = {r[0]: r[1] for r in rows(ledger(window, "ladder"))}
    assert table["Solid 3.0"] == "9.97"
    assert table["Together"] == "11.0–12.0"
    write(window, "metered_time", "1/1000", qtbot)
    assert label(window, "exposure_headline") == "11.5 stops (11.0 to 12.0): 1/1000 s becomes 2 s to 4 s."
    assert label(window, "exposure_detail").startswith("Between 1.95 s and 3.91 s.")
    assert "by hand" not in label(window, "exposure_detail")
    assert window.session.train is not None
    assert window.session.train.conditions.metered_s == pytest.approx(0.001)


def test_working_back_from_a_time_through_the_filters(window: MainWindow, qtbot: QtBot) -> None:
    write(window, "time_through", "2 min 57 s", qtbot)
    assert window.session.train is not None
    assert window.session.train.conditions.metered_s == pytest.approx(1.0 / 16.0, rel=3e-3)
    window.session.undo()
    assert window.session.train.conditions.metered_s == pytest.approx(1.0 / 15.0)


def test_what_is_no_time_or_no_sensitivity_is_said_and_nothing_changes(window: MainWindow, qtbot: QtBot) -> None:
    before = window.session.train
    for name, text, words in (
        ("metered_time", "soon", "is no time"),
        ("time_through", "x", "is no time"),
        ("metered_iso", "0", "ISO 0"),
        ("metered_iso", "fast", "is not"),
        ("metered_time", "12 h", ""),
    ):
        write(window, name, text, qtbot)
        if words:
            assert words in window.bar.text.text()
            assert window.session.train is before
    assert "hours" in label(window, "exposure_detail")
    assert not rows(ledger(window, "payments"))
    write(window, "metered_time", "", qtbot)
    assert "Enter the time metered" in label(window, "exposure_detail")


def test_the_count_down_survives_other_stations_and_says_when_it_is_over(window: MainWindow, qtbot: QtBot) -> None:
    clock = [1000.0]
    countdown = found(window, Countdown)
    countdown._now = lambda: clock[0]
    assert label(window, "countdown_clock") == "2:57"
    # The polariser is not metered, 1 to 2 stops: 177 s is half a stop from both ends, which are one stop apart.
    assert label(window, "countdown_word") == "typical; it may need 2 min 05 s to 4 min 10 s"
    press(window, "countdown_start", qtbot)
    assert countdown.running
    window.stations.show_station("spacing")
    clock[0] += 60.0
    countdown.tick()
    window.session.show_train("witch-broom")
    window.stations.show_station("exposure")
    settle(window)
    assert label(window, "countdown_clock") == "1:57"
    clock[0] += 117.0
    with qtbot.waitSignal(countdown.ended):
        countdown.tick()
    assert "Close the shutter: 2 min 57 s are over." in window.bar.text.text()
    # Not by a flash alone: the word beside the clock says it as well, until the next begins.
    assert label(window, "countdown_word") == "over: 2 min 57 s"
    button = found(window, QPushButton, "countdown_start")
    assert not button.isEnabled()


def test_a_count_down_is_stopped_by_hand(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "countdown_start", qtbot)
    press(window, "countdown_start", qtbot)
    countdown = found(window, Countdown)
    assert not countdown.running
    assert label(window, "countdown_clock") == "2:57"


def test_a_train_that_takes_no_light_says_so(make_window: Callable[..., MainWindow]) -> None:
    made = make_window(train="brae-cooled")
    made.stations.show_station("exposure")
    settle(made)
    assert label(made, "exposure_headline") == "No measurable light loss from the parts entered."
    made.session.show_train("sea-stacks")
    made.session.do(LayStack("sea-stacks", (), label="Take all off"))
    settle(made)
    assert label(made, "exposure_headline") == "No light loss: this train has no filter and no powered part."
    assert not rows(ledger(made, "ladder"))


def test_sky_and_ground_choose_a_graduated_filter(window: MainWindow, qtbot: QtBot) -> None:
    assert "Meter sky and ground apart" in label(window, "graduated_choice")
    write(window, "metered_sky", "1/500", qtbot)
    write(window, "metered_ground", "1/30", qtbot)
    assert "4.0 stops brighter: use a 3-stop hard-edge graduated ND (0.9)" in label(window, "graduated_choice")
    box = found(window, QComboBox, "horizon")
    box.setCurrentIndex(1)
    assert "use a 3-stop soft-edge" in label(window, "graduated_choice")
    write(window, "metered_sky", "bright", qtbot)
    assert "bright" in label(window, "graduated_choice")


def test_a_rung_tells_stops_density_and_what_passes(window: MainWindow) -> None:
    table = ledger(window, "ladder")
    row = next(row for row in table.ledger.rows if row.cells[0].text == "Solid 3.0")
    assert row.cells[1].tip == "9.97 stops = density 3.00 = 0.1 % passes"
