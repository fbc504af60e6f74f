"""The shelf as CSV: lossless round trip, and every kind of bad table shown in words."""

import csv
import io
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.starter import starter_workbook

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, EditRefused
from farrail.exchange.cells import parse_quantity, quantity_cell
from farrail.exchange.csv_shelf import preview_csv, shelf_to_csv
from farrail.parts.connections import Gender, thread
from farrail.parts.glass import PrintedShift
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span, published
from farrail.parts.registry import TEMPLATES, Part
from farrail.parts.written import number
from farrail.parts.written_ends import connection_cell, parse_connection_cell
from farrail.planning.plan import plan
from farrail.workbook.edits.shelf import ImportParts

READINGS = st.one_of(
    st.builds(
        Reading, value=st.floats(-1e6, 1e6), origin=st.sampled_from(list(Origin)), tolerance=st.floats(0, 1000),
        note=st.from_regex(r"[a-z ,;|\"=0-9]{0,12}", fullmatch=True).map(str.strip),
    ),
    st.tuples(st.floats(0, 50), st.floats(50, 99)).map(lambda ends: Span(low=ends[0], high=ends[1])),
)  # fmt: skip


@settings(max_examples=80, deadline=None)
@given(st.lists(READINGS, min_size=1, max_size=4), st.integers(0, 3))
def test_any_quantity_survives_a_cell(readings: list[Reading | Span], chosen: int) -> None:
    quantity = Quantity(readings=tuple(readings), chosen=min(chosen, len(readings) - 1))
    assert parse_quantity(quantity_cell(quantity)) == quantity


def shelves() -> list[tuple[Part, ...]]:
    templates = tuple(make() for make in TEMPLATES.values())
    return [demo_workbook().shelf, starter_workbook().shelf, templates]


@pytest.mark.parametrize("shelf", shelves(), ids=["demo", "starter", "templates"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_the_round_trip_loses_nothing(shelf: tuple[Part, ...], delimiter: str) -> None:
    preview = preview_csv(shelf_to_csv(shelf, delimiter=delimiter), {})
    assert [row.reason for row in preview.rows if row.part is None] == []
    assert preview.good == shelf


def test_what_only_some_parts_have_survives() -> None:
    spacer, glass = demo_workbook().by_id["spacer-5"], demo_workbook().by_id["clear-36"]
    odd = spacer.model_copy(update={"status": Status.ORDERED, "price": 12.5, "note": "=1+1", "name": "+5 ring",
                                    "maker": "-x", "owned": 0})  # fmt: skip
    printed = glass.model_copy(update={"glass": PrintedShift(focus_shift_mm=published(0.34))})
    text = shelf_to_csv((odd, printed))
    assert preview_csv(text, {}).good == (odd, printed)
    cells = [cell for row in csv.reader(io.StringIO(text)) for cell in row]
    assert not [c for c in cells if c.startswith(("=", "+", "-", "@"))]  # nothing a spreadsheet would evaluate
    assert "'=1+1" in cells


def test_a_plain_table_of_rings_as_a_person_makes_it() -> None:
    text = "\ufeffName;Kind;Front;Rear;Path_length_mm\nRing A;spacer;M42x0,75 internal;m42×0.75 external;3,3\n"
    (ring,) = preview_csv(text, {}).good
    assert isinstance(ring, Spacer)
    assert ring.path_length_mm.value == 3.3
    assert ring.path_length_mm.origin is Origin.PUBLISHED
    assert ring.front == thread(42, 0.75, Gender.INTERNAL)
    assert ring.id == "ring-a"
    assert ring.outer_diameter_mm == 47.0


def test_imported_rings_change_the_plan() -> None:
    workbook = demo_workbook()
    train = workbook.train("witch-broom-short")
    text = "kind,name,front,rear,path_length_mm\nspacer,Long ring,M42x0.75 internal,M42x0.75 external,13.5\n"
    imported = ImportParts(preview_csv(text, workbook.by_id).good).apply(workbook)
    changes = [p.change for p in plan(train, imported.by_id).proposals]
    assert "add Long ring, take out Spacer 8.7" in changes
    assert changes != [p.change for p in plan(train, workbook.by_id).proposals]


ROW = "spacer,A,M42x0.75 internal,M42x0.75 external"
BAD_ROWS = [
    ("flange,A,M42x0.75 internal,M42x0.75 external,5", "kind “flange” is not known"),
    (f"{ROW},five", "path_length_mm: “five” is not a value"),
    (f"{ROW},-5", "−5 mm is outside"),
    (f"{ROW},", "path_length_mm: it is missing"),
    ("spacer,A,M42x0.75,M42x0.75 external,5", "does not say whether it is external or internal"),
    ("spacer,A,glue external,M42x0.75 external,5", "is not a connection"),
    ("spacer,,M42x0.75 internal,M42x0.75 external,5", "no name"),
    (f"{ROW},1e9", "outside 0 to 3000"),
]


@pytest.mark.parametrize(("row", "reason"), BAD_ROWS, ids=[b[1][:20] for b in BAD_ROWS])
def test_each_bad_row_says_why_and_the_good_ones_stand(row: str, reason: str) -> None:
    good = "spacer,Good,M42x0.75 internal,M42x0.75 external,5"
    preview = preview_csv(f"kind,name,front,rear,path_length_mm\n{row}\n\n{good}\n", {})
    assert [p.name for p in preview.good] == ["Good"]
    assert preview.bad == 1
    assert reason in preview.rows[0].reason
    assert preview.rows[0].line == 2
    assert preview.rows[1].line == 4


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"), ("a,b\n1,2\n", "no column “kind”"), ("kind\nspacer\n", "no column “name”"),
        ("kind,name,name\nspacer,A,B\n", "appears twice"),
        ("kind,name\n" + "spacer,A\n" * 10_000, "10000 rows; at most 5000"),
    ],
)  # fmt: skip
def test_what_is_no_table_of_parts(text: str, words: str) -> None:
    with pytest.raises(BadInput, match=words):
        preview_csv(text, {})


