"""Runs every benchmark and prints what it measured and what was wished for."""

import argparse
import json
import sys
from collections.abc import Callable
from typing import Any

from benchmarks.building import steps_and_sheet
from benchmarks.close_up import reach_and_ask
from benchmarks.engine import idle_map, map_against_a_ray_tracer, map_against_polygons, zoom_sweep
from benchmarks.frames import frames_of_24_megapixels
from benchmarks.hands import drags, edits_of_sixty_parts, edits_of_twelve_parts
from benchmarks.logbook import log_and_compare
from benchmarks.planning import planner_against_another
from benchmarks.ranging import ranges_of_twelve_parts
from benchmarks.searching import search_of_a_large_shelf
from benchmarks.starting import first_window

BENCHMARKS: tuple[Callable[[], list[dict[str, Any]]], ...] = (
    map_against_polygons,
    map_against_a_ray_tracer,
    idle_map,
    zoom_sweep,
    planner_against_another,
    ranges_of_twelve_parts,
    reach_and_ask,
    steps_and_sheet,
    log_and_compare,
    frames_of_24_megapixels,
    edits_of_twelve_parts,
    edits_of_sixty_parts,
    drags,
    search_of_a_large_shelf,
    first_window,
)


def main() -> int:
    """Run all; a wish that is not met is shown, never an error."""
    parser = argparse.ArgumentParser(prog="far-rail benchmark", description=__doc__)
    parser.add_argument("--only", default="", help="run those whose name holds this")
    parser.add_argument("--json", action="store_true", help="print JSON")
    options = parser.parse_args()
    rows = [row for benchmark in BENCHMARKS if options.only in benchmark.__name__ for row in benchmark()]
    if options.json:
        print(json.dumps(rows, indent=2))
        return 0
    for row in rows:
        met = "met" if row["met"] else "not met"
        print(f"{row['what']:<58} {row['value']:>10.4g} {row['unit']:<6} wished {row['wish']:<10} {met}")
        if row.get("note"):
            print(f"    {row['note']}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
