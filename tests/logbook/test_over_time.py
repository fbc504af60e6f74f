"""Readings over many evenings: series, the day something moved, residuals, and the guide star's place."""

import math
from collections.abc import Callable

import numpy as np
import pytest
from PySide6.QtWidgets import QApplication

from farrail.demo.hallan_skerry import demo_workbook
from farrail.exchange.frame_entries import fields_of, seen_in
from farrail.frames.kinds import FrameKind
from farrail.frames.look import Looked
from farrail.frames.stars import judge_stars, read_stars
from farrail.logbook.kinds.evening import Change, Moved
from farrail.logbook.kinds.star_frames import GuideStar, TiltByStars
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found, Refused, Why
from farrail.logbook.over_time import leap_of, marks_of, series_of
from farrail.logbook.words import series_words
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.provenance import Quantity
from farrail.readouts.read import read
from farrail.readouts.spacing.guide_star import guide_star_mm
from farrail.ui.window import MainWindow
from farrail.workbook.edits.log import ImportObservations, SetAside, WriteDown
from farrail.workbook.over_time import all_series
from farrail.workbook.workbook import Workbook
from tests.frames.trails import COLUMNS, HIGH_MM, WIDE_MM, rotated_stars

TRAIN = "lantern-wheel"
BOOK = demo_workbook()


def tilted(*rows: tuple[str, float], more: tuple[WriteDown, ...] = ()) -> Workbook:
    edits = [WriteDown(TiltByStars, TRAIN, day, {"tilt_deg": tilt, "off_deg": 0.015}) for day, tilt in rows]
    return ImportObservations((*edits, *more)).apply(BOOK)


def tilt_of(book: Workbook) -> list[float]:
    (one,) = [s for s in series_of(book.log, book.states_by_id, TRAIN, book.by_id) if s.unit == "°"]
    return [reading.value for reading in one.readings]


ROWS = (("2026-09-14", 0.06), ("2026-08-30", 0.05), ("2026-10-11", 0.19), ("2026-10-20", 0.185))


def test_a_series_runs_by_day_and_says_when_it_changed() -> None:
    """By hand: the means are 0.055 and 0.1875, each of two readings of ±0.015: 0.1325 apart, 15 deviations."""
    moved = WriteDown(Moved, TRAIN, "2026-10-04", {"what": Change.CAMERA_OFF})
    book = tilted(*ROWS, more=(moved,))
    assert tilt_of(book) == [0.05, 0.06, 0.19, 0.185]
    (one,) = [s for s in series_of(book.log, book.states_by_id, TRAIN, book.by_id) if s.unit == "°"]
    leap = leap_of(one)
    assert leap is not None
    assert (leap[0].isoformat(), round(leap[1], 4)) == ("2026-10-11", 0.1325)
    assert "From 2026-10-11 on 0.13° more than before" in series_words(one)
    marks = {mark.day.isoformat(): mark.words for mark in marks_of(book.log, book.states_by_id, TRAIN)}
    assert marks["2026-10-04"] == "camera off and on again"


def test_steady_readings_are_seldom_said_to_have_changed() -> None:
    """300 seasons of eight evenings, nothing moved, readings off by up to their ± each: at most 1 % leap."""
    dice = np.random.default_rng(7)
    leaps = 0
    for _ in range(300):
        rows = [(f"2026-09-{10 + n:02d}", 0.3 + 0.015 * float(dice.uniform(-1, 1))) for n in range(8)]
        book = tilted(*rows)
        (one,) = [s for s in series_of(book.log[-8:], book.states_by_id, TRAIN, book.by_id) if s.unit == "°"]
        leaps += leap_of(one) is not None
    assert leaps <= 3


def test_an_evening_set_aside_is_shown_and_does_not_count() -> None:
    book = tilted(*ROWS, ("2026-10-25", 3.0))
    wrong = next(seen.id for seen in book.log if isinstance(seen, TiltByStars) and seen.tilt_deg == 3.0)
    book = SetAside(wrong, aside=True).apply(book)
    (one,) = [s for s in series_of(book.log, book.states_by_id, TRAIN, book.by_id) if s.unit == "°"]
    assert [reading.aside for reading in one.readings] == [False] * 4 + [True]
    assert "1 set aside" in series_words(one)
    assert "3.00°" not in series_words(one)


def test_residuals_are_what_is_left_to_the_calibrated_value() -> None:
    """By hand: log2(14.6/0.02) = 9.512 and log2(28.5/0.04) = 9.477, alike sure: 9.494 ± 0.018."""
    residuals = next(
        s for s in all_series(BOOK, BOOK.train("sea-stacks")) if s.unit == "stops" and "Residuals" in s.name
    )
    assert [one.value for one in residuals.readings] == pytest.approx([0.0175, -0.0175], abs=0.0005)
    assert all(one.predicted == 0.0 for one in residuals.readings)
    metered = series_of(BOOK.log, BOOK.states_by_id, "sea-stacks", BOOK.by_id)
    assert any(s.unit == "stops" and 9.9 < (s.readings[0].predicted or 0.0) < 10.0 for s in metered)


