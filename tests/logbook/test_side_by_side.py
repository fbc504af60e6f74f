"""Which of several trains is better, with intervals: by hand."""

import math
from collections.abc import Callable

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.better import best_of
from farrail.logbook.compare_words import ability_words, deciding_words
from farrail.logbook.side_by_side import Ability, Column, SideBySide
from farrail.parts.kinds.cameras import Camera
from farrail.parts.origin import Origin
from farrail.parts.provenance import measured
from farrail.readouts.figure import Figure
from farrail.readouts.front.figure_texts import FirstClean
from farrail.train.train import MountedPart, Train


def between(value: float, low: float | None = None, high: float | None = None, *, never: bool = False) -> Figure:
    return Figure(FirstClean(0.1, 16.0, 35.0, 0.0, None), value, Origin.ASSUMED, low=low, high=high, or_never=never)


def lower(value: float) -> float:
    return value


def higher(value: float) -> float:
    return -value


@pytest.mark.parametrize(
    ("cost", "figures", "best"),
    [
        (lower, (between(1.0, 0.5, 1.3), between(2.0, 1.4, 3.0)), (0,)),
        (lower, (between(1.0, 0.5, 1.5), between(2.0, 1.4, 3.0)), ()),
        (lower, (between(1.0, 0.5, 0.9, never=True), between(2.0)), ()),
        (higher, (between(1.0, 0.5, 1.3), between(2.0, 1.4, 3.0)), (1,)),
        (abs, (between(-0.1, -0.3, 0.2), between(0.5, 0.4, 6.0)), (0,)),
        # Less than 0.3 from zero, or more: the other may be nearer.
        (abs, (between(-0.1, -0.3, 0.2), between(0.5, -0.1, 6.0)), ()),
        # Zero is within the other's interval, a third of the way along.
        (abs, (between(0.05), between(0.9, -1.0, 1.4)), ()),
        (lower, (between(1.0), between(1.0), between(4.0, 3.0, 5.0)), (0, 1)),
        # What does not matter is alike.
        (lower, (between(1.0), between(1.05)), ()),
        (lower, (between(1.0), between(1.05), between(2.0)), (0, 1)),
        (lower, (between(math.inf), between(0.0)), (1,)),
    ],
)
def test_better_is_what_is_better_over_the_whole_interval(
    cost: Callable[[float], float], figures: tuple[Figure, ...], best: tuple[int, ...]
) -> None:
    assert best_of([figure.number for figure in figures], [cost] * len(figures), figures, 0.1) == best


BOOK = demo_workbook()


def side(*trains: Train) -> SideBySide:
    return SideBySide(tuple(Column(train, BOOK.by_id, train.name) for train in trains))


def best(compared: SideBySide, key: str) -> tuple[int, ...]:
    return next((line.best for line in compared.lines if line.key == key), ())


def longer(train: Train, shim: str) -> Train:
    return train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part=shim))})


def test_two_trains_within_their_tolerance_are_alike() -> None:
    """0.02 long and 0.52 long of ±0.5: one is in. With 0.2 more both are, and fewer parts are all that is better."""
    train = BOOK.train("witch-broom")
    assert best(side(train, longer(train, "shim-0-5")), "spacing.error_mm") == (0,)
    both = side(train, longer(train, "shim-0-2"))
    assert best(both, "spacing.error_mm") == ()
    assert best(both, "parts") == (0,)


def test_fewer_parts_are_no_merit_of_a_train_that_misses() -> None:
    compared = side(BOOK.train("witch-broom"), BOOK.train("witch-broom-short"))
    assert best(compared, "spacing.error_mm") == (0,)
    assert best(compared, "parts") == best(compared, "mass_g") == ()
    assert deciding_words(compared, "AB") == "A is in focus; B is 4.98 mm too short."


def test_a_lens_that_loses_infinity_is_worse_than_one_its_focus_ring_makes_up_for() -> None:
    lens = BOOK.train("sea-stacks-slim")
    camera = BOOK.by_id["skua-full"]
    assert isinstance(camera, Camera)

    def moved(mm: float) -> Column:
        flange = measured(camera.flange_to_sensor_mm.value + mm)
        shelf = {**BOOK.by_id, "skua-full": camera.model_copy(update={"flange_to_sensor_mm": flange})}
        return Column(lens, shelf, f"{mm:+g}")

    assert best(SideBySide((moved(0.10), moved(-0.30))), "spacing.error_mm") == (1,)
    assert best(SideBySide((moved(0.0), moved(-0.30))), "spacing.error_mm") == ()


def test_black_corners_against_clean_ones_are_a_row_and_decide() -> None:
    compared = side(BOOK.train("sea-stacks"), BOOK.train("sea-stacks-slim"))
    assert best(compared, "light.corner_stops") == (1,)
    assert next(line for line in compared.lines if line.key == "light.corner_stops").differs
    assert deciding_words(compared, "AB") == "B is free of vignetting from 17.0 mm, A from 29.1 mm."
    # The stack's depth is one row.
    assert [line.key for line in compared.lines].count("ahead_mm") == 1
    assert "front.depth_mm" not in [line.key for line in compared.lines]


def test_larger_nearer_or_deeper_is_not_better_by_itself() -> None:
    """Close-ups of different size: magnification, distance and depth depend on what one wants."""
    train = BOOK.train("barnacles")
    open_ = train.conditions.model_copy(update={"subject_width_mm": None})
    first = train.model_copy(update={"conditions": open_})
    second = first.model_copy(update={"id": "other", "rear_train": first.rear_train[:1]})
    compared = side(first, second)
    for key in ("closeup.magnification", "closeup.working_distance_mm", "closeup.depth_of_field_mm"):
        assert best(compared, key) == (), key
    wide = compared.columns[1].readout.close_up.field_mm[0]
    wished = [one.model_copy(update={"conditions": one.conditions.model_copy(update={"subject_width_mm": wide})})
              for one in (first, second)]  # fmt: skip
    assert best(side(*wished), "closeup.magnification") == (1,)


def test_an_image_circle_that_is_ample_is_not_better_than_another() -> None:
    train = BOOK.train("sea-stacks-slim")
    optic = BOOK.by_id[train.optic]
    circles = [optic.model_copy(update={"image_circle_mm": measured(mm)}) for mm in (44.0, 60.0, 20.0)]
    columns = [Column(train, {**BOOK.by_id, train.optic: one}, "x") for one in circles]
    assert best(SideBySide(tuple(columns[:2])), "light.image_circle_margin_mm") == ()
    assert best(SideBySide(tuple(columns)), "light.image_circle_margin_mm") == (0, 1)


def test_a_focal_length_that_may_never_be_free_of_vignetting_has_no_end_in_words() -> None:
    words = ability_words(Ability("clean_from_mm", 25.0, None, between(25.0, 24.0, 30.0, never=True)))
    assert words == "Free of vignetting from 25.0 mm (24.0 to 30.0, or never)."
