"""A finding that one value would settle goes to where that value is entered."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel
from pytestqt.qtbot import QtBot
from tests.ui.hands import found

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.telescopes import Telescope
from farrail.ui.findings_column import FindingRow
from farrail.ui.widgets.row_keys import FieldKey, ValueKey
from farrail.ui.window import MainWindow


def in_hand(window: MainWindow) -> tuple[str, str]:
    """Return the kind of the part that is shown, as its sheet says, and the path of the row that has the keyboard."""
    key = window.parts.sheet.table.current_key()
    assert isinstance(key, ValueKey | FieldKey)
    return found(window.parts.sheet, QLabel, "part_name").text(), key.path


@pytest.mark.parametrize(
    ("train", "finding", "value"),
    [
        ("lantern-wheel", "spacing.assumed_decides", ("Skua 4/3 cooled", "window.allowed_for")),
        ("sea-stacks", "front.pupil_assumed", ("Brae 17-35 mm f/2.8", "entrance_pupil_depth_mm")),
        ("barnacles", "closeup.place_assumed", ("Kittiwake 90 mm macro f/2.8", "entrance_pupil_depth_mm")),
    ],
)
def test_a_finding_goes_to_the_value_that_settles_it(
    make_window: Callable[..., MainWindow], qtbot: QtBot, train: str, finding: str, value: tuple[str, str]
) -> None:
    window = make_window(train=train)
    row = found(window, FindingRow, f"finding_{finding}")
    assert "Enter " in row.accessibleName()
    qtbot.mouseClick(row, Qt.MouseButton.LeftButton)
    assert window.stations.current.key == "parts"
    assert in_hand(window) == value


def test_a_telescope_without_back_focus_asks_for_it(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    workbook = demo_workbook()
    train = workbook.train("witch-broom")
    bare = train.model_copy(update={"rear_train": tuple(p for p in train.rear_train if p.part != "tern-flattener")})
    shelf = tuple(
        p.model_copy(update={"back_focus_mm": None}) if isinstance(p, Telescope) else p for p in workbook.shelf
    )
    window = make_window(workbook=workbook.model_copy(update={"shelf": shelf, "trains": (bare,)}), train=bare.id)
    row = found(window, FindingRow, "finding_spacing.not_judged")
    row.setFocus()
    qtbot.keyClick(row, Qt.Key.Key_Space)
    assert in_hand(window) == ("Tern 72", "back_focus_mm")
