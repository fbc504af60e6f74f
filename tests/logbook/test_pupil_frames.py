"""Entrance pupils shown by frames: weighed by hand, joined with what darkened corners say, refused where they clash."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.logbook.kinds.front import PupilInFrame
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence, Found, Refused, Why
from farrail.logbook.learning.pupil_frames import joined, learn_pupils_of_frames
from farrail.logbook.observation import Agreement
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.readouts.read import read
from farrail.train.train import with_conditions
from farrail.train.zoom_tables import pupil_depth_at
from farrail.workbook.edits.learnt import TakeOver
from farrail.workbook.edits.log import WriteDown
from farrail.workbook.workbook import Workbook

DAY = "2026-11-20"


def seen(workbook: Workbook, *readings: tuple[float, float, float]) -> Workbook:
    for focal, depth, off in readings:
        values = {"focal_mm": focal, "depth_mm": depth, "off_mm": off}
        workbook = WriteDown(PupilInFrame, "sea-stacks", DAY, values).apply(workbook)
    return workbook


def evidence_of(workbook: Workbook) -> Evidence:
    return Evidence(workbook.log, workbook.states_by_id, workbook.by_id)


def lens_of(workbook: Workbook) -> CameraLens:
    lens = workbook.by_id[workbook.train("sea-stacks").optic]
    assert isinstance(lens, CameraLens)
    return lens


def found(depth: float, off: float, *, focal: float = 20.0, ids: tuple[str, ...] = ("a",)) -> Found:
    return Found("lens", "entrance_pupils", depth, depth - off, depth + off, "mm", ids, focal)


def test_two_frames_at_one_focal_length_are_weighed_by_hand() -> None:
    """30.0 ± 0.2 and 30.6 ± 0.4: weights 4 to 1, so 30.12 ± 0.18 (1/√(1/0.04 + 1/0.16))."""
    workbook = seen(demo_workbook(), (20.0, 30.0, 0.2), (20.0, 30.6, 0.4), (30.0, 26.0, 0.3))
    learnt = list(learn_pupils_of_frames(evidence_of(workbook), lens_of(workbook)))
    first, second = (one for one in learnt if isinstance(one, Found))
    assert (first.focal_mm, second.focal_mm) == (20.0, 30.0)
    assert first.value == pytest.approx(30.12, abs=0.005)
    assert first.off >= 0.17
    assert len(first.seen) == 2


def test_taken_over_it_is_measured_at_that_focal_length_and_interpolated_beside() -> None:
    workbook = seen(demo_workbook(), (22.0, 30.0, 0.2))
    learnt = tuple(
        one for one in learn_pupils_of_frames(evidence_of(workbook), lens_of(workbook)) if isinstance(one, Found)
    )
    lens = lens_of(TakeOver(learnt).apply(workbook))
    at = pupil_depth_at(lens, 22.0)
    assert at.value == pytest.approx(30.0)
    # At the entry itself its assumed neighbour has no say; between them it has.
    assert at.origin is Origin.MEASURED
    assert pupil_depth_at(lens, 21.0).origin is not Origin.MEASURED


def test_it_is_held_against_the_lens_as_it_was() -> None:
    workbook = demo_workbook()
    readout = read(with_conditions(workbook.train("sea-stacks"), 20.0, None), workbook.by_id)
    has = readout.layout.first_order.entrance_pupil.value
    near, far = (
        PupilInFrame(id="x-1", train="sea-stacks", state="s", day=DAY, focal_mm=20.0, depth_mm=depth, off_mm=0.3)
        for depth in (has + 0.2, has + 2.0)
    )
    told = [one.compared(readout) for one in (near, far)]
    assert [one.agreement for one in told if one is not None] == [Agreement.AGREES, Agreement.DIFFERS]
    assert told[1] is not None
    assert told[1].difference == pytest.approx(2.0)


def test_corners_and_frames_are_weighed_or_contradict() -> None:
    """30 ± 1 by eye and 30.5 ± 0.5 by frames: weights 1 to 4, 30.4 ± 0.447."""
    (one,) = joined([found(30.0, 1.0)], [found(30.5, 0.5, focal=20.3, ids=("b",))])
    assert isinstance(one, Found)
    assert one.value == pytest.approx(30.4)
    assert one.off == pytest.approx(0.447, abs=0.001)
    assert one.seen == ("a", "b")
    (two,) = joined([found(30.0, 1.0)], [found(34.0, 0.5, ids=("b",))])
    assert isinstance(two, Refused)
    assert two.why is Why.CONTRADICTORY
    apart = list(joined([found(30.0, 1.0)], [found(34.0, 0.5, focal=28.0)]))
    assert len(apart) == 2


def test_the_train_learns_each_value_once() -> None:
    workbook = seen(demo_workbook(), (27.5, 31.0, 0.3), (20.0, 29.0, 0.2))
    learnt, refused = learn(evidence_of(workbook), workbook.train("sea-stacks"))
    keys = [*(one.key for one in learnt), *(one.key for one in refused)]
    assert len(keys) == len(set(keys))
    assert any("entrance_pupils[20]" in key for key in keys)
