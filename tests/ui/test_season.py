"""A made-up season typed into the window: twelve entries, three of them wrong, and the right values at its end."""

from collections.abc import Callable

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QComboBox
from pytestqt.qtbot import QtBot
from tests.logbook.gear import CORNER_MM, body, focal_where_it_shows, lens, stack, tube
from tests.logbook.test_pupils import AHEAD
from tests.ui.hands import found, press
from tests.ui.test_log import choose, field

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.kinds.lengths import PathLength, Weighed
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.observation import Observation
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, assumed, measured
from farrail.parts.registry import Part
from farrail.ui.window import MainWindow
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.workbook import Workbook, empty_workbook

MakeWindow = Callable[..., MainWindow]
DEPTH, RADIUS = 22.0, 45.0


def gear() -> Workbook:
    parts: list[Part] = [
        lens(assumed(27.0)),
        body().model_copy(update={"flange_to_sensor_mm": assumed(44.2)}),
        tube("ring", AHEAD, measured(2.0 * RADIUS)),
    ]  # fmt: skip
    train = stack("ring", name="season")
    return empty_workbook().model_copy(update={"shelf": tuple(parts), "trains": (train,)})


def entered(window: MainWindow, qtbot: QtBot, kind: type[Observation], day: str, **texts: str) -> None:
    """Type one entry as a person does: its kind, its day, its fields, and Enter."""
    window.log.saw(kind)
    entry = window.log.entry
    entry.day.setText(day)
    for name, text in texts.items():
        box = window.findChild(QComboBox, f"log_{name}")
        if box is not None:
            choose(box, text)
            continue
        line = field(window, name)
        line.setFocus()
        line.selectAll()
        qtbot.keyClicks(line, text)
    count = len(window.session.workbook.log)
    qtbot.keyClick(entry.day, Qt.Key.Key_Return)
    QApplication.processEvents()
    assert len(window.session.workbook.log) == count + 1, window.bar.text.text()


def test_twelve_entries_of_a_season_three_of_them_wrong_lead_to_the_right_values(
    make_window: MakeWindow, qtbot: QtBot
) -> None:
    """Hidden truths: a pupil 22 mm behind the seat, a flange 44 mm from the sensor. Three of the entries are slips."""
    window = make_window(gear(), train="season")
    window.stations.show_station("log")
    dice = np.random.default_rng(12)
    true = focal_where_it_shows(RADIUS, AHEAD, DEPTH, 8.0, 1.0, CORNER_MM)
    readings = [true + float(dice.uniform(-0.3, 0.3)) for _ in range(7)]
    slips = {2: true + 6.0, 5: 10.0 * (true % 10.0) + true // 10.0}
    for number, focal in enumerate(readings):
        typed = slips.get(number, focal)
        typed = typed if 17.0 <= typed <= 35.0 else true - 7.0
        entered(window, qtbot, Darkening, f"2026-09-{number + 1:02d}", focal_mm=f"{typed:.1f}", f_number="f/8",
                judged="measured", off_mm="0.3")  # fmt: skip
    for number, length in enumerate((44.0, 44.03, 46.0, 43.98)):
        entered(window, qtbot, PathLength, f"2026-10-{number + 1:02d}", length_mm=f"{length} mm", off_mm="0.05")
    entered(window, qtbot, Weighed, "2026-10-11", mass_g="812 g")
    assert len(window.session.workbook.log) == 12
    press(window, "log_teaches", qtbot)
    page = window.log.learnt
    assert "Questionable entries" in page._text.text()
    pupils = [one for one in page.picked if one.path.startswith("entrance_pupil")]
    assert pupils
    for one in pupils:
        assert one.low <= DEPTH <= one.high
        assert abs(one.value - DEPTH) < 1.0
        assert not {"darkening-2026-09-03-1", "darkening-2026-09-06-1"} & set(one.seen)
    (flange,) = [one for one in page.picked if one.path == "flange_to_sensor_mm"]
    assert flange.low <= 44.0 <= flange.high
    assert flange.high - flange.low < 0.2
    press(window, "log_take_over", qtbot)
    held = window.session.workbook.by_id["lens"]
    assert isinstance(held, CameraLens)
    assert any(abs(at.depth_mm.value - DEPTH) < 1.0 for at in held.entrance_pupils)


def test_a_value_typed_over_a_part_of_the_log_asks_and_an_exchange_makes_another_part(
    make_window: MakeWindow, qtbot: QtBot
) -> None:
    window = make_window(train="witch-broom")
    typed = SetReading("spacer-5", "path_length_mm", Reading(value=5.8, origin=Origin.MEASURED))
    assert window.session.do(typed)
    assert "corrected, or is it another part now" in window.bar.text.text()
    press(window, "exchange_part", qtbot)
    train = window.session.train
    assert train is not None
    assert train.rear_train[-1].part not in ("spacer-5", "")
    assert "until" in window.session.workbook.by_id["spacer-5"].name
    window.session.undo()
    window.session.undo()
    # Asked once of each part.
    window.session._asked_of.clear()
    assert window.session.do(typed)
    press(window, "message_dismiss", qtbot)
    assert window.session.train == window.session.workbook.train("witch-broom")
    assert window.session.workbook.train("witch-broom").rear_train[-1].part == "spacer-5"


def test_an_entry_changed_after_its_value_was_applied_offers_to_update_it(
    make_window: MakeWindow, qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("log")
    press(window, "log_teaches", qtbot)
    press(window, "log_take_over", qtbot)
    before = window.session.workbook.by_id["solid-3-0"]
    metered = next(one for one in window.session.workbook.log if isinstance(one, FilterStops))
    window.log.entry.show_seen(metered)
    window.log.show_page(0)
    line = field(window, "with_s")
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "16")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    QApplication.processEvents()
    assert "rests on this entry" in window.bar.text.text()
    press(window, "log_update", qtbot)
    after = window.session.workbook.by_id["solid-3-0"]
    # By hand: log2(16/0.02) = 9.644, with log2(28.5/0.04) = 9.477 in the mean 9.560 stops, as density times log10(2).
    density = getattr(after, "density", None)
    assert isinstance(density, Quantity)
    assert density.value == pytest.approx(9.560 * np.log10(2.0), abs=0.002)
    assert after != before
    assert found(window, QComboBox, "log_kind").currentData() == "filter_stops"


def test_what_to_look_at_next_counts_what_was_seen_already(make_window: MakeWindow, qtbot: QtBot) -> None:
    """The more evenings say the same, the less is left to gain by one more."""
    window = make_window(demo_workbook().model_copy(update={"log": (), "states": ()}), train="sea-stacks")
    window.stations.show_station("log")
    press(window, "log_teaches", qtbot)
    (first,) = [best for best in window.log.learnt._next if best.kind == "darkening"]
    assert first.left < 0.5
    for number in range(5):
        entered(window, qtbot, Darkening, f"2026-09-{number + 1:02d}", focal_mm=f"{29.0 + 0.1 * number:.1f}",
                f_number="8", judged="measured", off_mm="0.3")  # fmt: skip
    press(window, "log_teaches", qtbot)
    later = [best for best in window.log.learnt._next if best.kind == "darkening"]
    assert not later or later[0].open.sigma < 0.75 * first.open.sigma
