"""`far-rail fixes`: what frees dark corners of a lens with filters, from the shelf and from settings."""

import math
from pathlib import Path

from farrail.cli.printing import FINE, print_json
from farrail.language import say
from farrail.planning.remedies import Remedy, remedies_for
from farrail.workbook.store import read_file

NOTHING_HELPS = 1


def run(file: Path, train_name: str, *, as_json: bool) -> int:
    """Print the fixes for a train's front stack, the best first; returns 1 where none gains anything.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    train = workbook.train(train_name)
    found = remedies_for(train, workbook.by_id)
    if as_json:
        print_json({"fixes": [_data(one) for one in found]})
    elif not train.front_stack:
        print(say("Nothing is ahead of the lens of “{train}”, so there is nothing to fix.", train=train.name))
    else:
        helping = [one for one in found if one.helps]
        for one in helping:
            print(_line(one))
        if not helping:
            print(say("No change that is possible with this shelf frees the corners any further."))
    return FINE if any(one.helps for one in found) else NOTHING_HELPS


def _line(remedy: Remedy) -> str:
    free = (
        say("never free of vignetting") if remedy.first_clean_mm is None
        else say("free of vignetting from {first:.1f} mm", first=remedy.first_clean_mm)
    )  # fmt: skip
    if remedy.open_band is not None:
        low, high = remedy.open_band
        free = (
            say("free of vignetting from {low:.1f} mm at best, never at worst", low=low) if high is None
            else say("free of vignetting from {low:.1f} to {high:.1f} mm", low=low, high=high)
        )  # fmt: skip
    now = (
        say("dark now") if math.isinf(remedy.corner_stops) else say("{stops:.2f} stops now", stops=remedy.corner_stops)
    )
    what = f"{remedy.words[0].upper()}{remedy.words[1:]}"
    line = say("{what}: {free}; {now}; depth {depth:.1f mm}", what=what, free=free, now=now, depth=remedy.depth_mm)
    if remedy.change.loses:
        line = say("{line}; gives up {loses}", line=line, loses=remedy.change.loses)
    return line if remedy.cost is None else say("{line}; price {cost:g}", line=line, cost=remedy.cost)


def _data(remedy: Remedy) -> dict[str, object]:
    stops = None if math.isinf(remedy.corner_stops) else remedy.corner_stops
    return {
        "change": remedy.words, "helps": remedy.helps, "to_buy": remedy.to_buy,
        "first_clean_mm": remedy.first_clean_mm,
        "first_clean_range_mm": None if remedy.band is None else list(remedy.band),
        "corner_stops": stops, "depth_mm": remedy.depth_mm,
        "front_stack": [one.part for one in remedy.train.front_stack],
        "gives_up": remedy.change.loses, "price": remedy.cost, "crop": remedy.change.crop,
        "focal_mm": remedy.train.conditions.focal_mm, "f_number": remedy.train.conditions.f_number,
    }  # fmt: skip
