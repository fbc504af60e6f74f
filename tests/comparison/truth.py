"""Shown ranges against the truth: random trains with random unknowns, each sampled at random through its whole box.

    PYTHONPATH=src:. python tests/comparison/truth.py --trains 500 --samples 300

No sample may be outside the shown range, but for the engine's own error, and the range should be hardly wider than what
the samples span. Prints one line of JSON.
"""

import argparse
import json
import math
import random
import sys
from statistics import median
from typing import Any

from pydantic import BaseModel, ValidationError

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.parts.base import PartBase
from farrail.parts.inventory_item import PartId
from farrail.parts.provenance import Quantity, unknown
from farrail.readouts.ranges import EVERY, GUIDE, MAIN, Box, Subjects, spreads_over, values_of
from farrail.readouts.read import Readout, read
from farrail.readouts.unknowns import with_values
from farrail.train.train import Train

# The engine's own error; of a distance or magnification as a share of it.
ENGINE = 2e-3


def _quantities(record: BaseModel, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    found = []
    for name in type(record).model_fields:
        value = getattr(record, name)
        if isinstance(value, Quantity):
            found.append((*path, name))
        elif isinstance(value, BaseModel):
            found += _quantities(value, (*path, name))
    return found


def _with_span(part: PartBase, path: tuple[Any, ...], dice: random.Random) -> PartBase:
    """Return a part of which one value is known by its two ends only."""
    data = part.model_dump()
    holder = data
    for step in path[:-1]:
        holder = holder[step]
    value: Any = part
    for step in path:
        value = getattr(value, step)
    assert isinstance(value, Quantity)
    share = dice.choice((0.03, 0.1, 0.25, 0.4))
    low, high = value.value * (1.0 - share * dice.random()), value.value * (1.0 + share * dice.random())
    holder[path[-1]] = unknown(min(low, high), max(low, high)).model_dump()
    return type(part).model_validate(data)


# What a lens, a corrector or a filter may lack, so that the default of its field is in.
OFTEN_EMPTY = (
    "pupil_ratio", "hiatus_mm", "nearest_mm", "nearest_magnification", "pair_width_mm", "exit_pupil_distance_mm",
    "pupil_walk_mm", "polariser_stops", "principal_mm", "lens_focal_mm", "barrel_mm",
)  # fmt: skip


def _left_empty(part: PartBase, dice: random.Random) -> PartBase | None:
    """Return a part of which one value was not entered; None where it lacks all of them already."""
    entered = [name for name in OFTEN_EMPTY if getattr(part, name, None) is not None]
    return part.model_copy(update={dice.choice(entered): None}) if entered else None


def cases(count: int, seed: int) -> list[tuple[Train, dict[PartId, PartBase]]]:
    """Return random trains, each with two to six values of its parts unknown or not entered."""
    book, dice = demo_workbook(), random.Random(seed)
    found: list[tuple[Train, dict[PartId, PartBase]]] = []
    while len(found) < count:
        train, shelf = dice.choice(book.trains), dict(book.by_id)
        wanted, made = dice.randrange(2, 7), 0
        for _ in range(40):
            part_id = dice.choice(train.part_ids())
            if dice.random() < 0.3:
                empty = _left_empty(shelf[part_id], dice)
                made += empty is not None
                shelf[part_id] = empty or shelf[part_id]
                if made == wanted:
                    break
                continue
            path = dice.choice(_quantities(shelf[part_id]))
            if path[-1] in ("pixel_size_um", "price", "image_circle_mm", "sensor_width_mm", "sensor_height_mm"):
                continue
            try:
                shelf[part_id] = _with_span(shelf[part_id], path, dice)
            except ValidationError:
                continue
            made += 1
            if made == wanted:
                break
        found.append((train, shelf))
    return found


def compare(
    trains: int, samples: int, seed: int, subjects: Subjects = MAIN, only: tuple[int, ...] = ()
) -> dict[str, Any]:
    """Compare; returns the counts, the median of shown over sampled width, and each sample outside.

    Args:
        trains: how many random trains.
        samples: how many true values of each.
        seed: of the trains and the samples.
        subjects: the figures.
        only: the numbers of the trains to compare; () for all.
    """
    ratios: list[float] = []
    outside: list[str] = []
    checked = 0
    for number, (train, shelf) in enumerate(cases(trains, seed)):
        if only and number not in only:
            continue
        dice = random.Random(seed * 1000 + number)
        box = Box(train, shelf, subjects)
        told = spreads_over(box)
        middle = values_of(Readout(box.layout), subjects)
        seen: dict[str, list[float]] = {}
        for _ in range(samples):
            values = {one: one.at(dice.random()) for one in box.unknowns}
            try:
                figures = values_of(read_with(train, shelf, values), subjects)
            except FarRailError:
                continue
            for key, value in figures.items():
                if not math.isnan(value) and not key.startswith(GUIDE):
                    seen.setdefault(key, []).append(value)
        for key, values_seen in seen.items():
            checked += 1
            spread = told.get(key)
            low, high = (middle.get(key, math.nan),) * 2 if spread is None else (spread.low, spread.high)
            if math.isnan(low):
                continue
            slack = ENGINE * max(1.0, abs(high) if math.isfinite(high) else 1.0)
            never = spread is not None and spread.or_never
            wrong = [v for v in values_seen if v < low - slack or (v > high + slack and not (never and v == math.inf))]
            if wrong:
                far = min(wrong) if min(wrong) < low - slack else max(wrong)
                fields = ", ".join(f"{one.part}.{one.field}" for one in box.unknowns)
                outside.append(f"{number} {train.name}: {key} {far:.4f} outside {low:.4f} to {high:.4f} ({fields})")
            width = max(values_seen) - min(values_seen)
            if spread is not None and width > 1e-6 and math.isfinite(spread.width) and math.isfinite(width):
                ratios.append(spread.width / width)
    return {"trains": trains, "samples": samples, "ranges": checked, "median_width": round(median(ratios), 3),
            "outside": outside}  # fmt: skip


def read_with(train: Train, shelf: dict[PartId, PartBase], values: Any) -> Any:
    """Return the readout with the unknowns given numbers."""
    return read(train, with_values(shelf, values))


def main() -> int:
    """Run; returns 0 when no sample is outside."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--trains", type=int, default=60)
    parser.add_argument("--samples", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--every", action="store_true", help="every figure, not only those that decide")
    options = parser.parse_args()
    found = compare(options.trains, options.samples, options.seed, EVERY if options.every else MAIN)
    print(json.dumps(found, indent=1, ensure_ascii=False))
    return int(bool(found["outside"]))


if __name__ == "__main__":
    sys.exit(main())
