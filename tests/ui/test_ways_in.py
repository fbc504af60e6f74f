"""From an empty window to a verdict on one's own gear, counted: clicks, keys and typed fields.

The gear is invented and none of the demo's. The limits are what a person was found to bear.
"""

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.counting import Hand
from tests.ui.hands import found, label, ledger, rows

from farrail.parts.inventory_item import AT_HAND
from farrail.parts.kinds.telescopes import Telescope
from farrail.readouts.spacing.grounds import State
from farrail.ui.first.question_row import QuestionRow
from farrail.ui.window import MainWindow
from farrail.workbook.routes.answer import Route
from farrail.workbook.workbook import empty_workbook


@pytest.fixture
def hand(make_window: Callable[..., MainWindow]) -> Hand:
    """A hand before the first page of an empty workbook."""
    window = make_window(empty_workbook())
    window.show_first()
    QApplication.processEvents()
    assert window.session.workbook == empty_workbook()
    return Hand(window)


def one_inch_camera(hand: Hand) -> None:
    for text in ("one inch", "2.4", "12.5", "M42x0.75 internal"):
        hand.type(text)


def test_a_refractor_with_flattener_to_what_to_buy(hand: Hand, qtbot: QtBot) -> None:
    window = hand.window
    hand.click("route_night")
    one_inch_camera(hand)
    hand.click("choose_optic.what_telescope_corrector")
    for text in ("420 f/6", "55"):
        hand.type(text)
    hand.type("M48x0.75 external", "answer_optic.rear")
    hand.click("choose_piece.1_filter_drawer")
    for text in ("21", "M48x0.75 internal to M42x0.75 external", "2"):
        hand.type(text)
    hand.click("choose_piece.2_rotator")
    for text in ("10", "M42x0.75 internal to M42x0.75 external"):
        hand.type(text)
    # A person's sum: 21 + 10 + 12.5 = 43.5 of 55 and a third of 2 mm of glass.
    assert label(window, "route_headline") == "The train is 12.18 mm too short."
    hand.click("route_end")
    qtbot.waitUntil(lambda: len(rows(ledger(window, "plan_proposals"))) > 0, timeout=20_000)
    assert hand.count <= 24, hand.done
    train = window.session.train
    assert train is not None
    assert len(train.rear_train) == 3
    parts = window.session.workbook.by_id
    assert all(parts[laid.part].status in AT_HAND for laid in train.rear_train)
    offered = rows(ledger(window, "plan_proposals"))
    assert any("Spacer M42×0.75, 12 mm" in " ".join(row) for row in offered), offered


