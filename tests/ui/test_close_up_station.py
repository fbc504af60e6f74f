"""The Close-up station, driven as a person would: focus, reach, asking, placing, and the focus stack on its rail."""

import math
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QApplication, QComboBox, QLabel, QMenu, QProgressBar, QPushButton, QSlider
from pytestqt.qtbot import QtBot
from tests.ui.hands import LEFT, found, label, ledger, popover, press, reason, rows, type_in, type_over
from tests.ui.test_parts import value_row

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.simulated.focus_rail import RailState
from farrail.train.train import Side
from farrail.ui.actions.laying import fill_ring_menu
from farrail.ui.selection import Selection
from farrail.ui.stack_sheet import stack_sheet_html
from farrail.ui.stations.close_up import ASK, ENDS, FIGURES, STACK
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import LayPart
from farrail.workbook.edits.trains import SetCamera, SetFNumber

CLOSE_UP, EXPOSURE = "close_up", "exposure"


def settle(window: MainWindow) -> None:
    window.close_up.wait()
    QApplication.processEvents()


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    """The barnacles train in the Close-up station, its reach worked out."""
    made = make_window(train="barnacles")
    made.stations.show_station(CLOSE_UP)
    settle(made)
    return made


def write(window: MainWindow, name: str, text: str, qtbot: QtBot, *, enter: bool = True) -> None:
    type_in(window, name, text, qtbot, enter=enter)
    settle(window)


def test_what_the_train_does_is_said_first(window: MainWindow) -> None:
    assert label(window, "closeup_headline") == "2.69x: the frame shows 13.4 mm, 52 mm from the front glass."
    assert "In focus from 52 mm to 90 mm." in label(window, "closeup_detail")
    assert "Light lost: 3.1 stops against infinity, 1.1 against the lens alone" in label(window, "closeup_detail")
    table = {r[0]: r[1] for r in rows(ledger(window, "closeup_figures"))}
    assert table["Magnification"] == "2.685"
    assert table["Fills the frame, wide"] == "13.4"
    assert table["Effective f-number"] == "16.5"


def test_focusing_follows_the_hand_and_is_one_step_of_undo(window: MainWindow, qtbot: QtBot) -> None:
    slider = found(window, QSlider, "closeup_focus")
    assert slider.value() == slider.maximum()
    for value in (300, 200, 0):
        slider.setValue(value)
    readout = window.session.readout
    assert readout is not None
    assert readout.close_up.now.distance_mm == pytest.approx(readout.close_up.far.distance_mm, abs=1e-3)
    assert "90 mm from the front glass" in label(window, "closeup_headline")
    window.session.undo()
    assert "52 mm from the front glass" in label(window, "closeup_headline")


def test_a_figure_shows_its_working(window: MainWindow, qtbot: QtBot) -> None:
    table = ledger(window, "closeup_figures")
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(0, 1))
    qtbot.keyClick(table, Qt.Key.Key_Return)
    popover().close()


def test_the_reach_picture_reads_under_the_pointer_and_previews_on_a_click(window: MainWindow, qtbot: QtBot) -> None:
    plot, reach = window.close_up.plot, window.close_up._reach
    assert reach is not None
    assert len(reach.combinations) > 500
    # A band that nothing crosses: the longest lens with one achromat.
    index = next(n for n, c in enumerate(reach.combinations)
                 if [p.id for p in c.parts] == ["tern-200", "achromat-5"])  # fmt: skip
    at = plot.pixel_of(index, 6).toPoint()
    qtbot.mouseMove(plot, at)
    shown = window.close_up.frame_.shown
    assert shown is not None
    found = plot.point_at(QPointF(at))
    assert found is not None
    size = float(reach.magnification[found])
    assert shown.width_mm == pytest.approx(36.0 / size, rel=1e-6)
    qtbot.mouseClick(plot, LEFT, pos=at)
    assert window.rail.shown is not None
    assert window.rail.shown.layout.train.optic == reach.combinations[found[0]].lens.id
    window.close_up._pick(-1, 0.0)
    assert window.rail.shown is not None
    assert window.rail.shown.layout.train.optic == "kittiwake-90"
    plot.leaveEvent(None)  # type: ignore[arg-type]
    left = window.close_up.frame_.shown
    assert left is not None
    assert left.width_mm == pytest.approx(13.4, abs=0.05)


