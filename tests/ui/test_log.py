"""The Log station: two fields and Enter, predictions beside, values applied in one step, states kept, tables."""

from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QCheckBox, QComboBox, QFileDialog, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger, press, rows

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.kinds.front import Darkening, Level
from farrail.logbook.kinds.keeping import Flats
from farrail.logbook.kinds.stars import CornerStars, StarShape
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.origin import Origin
from farrail.ui.stations.log import LogStation
from farrail.ui.window import MainWindow
from farrail.workbook.edits.log import ImportObservations, WriteDown
from farrail.workbook.workbook import empty_workbook

MakeWindow = Callable[..., MainWindow]


def open_log(make_window: MakeWindow, train: str) -> MainWindow:
    window = make_window(train=train)
    window.stations.show_station("log")
    QApplication.processEvents()
    return window


def saw(window: MainWindow) -> None:
    found(window, QAction, "act_saw").trigger()
    QApplication.processEvents()


def field(window: MainWindow, name: str) -> QLineEdit:
    return found(window, QLineEdit, f"log_{name}")


def type_over(window: MainWindow, qtbot: QtBot, name: str, text: str, *, enter: bool = False) -> None:
    line = field(window, name)
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text)
    if enter:
        qtbot.keyClick(line, Qt.Key.Key_Return)
    QApplication.processEvents()


def choose(box: QComboBox, value: object) -> None:
    at = box.findData(value)
    assert at >= 0, value
    box.setCurrentIndex(at)
    box.activated.emit(at)


