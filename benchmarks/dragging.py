"""Dragging in the Front and Close-up stations: from a step of the hand to everything that follows it painted."""

import gc
import time
from typing import Any

from benchmarks.window import demo_window

STEPS = 120
ADDITIONS = 1_000_000


def station_drags() -> list[dict[str, Any]]:
    """Turn the holder, zoom, and focus close; the note says how long this machine takes for a million additions."""
    rows = []
    with demo_window() as (app, session, window):
        gc.freeze()  # as the program does once its window stands
        for train, station, slider, label in (
            ("sea-stacks", 3, window.front.turn, "turning the holder"),
            ("sea-stacks", 3, window.front.zoom, "zooming"),
            ("barnacles", 4, window.close_up.focus, "focusing close"),
        ):
            session.show_train(train)
            window.stations.show_station(station)
            window.front.wait()
            window.close_up.wait()
            app.processEvents()
            low, high = slider.minimum(), slider.maximum()
            session.begin_drag()
            wall, busy = [], []
            for step in range(STEPS):
                start, begun = time.perf_counter(), time.process_time()
                slider.setValue(low + (7 * step) % (high - low))
                app.processEvents()
                wall.append(1000 * (time.perf_counter() - start))
                busy.append(1000 * (time.process_time() - begun))
            session.end_drag()
            app.processEvents()
            p95, processor = sorted(wall)[int(0.95 * STEPS)], sorted(busy)[int(0.95 * STEPS)]
            note = f"median {sorted(wall)[STEPS // 2]:.1f} ms; processor time p95 {processor:.1f} ms; {_machine()}"
            rows.append(
                {"what": f"{label}, to repaint, p95", "value": p95, "unit": "ms", "wish": "<= 16",
                 "met": p95 <= 16.0, "note": note}
            )  # fmt: skip
    return rows


def _machine() -> str:
    start, total = time.process_time(), 0
    for number in range(ADDITIONS):
        total += number
    assert total > 0
    return f"a million additions {1000 * (time.process_time() - start):.0f} ms"
