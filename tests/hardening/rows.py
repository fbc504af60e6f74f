"""What must never get lost or outlive its question, row by row: the tests of each row, the random ones many times.

    python tests/hardening/rows.py --times 3000

Prints one line of JSON: how many tests each row has, and which failed.
"""

import os
import re
import subprocess
import sys
from pathlib import Path

from tests.hardening.running import called

ROOT = Path(__file__).resolve().parents[2]
# What is attacked, and where its tests are.
ROWS: dict[str, tuple[str, ...]] = {
    "answers outlive their question": ("tests/ui/test_background_task.py",),
    "another account, two windows, a second start": ("tests/ui/test_windows.py",),
    "typed but not entered, replacing files, earlier versions": ("tests/ui/test_nothing_lost.py",),
    "plans of thousands of parts": ("tests/planning/test_alike.py", "tests/planning/test_reach.py"),
    "odd names, full disks, closed pipes, few signs": ("tests/cli/test_output.py",),
    "private files, attributes, locks": ("tests/workbook/test_safe_files.py",),
    "files beyond all bounds": ("tests/workbook/test_bounds.py", "tests/workbook/test_complaints.py"),
    "slots, undo, every edit": ("tests/workbook/test_edits.py",),
    "routes keep what others use": ("tests/ui/test_ways_in.py",),
    "edits from the command line": ("tests/cli/test_edit.py", "tests/exchange/test_edit_lines.py"),
    "parts dragged from another workbook": ("tests/ui/test_rail.py",),
    "one place starts threads": ("tests/architecture/test_contracts.py",),
}
SUMMARY = re.compile(r"(\d+) (passed|failed|error)")


def attack(times: int) -> dict[str, object]:
    """Run every row; returns how many tests of each passed, and what failed."""
    environment = {**os.environ, "FAR_RAIL_RUNS": str(times), "QT_QPA_PLATFORM": "offscreen"}
    passed: dict[str, int] = {}
    wrong: list[str] = []
    for row, files in ROWS.items():
        command = [sys.executable, "-m", "pytest", "-p", "no:cacheprovider", "-p", "no:xdist", "-o", "addopts=",
                   "-o", "timeout=0", "-q", *files]  # fmt: skip
        done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True)
        found = {what: int(count) for count, what in SUMMARY.findall(done.stdout)}
        passed[row] = found.get("passed", 0)
        if done.returncode or not passed[row]:
            wrong.append(f"{row}: {done.stdout[-1500:]}")
    return {"passed": passed, "random_actions": times, "wrong": wrong}


if __name__ == "__main__":
    called(__doc__, attack, folder=False, times=3000)
