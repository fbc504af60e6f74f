"""How much the best next observation narrows a verdict, against trains drawn at random from what is not known."""

import math

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.next_best import CALIPER_OFF_MM, FIGURES, READS, NextBest, _moved, _unsure, next_best
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Quantity, Span
from farrail.parts.registry import Part
from farrail.readouts.read import Readout, read
from farrail.readouts.unknowns import unknowns_of, with_values
from farrail.train.rows import Shelf

BOOK = demo_workbook()
DRAWS = 260


def open_lengths(**spans: tuple[float, float]) -> dict[str, Part]:
    """The demo's parts, some of whose lengths no one has measured."""
    shelf = dict(BOOK.by_id)
    for key, (low, high) in spans.items():
        part = shelf[key.replace("_", "-")]
        shelf[part.id] = part.model_copy(update={"path_length_mm": Quantity(readings=(Span(low=low, high=high),))})
    return shelf


def simulated(train_id: str, shelf: Shelf, best: NextBest) -> float:
    """The share of the figure's spread that stays once the observation is known, from trains drawn at random.

    The figure against the reading is smoothed by a cubic; what is left beside it is what the reading does not say.
    """
    dice = np.random.default_rng(4)
    train, middle = BOOK.train(train_id), read(BOOK.train(train_id), shelf)
    ask = next(figure for key, figure, _ in FIGURES if key == best.open.figure)
    unknown = list(unknowns_of(middle.layout))
    pupils = [one for one in _unsure(middle, shelf) if one.at[0] < 0.0]
    figures, readings = [], []
    for _ in range(DRAWS):
        drawn = {**shelf, **with_values(shelf, {one: one.at(float(dice.random())) for one in unknown})}
        for one in pupils:
            lens = drawn[one.part]
            assert isinstance(lens, CameraLens)
            drawn[one.part] = _moved(lens, float(dice.uniform(*one.at)))
        readout = read(train, drawn)
        figure, reading = ask(readout), reading_of(best, readout, drawn, middle, dice)
        if figure is not None and reading is not None:
            figures.append(figure)
            readings.append(reading)
    f, r = np.array(figures), np.array(readings)
    scaled = (r - r.mean()) / r.std()
    powers = np.stack([scaled**n for n in range(4)], axis=1)
    return float((f - powers @ np.linalg.lstsq(powers, f, rcond=None)[0]).std() / f.std())


def reading_of(
    best: NextBest, readout: Readout, drawn: Shelf, middle: Readout, dice: np.random.Generator
) -> float | None:
    if best.kind:
        _, ask, off = next(row for row in READS if row[0].model_fields["kind"].default == best.kind)
        value = ask(readout)
        return None if value is None else value + float(dice.normal(0.0, off(middle)))
    quantity = getattr(drawn[best.part], best.path)
    return float(quantity.value + dice.uniform(-CALIPER_OFF_MM, CALIPER_OFF_MM))


@pytest.mark.parametrize(
    ("train_id", "spans"),
    [
        ("sea-stacks", {}),
        ("lantern-wheel", {"ring_48_48": (2.0, 3.2), "kittiwake_wheel": (18.4, 18.9)}),
        ("lantern-wheel", {"ring_48_48": (2.3, 2.7), "kittiwake_wheel": (18.0, 19.3)}),
    ],
)
def test_the_gain_is_what_random_trains_show(train_id: str, spans: dict[str, tuple[float, float]]) -> None:
    shelf = open_lengths(**spans)
    found = next_best(BOOK.train(train_id), shelf)
    assert found
    for best in found:
        share = simulated(train_id, shelf, best)
        assert share > 0.0
        assert math.isclose(best.left, share, rel_tol=0.2), (best.open.figure, best.kind, best.path, best.left, share)


def test_a_lens_used_far_away_is_not_measured_close_up_and_no_caliper_measures_light() -> None:
    for train in BOOK.trains:
        readout = read(train, BOOK.by_id)
        for best in next_best(train, BOOK.by_id):
            assert readout.close_up.active or best.kind not in ("working_distance", "field_width")
            assert "pupil" not in best.path
            assert "back_focus" not in best.path
