"""Opens and closes the real window with every station shown, again and again: its memory must come back.

    python tests/hardening/many_windows.py FOLDER --times 25

The start is the memory after the third window: what is loaded once, such as fonts and the solver's library, stays.
Prints one line of JSON.
"""

import gc
import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEvent, QSettings
from PySide6.QtWidgets import QApplication

from tests.hardening.large import resident_mb
from tests.hardening.running import a_window, an_application, called

TRAINS = ("witch-broom", "sea-stacks", "barnacles")
LOADED, MOST_GROWTH = 3, 1.10


def one_window(app: QApplication, folder: Path, number: int) -> None:
    """Open a window, show every station of a train, and close it."""
    settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    window = a_window(folder, settings)
    window.session.show_train(TRAINS[number % len(TRAINS)])
    for station in window.stations.all:
        window.stations.show_station(station.key)
        app.processEvents()
    window.session.history.mark_saved()
    window.close()
    window.deleteLater()
    app.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.collect()


def attack(folder: Path, times: int) -> dict[str, object]:
    """Open and close windows; returns the memory held at the start, at most and at the end."""
    app = an_application()
    held = []
    for number in range(LOADED + times):
        one_window(app, folder, number)
        held.append(resident_mb())
    start, end = held[LOADED - 1], held[-1]
    wrong = [] if end <= start * MOST_GROWTH else [f"{start} MB after {LOADED} windows, {end} MB at the end"]
    return {"windows": len(held), "start_mb": start, "most_mb": max(held), "end_mb": end, "wrong": wrong}


if __name__ == "__main__":
    called(__doc__, attack, times=25)
