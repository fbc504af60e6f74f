"""The Front station driven by hand: remedies in two clicks, zoom and turn, sheets, rings, comparison."""

import itertools
from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QCheckBox, QLineEdit, QMenu, QPushButton, QSlider
from pytestqt.qtbot import QtBot
from tests.ui.hands import LEFT, found, label, ledger, press, rows, type_in, type_over

from farrail.train.train import Side, Sky
from farrail.ui.actions.laying import fill_holder_menu
from farrail.ui.findings_column import FindingRow
from farrail.ui.selection import Selection
from farrail.ui.widgets.row_keys import Nth
from farrail.ui.window import MainWindow
from farrail.workbook.edits.trains import SetFocal


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    """The dusk train in the Front station, its remedies found."""
    made = make_window(train="sea-stacks")
    made.stations.show_station("front")
    settle(made)
    return made


def settle(window: MainWindow) -> None:
    window.front.wait()
    QApplication.processEvents()


def test_dark_corners_are_named_and_mended_in_two_clicks(window: MainWindow, qtbot: QtBot) -> None:
    assert label(window, "front_headline") == "Polariser 105 makes the corners black at 20 mm."
    assert "Free of vignetting from 29.1 mm on (25.5 to 30.3" in label(window, "front_detail")
    table = ledger(window, "front_remedies")
    before = window.session.workbook
    first = table.visualRect(table.ledger.index(0, 0)).center()
    qtbot.mouseClick(table.viewport(), LEFT, pos=first)
    shown = window.rail.shown
    assert shown is not None
    assert shown.front.corner_stops < 0.05  # previewed on the rail
    assert window.session.workbook is before
    press(window, "front_apply", qtbot)
    settle(window)
    assert label(window, "front_headline") == "The front stack is free of vignetting at 20 mm."
    assert len(window.session.history._done) == 1
    window.session.undo()
    settle(window)
    assert window.session.workbook is before
    # What is on the shelf, a crop, a longer focal length, a smaller aperture.
    assert len(rows(table)) == 9


def test_zooming_follows_the_hand_and_is_one_step(window: MainWindow, qtbot: QtBot) -> None:
    bar = found(window, QSlider, "front_zoom")
    bar.setSliderDown(True)
    for value in (100, 250, 400):
        bar.setValue(value)
        QApplication.processEvents()
    bar.setSliderDown(False)
    settle(window)
    assert window.session.train is not None
    assert window.session.train.conditions.focal_mm == 35.0
    assert label(window, "front_headline") == "The front stack is free of vignetting at 35 mm."
    assert len(window.session.history._done) == 1
    assert window.header.focal.button.text() == "35 mm"


