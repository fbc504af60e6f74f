"""How the command line prints figures, findings and errors."""

import json
import math
import sys
from typing import Any, NoReturn

from farrail.errors import FarRailError

FINE, STOPPED, BAD_INPUT = 0, 1, 2


def number(value: float, unit: str) -> str:
    """Return a number as a person reads it: mm to two decimals where that says enough."""
    if math.isinf(value):
        return "infinite"
    if unit == "frames":
        return f"{value:.0f}"
    decimals = 2 if unit == "mm" and abs(value) >= 0.05 else 4
    return f"{value:.{decimals}f}"


def plain(value: Any) -> Any:
    """Return a value as JSON can hold it: an infinity or NaN becomes null."""
    return None if isinstance(value, float) and not math.isfinite(value) else value


def print_json(data: Any) -> None:
    """Print a value as indented JSON."""
    print(json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False))


def refuse(error: FarRailError) -> NoReturn:
    """Print one sentence and end with the exit code for bad input."""
    print(f"far-rail: {error}", file=sys.stderr)
    raise SystemExit(BAD_INPUT)
