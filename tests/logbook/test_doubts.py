"""A log with slips in it: hidden truths with outliers and typos, entries that contradict, stars once wrong."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import EditRefused
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import StarShape
from farrail.logbook.learning.doubts import contested, doubts_of, without_outvoted
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found
from farrail.logbook.learning.spacing_stars import Ladder, learn_back_focus
from farrail.logbook.observation import numbers
from farrail.logbook.words import difference_words, doubt_words, ladder_words
from farrail.parts.kinds.telescopes import ShortStars
from farrail.parts.origin import Origin
from farrail.parts.provenance import assumed, measured
from farrail.ui.stations.log import LogStation
from farrail.ui.window import MainWindow
from farrail.workbook.edits.log import SetAside, WriteDown
from farrail.workbook.workbook import Workbook
from tests.logbook.gear import CORNER_MM, body, evidence, focal_where_it_shows, lens, stack, tube
from tests.logbook.test_other_values import corrector_of, flattened, stars
from tests.logbook.test_pupils import AHEAD, seen

BOOK = demo_workbook().model_copy(update={"log": (), "states": ()})
DAY = "2026-11-20"


def log_of(*focal_mm: float) -> Workbook:
    book = BOOK
    for number, focal in enumerate(focal_mm):
        values = {"focal_mm": focal, "judged": "measured", "f_number": 8.0}
        book = WriteDown(Darkening, "sea-stacks", f"2026-11-{number + 1:02}", values).apply(book)
    return book


def learnt(book: Workbook) -> tuple[Found, ...]:
    there = Evidence.of(book.log, book.states_by_id, book.by_id)
    return learn(without_outvoted(there, doubts_of(there)), book.train("sea-stacks"))[0]


def test_one_slip_among_three_evenings_is_named_and_left_out() -> None:
    book = log_of(30.2, 30.3, 30.4, 23.0)
    (doubt,) = doubts_of(Evidence.of(book.log, book.states_by_id, book.by_id))
    assert (doubt.seen, doubt.outvoted) == ("darkening-2026-11-04-1", True)
    assert doubt.residual == pytest.approx(-7.3)
    # The median of the others.
    assert "−7.30 mm from the others" in doubt_words(doubt, book.log_by_id, book.by_id)
    assert learnt(book) == learnt(log_of(30.2, 30.3, 30.4))


@pytest.mark.parametrize("focal", [2.95, 14.0, 60.0, 295.0])
def test_what_the_lens_cannot_be_set_to_is_refused_with_what_it_can(focal: float) -> None:
    with pytest.raises(EditRefused, match="has 17 to 35 mm"):
        log_of(focal)
    with pytest.raises(EditRefused, match="not a day of the calendar"):
        WriteDown(Darkening, "sea-stacks", "2026-02-30", {"focal_mm": 28.0}).apply(BOOK)


@pytest.mark.parametrize("typo", [False, True])
def test_a_hidden_depth_lies_in_the_interval_though_some_evenings_are_wrong(typo: bool) -> None:
    """300 logs: one in ten readings off by millimetres, or one with two digits swapped or a digit off."""
    dice = np.random.default_rng(31)
    inside = trials = 0
    while trials < 300:
        depth, radius = float(dice.uniform(15, 35)), float(dice.uniform(43, 50))
        true = focal_where_it_shows(radius, AHEAD, depth, 8.0, 1.0, CORNER_MM)
        if not 19.0 < true < 33.0:
            continue
        one, ring = lens(assumed(27.0)), tube("ring", AHEAD, measured(2.0 * radius))
        readings = [true + float(dice.uniform(-0.4, 0.4)) for _ in range(7)]
        slips = [0] if typo else np.flatnonzero(dice.random(7) < 0.1)[:2]
        for number in slips:
            readings[number] = (
                float(dice.choice([true + 10.0, true - 10.0, 10 * (true % 10) + true // 10])) if typo
                else true + float(dice.choice([-1.0, 1.0]) * dice.uniform(3.0, 10.0))
            )  # fmt: skip
        log = [seen(k, max(focal, 1.0), 8.0) for k, focal in enumerate(readings)]
        there = evidence([stack("ring")], [one, body(), ring], list(log))
        trials += 1
        doubts = doubts_of(there)
        found = learn(without_outvoted(there, doubts), stack("ring"))[0]
        unsure = contested(doubts)
        # Nothing far from the truth may be applied unasked.
        ticked = [value for value in found if not unsure & set(value.seen)]
        assert all(abs(value.value - depth) < 4.0 for value in ticked), (true, readings)
        inside += all(value.low <= depth <= value.high for value in ticked)
    assert inside / trials >= 0.93


def test_two_that_contradict_each_other_are_both_named_and_nothing_is_ticked(
    make_window: Callable[..., MainWindow],
) -> None:
    book = log_of(30.0, 23.0)
    doubts = doubts_of(Evidence.of(book.log, book.states_by_id, book.by_id))
    assert [doubt.outvoted for doubt in doubts] == [False, False]
    window = make_window(book, train="sea-stacks")
    window.stations.show_station("log")
    page = window.stations.of(LogStation).learnt
    page.refresh()
    assert page.picked == ()
    # One is set aside: the other is applied unasked again, and undo brings both back.
    window.session.do(SetAside("darkening-2026-11-02-1", True))
    window.session.after_paint.flush()
    page.refresh()
    assert {name for one in learnt(window.session.workbook) for name in one.seen} == {"darkening-2026-11-01-1"}
    window.session.undo()
    assert not window.session.workbook.log_by_id["darkening-2026-11-02-1"].aside


def test_one_wrong_evening_of_stars_is_named_and_the_rest_judged() -> None:
    """Short at 54.0 and 54.4, round at 55.0, long at 55.6 and 56.0; once a long one was noted as short."""
    base = flattened({"a": 54.0, "b": 54.4, "c": 55.0, "d": 55.6, "e": 56.0}, ShortStars.RADIAL)
    right = [stars("a", StarShape.RADIAL, 0.1), stars("b", StarShape.RADIAL, 0.1), stars("c", StarShape.ROUND, 0.1),
             stars("d", StarShape.TANGENTIAL, 0.1)]  # fmt: skip
    wrong = stars("e", StarShape.RADIAL, 0.1)
    there = Evidence([*right, wrong], base.states, base.shelf)
    doubts = doubts_of(there)
    assert [doubt.seen for doubt in doubts] == ["s-e"]
    (found,) = learn_back_focus(without_outvoted(there, doubts), corrector_of(base))
    assert isinstance(found, Found)
    assert found.low < 55.0 < found.high


def test_rulers_at_different_distances_do_not_contradict_each_other() -> None:
    """Focused nearer, a ruler fills the frame with less: only readings at the closest focus are alike."""
    book = BOOK
    for number, width in enumerate((24.0, 60.0)):
        values = {"width_mm": width, "nearest": False, "distance_mm": 3.0 * width}
        book = WriteDown(FieldWidth, "barnacles", f"2026-11-{number + 1:02}", values).apply(book)
    assert doubts_of(Evidence.of(book.log, book.states_by_id, book.by_id)) == ()


def test_sentences_of_nothing_to_change_and_of_dark_corners() -> None:
    ladder = Ladder("flat", ShortStars.RADIAL, False, (), 54.9, 55.1, 0.004, False, 0.1)
    assert ladder_words(ladder, {}).startswith("No change")
    assert "0.30 mm longer" in ladder_words(replace(ladder, add_mm=0.3), BOOK.by_id | {"flat": BOOK.shelf[0]})
    dark = numbers(1.5, float("inf"), "stops", 0.2, Origin.ASSUMED)
    assert difference_words(dark) == "Predicted was a dark corner."
