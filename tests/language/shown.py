"""Prints every text of the window, in a language it starts in or is switched to while it runs.

`python -m tests.language.shown de` starts in German; `... shown en de` starts in English, shows everything once, and
switches to German in the running window.
"""

import os
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()

from PySide6.QtCore import QSettings
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QMenu, QWidget
from tests.small_photos import small_photos

from farrail import language
from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui import language_choice
from farrail.ui.application import prepare_application
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.window import MainWindow
from farrail.ui.windows import Windows

TRAINS = ("witch-broom-short", "sea-stacks", "barnacles")


def texts(window: QWidget) -> Iterator[str]:
    """Yield what a window shows and tells assistive tools, in the order its widgets were made."""
    for widget in (window, *window.findChildren(QWidget)):
        yield from (widget.windowTitle(), widget.accessibleName(), widget.accessibleDescription(), widget.toolTip())
        if isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            yield widget.text()
        if isinstance(widget, QLineEdit):
            yield widget.placeholderText()
        if isinstance(widget, QComboBox):
            yield from (widget.itemText(number) for number in range(widget.count()))
        if isinstance(widget, Ledger):
            yield from (column.title for column in widget.ledger.columns)
            yield from (cell.text for row in widget.ledger.rows for cell in row.cells)
        if isinstance(widget, QMenu):
            widget.aboutToShow.emit()
            yield widget.title()
    for action in window.findChildren(QAction):
        yield from (action.text(), action.toolTip())


def everything(app: QApplication, window: MainWindow) -> list[str]:
    """Show every page with every train, and return what is shown there."""
    found: list[str] = []
    for train in TRAINS:
        window.session.show_train(train)
        for station in window.stations.all:
            window.stations.show_station(station.key)
            app.processEvents()
            found += [f"{train} {station.key}: {text}" for text in texts(window) if text]
    return found


def main() -> int:
    """Print what is shown after the last language was chosen."""
    small_photos()
    language.choose(sys.argv[1])
    app = QApplication(["far-rail"])
    prepare_application(app)
    folder = Path(tempfile.mkdtemp())
    windows = Windows(QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat), folder / "recovery")
    window = windows.add(Session(demo_workbook(), folder / "recovery"))
    window.resize(1280, 800)
    window.show()
    found = everything(app, window)
    for code in sys.argv[2:]:
        language_choice.choose(window.session, code, windows.anew)
        (window,) = windows.all
        found = everything(app, window)
    print("\n".join(found))
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()
