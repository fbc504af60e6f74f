"""From the start of the process to the first usable window with the demo, and the memory it holds."""

import os
import resource
import subprocess
import sys
from pathlib import Path
from typing import Any

from benchmarks.yardstick import yardstick_ms

ROOT = Path(__file__).resolve().parent.parent
RUNS = 7
# An empty window of the same libraries, and how many times its start the program's may take: 10 y against 5.1.
EMPTY = """
import resource, numpy, pydantic
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.show()
QTimer.singleShot(0, app.quit)
app.exec()
print("usable", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)
"""
EMPTY_WISH = 1.96
WINDOW_WISH, MEMORY_WISH_MB = 10.0, 115.0


def _starts(command: list[str], environment: dict[str, str]) -> tuple[list[float], float]:
    """Run the program until its window is; returns the processor time of each run in s and the peak memory in MB."""
    times, peak = [], 0.0
    for _ in range(RUNS + 1):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        done = subprocess.run(command, env=environment, stdout=subprocess.PIPE, text=True, check=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        times.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
        peak = max(peak, float(done.stdout.split()[1]) / 1024.0)
    return times[1:], peak


def first_window() -> list[dict[str, Any]]:
    """Time the program itself and the launcher in front of it; the difference is what the launcher adds."""
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        "FAR_RAIL_START_PROBE": "1",
        "PYTHONPATH": str(ROOT / "src"),
    }
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    direct, peak = _starts([sys.executable, "-m", "farrail", "demo"], environment)
    launched, _ = _starts([str(ROOT / "far-rail"), "demo"], environment)
    median, y = sorted(direct)[RUNS // 2], yardstick_ms() / 1000.0
    # The yardstick is a plain loop; an empty window loads libraries as the program does, so this ratio is steadier.
    empty = sorted(_starts([sys.executable, "-c", EMPTY], environment)[0])[RUNS // 2]
    added = sorted(launched)[RUNS // 2] - median
    return [
        {"what": "first usable window with the demo, median", "value": median / y, "unit": "y", "wish": "<= 10",
         "met": median / y <= WINDOW_WISH, "note": f"median {median:.2f} s, quickest {min(direct):.2f} s, slowest "
         f"{max(direct):.2f} s of {RUNS}, y {1000 * y:.0f} ms"},
        {"what": "the same, times an empty window with the same libraries", "value": median / empty, "unit": "x",
         "wish": f"<= {EMPTY_WISH}", "met": median / empty <= EMPTY_WISH, "note": f"empty window {empty:.2f} s"},
        {"what": "resident memory at the first window", "value": peak, "unit": "MB", "wish": "<= 115",
         "met": peak <= MEMORY_WISH_MB},
        {"what": "what the launcher adds to a second start", "value": added, "unit": "s", "wish": "< 0.5",
         "met": added < 0.5},
    ]  # fmt: skip