def test_ids_that_are_there_already_are_not_taken_twice() -> None:
    workbook = demo_workbook()
    again = preview_csv(shelf_to_csv(workbook.shelf), workbook.by_id)
    assert again.good == ()
    assert all(row.same for row in again.rows)
    other = workbook.by_id["spacer-5"].model_copy(update={"owned": 9})
    assert "is taken" in preview_csv(shelf_to_csv((other,)), workbook.by_id).rows[0].reason
    with pytest.raises(EditRefused, match="on the shelf already"):
        ImportParts((other,)).apply(workbook)


def test_ten_thousand_cells_are_read_in_a_moment() -> None:
    spacer = demo_workbook().by_id["spacer-5"]
    many = tuple(spacer.model_copy(update={"id": f"s{n}", "name": f"S {n}"}) for n in range(2000))
    start = time.perf_counter()
    assert preview_csv(shelf_to_csv(many), {}).good == many
    assert time.perf_counter() - start < 30  # a runaway, not a speed: speeds are benchmarks


def test_connections_and_numbers() -> None:
    for part in demo_workbook().shelf:
        if isinstance(part, (Spacer, RoundFilter)):
            assert parse_connection_cell(connection_cell(part.front)) == part.front
    assert parse_connection_cell("plain 50").standard.size_mm == 50.0
    assert parse_connection_cell("nosepiece 31.7 external").standard.size_mm == 31.7
    assert number("−3,5") == -3.5
    with pytest.raises(BadInput):
        number("1.2.3")


def test_thousands_of_equal_names_and_columns_take_no_longer_than_others() -> None:
    """Compared with the same table of different names, in the same run: a few times as long, not thousands."""

    def took(names: list[str]) -> float:
        lines = "\n".join(f"spacer,{name},5.0,M42x0.75 internal 4,M42x0.75 external 4" for name in names)
        begun = time.perf_counter()
        found = preview_csv(f"kind,name,path_length_mm,front,rear\n{lines}\n", {})
        assert len(found.good) == len(names)
        assert len({part.id for part in found.good}) == len(names)
        return time.perf_counter() - begun

    different = took([f"Ring {number}" for number in range(1500)])
    assert took(["Ring"] * 1500) < 4.0 * different
    header = ",".join(f"column{number}" for number in range(20_000))
    begun = time.perf_counter()
    with pytest.raises(BadInput, match="20002 columns"):
        preview_csv(f"kind,name,{header}\n", {})
    assert time.perf_counter() - begun < 4.0 * different


def test_a_thickness_and_a_printed_shift_together_are_told_apart() -> None:
    head = "kind,name,front,rear,path_length_mm,outer_diameter_mm,glass.thickness_mm,glass.index,glass.focus_shift_mm\n"
    row = "round_filter,Filter,plain 36,plain 36,2,36,2,1.5168,0.68\n"
    (told,) = preview_csv(head + row, {}).rows
    assert told.part is None
    assert "both given" in told.reason
    assert "is not a column" not in told.reason


@pytest.mark.parametrize(
    ("column", "cell", "said"),
    [("mass_g", "heavy", "mass_g: “heavy” is no number"), ("polariser", "perhaps", "“perhaps” is neither yes nor no")],
)
def test_a_cell_that_is_no_number_or_no_answer_is_told(column: str, cell: str, said: str) -> None:
    text = (
        f"kind,name,front,rear,path_length_mm,{column}\nround_filter,F,M48x0.75 external,M48x0.75 internal,5,{cell}\n"
    )
    (row,) = preview_csv(text, {}).rows
    assert row.part is None
    assert said in row.reason