def test_turning_the_holder(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    made = make_window(train="sea-stacks-slim")
    made.stations.show_station("front")
    assert "worst at 33°" in label(made, "front_turning")
    bar = found(made, QSlider, "front_turn")
    bar.setValue(45)
    assert made.session.train is not None
    assert made.session.train.front_stack[1].turned_deg == 45.0
    assert made.session.readout is not None
    assert made.session.readout.front.corner_stops > 0.5
    assert "at 20 mm" in label(made, "front_headline")


def test_a_sheet_is_slid_and_the_graduated_strength_advised(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_sheets", qtbot)
    table = ledger(window, "front_sheets")
    assert rows(table)[1][0] == "2  Soft graduated 0.9"
    type_over(table, 1, 1, "0", qtbot)
    assert window.session.train is not None
    assert window.session.train.front_stack[2].shifts_mm == (0.0, 0.0)
    assert rows(table)[1][2].startswith("in the middle")
    type_over(table, 1, 1, "up a bit", qtbot)
    assert "is not a length" in window.bar.text.text()
    field = found(window, QLineEdit, "front_sky")
    field.setText("3")
    assert label(window, "front_advice") == "choose 2 stops (density 0.6); the sky stays 1 stop brighter"
    field.setText("much")
    assert "such as 3" in label(window, "front_advice")


def slots(window: MainWindow) -> tuple[str | None, ...]:
    """What the holder's slots carry now."""
    train = window.session.train
    assert train is not None
    return train.front_stack[2].filters


def test_sheets_go_into_slots_from_the_shelf_and_from_the_rail_s_menu(window: MainWindow, qtbot: QtBot) -> None:
    window.session.select(Selection(Side.FRONT, 2))
    menu = QMenu()
    fill_holder_menu(menu, window.session, 2)
    first = menu.actions()[0].menu()
    assert isinstance(first, QMenu)
    next(a for a in first.actions() if a.text() == "Take it out").trigger()
    assert slots(window) == (None, "soft-0-9")
    window.stations.show_station("parts")
    window.parts.show_part("hard-0-6")
    press(window, "lay_part", qtbot)
    assert slots(window) == ("hard-0-6", "soft-0-9")
    window.parts.show_part("solid-3-0")
    press(window, "lay_part", qtbot)
    assert "No slot is free" in window.bar.text.text()
    window.parts.show_part("polariser-86")
    press(window, "lay_part", qtbot)
    train = window.session.train
    assert train is not None
    assert train.front_stack[2].drop_in == "polariser-86"


def test_one_ring_size_for_all_lenses(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_rings", qtbot)
    press(window, "plan_rings", qtbot)
    settle(window)
    table = ledger(window, "front_rings")
    first = rows(table)[0]
    assert first[:2] == ["82 mm", "step ring 52 to 82 mm, 2 × step ring 62 to 82 mm"]
    # No price was entered for any of them.
    assert first[2:] == ["?", "4", "1.27", "19.1 mm"]
    # From 95 mm on no lens available loses anything worth telling at its widest.
    assert [row[5] for row in rows(table) if row[0] in ("95 mm", "105 mm")] == ["widest", "widest"]
    *single, split = rows(table)
    assert all(int(a[3]) <= int(b[3]) for a, b in itertools.pairwise(single))
    # Two sizes kept: the 52 mm lens joins those of 62 mm, for one ring to buy and one that is owned.
    assert split[:4] == ["62 + 82 mm", "step ring 52 to 62 mm", "?", "2"]
    box = found(window, QCheckBox, "rings_swapped")
    qtbot.mouseClick(box, LEFT, pos=box.rect().center())
    press(window, "plan_rings", qtbot)
    settle(window)
    assert rows(table)[0][0] == "82 mm"


def test_a_train_without_a_front_stack_says_how_to_begin(make_window: Callable[..., MainWindow]) -> None:
    made = make_window(train="brae-cooled")
    made.stations.show_station("front")
    settle(made)
    assert label(made, "front_headline") == "No filters in front of the lens."
    assert not found(made, QSlider, "front_zoom").isVisible()
    made.session.show_train("witch-broom")
    settle(made)
    assert label(made, "front_headline") == "Filters in front need a camera lens as the optic."


def test_the_preview_gives_way_to_another_station(window: MainWindow, qtbot: QtBot) -> None:
    table = ledger(window, "front_remedies")
    table.setCurrentIndex(table.ledger.index(3, 0))
    assert window.rail.shown is not window.session.readout
    window.stations.show_station("light")
    assert window.rail.shown is window.session.readout
    window.stations.show_station("front")
    assert window.rail.shown is not window.session.readout
    qtbot.keyClick(table, Qt.Key.Key_Return)
    settle(window)
    assert window.rail.shown is window.session.readout


def test_a_crop_is_no_edit_and_a_longer_focal_length_is(window: MainWindow, qtbot: QtBot) -> None:
    table, before = ledger(window, "front_remedies"), window.session.workbook
    apply_button = found(window, QPushButton, "front_apply")
    crop = next(n for n, row in enumerate(rows(table)) if row[0].startswith("Crop"))
    table.setCurrentIndex(table.ledger.index(crop, 0))
    assert not apply_button.isEnabled()
    assert "developed" in apply_button.toolTip()
    qtbot.keyClick(table, Qt.Key.Key_Return)
    assert window.session.workbook is before
    zoom = next(n for n, row in enumerate(rows(table)) if row[0].startswith("Zoom"))
    table.setCurrentIndex(table.ledger.index(zoom, 0))
    press(window, "front_apply", qtbot)
    settle(window)
    assert window.session.train is not None
    assert window.session.train.conditions.focal_mm == 29.2
    assert label(window, "front_headline") == "The front stack is free of vignetting at 29.2 mm."


def test_findings_keep_room_for_their_text_in_the_smallest_window(window: MainWindow, qtbot: QtBot) -> None:
    window.resize(window.minimumSize())
    settle(window)
    # There is no room for sentences: their marks are there, and the sentences come when they are wanted.
    marks = window.findings.marks
    assert marks.isVisible()
    assert not window.findings.fits.isVisible()
    qtbot.mouseClick(marks.open, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.findings.width() >= 240
    found = window.findChildren(FindingRow)
    assert len(found) >= 3
    for row in found:
        assert row.height() >= row.heightForWidth(row.width()), row.objectName()


def sky_of(window: MainWindow) -> Sky | None:
    train = window.session.train
    assert train is not None
    return train.conditions.sky


def test_the_sky_through_a_polariser_is_described_typed_and_shown(window: MainWindow, qtbot: QtBot) -> None:
    session = window.session
    press(window, "show_sky", qtbot)
    table = rows(ledger(window, "front_sky"))
    assert [row[0] for row in table] == ["left edge", "quarter", "middle", "quarter", "right edge"]
    assert table[2][1] == "3.32"
    assert "The Sun's position is assumed" in label(window, "sky_text")
    type_in(window, "sky_sun_right_deg", "60", qtbot)
    assert sky_of(window) == Sky(sun_right_deg=60.0)
    assert rows(ledger(window, "front_sky"))[2][1] != "3.32"
    assert "assumed" not in label(window, "sky_text")
    type_in(window, "sky_most_polarised", "40", qtbot)
    assert sky_of(window) == Sky(sun_right_deg=60.0, most_polarised=0.4)
    before = session.train
    told: list[str] = []
    session.message.connect(lambda text, _: told.append(text))
    for name, text, words in (("sky_sun_high_deg", "120", "give −18 to 90"), ("sky_sun_right_deg", "west", "number"),
                              ("sky_most_polarised", "-5", "give 0 to 100")):  # fmt: skip
        type_in(window, name, text, qtbot)
        assert session.train == before
        assert words in told[-1]
    assert found(window, QLineEdit, "sky_sun_high_deg").text() == "20"
    press(window, "sky_usual", qtbot)
    assert sky_of(window) is None
    session.show_train("witch-broom")
    assert rows(ledger(window, "front_sky")) == []
    assert "no polariser" in label(window, "sky_text")


def test_each_fix_has_a_small_photo_of_what_it_gives(window: MainWindow) -> None:
    """Corners of the photo with a fix that clears them are lit; with one that does not, they are black."""
    table = ledger(window, "front_remedies")
    assert len(table.thumbnails) == len(rows(table))

    def corners(number: int) -> list[int]:
        image = table.thumbnails[Nth(number)]
        right, bottom = image.width() - 1, image.height() - 1
        return [image.pixelColor(x, y).lightness() for x in (0, right) for y in (0, bottom)]

    now = [row[2] for row in rows(table)]
    clear, dark = min(corners(now.index("0.00"))), min(corners(now.index("dark")))
    assert clear > 4 * dark
    train = window.session.train
    assert train is not None
    window.session.do(SetFocal(train.id, 34.0))
    assert table.thumbnails == {}
    settle(window)
    window.light.show_table(1)
    window.stations.show_station("light")
    window.light._thumbnails.work.wait()
    cameras = ledger(window, "all_cameras")
    assert len(cameras.thumbnails) == len(rows(cameras)) > 1
