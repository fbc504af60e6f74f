"""Runs every benchmark and prints what it measured and what was wished for."""

import argparse
import json
import os
import sys
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager, redirect_stdout
from typing import Any

from benchmarks.building import steps_and_sheet
from benchmarks.close_up import reach_and_ask
from benchmarks.engine import idle_map, map_against_a_ray_tracer, map_against_polygons, zoom_sweep
from benchmarks.frames import frames_of_24_megapixels
from benchmarks.hands import (
    drags_of_sliders,
    drags_on_the_rail,
    edits_of_sixty_parts,
    edits_of_twelve_parts,
    edits_while_a_search_runs,
    pages_and_trains,
)
from benchmarks.logbook import log_and_compare
from benchmarks.photos import photos_of_a_train
from benchmarks.planning import planner_against_another
from benchmarks.ranging import ranges_of_twelve_parts
from benchmarks.searching import search_of_a_large_shelf
from benchmarks.starting import first_window

Rows = Iterable[dict[str, Any]]

# What a hand does in the real window.
HANDS: tuple[Callable[[], Rows], ...] = (
    edits_of_twelve_parts,
    edits_of_sixty_parts,
    drags_on_the_rail,
    drags_of_sliders,
    pages_and_trains,
    edits_while_a_search_runs,
)
BENCHMARKS: tuple[Callable[[], Rows], ...] = (
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
    photos_of_a_train,
    *HANDS,
    search_of_a_large_shelf,
    first_window,
)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run all, and print each row as it comes; a wish that is not met is shown, never an error.

    Returns:
        1 where a benchmark failed, which costs its own rows only; else 0.
    """
    parser = argparse.ArgumentParser(prog="far-rail benchmark", description=__doc__)
    parser.add_argument("--only", default="", help="run those whose name holds this")
    parser.add_argument("--hands", action="store_true", help="run those that drive the window by hand alone")
    parser.add_argument("--json", action="store_true", help="print JSON")
    options = parser.parse_args(arguments)
    rows: list[dict[str, Any]] = []
    failed = 0
    for benchmark in HANDS if options.hands else BENCHMARKS:
        if options.only not in benchmark.__name__:
            continue
        made: Iterator[dict[str, Any]] | None = None
        while True:
            try:
                with quiet_output():
                    made = iter(benchmark()) if made is None else made
                    row = next(made, None)
            except Exception as error:
                print(f"{benchmark.__name__} failed: {error!r}", file=sys.stderr)
                failed += 1
                break
            if row is None:
                break
            rows.append(row)
            if not options.json:
                _print(row)
    if options.json:
        print(json.dumps(rows, indent=2))
    return 1 if failed else 0


def _print(row: dict[str, Any]) -> None:
    met = "met" if row["met"] else "not met"
    print(f"{row['what']:<58} {row['value']:>10.4g} {row['unit']:<6} wished {row['wish']:<10} {met}")
    if row.get("note"):
        print(f"    {row['note']}")
    sys.stdout.flush()


@contextmanager
def quiet_output() -> Iterator[None]:
    """Send what libraries print, such as a solver's banner, to the error output: the rows are the output."""
    sys.stdout.flush()
    kept = os.dup(1)
    os.dup2(2, 1)
    try:
        with redirect_stdout(sys.stderr):
            yield
    finally:
        os.dup2(kept, 1)
        os.close(kept)


if __name__ == "__main__":
    sys.exit(main())
