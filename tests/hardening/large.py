"""Works in a workbook of thousands of parts and hundreds of trains, in the real window: times and memory.

    python tests/hardening/large.py FOLDER --parts 5000 --trains 500 --edits 5000

Seconds are this machine's at this moment; `yardstick_s` is a fixed loop of a million additions timed in between, so
that a ratio says more. Prints one line of JSON.
"""

import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSettings

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.tubes import Spacer
from farrail.workbook.edits.trains import SetFNumber
from farrail.workbook.store import write_file
from farrail.workbook.workbook import Workbook
from tests.hardening.running import a_window, an_application, called

MOST_S, MOST_MB, USUAL_YARDSTICK_S = 1.0, 250, 0.25


def large_workbook(parts: int, trains: int) -> Workbook:
    """Return the demo with its parts and trains repeated under other names."""
    demo = demo_workbook()
    shelf = [*demo.shelf]
    while len(shelf) < parts:
        old = demo.shelf[len(shelf) % len(demo.shelf)]
        number = len(shelf)
        update: dict[str, object] = {"id": f"p{number}", "name": f"{old.name[:80]} no {number}"}
        if isinstance(old, Spacer):
            update["note"] = "one of many"
        shelf.append(old.model_copy(update=update))
    rows = [*demo.trains]
    while len(rows) < trains:
        old_train = demo.trains[len(rows) % len(demo.trains)]
        number = len(rows)
        rows.append(old_train.model_copy(update={"id": f"t{number}", "name": f"{old_train.name[:60]} no {number}"}))
    return demo.model_copy(update={"shelf": tuple(shelf), "trains": tuple(rows)})


def yardstick_s() -> float:
    """Return how long a million additions take just now."""
    start, total = time.perf_counter(), 0
    for number in range(1_000_000):
        total += number
    return time.perf_counter() - start


def resident_mb() -> int:
    """Return how much memory this process holds."""
    held = next(x for x in Path("/proc/self/status").read_text().splitlines() if x.startswith("VmRSS"))
    return int(held.split()[1]) // 1024


def attack(folder: Path, parts: int, trains: int, edits: int) -> dict[str, Any]:
    """Open, search, edit and save; then edit on and on. Returns times, memory and what was wrong."""
    os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = str(folder)
    file = folder / "large.farrail.json"
    # Made in a process of its own, whose memory is not counted here.
    child = os.fork()
    if child == 0:
        write_file(file, large_workbook(parts, trains))
        os._exit(0)
    os.waitpid(child, 0)
    app = an_application()
    window = a_window(folder, QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window.resize(1280, 800)
    session = window.session
    app.processEvents()
    times: dict[str, float] = {}

    def timed(what: str, work: Callable[[], object]) -> None:
        start = time.perf_counter()
        work()
        app.processEvents()
        times[what] = round(time.perf_counter() - start, 3)

    before = yardstick_s()
    number = [0]

    def edit() -> None:
        number[0] += 1
        train = session.train
        assert train is not None
        # Two values in turn, so that no step merges with the last and the history turns over.
        session.history.mark_saved()
        session.do(SetFNumber(train.id, 4.0 + (number[0] % 50) / 10.0))

    def edits_of_ten() -> None:
        for _ in range(10):
            edit()
            app.processEvents()

    timed("ten edits in the demo", edits_of_ten)
    timed("open", lambda: window.files.open_path(file))
    window.stations.show_station("parts")
    app.processEvents()
    timed("search", lambda: window.parts.search.setText("spacer 12"))
    timed("search cleared", lambda: window.parts.search.setText(""))
    window.stations.show_station("spacing")
    app.processEvents()
    timed("ten edits", edits_of_ten)
    timed("save", session.save)
    held = resident_mb()
    steps = max(edits // 8, 1)
    memory = [held]
    for turn in range(edits):
        edit()
        app.processEvents()
        if (turn + 1) % steps == 0:
            memory.append(resident_mb())
    yard = (before + yardstick_s()) / 2.0
    # On a machine that is busy, or slower than the one the limit was set on, as much more.
    most = MOST_S * max(yard / USUAL_YARDSTICK_S, 1.0)
    wrong = [f"{what} took {t} s" for what, t in times.items() if "ten" not in what and t > most]
    wrong += [f"{held} MB are held"] if held > MOST_MB else []
    wrong += [f"memory grows: {memory} MB"] if len(memory) > 5 and memory[-1] - memory[4] > 0.1 * memory[4] else []
    session.history.mark_saved()
    window.close()
    return {"parts": parts, "trains": trains, "seconds": times, "yardstick_s": round(yard, 3), "held_mb": held,
            "edits": edits, "memory_mb": memory, "wrong": wrong}  # fmt: skip


if __name__ == "__main__":
    called(__doc__, attack, parts=5000, trains=500, edits=5000)
