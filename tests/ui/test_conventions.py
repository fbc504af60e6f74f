"""What a person of habits expects of any window on this desktop: keys, tables, drops, in English and in German."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QItemSelectionModel, QMimeData, QPoint, Qt, QUrl
from PySide6.QtGui import QAction, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QMenu, QTreeWidget
from tests.ui.hands import found
from tests.ui.test_close_up_station import settle
from tests.ui.test_keys import CTRL, Keys

from farrail import language
from farrail.parts.registry import KIND_NAMES
from farrail.ui.button_tips import TIPS
from farrail.ui.stations.parts import PartsStation
from farrail.ui.stations.registry import STATIONS
from farrail.ui.widgets.mnemonics import HAS_ONE
from farrail.ui.window import MainWindow
from farrail.ui.window_menus import WindowMenus
from farrail.workbook.shelf_view import Facet

MakeWindow = Callable[..., MainWindow]
NONE = Qt.KeyboardModifier.NoModifier


@pytest.fixture(params=["en", "de"])
def window(request: pytest.FixtureRequest, make_window: MakeWindow) -> Iterator[MainWindow]:
    before = language.current()
    language.choose(request.param)
    try:
        yield make_window(train="lantern-wheel")
    finally:
        language.choose(before)


def shelf_of(window: MainWindow) -> PartsStation:
    window.stations.show_station("parts")
    settle(window)
    return window.parts


def select(station: PartsStation, *numbers: int) -> None:
    table = station.shelf
    table.setFocus()
    rows = QItemSelectionModel.SelectionFlag.Rows
    first, more = QItemSelectionModel.SelectionFlag.ClearAndSelect, QItemSelectionModel.SelectionFlag.Select
    table.selectionModel().setCurrentIndex(table.ledger.index(numbers[0], 0), first | rows)
    for number in numbers[1:]:
        table.selectionModel().select(table.ledger.index(number, 0), more | rows)


def action(window: MainWindow, name: str) -> QAction:
    return next(one for one in window.actions() if one.objectName() == f"act_{name}")


# Key, and the page that is in front or what is then true.
TABLE: tuple[tuple[str, Qt.Key, Qt.KeyboardModifier, Callable[[MainWindow], bool]], ...] = (
    ("full screen", Qt.Key.Key_F11, NONE, lambda w: w.isFullScreen()),
    ("next page", Qt.Key.Key_PageDown, CTRL, lambda w: w.stations.current.key == "light"),
    ("next page, by Tab", Qt.Key.Key_Tab, CTRL, lambda w: w.stations.current.key == "light"),
    ("find on the page", Qt.Key.Key_F, CTRL, lambda w: isinstance(w.focusWidget(), QLineEdit)),
    ("undo without anything to undo", Qt.Key.Key_Z, CTRL, lambda w: w.session.history.present is not None),
    ("close the window", Qt.Key.Key_W, CTRL, lambda w: not w.isVisible()),
)


@pytest.mark.parametrize("number", range(len(TABLE)), ids=[row[0] for row in TABLE])
def test_a_key_does_what_it_does_elsewhere(window: MainWindow, number: int) -> None:
    _, key, modifiers, happens = TABLE[number]
    window.stations.show_station("parts" if key is Qt.Key.Key_F else "spacing")
    Keys(window).press(key, modifiers)
    assert happens(window)
    if window.isFullScreen():
        Keys(window).press(Qt.Key.Key_F11)


def test_rows_of_the_shelf_are_selected_copied_pasted_renamed_and_removed(window: MainWindow) -> None:
    station, session = shelf_of(window), window.session
    keys = Keys(window)
    spare = [n for n, part in enumerate(session.workbook.shelf) if not session.workbook.use_counts[part.id]][:2]
    ids = [session.workbook.shelf[n].id for n in spare]
    select(station, *spare)
    assert station.shelf.selected_parts() == ids
    keys.press(Qt.Key.Key_C, CTRL)
    copied = QApplication.clipboard().text().splitlines()
    assert len(copied) == 3
    assert all(session.workbook.by_id[one].name in line for one, line in zip(ids, copied[1:], strict=True))
    before = session.workbook
    keys.press(Qt.Key.Key_Delete)
    assert not {part.id for part in session.workbook.shelf} & set(ids)
    session.undo()
    assert session.workbook == before
    select(station, spare[0])
    keys.press(Qt.Key.Key_F2)
    assert isinstance(window.focusWidget(), QLineEdit)
    keys.press(Qt.Key.Key_Escape)
    select(station, spare[0])
    keys.press(Qt.Key.Key_D, CTRL)
    assert len(session.workbook.shelf) == len(before.shelf) + 1
    session.undo()
    # What was copied is offered as parts again.
    station.shelf.setFocus()
    keys.press(Qt.Key.Key_V, CTRL)
    assert station.importing.isVisible()
    names = [one.objectName() for one in station.shelf.actions() if not one.isSeparator()]
    assert names[:5] == ["shelf_lay", "shelf_duplicate", "shelf_rename", "shelf_paste", "shelf_discard"]


def test_a_part_a_train_uses_is_not_removed_with_the_others(window: MainWindow) -> None:
    station, session = shelf_of(window), window.session
    uses = session.workbook.use_counts
    free = next(n for n, part in enumerate(session.workbook.shelf) if not uses[part.id])
    used = next(n for n, part in enumerate(session.workbook.shelf) if uses[part.id])
    before = session.workbook
    keys = Keys(window)
    select(station, free, used)
    keys.press(Qt.Key.Key_Delete)
    assert session.workbook is before
    assert session.workbook.shelf[used].name in window.bar.text.text()


def test_lengths_sort_as_numbers(window: MainWindow) -> None:
    station = shelf_of(window)
    station.shelf._sort_by(2)
    texts = [row.cells[2].text for row in station.shelf.ledger.rows if row.cells[2].text]
    values = [float(text.replace("−", "-").replace(",", ".")) for text in texts]
    assert values == sorted(values)
    assert max(values) > 10.0 > min(values)


def test_a_new_part_keeps_the_filter_and_is_listed(window: MainWindow) -> None:
    station = shelf_of(window)
    wanted = station._filter.toggled(Facet.KIND, str(KIND_NAMES["shim"]))
    station.filter_by(wanted)
    listed = len(station.shelf.ledger.rows)
    station.add("spacer")
    assert station._filter == wanted
    assert len(station.shelf.ledger.rows) == listed + 1
    assert station.shelf.selected_parts() == [window.session.workbook.shelf[-1].id]


def test_every_column_says_what_is_in_it(window: MainWindow) -> None:
    from farrail.ui.widgets.ledger import Ledger

    for entry in window.stations.entries:
        window.stations.show_station(entry.key)
    settle(window)
    tables = window.findChildren(Ledger)
    assert len(tables) > 10
    for table in tables:
        for column in table.ledger.columns:
            tip = table.ledger.headerData(
                table.ledger.columns.index(column), Qt.Orientation.Horizontal, Qt.ItemDataRole.ToolTipRole
            )
            assert tip, (table.objectName(), column)


def test_commands_for_a_part_are_off_until_one_is_selected(window: MainWindow) -> None:
    from farrail.train.train import Side
    from farrail.ui.selection import Selection

    window.session.select(Selection())
    for name in ("flip", "remove", "move_left", "move_right", "turn"):
        assert not action(window, name).isEnabled()
        assert action(window, name).toolTip() == action(window, name).statusTip() != ""
    keys = Keys(window)
    window.rail.setFocus()
    keys.press(Qt.Key.Key_Delete)
    assert len(window.bar.text.text()) > 20
    window.session.select(Selection(Side.REAR, 1))
    assert all(action(window, name).isEnabled() for name in ("flip", "remove", "move_left"))


def test_recent_files_show_their_folder_and_can_be_cleared(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "mine.farrail.json"
    path.write_text("{}")
    window.files.remember(path)
    menus = window.findChild(WindowMenus)
    assert menus is not None
    menus._fill_recent()
    texts = [one.text() for one in menus._recent_menu.actions()]
    assert tmp_path.name[-20:] in texts[0]
    menus._recent_menu.actions()[-1].trigger()
    assert window.files.recent() == []
    assert path.exists()


@pytest.mark.parametrize("what", ["text", "two files"])
def test_what_cannot_be_dropped_is_said_why(window: MainWindow, tmp_path: Path, what: str) -> None:
    data = QMimeData()
    if what == "text":
        data.setText("M42 spacer 10 mm")
    else:
        names = [tmp_path / "a.farrail.json", tmp_path / "b.csv"]
        data.setUrls([QUrl.fromLocalFile(str(one)) for one in names])
    before = window.session.workbook
    how = Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, NONE
    # The rail in a window of its own takes and refuses what the window does.
    window.floating.toggle()
    apart = window.floating.apart
    assert apart is not None
    for target in (window, apart):
        window.bar.text.setText("")
        entered = QDragEnterEvent(QPoint(40, 40), *how)
        QApplication.sendEvent(target, entered)
        assert entered.isAccepted()
        QApplication.sendEvent(target, QDropEvent(QPoint(40, 40).toPointF(), *how))
        settle(window)
        assert window.session.workbook is before
        assert len(window.bar.text.text()) > 20
    window.floating.toggle()


def test_escape_in_a_field_brings_the_old_value_back(window: MainWindow) -> None:
    station = shelf_of(window)
    part = window.session.workbook.shelf[0]
    station.show_part(part.id)
    keys = Keys(window)
    station.sheet.focus_name()
    keys.type("something else")
    keys.press(Qt.Key.Key_Escape)
    keys.press(Qt.Key.Key_Tab)
    assert window.session.workbook.by_id[part.id].name == part.name
    assert found(window, QLineEdit, "shelf_search").text() == ""


def test_every_entry_of_the_menus_has_a_letter_of_its_own(window: MainWindow) -> None:
    every = [window.header.workbook_menu, *window.header.workbook_menu.findChildren(QMenu)]
    # Menus of names show names as they are.
    menus = [menu for menu in every if menu.objectName() not in ("versions_menu", "ways_menu")]
    assert len(menus) > 5
    for menu in menus:
        menu.aboutToShow.emit()
        entries = [one.text() for one in menu.actions() if one.text() and not one.isSeparator()]
        if not any(HAS_ONE.search(text) for text in entries):
            assert len(entries) < 8  # the recent files
            continue
        letters = [one.group(1).casefold() for text in entries if (one := HAS_ONE.search(text))]
        assert len(set(letters)) == len(letters), menu.objectName()
        assert len(letters) >= min(len(entries), 20), (menu.objectName(), entries)
    # The names of commands elsewhere are without it.
    Keys(window).press(Qt.Key.Key_K, CTRL)
    listed = found(QApplication.activePopupWidget() or window, QTreeWidget, "palette_list")
    names = [str(listed.model().index(row, 0).data()) for row in range(listed.model().rowCount())]
    assert not [name for name in names if "&" in name]


def test_every_button_says_what_it_does(window: MainWindow) -> None:
    """Of every page with three trains: a tip, or a name of its own that a menu or a box gives."""
    for train in ("lantern-wheel", "sea-stacks", "barnacles"):
        window.session.show_train(train)
        for entry in STATIONS:
            window.stations.show_station(entry.key)
            settle(window)
    without = {
        button.objectName() for button in window.findChildren(QAbstractButton)
        if not button.toolTip() and button.objectName() and not button.objectName().startswith("qt_")
    }  # fmt: skip
    assert not without


def test_no_tip_is_left_over(window: MainWindow) -> None:
    for entry in STATIONS:
        window.stations.show_station(entry.key)
    there = {button.objectName() for button in window.findChildren(QAbstractButton)}
    assert set(TIPS) <= there
