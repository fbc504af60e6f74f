"""Starts the real window, kills it while a person works in it, and looks what the next start would find.

    python tests/hardening/killed_windows.py FOLDER --times 10 --seed 1

Prints one line of JSON.
"""

import random
import signal
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path

from farrail.workbook.recovery import left_behind
from tests.hardening.running import HERE, called, environment
from tests.hardening.window import EVERY_MS, FIRST_N, STEP

# Unsaved work is at most this old when it is kept.
LATEST_S = 10.0


@dataclass(frozen=True)
class Killed:
    """How a window ended: the edits made, the last one kept (0: none), and how many offers were left."""

    made: int
    kept: int
    offers: int
    code: int

    @property
    def lost_s(self) -> float:
        """How much work was lost, in seconds of it."""
        return (self.made - self.kept) * EVERY_MS / 1000.0


def killed_window(folder: Path, after_s: float, how: signal.Signals) -> Killed:
    """Work in a window for so long after its first edit, and end it with a signal."""
    env = environment(XDG_STATE_HOME=str(folder), XDG_CONFIG_HOME=str(folder / "config"))
    said = folder / "said"
    with said.open("w") as out:
        child = subprocess.Popen([sys.executable, str(HERE / "window.py")], stdout=out, env=env)
        while not said.read_text() and child.poll() is None:
            time.sleep(0.05)
        time.sleep(after_s)
        child.send_signal(how)
        code = child.wait(30)
    made = [int(line) for line in said.read_text().split()]
    left = left_behind(folder / "far-rail" / "recovery")
    kept = 0
    if left:
        number = left[0].workbook.trains[0].conditions.f_number
        kept = 0 if number is None else round((number - FIRST_N) / STEP)
    return Killed(made[-1] if made else 0, kept, len(left), code)


def many(folder: Path, times: int, seed: int) -> dict[str, object]:
    """Kill so many windows at random moments; returns the most that was lost and what was wrong."""
    dice, wrong, most = random.Random(seed), [], 0.0
    for turn in range(times):
        place = folder / f"window-{turn}"
        place.mkdir(parents=True)
        how = dice.choice((signal.SIGKILL, signal.SIGTERM, signal.SIGHUP))
        found = killed_window(place, dice.uniform(0.2, 14.0), how)
        most = max(most, found.lost_s)
        limit = LATEST_S if how is signal.SIGKILL else EVERY_MS / 1000.0
        if found.lost_s > limit or found.offers > 1:
            wrong.append(f"turn {turn}, {how.name}: {found}")
    return {"windows": times, "most_lost_s": round(most, 1), "wrong": wrong}


if __name__ == "__main__":
    called(__doc__, many, times=10, seed=1)
