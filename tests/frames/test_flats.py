"""Flats made ray by ray, without the light engine: the aperture found, its width and place within their intervals."""

import math
from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.frames.as_taken import as_taken
from farrail.frames.flat import FlatReading, FlatTrouble, read_flat
from farrail.frames.flat_model import Change
from farrail.frames.picture import Picture
from farrail.frames.words import flat_words
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.readouts.read import Readout, read
from farrail.simulated.bench_camera import DARK_E, FULL_E, Truth, bench_flat
from farrail.train.train import MountedPart, with_conditions
from tests.frames.how_often import COUNT, WANTED
from tests.frames.rays import ray_flat

# Where the tested opening is: the guider's rear and the wheel's front, reduced (by hand: 55 less what is behind).
WHEEL_FRONT_MM = 34.91


@cache
def train(name: str, focal_mm: float | None = None, f_number: float | None = None) -> Readout:
    workbook = demo_workbook()
    return read(with_conditions(workbook.train(name), focal_mm, f_number), workbook.by_id)


def by_rays(wide: float, x: float, y: float, seed: int, *, noise: float = 0.004) -> Picture:
    pupil = train("lantern-apsc").light.pupil
    light = ray_flat(
        96, 64, 23.5, n=pupil.f_number, pupil_mm=pupil.exit_distance_mm, obstruction=pupil.obstruction,
        discs=[(WHEEL_FRONT_MM, wide / 2.0, x, y)], falloff=4.0, rays=400, noise=noise, seed=seed,
    )  # fmt: skip
    return Picture(light, 1e9)


def taken(readout: Readout, truth: Truth, columns: int = 900) -> FlatReading:
    light = bench_flat(readout, truth, columns)
    return read_flat(Picture(light - np.float32(DARK_E), FULL_E - DARK_E), readout)


@pytest.mark.timeout(400)
def test_widths_and_places_lie_within_their_intervals() -> None:
    dice = np.random.default_rng(11)
    inside, right_one, told = np.zeros(3), 0, 0
    for seed in range(COUNT):
        wide, (x, y) = float(dice.uniform(26.0, 30.0)), dice.uniform(-1.5, 1.5, 2)
        found = read_flat(by_rays(wide, x, y, seed), train("lantern-apsc")).explained
        assert found is not None, seed
        if found.change is Change.NOTHING:
            # An opening hardly other than it is placed: the train explains the frame within its noise.
            assert wide > 28.0, seed
            continue
        assert found.change is Change.OPENING, seed
        told += 1
        assert found.imaged is not None
        assert found.value
        assert found.right
        assert found.up
        right_one += abs(found.imaged.image.distance_mm - WHEEL_FRONT_MM) < 0.1
        for n, (estimate, truth) in enumerate(((found.value, wide), (found.right, x), (found.up, y))):
            inside[n] += estimate.low <= truth <= estimate.high
    assert told >= WANTED * COUNT
    assert right_one >= WANTED * told
    assert (inside / told >= WANTED).all(), inside / told


def test_a_flat_of_the_train_as_it_is_laid_agrees() -> None:
    for name in ("lantern-apsc", "witch-broom", "lantern-reversed"):
        reading = taken(train(name), Truth())
        if reading.trouble is None:
            assert reading.explained is not None, name
            assert reading.explained.change is Change.NOTHING, name
            assert flat_words(reading)[0] == "The current train explains it."
        else:
            assert reading.trouble in (FlatTrouble.ONLY_FALLOFF, FlatTrouble.EVEN), name


def test_a_drawer_off_the_axis_is_named_with_what_holds_it() -> None:
    """The filter of the drawer is 1.5 mm right and 0.8 mm down: its corner on that side of the picture darkens."""
    readout = train("witch-broom")
    number = next(n for n, one in enumerate(readout.light.imaged) if one.placed.part.name == "Dual band 36")
    reading = taken(readout, Truth(apertures=((number, 29.0, 1.5, -0.8),)))
    assert reading.explained is not None
    assert reading.explained.right
    assert reading.explained.up
    assert reading.explained.surely_off
    assert reading.explained.right.value == pytest.approx(1.5, abs=0.15)
    assert reading.explained.up.value == pytest.approx(-0.8, abs=0.15)
    told = flat_words(reading)
    assert told[0].startswith("Dual band 36 in Kittiwake drawer explains it: 2")
    assert "down and to the right as seen from behind the camera: is the drawer pushed home" in told[2]
    # What is off to the right lets less through on the left of the sensor, and the picture is upside down.
    assert reading.darkest == (1, -1)


def test_where_two_parts_meet_both_are_named() -> None:
    readout = train("lantern-wheel")
    number = next(
        n for n, one in enumerate(readout.light.imaged)
        if one.placed.part.name == "Seven-slot wheel" and abs(one.image.distance_mm - 35.1) < 0.1
    )  # fmt: skip
    told = flat_words(taken(readout, Truth(apertures=((number, 24.0, 1.2, 0.0),))))
    assert told[0].startswith("Seven-slot wheel or Off-axis guider, where they meet, explains it: 2")


def test_a_wheel_that_stops_askew() -> None:
    readout = train("lantern-apsc")
    number = next(n for n, one in enumerate(readout.light.imaged) if one.placed.part.name == "Luminance 31")
    told = flat_words(taken(readout, Truth(apertures=((number, 29.0, -2.0, 0.0),))))
    assert any("to the left as seen from behind the camera: does the wheel stop" in line for line in told), told


