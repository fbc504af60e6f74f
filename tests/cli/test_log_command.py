"""The log on the command line: printed, as JSON and CSV, written down from a table, calibrated, trains compared."""

import csv
import io
import json
from pathlib import Path

import pytest
from tests.command_line import far_rail as run

from farrail.demo.hallan_skerry import demo_workbook
from farrail.workbook.store import read_file, write_file


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    path = tmp_path / "demo.farrail.json"
    write_file(path, demo_workbook(), None)
    return path


def test_the_log_is_printed_with_its_predictions(demo: Path) -> None:
    printed = run("log", str(demo), "--train", "sea-stacks")
    assert printed.returncode == 0
    assert "the corner begins to darken at 27.4 mm, f/11. Differs: 1.69 mm less than the 29.09 mm" in printed.stdout
    rows = json.loads(run("log", str(demo), "--json").stdout)["entries"]
    assert len(rows) == len(demo_workbook().log)
    by_id = {row["id"]: row for row in rows}
    dark = by_id["darkening-2026-10-24-1"]
    assert dark["compared"]["agreement"] == "differs"
    assert dark["compared"]["difference"] == pytest.approx(-1.69, abs=0.01)
    table = list(csv.DictReader(io.StringIO(run("log", str(demo), "--csv").stdout)))
    assert [row["kind"] for row in table].count("darkening") == 2


def test_a_table_is_written_down_and_a_bad_row_left_out(demo: Path, tmp_path: Path) -> None:
    table = tmp_path / "mine.csv"
    table.write_text("kind,train,day,focal_mm\ndarkening,sea-stacks,2026-10-01,25\ndarkening,x,2026-10-01,25\n")
    printed = run("log", str(demo), "--import", str(table))
    assert printed.returncode == 1
    assert "Line 3: There is no train “x”" in printed.stdout
    assert "1 observation saved, 1 left out." in printed.stdout
    assert len(read_file(demo).workbook.log) == len(demo_workbook().log) + 1


def test_calibration_says_what_is_found_and_what_would_settle_the_rest(demo: Path) -> None:
    told = json.loads(run("calibrate", str(demo), "--train", "lantern-wheel", "--json").stdout)
    one = told["found"]["coma-corrector.back_focus_mm"]
    assert one["low"] < one["value"] < one["high"]
    assert one["unit"] == "mm"
    assert len(one["from"]) == 3
    assert told["refused"] == []
    assert told["next_spacing"][0]["add_mm"] == pytest.approx(one["value"] - 54.92, abs=0.06)
    printed = run("calibrate", str(demo), "--train", "witch-broom").stdout
    assert "if it works, leave it" in printed
    assert run("calibrate", str(demo), "--train", "nowhere").returncode == 2


def test_trains_are_compared(demo: Path) -> None:
    told = json.loads(run("compare", str(demo), "--trains", "sea-stacks,sea-stacks-slim", "--json").stdout)
    lines = {line["key"]: line for line in told["lines"]}
    assert lines["ahead_mm"]["values"] == [41.0, 18.5]
    assert lines["ahead_mm"]["better"] == [1]
    printed = run("compare", str(demo), "--trains", "sea-stacks,sea-stacks-slim").stdout
    assert "18.50 better" in printed
    for bad in ("sea-stacks", "a,b", "sea-stacks,lichen,barnacles,bulbous,witch-broom"):
        assert run("compare", str(demo), "--trains", bad).returncode == 2


def test_compared_figures_have_the_intervals_of_their_readouts(demo: Path) -> None:
    """What `readout` gives an interval has it in `compare`; nothing is better whose interval overlaps the other's."""
    names = ("sea-stacks", "sea-stacks-slim")
    told = json.loads(run("compare", str(demo), "--trains", ",".join(names), "--json").stdout)
    lines = {line["key"]: line for line in told["lines"]}
    ranged = 0
    for number, name in enumerate(names):
        figures = json.loads(run("readout", str(demo), "--train", name, "--json").stdout)["figures"]
        for key, figure in figures.items():
            line = lines.get(key)
            if line is None or figure.get("low") is None:
                continue
            ranged += 1
            assert line["ranges"][number][0] == pytest.approx(figure["low"], abs=1e-6), key
    assert ranged > 10
    for line in lines.values():
        one, other = line["ranges"]
        if line["better"] and one is not None and other is not None and None not in (*one, *other):
            assert one[1] < other[0] or other[1] < one[0] or line["key"] == "spacing.error_mm", line
