"""Drawing docs/screenshots: every main view of the demo, offscreen, the same bytes every time."""

import os
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

from farrail.errors import FarRailError

WIDTH, HEIGHT = 1280, 800


def draw_pictures(folder: Path, only: Sequence[str] = ()) -> int:
    """Draw pictures into a folder; returns the exit code.

    Args:
        folder: where to.
        only: which; none names all.

    Raises:
        FarRailError: the folder cannot be written, or no view has such a name.
    """
    unknown = [name for name in only if name not in SCENES]
    if unknown:
        raise FarRailError(f"No view is called {unknown[0]}; there are {', '.join(SCENES)}.")
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    os.environ["QT_SCALE_FACTOR"] = "1"
    from PySide6.QtCore import QCoreApplication, QLocale, QSettings
    from PySide6.QtWidgets import QApplication

    from farrail.ui.application import prepare_application

    QLocale.setDefault(QLocale.c())
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["far-rail"])
    prepare_application(app)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory() as scratch:
            for name, scene in ((name, SCENES[name]) for name in only or SCENES):
                settings = QSettings(f"{scratch}/{name}.ini", QSettings.Format.IniFormat)
                _draw(folder / f"{name}.png", scene, settings, Path(scratch))
                print(f"drew {name}.png")
    except OSError as error:
        raise FarRailError(f"{folder} cannot be written: {error.strerror}; choose another folder.") from None
    QCoreApplication.processEvents()
    return 0


def _draw(target: Path, scene: "Scene", settings: object, scratch: Path) -> None:
    from PySide6.QtCore import QEvent, QSettings
    from PySide6.QtWidgets import QApplication, QWidget

    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.ui.after_paint import AfterPaint
    from farrail.ui.session import Session
    from farrail.ui.theme.apply import apply_theme, choose_theme
    from farrail.ui.theme.tokens import THEMES
    from farrail.ui.window import MainWindow

    assert isinstance(settings, QSettings)
    theme, train, station, act = scene
    # A picture shows what a window shows once it rests.
    AfterPaint.at_once = True
    choose_theme(THEMES[theme])
    session = Session(demo_workbook(), scratch)
    window = MainWindow(session, settings, scratch)
    apply_theme(THEMES[theme])
    window.resize(WIDTH, HEIGHT)
    session.show_train(train)
    window.stations.show_station(station)
    window.show()
    act(window)
    window.findings._later.timeout.emit()
    _finish_photos(window)
    window.ranging.begin()
    window.ranging.wait()
    for _ in range(3):
        QApplication.processEvents()
    # The ranges that came may have begun them again.
    _finish_photos(window)
    focused = QApplication.focusWidget()
    if isinstance(focused, QWidget):
        focused.clearFocus()
    QApplication.processEvents()
    if not window.grab().toImage().save(str(target)):
        raise OSError(None, "the picture could not be saved")
    window.session.history.mark_saved()
    window.close()
    window.deleteLater()
    # Without this the window would live on and every later theme would be put on it as well.
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def _finish_photos(window: object) -> None:
    """Make the photos in view now."""
    from farrail.ui.widgets.photo_frame import PhotoFrame
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    for photo in window.findChildren(PhotoFrame):
        if photo.isVisible():
            photo.finish()


def _photos_compared(window: object) -> None:
    """Show the photos of two trains."""
    from farrail.ui.stations.compare import PHOTOS, CompareStation
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.stations.of(CompareStation).show_page(PHOTOS)


def _nothing(window: object) -> None:
    """Leave the scene as it opens."""


def _pick_joint(window: object) -> None:
    """Pick the joint before the camera."""
    from farrail.train.train import Side
    from farrail.ui.selection import Selection
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    assert window.session.train is not None
    window.session.select(Selection(Side.REAR, len(window.session.train.rear_train), joint=True))


def _ticked(window: object) -> None:
    """Tick the first steps of putting the train together."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.stations.build import BuildStation
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    for _ in range(4):
        window.stations.of(BuildStation).tick()
        QApplication.processEvents()


def _measure(window: object) -> None:
    """Measure the drawer with the simulated caliper."""
    from farrail.ui.widgets.row_keys import ValueKey
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.parts.show_part("kittiwake-drawer")
    window.parts.show_caliper(True)
    table = window.parts.sheet.table
    length = next(n for n, row in enumerate(table.ledger.rows) if row.key == ValueKey("path_length_mm"))
    table.setCurrentIndex(table.ledger.index(length, 1))
    window.parts.caliper.zero()
    window.parts.caliper.hold_wanted.emit()
    window.parts.caliper.send()
    window.bar.hide()


def _first_page(window: object) -> None:
    """Show the ways in, with nothing on the rail."""
    from farrail.ui.window import MainWindow
    from farrail.workbook.workbook import empty_workbook

    assert isinstance(window, MainWindow)
    window.session.replace(empty_workbook(), None, None, None)
    window.show_first()


def _route(window: object) -> None:
    """Go the night route up to the second part behind the flattener."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.window import MainWindow
    from farrail.workbook.routes.answer import Route

    _first_page(window)
    assert isinstance(window, MainWindow)
    window.first.begin(Route.NIGHT)
    for key, text in (
        ("camera.format", "23.5 x 15.7"), ("camera.pixel", "3.76"), ("camera.flange", "17.5"),
        ("camera.front", "M42x0.75 internal"), ("camera.ring", ""), ("optic.what", "telescope_corrector"),
        ("optic.size", "430 f/6"), ("corrector.back_focus", "55 and 55.25"), ("corrector.tolerance", ""),
        ("corrector.datum", ""), ("optic.rear", "M48x0.75 external"), ("piece.1", "filter_drawer"),
        ("length.1", "20.5"), ("threads.1", "M48x0.75 internal to M42x0.75 external"),
    ):  # fmt: skip
        window.first.route.answer(key, text)
    for _ in range(3):
        QApplication.processEvents()


