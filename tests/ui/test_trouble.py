"""Errors of the program's own: nothing stale looks valid, work goes on, the details are in the log."""

import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QApplication, QLabel, QMenu
from tests.ui.hands import found

from farrail import trouble
from farrail.errors import BadInput
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.readouts.spacing.model import Spacing
from farrail.ui.findings_column import FindingRow
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import RemovePart
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.store import write_file


@pytest.fixture(autouse=True)
def hooks(monkeypatch: pytest.MonkeyPatch) -> None:
    """Put the hooks back that the program replaces."""
    import threading

    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    monkeypatch.setattr(threading, "excepthook", threading.excepthook)


def watched(window: MainWindow) -> list[str]:
    said: list[str] = []
    window.session.message.connect(lambda text, _: said.append(text))
    trouble.watch(window.session.caught)
    return said


def log_of(window: MainWindow) -> str:
    path = window.session.log.path
    return path.read_text() if path.exists() else ""


def breaking(error: Exception) -> Callable[[object], float]:
    def fail(_: object) -> float:
        raise error

    return fail


@pytest.mark.parametrize("error", [BadInput("A window of 1100 mm cannot be."), ZeroDivisionError("by zero")])
def test_an_edit_that_cannot_be_judged_is_taken_back(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, error: Exception
) -> None:
    said, before = watched(window), window.session.workbook
    window.stations.show_station("spacing")
    headline = found(window, QLabel, "spacing_headline")
    broken = [True]

    def verdict(self: Spacing) -> object:
        if broken[0]:
            broken[0] = False  # only the edited train is the trouble
            raise error
        return kept.func(self)

    kept = Spacing.__dict__["required_mm"]
    monkeypatch.setattr(Spacing, "required_mm", property(verdict))
    assert not window.session.do(RemovePart("witch-broom", 4, label="Remove a spacer"))
    assert window.session.workbook == before
    assert window.session.history.undo_label is None
    assert window.session.current
    if isinstance(error, BadInput):
        assert said[-1] == "Remove a spacer was taken back: A window of 1100 mm cannot be."
        assert not log_of(window)
    else:
        assert "Remove a spacer failed through an error in the program" in said[-1]
        assert "ZeroDivisionError" in log_of(window)
    assert headline.text()


def test_what_is_shown_after_an_error_is_marked_until_it_is_right_again(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    said = watched(window)
    label = found(window, QLabel, "not_current")
    sys.excepthook(KeyError, KeyError("x"), None)
    assert not window.session.current
    assert label.isVisible()
    assert len([text for text in said if "error in the program" in text]) == 1
    image = window.rail.grab().toImage()
    sys.excepthook(KeyError, KeyError("again"), None)
    assert len([text for text in said if "error in the program" in text]) == 1
    assert window.session.do(RemovePart("witch-broom", 4))
    current: bool = window.session.current
    assert current
    assert not label.isVisible()
    QApplication.processEvents()
    assert window.rail.grab().toImage() != image


def test_a_window_far_too_thick_is_refused_with_the_reason(window: MainWindow) -> None:
    said = watched(window)
    camera = window.session.train.camera if window.session.train is not None else None
    assert camera is not None
    reading = Reading(value=1100.0, origin=Origin.MEASURED)
    before = window.session.workbook
    assert not window.session.do(SetReading(camera, "window.glass.thickness_mm", reading, label="Measure the window"))
    assert window.session.workbook == before
    assert "1100" in said[-1]
    assert window.session.current


FAILING = """
import sys
from farrail.cli import help_page
def broken(*_):
    raise RuntimeError("boom")
help_page.run = broken
sys.argv = ["far-rail", "calc"]
from farrail.__main__ import main
main()
"""


def test_the_command_line_shows_no_traceback_and_has_a_code_for_its_own_trouble(tmp_path: Path) -> None:
    source = str(Path(__file__).parents[2] / "src")
    env = {"PYTHONPATH": source, "XDG_STATE_HOME": str(tmp_path), "PATH": "/usr/bin:/bin", "HOME": str(tmp_path)}
    run = subprocess.run([sys.executable, "-c", FAILING], env=env, capture_output=True, text=True)
    assert run.returncode == 3
    assert "Traceback" not in run.stderr
    assert "far-rail.log" in run.stderr
    assert "RuntimeError: boom" in next(tmp_path.rglob("far-rail.log")).read_text()


@pytest.mark.parametrize("error", [BadInput("A window of 1100 mm cannot be."), ZeroDivisionError("by zero")])
def test_what_cannot_be_judged_is_a_finding_and_the_rest_is_judged(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, error: Exception, tmp_path: Path
) -> None:
    said = watched(window)
    monkeypatch.setattr("farrail.readouts.read.front_findings", breaking(error))
    file = tmp_path / "x.farrail.json"
    write_file(file, window.session.workbook)
    window.files.open_path(file)
    readout = window.session.readout
    assert readout is not None
    assert readout.findings[0].id == "train.not_judged:front"
    assert len(readout.findings) > 1
    row = window.findings.findChildren(FindingRow)[0]
    assert row.accessibleName().startswith("stop: The front stack cannot be judged")
    assert not window.session.current
    if isinstance(error, BadInput):
        assert "A window of 1100 mm cannot be." in row.accessibleName()
        assert "A window of 1100 mm cannot be." in said
    else:
        assert "ZeroDivisionError" in log_of(window)


def test_the_log_of_troubles_is_found_from_the_menu(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[str] = []
    monkeypatch.setattr(QDesktopServices, "openUrl", lambda url: opened.append(url.toLocalFile()))
    action = next(a for a in found(window, QMenu, "help_menu").actions() if a.text() == "Error log")
    action.trigger()
    assert "No errors" in window.bar.text.text()
    assert not opened
    window.session.log.tell(ValueError("x"), "A test")
    action.trigger()
    assert str(window.session.log.path) in window.bar.text.text()
    assert opened == [str(window.session.log.path.parent)]
