"""What the demo's trains come to, kept in a file: every figure, finding and number that is drawn.

    PYTHONPATH=src:. python tests/comparison/kept.py

writes `kept.json` again. It says that nothing has changed unasked, not that it is right: the checks against rays,
matrices and handbooks beside it say that. After a change that is meant to alter figures, write it again and read the
difference.
"""

import dataclasses
import json
import math
from collections.abc import Callable, Iterator
from enum import Enum
from pathlib import Path
from typing import Any

import numpy as np

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.readouts.close_up.rays import close_rays
from farrail.readouts.light.bundles import bundle_to, notches
from farrail.readouts.read import Readout, read
from farrail.train.placed import PlacedGlass
from tests.comparison.figures import trains
from tests.comparison.unusual import unusual

FILE = Path(__file__).with_name("kept.json")
COLUMNS, ROWS = 9, 6
LONGEST = 12
WEIGHTS: tuple[Callable[[int], float], ...] = (lambda _: 1.0, lambda n: math.sin(n + 1.0))
PLACES = ((3.0, 2.0), (-7.0, 4.0), (0.0, -9.0), (11.0, -6.5))


def plain(value: Any) -> Any:
    """Return a value as JSON holds it, numbers to nine digits."""
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    if isinstance(value, np.ndarray):
        return plain(value.tolist())
    if isinstance(value, Enum):
        return str(value.value)
    if isinstance(value, int | float | np.generic):
        number = float(value)
        return float(f"{number:.9g}") if math.isfinite(number) else str(number)
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
    if isinstance(value, dict):
        return {str(key): plain(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [plain(one) for one in value]
    return str(value)


def numbers_of(readout: Readout) -> dict[str, Any]:
    """Return what a readout comes to."""
    light, front, layout = readout.light, readout.front, readout.layout
    found: dict[str, Any] = {
        "figures": {key: plain(figure.value) for key, figure in readout.figures.items()},
        "findings": [f"{finding.id} {finding.severity.value}" for finding in readout.findings],
        "met": [
            [type(m).__name__, plain(m.z_front_mm if isinstance(m, PlacedGlass) else m.z_mm)] for m in layout.trace.met
        ],
        "joints": [[j.side.value, j.index, plain(j.z_mm), j.label] for j in layout.joints],
        "parts": [[p.part.id, plain(p.z_front_mm), plain(p.z_rear_mm)] for p in (*layout.front, *layout.rear)],
        "turned": plain([layout.front_rotation_deg, layout.turned_deg]),
        "exposure": plain(list(readout.exposure.payments())),
        "metered": plain(readout.exposure.metered_from(0.5)),
    }
    if light.corner_mm is not None:
        found["light"] = plain(
            {
                "map": light.map(COLUMNS, ROWS), "who": light.clipping_map(COLUMNS, ROWS), "clean": light.clean_mm,
                "edges": light.edges, "profile": light.profile[1][::64], "curves": [c[1][::8] for c in
                light.curves_alone(3)], "natural": light.natural(COLUMNS, ROWS),
                "bundles": [bundle_to(light, place) for place in PLACES], "notches": notches(light),
            }
        )  # fmt: skip
    if front.judged:
        found["front"] = plain(
            {
                "stops": front.now.stops[::6], "first": front.now.first_clean_mm, "band": front.band,
                "turned": front.turned_stops(17.0), "limiting": None if front.limiting is None else
                front.limiting.part.id, "heights": [front.heights_of(one) for one in front.placed],
                "prints": [front.footprint_mm(one) for one in front.placed], "bundle": front.bundle_mm,
                "angle": front.field_angle_deg,
            }
        )  # fmt: skip
    rays = close_rays(readout.close_up)
    if rays is not None:
        found["rays"] = plain(rays)
    return found


def briefly(value: Any) -> Any:
    """Return a list of many numbers as its sums: each weighted by its place, so that a swap is seen as well."""
    if isinstance(value, dict):
        return {key: briefly(one) for key, one in value.items()}
    if not isinstance(value, list):
        return value
    flat = list(_flat(value))
    if len(flat) <= LONGEST or not all(isinstance(one, int | float) for one in flat):
        return [briefly(one) for one in value]
    return [len(flat), *(plain(sum(one * weight(n) for n, one in enumerate(flat))) for weight in WEIGHTS)]


def _flat(value: Any) -> Iterator[Any]:
    for one in value:
        yield from _flat(one) if isinstance(one, list) else (one,)


def kept() -> dict[str, Any]:
    """Return what the trains come to, by name."""
    shelf = demo_workbook().by_id
    found: dict[str, Any] = {
        name: numbers_of(read(train, shelf)) for name, train in trains().items() if " with " not in name
    }
    for name, (train, own_shelf) in unusual().items():
        try:
            found[name] = briefly(numbers_of(read(train, own_shelf)))
        except FarRailError as error:
            found[name] = str(error)
    return found


if __name__ == "__main__":
    lines = (f"{json.dumps(name)}: {json.dumps(one, ensure_ascii=False)}" for name, one in kept().items())
    FILE.write_text("{\n" + ",\n".join(lines) + "\n}\n")
