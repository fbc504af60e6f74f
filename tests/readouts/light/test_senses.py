"""In which sense apertures turn and pictures are, against rays traced one by one."""

import math

import numpy as np
import pytest

from farrail.parts.in_beam import ApertureRole
from farrail.parts.provenance import measured
from farrail.train.train import MountedPart
from tests.train.gear import drawer, guider, laid, spacer

RAYS = 400_000


def test_what_stands_at_the_top_goes_right_when_turned_clockwise_as_seen_from_behind() -> None:
    readout = laid(MountedPart(part="guider", turned_deg=90.0), MountedPart(part="tube", turned_deg=0.0),
                   parts=(guider(), spacer("tube", 30.0)))  # fmt: skip
    light = readout.light
    prism = next(n for n, placed in enumerate(light.placed) if placed.role is ApertureRole.PRISM)
    x, y = light.images[prism].centre_mm
    # The train turned by 90° before a camera that stays: the prism, 12 + 4 above the axis, is now right of it.
    assert (x, y) == pytest.approx((16.0, 0.0), abs=1e-9)


@pytest.mark.parametrize("turn", [25.0, -25.0])
def test_a_turned_decentred_rectangle_takes_what_rays_say(turn: float) -> None:
    seat = drawer(
        seat_aperture_mm=measured(26.0), seat_aperture_height_mm=measured(17.0), seat_offset_mm=measured(3.0),
        clear_aperture_mm=measured(60.0),
    )  # fmt: skip
    readout = laid(MountedPart(part="drawer", turned_deg=turn), MountedPart(part="tube", turned_deg=0.0),
                   parts=(seat, spacer("tube", 10.0, clear=80.0)))  # fmt: skip
    random = np.random.default_rng(11)
    radius, around = np.sqrt(random.random(RAYS)), random.random(RAYS) * 2.0 * math.pi
    # Pupil of 150 mm, 600 mm before the sensor; the seat 14 + 10 + 20 before it.
    pupil = 75.0 * radius[:, None] * np.stack([np.cos(around), np.sin(around)], axis=1)
    ahead = (20.0 - 6.0) + 10.0 + 20.0
    a = math.radians(turn)
    # Turned clockwise as seen from behind, the part's own right and up point so:
    right, up = np.array([math.cos(a), -math.sin(a)]), np.array([math.sin(a), math.cos(a)])
    for corner, light in zip(
        readout.light.corners, readout.light.light_at(np.array(readout.light.corners)), strict=True
    ):
        crossing = corner + (pupil - corner) * ahead / 600.0
        inside = (np.abs(crossing @ right) <= 13.0) & (np.abs(crossing @ up - 3.0) <= 8.5)
        assert light == pytest.approx(float(inside.mean()), abs=4e-3)


def test_natural_falloff_stands_as_the_picture_does() -> None:
    # The sensor's middle is 6 mm to the right of the axis and 4 above it, seen from behind: the axis is then on the
    # sensor's left and low, and in the picture, turned by half, right and high.
    readout = laid(MountedPart(part="tube"), parts=(spacer("tube", 30.0),), sensor_right_mm=measured(6.0),
                   sensor_up_mm=measured(4.0))  # fmt: skip
    natural = readout.light.natural(60, 40)
    row, column = np.unravel_index(int(natural.argmax()), natural.shape)
    # 6 of 36 mm over 60 columns, 4 of 24 over 40 rows, from the middle.
    assert column == pytest.approx(29.5 + 10.0, abs=0.6)
    assert row == pytest.approx(19.5 - 20.0 / 3.0, abs=0.6)
