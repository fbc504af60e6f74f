"""The unit lengths are shown in, chosen in the window: every window is made again, and nothing of the work is lost."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton
from pytestqt.qtbot import QtBot

from farrail import lengths
from farrail.lengths import LengthUnit
from farrail.parts.kinds.tubes import Spacer
from farrail.quantities import as_typed
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.window import MainWindow
from farrail.ui.windows import Windows
from farrail.workbook.edits.trains import RenameTrain
from farrail.workbook.workbook import Workbook, empty_workbook


@pytest.fixture(autouse=True)
def _kept_by_nobody() -> Iterator[None]:
    yield
    lengths.save(LengthUnit.MM)


@pytest.fixture
def window(windows: Windows, demo: Workbook, tmp_path: Path) -> MainWindow:
    made = windows.add(Session(demo, tmp_path / "recovery"))
    made.resize(1280, 800)
    made.show()
    made.session.show_train("witch-broom")
    made.stations.show_station("spacing")
    return made


def pick(window: MainWindow, beginning: str, qtbot: QtBot) -> None:
    menu = window.header.workbook_menu.findChild(QMenu, "ways_menu")
    assert menu is not None
    menu.aboutToShow.emit()
    next(one for one in menu.actions() if one.text().startswith(beginning)).trigger()
    qtbot.wait(10)


def cells(window: MainWindow, column: int) -> dict[str, str]:
    ledger = window.stations.findChild(Ledger, "running_total")
    assert ledger is not None
    return {row.cells[0].text: row.cells[column].text for row in ledger.ledger.rows}


def test_inches_are_chosen_in_the_menu_and_undo_goes_on(windows: Windows, window: MainWindow, qtbot: QtBot) -> None:
    assert cells(window, 1)["Spacer 8.7"] == "8.70"
    window.session.do(RenameTrain("witch-broom", "The Witch Broom"))
    pick(window, "Lengths: in inches", qtbot)
    (made,) = windows.all
    assert made is not window
    assert made.isVisible()
    assert made.size() == window.size()
    assert made.session.train is not None
    assert made.session.train.name == "The Witch Broom"
    assert made.stations.current.key == "spacing"
    # 8.70 / 25.4, by hand.
    assert cells(made, 1)["Spacer 8.7"] == "0.3425"
    made.session.undo()
    assert made.session.train.name != "The Witch Broom"
    # What was chosen is marked, kept, and taken back the same way.
    assert lengths.saved() is LengthUnit.INCH
    pick(made, "Lengths: in millimetres", qtbot)
    assert cells(windows.all[0], 1)["Spacer 8.7"] == "8.70"


def test_a_bare_number_is_in_the_unit_that_the_field_shows(windows: Windows, window: MainWindow, qtbot: QtBot) -> None:
    pick(window, "Lengths: in inches", qtbot)
    (made,) = windows.all
    made.stations.show_station("spacing")
    ledger = made.stations.findChild(Ledger, "running_total")
    assert ledger is not None
    row = next(row for row in ledger.ledger.rows if row.cells[0].text == "Spacer 8.7")
    # The editor opens with what the cell shows, and its unit; left as it is, it is the value itself.
    assert row.cells[1].edit == "0.3425 ± 0.0008 in"
    for typed, mm in (("0.3425 ± 0.0008 in", 8.7), ("0.35 in", 8.89), ('1/4"', 6.35), ("0.4", 10.16), ("9 mm", 9.0)):
        ledger.edited.emit(row.key, 1, typed)
        spacer = made.session.workbook.by_id["spacer-8-7"]
        assert isinstance(spacer, Spacer)
        assert spacer.path_length_mm.value == pytest.approx(mm), typed
    assert cells(made, 1)["Spacer 8.7"] == "0.3543"


def test_the_first_page_and_further_windows_are_made_again_too(
    windows: Windows, window: MainWindow, tmp_path: Path, qtbot: QtBot
) -> None:
    empty = windows.add(Session(empty_workbook(), tmp_path / "recovery"))
    empty.show_first()
    empty.show()
    pick(window, "Lengths: in inches", qtbot)
    assert len(windows.all) == 2
    assert sorted(one.in_front() for one in windows.all) == ["", "spacing"]
    # Nothing asked whether to save: the work goes on.
    assert QApplication.activeModalWidget() is None


def test_what_is_held_between_rings_is_not_typed_over(make_window: object) -> None:
    window = make_window(train="brae-held")  # type: ignore[operator]
    window.stations.show_station("spacing")
    ledger = window.stations.findChild(Ledger, "running_total")
    held = next(row for row in ledger.ledger.rows if row.cells[0].text == "Dual band 36")
    assert held.cells[1].text == "0.00"
    # Its thickness is 2 mm; the line's 0.00 is what it adds here.
    assert held.cells[1].edit is None


def test_the_window_made_again_stands_as_the_one_before(windows: Windows, window: MainWindow, qtbot: QtBot) -> None:
    window.stations.show_station("light")
    field = window.light.findChild(QPushButton, "show_field")
    assert field is not None
    field.click()
    table = window.stations.findChild(Ledger, "running_total")
    assert table is not None
    table.take_widths({1: 131})
    pick(window, "Lengths: in inches", qtbot)
    (made,) = windows.all
    table = made.stations.findChild(Ledger, "running_total")
    assert table is not None
    assert table.own_px == {1: 131}
    field = made.light.findChild(QPushButton, "show_field")
    assert field is not None
    assert field.isChecked()


@pytest.mark.parametrize(
    ("typed", "meant"),
    [("1.5", "1.5 in"), ("1 1/4", "1 1/4 in"), ("0.5 ± 0.01", "0.5 ± 0.01 in"), ("1 to 2", "1 to 2 in"),
     ("0.9 ± 5 %", "0.9 in ± 5 %"), ("-0.2", "-0.2 in"), ("12 mm", "12 mm"), ('3/8"', '3/8"'), ("", ""),
     ("any", "any")],
)  # fmt: skip
def test_only_a_bare_number_is_given_the_unit(typed: str, meant: str) -> None:
    lengths.choose(LengthUnit.INCH)
    try:
        assert lengths.as_shown(typed) == meant
        assert as_typed("430", 430.0, stays_mm=True) == "430"
    finally:
        lengths.choose(LengthUnit.MM)
    assert lengths.as_shown(typed) == typed


def test_fields_beside_pictures_are_read_in_inches(windows: Windows, window: MainWindow, qtbot: QtBot) -> None:
    """Subject 1.5 in wide is 38.1 mm; a stack of 0.2 in is 5.08 mm deep."""
    pick(window, "Lengths: in inches", qtbot)
    (made,) = windows.all
    made.session.show_train("barnacles")
    made.stations.show_station("close_up")
    for name, text in (("closeup_subject", "1.5"), ("stack_depth", "0.2")):
        field = made.findChild(QLineEdit, name)
        assert field is not None
        field.setText(text)
        field.editingFinished.emit()
    train = made.session.train
    assert train is not None
    assert train.conditions.subject_width_mm == pytest.approx(38.1)
    assert train.conditions.subject_depth_mm == pytest.approx(5.08)
