"""Runs every benchmark and prints what it measured and what was wished for."""

import argparse
import json
import sys
from collections.abc import Callable
from typing import Any

from benchmarks.close_up import reach_and_ask
from benchmarks.dragging import station_drags
from benchmarks.editing import edit_to_repaint, search_of_a_large_shelf, slider_drag
from benchmarks.engine import idle_map, map_against_a_ray_tracer, map_against_polygons, zoom_sweep
from benchmarks.planning import planner_against_another
from benchmarks.starting import first_window

BENCHMARKS: tuple[Callable[[], list[dict[str, Any]]], ...] = (
    map_against_polygons,
    map_against_a_ray_tracer,
    idle_map,
    zoom_sweep,
    planner_against_another,
    reach_and_ask,
    edit_to_repaint,
    slider_drag,
    station_drags,
    search_of_a_large_shelf,
    first_window,
)


def main() -> int:
    """Run all; a wish that is not met is told, never an error."""
    parser = argparse.ArgumentParser(prog="far-rail benchmark", description=__doc__)
    parser.add_argument("--json", action="store_true", help="print JSON")
    options = parser.parse_args()
    rows = [row for benchmark in BENCHMARKS for row in benchmark()]
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
