"""The Light station driven by hand: map, probe, cameras, both ways round, target, slider; pictures with no display."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QCheckBox, QLineEdit, QSlider
from pytestqt.qtbot import QtBot
from tests.command_line import far_rail
from tests.ui.hands import found, label, ledger, press, rows

from farrail.parts.kinds.seats import FilterWheel
from farrail.parts.provenance import Span
from farrail.train.train import Side
from farrail.ui.findings_column import FindingRow
from farrail.ui.selection import Selection
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import TurnPart
from farrail.workbook.edits.shelf import SetReading


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    """The reflector whose wheel is the wrong way round, in the Light station."""
    made = make_window(train="lantern-reversed")
    made.stations.show_station("light")
    made.light.map.finish()
    QApplication.processEvents()
    return made


def light(window: MainWindow):  # type: ignore[no-untyped-def]
    assert window.session.readout is not None
    return window.session.readout.light


def test_the_pointer_tells_of_a_place_and_draws_its_bundle(window: MainWindow, qtbot: QtBot) -> None:
    map_ = window.light.map
    frame, _ = map_._frame()
    corner = QPoint(round(frame.left()) + 3, round(frame.top()) + 3)
    QTest.mouseMove(map_, corner)
    QApplication.processEvents()
    text = label(window, "light_detail")
    assert "from the axis" in text
    assert "Luminance 31" in text
    assert window.rail._probe is not None
    # Ranges that come meanwhile do not take the place's words away.
    window.session.ranges_changed.emit()
    assert label(window, "light_detail") == text
    # The picture's top left is the sensor's bottom right, seen from behind.
    place = map_._place(QPointF(corner))
    assert place is not None
    assert place[0] > 10
    assert place[1] < -7
    map_.leaveEvent(None)  # type: ignore[arg-type]
    assert window.rail._probe is None


def test_a_prism_above_the_sensor_shadows_the_picture_s_bottom(window: MainWindow) -> None:
    edges = light(window).edges
    assert edges["bottom"] < edges["top"] == pytest.approx(1.0)
    picture = light(window).map(96, 64)
    assert picture[-1, 48] < picture[0, 48]
    # Turned by a quarter with its part, the shadow falls on a side.
    window.session.select(Selection(Side.REAR, 1))
    window.session.do(TurnPart("lantern-reversed", 1, 90.0))
    # What follows turns along with it; the camera is turned back.
    assert light(window).edges == pytest.approx(edges)
    window.session.do(TurnPart("lantern-reversed", 5, 0.0))
    turned = light(window).edges
    assert turned["bottom"] == pytest.approx(turned["top"])
    assert turned["left"] != pytest.approx(turned["right"], abs=1e-4)


def test_the_reversed_wheel_shows_on_map_profile_table_and_rail_and_turns_back(
    window: MainWindow, qtbot: QtBot
) -> None:
    before = light(window)
    assert window.rail.section is not None
    notch = next(n for n in window.rail.section.notches if n.part == "luminance-31")
    press(window, "show_ways", qtbot)
    table = ledger(window, "both_ways")
    needs = next(r for r in rows(table) if r[0].startswith("Filter needs"))
    assert float(needs[1]) > float(needs[2]) + 1.0
    assert "flats must be taken again" in label(window, "turn_advice")
    press(window, "turn_round", qtbot)
    assert window.session.history.undo_label == "Turn Five-slot wheel round"
    after = light(window)
    assert after.corner_ri > before.corner_ri + 0.02
    assert after.map(48, 32).mean() > before.map(48, 32).mean()
    assert after.profile[1].mean() > before.profile[1].mean()
    turned = next(n for n in window.rail.section.notches if n.part == "luminance-31")
    assert turned.z_mm > notch.z_mm + 5.0
    assert "No need to reverse it" in label(window, "turn_advice")  # the way it is now is the better one
    press(window, "show_clearance", qtbot)
    row = next(r for r in rows(ledger(window, "clearance")) if r[0].startswith("Luminance"))
    assert float(row[1]) == pytest.approx(float(needs[2]), abs=0.06)


def test_ample_margins_are_left_alone(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    made = make_window(train="witch-broom")
    made.stations.show_station("light")
    press(made, "show_ways", qtbot)
    assert label(made, "turn_advice").startswith("No need to reverse it: 2.8 mm margin is ample.")


def test_all_cameras_stand_worst_first_and_one_is_used_with_enter(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_cameras", qtbot)
    table = ledger(window, "all_cameras")
    names = [r[0] for r in rows(table)]
    assert names == ["Skua APS-C cooled, here", "Skua 4/3 cooled", "Skua full-frame body, does not mate"]
    assert float(rows(table)[0][1]) > float(rows(table)[1][1])
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(1, 0))
    qtbot.keyClick(table, Qt.Key.Key_Return)
    assert window.session.train is not None
    assert window.session.train.camera == "skua-four-thirds"


def test_a_target_by_size_by_name_and_by_neither(window: MainWindow, qtbot: QtBot) -> None:
    press(window, "show_field", qtbot)
    field, turned = found(window, QLineEdit, "target_field"), found(window, QLineEdit, "target_turned")
    field.setText("200 x 100")
    turned.setText("30")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    train = window.session.train
    assert train is not None
    assert train.conditions.target is not None
    assert (train.conditions.target.width_arcmin, train.conditions.target.turned_deg) == (200.0, 30.0)
    panels = next(r for r in rows(ledger(window, "field_figures")) if r[0].startswith("Panels"))
    assert float(panels[1]) == 4  # 32 × 23 mm as turned on 23.5 × 15.7
    field.setText("ngc 7000")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.session.train is not None
    assert window.session.train.conditions.target is not None
    assert window.session.train.conditions.target.width_arcmin == 120.0
    field.setText("Skerry Cloud")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "does not know" in window.bar.text.text()
    field.setText("")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.session.train.conditions.target is None


def test_one_drag_of_the_slider_is_one_step_and_what_waited_follows(window: MainWindow, qtbot: QtBot) -> None:
    table = ledger(window, "clearance")
    number = next(n for n, r in enumerate(rows(table)) if r[0].startswith("Five-slot wheel, filter seat"))
    table.setCurrentIndex(table.ledger.index(number, 0))
    slider = window.light.slider
    slider.what.setCurrentIndex(slider.what.findText("Five-slot wheel, clear"))
    bar = found(window, QSlider, "try_value")
    steps = len(window.session.history._done)
    shown = rows(table)[number]
    bar.setSliderDown(True)
    for value in (-20, -60, -120):
        bar.setValue(value)
        QApplication.processEvents()
    assert rows(table)[number] == shown  # lists wait for the hand
    bar.setSliderDown(False)
    QApplication.processEvents()
    wheel = window.session.workbook.by_id["kittiwake-wheel-5"]
    assert isinstance(wheel, FilterWheel)
    assert wheel.seat_aperture_mm is not None
    assert wheel.seat_aperture_mm.value == pytest.approx(29.5 * 2 ** (-120 / 400), abs=0.01)
    assert rows(table)[number] != shown
    assert len(window.session.history._done) == steps + 1
    window.session.undo()
    wheel = window.session.workbook.by_id["kittiwake-wheel-5"]
    assert isinstance(wheel, FilterWheel)
    assert wheel.seat_aperture_mm is not None
    assert wheel.seat_aperture_mm.value == 29.5


def test_natural_falloff_is_a_layer_of_its_own(window: MainWindow, qtbot: QtBot) -> None:
    plain = light(window).corner_ri
    box = found(window, QCheckBox, "light_natural")
    box.setChecked(True)
    window.light.map.finish()
    assert light(window).corner_ri == plain  # never mixed in silently
    ratio = light(window).map(48, 32, natural=True) / light(window).map(48, 32)
    assert ratio.max() <= 1.0
    assert ratio[0, 0] < ratio[16, 24]


def test_a_resting_hand_gets_the_fine_map_in_chunks(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    made = make_window(train="lantern-reversed")
    made.stations.show_station("light")
    qtbot.waitUntil(lambda: made.light.map._fine, timeout=3000)
    assert made.light.map._ri is not None
    assert made.light.map._ri.shape == (256, 384)
    exact = light(made).map(384, 256)
    assert np.abs(made.light.map._ri - exact).max() < 1e-9


@pytest.mark.parametrize(
    ("view", "name"), [("rail", "a.png"), ("rail", "a.svg"), ("light", "b.png"), ("light", "b.svg")]
)
def test_pictures_of_a_train_without_a_display(tmp_path: Path, view: str, name: str) -> None:
    book, out = str(tmp_path / "demo.farrail.json"), tmp_path / name
    far_rail("demo", "--save", book)
    run = far_rail("picture", book, str(out), "--train", "lantern-reversed", "--view", view)
    assert run.returncode == 0, run.stderr
    if name.endswith(".svg"):
        text = out.read_text()
        assert "<svg" in text
        assert text.count("<path") + text.count("<poly") > 20
    else:
        image = QImage(str(out))
        assert image.width() >= 1280
        assert len({image.pixel(x, image.height() // 2) for x in range(0, image.width(), 7)}) > 5


@pytest.mark.parametrize(
    ("out", "words"), [("a.jpg", "ends in .png, .svg or .pdf"), ("missing/a.png", "no such folder")]
)  # fmt: skip
def test_a_picture_that_cannot_be_written_is_told_in_one_sentence(tmp_path: Path, out: str, words: str) -> None:
    book = str(tmp_path / "demo.farrail.json")
    far_rail("demo", "--save", book)
    run = far_rail("picture", book, str(tmp_path / out), "--train", "witch-broom")
    assert run.returncode == 2
    assert words in run.stderr
    assert "Traceback" not in run.stderr


def test_the_headline_and_a_finding_say_what_depends_on_an_unknown(make_window: Callable[..., MainWindow]) -> None:
    """A drawer's ledge known only by two ends: clean in the middle is not good before it is measured."""
    window = make_window(train="witch-broom")
    session = window.session
    window.stations.show_station("light")
    assert label(window, "light_headline") == "No vignetting: the corner gets all the light of the centre."
    session.do(SetReading("kittiwake-drawer", "seat_aperture_mm", Span(low=20.0, high=44.0)))
    window.ranging.begin()
    window.ranging.wait()
    QApplication.processEvents()
    ranges = session.ranges
    assert ranges is not None
    spread = ranges.spreads["light.corner_ri"]
    assert spread.low < 0.5 < spread.high == 1.0
    said = label(window, "light_headline")
    assert f"{100 * spread.low:.0f}" in said
    assert "seat, clear aperture of Kittiwake drawer" in said
    told = [row.accessibleName() for row in window.findings.findChildren(FindingRow) if row.isVisibleTo(window)]
    assert any("depends on Kittiwake drawer" in words for words in told)
    # The figure's working says the range, and an edit takes all of it back until it is worked out again.
    figure = session.figure("light.corner_ri")
    assert figure is not None
    assert (figure.low, figure.high) == (spread.low, spread.high)
    session.undo()
    assert session.ranges is None
    assert label(window, "light_headline") == "No vignetting: the corner gets all the light of the centre."
