"""How the command line prints figures, findings and errors."""

import json
import math
import sys
from collections.abc import Mapping
from typing import Any, NoReturn

from farrail.errors import FarRailError
from farrail.language import local_number, say

FINE, STOPPED, BAD_INPUT, OWN_TROUBLE = 0, 1, 2, 3


def number(value: float, unit: str) -> str:
    """Return a number as a person reads it: mm to two decimals where that says enough."""
    if math.isinf(value):
        return say("infinite")
    if unit == "frames":
        return say("{value:.0f}", value=value)
    return local_number(f"{value:.{decimals(value, unit)}f}")


def decimals(value: float, unit: str) -> int:
    """Return to how many places a number of a unit says enough."""
    return 2 if unit == "mm" and abs(value) >= 0.05 else 4


# Raised where a shape changes in a way that a script could trip over; docs/cli.md says what changed.
JSON_VERSION = 1


def print_json(data: Mapping[str, Any]) -> None:
    """Print an object as indented JSON, the version of its shape first."""
    print(as_json({"version": JSON_VERSION, **data}))


def as_json(data: Mapping[str, Any]) -> str:
    """Return an object as indented JSON."""
    return json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False)


def refuse(error: FarRailError) -> NoReturn:
    """Print one sentence and end with the exit code for bad input."""
    print(say("far-rail: {error}", error=error), file=sys.stderr)
    raise SystemExit(BAD_INPUT)


def own_trouble(error: Exception) -> NoReturn:
    """Say of an error of the program's own in one sentence, its details in the log, and end with its exit code."""
    from platformdirs import user_state_path

    from farrail.trouble import TroubleLog

    doing = say("The command")
    print(
        say("far-rail: {trouble}", trouble=TroubleLog(user_state_path("far-rail") / "log").tell(error, doing)),
        file=sys.stderr,
    )
    raise SystemExit(OWN_TROUBLE)


def shortened(text: str, width: int) -> str:
    """Return a text that has room in a column; what is cut ends in an ellipsis."""
    return text if len(text) <= width else f"{text[: width - 1]}…"
