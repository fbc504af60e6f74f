"""Starts the window on settings with odd values in every place; it opens all the same.

    python tests/hardening/odd_settings.py FOLDER --times 100 --seed 1

Prints one line of JSON.
"""

import os
import random
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QByteArray, QEvent, QSettings

from tests.hardening.running import a_window, an_application, called

NAMES = ("theme", "recent", "versions_kept", "window/geometry", "window/split", "window/lower", "window/station",
         "unknown")  # fmt: skip
VALUES: tuple[Any, ...] = (
    "", "x", "-1", "1e400", "<img src=x>", "@Variant(\\0)", "@ByteArray(\\x1)", [], ["/nowhere", "/dev/zero", ""], [1],
    {"a": 1}, 0, 10**12, True, QByteArray(b"\x00\xff\x10"), QByteArray(), "a" * 5000, "../../etc", "/dev/stdin", None,
)  # fmt: skip


def attack(folder: Path, times: int, seed: int) -> dict[str, Any]:
    """Start so many windows on spoilt settings; returns the count and what was wrong."""
    dice, wrong = random.Random(seed), []
    app = an_application()
    for turn in range(times):
        file = folder / f"{turn}.ini"
        settings = QSettings(str(file), QSettings.Format.IniFormat)
        for name in NAMES:
            if dice.random() < 0.6:
                settings.setValue(name, dice.choice(VALUES))
        settings.sync()
        if dice.random() < 0.3 and file.exists():
            text = file.read_bytes()
            cut = dice.randrange(len(text) + 1)
            file.write_bytes(text[:cut] + bytes(dice.randrange(256) for _ in range(8)) + text[cut + 3 :])
        settings = QSettings(str(file), QSettings.Format.IniFormat)
        try:
            window = a_window(folder, settings)
            window.show_first()
            app.processEvents()
            shown = window.stations.current.key
            if not window.isVisible() or not shown:
                wrong.append(f"{turn}: no window")
            window.session.history.mark_saved()
            window.close()
            window.deleteLater()
            app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        except Exception as error:
            wrong.append(f"{turn}: {type(error).__name__}: {str(error)[:150]}")
    return {"starts": times, "wrong": wrong}


if __name__ == "__main__":
    called(__doc__, attack, times=40, seed=1)
