"""Fixtures of the window's tests."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QSettings
from PySide6.QtWidgets import QApplication

from farrail.ui.windows import Windows


@pytest.fixture
def windows(qapp: QApplication, tmp_path: Path) -> Iterator[Windows]:
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    made = Windows(settings, tmp_path / "recovery")
    yield made
    for window in made.all:
        window.session.history.mark_saved()
        window.close()
    qapp.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
