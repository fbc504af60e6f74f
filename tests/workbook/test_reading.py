"""Workbook files: what is kept, what is refused, and in which words."""

import json
import math
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.starter import starter_workbook

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadWorkbook
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.parts.registry import TEMPLATES
from farrail.readouts.read import read
from farrail.workbook.edits.shelf import AddPart, SetReading
from farrail.workbook.reading import from_data, from_text, migrate, to_text
from farrail.workbook.workbook import Workbook


def document() -> Any:
    return json.loads(to_text(demo_workbook()))


@pytest.mark.parametrize("workbook", [demo_workbook(), starter_workbook()], ids=["demo", "starter"])
def test_load_after_save_is_identity(workbook: Workbook) -> None:
    assert from_text(to_text(workbook), "x") == workbook


@settings(max_examples=40, deadline=None)
@given(st.floats(0.0, 2999.0), st.sampled_from(list(Origin)), st.floats(0.0, 10.0), st.text(max_size=30))
def test_any_reading_survives_the_file(value: float, origin: Origin, tolerance: float, note: str) -> None:
    reading = Reading(value=value, origin=origin, tolerance=tolerance, note=note)
    workbook = SetReading("spacer-5", "path_length_mm", reading).apply(demo_workbook())
    assert from_text(to_text(workbook), "x") == workbook


def test_every_kind_has_a_template_that_survives_the_file() -> None:
    workbook = demo_workbook()
    for make in TEMPLATES.values():
        workbook = AddPart(make()).apply(workbook)
    assert from_text(to_text(workbook), "x") == workbook
    assert {p.kind for p in workbook.shelf} == set(TEMPLATES)


def test_the_starter_train_lands_and_rests_on_assumptions() -> None:
    workbook = starter_workbook()
    readout = read(workbook.trains[0], workbook.by_id)
    assert readout.spacing.within_tolerance
    assert readout.figures["spacing.error_mm"].provenance is Origin.ASSUMED
    assert not [j for j in readout.layout.joints if j.mismatch]


def test_files_follow_the_printed_schema() -> None:
    jsonschema.validate(document(), Workbook.model_json_schema())


def _set(data: Any, path: list[Any], value: Any) -> Any:
    here = data
    for step in path[:-1]:
        here = here[step]
    here[path[-1]] = value
    return data


BAD_DOCUMENTS: list[tuple[str, Any, list[str]]] = [
    ("another format", {"format": "notes"}, ["not a Far Rail workbook"]),
    ("a list", [1, 2], ["not a Far Rail workbook"]),
    ("newer", _set(document(), ["version"], 99), ["newer Far Rail", "99"]),
    ("no version", {"format": "farrail-workbook", "name": "x"}, ["which version"]),
    ("a version that never was", _set(document(), ["version"], 0), ["never existed"]),
    ("unknown kind", _set(document(), ["shelf", 3, "kind"], "flange"), ["shelf[3]", "“flange” is not known"]),
    ("missing field", _set(document(), ["name"], ""), ["name", "must not be empty"]),
    ("same id twice", _set(document(), ["shelf", 1, "id"], "tern-72"), ["“tern-72” appears twice"]),
    ("missing optic", _set(document(), ["trains", 0, "optic"], "gone"), ["“gone”", "not on the shelf"]),
    ("camera as optic", _set(document(), ["trains", 0, "optic"], "skua-apsc"), ["needs a telescope or camera lens"]),
    ("field unknown", _set(document(), ["shelf", 0, "colour"], "red"), ["colour", "not known", "Tern 72"]),
    (
        "negative length",
        _set(document(), ["shelf", 5, "path_length_mm", "readings", 0, "value"], -4.0),
        ["−4 mm is outside", "Ring 48/42"],
    ),
    (
        "absurd length",
        _set(document(), ["shelf", 5, "path_length_mm", "readings", 0, "value"], 1e12),
        ["outside 0 to 3000 mm"],
    ),
    ("chosen figure missing", _set(document(), ["shelf", 5, "path_length_mm", "chosen"], 7), ["figure 8 is chosen"]),
]


@pytest.mark.parametrize(("name", "data", "words"), BAD_DOCUMENTS, ids=[d[0] for d in BAD_DOCUMENTS])
def test_bad_documents_are_refused_in_one_sentence(name: str, data: Any, words: list[str]) -> None:
    with pytest.raises(BadWorkbook) as caught:
        from_data(data, "mine.farrail.json")
    text = str(caught.value)
    assert text.startswith("mine.farrail.json")
    assert "\n" not in text
    for word in words:
        assert word in text


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "line 1"), ("not json", "line 1"), (to_text(demo_workbook())[:-400], "ends too early"),
        ('{"format": NaN}', "NaN"), ("[" * 100_000, "mine"), ('{"a": 1e999}', "not a Far Rail workbook"),
    ],
)  # fmt: skip
def test_text_that_is_no_workbook(text: str, words: str) -> None:
    with pytest.raises(BadWorkbook, match=words):
        from_text(text, "mine.farrail.json")


def test_infinity_inside_a_number_is_refused() -> None:
    text = to_text(demo_workbook()).replace('"value": 430.0', '"value": 1e999')
    with pytest.raises(BadWorkbook, match="must be finite"):
        from_text(text, "mine")
    assert not math.isfinite(float("1e999"))


def test_older_versions_migrate_step_by_step() -> None:
    steps = {1: lambda d: d | {"a": 1}, 2: lambda d: d | {"b": d["a"] + 1}}
    data = migrate({"version": 1}, "mine", steps, newest=3)
    assert data == {"version": 3, "a": 1, "b": 2}


def test_the_format_page_names_every_kind() -> None:
    page = (Path(__file__).parents[2] / "docs" / "format.md").read_text()
    for kind in TEMPLATES:
        assert f"`{kind}`" in page