def test_from_the_front_station_one_key_a_focal_length_and_enter(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    saw(window)
    assert window.stations.current.key == "log"
    assert found(window, QComboBox, "log_kind").currentData() == "darkening"
    assert window.focusWidget() is field(window, "focal_mm")
    # The caret is in the field with its text picked: what is typed takes its place.
    qtbot.keyClicks(field(window, "focal_mm"), "27.5")
    qtbot.keyClick(field(window, "focal_mm"), Qt.Key.Key_Return)
    QApplication.processEvents()
    seen = window.session.workbook.log[-1]
    assert isinstance(seen, Darkening)
    assert (seen.focal_mm, seen.f_number, seen.level, seen.train) == (27.5, 8.0, Level.ONSET, "sea-stacks")
    assert seen.day == date.today().isoformat()
    assert "29.36 mm predicted" in label(window, "log_beside")
    assert window.session.history.undo_label == "Save entry: corner darkens"
    top = rows(ledger(window, "log_timeline"))[0]
    assert top[0].startswith("The corner begins to darken at 27.5 mm")


@pytest.mark.parametrize(
    ("train", "station", "kind"),
    [("lichen", "close_up", "field_width"), ("witch-broom", "spacing", "corner_stars"),
     ("sea-stacks", "exposure", "filter_stops"), ("sea-stacks", "light", "corner_loss"),
     ("witch-broom", "build", "flats"), ("brae-cooled", "parts", "mass")],
)  # fmt: skip
def test_i_saw_opens_what_fits_the_station_in_front(
    make_window: MakeWindow, train: str, station: str, kind: str
) -> None:
    window = make_window(train=train)
    window.stations.show_station(station)
    saw(window)
    assert found(window, QComboBox, "log_kind").currentData() == kind


def test_stars_of_some_corners(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "witch-broom")
    window.stations.show_station("spacing")
    saw(window)
    choose(found(window, QComboBox, "log_shape"), "radial")
    found(window, QCheckBox, "log_corner_top_left").setChecked(True)
    press(window, "log_save", qtbot)
    seen = window.session.workbook.log[-1]
    assert isinstance(seen, CornerStars)
    assert (seen.shape, seen.corners) == (StarShape.RADIAL, ("top_left",))
    assert seen.one_sided


def test_a_tape_seen_takes_a_width_and_enter(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = make_window(train="lichen")
    window.stations.show_station("close_up")
    saw(window)
    qtbot.keyClicks(field(window, "width_mm"), "48")
    qtbot.keyClick(field(window, "width_mm"), Qt.Key.Key_Return)
    assert window.session.workbook.log[-1].kind == "field_width"


@pytest.mark.parametrize(
    ("name", "text", "reason"),
    [("focal_mm", "wide", "wide"), ("focal_mm", "", "give “Focal length” as well"),
     ("focal_mm", "18 to 20", "is a range"),
     ("f_number", "0.1", "f-number"), ("time", "25:00", "Time"), ("day", "2999-01-01", "is in the future"),
     ("day", "October", "is no day"), ("off_mm", "-1", "± focal length")],
)  # fmt: skip
def test_what_cannot_be_is_said_in_a_sentence_and_stays(
    make_window: MakeWindow, qtbot: QtBot, name: str, text: str, reason: str
) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    saw(window)
    before = window.session.workbook
    type_over(window, qtbot, "focal_mm", "20")
    line = field(window, name)
    line.setFocus()
    line.selectAll()
    qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert window.session.workbook is before
    assert reason in window.bar.text.text()
    assert line.text() == text


def test_what_the_season_teaches_is_taken_over_in_one_step_and_undone(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "lantern-wheel")
    press(window, "log_teaches", qtbot)
    ((_, name, now, value, between),) = rows(ledger(window, "log_learnt"))
    assert name == "Lantern coma corrector: back focus"
    assert (now, value[:3], between[:3]) == ("55.00", "55.", "55.")
    text = label(window, "log_taught")
    assert "Lantern 150 with its wheel" in text
    assert "too short" in text
    assert "0.56 mm longer next" in text
    before = window.session.workbook
    press(window, "log_take_over", qtbot)
    part = window.session.workbook.by_id["coma-corrector"]
    assert isinstance(part, Corrector)
    assert part.back_focus_mm.origin is Origin.MEASURED
    assert window.session.readout is not None
    assert not window.session.readout.verdict.met
    window.session.undo()
    assert window.session.workbook == before


def test_a_value_may_be_left_out(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "sea-stacks")
    press(window, "log_teaches", qtbot)
    table = ledger(window, "log_learnt")
    assert len(rows(table)) == 2
    table.setCurrentIndex(table.ledger.index(0, 0))
    press(window, "log_leave", qtbot)
    assert rows(table)[0][0] == "–"
    assert found(window, QPushButton, "log_take_over").text() == "Apply 1 value"
    table.setCurrentIndex(table.ledger.index(1, 0))
    press(window, "log_leave", qtbot)
    assert not found(window, QPushButton, "log_take_over").isEnabled()
    press(window, "log_leave", qtbot)
    press(window, "log_take_over", qtbot)
    after = window.session.workbook
    changed = [part.id for part, old in zip(after.shelf, demo_workbook().shelf, strict=True) if part != old]
    assert len(changed) == 1


def test_removing_an_observation_offers_to_take_the_value_back(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "lantern-wheel")
    press(window, "log_teaches", qtbot)
    press(window, "log_take_over", qtbot)
    table = ledger(window, "log_timeline")
    table.setCurrentIndex(table.ledger.index(1, 0))
    press(window, "log_remove", qtbot)
    assert "rests on this entry" in window.bar.text.text()
    press(window, "log_take_back", qtbot)
    assert window.session.workbook.by_id["coma-corrector"] == demo_workbook().by_id["coma-corrector"]


def test_an_entry_is_changed_and_its_prediction_told_then_and_now(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "sea-stacks")
    table = ledger(window, "log_timeline")
    table.setCurrentIndex(table.ledger.index(0, 0))
    assert found(window, QPushButton, "log_save").text() == "Change"
    type_over(window, qtbot, "place", "South stacks", enter=True)
    assert any(seen.place == "South stacks" for seen in window.session.workbook.log)
    press(window, "log_teaches", qtbot)
    press(window, "log_take_over", qtbot)
    press(window, "log_entry", qtbot)
    table.setCurrentIndex(table.ledger.index(3, 0))
    table.setCurrentIndex(table.ledger.index(0, 0))
    assert "With what is known now: Agrees" in label(window, "log_beside")


def test_the_log_is_searched_and_filtered(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "sea-stacks")
    assert len(rows(ledger(window, "log_timeline"))) == 4
    choose(found(window, QComboBox, "log_whose"), "all")
    assert len(rows(ledger(window, "log_timeline"))) == len(window.session.workbook.log)
    choose(found(window, QComboBox, "log_kinds"), "corner_stars")
    assert len(rows(ledger(window, "log_timeline"))) == 4
    choose(found(window, QComboBox, "log_kinds"), "")
    qtbot.keyClicks(found(window, QLineEdit, "log_search"), "steady GALLERY")
    assert [row[0] for row in rows(ledger(window, "log_timeline"))] == [
        "Lantern 150, its wheel the wrong way round: Corner stars round"
    ]
    qtbot.keyClicks(found(window, QLineEdit, "log_search"), " nothing like it")
    assert rows(ledger(window, "log_timeline")) == []
    assert "No entries match" in label(window, "log_headline")


def test_flats_taken_are_void_once_the_wheel_is_turned(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "lantern-wheel")
    window.stations.show_station("build")
    saw(window)
    press(window, "log_save", qtbot)
    assert "still good" in rows(ledger(window, "log_timeline"))[0][0]
    window.rail.setFocus()
    from farrail.train.train import Side
    from farrail.ui.selection import Selection

    window.session.select(Selection(Side.REAR, 3))
    window.rail.flip_picked()
    flats = window.session.workbook.log[-1]
    assert isinstance(flats, Flats)
    assert flats.void_since == date.today().isoformat()
    assert "no longer valid since" in rows(ledger(window, "log_timeline"))[0][0]
    window.session.undo()
    assert "still good" in rows(ledger(window, "log_timeline"))[0][0]


def test_a_state_is_kept_told_apart_and_laid_as_a_train(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = open_log(make_window, "witch-broom")
    press(window, "log_history", qtbot)
    assert rows(ledger(window, "log_states"))[0][0] == "October, round to the corners"
    assert "same as in the snapshot" in label(window, "state_differs")
    window.session.select(window.session.selection)
    from farrail.train.train import Side
    from farrail.workbook.edits.laying import RemovePart

    assert window.session.do(RemovePart("witch-broom", 4, Side.REAR))
    assert "− Spacer 5" in label(window, "state_differs")
    line = found(window, QLineEdit, "state_name")
    line.setFocus()
    qtbot.keyClicks(line, "without the five")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert rows(ledger(window, "log_states"))[0][0] == "without the five"
    table = ledger(window, "log_states")
    table.setCurrentIndex(table.ledger.index(1, 0))
    press(window, "state_lay", qtbot)
    assert window.session.train is not None
    assert window.session.train.name == "Tern 72 on the Witch Broom, October, round to the corners"
    assert len(window.session.train.rear_train) == 5


def test_a_table_comes_in_and_goes_out(
    make_window: MakeWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_log(make_window, "sea-stacks")
    table = tmp_path / "mine.csv"
    table.write_text("kind,train,day,focal_mm\ndarkening,sea-stacks,2026-10-01,25\nx,sea-stacks,2026-10-01,25\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(table), ""))
    count = len(window.session.workbook.log)
    press(window, "log_import", qtbot)
    assert len(window.session.workbook.log) == count + 1
    assert "1 left out; line 3: The kind “x” is not known" in window.bar.text.text()
    out = tmp_path / "log.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    press(window, "log_export", qtbot)
    assert out.read_text(encoding="utf-8-sig").count("\n") == count + 2
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "log.csv"), ""))
    press(window, "log_export", qtbot)
    assert window.bar.text.text()


def test_a_photo_fills_in_what_it_says(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    from tests.logbook.test_log_book import photo

    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    saw(window)
    taken = photo(tmp_path / "a.jpg", {0x920A: 24.0, 0x829D: 11.0, 0x9003: "2026:10:03 21:14:05"})
    window.stations.of(LogStation).entry.take_photo(taken)
    assert [field(window, name).text() for name in ("focal_mm", "f_number", "time", "day")] == [
        "24", "11", "21:14", "2026-10-03"
    ]  # fmt: skip
    press(window, "log_save", qtbot)
    assert window.session.workbook.log[-1].photo == str(taken)
    window.stations.of(LogStation).entry.begin(Darkening)
    window.stations.of(LogStation).entry.take_photo(tmp_path / "none.jpg")
    assert "There is no photo" in window.bar.text.text()


def test_ten_thousand_observations_open_and_are_compared_as_they_come_into_view(make_window: MakeWindow) -> None:
    book = demo_workbook()
    edits = tuple(
        WriteDown(
            Darkening, "sea-stacks", f"20{10 + n % 15}-{1 + n % 12:02}-{1 + n % 28:02}", {"focal_mm": 18.0 + n % 17}
        )
        for n in range(10_000)
    )
    window = make_window(ImportObservations(edits).apply(book), train="sea-stacks")
    window.stations.show_station("log")
    station = window.stations.of(LogStation)
    table = ledger(window, "log_timeline")
    assert len(rows(table)) == 10_004
    assert len(station._sides) < 200
    table.scrollToBottom()
    station._later.timeout.emit()
    assert rows(table)[-1][2] != "…"


def test_an_empty_workbook_has_an_empty_log_and_no_button_that_does_nothing(make_window: MakeWindow) -> None:
    window = make_window(empty_workbook())
    window.stations.show_station("log")
    assert label(window, "log_headline") == "The log is empty."
    for number in range(4):
        window.stations.of(LogStation).show_page(number)
    for name in ("log_save", "log_remove", "log_take_over", "log_leave", "state_keep", "state_lay", "state_drop"):
        assert not found(window, QPushButton, name).isEnabled(), name


def test_own_gear_from_an_empty_workbook_to_a_value_learnt(make_window: MakeWindow, qtbot: QtBot) -> None:
    """A lens and a ring of one's own: the corner seen to darken at 26 mm, f/8; the pupil follows by hand.

    (E + z)·h/f + f/(2N) = r with r 46, z 40, h 21.633: E = (46 − 26/16)·26/21.633 − 40 = 13.33 mm.
    """
    from tests.logbook.gear import body, lens, tube

    from farrail.parts.provenance import assumed, measured
    from farrail.train.train import MountedPart, Train

    mine = lens(assumed(27.0)).model_copy(update={"name": "Mine 17-35"})
    ring = tube("tube", 40.0, measured(92.0))
    train = Train(id="own", name="Own", optic="lens", front_stack=(MountedPart(part="tube"),), camera="body")
    window = make_window(empty_workbook().model_copy(update={"shelf": (mine, ring, body()), "trains": (train,)}))
    window.stations.show_station("front")
    saw(window)
    choose(found(window, QComboBox, "log_judged"), "measured")
    type_over(window, qtbot, "f_number", "8")
    type_over(window, qtbot, "focal_mm", "26", enter=True)
    press(window, "log_teaches", qtbot)
    ((_, name, _, value, _),) = rows(ledger(window, "log_learnt"))
    assert name == "Mine 17-35: entrance pupil behind the seat at 26 mm"
    assert float(value) == pytest.approx(13.33, abs=0.02)
    press(window, "log_take_over", qtbot)
    assert window.session.readout is not None
    assert window.session.readout.layout.optic.entrance_pupils[1].focal_mm == 26.0  # type: ignore[attr-defined]
