"""Frames of healthy trains accuse no part: uneven lamps, dust, a bias left in, the ordinary falloff of a wide lens."""

import math

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.frames.flat import FlatTrouble, read_flat
from farrail.frames.picture import Picture
from farrail.frames.words import flat_words
from farrail.readouts.read import read
from farrail.train.train import with_conditions
from tests.frames.healthy import KINDS, accuses, flat_of, readings, readout_of
from tests.frames.how_often import COUNT


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
