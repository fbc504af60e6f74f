"""A guide camera hung on its port by hand, the shelf's spacers found for it and placed in one step."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QMenu
from pytestqt.qtbot import QtBot
from tests.planning.test_guide import guide_camera, port_spacer
from tests.ui.hands import ledger, press, rows

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.actions.laying import fill_guide_menu
from farrail.ui.window import MainWindow


def guided(make_window: Callable[..., MainWindow]) -> tuple[MainWindow, int]:
    demo = demo_workbook()
    train = next(t for t in demo.trains if any(one.part == "kittiwake-guider" for one in t.rear_train))
    more = (guide_camera(), *(port_spacer(f"port-{length:.0f}", length) for length in (2.0, 5.0, 7.5)))
    window = make_window(demo.model_copy(update={"shelf": (*demo.shelf, *more)}), train=train.id)
    return window, [one.part for one in train.rear_train].index("kittiwake-guider")


def told(window: MainWindow) -> str:
    readout = window.session.readout
    assert readout is not None
    return "\n".join(f.title for f in readout.findings)


def test_a_guide_camera_is_hung_and_its_spacers_are_found(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window, index = guided(make_window)
    session = window.session
    assert session.readout is not None
    spacing = session.readout.figures["spacing.guide.kittiwake-guider_mm"].number
    assert "Hang a guide camera on it" not in told(window)
    menu = QMenu(window)
    fill_guide_menu(menu, session, index)
    camera = next(a for a in menu.actions() if a.text() == "Lantern guide camera")
    assert not camera.isChecked()
    camera.trigger()
    assert f"{spacing - 12.5:.2f} mm too short" in told(window)
    window.stations.show_station("spacing")
    press(window, "plan_find", qtbot)
    window.spacing.plan.wait()
    QApplication.processEvents()
    table = rows(ledger(window, "plan_proposals"))
    found = [n for n, row in enumerate(table) if row[0].startswith("Off-axis guider:")]
    # 21.92 behind the port less the camera's own 12.5: 7.5 and 2 of the three spacers, 0.08 too far out.
    assert spacing == pytest.approx(21.92, abs=0.005)
    assert table[found[0]][:2] == ["Off-axis guider: port-8 + port-2 before Lantern guide camera", "+0.08"]
    shown = ledger(window, "plan_proposals")
    shown.setFocus()
    shown.setCurrentIndex(shown.ledger.index(found[0], 0))
    qtbot.keyClick(shown, Qt.Key.Key_Return)
    assert session.train is not None
    hung = session.train.rear_train[index].guide
    assert hung is not None
    assert sorted(hung.between) == ["port-2", "port-8"]
    assert "focuses with the main camera: 0.08 mm too long" in told(window)


def test_the_port_is_emptied_and_the_camera_taken_off_again(make_window: Callable[..., MainWindow]) -> None:
    window, index = guided(make_window)
    session = window.session
    menu = QMenu(window)
    fill_guide_menu(menu, session, index)
    next(a for a in menu.actions() if a.text() == "Lantern guide camera").trigger()
    assert session.train is not None
    hung = session.train.rear_train[index].guide
    assert hung is not None
    again = QMenu(window)
    fill_guide_menu(again, session, index)
    assert next(a for a in again.actions() if a.text() == "Lantern guide camera").isChecked()
    assert session.train.camera not in {a.text() for a in again.actions()}
    next(a for a in again.actions() if a.text() == "Take it off").trigger()
    assert session.train is not None
    assert session.train.rear_train[index].guide is None
    session.undo()
    assert session.train.rear_train[index].guide == hung
