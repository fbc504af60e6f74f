"""Both orders of what practitioners do in two ways, each against a train placed by hand in that order."""

import math

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.inventory_item import Status
from farrail.planning.practice_words import practice_words
from farrail.planning.practices import Practice, practices_of
from farrail.readouts.read import read
from farrail.train.train import MountedPart
from farrail.workbook.workbook import Workbook

SHEETS = ("solid-3-0", "soft-0-9")


def customs(train: str, book: Workbook | None = None) -> dict[str, Practice]:
    book = book or demo_workbook()
    return {one.key: one for one in practices_of(read(book.train(train), book.by_id).front, book.by_id)}


def cost_of(train: str, stack: tuple[MountedPart, ...]) -> tuple[float | None, float]:
    """Return first clean focal length and corner loss of a stack placed by hand."""
    book = demo_workbook()
    front = read(book.train(train).model_copy(update={"front_stack": stack}), book.by_id).front
    return front.now.first_clean_mm, front.corner_stops


def test_a_polariser_on_the_front_is_compared_with_one_dropped_in_behind() -> None:
    """The front ring that only carried it goes with it; the smaller polariser on the shelf takes its place."""
    found = customs("sea-stacks")["polariser"]
    here, other = found.ways
    assert [way.key for way in found.ways] == ["outermost", "behind"]
    by_hand = (
        MountedPart(part="protection-82"), MountedPart(part="ring-82"),
        MountedPart(part="skerry-100", filters=SHEETS, drop_in="polariser-86"),
    )  # fmt: skip
    assert [one.part for one in other.stack] == [one.part for one in by_hand]
    assert (other.first_clean_mm, other.corner_stops) == pytest.approx(cost_of("sea-stacks", by_hand))
    now = cost_of("sea-stacks", demo_workbook().train("sea-stacks").front_stack)
    assert (here.first_clean_mm, here.corner_stops) == pytest.approx(now)
    assert other.first_clean_mm is not None
    assert here.first_clean_mm is not None
    assert other.first_clean_mm < here.first_clean_mm


def test_one_behind_the_sheets_is_compared_with_one_on_the_front() -> None:
    found = customs("sea-stacks-slim")["polariser"]
    by_hand = (
        MountedPart(part="ring-82-recessed"), MountedPart(part="skerry-100", filters=SHEETS),
        MountedPart(part="front-ring-105"), MountedPart(part="polariser-105"),
    )  # fmt: skip
    assert [way.key for way in found.ways] == ["behind", "outermost"]
    assert [one.part for one in found.ways[1].stack] == [one.part for one in by_hand]
    assert found.ways[1].first_clean_mm == pytest.approx(cost_of("sea-stacks-slim", by_hand)[0])


def test_a_filter_left_on_the_lens_is_compared_with_the_bare_lens() -> None:
    found = customs("sea-stacks")["left_on"]
    without = demo_workbook().train("sea-stacks").front_stack[1:]
    assert found.ways[1].stack == without
    assert found.ways[1].first_clean_mm == pytest.approx(cost_of("sea-stacks", without)[0])


def test_what_is_only_wanted_is_no_other_way() -> None:
    book = demo_workbook()
    shelf = tuple(
        part.model_copy(update={"status": Status.WANTED}) if part.id == "polariser-86" else part for part in book.shelf
    )
    assert "polariser" not in customs("sea-stacks", book.model_copy(update={"shelf": shelf}))


@pytest.mark.parametrize("train", ["witch-broom", "lantern-wheel", "bulbous", "lichen", "barnacles", "brae-held"])
def test_nothing_is_offered_where_there_is_nothing_to_choose(train: str) -> None:
    assert customs(train) == {}


def test_the_words_say_which_is_laid_and_what_each_costs() -> None:
    head, lines = practice_words(customs("sea-stacks")["polariser"])
    assert head == "Polariser 105: outermost, or behind the square filters"
    assert lines[0].startswith("Outermost (current): free of vignetting from 29.1 mm, the corner dark")
    assert lines[1].startswith("Behind the square filters: free of vignetting from 24.4 mm")
    assert not any("inf" in line for line in lines)
    slim = customs("sea-stacks-slim")["polariser"]
    assert "free of vignetting over the whole range, 0.00 stops" in practice_words(slim)[1][0]
    assert math.isfinite(slim.ways[0].corner_stops)


def test_a_polariser_between_two_holders_is_judged_too() -> None:
    book = demo_workbook()
    holder = MountedPart(part="skerry-100", filters=SHEETS)
    for rest in ((), (MountedPart(part="front-ring-105"),)):
        stack = (MountedPart(part="ring-82"), holder, *rest, MountedPart(part="polariser-105"), holder)
        train = book.train("sea-stacks").model_copy(update={"front_stack": stack})
        for one in practices_of(read(train, book.by_id).front, book.by_id):
            assert one.ways[0].stack == stack
            assert [laid.part for laid in one.ways[1].stack].count("skerry-100") == 2