def test_the_subject_is_drawn_in_its_size(window: MainWindow, qtbot: QtBot) -> None:
    write(window, "closeup_subject", "9", qtbot)
    assert window.session.train is not None
    assert window.session.train.conditions.subject_width_mm == 9.0
    shown = window.close_up.frame_.shown
    assert shown is not None
    assert shown.subject_mm == 9.0
    write(window, "closeup_subject", "wide", qtbot)
    assert "wide" in window.bar.text.text()
    assert window.session.train.conditions.subject_width_mm == 9.0
    write(window, "closeup_subject", "-3", qtbot)
    assert window.session.train.conditions.subject_width_mm == 9.0


def test_asking_for_a_size_and_laying_the_best(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_ask", qtbot)
    write(window, "ask_distance", "90", qtbot, enter=False)
    write(window, "ask_stops", "2", qtbot, enter=False)
    write(window, "ask_width", "18", qtbot)
    table = ledger(window, "ask_answers")
    first = rows(table)[0]
    assert first[0] == "Close-up lens 10x + Tern 200 mm f/4"
    assert "113 of 4579 do." in label(window, "ask_text")
    assert "move closer than that" in found(window, QLabel, "ask_text").toolTip()
    table.setCurrentIndex(table.ledger.index(0, 0))
    assert window.rail.shown is not None
    assert window.rail.shown.layout.train.optic == "tern-200"
    assert window.session.train is not None
    assert window.session.train.optic == "kittiwake-90"
    assert "soft corners" in label(window, "ask_why")
    press(window, "ask_lay", qtbot)
    settle(window)
    assert window.session.train.optic == "tern-200"
    readout = window.session.readout
    assert readout is not None
    assert readout.close_up.field_mm[0] == pytest.approx(18.0, abs=0.01)
    assert readout.close_up.now.distance_mm >= 90.0
    assert readout.close_up.stops_lost <= 2.0
    window.session.undo()
    assert window.session.train.optic == "kittiwake-90"


def test_why_nothing_does_and_what_must_be_bought(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_ask", qtbot)
    write(window, "ask_width", "3", qtbot, enter=False)
    write(window, "ask_distance", "300", qtbot)
    assert "these come closest" in label(window, "ask_text")
    table = ledger(window, "ask_answers")
    table.setCurrentIndex(table.ledger.index(0, 0))
    assert "fills the frame with" in label(window, "ask_why").lower()
    assert "buy" in label(window, "ask_why")


@pytest.mark.parametrize(("name", "text"), [("ask_width", "0"), ("ask_width", "-2"), ("ask_width", "big"),
                                            ("ask_distance", "near"), ("ask_stops", "-1")])  # fmt: skip
def test_what_cannot_be_asked_is_said(window: MainWindow, qtbot: QtBot, name: str, text: str) -> None:
    press(window, "show_ask", qtbot)
    write(window, name, text, qtbot)
    assert window.bar.isVisibleTo(window)
    assert not rows(ledger(window, "ask_answers"))


def test_answers_go_when_the_shelf_no_longer_holds_them(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_ask", qtbot)
    press(window, "ask_go", qtbot)
    settle(window)
    assert rows(ledger(window, "ask_answers"))
    window.session.do(SetFNumber("barnacles", 11.0))
    assert not rows(ledger(window, "ask_answers"))
    assert "search again" in label(window, "ask_text")


def test_another_camera_without_a_lens_mount_is_said(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    book = demo_workbook()
    lost = tuple(
        p.model_copy(update={"status": Status.LOST}) if isinstance(p, Adapter | ReversingRing) else p
        for p in book.shelf
    )
    window = make_window(book.model_copy(update={"shelf": lost}), train="barnacles")
    window.stations.show_station("close_up")
    window.session.do(SetCamera("barnacles", "skua-apsc"))
    settle(window)
    press(window, "show_ask", qtbot)
    press(window, "ask_go", qtbot)
    settle(window)
    assert "No camera lens among your parts mates with Skua APS-C cooled" in label(window, "ask_text")


def state(window: MainWindow) -> RailState:
    rail = window.close_up.stack.rail
    assert rail is not None
    return rail.state


def plan(window: MainWindow) -> dict[str, str]:
    return {r[0]: r[1] for r in rows(ledger(window, "stack_plan"))}


def test_a_focus_stack_is_planned_and_kept_with_the_train(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_stack", qtbot)
    assert plan(window)["Frames"] == "48"
    write(window, "stack_depth", "2", qtbot)
    assert window.session.train is not None
    assert window.session.train.conditions.subject_depth_mm == 2.0
    close = window.close_up._close()
    assert close is not None
    assert close.depth is not None
    expected = math.ceil((2.0 - close.depth.whole_mm) / (0.75 * close.depth.whole_mm)) + 1
    assert plan(window)["Frames"] == f"{expected}"
    write(window, "stack_overlap", "50", qtbot)
    assert int(plan(window)["Frames"]) > expected
    write(window, "stack_overlap", "99", qtbot)
    assert "An overlap of 99 % cannot be used" in label(window, "stack_text")
    write(window, "stack_overlap", "25", qtbot)
    write(window, "stack_depth", "deep", qtbot)
    assert window.session.train.conditions.subject_depth_mm == 2.0


def test_the_simulated_rail_runs_pauses_goes_on_and_logs(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_stack", qtbot)
    stack = window.close_up.stack
    press(window, "rail_run", qtbot)
    assert stack.rail is not None
    for _ in range(6):
        stack.tick()
    taken = stack.rail.taken
    assert 0 < taken < stack.rail.frames
    press(window, "rail_run", qtbot)
    assert state(window) is RailState.PAUSED
    stack.tick()
    assert stack.rail.taken == taken
    assert found(window, QPushButton, "rail_run").text() == "Go on"
    # Other stations may come to the front meanwhile.
    window.stations.show_station(EXPOSURE)
    window.stations.show_station(CLOSE_UP)
    press(window, "rail_run", qtbot)
    for _ in range(200):
        stack.tick()
    assert state(window) is RailState.DONE
    assert stack.rail.taken == stack.rail.frames
    bar = found(window, QProgressBar, "rail_progress")
    assert bar.value() == stack.rail.frames
    press(window, "rail_show_log", qtbot)
    log = [row[0] for row in rows(ledger(window, "stack_plan"))]
    assert "start:" in log[0]
    assert "done" in log[-1]
    assert sum(": frame" in line or "frame " in line for line in log) >= stack.rail.frames


@pytest.mark.parametrize(("fault", "words"), [(1, "stalls"), (2, "steps were lost")])
def test_a_rail_that_fails_says_so(window: MainWindow, qtbot: QtBot, fault: int, words: str) -> None:
    press(window, "show_stack", qtbot)
    box = found(window, QComboBox, "rail_fault")
    box.setCurrentIndex(fault)
    press(window, "rail_run", qtbot)
    stack = window.close_up.stack
    for _ in range(300):
        stack.tick()
    assert state(window) is RailState.FAILED
    assert words in window.bar.text.text()


def test_cancelling_and_a_step_finer_than_the_rail_makes(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_stack", qtbot)
    press(window, "rail_run", qtbot)
    window.close_up.stack.tick()
    press(window, "rail_cancel", qtbot)
    assert state(window) is RailState.CANCELLED
    write(window, "stack_overlap", "90", qtbot)
    write(window, "stack_blur", "0.5", qtbot)
    assert "finer than this rail makes" in label(window, "stack_text")
    assert not found(window, QPushButton, "rail_run").isEnabled()


def test_the_printed_sheet_holds_every_frame(window: MainWindow, tmp_path: Path) -> None:
    window.close_up.show_table(STACK)
    stack = window.close_up.stack
    target = tmp_path / "stack.pdf"
    stack.write_sheet(target)
    assert target.read_bytes().startswith(b"%PDF")
    assert target.stat().st_size > 4000
    assert stack._plan is not None
    html = stack_sheet_html("<barnacles>", [("Frames", "48", "")], stack._plan)
    assert "&lt;barnacles&gt;" in html
    assert f"48: {47 * stack._plan.step_mm:.3f} mm" in html
    stack.write_sheet(tmp_path / "nowhere" / "stack.pdf")
    assert "there is no such folder" in window.bar.text.text()


def test_a_train_that_is_not_for_close_up_says_what_to_do(make_window: Callable[..., MainWindow]) -> None:
    for train, words in (("sea-stacks", "This train has no closest focus and no close-up part."),
                         ("witch-broom", "Close-up needs a camera lens and a camera.")):  # fmt: skip
        window = make_window(train=train)
        window.stations.show_station(CLOSE_UP)
        settle(window)
        assert label(window, "closeup_headline") == words
        for page in (FIGURES, ASK, ENDS, STACK):
            window.close_up.show_table(page)
        assert "No close distance is in focus" in label(window, "stack_text")
        settle(window)


def test_a_lens_turned_round_and_one_screwed_on_by_hand(window: MainWindow, qtbot: QtBot) -> None:
    session = window.session
    menu = QMenu()
    window.trains.offer_turned_lens(menu)
    menu.actions()[0].trigger()
    assert session.train is not None
    assert session.train.optic_reversed
    session.undo()
    session.do(LayPart("barnacles", "couple-62-52", 0, Side.FRONT))
    session.select(Selection(Side.FRONT, 0))
    window.stations.show_station("parts")
    window.parts.show_part("brae-50")
    press(window, "lay_part", qtbot)
    assert session.train.front_stack[0].lens == "brae-50"
    ring = QMenu()
    fill_ring_menu(ring, session, 0)
    assert {"Brae 50 mm f/2", "Take it off"} <= {action.text() for action in ring.actions()}
    next(a for a in ring.actions() if a.text() == "Take it off").trigger()
    assert session.train.front_stack[0].lens is None


def test_a_close_up_lens_goes_to_the_front_by_itself(window: MainWindow, qtbot: QtBot) -> None:
    window.session.select(Selection())
    window.stations.show_station("parts")
    window.parts.show_part("close-up-4")
    press(window, "lay_part", qtbot)
    # Its thread is not the achromat's: that is said, and it is there on request all the same.
    assert "mates with nothing" in window.bar.text.text()
    press(window, "lay_anyway", qtbot)
    assert window.session.train is not None
    assert [laid.part for laid in window.session.train.front_stack] == ["achromat-5", "close-up-4"]


def test_the_flash_s_guide_number_tells_how_far_it_may_stand(window: MainWindow, qtbot: QtBot) -> None:
    window.stations.show_station(EXPOSURE)
    table = ledger(window, "payments")
    row = [r[0] for r in rows(table)].index("Flash, guide number in m")
    type_over(table, row, 1, "36", qtbot)
    assert window.session.train is not None
    assert window.session.train.conditions.guide_number_m == 36.0
    # 36/(5.6·2.95172) m: guide number by the f-number that the sensor sees.
    assert rows(table)[row][2] == f"at {36.0 / (5.6 * 2.95172):.2g} m"
    type_over(table, row, 1, "-5", qtbot)
    assert window.session.train.conditions.guide_number_m == 36.0


def test_a_ruler_seen_at_the_nearest_focus_is_typed_and_outranks_the_maker(window: MainWindow, qtbot: QtBot) -> None:
    window.stations.show_station("parts")
    window.parts.show_part("kittiwake-90")
    table = window.parts.sheet.table
    for name, text in (
        ("Ruler at closest focus, from the filter thread", "120 ± 2"), ("… width of ruler in frame", "40"),
        ("… sensor width used", "36"),
    ):  # fmt: skip
        type_over(table, value_row(window.parts, name), 1, text, qtbot)
    readout = window.session.readout
    assert readout is not None
    assert readout.close_up.bare.magnification == pytest.approx(0.9)
    assert readout.close_up.bare.distance_mm == pytest.approx(120.0)
    assert "closeup.place_assumed" not in {finding.id for finding in readout.findings}


def test_ten_times_on_a_label_is_taken_as_dioptres(window: MainWindow, qtbot: QtBot) -> None:
    window.stations.show_station("parts")
    window.parts.show_part("close-up-4")
    table = window.parts.sheet.table
    type_over(table, value_row(window.parts, "Power"), 1, "8x", qtbot)
    part = window.session.workbook.by_id["close-up-4"]
    assert isinstance(part, CloseUpLens)
    assert part.dioptres.value == 8.0
    assert "means dioptres" in part.dioptres.in_use.note
    type_over(table, value_row(window.parts, "Power"), 1, "-2", qtbot)
    assert "dioptres" in reason(table)
    same = window.session.workbook.by_id["close-up-4"]
    assert isinstance(same, CloseUpLens)
    assert same.dioptres.value == 8.0


def test_both_ends_of_a_zoom_are_tabled_with_everything_at_hand(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station(CLOSE_UP)
    press(window, "show_ends", qtbot)
    settle(window)
    table = ledger(window, "closeup_ends")
    assert [column.title for column in table.ledger.columns] == [
        "Equipment", "17: wide", "front", "sensor", "gain", "∞ wide", "∞ front",
        "35: wide", "front", "sensor", "gain", "∞ wide", "∞ front",
    ]  # fmt: skip
    told = {row[0]: row[1:] for row in rows(table)}
    assert told["the lens alone"][3] == "1.00×"
    # A 13 mm tube adds 13/f to what the lens does alone.
    alone, tube = (36.0 / float(told[name][6]) for name in ("the lens alone", "Skerry tube 13"))
    assert tube - alone == pytest.approx(13.0 / 35.0, rel=0.01)
    assert float(told["Skerry tube 13"][9].rstrip("×")) == pytest.approx(tube / alone, abs=0.02)
    # At the infinity mark the tube alone magnifies: 13/35.
    assert float(told["Skerry tube 13"][10]) == pytest.approx(36.0 * 35.0 / 13.0, rel=0.01)
    assert told["the lens alone"][4:6] == ["∞", "∞"]
    table.copy(",")
    lines = QApplication.clipboard().text().splitlines()
    assert lines[0].startswith("Equipment,17: wide,front,sensor,gain,∞ wide,∞ front,35: wide")
    assert len(lines) == len(told) + 1
    number = next(n for n, row in enumerate(rows(table)) if row[0] == "Skerry tube 13")
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(number, 0))
    qtbot.keyClick(table, Qt.Key.Key_Return)
    assert window.session.train is not None
    assert [laid.part for laid in window.session.train.rear_train] == ["tube-13"]
    # A lens of one focal length has six columns.
    window.session.show_train("barnacles")
    settle(window)
    assert not table.isColumnHidden(6)
    assert table.isColumnHidden(7)
    window.session.show_train("witch-broom")
    settle(window)
    assert rows(table) == []
    assert "camera lens" in label(window, "ends_text")


def test_an_answer_that_darkens_the_corners_says_so(window: MainWindow, qtbot: QtBot) -> None:
    window.session.do(SetFNumber("barnacles", 4.0))
    press(window, "show_ask", qtbot)
    write(window, "ask_width", "10", qtbot)
    table = ledger(window, "ask_answers")
    words = []
    for number in range(table.ledger.rowCount()):
        table.setCurrentIndex(table.ledger.index(number, 0))
        words.append(label(window, "ask_why"))
    # 49 mm of close-up lens before a 50 mm pupil bite; a macro lens of 32 mm stays clear, and is first.
    assert any("stops darker" in text for text in words)
    assert "stops darker" not in words[0]
    assert any("stops darker" not in text for text in words)


def test_tables_over_a_zoom_and_yes_or_no_are_typed_in_parts(window: MainWindow, qtbot: QtBot) -> None:
    session = window.session
    window.stations.show_station("parts")
    window.parts.show_part("brae-17-35")
    table = window.parts.sheet.table
    type_over(table, value_row(window.parts, "Closest focus of a zoom"), 1,
              "17 mm: 280 published @@ 0.12 published ;; 35 mm: 280 published @@ 0.22 measured", qtbot)  # fmt: skip
    lens = session.workbook.by_id["brae-17-35"]
    assert isinstance(lens, CameraLens)
    assert [at.magnification.value for at in lens.near_points] == [0.12, 0.22]
    type_over(table, value_row(window.parts, "Closest focus of a zoom"), 1, "17 mm: near", qtbot)
    assert "is no row of that table" in reason(table)
    type_over(table, value_row(window.parts, "Entrance pupils, of a zoom"), 1, "20 mm: 25 ± 1 measured", qtbot)
    type_over(table, value_row(window.parts, "Projection"), 1, "sideways", qtbot)
    lens = session.workbook.by_id["brae-17-35"]
    assert isinstance(lens, CameraLens)
    assert [(at.focal_mm, at.depth_mm.value) for at in lens.entrance_pupils] == [(20.0, 25.0)]
    assert lens.projection == "rectilinear"
    assert "is no projection" in reason(table)
    window.parts.show_part("close-up-4")
    type_over(table, value_row(window.parts, "Achromat"), 1, "yes", qtbot)
    part = session.workbook.by_id["close-up-4"]
    assert isinstance(part, CloseUpLens)
    assert part.achromat
