"""The keyboard alone: five tasks with the keys they take, the rail walked, and what Enter and Escape do everywhere."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QLineEdit, QMenu, QPushButton, QTreeWidget, QWidget
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, popover, rows
from tests.ui.walking import settle

from farrail.parts.base import FixedLength
from farrail.train.train import Side
from farrail.ui.selection import Selection
from farrail.ui.window import MainWindow

MakeWindow = Callable[..., MainWindow]
CTRL, SHIFT, ALT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)
ENTER, ESCAPE = Qt.Key.Key_Return, Qt.Key.Key_Escape


class Keys:
    """Presses keys where the focus is, and counts them."""

    def __init__(self, window: MainWindow) -> None:
        self.window, self.count = window, 0
        window.activateWindow()
        window.setFocus()
        settle(window)

    def _at(self) -> QWidget:
        popup = QApplication.activePopupWidget()
        return (popup.focusWidget() or popup) if popup is not None else self.window.focusWidget() or self.window

    def press(self, key: Qt.Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(self._at(), key, modifiers)
        self.count += 1
        settle(self.window)

    def type(self, text: str) -> None:
        for letter in text:
            QTest.keyClicks(self._at(), letter)
            self.count += 1
        settle(self.window)


def texts(sheet: QWidget) -> str:
    """Everything a sheet says."""
    return "\n".join(label.text() for label in sheet.findChildren(QLabel))


def probing(window: MainWindow) -> bool:
    return window.rail._probe is not None


def previewing(window: MainWindow) -> bool:
    return window.rail.previewing


# Five tasks


def test_a_part_is_laid(make_window: MakeWindow) -> None:
    window = make_window(train="witch-broom")
    before = window.session.train
    assert before is not None
    keys = Keys(window)
    keys.press(Qt.Key.Key_F6)
    keys.press(Qt.Key.Key_End)
    keys.press(ENTER)
    assert window.focusWidget() is window.findings.fits
    keys.press(ENTER)
    after = window.session.train
    assert after is not None
    assert len(after.rear_train) == len(before.rear_train) + 1
    assert keys.count <= 8


def test_a_length_is_typed_over(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    keys = Keys(window)
    keys.press(Qt.Key.Key_F6)
    keys.type("s")
    keys.type("s")
    assert window.session.selected_part() == "spacer-5"
    keys.press(ENTER)
    keys.type("5.2")
    keys.press(ENTER)
    part = window.session.workbook.by_id["spacer-5"]
    assert isinstance(part, FixedLength)
    assert part.path_length_mm.value == pytest.approx(5.2)
    assert keys.count <= 8


def test_a_proposal_is_laid(make_window: MakeWindow) -> None:
    window = make_window(train="witch-broom-short")
    before = window.session.train
    keys = Keys(window)
    keys.press(Qt.Key.Key_P, CTRL | ALT)
    window.spacing.plan.wait()
    settle(window)
    assert window.focusWidget() is ledger(window, "plan_proposals")
    assert previewing(window)
    keys.press(ENTER)
    assert window.session.train != before
    assert window.session.history.undo_label is not None
    assert keys.count <= 8


def test_a_combination_is_asked_for_and_laid(make_window: MakeWindow) -> None:
    window = make_window(train="lichen")
    before = window.session.train
    keys = Keys(window)
    keys.press(Qt.Key.Key_K, CTRL | SHIFT)
    keys.type("18")
    keys.press(ENTER)
    window.close_up.ask.work.wait()
    settle(window)
    answers = ledger(window, "ask_answers")
    assert window.focusWidget() is answers
    assert answers.currentIndex().row() == 0
    keys.press(ENTER)
    assert window.session.train != before
    assert keys.count <= 8


def test_the_shelf_is_exported(make_window: MakeWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window = make_window()
    out = tmp_path / "shelf.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(out), ""))
    keys = Keys(window)
    keys.press(Qt.Key.Key_K, CTRL)
    keys.type("expor")
    keys.press(ENTER)
    assert out.read_text(encoding="utf-8").count("\n") > 20
    assert keys.count <= 8


def test_another_filter_comes_into_the_beam(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    keys = Keys(window)
    keys.press(Qt.Key.Key_K, CTRL)
    keys.type("red 31")
    keys.press(ENTER)
    readout = window.session.readout
    assert readout is not None
    assert any(glass.part.name == "Red 31" for glass in readout.layout.trace.glass)
    assert keys.count <= 8


# The rail


def test_the_rail_is_walked_across_the_optic(make_window: MakeWindow) -> None:
    """From the outermost filter to the camera: every part and joint once, and back."""
    window = make_window(train="sea-stacks")
    train = window.session.train
    assert train is not None
    keys = Keys(window)
    keys.press(Qt.Key.Key_F6)
    keys.press(Qt.Key.Key_Home)
    assert window.session.selection == Selection(Side.FRONT, len(train.front_stack), joint=True)
    met = [window.session.selection]
    for _ in range(200):
        keys.press(Qt.Key.Key_Right)
        if window.session.selection == met[-1]:
            break
        met.append(window.session.selection)
    # By hand: joints and parts alternate in each row, and each row has one joint more than parts.
    assert len(met) == 2 * len(train.front_stack) + 1 + 2 * len(train.rear_train) + 1
    assert len(set(met)) == len(met)
    assert {place.side for place in met} == {Side.FRONT, Side.REAR}
    for place in reversed(met[:-1]):
        keys.press(Qt.Key.Key_Left)
        assert window.session.selection == place
    keys.press(Qt.Key.Key_End)
    assert window.session.selection == met[-1]
    keys.type("p")
    first = window.session.selected_part()
    assert first is not None
    assert window.session.workbook.by_id[first].name.startswith("P")
    before = window.rail.frame.origin_px
    keys.press(Qt.Key.Key_Right, CTRL)
    assert window.rail.frame.origin_px != before


def test_pictures_are_read_point_by_point(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    window.stations.show_station("light")
    settle(window)
    map_ = window.light.map
    map_.finish()
    map_.setFocus(Qt.FocusReason.TabFocusReason)
    assert "Corner illumination " in map_.said()
    QTest.keyClick(map_, Qt.Key.Key_Right)
    assert map_.said() == "0.0 mm, 0.0 mm: 100 %"
    for _ in range(4):
        QTest.keyClick(map_, Qt.Key.Key_Right)
    for _ in range(3):
        QTest.keyClick(map_, Qt.Key.Key_Up)
    # By hand: half the APS-C sensor's sides.
    readout = window.session.readout
    assert readout is not None
    assert readout.light.corner_ri is not None
    assert re.match(r"11\.[78] mm right, 7\.[89] mm up: 6\d %", map_.said())
    assert probing(window)
    QTest.keyClick(map_, ESCAPE)
    assert not probing(window)
    window.session.show_train("sea-stacks")
    window.stations.show_station("front")
    settle(window)
    plot = window.front._plot
    plot.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClick(plot, Qt.Key.Key_Home)
    assert plot.said().startswith("17 mm: ")
    view = window.front._view
    view.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClick(view, Qt.Key.Key_Right)
    assert view.said().endswith(" mm")
    window.session.show_train("barnacles")
    window.stations.show_station("close_up")
    settle(window)
    window.close_up.wait()
    QApplication.processEvents()
    reach = window.close_up.plot
    reach.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClick(reach, Qt.Key.Key_Right)
    assert "mm away" in reach.said()


def test_tab_goes_through_header_rail_station_and_findings(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    window.stations.show_station("light")
    settle(window)
    regions = {"header": window.header, "rail": window.rail, "station": window.stations, "findings": window.findings}
    met: list[str] = []
    at: QWidget | None = window
    for _ in range(3000):
        at = None if at is None else at.nextInFocusChain()
        if at is None or at is window:
            break
        if at.isVisible() and at.focusPolicy() & Qt.FocusPolicy.TabFocus:
            where = next(name for name, part in regions.items() if part is at or part.isAncestorOf(at))
            met += [] if met and met[-1] == where else [where]
    assert met == ["header", "rail", "station", "findings"]


# Enter, Escape, and what is shown


def test_enter_presses_and_opens(make_window: MakeWindow) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("exposure")
    settle(window)
    ladder = ledger(window, "ladder")
    ladder.setFocus()
    ladder.setCurrentIndex(ladder.ledger.index(0, 0))
    QTest.keyClick(ladder, ENTER)
    assert rows(ladder)[0][0] in texts(popover())
    popover().close()
    row = next(w for w in window.findings._rows if w.isVisible())
    row.setFocus()
    QTest.keyClick(row, ENTER)
    settle(window)
    if QApplication.activePopupWidget() is not None:
        popover().close()
    tab = found(window, QPushButton, "tab_light")
    tab.setFocus()
    QTest.keyClick(tab, ENTER)
    assert window.stations.current.key == "light"


def test_escape_takes_back_and_a_bare_shift_does_not(make_window: MakeWindow) -> None:
    window = make_window(train="witch-broom-short")
    keys = Keys(window)
    keys.press(Qt.Key.Key_P, CTRL | ALT)
    window.spacing.plan.wait()
    settle(window)
    assert previewing(window)
    keys.press(Qt.Key.Key_Shift)
    window.rail.setFocus()
    keys.press(Qt.Key.Key_Shift)
    assert previewing(window)
    keys.press(ESCAPE)
    assert not previewing(window)
    window.session.message.emit("Something happened.", False)
    assert window.bar.isVisible()
    window.setFocus()
    keys.press(ESCAPE)
    assert not window.bar.isVisible()


def test_what_the_pointer_is_told_can_be_had_by_key(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    keys = Keys(window)
    keys.press(Qt.Key.Key_F6)
    keys.type("s")
    keys.press(Qt.Key.Key_F1, SHIFT)
    sheet = popover()
    assert sheet.objectName() == "told_more"
    assert " mm, " in texts(sheet)
    sheet.close()
    table = ledger(window, "running_total")
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(0, 0))
    keys.press(Qt.Key.Key_F1, SHIFT)
    assert rows(table)[0][0] in texts(popover())
    popover().close()


def test_the_palette_finds_whatever_has_a_name(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    keys = Keys(window)
    cases: tuple[tuple[str, Callable[[], bool]], ...] = (
        ("barnacles", lambda: window.session.train is not None and window.session.train.id == "barnacles"),
        ("adapter rings", lambda: window.stations.current.key == "front"),
        ("kittiwake drawer", lambda: window.parts.shown == "kittiwake-drawer"),
    )
    for typed, done in cases:
        keys.press(Qt.Key.Key_K, CTRL)
        keys.type(typed)
        keys.press(ENTER)
        assert done(), typed
    window.session.show_train("lantern-apsc")
    keys.press(Qt.Key.Key_K, CTRL)
    keys.type("focal length")
    keys.press(Qt.Key.Key_PageDown)
    keys.press(ENTER)
    assert popover().isVisible()
    popover().close()


def test_the_caret_stands_where_one_begins(make_window: MakeWindow) -> None:
    window = make_window()
    keys = Keys(window)
    keys.press(Qt.Key.Key_T, CTRL)
    field = found(popover(), QLineEdit, "new_train_name")
    assert popover().focusWidget() is field
    popover().close()
    keys.press(Qt.Key.Key_K, CTRL | SHIFT)
    assert window.focusWidget() is window.close_up.ask.width_


def test_a_column_is_sorted_by_key(make_window: MakeWindow) -> None:
    window = make_window()
    window.stations.show_station("parts")
    settle(window)
    shelf = window.parts.shelf
    shelf.setFocus()
    shelf.setCurrentIndex(shelf.ledger.index(0, 0))
    before = [row[0] for row in rows(shelf)]
    QTest.keyClick(shelf, Qt.Key.Key_S, CTRL | ALT)
    assert [row[0] for row in rows(shelf)] == sorted(before, key=str.casefold)


def test_nothing_taken_away_becomes_a_window_of_its_own(make_window: MakeWindow, qtbot: QtBot) -> None:
    """Answers offered and taken away in one turn were shown as windows."""
    from farrail.workbook.workbook import empty_workbook

    window = make_window(workbook=empty_workbook(), train="")
    window.show_first()
    found(window, QPushButton, "route_night").click()
    settle(window)
    field = window.focusWidget()
    assert isinstance(field, QLineEdit)
    QTest.keyClicks(field, "one inch")
    QTest.keyClick(field, ENTER)
    settle(window)
    shown = [w for w in QApplication.topLevelWidgets() if w.isVisible() and w is not window]
    assert not shown, [f"{type(w).__name__} {w.objectName()}" for w in shown]
    assert label(window, "route_headline")


def test_keys_and_licences_are_listed(make_window: MakeWindow) -> None:
    window = make_window()
    keys = Keys(window)
    keys.press(Qt.Key.Key_F1, CTRL)
    told = texts(popover())
    for action in window._actions.values():
        if action.shortcut().toString():
            assert action.shortcut().toString() in told, action.text()
    assert "Shift+F" in told
    popover().close()
    window._actions["about"].trigger()
    assert "SIL Open Font License" in texts(popover())
    assert "CC-BY-SA-4.0" in texts(popover())
    popover().close()


def test_what_has_the_focus_may_go_at_any_moment(make_window: MakeWindow) -> None:
    """A popover's field goes with its popover, the ring about it as well."""
    import shiboken6

    window = make_window()
    for _ in range(3):
        field = QLineEdit(window)
        field.show()
        window.setFocus()
        field.setFocus(Qt.FocusReason.TabFocusReason)
        settle(window)
        shiboken6.delete(field)
        settle(window)
    keys = Keys(window)
    keys.press(Qt.Key.Key_K, CTRL)
    shiboken6.delete(popover())
    settle(window)