def test_from_nothing_to_what_is_taken_along(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Own gear in a small window: a sheet, the ring that is missing, and one piece in place of everything."""
    window = hand.window
    window.resize(1040, 680)
    hand.click("route_night")
    one_inch_camera(hand)
    hand.click("choose_optic.what_telescope_corrector")
    for text in ("420 f/6", "55"):
        hand.type(text)
    hand.type("M48x0.75 external", "answer_optic.rear")
    hand.click("choose_piece.1_rotator")
    for text in ("10", "M48x0.75 internal to M42x0.75 external"):
        hand.type(text)
    hand.click("route_end")
    window.stations.show_station("build")
    QApplication.processEvents()
    assert "to go" in label(window, "build_headline")
    told = []
    window.session.message.connect(lambda text, _: told.append(text))
    for button, name in (("build_sheet", "mine.pdf"), ("build_ring", "mine.stl")):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, n=name: (str(tmp_path / n), ""))
        found(window, QPushButton, button).click()
        assert (tmp_path / name).stat().st_size > 1000, told
    # A person's sum: 55 less 10 of rotator and 12.5 in the camera; the piece takes the rotator's place too.
    assert "32.50 mm thick" in told[-1]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine.dxf"), ""))
    found(window, QAction, "build_order_whole").trigger()
    assert "42.50 ± " in told[-1]
    assert "M48×0.75-6H internal" in told[-1]


def test_a_prime_focus_astrograph_with_two_published_figures(hand: Hand, qtbot: QtBot) -> None:
    window = hand.window
    hand.click("route_night")
    for text in ("36x24", "3.76", "17.5", "M54x0.75 internal"):
        hand.type(text)
    hand.click("choose_optic.what_prime_focus")
    for text in ("400 f/2", "72 and 72.3", "0.05", "M63x1 internal"):
        hand.type(text)
    hand.click("choose_piece.1_tilt_plate")
    for text in ("14.9", "M63x1 external to M54x0.75 internal"):
        hand.type(text)
    hand.click("choose_piece.2_filter_drawer")
    for text in ("21.5", "M54x0.75 external to M54x0.75 external", "2"):
        hand.type(text)
    hand.click("choose_piece.3_shim")
    hand.type("0.5")
    hand.click("route_end")
    qtbot.waitUntil(lambda: len(rows(ledger(window, "plan_proposals"))) > 0, timeout=20_000)
    assert hand.count <= 26, hand.done
    readout = window.session.readout
    assert readout is not None
    assert readout.verdict.state is State.SHORT
    # 14.9 + 21.5 + 0.5 + 17.5 = 54.4 of 72 and 2·(1 − 1/1.5168) = 0.68 of glass.
    assert readout.verdict.miss_mm == pytest.approx(54.4 - 72.0 - 2.0 * (1.0 - 1.0 / 1.5168), abs=1e-6)
    optic = window.session.workbook.by_id[readout.layout.train.optic]
    assert isinstance(optic, Telescope)
    assert optic.prime_focus
    assert optic.back_focus_mm is not None
    assert optic.back_focus_mm.published_band == (72.0, 72.3)


def zoom_and_frame(hand: Hand) -> None:
    hand.click("route_filters")
    for text in ("16-35", "f/4"):
        hand.type(text)
    hand.skip()  # wide open
    hand.type("77")
    hand.skip()  # no one has looked for its entrance pupil
    hand.type("36x24")


def test_a_holder_stack_to_the_first_clean_focal_length_and_a_second_one_beside_it(hand: Hand) -> None:
    window = hand.window
    zoom_and_frame(hand)
    hand.click("choose_piece.1_adapter")
    for text in ("77 to 82", "3"):
        hand.type(text)
    hand.click("choose_piece.2_holder_ring")
    for text in ("82", "5"):
        hand.type(text)
    hand.click("choose_piece.3_round_filter")
    hand.type("bayonet")
    hand.click("choose_filter_is.3_polariser")
    for text in ("4", "86"):
        hand.type(text)
    hand.click("choose_piece.4_filter_holder")
    hand.click("choose_slots.4_3")
    for text in ("100", "21"):
        hand.type(text)
    front = label(window, "route_detail")
    assert "vignett" in label(window, "route_headline") + front
    assert hand.count <= 24, hand.done
    first = window.session.train
    assert first is not None
    assert len(first.front_stack) == 4
    readout = window.session.readout
    assert readout is not None
    assert readout.front.now.first_clean_mm is not None
    assert not [f for f in readout.findings if f.kind == "joint.mismatch"]

    # The same against a second holder: the route again, with what the shelf has by now.
    hand.click("route_first")
    hand.click("route_filters")
    hand.take("shelf_lens.focal", "Lens 16-35 mm f/4")
    hand.take("shelf_camera.format", "Camera 36 × 24")
    hand.take("shelf_piece.1", "Adapter")
    hand.take("shelf_piece.2", "Holder ring")
    hand.click("choose_piece.3_filter_holder")
    hand.click("choose_slots.3_2")
    for text in ("100", "12"):
        hand.type(text)
    assert hand.count <= 40, hand.done
    second = window.session.train
    assert second is not None
    assert second.id != first.id
    assert second.optic == first.optic
    slimmer = window.session.readout
    assert slimmer is not None
    assert slimmer.front.now.first_clean_mm is not None
    assert slimmer.front.depth_mm == pytest.approx(3 + 5 + 12)
    assert slimmer.front.now.first_clean_mm < readout.front.now.first_clean_mm


def test_a_lens_with_tubes_and_close_up_lenses_to_what_fills_the_frame(hand: Hand, qtbot: QtBot) -> None:
    window = hand.window
    hand.click("route_close_up")
    for text in ("60", "f/2.8", "44 mm SLR bayonet", "58"):
        hand.type(text)
    hand.click("choose_lens.mounted_mount_normal")
    hand.type("23.5x15.7")
    hand.skip()  # wide open
    for text in ("0.4 m", "0.2"):
        hand.type(text)
    hand.skip()  # no ruler seen
    for text in ("12, 20", "+2, +4", "30 mm"):
        hand.type(text)
    assert "the frame shows" in label(window, "route_headline")
    hand.click("route_end")
    answers = ledger(window, "ask_answers")
    qtbot.waitUntil(lambda: len(rows(answers)) > 0, timeout=30_000)
    assert hand.count <= 16, hand.done
    assert window.session.train is not None
    assert window.session.train.conditions.subject_width_mm == 30.0


def test_what_nobody_has_looked_at_proves_nothing(hand: Hand, qtbot: QtBot) -> None:
    window = hand.window
    hand.click("route_night")
    hand.type("one inch")
    hand.skip()
    hand.type("12.5")
    hand.skip(2)
    hand.click("choose_optic.what_telescope_corrector")
    hand.skip()
    hand.type("55")
    hand.click("choose_piece.1_filter_drawer")
    hand.type("21")
    # Length and back focus are all a verdict needs; threads stay not known, and joints are not judged.
    assert label(window, "route_headline") == "The train is 21.50 mm too short."
    readout = window.session.readout
    assert readout is not None
    assert not [f for f in readout.findings if f.kind == "joint.mismatch"]
    assert [f for f in readout.findings if f.kind == "joint.not_judged"]
    hand.click("route_end")
    qtbot.waitUntil(lambda: "not known" in label(window, "plan_text"), timeout=20_000)
    assert "none is ruled out" in label(window, "plan_text")


def test_a_route_says_so_while_another_train_is_in_view(make_window: Callable[..., MainWindow]) -> None:
    window = make_window()
    window.show_first()
    window.first.begin(Route.NIGHT)
    window.first.route.answer("camera.format", "36x24")
    mine = window.session.train
    assert mine is not None
    window.session.show_train("sea-stacks")
    window.first.route.refresh()
    assert label(window, "route_headline") == "Another train is in view."
    window.first.route.answer("camera.flange", "17.5")
    assert window.session.train is not None
    assert window.session.train.id == mine.id
    # Undone to the beginning, the first question alone is asked again; the demo's trains were never touched.
    while window.session.history.undo_label is not None:
        window.session.undo()
    assert len(window.session.workbook.trains) == 12
    window.first.route.refresh()
    assert [q.key for q in window.first.route._open()] == ["camera.format"]


def test_a_camera_whose_front_ring_comes_off(hand: Hand) -> None:
    """17.5 mm with a ring of 5 mm: 12.5 mm without it; a filter drawer of 21 mm and 55 mm of back focus by hand."""
    window = hand.window
    hand.click("route_night")
    one_inch_camera(hand)
    hand.type("17.5", "answer_camera.flange")
    hand.type("23", "answer_camera.ring")
    told = [row.reason.text() for row in window.findChildren(QuestionRow) if row.reason.isVisible()]
    assert told == ["The front ring is longer than flange to sensor, 17.5 mm; give its own length, such as 5."]
    hand.type("5", "answer_camera.ring")
    hand.type("M48x0.75 internal", "answer_camera.ring_behind")
    hand.click("choose_camera.ring_off_off")
    hand.click("choose_optic.what_telescope_corrector")
    for text in ("420 f/6", "55"):
        hand.type(text)
    hand.type("M48x0.75 external", "answer_optic.rear")
    hand.click("choose_piece.1_filter_drawer")
    hand.type("21")
    hand.type("M48x0.75 internal to M48x0.75 external")
    # 55 - 21 - 12.5.
    assert label(window, "route_headline") == "The train is 21.50 mm too short."


def test_a_second_train_takes_nothing_from_what_the_first_one_uses(hand: Hand) -> None:
    """The camera of the first train, forgotten in the route of the second: 55 - 12.5 = 42.5 stays 42.5."""
    window = hand.window
    hand.click("route_night")
    one_inch_camera(hand)
    hand.click("choose_optic.what_telescope_corrector")
    for text in ("420 f/6", "55"):
        hand.type(text)
    hand.type("M48x0.75 external", "answer_optic.rear")
    assert label(window, "route_headline") == "The train is 42.50 mm too short."
    first = window.session.train
    assert first is not None
    hand.click("route_first")
    hand.click("route_night")
    hand.take("shelf_camera.format", "Camera 13.2 × 8.8")
    camera = window.session.workbook.by_id[first.camera or ""]
    page = window.first.route
    for key in ("camera.flange", "camera.front", "camera.pixel", "camera.format"):
        page.answer(key, "")
        assert window.session.workbook.by_id[camera.id] == camera, key
    assert window.session.train is not first
    window.session.show_train(first.id)
    readout = window.session.readout
    assert readout is not None
    assert readout.spacing.error_mm == pytest.approx(-42.5)


def test_the_verdict_of_a_route_is_an_interval_where_a_value_was_skipped(hand: Hand, qtbot: QtBot) -> None:
    """The entrance pupil was skipped: from no loss to dark corners; what is typed meanwhile stays in its field."""
    window = hand.window
    window.resize(1040, 680)
    hand.click("route_filters")
    for text in ("14-24", "f/2.8"):
        hand.type(text)
    hand.skip()
    hand.type("82")
    hand.skip()
    hand.type("36x24")
    hand.click("choose_piece.1_filter_holder")
    hand.click("choose_slots.1_2")
    for text in ("100", "24"):
        hand.type(text)
    field = window.focusWidget()
    assert isinstance(field, QLineEdit)
    qtbot.keyClicks(field, "4.")
    window.ranging.begin()
    window.ranging.wait()
    assert "Depends on: entrance pupil behind seat of Lens 14-24 mm f/2.8" in label(window, "route_headline")
    assert field.text() == "4."
