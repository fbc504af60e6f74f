"""Edits as lines of JSON: a workbook built by a script, every edit there is, and lines that are none."""

import csv
import io
import json
from pathlib import Path
from typing import Any

import pytest
from tests.command_line import far_rail as run

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, FarRailError
from farrail.exchange.edit_lines import apply_lines, edit_from, edit_names
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.readouts.read import read
from farrail.workbook.history import Edit, History
from farrail.workbook.lock import FileLock
from farrail.workbook.store import read_file, write_file


def applied(*lines: dict[str, Any]) -> History:
    history = History(demo_workbook())

    def do(edit: Edit) -> object:
        history.do(edit)
        return history.present

    apply_lines([json.dumps(line) for line in lines], history.present, do)
    return history


def test_a_train_is_laid_line_by_line_as_by_hand() -> None:
    """The demo's short train, placed again from its parts, reads like the one that is there."""
    there = demo_workbook()
    meant = there.train("witch-broom")
    rows = [
        {"edit": "lay-part", "train": "Anew", "part": laid.part, "index": number, "flipped": laid.flipped}
        for number, laid in enumerate(meant.rear_train)
    ]
    filters = [
        {"edit": "set-filter", "train": "anew", "index": number, "slot": slot, "filter": key}
        for number, laid in enumerate(meant.rear_train) for slot, key in enumerate(laid.filters) if key
    ]  # fmt: skip
    start = {"edit": "add-train", "name": "Anew", "optic": meant.optic, "camera": there.by_id[str(meant.camera)].name}
    history = applied(start, *rows, *filters)
    made, shelf = history.present.train("anew"), history.present.by_id
    assert read(made, shelf).figures["spacing.laid_mm"].value == pytest.approx(
        read(meant, shelf).figures["spacing.laid_mm"].value
    )


def length(history: History) -> Reading:
    part = history.present.by_id["spacer-5"]
    assert isinstance(part, Spacer)
    figure = part.path_length_mm.in_use
    assert isinstance(figure, Reading)
    return figure


def test_values_are_set_as_people_write_them() -> None:
    line = {"edit": "set", "part": "spacer 5", "field": "path_length_mm", "value": "5,01 ± 0,02"}
    figure = length(applied(line))
    assert (figure.value, figure.tolerance, figure.origin) == (5.01, 0.02, Origin.MEASURED)
    line["as"] = "published"
    assert length(applied(line)).origin is Origin.PUBLISHED


def test_an_observation_is_written_down() -> None:
    before = len(demo_workbook().log)
    seen = demo_workbook().log[0]
    values = seen.model_dump(mode="json", exclude_defaults=True)
    for own in ("id", "kind", "state", "train", "day"):
        values.pop(own, None)
    line = {"edit": "write-down", "kind": seen.kind, "train": seen.train, "day": "2026-11-27", "values": values}
    after = applied(line).present.log
    assert len(after) == before + 1
    assert after[-1].day == "2026-11-27"


@pytest.mark.parametrize("name", edit_names())
def test_every_edit_tells_what_it_needs(name: str) -> None:
    """With nothing given, the first thing missing is named; with a value it does not know, that one is."""
    workbook = demo_workbook()
    with pytest.raises(FarRailError, match=r"needs “|there is no kind|object with kind"):
        edit_from({"edit": name}, workbook)
    values = edit_names()[name][1]
    if name not in ("set", "add-part", "write-down"):
        with pytest.raises(BadInput, match="has no value “else”"):
            edit_from({"edit": name, "else": 1}, workbook)
        assert values


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("{", "Line 2: this is no JSON"),
        ("[1]", "Line 2: a line is an object"),
        ('{"edit": "rename-trian", "train": "x"}', "did you mean “rename-train”"),
        ('{"edit": "rename-train", "train": "nobody", "name": "x"}', "Line 2: "),
        ('{"edit": "rename-train", "train": "witch-broom-short", "name": 3}', "“name”: "),
        (
            '{"edit": "lay-part", "train": "witch-broom", "part": "spacer-99", "index": 0}',
            "no part “spacer-99”",
        ),
        ('{"edit": "lay-part", "train": "witch-broom", "part": "spacer-5", "index": "far"}', "“index”: "),
        ('{"edit": "remove-part", "train": "witch-broom", "index": 99}', "no longer on the rail"),
        ('{"edit": "set", "part": "spacer-5", "field": "colour", "value": "red"}', "has no field “colour”"),
        ('{"edit": "set", "part": "spacer-5", "field": "path_length_mm", "value": "long"}', "Line 2: "),
        ('{"edit": "add-part", "part": {"kind": "spacer"}}', "object with kind, name"),
        ('{"edit": "add-part", "part": {"kind": "spatula", "name": "x"}}', "“x”"),
        (
            '{"edit": "write-down", "kind": "mood", "train": "lichen", "day": "2026-01-01"}',
            "no kind of",
        ),
    ],
)
def test_a_line_that_is_none_is_told_and_nothing_changes(line: str, said: str, file: Path) -> None:
    first = '{"edit": "rename-train", "train": "witch-broom-short", "name": "Changed"}'
    before = file.read_bytes()
    told = run("edit", str(file), "--lines", "-", text=f"{first}\n{line}\n")
    assert told.returncode == 2
    assert told.stderr.count("\n") == 1
    assert said in told.stderr
    assert "Nothing was changed." in told.stderr
    assert file.read_bytes() == before


