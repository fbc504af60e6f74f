"""Clear widths shown by flats, applied to parts: flats made ray by ray, read, written down, calibrated, taken back."""

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.kinds.front import ExitPupilInFrame, OpeningInFrame
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Found, Refused, Why
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.origin import Origin
from farrail.workbook.edits.learnt import TakeBack, TakeOver
from farrail.workbook.edits.log import WriteDown
from farrail.workbook.workbook import Workbook
from tests.logbook.test_pupil_frames import evidence_of

TRAIN = "lantern-apsc"


def seen(*readings: tuple[float, float], part: str = "luminance-31", path: str = "clear_aperture_mm") -> Workbook:
    workbook = demo_workbook()
    for width, off in readings:
        values = {"part": part, "path": path, "value_mm": width, "off_mm": off}
        workbook = WriteDown(OpeningInFrame, TRAIN, "2026-11-20", values).apply(workbook)
    return workbook


def calibrated(workbook: Workbook) -> tuple[tuple[Found, ...], tuple[Refused, ...]]:
    found, refused = learn(evidence_of(workbook), workbook.train(TRAIN))
    return (tuple(one for one in found if one.part == "luminance-31"),
            tuple(one for one in refused if one.part == "luminance-31"))  # fmt: skip


def test_two_flats_are_weighed_by_hand_and_applied() -> None:
    """28.8 ± 0.1 and 28.9 ± 0.2: weights 4 to 1, so 28.82 ± 0.09."""
    workbook = seen((28.8, 0.1), (28.9, 0.2))
    (one,), refused = calibrated(workbook)
    assert not refused
    assert one.value == pytest.approx(28.82, abs=0.005)
    assert one.off == pytest.approx(1.0 / np.hypot(1 / 0.1, 1 / 0.2), abs=0.003)
    applied = TakeOver((one,)).apply(workbook)
    part = applied.by_id["luminance-31"]
    assert isinstance(part, RoundFilter)
    width = part.clear_aperture_mm
    assert width is not None
    assert (width.value, width.origin) == (28.82, Origin.MEASURED)
    assert set(getattr(width.in_use, "seen", ())) == set(one.seen)
    back = applied
    for entry in one.seen:
        back = TakeBack(entry).apply(back)
    assert back.by_id["luminance-31"] == workbook.by_id["luminance-31"]


def test_widths_that_contradict_are_not_applied() -> None:
    found, refused = calibrated(seen((28.8, 0.1), (30.5, 0.1)))
    assert not found
    assert [one.why for one in refused] == [Why.CONTRADICTORY]


def test_the_interval_of_three_flats_holds_the_width() -> None:
    dice = np.random.default_rng(5)
    held = 0
    for _ in range(200):
        truth = 29.0
        readings = [(float(dice.normal(truth, 0.1 / 1.96)), 0.1) for _ in range(3)]
        (one,), _ = calibrated(seen(*readings))
        held += one.low <= truth <= one.high
    # 95 % of 200 is 190; fewer than 182 would happen once in 500.
    assert held >= 182


def test_an_exit_pupil_of_a_frame_goes_into_its_corrector() -> None:
    workbook = demo_workbook()
    row = [laid.part for laid in workbook.train(TRAIN).rear_train]
    corrector = next(part for part in row if isinstance(workbook.by_id[part], Corrector))
    values = {"part": corrector, "distance_mm": 420.0, "off_mm": 6.0}
    workbook = WriteDown(ExitPupilInFrame, TRAIN, "2026-11-20", values).apply(workbook)
    found, _ = learn(evidence_of(workbook), workbook.train(TRAIN))
    one = next(item for item in found if item.path == "exit_pupil_distance_mm")
    assert (one.part, round(one.value, 6), round(one.off, 2)) == (corrector, 420.0, 6.0)
    part = TakeOver((one,)).apply(workbook).by_id[corrector]
    assert isinstance(part, Corrector)
    assert part.exit_pupil_distance_mm is not None
    assert (part.exit_pupil_distance_mm.value, part.exit_pupil_distance_mm.origin) == (420.0, Origin.MEASURED)
