"""Several trains planned together in the window: ticked, found, placed in one step and undone."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QCheckBox, QLabel, QListWidget, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, press, rows

from farrail.readouts.read import read
from farrail.ui.window import MainWindow

ALL = ("witch-broom-short", "lantern-wheel", "witch-broom")


def tick(window: MainWindow, *keys: str) -> None:
    trains = found(window, QListWidget, "together_trains")
    for number in range(trains.count()):
        item = trains.item(number)
        wanted = item.data(Qt.ItemDataRole.UserRole) in keys
        item.setCheckState(Qt.CheckState.Checked if wanted else Qt.CheckState.Unchecked)


def search(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "together_find", qtbot)
    window.spacing.together.work.wait()
    QApplication.processEvents()


def test_two_or_more_are_ticked_planned_laid_and_undone(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(train="witch-broom-short")
    window.stations.show_station("spacing")
    press(window, "show_together", qtbot)
    button = found(window, QPushButton, "together_find")
    assert not button.isEnabled()
    tick(window, ALL[0])
    assert not button.isEnabled()
    tick(window, *ALL)
    assert button.isEnabled()
    found(window, QCheckBox, "together_whole").setChecked(True)
    search(window, qtbot)
    table = ledger(window, "together_pieces")
    told = {row[0]: row for row in rows(table)}
    assert "may not be the cheapest" in label(window, "together_text")
    # Both Tern 72 trains want the one ring, and the flattener and drawer between the two of them besides.
    assert told["Ring 48/42"][-2:] == ["1", "1"] or told["Ring 48/42"][-1].startswith("1 for")
    assert {"Tern flattener", "Kittiwake drawer", "Error"} <= set(told)
    titles = [column.title for column in table.ledger.columns]
    names = [window.session.workbook.train(key).name for key in sorted(ALL, key=titles_order(window))]
    assert all(name.startswith(title.rstrip("…")) for name, title in zip(names, titles[1:4], strict=True))
    assert [table.isColumnHidden(n) for n in range(1, 7)] == [False, False, False, True, True, True]
    # The rail shows the train in view as it would be; all else is said to say of it as it is.
    assert window.rail.shown is not window.session.readout
    assert found(window, QLabel, "as_it_lies").isVisible()
    before = window.session.workbook
    press(window, "together_lay", qtbot)
    assert not found(window, QLabel, "as_it_lies").isVisible()
    after = window.session.workbook
    for key in ALL:
        spacing = read(after.train(key), after.by_id).spacing
        assert spacing.error_mm is not None
        assert spacing.allowed_mm is not None
        assert spacing.allowed_mm[0] <= spacing.error_mm <= spacing.allowed_mm[1]
    window.session.undo()
    assert window.session.workbook == before


def titles_order(window: MainWindow) -> Callable[[str], int]:
    keys = [train.id for train in window.session.workbook.trains]
    return keys.index


def test_a_train_without_a_distance_is_named_and_an_edit_drops_the_plan(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="witch-broom-short")
    window.stations.show_station("spacing")
    press(window, "show_together", qtbot)
    tick(window, "witch-broom", "witch-broom-short")
    search(window, qtbot)
    assert rows(ledger(window, "together_pieces"))
    window.session.undo()
    tick(window, "witch-broom")
    assert rows(ledger(window, "together_pieces")) == []
    assert "Tick two trains or more" in label(window, "together_text")
    # The running total comes back with the other pages.
    assert ledger(window, "running_total").isHidden()
    press(window, "show_plan", qtbot)
    assert not ledger(window, "running_total").isHidden()
