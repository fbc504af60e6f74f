"""A part exchanged between evenings, and entries that were changed after their value was applied."""

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.kinds.front import OpeningInFrame
from farrail.logbook.kinds.lengths import PathLength
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.parts.registry import Part
from farrail.workbook.edits.exchanged import ExchangePart, asks_exchange
from farrail.workbook.edits.learnt import TakeOver, UpdateFrom
from farrail.workbook.edits.log import ChangeObservation, SetAside, WriteDown
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.workbook import Workbook

TRAIN, SPACER = "witch-broom", "spacer-5"
BOOK = demo_workbook()


def reading(value: float, origin: Origin = Origin.MEASURED) -> SetReading:
    return SetReading(SPACER, "path_length_mm", Reading(value=value, origin=origin))


def across(book: Workbook, day: str, length: float) -> Workbook:
    """The spacer alone, from its shoulder to its shoulder."""
    return WriteDown(PathLength, TRAIN, day, {"first": 5, "last": 5, "length_mm": length, "off_mm": 0.05}).apply(book)


def found_of(book: Workbook, part: str) -> Found | None:
    evidence = Evidence.of(book.log, book.states_by_id, book.by_id)
    found, _ = learn(evidence, book.train(TRAIN))
    return next((one for one in found if one.part == part and one.path == "path_length_mm"), None)


def spacer_of(book: Workbook) -> Part:
    return book.by_id[book.train(TRAIN).rear_train[-1].part]


def test_of_an_exchange_old_evenings_say_nothing() -> None:
    """100 logs: three evenings with one spacer, an exchange, three with another; both truths are hidden."""
    dice = np.random.default_rng(5)
    held = old_held = 0
    for _ in range(100):
        first, second = 5.0 + float(dice.uniform(-0.2, 0.2)), 5.0 + float(dice.uniform(0.3, 1.5))
        book = reading(5.0, Origin.ASSUMED).apply(BOOK)
        for day in (1, 2, 3):
            book = across(book, f"2026-10-0{day}", first + float(dice.uniform(-0.05, 0.05)))
        one = found_of(book, SPACER)
        assert one is not None
        book = TakeOver((one,)).apply(book)
        typed = reading(6.0, Origin.ASSUMED)
        was = asks_exchange(book, typed)
        assert was is not None
        book = ExchangePart(was, "2026-10-15").apply(typed.apply(book))
        for day in (20, 21, 22):
            book = across(book, f"2026-10-{day}", second + float(dice.uniform(-0.05, 0.05)))
        new = spacer_of(book)
        assert new.id != SPACER
        one = found_of(book, new.id)
        assert one is not None
        assert len(one.seen) == 3
        held += one.low <= second <= one.high
        there = book.model_copy(update={"trains": tuple(s.train for s in book.states if s.train.id == TRAIN)[:1]})
        before = found_of(there, SPACER)
        assert before is not None
        old_held += before.low <= first <= before.high
    assert held >= 93
    assert old_held >= 93


def test_the_old_part_stays_as_it_was_known_and_no_train_holds_it() -> None:
    was = BOOK.by_id[SPACER]
    book = ExchangePart(was, "2026-10-15").apply(reading(5.6).apply(across(BOOK, "2026-10-01", 5.0)))
    old, new = book.by_id[SPACER], spacer_of(book)
    assert (old.status, old.path_length_mm.value) == (Status.LOST, 5.0)  # type: ignore[attr-defined]
    assert old.name == "Spacer 5, until 2026-10-15"
    assert (new.name, new.path_length_mm.value) == (was.name, 5.6)  # type: ignore[attr-defined]
    assert all(SPACER not in train.part_ids() for train in book.trains)
    assert book.states == across(BOOK, "2026-10-01", 5.0).states


def test_it_is_asked_where_a_known_value_of_a_part_of_the_log_is_replaced_by_another() -> None:
    assert asks_exchange(BOOK, reading(5.6)) == BOOK.by_id[SPACER]
    close = SetReading(SPACER, "path_length_mm", Reading(value=5.02, origin=Origin.MEASURED, tolerance=0.05))
    assert asks_exchange(BOOK, close) is None
    assert asks_exchange(BOOK.model_copy(update={"log": ()}), reading(5.6)) is None
    guessed = reading(5.0, Origin.ASSUMED).apply(BOOK)
    assert asks_exchange(guessed, reading(5.6)) is None


# Values that rest on an entry


def widths(*values: float) -> tuple[Workbook, list[str]]:
    book = BOOK
    for value in values:
        entry = {"part": "luminance-31", "path": "clear_aperture_mm", "value_mm": value, "off_mm": 0.1}
        book = WriteDown(OpeningInFrame, "lantern-apsc", "2026-11-20", entry).apply(book)
    evidence = Evidence.of(book.log, book.states_by_id, book.by_id)
    found, _ = learn(evidence, book.train("lantern-apsc"))
    (one,) = [one for one in found if one.part == "luminance-31"]
    return TakeOver((one,)).apply(book), list(one.seen)


def width_of(book: Workbook) -> float | None:
    part = book.by_id["luminance-31"]
    assert isinstance(part, RoundFilter)
    return None if part.clear_aperture_mm is None else part.clear_aperture_mm.value


def test_a_corrected_entry_updates_the_value_that_rests_on_it() -> None:
    """By hand: the mean of 28.7 and 28.9 is 28.8; corrected to 29.1 and 28.9 it is 29.0."""
    book, seen = widths(28.7, 28.9)
    assert width_of(book) == pytest.approx(28.8)
    changed = ChangeObservation(seen[0], {"value_mm": 29.1}).apply(book)
    assert width_of(UpdateFrom(seen[0]).apply(changed)) == pytest.approx(29.0)


def test_an_entry_set_aside_leaves_the_others_value() -> None:
    book, seen = widths(28.7, 28.9)
    aside = SetAside(seen[0], aside=True).apply(book)
    assert width_of(UpdateFrom(seen[0]).apply(aside)) == pytest.approx(28.9)


def test_the_only_entry_set_aside_takes_the_value_back() -> None:
    book, seen = widths(28.7)
    aside = SetAside(seen[0], aside=True).apply(book)
    assert width_of(UpdateFrom(seen[0]).apply(aside)) == width_of(BOOK)