def _plan(window: object) -> None:
    """Ask the planner and preview its second proposal."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.spacing.find_plan()
    window.spacing.plan.wait()
    QApplication.processEvents()
    table = window.spacing.plan.table
    if len(table.ledger.rows) > 1:
        table.setCurrentIndex(table.ledger.index(1, 0))


def _frame_taken(window: object) -> None:
    """Take a flat with the simulated bench camera, and find what is wrong."""
    from farrail.ui.stations.log import FRAMES, LogStation
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    station = window.stations.of(LogStation)
    station.show_page(FRAMES)
    station.frames.choose_hidden(2)
    station.frames.take()
    station.frames.work.wait()


def _field(window: object) -> None:
    """Show what the frame covers, with the target on it."""
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.light.show_table(3)


def _remedies_listed(window: object) -> None:
    """Wait for the remedies, none of them picked; the photo beside what it is without filters."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.front.wait()
    window.front.picture.set_split(0.36)
    QApplication.processEvents()


def _front_page(number: int) -> Callable[[object], None]:
    """Return what brings a table of the Front station to the front."""

    def show(window: object) -> None:
        from farrail.ui.window import MainWindow

        assert isinstance(window, MainWindow)
        window.front.show_table(number)

    return show


def _reach_shown(window: object) -> None:
    """Wait for what the shelf reaches."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.close_up.wait()
    QApplication.processEvents()


def _asked(window: object) -> None:
    """Ask for 18 mm from 90 mm on for 2 stops, and preview the best answer."""
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    _reach_shown(window)
    page = window.close_up.ask
    from farrail.ui.stations.close_up import ASK

    window.close_up.show_table(ASK)
    for field, text in ((page.width_, "18"), (page.distance, "90"), (page.stops, "2")):
        field.setText(text)
    page.ask()
    _reach_shown(window)
    page.table.setCurrentIndex(page.table.ledger.index(0, 0))


def _log_entry(window: object) -> None:
    """Show the latest observation beside its prediction."""
    from farrail.ui.stations.log import LogStation
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    table = window.stations.of(LogStation).table
    table.setCurrentIndex(table.ledger.index(0, 0))


def _learnt(window: object) -> None:
    """Show what the season's stars calibrate."""
    from farrail.ui.stations.log import LEARNT, LogStation
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    window.stations.of(LogStation).show_page(LEARNT)


def _stacked(window: object) -> None:
    """Run the focus stack on the simulated rail for a while, and pause."""
    from farrail.ui.window import MainWindow

    assert isinstance(window, MainWindow)
    _reach_shown(window)
    from farrail.ui.stations.close_up import STACK

    window.close_up.show_table(STACK)
    stack = window.close_up.stack
    stack.run.click()
    for _ in range(24):
        stack.tick()
    stack.run.click()


Scene = tuple[str, str, str, Callable[[object], None]]


PARTS, SPACING, LIGHT, FRONT = "parts", "spacing", "light", "front"
CLOSE_UP, EXPOSURE, BUILD, LOG, COMPARE = "close_up", "exposure", "build", "log", "compare"
SCENES: dict[str, Scene] = {
    "first-page": ("paper", "witch-broom", SPACING, _first_page),
    "route": ("paper", "witch-broom", SPACING, _route),
    "spacing": ("paper", "witch-broom", SPACING, _nothing),
    "spacing-short": ("paper", "witch-broom-short", SPACING, _pick_joint),
    "plan": ("paper", "witch-broom-short", SPACING, _plan),
    "light": ("paper", "lantern-reversed", LIGHT, _nothing),
    "parts": ("paper", "witch-broom", PARTS, _measure),
    "build": ("paper", "lantern-wheel", BUILD, _ticked),
    "front": ("paper", "sea-stacks", FRONT, _remedies_listed),
    "sky": ("paper", "sea-stacks", FRONT, _front_page(2)),
    "log": ("paper", "sea-stacks", LOG, _log_entry),
    "learnt": ("lamp-room", "lantern-wheel", LOG, _learnt),
    "frames": ("paper", "lantern-apsc", LOG, _frame_taken),
    "compare": ("paper", "sea-stacks", COMPARE, _photos_compared),
    "close-up": ("paper", "barnacles", CLOSE_UP, _reach_shown),
    "ask": ("paper", "lichen", CLOSE_UP, _asked),
    "focus-stack": ("lamp-room", "barnacles", CLOSE_UP, _stacked),
    "exposure": ("paper", "sea-stacks", EXPOSURE, _nothing),
    "dark-adapted": ("dark-adapted", "lantern-apsc", LIGHT, _nothing),
}
