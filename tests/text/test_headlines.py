"""The headline of a train is its worst finding, never good news over a stop."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.finding import Severity
from farrail.readouts.headlines import train_headline
from farrail.readouts.read import read

DEMO = demo_workbook()


@pytest.mark.parametrize("train", DEMO.trains, ids=lambda train: str(train.id))
def test_a_stop_is_the_headline(train) -> None:  # type: ignore[no-untyped-def]
    readout = read(train, DEMO.by_id)
    first, _ = train_headline(readout)
    stops = [finding for finding in readout.findings if finding.severity is Severity.STOP]
    assert first == (stops[0].title if stops else readout.verdict.headline)


def test_dark_corners_are_said_before_the_spacing_that_is_right() -> None:
    readout = read(DEMO.train("sea-stacks"), DEMO.by_id)
    assert train_headline(readout)[0] == "Polariser 105 makes the corners black at 20 mm."
    assert readout.verdict.headline == "The sensor is at the lens's flange focal distance."
