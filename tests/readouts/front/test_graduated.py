"""Choosing a graduated filter from two meter readings."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.parts.kinds.filters import Gradation
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import assumed
from farrail.readouts.front.graduated import graduated_choice
from farrail.readouts.front.graduated_words import choice_words
from farrail.readouts.front.model import Front
from farrail.readouts.read import read
from farrail.train.train import Conditions, Train

WORKBOOK = demo_workbook()


def front_at(focal_mm: float) -> Front:
    lens = WORKBOOK.by_id["brae-17-35"]
    assert isinstance(lens, CameraLens)
    plain = {"longest_focal_mm": None, "focal_length_mm": assumed(focal_mm), "entrance_pupils": ()}
    shelf = WORKBOOK.by_id | {"lens": lens.model_copy(update={"id": "lens", **plain})}
    train = Train(id="t", name="t", optic="lens", camera="skua-full", conditions=Conditions(f_number=8.0))
    return read(train, shelf).front


def test_strength_is_the_difference_less_the_stop_a_sky_may_keep() -> None:
    # 1/250 stands for 1/256 and 1/30 for 1/32: just three stops.
    choice = graduated_choice(front_at(20.0), 1 / 250, 1 / 30, broken=False)
    assert choice.brighter_stops == pytest.approx(3.0)
    assert choice.strength_stops == 2.0
    assert "use a 2-stop hard-edge graduated ND (0.6)" in choice_words(choice)
    even = graduated_choice(front_at(20.0), 1 / 60, 1 / 60, broken=False)
    assert "no graduated filter is needed" in choice_words(even)
    assert "darker than the ground" in choice_words(graduated_choice(front_at(20.0), 1 / 30, 1 / 250, broken=True))


def test_horizon_and_focal_length_choose_hard_or_soft() -> None:
    """A straight horizon asks for a hard line; on a long lens even a broken one does (common practice, no source)."""

    def kind(focal: float, broken: bool) -> Gradation:
        return graduated_choice(front_at(focal), 1 / 500, 1 / 30, broken=broken).gradation

    assert kind(17.0, broken=False) is Gradation.HARD
    assert kind(17.0, broken=True) is Gradation.SOFT
    assert kind(35.0, broken=True) is Gradation.MEDIUM
    assert kind(200.0, broken=True) is Gradation.HARD
    choice = graduated_choice(front_at(17.0), 1 / 500, 1 / 30, broken=True)
    ahead = 27.0 + 15.0
    assert choice.share == pytest.approx((17.0 * 35.0 / ahead + 17.0**2 / (8.0 * ahead)) / 24.0)


def test_without_a_lens_or_times_it_says_so() -> None:
    telescope = read(WORKBOOK.train("witch-broom"), WORKBOOK.by_id).front
    with pytest.raises(BadInput, match="lacks one of them"):
        graduated_choice(telescope, 0.1, 0.2, broken=False)
    with pytest.raises(BadInput, match="Give both times"):
        graduated_choice(front_at(20.0), 0.0, 0.2, broken=False)
