"""Which of several trains is better, with intervals: by hand."""

import pytest

from farrail.logbook.compare_words import ability_words
from farrail.logbook.side_by_side import Ability, Better, best_of
from farrail.parts.origin import Origin
from farrail.readouts.figure import Figure
from farrail.readouts.front.figure_texts import FirstClean


def between(value: float, low: float | None = None, high: float | None = None, *, never: bool = False) -> Figure:
    return Figure(FirstClean(0.1, 16.0, 35.0, 0.0, None), value, Origin.ASSUMED, low=low, high=high, or_never=never)


@pytest.mark.parametrize(
    ("better", "figures", "best"),
    [
        (Better.LOWER, (between(1.0, 0.5, 1.3), between(2.0, 1.4, 3.0)), (0,)),
        (Better.LOWER, (between(1.0, 0.5, 1.5), between(2.0, 1.4, 3.0)), ()),
        (Better.LOWER, (between(1.0, 0.5, 0.9, never=True), between(2.0)), ()),
        (Better.HIGHER, (between(1.0, 0.5, 1.3), between(2.0, 1.4, 3.0)), (1,)),
        (Better.NEARER_ZERO, (between(-0.1, -0.3, 0.2), between(0.5, 0.4, 6.0)), (0,)),
        # Less than 0.3 from zero, or more: the other may be nearer.
        (Better.NEARER_ZERO, (between(-0.1, -0.3, 0.2), between(0.5, -0.1, 6.0)), ()),
        (Better.NEITHER, (between(1.0), between(2.0)), ()),
        (Better.LOWER, (between(1.0), between(1.0), between(4.0, 3.0, 5.0)), (0, 1)),
    ],
)
def test_better_is_what_is_better_over_the_whole_interval(
    better: Better, figures: tuple[Figure, ...], best: tuple[int, ...]
) -> None:
    assert best_of([figure.number for figure in figures], better, figures) == best


def test_a_focal_length_that_may_never_be_free_of_vignetting_has_no_end_in_words() -> None:
    words = ability_words(Ability("clean_from_mm", 25.0, None, between(25.0, 24.0, 30.0, never=True)))
    assert words == "Free of vignetting from 25.0 mm (24.0 to 30.0, or never)."