def test_a_workbook_is_built_from_nothing(tmp_path: Path) -> None:
    out = tmp_path / "mine.farrail.json"
    shelf = {part.id: part for part in demo_workbook().shelf}
    wanted = ("tern-72", "skua-apsc", "ring-48-42")
    parts = [shelf[key].model_dump(mode="json", exclude_defaults=True) for key in wanted if key in shelf]
    for part in parts:
        part["name"] = f"My {part['name']}"
        part.pop("id")
    optic, camera = parts[0]["name"], parts[1]["name"]
    kinds = [shelf[key].kind for key in wanted if key in shelf]
    lines = [{"edit": "add-part", "part": {**part, "kind": kind}} for part, kind in zip(parts, kinds, strict=True)]
    lines.append({"edit": "add-train", "name": "By script", "optic": optic, "camera": camera})
    text = "# made by a script\n\n" + "\n".join(json.dumps(line) for line in lines)
    told = run("edit", str(out), "--lines", "-", "--new", text=text)
    assert told.returncode == 0, told.stderr
    made = read_file(out).workbook
    assert [train.name for train in made.trains] == ["By script"]
    again = run("edit", str(out), "--lines", "-", "--new", text=text)
    assert again.returncode == 2
    assert "is there already" in again.stderr


def test_a_workbook_a_window_has_open_is_left_alone(file: Path) -> None:
    lock = FileLock(file)
    try:
        told = run("edit", str(file), "--lines", "-", text='{"edit": "remove-train", "train": "witch-broom-short"}')
    finally:
        lock.release()
    assert told.returncode == 2
    assert "is open in a Far Rail window" in told.stderr


def test_tables_go_out_and_come_in(file: Path, tmp_path: Path) -> None:
    shelf = run("csv", str(file)).stdout
    assert len(shelf.splitlines()) > len(demo_workbook().shelf)
    figures = run("csv", str(file), "figures", "--train", "witch-broom").stdout
    row = next(line for line in figures.splitlines() if line.startswith("spacing.laid_mm,"))
    assert ",55.7" in row
    by_id = {line["id"]: line for line in csv.DictReader(io.StringIO(figures))}
    # The inch is 25.4 mm by definition; what is no length has none.
    laid = by_id["spacing.laid_mm"]
    assert float(laid["inches"]) * 25.4 == pytest.approx(float(laid["value"]), abs=1e-4)
    assert {line["inches"] for line in by_id.values() if line["unit"] != "mm"} == {""}
    findings = run("csv", str(file), "findings", "--train", "witch-broom", "--out", str(tmp_path / "f.csv"))
    assert findings.returncode == 0
    assert (tmp_path / "f.csv").read_text("utf-8-sig").startswith("id,severity,part,text,reason")
    assert run("csv", str(file), "figures").returncode == 2
    table = "kind,name,path_length_mm,front,rear\nspacer,Bought in a sale,7.25,M42x0.75 internal,M42x0.75 external\n"
    table += "spatula,Not one,1,,\n"
    told = run("csv", str(file), "--import", "-", text=table)
    assert told.returncode == 1
    assert "Line 3" in told.stderr
    assert any(part.name == "Bought in a sale" for part in read_file(file).workbook.shelf)


def test_the_page_of_edits_shows_lines_that_run(tmp_path: Path) -> None:
    page = (Path(__file__).parents[2] / "docs" / "edits.md").read_text("utf-8")
    block = page.split("```")[1]
    path = tmp_path / "demo.farrail.json"
    write_file(path, demo_workbook(), None)
    told = run("edit", str(path), "--lines", "-", text=block)
    assert told.returncode == 0, told.stderr
