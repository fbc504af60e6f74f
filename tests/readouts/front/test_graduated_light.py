"""What a graduated filter takes over the picture: rays from every point of the pupil through the sheet, one by one."""

import math

import numpy as np
import pytest

from farrail.optics.exposure import stops_of_density
from farrail.parts.kinds.filters import Gradation
from farrail.parts.provenance import measured, published
from farrail.readouts.front.graduated_light import graduated_map, graduated_stops_at
from farrail.readouts.front.sheets import sheets_in
from farrail.readouts.read import Readout
from farrail.train.train import MountedPart
from tests.readouts.front.test_front import holder, lens, ring, sheet, stack


def graded(run: float, shift: float = 0.0, turned: float = 0.0, focal: float = 24.0, f_number: float = 8.0) -> Readout:
    soft = sheet("g", high=150, gradation=Gradation.SOFT, density=published(0.9), transition_mm=measured(run))
    row = MountedPart(part="h", filters=("g",), shifts_mm=(shift,), turned_deg=turned)
    on = lens(16.0, 70.0, pupil_walk_mm=measured(0.0))
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), soft)
    return stack("r", row, parts=parts, on=on, focal=focal, f_number=f_number)


@pytest.mark.parametrize(("run", "shift", "turned"), [(3.0, 0.0, 0.0), (30.0, 0.0, 0.0), (15.0, 8.0, 0.0),
                                                      (15.0, -6.0, 30.0), (20.0, 5.0, -70.0)])  # fmt: skip
def test_every_ray_through_the_sheet(run: float, shift: float, turned: float) -> None:
    focal, f_number = 24.0, 8.0
    readout = graded(run, shift, turned)
    ahead = sheets_in(readout.front)[0].ahead_mm
    dice = np.random.default_rng(7)
    disc = dice.uniform(-1.0, 1.0, (400_000, 2))
    disc = disc[(disc**2).sum(axis=1) <= 1.0] * focal / f_number / 2.0
    angle = math.radians(turned)
    for right, above in ((0.0, 0.0), (0.0, 9.0), (12.0, -5.0), (-15.0, 11.0)):
        # The ray toward a place of the picture leaves the pupil at the slope of that place.
        hits = disc + ahead * np.array([right, above]) / focal
        # The holder turned clockwise as seen from behind: the sheet's up leans to the right.
        height = hits[:, 0] * math.sin(angle) + hits[:, 1] * math.cos(angle) - shift
        share = np.clip(0.5 + height / run, 0.0, 1.0)
        light = float((10.0 ** (-0.9 * share)).mean())
        found = float(graduated_stops_at(readout.front, np.array([[-right, -above]]))[0])
        assert found == pytest.approx(-math.log2(light), abs=0.02)


def test_the_sky_loses_all_of_it_and_the_ground_nothing() -> None:
    readout = graded(3.0)
    # The picture's top is the sensor's bottom.
    top, bottom = graduated_stops_at(readout.front, np.array([[0.0, -12.0], [0.0, 12.0]]))
    assert float(top) == pytest.approx(stops_of_density(0.9), abs=1e-6)
    assert float(bottom) == pytest.approx(0.0, abs=1e-9)
    # Transmission is apart from vignetting, which it leaves as it is.
    bare = stack("r", MountedPart(part="h", filters=(None,)), parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0)),
                 on=lens(16.0, 70.0, pupil_walk_mm=measured(0.0)), focal=24.0)  # fmt: skip
    points = np.array([[17.0, 11.0], [0.0, 0.0]])
    assert readout.light.light_at(points) == pytest.approx(bare.light.light_at(points), abs=2e-3)
    assert not graduated_stops_at(bare.front, points).any()


def test_the_map_stands_as_the_picture_does() -> None:
    readout = graded(15.0, shift=4.0)
    found = graduated_map(readout.front, 5, 7)
    assert found is not None
    corners = np.array([[18.0, -12.0], [-18.0, 12.0], [0.0, 0.0]])
    upper_left, lower_right, middle = graduated_stops_at(readout.front, corners)
    assert (found[0, 0], found[-1, -1], found[3, 2]) == pytest.approx((upper_left, lower_right, middle))
    bare = stack("r", MountedPart(part="h"), parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0)), focal=24.0)
    assert graduated_map(bare.front, 5, 7) is None


def test_a_reverse_gradation_is_densest_at_its_line() -> None:
    reverse = sheet("g", high=150, gradation=Gradation.REVERSE, density=published(0.9))
    readout = stack(
        "r",
        MountedPart(part="h", filters=("g",)),
        parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), reverse),
        on=lens(16.0, 70.0),
        focal=24.0,
    )
    ground, line, sky = graduated_stops_at(readout.front, np.array([[0.0, 6.0], [0.0, -2.0], [0.0, -12.0]]))
    assert float(ground) < 0.05 < float(sky) < float(line)