def test_the_window_shows_a_series_and_reads_its_points(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(tilted(*ROWS), train=TRAIN)
    window.stations.show_station("log")
    window.log.show_page(2)
    page = window.log.over_time
    page.work.wait()
    names = [page.chosen.itemText(n) for n in range(page.chosen.count())]
    assert "Tilt of the sensor" in names
    page.chosen.setCurrentIndex(names.index("Tilt of the sensor"))
    page.chosen.activated.emit(page.chosen.currentIndex())
    QApplication.processEvents()
    assert next(one.said for one in page.plot.points()) == "2026-08-30: 0.05°"
    assert [one.at.x() for one in page.plot.points()] == sorted(one.at.x() for one in page.plot.points())
    page.plot.grab()
    assert "4 readings" in page._text.text()
    window.session.show_train("barnacles")
    QApplication.processEvents()
    window.log.over_time.refresh()
    page.work.wait()
    assert page.plot.isHidden()
    assert "two evenings" in page._text.text()


# The guide star


def without(*fields: str) -> Workbook:
    guider = BOOK.by_id["kittiwake-guider"].model_copy(update=dict.fromkeys(fields))
    return BOOK.model_copy(update={"shelf": tuple(guider if one.id == guider.id else one for one in BOOK.shelf)})


def prism_of(book: Workbook) -> tuple[list[Found], list[Refused]]:
    evidence = Evidence.of(book.log, book.states_by_id, book.by_id)
    found, refused = learn(evidence, book.train(TRAIN))
    return ([one for one in found if one.path == "prism_edge_mm"],
            [one for one in refused if one.path == "prism_edge_mm"])  # fmt: skip


def stars_at(*places: tuple[float, float], unknown: tuple[str, ...] = (), off: float = 0.5) -> Workbook:
    edits = [WriteDown(GuideStar, TRAIN, "2026-10-11", {"right_mm": x, "up_mm": y, "off_mm": off}) for x, y in places]
    return ImportObservations(tuple(edits)).apply(without("prism_edge_mm", *unknown))


@pytest.mark.parametrize("seed", range(40))
@pytest.mark.parametrize("measured", [True, False])
def test_the_prism_is_where_the_guide_stars_say(seed: int, measured: bool) -> None:
    """Stars are drawn over the prism, its plane's height found by a line from the exit pupil to the sensor.

    A prism that no one measured is of any usual size and anywhere in its housing.
    """
    dice = np.random.default_rng(seed)
    layout = read(BOOK.train(TRAIN), BOOK.by_id).layout
    pupil = layout.first_order.exit_pupil.value
    placed = next(one for one in layout.rear if isinstance(one.part, OffAxisGuider))
    assert layout.sensor_mm is not None
    assert isinstance(placed.part, OffAxisGuider)
    assert placed.part.prism_at_mm is not None
    middle = placed.part.prism_at_mm.value if measured else float(dice.uniform(4.0, placed.length.value - 4.0))
    high = 8.0 if measured else float(dice.uniform(6.0, 12.0))
    ahead = layout.sensor_mm - placed.on_rail_mm(middle)
    edge = float(dice.uniform(9.0, 16.0))
    places = []
    for _ in range(3):
        height, turn = float(dice.uniform(edge, edge + high)), float(dice.uniform(0.0, 2.0 * math.pi))
        # From the pupil's middle, through the prism, on to the sensor.
        on_sensor = height * pupil / (pupil - ahead)
        off = float(dice.uniform(-0.4, 0.4))
        places.append(((on_sensor + off) * math.cos(turn), (on_sensor + off) * math.sin(turn)))
    unknown = () if measured else ("prism_height_mm", "prism_at_mm")
    (one,), refused = prism_of(stars_at(*places, unknown=unknown))
    assert not refused
    assert one.low <= edge <= one.high
    assert one.high - one.low < (9.1 if measured else 14.0)


def test_guide_stars_that_no_one_prism_takes_are_refused() -> None:
    found, refused = prism_of(stars_at((14.0, 0.0), (0.0, 26.0)))
    assert not found
    assert [one.why for one in refused] == [Why.CONTRADICTORY]


def test_a_prism_that_is_known_closely_is_left_as_it_is() -> None:
    book = ImportObservations((WriteDown(GuideStar, TRAIN, "2026-10-11", {"right_mm": 16.0, "up_mm": 0.0}),)).apply(
        BOOK
    )
    assert prism_of(book) == ([], [])
    (ends,) = guide_star_mm(read(BOOK.train(TRAIN), BOOK.by_id).layout)
    assert ends.low_mm < 16.0 < ends.high_mm
    assert isinstance(getattr(BOOK.by_id["kittiwake-guider"], "prism_edge_mm", None), Quantity)


@pytest.mark.parametrize("centre", [(900.0, 0.0), (-700.0, 500.0), (0.0, -850.0)])
def test_a_rotated_field_proposes_where_the_guide_star_is(centre: tuple[float, float]) -> None:
    """Trails summed from their own arcs; right and down in pixels, so up is less."""
    picture = rotated_stars(centre, 7.0, seed=3)
    reading = read_stars(picture, WIDE_MM, HIGH_MM)
    looked = Looked(FrameKind.STARS, picture, WIDE_MM, HIGH_MM, stars=reading)
    ((kind, values),) = seen_in(looked)
    assert kind is GuideStar
    entry, pixel = fields_of(values), WIDE_MM / COLUMNS
    away = math.hypot(entry["right_mm"] - centre[0] * pixel, entry["up_mm"] + centre[1] * pixel)
    assert away <= 1.25 * entry["off_mm"]
    assert entry["off_mm"] < 2.0
    assert judge_stars(reading.stars, WIDE_MM, HIGH_MM).rotation is not None
