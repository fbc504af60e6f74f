"""The yardstick: how long this machine takes for a million additions, in the same minute as what is measured."""

import time
from collections.abc import Callable
from typing import Any

ADDITIONS = 1_000_000


def yardstick_ms() -> float:
    """Return the time of a million additions in a plain loop, in ms of processor time."""
    start, total = time.process_time(), 0
    for number in range(ADDITIONS):
        total += number
    assert total > 0
    return 1000 * (time.process_time() - start)


def measured(what: str, steps: int, step: Callable[[int], None], wish: float) -> dict[str, Any]:
    """Run a step of the hand again and again; its 95th percentile in yardsticks, measured before and after.

    Args:
        what: what is done, in words.
        steps: how often.
        step: one step with everything that follows it painted.
        wish: the ratio wished for.
    """
    before, took = yardstick_ms(), []
    for number in range(steps):
        start = time.process_time()
        step(number)
        took.append(1000 * (time.process_time() - start))
    y = (before + yardstick_ms()) / 2.0
    ordered = sorted(took)
    p95, median = ordered[int(0.95 * steps)], ordered[steps // 2]
    return {
        "what": f"{what}, p95", "value": p95 / y, "unit": "y", "wish": f"<= {wish:g}", "met": p95 / y <= wish,
        "note": f"p95 {p95:.1f} ms, median {median:.1f} ms ({median / y:.3f} y), y {y:.0f} ms",
    }  # fmt: skip
