"""Shared fixtures: an application of its own settings, a window, and a watch for what is left behind."""

import gc
import os
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# What a test chooses for every start is no one's choice but its own; programs it starts see the same.
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp(prefix="far-rail-tests-")
os.environ["XDG_CACHE_HOME"] = os.environ["XDG_CONFIG_HOME"]

import pytest

from farrail import language, lengths

# The whole of the tests speaks English; in another language they show what breaks, and their words differ.
language.choose(os.environ.get("FAR_RAIL_TEST_LANGUAGE", "en"))

from PySide6.QtCore import QEvent, QSettings
from PySide6.QtWidgets import QApplication

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.after_paint import AfterPaint
from farrail.ui.application import prepare_application
from farrail.ui.session import Session
from farrail.ui.theme.apply import apply_theme
from farrail.ui.theme.tokens import PAPER
from farrail.ui.widgets import photo_frame
from farrail.ui.window import MainWindow
from farrail.workbook.store import write_file
from farrail.workbook.workbook import Workbook
from tests.small_photos import SMALL_PX, WHOLE_PX, small_photos

small_photos()


@pytest.fixture(scope="session")
def qapp() -> QApplication:
    """One application, prepared as the program prepares it."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["far-rail"])
    prepare_application(app)
    apply_theme(PAPER)
    # What is loaded stays loaded: the sweep after each window need not walk through it.
    gc.collect()
    gc.freeze()
    return app


@pytest.fixture(autouse=True)
def _swept_between_tests() -> Iterator[None]:
    """Collect garbage on the main thread and between tests only, as the program does.

    A collection that begins on a thread of background work can destroy widgets there, which ends the process.
    """
    gc.disable()
    yield
    gc.collect(1)


@pytest.fixture(autouse=True)
def _in_millimetres() -> Iterator[None]:
    """No matter what a test says lengths in, the next begins in millimetres."""
    lengths.choose(lengths.LengthUnit.MM)
    yield
    lengths.choose(lengths.LengthUnit.MM)


@pytest.fixture(autouse=True)
def _nothing_waits(request: pytest.FixtureRequest) -> Iterator[None]:
    """What may follow a painting follows at once; a test marked `after_paint` sees it wait as a person does."""
    AfterPaint.at_once = "after_paint" not in request.keywords
    yield
    AfterPaint.at_once = True


@pytest.fixture(autouse=True)
def _photos(request: pytest.FixtureRequest) -> Iterator[None]:
    """Photos are small but in a test that is about them, marked `photos`."""
    photo_frame.MOST_PX = WHOLE_PX if "photos" in request.keywords else SMALL_PX
    yield
    photo_frame.MOST_PX = SMALL_PX


@pytest.fixture
def demo() -> Workbook:
    return demo_workbook()


@pytest.fixture
def file(tmp_path: Path) -> Path:
    """A file with the demo in it."""
    path = tmp_path / "mine.farrail.json"
    write_file(path, demo_workbook())
    return path


@pytest.fixture
def make_window(qapp: QApplication, tmp_path: Path) -> Iterator[Callable[..., MainWindow]]:
    """Return a maker of windows on their own settings and recovery folder; all are closed and gone afterwards."""
    before = {id(w) for w in QApplication.topLevelWidgets()}
    made: list[MainWindow] = []

    def make(workbook: Workbook | None = None, train: str = "witch-broom") -> MainWindow:
        settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
        session = Session(workbook or demo_workbook(), tmp_path / "recovery")
        window = MainWindow(session, settings, tmp_path / "recovery")
        window.resize(1280, 800)
        session.show_train(train)
        window.show()
        qapp.processEvents()
        made.append(window)
        return window

    yield make
    for window in made:
        window.session.history.mark_saved()
        window.close()
        window.deleteLater()
    made.clear()
    qapp.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.collect()
    left = [w for w in QApplication.topLevelWidgets() if id(w) not in before and w.isVisible()]
    assert not left, f"windows left behind: {[w.objectName() or type(w).__name__ for w in left]}"


@pytest.fixture
def window(make_window: Callable[..., MainWindow]) -> MainWindow:
    """The demo in a window, on its first train."""
    return make_window()