def test_every_command_is_in_a_menu_and_the_keys_of_the_desktop_work(make_window: MakeWindow) -> None:
    window = make_window(train="witch-broom")

    def listed(menu: QMenu) -> set[str]:
        below = [one for action in menu.actions() if isinstance(one := action.menu(), QMenu)]
        return {action.objectName() for action in menu.actions()}.union(*map(listed, below))

    window.header.train_menu.aboutToShow.emit()
    names = {action.objectName() for action in window.actions() if action.objectName().startswith("act_")}
    assert len(names) > 60
    assert names - listed(window.header.workbook_menu) == set()
    keys = Keys(window)
    window.stations.show_station("spacing")
    for press, page in (((Qt.Key.Key_PageDown, CTRL), "light"), ((Qt.Key.Key_PageUp, CTRL), "spacing")):
        keys.press(*press)
        assert window.stations.current.key == page
    window.stations.show_station("parts")
    keys.press(Qt.Key.Key_F, CTRL)
    focus = window.focusWidget()
    assert isinstance(focus, QLineEdit)
    assert "search" in focus.objectName()
    window.stations.show_station("spacing")
    keys.press(Qt.Key.Key_F11)
    assert window.isFullScreen()
    keys.press(Qt.Key.Key_F11)
    assert not window.isFullScreen()
    keys.press(Qt.Key.Key_W, CTRL)
    assert not window.isVisible()


