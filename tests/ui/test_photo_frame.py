"""The photo a train takes, in the pages that show it: by mouse, by key, by drop."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QImage
from PySide6.QtWidgets import QApplication, QComboBox, QLabel, QPushButton
from pytestqt.qtbot import QtBot
from tests.ui.hands import found

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.cameras import Camera
from farrail.parts.provenance import Quantity, Span
from farrail.preview.model import Scene
from farrail.train.train import Side
from farrail.ui.stations.compare import CompareStation
from farrail.ui.theme.apply import apply_theme
from farrail.ui.theme.tokens import PAPER, THEMES
from farrail.ui.widgets.frame_overlays import size_words
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.photo_window import PhotoWindow
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import TurnPart
from farrail.workbook.edits.trains import SetFocal

pytestmark = pytest.mark.photos


def pixels(image: QImage) -> np.ndarray:
    made = image.convertToFormat(QImage.Format.Format_RGB888)
    flat = np.frombuffer(made.constBits(), dtype=np.uint8).reshape(made.height(), made.bytesPerLine())
    return flat[:, : made.width() * 3].reshape(made.height(), made.width(), 3).astype(int)


@pytest.fixture
def filters(make_window: Callable[..., MainWindow], qtbot: QtBot) -> MainWindow:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    made(window.front.picture, qtbot)
    return window


def made(picture: PhotoFrame, qtbot: QtBot) -> PhotoFrame:
    """Wait until the fine picture has come from the background."""
    qtbot.waitUntil(
        lambda: (
            picture._made is not None
            and picture._made.fine
            and picture._quick is None
            and not (picture._work.busy or picture._later.isActive())
        ),
        timeout=20_000,
    )
    return picture


def test_the_photo_is_the_main_picture_of_filters_and_vignetting(filters: MainWindow, qtbot: QtBot) -> None:
    picture = filters.front.picture
    frame = picture._frame()[0]
    assert frame.width() >= 560.0
    assert frame.height() >= 370.0
    shown = pixels(picture.base_image())
    assert shown[0, 0].max() == 0  # the corner is black
    assert shown.std() > 20.0  # and there is a picture
    filters.stations.show_station("light")
    other = made(filters.light.map, qtbot)
    assert other._frame()[0].width() >= 560.0
    # A page that is left releases its picture.
    assert picture._made is None
    assert picture._images == {}


def test_what_is_said_of_the_photo(filters: MainWindow) -> None:
    said = filters.front.picture.sentence()
    assert "top left: Polariser 105: black" in said
    assert "blown out" in said


def test_without_filters_while_held_and_beside_a_line(filters: MainWindow, qtbot: QtBot) -> None:
    picture = filters.front.picture
    whole = pixels(picture.base_image())
    hold = found(filters, QPushButton, "front_picture_hold")
    qtbot.mousePress(hold, Qt.MouseButton.LeftButton)
    bare = pixels(picture.base_image())
    qtbot.mouseRelease(hold, Qt.MouseButton.LeftButton)
    assert bare[2, 2].max() > 60  # no corner is black without the stack
    assert (pixels(picture.base_image()) == whole).all()
    picture.setFocus()
    qtbot.keyPress(picture, Qt.Key.Key_Space)
    assert (pixels(picture.base_image()) == bare).all()
    qtbot.keyRelease(picture, Qt.Key.Key_Space)
    assert not picture.comparing
    qtbot.keyClick(picture, Qt.Key.Key_S)
    assert picture.split == 0.5
    assert found(filters, QPushButton, "front_picture_split").isChecked()
    frame = picture._frame()[0]
    qtbot.mousePress(picture, Qt.MouseButton.LeftButton, pos=QPoint(int(frame.width() / 2), 100))
    qtbot.mouseMove(picture, QPoint(int(frame.width() * 0.8), 100))
    drawn = pixels(picture.grab().toImage())
    scale = drawn.shape[1] / picture.width()
    # Left of the line the top corner is bright, right of it black.
    assert drawn[int(40 * scale), int(3 * scale)].max() > 60
    assert drawn[int(40 * scale), int((frame.width() - 4) * scale)].max() < 30
    qtbot.mouseRelease(picture, Qt.MouseButton.LeftButton)
    qtbot.keyClick(picture, Qt.Key.Key_S)
    assert picture.split is None


def test_marks_by_key_and_button(filters: MainWindow, qtbot: QtBot) -> None:
    picture = filters.front.picture
    picture.setFocus()
    plain = {name: pixels(picture.grab().toImage()) for name in ("before",)}["before"]
    for key, name in ((Qt.Key.Key_1, "contours"), (Qt.Key.Key_2, "causes"), (Qt.Key.Key_3, "crop"),
                      (Qt.Key.Key_4, "ends")):  # fmt: skip
        was = picture.marks[name]
        qtbot.keyClick(picture, key)
        assert picture.marks[name] is not was
        assert found(filters, QPushButton, f"front_picture_{name}").isChecked() is not was
        now = pixels(picture.grab().toImage())
        assert (now != plain).any(), name
        plain = now
    found(filters, QPushButton, "front_picture_ends").click()
    assert not picture.marks["ends"]


def test_the_photo_follows_zoom_and_holder(filters: MainWindow, qtbot: QtBot) -> None:
    picture = filters.front.picture
    before = pixels(picture.base_image())
    filters.session.do(SetFocal("sea-stacks", 35.0))
    QApplication.processEvents()
    quick = pixels(picture.base_image())
    assert quick.shape[1] == 160  # at once, as coarse as a hand needs
    assert quick[1, 1].max() > 10  # at 35 mm the corners are free
    made(picture, qtbot)
    after = pixels(picture.base_image())
    assert after.shape == before.shape
    assert after[3, 3].max() > 10
    filters.session.do(SetFocal("sea-stacks", 24.0))
    filters.session.do(TurnPart("sea-stacks", 2, 30.0, Side.FRONT))
    made(picture, qtbot)
    turned = pixels(picture.base_image())
    # Turned clockwise by 30° the dark side of the graduated filter leans to the right.
    assert turned[150, 500].mean() < turned[150, 70].mean()


def test_scenes_are_chosen_and_a_photo_is_dropped(filters: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    picture, scene = filters.front.picture, found(filters, QComboBox, "front_picture_scene")
    assert [scene.itemData(n) for n in range(scene.count())][:2] == [Scene.DUSK, Scene.NIGHT]
    scene.setCurrentIndex(scene.findData(Scene.FLAT))
    scene.activated.emit(scene.currentIndex())
    made(picture, qtbot)
    even = pixels(picture.base_image())
    assert np.ptp(even[250, 250]) <= 2  # grey
    path = tmp_path / "coast.jpg"
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA405] = 14
    Image.fromarray(np.full((400, 600, 3), (200, 60, 60), dtype=np.uint8)).save(path, exif=exif)
    drop(picture, path)
    made(picture, qtbot)
    red = pixels(picture.base_image())
    assert red[330, 285, 0] > red[330, 285, 1] + 60
    # What is no photo says so where the picture is; the old picture goes.
    words = tmp_path / "words.jpg"
    words.write_text("no")
    drop(picture, words)
    qtbot.waitUntil(lambda: bool(picture._trouble), timeout=10_000)
    assert "not a photo" in picture._trouble


def drop(picture: PhotoFrame, path: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    picture.dropEvent(QDropEvent(QPointF(20.0, 20.0), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                                 Qt.KeyboardModifier.NoModifier))  # fmt: skip


def test_dark_adapted_eyes_see_red_alone(filters: MainWindow) -> None:
    try:
        apply_theme(THEMES["dark-adapted"])
        QApplication.processEvents()
        shown = pixels(filters.front.picture.base_image())
        assert shown[..., 0].max() > 100
        assert shown[..., 1].max() < 40
        assert shown[..., 2].max() < 40
    finally:
        apply_theme(PAPER)


def test_a_train_without_a_camera_has_no_photo(make_window: Callable[..., MainWindow]) -> None:
    workbook = demo_workbook()
    bare = workbook.train("sea-stacks").model_copy(update={"camera": None})
    window = make_window(workbook=workbook.model_copy(update={"trains": (bare,)}), train="sea-stacks")
    window.stations.show_station("front")
    QApplication.processEvents()
    picture = window.front.picture
    assert picture._light is None
    assert not picture._work.busy
    assert "camera" in picture.missing_words()


def test_exposure_close_up_and_compare_show_photos(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("exposure")
    made(window.exposure.photo, qtbot)
    assert "blown out" in found(window, QLabel, "exposure_ends").text()
    window.session.show_train("barnacles")
    window.stations.show_station("close_up")
    close = made(window.close_up.photo, qtbot)
    shown = pixels(close.base_image())
    # The ruler is in the lower part of the picture: grey, with dark marks a millimetre apart.
    rows, columns = shown.shape[:2]
    mean = shown[int(rows * 0.84)].mean(axis=1)
    marks = np.flatnonzero(np.diff((mean < mean.mean()).astype(int)) == 1)
    width_mm = window.session.readout.close_up.field_mm[0]  # type: ignore[union-attr]
    assert np.diff(marks).mean() == pytest.approx(columns / width_mm, rel=0.06)
    window.stations.show_station("compare")
    station = window.stations.current
    assert isinstance(station, CompareStation)
    station.boxes[0].setCurrentIndex(station.boxes[0].findText("17-35 mm zoom on the sea stacks at dusk"))
    station.boxes[1].setCurrentIndex(station.boxes[1].findText("The zoom with its polariser behind the sheets"))
    station._show()
    found(window, QPushButton, "compare_photos").click()
    first, second = station.photos.photos[:2]
    made(first, qtbot)
    made(second, qtbot)
    assert pixels(first.base_image())[1, 1].max() == 0
    assert pixels(second.base_image())[1, 1].max() > 10
    assert not station.photos.photos[2].isVisible()


def test_a_picked_fix_is_seen_in_the_photo(filters: MainWindow, qtbot: QtBot) -> None:
    front = filters.front
    front.wait()
    row = next(
        n
        for n, remedy in enumerate(front._remedies)
        if remedy.first_clean_mm is not None and remedy.first_clean_mm < 20.0
    )
    front.remedies.setCurrentIndex(front.remedies.ledger.index(row, 0))
    QApplication.processEvents()
    fixed = pixels(made(front.picture, qtbot).base_image())
    assert fixed[2, 2].max() > 20  # the corner is free with it
    front.remedies.clearSelection()
    front.remedies.setCurrentIndex(front.remedies.ledger.index(-1, -1))
    front.show_preview(True)
    assert pixels(made(front.picture, qtbot).base_image())[2, 2].max() == 0


def test_the_photo_fills_its_page_and_has_a_window_of_its_own(filters: MainWindow, qtbot: QtBot) -> None:
    picture = filters.front.picture
    before = picture.width()
    picture.setFocus()
    qtbot.keyClick(picture, Qt.Key.Key_F)
    QApplication.processEvents()
    assert picture.width() > before * 1.4
    qtbot.keyClick(picture, Qt.Key.Key_F)
    QApplication.processEvents()
    assert picture.width() == before
    qtbot.keyClick(picture, Qt.Key.Key_W)
    window = found(filters, PhotoWindow, "photo_window")
    assert window.windowTitle() == "17-35 mm zoom on the sea stacks at dusk"
    black = pixels(made(window.picture, qtbot).base_image())
    assert black.shape[1] > 900
    filters.session.do(SetFocal("sea-stacks", 35.0))  # it follows
    QApplication.processEvents()
    assert pixels(made(window.picture, qtbot).base_image())[3, 3].max() > 10
    window.close()


def test_a_corner_says_its_interval_where_something_is_not_entered(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    """The entrance pupil is a range: at 26.5 mm the corner loses little at one end and all at the other."""
    workbook = demo_workbook()
    lens = workbook.by_id["brae-17-35"]
    vague = lens.model_copy(update={
        "entrance_pupils": (), "entrance_pupil_depth_mm": Quantity(readings=(Span(low=20.0, high=36.0),)),
    })  # fmt: skip
    shelf = tuple(vague if part.id == lens.id else part for part in workbook.shelf)
    window = make_window(workbook=workbook.model_copy(update={"shelf": shelf}), train="sea-stacks")
    window.session.do(SetFocal("sea-stacks", 26.5))
    window.stations.show_station("light")
    made(window.light.map, qtbot)
    qtbot.waitUntil(lambda: window.session.ranges is not None, timeout=20_000)
    said = window.light.map.sentence()
    assert re.search(r"Polariser 105: \d\.\d (to \d\.\d stops|stops to black)", said), said


def test_nothing_entered_is_not_called_free_of_vignetting(make_window: Callable[..., MainWindow]) -> None:
    """A lens and a camera of unknown size, and no opening: the photo judges nothing, as its headline says."""
    workbook = demo_workbook()
    train = workbook.train("sea-stacks").model_copy(update={"front_stack": ()})
    assert train.camera is not None
    vague = Quantity(readings=(Span(low=17.0, high=36.0),))
    camera = workbook.by_id[train.camera].model_copy(update={"sensor_width_mm": vague, "sensor_height_mm": vague})
    shelf = tuple(camera if part.id == camera.id else part for part in workbook.shelf)
    window = make_window(workbook=workbook.model_copy(update={"shelf": shelf, "trains": (train,)}), train=train.id)
    window.stations.show_station("light")
    assert isinstance(camera, Camera)
    assert size_words(camera) == "sensor size not entered"
    assert "not judged" in window.light.map.clean_words()
    assert "not judged" in found(window.light, QLabel, "light_headline").text()
    assert "Corner illumination" not in window.light.map.sentence()
