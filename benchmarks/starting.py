"""From the start of the process to the first usable window with the demo, and the memory it holds."""

import os
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from benchmarks.yardstick import yardstick_ms

ROOT = Path(__file__).resolve().parent.parent
RUNS = 7


def _starts(command: list[str], environment: dict[str, str]) -> tuple[list[float], float]:
    """Run the program until its window is; returns each time and the peak memory in MB."""
    times, peak = [], 0.0
    for _ in range(RUNS + 1):
        start = time.perf_counter()
        with subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True) as program:
            assert program.stdout is not None
            line = program.stdout.readline()
            times.append(time.perf_counter() - start)
        peak = max(peak, float(line.split()[1]) / 1024.0)
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
    added = sorted(launched)[RUNS // 2] - median
    return [
        {"what": "first usable window with the demo, median", "value": median / y, "unit": "y", "wish": "<= 5",
         "met": median / y <= 5.0, "note": f"median {median:.2f} s, quickest {min(direct):.2f} s, slowest "
         f"{max(direct):.2f} s of {RUNS}, y {1000 * y:.0f} ms"},
        {"what": "resident memory at the first window", "value": peak, "unit": "MB", "wish": "<= 200",
         "met": peak <= 200.0},
        {"what": "what the launcher adds to a second start", "value": added, "unit": "s", "wish": "< 0.5",
         "met": added < 0.5},
    ]  # fmt: skip
