"""A made-up kind, known from one file alone, at every place where kinds matter. Run by test_made_up_kind.py."""

from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QLineEdit, QMenu
from pytestqt.qtbot import QtBot

from farrail.demo.hallan_skerry import demo_workbook
from farrail.exchange.csv_shelf import preview_csv, shelf_to_csv
from farrail.parts.fields import offered_fields, value_at
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.parts.registry import KINDS, TEMPLATES, Part, usual_sizes
from farrail.planning.plan import plan
from farrail.readouts.read import Readout, read
from farrail.ui.rail.section import cut_section, section_of_part
from farrail.ui.stations.part_rows import edit_of, sheet_rows
from farrail.ui.widgets.row_keys import FieldKey, ValueKey
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import FlipPart, LayPart
from farrail.workbook.edits.shelf import AddPart, SetReading
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.shelf_view import Facet, grouped, haystack
from farrail.workbook.workbook import Workbook

TRAIN = "witch-broom"


def wedge() -> Part:
    return TEMPLATES["wedge"]()


def workbook() -> Workbook:
    return AddPart(wedge()).apply(demo_workbook())


def laid(book: Workbook | None = None) -> tuple[Workbook, Readout]:
    """The wedge placed before the camera of the first train."""
    book = book or workbook()
    book = LayPart(TRAIN, "new-wedge", len(book.train(TRAIN).rear_train)).apply(book)
    return book, read(book.train(TRAIN), book.by_id)


def test_it_is_listed() -> None:
    assert "wedge" in KINDS
    assert [u.part.name for u in usual_sizes() if u.group == "wedges"] == ["Wedge of 1°", "Wedge of 4°"]
    assert dict(grouped(workbook().shelf, Facet.KIND))["wedge"][0].id == "new-wedge"
    assert "wedge" in haystack(wedge())


def test_its_values_are_edited() -> None:
    offered = {one.field.path: one for one in offered_fields(wedge())}
    assert (offered["tilt_deg"].field.label, offered["tilt_deg"].field.unit) == ("Wedge angle", "°")
    assert offered["plate.thickness_mm"].field.label == "Plate thickness"
    assert offered["waist_mm"].value is None
    book = SetReading("new-wedge", "tilt_deg", Reading(value=3.5, origin=Origin.MEASURED)).apply(workbook())
    now = value_at(book.by_id["new-wedge"], "tilt_deg")[1]
    assert (now.value, now.origin, len(now.readings)) == (3.5, Origin.MEASURED, 2)
    book = edit_of(book.by_id["new-wedge"], "sealed", "yes", book, Origin.MEASURED).apply(book)
    rows = {row.key: row.cells[1].text for row in sheet_rows(book.by_id["new-wedge"], book)}
    assert rows[FieldKey("sealed")] == "yes"
    assert ValueKey("tilt_deg") in rows


def test_it_is_stored_and_exchanged() -> None:
    book = SetReading("new-wedge", "waist_mm", Reading(value=33.25, origin=Origin.MEASURED)).apply(workbook())
    assert from_text(to_text(book), "file") == book
    part = book.by_id["new-wedge"]
    preview = preview_csv(shelf_to_csv([part]), {})
    assert preview.good == (part,), [row.reason for row in preview.rows]
    assert '"wedge"' in str(Workbook.model_json_schema()).replace("'", '"')


def test_it_is_laid_and_read() -> None:
    before = read(demo_workbook().train(TRAIN), demo_workbook().by_id)
    book, after = laid()
    # 8 mm of length; a plate of 3 mm, n 1.5, asks for t/3 more.
    assert after.spacing.actual_mm - before.spacing.actual_mm == pytest.approx(8.0)
    assert (after.spacing.required_mm or 0.0) - (before.spacing.required_mm or 0.0) == pytest.approx(1.0)
    assert after.exposure.total_stops - before.exposure.total_stops == pytest.approx(0.5)
    glass = next(g for g in after.layout.glass if g.part.id == "new-wedge")
    placed = after.layout.rear[-1]
    assert glass.z_front_mm - placed.z_front_mm == pytest.approx(2.0)
    flipped = FlipPart(TRAIN, placed.index).apply(book)
    turned = read(flipped.train(TRAIN), flipped.by_id)
    glass = next(g for g in turned.layout.glass if g.part.id == "new-wedge")
    assert turned.layout.rear[-1].z_rear_mm - glass.z_rear_mm == pytest.approx(2.0)


def test_its_narrow_waist_is_judged() -> None:
    book = SetReading("new-wedge", "waist_mm", Reading(value=12.0, origin=Origin.MEASURED)).apply(workbook())
    _, readout = laid(book)
    first = readout.light.limiting
    assert first is not None
    assert (first.placed.part.id, first.placed.path) == ("new-wedge", "waist_mm")
    assert first.placed.z_mm - readout.layout.rear[-1].z_front_mm == pytest.approx(8.0 / 3.0)
    assert any(f.part == "new-wedge" for f in readout.findings)


def test_it_is_drawn() -> None:
    _, readout = laid()
    body = next(b for b in cut_section(readout).bodies if b.part == "new-wedge")
    assert body.shape.elements
    assert section_of_part(wedge()) is not None


def test_it_is_planned_round() -> None:
    # A train with both spacers out and the wedge in: what is placed stays, and 5 mm beside it fill the gap again.
    book = workbook()
    train = book.train("witch-broom")
    rear = tuple(laid for laid in train.rear_train if not laid.part.startswith("spacer"))
    train = train.model_copy(update={"rear_train": rear})
    book = book.model_copy(update={"trains": (train,)})
    book = LayPart(train.id, "new-wedge", len(rear)).apply(book)
    made = plan(book.train(train.id), book.by_id)
    assert made.proposals
    for proposal in made.proposals:
        assert "new-wedge" in [laid.part for laid in proposal.train.rear_train]
        assert read(proposal.train, book.by_id).spacing.within_tolerance


def test_a_person_finds_it_in_the_window(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(workbook())
    window.stations.show_station("parts")
    search = window.findChild(QLineEdit, "shelf_search")
    qtbot.keyClicks(search, "wedge")
    names = [row.cells[0].text for row in window.parts.shelf.ledger.rows]
    assert names == ["New wedge"]
    menu = next(a for m in window.findChildren(QMenu) for a in m.actions() if a.text().lower() == "wedge")
    menu.trigger()
    assert sum(part.kind == "wedge" for part in window.session.workbook.shelf) == 2
