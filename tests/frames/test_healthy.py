"""Frames of healthy trains accuse no part: uneven lamps, dust, a bias left in, the ordinary falloff of a wide lens."""

import math

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.frames.estimate import Estimate
from farrail.frames.flat import FlatTrouble, read_flat
from farrail.frames.picture import Picture
from farrail.frames.stars import Drawn, StarTrouble, TiltReading, read_stars
from farrail.frames.words import flat_words, stars_words, tilt_words
from farrail.optics.tilt import allowed_tilt_deg
from farrail.readouts.read import read
from farrail.simulated.bench_camera import DARK_E, FULL_E, Truth, bench_stars
from farrail.train.train import with_conditions
from tests.frames.healthy import KINDS, accuses, flat_of, readings, readout_of
from tests.frames.how_often import COUNT
from tests.frames.trails import COLUMNS, HIGH_MM, WIDE_MM, rotated_stars


@pytest.mark.parametrize("kind", [*KINDS, "bias"])
def test_a_healthy_train_is_not_accused(kind: str) -> None:
    """At most one in a hundred; of the mixed kind two. `python -m tests.frames.healthy` takes 300 of each."""
    accused = sum(map(accuses, readings(kind, COUNT, 1)))
    assert accused <= COUNT // 100 * (2 if "," in kind else 1)


def test_a_bias_left_in_is_said_and_how_large_it_is() -> None:
    held = 0
    for seed in range(8):
        bias = np.random.default_rng(seed).uniform(0.02, 0.08)
        reading = read_flat(flat_of("bias", "lantern-apsc", seed), readout_of("lantern-apsc"))
        if bias > 0.04:
            assert reading.bias is not None, seed
            assert any("bias seems not subtracted" in line for line in flat_words(reading))
            held += reading.bias.low <= bias / (1.0 + bias) <= reading.bias.high
    assert held >= 3


@pytest.mark.parametrize("power", [2.5, 4.0, 5.5])
@pytest.mark.parametrize(("name", "focal_mm"), [("brae-held", None), ("sea-stacks-slim", 24.0), ("bulbous", None)])
def test_the_ordinary_falloff_of_a_lens_is_no_part(name: str, focal_mm: float | None, power: float) -> None:
    """A photo of an even wall: the cosine of the field angle to a power, by a formula of its own."""
    workbook = demo_workbook()
    readout = read(with_conditions(workbook.train(name), focal_mm, None), workbook.by_id)
    camera, focal = readout.layout.camera, readout.layout.first_order.focal_length.value
    assert camera is not None
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    x, y = np.meshgrid(((np.arange(192) + 0.5) / 192 - 0.5) * wide, ((np.arange(128) + 0.5) / 128 - 0.5) * high)
    hump = 1.0 + 0.03 * np.exp(-((x - 5.0) ** 2 + (y + 3.0) ** 2) / 288.0)
    cosine = 1.0 / np.hypot(1.0, np.hypot(x, y) / focal)
    noise = np.random.default_rng(7).normal(1.0, 0.004, x.shape)
    plain, uneven = (read_flat(Picture((20_000.0 * cosine**power * lamp * noise).astype(np.float32), 1e9), readout)
                     for lamp in (1.0, hump))  # fmt: skip
    assert plain.trouble is FlatTrouble.ONLY_FALLOFF
    assert uneven.trouble in (FlatTrouble.ONLY_FALLOFF, FlatTrouble.UNEVEN)
    # The corner is the corner's own pixel, not the middle of the cell there.
    corner = -power * math.log2(1.0 / math.hypot(1.0, math.hypot(wide, high) / 2.0 / focal))
    assert plain.corner_stops == pytest.approx(corner, abs=max(0.02, 0.01 * corner))


@pytest.mark.parametrize("seed", range(6))
def test_field_rotation_is_no_wrong_spacing(seed: int) -> None:
    """Trails of 5 to 8 pixels in the corner, about a guide star in the frame, beside it, or in its middle."""
    dice = np.random.default_rng(100 + seed)
    centre = (0.0, 0.0) if seed == 0 else (float(dice.uniform(200, 500)), float(dice.uniform(-450, 450)))
    corner_px = float(dice.uniform(5.0, 8.0))
    reading = read_stars(rotated_stars(centre, corner_px, seed), WIDE_MM, HIGH_MM)
    if reading.trouble is StarTrouble.TRAILED:
        return
    found, pixel_um = reading.rotation, 1000.0 * WIDE_MM / COLUMNS
    assert found is not None
    assert found.corner_um == pytest.approx(corner_px * pixel_um, rel=0.25)
    assert found.about_middle is (seed == 0)
    assert (reading.drawn is Drawn.ROTATED) is (seed != 0)
    # The sensor is seen from behind and upside down: right of the picture is left of it, down is up.
    where = (-centre[0] * pixel_um / 1000.0, centre[1] * pixel_um / 1000.0)
    assert found.centre_mm == pytest.approx(where, abs=1.0)
    assert any("rotation" in line for line in stars_words(reading))


def test_a_spacing_that_is_wrong_by_a_millimetre_is_not_taken_for_rotation() -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("lantern-apsc"), workbook.by_id)
    for spacing in (-1.0, 1.0, 2.0):
        for radial in (True, False):
            truth = Truth(stars=400, spacing_mm=spacing, short_is_radial=radial, seed=int(10 * spacing + 30))
            light = (bench_stars(readout, truth) - DARK_E).astype(np.float32)
            reading = read_stars(Picture(light, FULL_E), 23.5, 15.6)
            assert reading.rotation is None
            assert reading.drawn is (Drawn.RADIAL if (spacing < 0.0) == radial else Drawn.TANGENTIAL)


def test_a_tilt_within_the_depth_of_focus_is_left_alone() -> None:
    """At f/8 a quarter wave allows 4.4·8²·0.55 µm/2 and more over 14.1 mm: 0.05° is left, at f/2 it is not."""
    across = Estimate(20.0, 15.0, 25.0)
    none = Estimate(0.0, -5.0, 5.0)
    tilt = TiltReading(none, across, none, none, Estimate(0.049, 0.03, 0.06), 6)
    slow, fast = allowed_tilt_deg(14.1, 8.0), allowed_tilt_deg(14.1, 2.0)
    assert slow > 0.049 > fast
    assert not any("shim" in line for line in tilt_words(tilt, 60.0, 23.5, 15.7, slow))
    assert any("shim" in line for line in tilt_words(tilt, 60.0, 23.5, 15.7, fast))
    assert tilt.farthest(23.5, 15.7) == (1, 0)
