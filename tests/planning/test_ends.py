"""The table of ends: every row against the readout of its placed train, and against a ruler's facts of the trade."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.planning.ask import answer_at, laid
from farrail.planning.ends import EndsTable, table_of_ends
from farrail.readouts.read import read

WORKBOOK = demo_workbook()
SHELF = WORKBOOK.by_id


def table(lens_id: str) -> EndsTable:
    lens, camera = SHELF[lens_id], SHELF["skua-full"]
    assert isinstance(lens, CameraLens)
    assert isinstance(camera, Camera)
    return table_of_ends(lens, SHELF, camera, 8.0)


@pytest.mark.parametrize("lens_id", ["brae-17-35", "brae-50", "kittiwake-90", "tern-200"])
def test_every_row_laid_says_the_same(lens_id: str) -> None:
    made = table(lens_id)
    assert not made.rows[0].parts
    assert len(made.focal_mm) == (2 if lens_id == "brae-17-35" else 1)
    told = 0
    for row in made.rows:
        for end in row.ends:
            if end is None:
                continue
            close = read(laid(answer_at(end.combination, 1.0), WORKBOOK.train("barnacles")), SHELF).close_up
            assert close.field_mm[0] == pytest.approx(end.width_mm, rel=1e-4)
            assert close.now.distance_mm == pytest.approx(end.from_front_mm, abs=2e-3)
            assert close.subject_to_sensor_mm == pytest.approx(end.from_sensor_mm, abs=0.02)
            assert end.gain == pytest.approx(close.now.magnification / close.bare.magnification, rel=1e-3)
            afar = read(laid(answer_at(end.combination, 0.0), WORKBOOK.train("barnacles")), SHELF).close_up
            if end.far_width_mm is None:
                assert not afar.now.magnification > 1e-4
            else:
                assert afar.field_mm[0] == pytest.approx(end.far_width_mm, rel=1e-4)
                assert afar.now.distance_mm == pytest.approx(end.far_from_front_mm, abs=2e-3)
            told += 1
    assert told >= len(made.rows)


def test_each_tube_close_up_lens_and_stack_at_hand_has_a_row() -> None:
    rows = {frozenset(part.id for part in row.parts) for row in table("brae-50").rows}
    assert {frozenset(), frozenset({"tube-13"}), frozenset({"close-up-4"}), frozenset({"close-up-4", "close-up-2"}),
            frozenset({"tube-13", "tube-21", "tube-35"})} <= rows  # fmt: skip
    assert len(rows) == len(table("brae-50").rows)
    assert not any(SHELF[part].status is Status.WANTED for row in rows for part in row)


def test_a_close_up_lens_on_a_lens_at_infinity_stands_at_its_own_focal_length() -> None:
    # Common practice, no source: +4 dpt at infinity works from 250 mm on; at its nearest the lens comes closer still.
    made = table("brae-50")
    end = next(row.ends[0] for row in made.rows if [p.id for p in row.parts] == ["close-up-4"])
    assert end is not None
    assert 0.0 < end.from_front_mm < 250.0
    widest = [row.ends[0].width_mm for row in made.rows[1:] if row.ends[0] is not None]
    assert widest == sorted(widest, reverse=True)
