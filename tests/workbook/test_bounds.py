"""Every state edits can reach reads back: the format's bounds are asked of what edits make."""

import re
import time
from dataclasses import dataclass
from typing import Any

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadWorkbook, EditRefused
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.workbook.bounds import most_of
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.edits.trains import AddTrain
from farrail.workbook.history import History
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class Put:
    """An edit that copies records with other values in them, as all edits do, asking nothing."""

    changes: dict[str, Any]
    label: str = "Put"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        return workbook.model_copy(update=self.changes)


def test_rows_end_where_the_format_ends() -> None:
    book = demo_workbook()
    train = book.trains[0]
    full = tuple(train.model_copy(update={"id": f"t-{n}", "name": f"T {n}"}) for n in range(most_of("trains")))
    history = History(book.model_copy(update={"trains": full}))
    optic = train.optic
    with pytest.raises(EditRefused, match="at most 500 trains"):
        history.do(AddTrain("One more", optic, None))
    assert len(history.present.trains) == 500
    assert from_text(to_text(history.present), "x") == history.present


def test_the_twenty_first_figure_is_refused() -> None:
    history = History(demo_workbook())
    refused: list[str] = []
    for number in range(30):
        reading = Reading(value=10.0 + number / 100.0, origin=Origin.PUBLISHED, note=f"drawing {number}")
        try:
            history.do(SetReading("spacer-12", "path_length_mm", reading))
        except EditRefused as error:
            refused.append(str(error))
        assert from_text(to_text(history.present), "x") == history.present
    assert refused
    assert all("20 entries at most" in text and "stays as it was" in text for text in refused)


@pytest.mark.parametrize(
    "values", [{"name": ""}, {"name": "x" * 400}, {"owned": -1}, {"owned": 5000}, {"price": -1.0}, {"note": "n" * 3000}]
)
def test_what_no_model_has_checked_is_checked(values: dict[str, Any]) -> None:
    history = History(demo_workbook())
    shelf = history.present.shelf
    with pytest.raises(EditRefused, match="stays as it was"):
        history.do(Put({"shelf": (shelf[0].model_copy(update=values), *shelf[1:])}))
    with pytest.raises(EditRefused):
        history.do(Put({"name": ""}))
    assert history.present == demo_workbook()


def test_names_that_stand_twice_and_yes_for_a_number_are_refused() -> None:
    text = to_text(demo_workbook())
    with pytest.raises(BadWorkbook, match="“name” appears twice"):
        from_text(text.replace('"name":', '"name": "x", "name":', 1), "x")
    with pytest.raises(BadWorkbook, match="not true or false"):
        from_text(text.replace('"value": 12.0', '"value": true', 1), "x")
    with pytest.raises(BadWorkbook):
        from_text(text.replace('"readings": [', '"readings": [1, ', 1), "x")


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("[" * 200_000, "it is nested too deeply"),
        ('{"format": "x", "a": ' + "9" * 6000 + "}", "it holds a number of 6000 digits"),
        ('{"a": -Infinity}', "it holds -Infinity, which is no number"),
        ("{" + ", ".join(f'"k{n}": 1' for n in range(400_000)) + "}", "a record in it has 400000 names"),
        ("{" + ", ".join(f'"k{n % 800}": 1' for n in range(900)) + "}", "“k0” appears twice in one record"),
    ],
)
def test_json_beyond_all_bounds_is_refused_at_once_in_our_words(text: str, why: str) -> None:
    started = time.process_time()
    with pytest.raises(BadWorkbook, match=f"^mine cannot be read: {re.escape(why)}"):
        from_text(text, "mine")
    assert time.process_time() - started < 5.0
