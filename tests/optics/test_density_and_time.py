"""Density, stops and times: definitions, and the engraved series."""

import math
from collections.abc import Callable

import pytest

from farrail.errors import BadInput
from farrail.optics import exposure


@pytest.mark.parametrize(
    ("density", "stops", "percent"), [(0.3, 1.0, 50.0), (0.9, 2.99, 12.6), (1.8, 5.98, 1.58), (3.0, 9.97, 0.1)]
)
def test_density_stops_and_transmission_interchange(density: float, stops: float, percent: float) -> None:
    assert exposure.stops_of_density(density) == pytest.approx(stops, abs=5e-3)
    assert 100.0 * exposure.transmission_of_density(density) == pytest.approx(percent, rel=5e-3)
    assert exposure.density_of_stops(exposure.stops_of_density(density)) == pytest.approx(density)
    assert exposure.density_of_transmission(10.0**-density) == pytest.approx(density)


def test_the_engraved_series_is_a_third_of_a_stop_apart() -> None:
    """Each engraved time is within a seventh of a stop of its exact power of two, and none is missing."""
    thirds = sorted(exposure.ENGRAVED)
    assert thirds == list(range(thirds[0], thirds[-1] + 1))
    for third, text in exposure.ENGRAVED.items():
        assert abs(math.log2(exposure.parse_time_s(text)) - third / 3.0) < 1.0 / 7.0, text
    whole = [exposure.ENGRAVED[third] for third in range(-30, 16, 3)]
    assert " ".join(whole) == "1/1000 1/500 1/250 1/125 1/60 1/30 1/15 1/8 1/4 0.5 1 2 4 8 15 30"


@pytest.mark.parametrize(
    ("base", "stops", "shown"),
    [("1/60", 10.0, "15 s"), ("1/125", 3.0, "1/15 s"), ("1/4", 10.0, "4 min 16 s"), ("1/30", 6.0, "2 s"),
     ("1", 12.0, "1 h 08 min"), ("2 s", -3.0, "1/4 s"), ("30", 1.0, "1 min 04 s")],
)  # fmt: skip
def test_times_with_filters_are_exact_and_shown_as_engraved(base: str, stops: float, shown: str) -> None:
    exact = exposure.exact_time_s(exposure.parse_time_s(base))
    assert exposure.time_words(exposure.longer_time_s(exact, stops)) == shown


@pytest.mark.parametrize(("engraved", "exact"), [(1 / 60, 1 / 64), (15.0, 16.0), (1 / 125, 1 / 128), (30.0, 32.0)])
def test_engraved_times_stand_for_powers_of_two(engraved: float, exact: float) -> None:
    assert exposure.exact_time_s(engraved) == pytest.approx(exact)


def test_a_time_off_the_series_stays_as_it_is() -> None:
    assert exposure.exact_time_s(7.0) == 7.0
    assert exposure.time_words(1 / 20000) == "1/20000 s"


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("1/60", 1 / 60), ("0,5", 0.5), ('30"', 30.0), ("1 min 30 s", 90.0), ("2min", 120.0), ("1h", 3600)],
)
def test_times_as_people_write_them(text: str, seconds: float) -> None:
    assert exposure.parse_time_s(text) == pytest.approx(seconds)


@pytest.mark.parametrize("text", ["", "0", "1/0", "soon", "1/60 soon", "-3", "90 h", "1 2", "1//2", "nan"])
def test_what_is_no_time_is_told_in_one_sentence(text: str) -> None:
    with pytest.raises(BadInput, match=r"is no time; write 1/60"):
        exposure.parse_time_s(text)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: exposure.stops_of_density(-0.1),
        lambda: exposure.density_of_stops(math.nan),
        lambda: exposure.density_of_transmission(0.0),
        lambda: exposure.density_of_transmission(1.5),
        lambda: exposure.longer_time_s(0.0, 3.0),
        lambda: exposure.longer_time_s(30.0, 16.0),
    ],
)
def test_what_lies_outside_is_told_in_one_sentence(wrong: Callable[[], float]) -> None:
    with pytest.raises(BadInput) as caught:
        wrong()
    assert str(caught.value).endswith(".")
