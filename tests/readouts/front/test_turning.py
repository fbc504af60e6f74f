"""A holder turned twice is turned by the sum."""

import pytest

from farrail.parts.provenance import measured
from farrail.train.train import MountedPart
from tests.readouts.front.test_front import holder, ring, stack


def test_turning_on_adds_to_the_turn_there_is() -> None:
    parts = (
        ring("r", 8.0, 140.0),
        holder("h", 20, 7, 8, window_width_mm=measured(88.0), window_height_mm=measured(84.0)),
    )

    def turned(angle: float):  # type: ignore[no-untyped-def]
        return stack("r", MountedPart(part="h", turned_deg=angle), parts=parts, focal=30.0, f_number=2.8).front

    # 20° on to 20° is 40°, and 20° back from it is none.
    for more in (20.0, -20.0, 55.0):
        assert turned(20.0).turned_stops(more) == pytest.approx(turned(20.0 + more).corner_stops, abs=1e-3)
    assert turned(40.0).corner_stops != pytest.approx(turned(0.0).corner_stops, abs=0.2)
