"""Writes every figure and finding of many trains, and compares two such files to 1e-9: what a larger change altered.

    PYTHONPATH=src python tests/comparison/figures.py write before.json     # on the old code
    PYTHONPATH=src python tests/comparison/figures.py write after.json      # on the new
    PYTHONPATH=src python tests/comparison/figures.py compare before.json after.json

The trains are the demo's and variations: stopped down and opened, focused near, with every camera, turned and flipped.
"""

import json
import math
import sys
from pathlib import Path
from typing import Any

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.read import read
from farrail.text.report import as_data
from farrail.train.train import Train

TOLERANCE = 1e-9
F_NUMBERS, FOCUS_MM, TURNED_DEG = (2.8, 8.0), 400.0, 20.0
Table = dict[str, Any]


def trains() -> dict[str, Train]:
    """Return the trains compared, by a name of each."""
    book = demo_workbook()
    cameras = [part.id for part in book.shelf if part.kind == "camera"]
    found = {}
    for train in book.trains:
        found[train.name] = train
        for n in F_NUMBERS:
            conditions = train.conditions.model_copy(update={"f_number": n, "focus_mm": FOCUS_MM})
            found[f"{train.name} at f/{n:g}"] = train.model_copy(update={"conditions": conditions})
        for camera in cameras:
            found[f"{train.name} with {camera}"] = train.model_copy(update={"camera": camera})
        turned = {
            "rear_train": tuple(
                laid.model_copy(update={"flipped": not laid.flipped, "turned_deg": TURNED_DEG})
                for laid in train.rear_train
            ),
            "front_stack": tuple(laid.model_copy(update={"turned_deg": TURNED_DEG}) for laid in train.front_stack),
        }
        found[f"{train.name} flipped"] = train.model_copy(update=turned)
    return found


def table() -> Table:
    """Return every figure and finding of every train, as `readout --json` gives them."""
    shelf = demo_workbook().by_id
    made = {name: as_data(read(train, shelf)) for name, train in trains().items()}
    return dict(json.loads(json.dumps(made, ensure_ascii=False, default=str)))


def differences(before: Table, after: Table) -> list[str]:
    """Return a line for each figure or finding that is not the same in both, within TOLERANCE."""
    return [
        f"{name}: {line}" for name in sorted({*before, *after})
        for line in _lines("", before.get(name), after.get(name))
    ]  # fmt: skip


def _lines(where: str, one: Any, other: Any) -> list[str]:
    if isinstance(one, dict) and isinstance(other, dict):
        return [
            line for key in sorted({*one, *other}) for line in _lines(f"{where}/{key}", one.get(key), other.get(key))
        ]
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        return [
            line for number, pair in enumerate(zip(one, other, strict=True))
            for line in _lines(f"{where}/{number}", *pair)
        ]  # fmt: skip
    numbers = all(isinstance(value, int | float) and not isinstance(value, bool) for value in (one, other))
    same = one == other or (numbers and math.isclose(one, other, rel_tol=TOLERANCE, abs_tol=TOLERANCE))
    same = same or (numbers and math.isnan(one) and math.isnan(other))
    return [] if same else [f"{where}: {one!r} before, {other!r} after"]


def main(words: list[str]) -> int:
    """Write or compare; returns 0 when nothing differs."""
    if words[:1] == ["write"] and len(words) == 2:
        made = table()
        Path(words[1]).write_text(json.dumps(made, ensure_ascii=False, indent=1))
        print(f"{len(made)} trains, {sum(len(one['figures']) for one in made.values())} figures")
        return 0
    if words[:1] == ["compare"] and len(words) == 3:
        found = differences(*[json.loads(Path(word).read_text()) for word in words[1:]])
        print("\n".join([*found, f"{len(found)} differences"]))
        return 1 if found else 0
    print(__doc__)
    return 2


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
