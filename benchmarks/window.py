"""A window on the demo, offscreen, for the benchmarks that drive one."""

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any


@contextmanager
def demo_window(workbook: Any = None) -> Iterator[tuple[Any, Any, Any]]:
    """Yield application, session and a shown window on a workbook, the demo's when none is given."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QSettings
    from PySide6.QtWidgets import QApplication

    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.ui.application import prepare_application
    from farrail.ui.session import Session
    from farrail.ui.theme.apply import apply_theme
    from farrail.ui.theme.tokens import PAPER
    from farrail.ui.window import MainWindow

    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["far-rail"])
    prepare_application(app)
    apply_theme(PAPER)
    with tempfile.TemporaryDirectory() as folder:
        session = Session(demo_workbook() if workbook is None else workbook, Path(folder))
        window = MainWindow(session, QSettings(f"{folder}/s.ini", QSettings.Format.IniFormat), Path(folder))
        window.resize(1280, 800)
        window.show()
        yield app, session, window
        session.history.mark_saved()
        window.close()
