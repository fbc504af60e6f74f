"""How many Python functions a step calls: a count that does not depend on the machine."""

import sys
from collections.abc import Callable
from types import FrameType


def counted(step: Callable[[int], object], number: int, *, before: Callable[[int], object] | None = None) -> int:
    """Run one step and return how many Python functions were called.

    Args:
        step: the step.
        number: which one, passed to it.
        before: what is done ahead of it and not counted.
    """
    if before is not None:
        before(number)
    calls = 0

    def note(_frame: FrameType, event: str, _argument: object) -> None:
        nonlocal calls
        calls += event == "call"

    kept = sys.getprofile()
    sys.setprofile(note)
    try:
        step(number)
    finally:
        sys.setprofile(kept)
    return calls
