"""The Frames page: opened, dropped, taken by the simulated bench camera, looked at beside the train, written down."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QPoint, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, press

from farrail.exchange.frame_files import write_bench_fits
from farrail.logbook.kinds.front import OpeningInFrame, PupilInFrame
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.model import Evidence, Found
from farrail.logbook.learning.pupil_frames import learn_pupils_of_frames
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.readouts.read import read
from farrail.simulated.bench_camera import HiddenMote, Truth, bench_flat, bench_ruler, bench_stars
from farrail.train.train import Side, with_conditions
from farrail.train.zoom_tables import pupil_depth_at
from farrail.ui.selection import Selection
from farrail.ui.stations.log import FRAMES, LEARNT, LogStation
from farrail.ui.stations.log_frames import FramesPage
from farrail.ui.window import MainWindow
from farrail.workbook.edits.learnt import TakeOver
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.edits.trains import SetFNumber
from farrail.workbook.workbook import empty_workbook

MakeWindow = Callable[..., MainWindow]


def open_page(make_window: MakeWindow, train: str) -> tuple[MainWindow, FramesPage]:
    window = make_window(train=train)
    window.stations.show_station("log")
    station = window.stations.of(LogStation)
    station.show_page(FRAMES)
    QApplication.processEvents()
    return window, station.frames


def choose(page: FramesPage, kind: str) -> None:
    at = page.kind.findData(kind)
    page.kind.setCurrentIndex(at)
    page.kind.activated.emit(at)


def settled(page: FramesPage, qtbot: QtBot) -> str:
    qtbot.waitUntil(lambda: not page.work.busy, timeout=60_000)
    QApplication.processEvents()
    return f"{label(page, 'frame_verdict')}\n{label(page, 'frame_text')}".strip()


def flat_file(
    path: Path, train: str, truth: Truth, focal_mm: float | None = None, f_number: float | None = None
) -> Path:
    from farrail.demo.hallan_skerry import demo_workbook

    workbook = demo_workbook()
    readout = read(with_conditions(workbook.train(train), focal_mm, f_number), workbook.by_id)
    header: dict[str, object] = {} if focal_mm is None else {"FOCALLEN": focal_mm, "FOCRATIO": f_number}
    write_bench_fits(path, bench_flat(readout, truth, 700), header)
    return path


def test_a_decentred_seat_and_a_tilted_camera_are_diagnosed(
    make_window: MakeWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    """What a new user does: drop the flat, read it, write it down; take stars, read which side to shim."""
    window, page = open_page(make_window, "lantern-apsc")
    assert "Files are only looked into" in label(page, "frame_text")
    assert not page.write.isEnabled()
    number = next(
        n for n, one in enumerate(window.session.readout.light.imaged)  # type: ignore[union-attr]
        if one.placed.part.name == "Luminance 31"
    )  # fmt: skip
    page.show_files([flat_file(tmp_path / "flat.fits", "lantern-apsc", Truth(apertures=((number, 29.0, 1.8, 0.0),)))])
    told = settled(page, qtbot)
    assert told.startswith("Luminance 31 in Seven-slot wheel explains it")
    assert "to the right as seen from behind the camera: does the wheel stop" in told
    assert window.session.train is not None
    picked = window.session.train.rear_train[window.session.selection.index]
    assert picked.part == "kittiwake-wheel"
    before = window.session.workbook
    press(page, "frame_write", qtbot)
    written = window.session.workbook.log[-1]
    assert isinstance(written, OpeningInFrame)
    assert (written.part, written.path) == ("luminance-31", "clear_aperture_mm")
    assert written.value_mm == pytest.approx(29.0, abs=max(written.off_mm, 0.2))
    assert written.photo == "flat.fits"
    assert "does the wheel stop" in written.note
    window.session.undo()
    assert window.session.workbook == before
    choose(page, "stars")
    settled(page, qtbot)
    press(page, "frame_bench", qtbot)
    told = settled(page, qtbot)
    assert "Corner stars are " in told
    assert "shim the camera out at its " in told
    press(page, "frame_tell", qtbot)
    assert "Hidden: Focus is" in label(page, "frame_text")
    press(page, "frame_write", qtbot)
    assert isinstance(window.session.workbook.log[-1], CornerStars)


def test_photos_over_the_zoom_in_one_go(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window, page = open_page(make_window, "sea-stacks")
    paths = [
        flat_file(tmp_path / f"wall-{focal:g}.fits", "sea-stacks", Truth(deeper_mm=2.0), focal, 4.0)
        for focal in (29.0, 28.0, 28.5)
    ]
    page.show_files(paths)
    told = settled(page, qtbot)
    lines = [line for line in told.splitlines() if "entrance pupil" in line]
    assert [line.split(":")[0] for line in lines] == [
        "wall-28.fits, 28 mm",
        "wall-28.5.fits, 28.5 mm",
        "wall-29.fits, 29 mm",
    ]
    count = len(window.session.workbook.log)
    press(page, "frame_write", qtbot)
    written = window.session.workbook.log[count:]
    assert [(type(one), one.focal_mm, one.f_number) for one in written] == [
        (PupilInFrame, 28.0, 4.0), (PupilInFrame, 28.5, 4.0), (PupilInFrame, 29.0, 4.0)
    ]  # fmt: skip
    # The three are about one entry of the zoom's table, 2 mm deeper than the shelf has it: applied in one step.
    station = window.stations.of(LogStation)
    lens = window.session.workbook.by_id["brae-17-35"]
    assert isinstance(lens, CameraLens)
    station.show_page(LEARNT)
    QApplication.processEvents()
    evidence = Evidence(
        window.session.workbook.log, window.session.workbook.states_by_id, window.session.workbook.by_id
    )  # fmt: skip
    learnt = [
        one for one in learn_pupils_of_frames(evidence, lens) if isinstance(one, Found)
    ]  # fmt: skip
    assert [one.focal_mm for one in learnt] == [28.5]
    assert learnt[0].value == pytest.approx(pupil_depth_at(lens, 28.5).value + 2.0, abs=0.2)
    window.session.do(TakeOver(tuple(learnt)))
    now = window.session.workbook.by_id["brae-17-35"]
    assert isinstance(now, CameraLens)
    assert pupil_depth_at(now, 28.5).value == pytest.approx(learnt[0].value, abs=0.01)
    assert pupil_depth_at(now, 28.5).origin is Origin.MEASURED
    window.session.undo()
    window.session.undo()
    assert len(window.session.workbook.log) == count


def test_a_frame_dropped_anywhere_is_looked_at(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window = make_window(train="lantern-apsc")
    path = flat_file(tmp_path / "dropped.fits", "lantern-apsc", Truth())
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    how = (Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(window, QDragEnterEvent(QPoint(40, 40), *how))
    QApplication.sendEvent(window, QDropEvent(QPoint(40, 40), *how))
    station = window.stations.of(LogStation)
    qtbot.waitUntil(lambda: station.frames.isVisible() and station.frames._looked is not None, timeout=60_000)
    assert settled(station.frames, qtbot).startswith("The current train explains it.")


def test_a_rule_gives_the_field_of_a_near_point(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window, page = open_page(make_window, "lichen")
    choose(page, "ruler")
    camera = window.session.readout.layout.camera  # type: ignore[union-attr]
    assert camera is not None
    rows = round(900 * camera.sensor_height_mm.value / camera.sensor_width_mm.value)
    write_bench_fits(tmp_path / "rule.fits", bench_ruler(44.0, 900, rows), {})
    page.show_files([tmp_path / "rule.fits"])
    assert "of the rule fill the frame's width" in settled(page, qtbot)
    press(page, "frame_write", qtbot)
    written = window.session.workbook.log[-1]
    assert isinstance(written, FieldWidth)
    assert written.width_mm == pytest.approx(44.0, abs=0.1)


def test_a_rule_that_lies_askew_is_clicked_twice(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """Turned by 30° it is not found along rows or columns; along its marks 900 pixels are 40 mm, the one that way."""
    window, page = open_page(make_window, "lichen")
    choose(page, "ruler")
    camera = window.session.readout.layout.camera  # type: ignore[union-attr]
    assert camera is not None
    rows = round(900 * camera.sensor_height_mm.value / camera.sensor_width_mm.value)
    y, x = np.mgrid[0:rows, 0:900]
    turn = np.radians(30.0)
    along = ((x - 450) * np.cos(turn) + (y - rows / 2) * np.sin(turn)) * 40.0 / 900.0
    light = np.where(along % 1.0 < 0.3, 5_000.0, 20_000.0) + np.random.default_rng(1).normal(0.0, 50.0, x.shape)
    write_bench_fits(tmp_path / "askew.fits", light, {})
    page.show_files([tmp_path / "askew.fits"])
    settled(page, qtbot)
    scale, left = page.picture._placed()
    for reach in (-300.0, 300.0):
        column, row = 450.0 + 0.8 * reach * np.cos(turn), rows / 2 + 0.8 * reach * np.sin(turn)
        at = QPoint(round(left + column * scale), round(row * scale))
        qtbot.mouseClick(page.picture, Qt.MouseButton.LeftButton, pos=at)
    assert "of the rule fill the frame's width" in settled(page, qtbot)
    press(page, "frame_write", qtbot)
    written = window.session.workbook.log[-1]
    assert isinstance(written, FieldWidth)
    assert written.width_mm == pytest.approx(40.0, rel=0.01)


def test_what_a_frame_says_goes_with_its_train(make_window: MakeWindow, qtbot: QtBot) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    press(page, "frame_bench", qtbot)
    settled(page, qtbot)
    assert page.write.isEnabled()
    window.session.show_train("witch-broom")
    QApplication.processEvents()
    window.stations.of(LogStation).show_page(FRAMES)
    QApplication.processEvents()
    assert not page.write.isEnabled()
    assert not page.tell.isVisible()
    assert "Files are only looked into" in label(page, "frame_text")


def test_a_train_changed_since_is_looked_at_again(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window, page = open_page(make_window, "sea-stacks-slim")
    page.show_files([flat_file(tmp_path / "wall.fits", "sea-stacks-slim", Truth())])
    settled(page, qtbot)
    assert page.write.isEnabled()
    count = len(window.session.workbook.log)
    window.session.do(SetFNumber("sea-stacks-slim", 4.0))
    assert not page.write.isEnabled()
    assert "have changed since: look again" in label(page, "frame_text")
    press(page, "frame_again", qtbot)
    settled(page, qtbot)
    # A part of the train counts too: what is predicted rests on it.
    window.session.do(SetField("brae-17-35", "note", "cleaned"))
    assert not page.write.isEnabled()
    press(page, "frame_again", qtbot)
    settled(page, qtbot)
    assert len(window.session.workbook.log) == count
    press(page, "frame_write", qtbot)
    assert len(window.session.workbook.log) == count + 1


def test_in_a_small_window_no_button_is_cut(make_window: MakeWindow) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    window.resize(1040, 680)
    QApplication.processEvents()
    for button in (page.open, page.bench, page.write):
        assert button.width() >= button.sizeHint().width(), button.text()
        assert button.mapTo(page, QPoint(button.width(), 0)).x() <= page.width(), button.text()


def test_dust_is_ringed_and_named(make_window: MakeWindow, qtbot: QtBot) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    choose(page, "dust")
    page._seed = 5
    press(page, "frame_bench", qtbot)
    told = settled(page, qtbot)
    assert "before the sensor. Clean the " in told
    assert page.picture._rings
    # The rail points at what is to be cleaned: the camera, behind the last joint.
    assert window.session.train is not None
    assert window.session.selection == Selection(Side.REAR, len(window.session.train.rear_train), joint=True)


def test_clear_sky_beside_the_predicted_band(make_window: MakeWindow, qtbot: QtBot) -> None:
    window, page = open_page(make_window, "sea-stacks")
    choose(page, "sky")
    press(page, "frame_bench", qtbot)
    assert settled(page, qtbot).startswith("The sky is uneven by ")
    press(page, "frame_tell", qtbot)
    assert "Hidden: The Sun is" in label(page, "frame_text")
    press(page, "frame_write", qtbot)
    assert window.session.workbook.log[-1].note.startswith("The sky is uneven by ")


def test_two_flats_tell_whether_dust_turned_with_the_filter(
    make_window: MakeWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    _, page = open_page(make_window, "lantern-apsc")
    choose(page, "dust")
    stays = HiddenMote(6.99, -4.0, 2.0, 0.25)
    paths = [
        flat_file(tmp_path / f"{right}.fits", "lantern-apsc", Truth(motes=(stays, HiddenMote(6.99, right, -3.0, 0.25))))
        for right in (3.0, -1.5)
    ]
    page.show_files(paths)
    lines = settled(page, qtbot).splitlines()
    assert sum("behind the part that was rotated" in line for line in lines) == 1
    assert sum("on the part that was rotated" in line for line in lines) == 1


@pytest.mark.parametrize("kind", ["flat", "stars", "dust", "ruler"])
def test_what_cannot_be_read_is_said_and_the_page_goes_on(
    make_window: MakeWindow, qtbot: QtBot, tmp_path: Path, kind: str
) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    choose(page, kind)
    told: list[str] = []
    window.session.message.connect(lambda text, _: told.append(text))
    (tmp_path / "cut.fits").write_bytes(b"SIMPLE  =                    T")
    page.show_files([tmp_path / "cut.fits"])
    settled(page, qtbot)
    assert any("cut.fits cannot be read" in one for one in told)
    noise = np.random.default_rng(1).normal(1000.0, 30.0, (400, 600))
    write_bench_fits(tmp_path / "noise.fits", noise, {})
    page.show_files([tmp_path / "noise.fits"])
    assert settled(page, qtbot).endswith(".")
    write_bench_fits(tmp_path / "upright.fits", noise.T, {})
    page.show_files([tmp_path / "upright.fits"])
    settled(page, qtbot)
    assert any("turned by a quarter" in one for one in told)
    assert found(page, QPushButton, "frame_open").isEnabled()


def test_cancelled_and_closed_while_it_is_looked_at(make_window: MakeWindow, qtbot: QtBot) -> None:
    _, page = open_page(make_window, "lantern-apsc")
    choose(page, "stars")
    press(page, "frame_bench", qtbot)
    assert page.stop.isVisible()
    press(page, "frame_stop", qtbot)
    assert label(page, "frame_text") == "Cancelled."
    assert not page.stop.isVisible()
    press(page, "frame_bench", qtbot)  # and the window is closed under it


def test_opened_by_the_dialog_and_nothing_in_an_empty_workbook(
    make_window: MakeWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    path = flat_file(tmp_path / "f.fits", "lantern-apsc", Truth())
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([str(path)], ""))
    press(page, "frame_open", qtbot)
    assert "explains it" in settled(page, qtbot)
    window.session.replace(empty_workbook(), None, None, None)
    QApplication.processEvents()
    window.stations.show_station("log")
    window.stations.of(LogStation).show_page(FRAMES)
    QApplication.processEvents()
    assert not found(page, QPushButton, "frame_open").isEnabled()
    assert not found(page, QComboBox, "frame_kind").isEnabled()
    assert "add a train with a camera" in label(page, "frame_text")


def test_the_difference_from_the_prediction_is_shaded(make_window: MakeWindow, qtbot: QtBot) -> None:
    _, page = open_page(make_window, "lantern-apsc")
    assert not page.difference.isVisible()
    page.choose_hidden(2)
    press(page, "frame_bench", qtbot)
    told = settled(page, qtbot)
    assert "It differs most from the prediction at the " in told
    plain = page.picture.grab().toImage()
    assert page.difference.isVisible()
    qtbot.mouseClick(page.difference, Qt.MouseButton.LeftButton, pos=QPoint(8, page.difference.height() // 2))
    assert "Hatched and solid: darker" in label(page, "frame_legend")
    assert page.picture.grab().toImage() != plain
    qtbot.mouseClick(page.difference, Qt.MouseButton.LeftButton, pos=QPoint(8, page.difference.height() // 2))
    assert page.picture.grab().toImage() == plain


def test_a_shadow_is_outlined_by_hand(make_window: MakeWindow, qtbot: QtBot) -> None:
    """Press on its middle, drag to its edge: a circle as wide, far away as similar triangles say."""
    window, page = open_page(make_window, "lantern-apsc")
    choose(page, "dust")
    press(page, "frame_bench", qtbot)
    settled(page, qtbot)
    looked = page._looked
    assert looked is not None
    before = len(looked.motes)
    scale, left = page.picture._placed()
    columns, rows = looked.picture.size
    middle = QPoint(round(left + 0.5 * columns * scale), round(0.12 * rows * scale))
    edge = middle + QPoint(12, 0)
    qtbot.mousePress(page.picture, Qt.MouseButton.LeftButton, pos=middle)
    qtbot.mouseMove(page.picture, edge)
    qtbot.mouseRelease(page.picture, Qt.MouseButton.LeftButton, pos=edge)
    told = settled(page, qtbot)
    looked = page._looked
    assert looked is not None
    assert len(looked.motes) == before + 1
    readout = window.session.readout
    assert readout is not None
    across = 24.0 / scale / columns * looked.width_mm
    assert looked.motes[-1].mote.outer_mm == pytest.approx(across, rel=0.02)
    assert looked.motes[-1].distance_mm.value == pytest.approx(across * readout.light.pupil.f_number, rel=0.02)
    assert f"A ring of {looked.motes[-1].mote.outer_mm:.2f} mm" in told
    assert "press on its middle" in label(page, "frame_legend")


def test_places_of_the_focuser_are_given_by_hand(make_window: MakeWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window, page = open_page(make_window, "lantern-apsc")
    readout = window.session.readout
    assert readout is not None
    paths = []
    for at in (-600.0, -200.0, 200.0, 600.0):
        paths.append(tmp_path / f"s{at:+.0f}.fits")
        light = bench_stars(readout, Truth(across_um=200.0, focus_um=at, seeing_px=2.2, seed=int(at) + 700), 900)
        write_bench_fits(paths[-1], light, {})
    choose(page, "stars")
    page.show_files(paths)
    assert "4 of 4 frames lack the focuser position" in settled(page, qtbot)
    assert page.places.isVisible()
    page.places.setText("-600 -200 200")
    qtbot.keyClick(page.places, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: not page.work.busy, timeout=60_000)
    assert "3 places of the focuser are given for 4 frames" in window.bar.text.text()
    page.places.setText("about -600")
    qtbot.keyClick(page.places, Qt.Key.Key_Return)
    assert "Places of the focuser are numbers in µm" in window.bar.text.text()
    page.places.setText("−600 −200 200 600")
    qtbot.keyClick(page.places, Qt.Key.Key_Return)
    told = settled(page, qtbot)
    assert "Focus is farthest out in the picture's right" in told
    assert not page.places.isVisible()


def test_a_bar_tells_how_far_the_work_is(make_window: MakeWindow, qtbot: QtBot) -> None:
    _, page = open_page(make_window, "lantern-apsc")
    choose(page, "stars")
    page.take()
    assert page.bar.isVisible()
    assert page.stop.isVisible()
    qtbot.waitUntil(lambda: page.bar.value() > 0 or not page.work.busy, timeout=60_000)
    settled(page, qtbot)
    assert page._progress.share > 0.8
    assert not page.bar.isVisible()
