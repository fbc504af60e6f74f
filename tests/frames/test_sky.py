"""A photo of clear sky behind a polariser: the band as it is, beside the predicted one."""

import math

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.frames.picture import Picture
from farrail.frames.sky import SkyTrouble, read_sky
from farrail.frames.words import sky_words
from farrail.readouts.front.polarised_sky import polarised_sky_of
from farrail.readouts.read import Readout, read
from farrail.simulated.bench_camera import DARK_E, FULL_E, Truth, bench_sky
from farrail.train.train import Sky, with_conditions


def train(name: str = "sea-stacks", focal_mm: float = 35.0) -> Readout:
    workbook = demo_workbook()
    return read(with_conditions(workbook.train(name), focal_mm, 8.0), workbook.by_id)


def photo(readout: Readout, sky: Sky | None = None) -> Picture:
    light = bench_sky(readout, Truth(sky=sky), 700)
    return Picture(light - np.float32(DARK_E), FULL_E - DARK_E)


@pytest.mark.parametrize("focal", [17.0, 24.0, 35.0])
def test_a_band_as_predicted(focal: float) -> None:
    readout = train(focal_mm=focal)
    reading = read_sky(photo(readout), readout)
    sky = polarised_sky_of(readout.front)
    assert sky is not None
    assert reading.trouble is None
    assert reading.agrees
    assert reading.uneven.low <= reading.predicted_stops <= reading.uneven.high
    assert reading.predicted_stops == pytest.approx(sky.uneven_stops, rel=0.1)
    assert "as predicted" in sky_words(reading)[0]


def test_a_sky_made_by_hand() -> None:
    """Light that halves from the left edge to the right one, with the falloff of cos⁴: one stop."""
    readout = train()
    lever = readout.light.pupil.exit_distance_mm
    x = (np.arange(900) + 0.5) / 900.0
    y = (np.arange(600) + 0.5) / 600.0
    height = np.hypot((x[None, :] - 0.5) * 36.0, (y[:, None] - 0.5) * 24.0)
    light = 20_000.0 * 2.0 ** -x[None, :] * np.cos(np.arctan(height / lever)) ** 4
    reading = read_sky(Picture(light.astype(np.float32), math.inf), readout)
    # The outer cells' middles are half a cell inside: 35 of 36 of the stop.
    assert reading.uneven.value == pytest.approx(35.0 / 36.0, abs=0.02)
    assert reading.darkest_mm == pytest.approx(17.5, abs=0.6)


def test_a_sun_elsewhere_is_told() -> None:
    readout = train(focal_mm=17.0)
    reading = read_sky(photo(readout, Sky(sun_high_deg=20.0, sun_right_deg=40.0)), readout)
    told = " ".join(sky_words(reading))
    assert reading.elsewhere
    assert "the Sun was elsewhere" in told


def test_what_a_sky_cannot_say() -> None:
    workbook = demo_workbook()
    bulbous = read(workbook.train("bulbous"), workbook.by_id)
    assert read_sky(photo(bulbous), bulbous).trouble is SkyTrouble.NO_POLARISER
    readout = train()
    light = photo(readout).light
    assert read_sky(Picture(light, 5_000.0), readout).trouble is SkyTrouble.SATURATED
    black = light.copy()
    black[:, :300] = 0.0
    assert read_sky(Picture(black, math.inf), readout).trouble is SkyTrouble.DARK
