"""Conditions in one place, and numbers typed where sliders are."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, popover, press

from farrail.parts.connections import Gender, thread
from farrail.parts.kinds.ahead import Hood
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.train.train import Side
from farrail.ui.window import MainWindow
from farrail.workbook.edits.shelf import AddPart, SetField


def typed(root: object, name: str, text: str, qtbot: QtBot) -> QLineEdit:
    field = found(root, QLineEdit, name)  # type: ignore[arg-type]
    field.setFocus()
    field.selectAll()
    qtbot.keyClick(field, Qt.Key.Key_Delete)
    field.insert(text)  # key clicks know Latin letters only
    qtbot.keyClick(field, Qt.Key.Key_Return)
    QApplication.processEvents()
    return field


def test_every_condition_of_a_front_train_is_typed_in_one_place(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    session = window.session
    press(window, "conditions", qtbot)
    card = popover()
    typed(card, "condition_focal", "24.00", qtbot)
    typed(card, "condition_aperture", "f/11", qtbot)
    typed(card, "condition_focus", "1.2 m", qtbot)
    typed(card, "condition_holder", "30", qtbot)
    typed(card, "condition_camera", "-5", qtbot)
    train = session.train
    assert train is not None
    now = train.conditions
    assert (now.focal_mm, now.f_number, now.focus_mm) == (24.0, 11.0, 1200.0)
    assert train.camera_turned_deg == -5.0
    assert 30.0 in [laid.turned_deg for laid in train.row(Side.FRONT)]
    typed(card, "condition_focus", "infinity", qtbot)
    train = session.train
    assert train is not None
    assert train.conditions.focus_mm is None
    typed(card, "condition_aperture", "", qtbot)
    train = session.train
    assert train is not None
    assert train.conditions.f_number is None  # its own again
    field = found(card, QLineEdit, "condition_focal")
    qtbot.keyClick(field, Qt.Key.Key_Up)
    train = session.train
    assert train is not None
    assert train.conditions.focal_mm == 25.0
    card.close()


@pytest.mark.parametrize("text", ["letters", "1e400", "-3", "500", "9" * 1000, "\u05d0\u05d1", "20 to 30"])
def test_a_number_that_cannot_be_stays_in_its_field_marked(
    make_window: Callable[..., MainWindow], text: str, qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    before = window.session.workbook
    field = typed(window, "front_zoom_text", text, qtbot)
    assert window.session.workbook == before
    assert field.property("wrong")
    assert field.toolTip().endswith((".", "mm.")) or "give" in field.toolTip()
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert not field.property("wrong")
    assert field.text().endswith("mm")


def test_the_wheel_the_ring_and_the_lens_are_switched_there(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="lantern-wheel")
    press(window, "conditions", qtbot)
    box = next(b for b in popover().findChildren(QComboBox) if b.objectName().startswith("condition_beam"))
    box.activated.emit(2)
    train = window.session.train
    assert train is not None
    assert 2 in [laid.in_beam for laid in train.rear_train]
    popover().close()
    window.session.show_train("lichen")
    QApplication.processEvents()
    press(window, "conditions", qtbot)
    turned = popover().findChild(QCheckBox, "condition_reversed")
    assert turned is not None
    turned.click()
    train = window.session.train
    assert train is not None
    assert train.optic_reversed
    popover().close()


def test_a_working_distance_is_typed_beside_its_slider(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(train="lichen")
    window.stations.show_station("close_up")
    QApplication.processEvents()
    close = window.session.readout
    assert close is not None
    low, high = sorted((close.close_up.near.distance_mm, close.close_up.far.distance_mm))
    wanted = (low + min(high, low + 40.0)) / 2.0
    typed(window, "closeup_distance", f"{wanted:.2f}", qtbot)
    now = window.session.readout
    assert now is not None
    assert now.close_up.now.distance_mm == pytest.approx(wanted, abs=0.02)


def test_filters_slide_and_a_subject_has_a_size_in_the_same_place(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    session = window.session
    press(window, "conditions", qtbot)
    card = popover()
    train = session.train
    assert train is not None
    holder = next(n for n, laid in enumerate(train.front_stack) if len(laid.filters) > 1)
    slot = next(n for n, held in enumerate(train.front_stack[holder].filters) if held is not None)
    typed(card, f"condition_sheet_{slot + 1}", "-12 mm", qtbot)
    typed(card, "condition_subject_width", "30 cm", qtbot)
    typed(card, "condition_subject_depth", "8", qtbot)
    train = session.train
    assert train is not None
    assert train.front_stack[holder].shift_mm(slot) == -12.0
    assert (train.conditions.subject_width_mm, train.conditions.subject_depth_mm) == (300.0, 8.0)
    typed(card, "condition_subject_depth", "", qtbot)
    train = session.train
    assert train is not None
    assert train.conditions.subject_depth_mm is None
    card.close()


def test_hood_tilt_and_gelatin_are_set_there_too(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(train="sea-stacks")
    session = window.session
    lens = session.workbook.train("sea-stacks").optic
    session.do(SetField(lens, "most_tilt_deg", Quantity.of(8.0, Origin.PUBLISHED)))
    session.do(SetField(lens, "gelatin_slot", True))
    hood = Hood.template().model_copy(update={"id": "own-hood", "rear": thread(105.0, 1.0, Gender.EXTERNAL)})
    session.do(AddPart(hood))
    press(window, "conditions", qtbot)
    card = popover()
    typed(card, "condition_tilt", "2", qtbot)
    typed(card, "condition_gelatin", "0.1", qtbot)
    train = session.train
    assert train is not None
    assert (train.conditions.tilt_deg, train.conditions.gelatin_mm) == (2.0, 0.1)
    typed(card, "condition_tilt", "12", qtbot)
    train = session.train
    assert train is not None
    assert train.conditions.tilt_deg == 2.0
    before = train.front_stack
    box = found(card, QCheckBox, "condition_hood")
    box.click()
    train = session.train
    assert train is not None
    assert [laid.part for laid in train.front_stack] == [*(laid.part for laid in before), "own-hood"]
    box.click()
    train = session.train
    assert train is not None
    assert train.front_stack == before