def test_the_palette_knows_what_people_call_things(window: MainWindow) -> None:
    Keys(window).press(Qt.Key.Key_K, CTRL)
    field, listed = found(popover(), QLineEdit, "palette_field"), found(popover(), QTreeWidget, "palette_list")
    called = {
        "delete": "Remove this train", "reverse": "Flip the picked part", "rotate camera": "Turn the camera…",
        "options": "Preferences…", "settings": "Preferences…", "dark corners": "Vignetting page",
        "vignette": "Vignetting page", "backfocus": "Spacing page", "macro page": "Close-up page",
        "units inch": "Lengths: in inches", "exit": "Quit", "manual": "Help about what has the focus",
        "backup": "Restore an earlier version…", "step-up 67 77": "Step ring 67 to 77 mm",
        "2 inch": "Drawer M54, 2 in filters", "t2 spacer": "Spacer M42×0.75, 3 mm", "new part": "New part: spacer",
    }  # fmt: skip
    for typed, name in called.items():
        field.setText(typed)
        first = [row[0] for row in rows_of(listed)[: 25 if typed == "new part" else 3]]
        assert any(name in text for text in first), (typed, first)
    field.setText("new part barrel of nothing")
    assert listed.topLevelItemCount() == 0
    popover().close()


def test_the_palette_lists_what_was_run_lately_first_in_three_columns(window: MainWindow) -> None:
    keys = Keys(window)
    for name in ("Exposure page", "Spacing page"):
        keys.press(Qt.Key.Key_K, CTRL)
        keys.type(name)
        keys.press(ENTER)
    keys.press(Qt.Key.Key_K, CTRL)
    listed = found(popover(), QTreeWidget, "palette_list")
    rows = rows_of(listed)
    assert [name for name, _, _ in rows[:2]] == ["Spacing page", "Exposure page"]
    assert rows[0][1:] == [shortcut_of(window, "Spacing page"), "command"]
    assert any(kind == "figure" and value.endswith("mm") for _, value, kind in rows)
    assert listed.horizontalScrollBar().maximum() == 0
    keys.press(Qt.Key.Key_Escape)


def rows_of(listed: QTreeWidget) -> list[list[str]]:
    model = listed.model()
    return [[str(model.index(row, column).data()) for column in range(3)] for row in range(model.rowCount())]


def shortcut_of(window: MainWindow, name: str) -> str:
    return next(a.shortcut().toString() for a in window.actions() if a.text().replace("&", "") == name)


def test_a_ready_made_size_is_found_and_put_on_the_shelf_by_keys(window: MainWindow) -> None:
    keys = Keys(window)
    before = len(window.session.workbook.shelf)
    keys.press(Qt.Key.Key_K, CTRL)
    keys.type("spacer m42 7.5")
    keys.press(ENTER)
    assert window.stations.current.key == "parts"
    keys.press(ENTER)
    added = window.session.workbook.shelf[-1]
    assert len(window.session.workbook.shelf) == before + 1
    assert added.name == "Spacer M42×0.75, 7.5 mm"
    keys.press(Qt.Key.Key_K, CTRL)
    keys.type("new part: spacer")
    keys.press(ENTER)
    assert (window.session.workbook.shelf[-1].kind, window.parts.shown) == (
        "spacer",
        window.session.workbook.shelf[-1].id,
    )
