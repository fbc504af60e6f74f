"""A client of assistive tools: finds the program on the bus, reads its rail, and prints what it heard as JSON.

Run by the system's own Python, for which Debian packages the client library.
"""

import json
import sys
import time
from typing import Any

import pyatspi  # type: ignore[import-not-found,unused-ignore]


def program(seconds: float) -> Any:
    """Return the program, once it is there."""
    end = time.time() + seconds
    while time.time() < end:
        desk = pyatspi.Registry.getDesktop(0)
        for number in range(desk.childCount):
            one = desk.getChildAtIndex(number)
            if one is not None and one.name == "far-rail" and one.childCount:
                return one
        time.sleep(0.3)
    return None


def walk(node: Any, depth: int = 0) -> Any:
    """Yield a node and everything under it."""
    if node is None or depth > 14:
        return
    yield node
    for number in range(min(node.childCount, 60)):
        yield from walk(node.getChildAtIndex(number), depth + 1)


def main() -> int:
    """Print what is heard."""
    found = program(40.0)
    if found is None:
        print(json.dumps({"program": False}))
        return 1
    nodes = list(walk(found))
    rail = next((node for node in nodes if (node.name or "").startswith("Rail:")), None)
    places = [] if rail is None else [rail.getChildAtIndex(number) for number in range(rail.childCount)]
    used = [node for node in nodes if node.getRoleName() in ("push button", "slider", "page tab")]
    seen = [node for node in used if node.getState().contains(pyatspi.STATE_SHOWING)]
    nameless = [
        f"{one.getRoleName()} in {one.parent.name} ({one.parent.getRoleName()})" for one in seen if not one.name
    ]
    print(json.dumps({
        "program": True, "count": len(nodes), "nameless": nameless,
        "rail": [[place.name, place.description, place.getRoleName()] for place in places],
        "tabs": [node.name for node in nodes if node.getRoleName() == "page tab"],
    }))  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