@pytest.mark.parametrize("farther", [2.0, 3.5])
def test_a_prism_that_reaches_in(farther: float) -> None:
    readout = train("lantern-apsc")
    number = next(
        n for n, one in enumerate(readout.light.imaged)
        if isinstance(one.placed.part, OffAxisGuider) and one.image.passes is not None
    )  # fmt: skip
    found = taken(readout, Truth(reaches=((number, farther),))).explained
    assert found is not None
    assert found.change is Change.REACH
    assert found.value is not None
    # Its edge is 12 mm off the axis on the shelf.
    assert found.value.value == pytest.approx(12.0 - farther, abs=0.1)
    assert found.value.off < 0.2


@pytest.mark.parametrize("focal", [20.0, 24.0])
@pytest.mark.parametrize("deeper", [-3.0, 0.0, 2.5])
def test_photos_over_the_zoom_tell_where_the_entrance_pupil_lies(focal: float, deeper: float) -> None:
    readout = train("sea-stacks", focal, 11.0)
    reading = taken(readout, Truth(deeper_mm=deeper))
    has = readout.layout.first_order.entrance_pupil.value
    assert reading.depth is not None
    assert reading.depth.value == pytest.approx(has + deeper, abs=0.15)
    assert reading.explained is not None
    assert reading.explained.change is (Change.DEPTH if deeper else Change.NOTHING)


def test_what_the_corner_loses_to_the_stack_leaves_falloff_out() -> None:
    readout = train("sea-stacks", 28.0, 4.0)
    assert 0.5 < readout.corner_stops < 5.0
    assert taken(readout, Truth()).loss_stops == pytest.approx(readout.corner_stops, abs=0.05)


def test_falloff_alone_names_no_part() -> None:
    reading = taken(train("sea-stacks-slim", 31.0, 11.0), Truth())
    assert reading.trouble is FlatTrouble.ONLY_FALLOFF
    assert reading.explained is None
    assert reading.loss_stops == 0.0


def test_the_exponent_of_the_falloff_is_told_apart() -> None:
    found = taken(train("sea-stacks", 24.0, 11.0), Truth(falloff=3.2)).explained
    assert found is not None
    assert found.falloff is not None
    assert found.falloff.value == pytest.approx(3.2, abs=0.1)


def test_what_a_flat_cannot_say() -> None:
    readout, rows = train("lantern-apsc"), 401
    flat = np.full((rows, 600), 9_000.0, dtype=np.float32)
    dice = np.random.default_rng(1)
    flat += dice.normal(0.0, 60.0, flat.shape).astype(np.float32)
    assert read_flat(Picture(flat, 40_000.0), readout).trouble is FlatTrouble.EVEN
    assert read_flat(Picture(flat, 8_000.0), readout).trouble is FlatTrouble.SATURATED
    assert read_flat(Picture(flat - 9_100.0, 40_000.0), readout).trouble is FlatTrouble.DARK
    holes = flat.copy()
    holes[:, :400] = np.nan
    assert read_flat(Picture(holes, 40_000.0), readout).trouble is FlatTrouble.DARK
    for trouble in FlatTrouble:
        told = flat_words(replace(read_flat(Picture(flat, 40_000.0), readout), trouble=trouble, explained=None))
        assert told[0].endswith(".")


def test_a_frame_that_is_not_of_this_sensor_or_lens_is_refused() -> None:
    workbook, readout = demo_workbook(), train("sea-stacks", 24.0)
    light = bench_flat(readout, Truth(), 300)
    turned = Picture(np.ascontiguousarray(light.T), math.inf, name="upright.tif")
    with pytest.raises(BadInput, match=r"upright\.tif is .* turned by a quarter"):
        as_taken(turned, readout, workbook.by_id)
    cropped = Picture(np.ascontiguousarray(light[:, :220]), math.inf, name="crop.tif")
    with pytest.raises(BadInput, match="cropped or of another camera"):
        as_taken(cropped, readout, workbook.by_id)
    far = Picture(light, math.inf, name="far.tif", focal_mm=85.0)
    with pytest.raises(BadInput, match=r"far\.tif was taken at 85 mm"):
        as_taken(far, readout, workbook.by_id)
    near = as_taken(Picture(light, math.inf, focal_mm=20.0, f_number=8.0), readout, workbook.by_id)
    assert near.layout.train.conditions.focal_mm == 20.0
    assert near.light.pupil.f_number == pytest.approx(8.0, rel=0.02)


def test_a_teleconverter_multiplies_what_the_file_says() -> None:
    """A zoom of 17 to 35 mm behind 1.4×: 49 mm in the file is 35 mm on its ring; without it none."""
    workbook = demo_workbook()
    train_of = workbook.train("sea-stacks")
    longer = train_of.model_copy(update={"rear_train": (MountedPart(part="brae-converter"), *train_of.rear_train)})
    light = bench_flat(train("sea-stacks", 24.0), Truth(), 300)
    picture = Picture(light, math.inf, name="far.tif", focal_mm=49.0)
    told = as_taken(picture, read(longer, workbook.by_id), workbook.by_id)
    assert told.layout.train.conditions.focal_mm == pytest.approx(35.0)
    with pytest.raises(BadInput, match="was taken at 49 mm"):
        as_taken(picture, train("sea-stacks", 24.0), workbook.by_id)
