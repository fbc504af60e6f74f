"""Sums and differences of quantities, by hand."""

import pytest

from farrail.parts.connections import Gender, default_clear_diameter_mm, thread
from farrail.parts.glass import Plate, PrintedShift
from farrail.parts.origin import Origin
from farrail.parts.provenance import less, measured, published, unknown


def test_tolerances_add_in_a_difference() -> None:
    left = less(published(10.0, 0.1), measured(3.0, 0.2))
    assert (left.value, left.origin) == (7.0, Origin.PUBLISHED)
    assert left.tolerance == pytest.approx(0.3)


def test_a_difference_of_spans_runs_from_its_least_to_its_most() -> None:
    left = less(unknown(9.0, 11.0), unknown(2.0, 4.0))
    # 9 less 4, and 11 less 2.
    assert (left.low, left.high) == (5.0, 9.0)
    one_sided = less(unknown(9.0, 11.0), measured(2.0))
    assert (one_sided.low, one_sided.high) == (7.0, 9.0)
    assert less(measured(3.0), unknown(1.0, 5.0)).low == 0.0  # no length is below nothing


def test_a_printed_shift_has_the_tolerance_it_is_printed_with() -> None:
    assert PrintedShift(focus_shift_mm=published(0.7, 0.05)).tolerance_mm == 0.05
    # Of a plate ±0.15 mm thick a third goes into the shift: t(1 − 1/n), n 1.5.
    plate = Plate(thickness_mm=published(3.0, 0.15), index=published(1.5))
    assert plate.tolerance_mm == pytest.approx(0.05)


def test_the_wall_an_external_thread_leaves_is_taken_off_twice() -> None:
    # ISO 68-1, from memory: root of the external thread d − 1.2269 P; a wall of 0.75 mm each side (common practice).
    assert default_clear_diameter_mm(thread(42.0, 0.75, Gender.EXTERNAL)) == pytest.approx(42.0 - 0.920175 - 1.5)
    # An internal one is open to its minor diameter, d − 1.0825 P.
    assert default_clear_diameter_mm(thread(42.0, 0.75, Gender.INTERNAL)) == pytest.approx(42.0 - 0.811875)
