"""Scales and angles as people say them: one notation once, one unit for both sides of a frame."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.names import angle_names, scale_name
from farrail.readouts.read import read
from farrail.readouts.spacing.verdict import landing
from farrail.workbook.edits.laying import FlipPart


@pytest.mark.parametrize(
    ("magnification", "words"),
    [
        (0.5, "1:2"),
        (1.0, "1:1"),
        (3.0, "3:1"),
        (0.746, "0.746x"),
        (2.685, "2.69x"),
        (1.0 / 20.0, "1:20"),
        (0.0, "infinity"),
    ],
)
def test_a_scale_is_a_whole_ratio_or_a_factor(magnification: float, words: str) -> None:
    assert scale_name(magnification) == words


def test_both_sides_of_a_field_have_one_unit() -> None:
    assert angle_names(2.24, 1.4983) == ("2.24°", "1.50°")
    assert angle_names(1.5, 1.0) == ("90.0′", "60.0′")


def test_a_train_with_joints_apart_would_land_only() -> None:
    demo = demo_workbook()
    apart = FlipPart("lantern-wheel", 1).apply(demo)
    for book, told in (
        (demo, ("in focus, 0.08 short", "")),
        (apart, ("would be in focus, 0.08 short", "2 joints do not mate")),
    ):
        readout = read(book.train("lantern-wheel"), book.by_id)
        joints = sum(joint.mismatch is not None for joint in readout.layout.joints)
        assert landing(readout.verdict, joints) == told
    assert landing(readout.verdict, 1)[1] == "1 joint does not mate"
