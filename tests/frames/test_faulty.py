"""Openings that are too narrow and off the axis, in flats made ray by ray: found, and held by their intervals."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.frames.flat import read_flat
from farrail.frames.kinds import FrameKind
from farrail.frames.picture import Picture
from farrail.frames.words import flat_words
from farrail.parts.provenance import measured
from farrail.readouts.read import read
from farrail.simulated.bench_frames import bench_frames
from tests.frames.faulty import tries
from tests.frames.healthy import COLUMNS, ROWS
from tests.frames.how_often import COUNT
from tests.frames.rays import ray_flat


@pytest.mark.timeout(300)
def test_a_narrow_opening_is_found_and_no_other_part_is_accused() -> None:
    """`python -m tests.frames.faulty` takes 300; docs/reliability.md has what came of them."""
    tried = list(tries(COUNT, 3))
    assert sum(one.wrong for one in tried) <= max(COUNT // 16, 1)
    assert sum(one.named for one in tried) >= 0.75 * COUNT
    held = [one.holds for one in tried if one.holds]
    for value in range(3):
        assert sum(one[value] for one in held) >= 0.85 * len(held)


def test_a_measured_opening_shows_where_the_exit_pupil_is() -> None:
    """Rays from a pupil that is not where the train says, through a ring measured to be 28 mm wide."""
    workbook = demo_workbook()
    ring = workbook.by_id["ring-48-48"].model_copy(update={"clear_aperture_mm": measured(28.0, 0.02)})
    readout = read(workbook.train("lantern-apsc"), {**workbook.by_id, ring.id: ring})
    light, camera = readout.light, readout.layout.camera
    assert camera is not None
    discs = [
        (one.image.distance_mm, one.image.radius_mm, *one.image.centre_mm) for one in light.imaged
        if one.image.half_height_mm is None and one.image.passes is None
    ]  # fmt: skip
    held = 0
    for seed, true_mm in enumerate((300.0, 420.0, 650.0)):
        made = ray_flat(
            COLUMNS, ROWS, camera.sensor_width_mm.value, n=light.pupil.f_number, pupil_mm=true_mm,
            obstruction=light.pupil.obstruction, discs=discs, falloff=4.0, rays=1200, noise=0.003, seed=seed,
        )  # fmt: skip
        reading = read_flat(Picture(made, 1e9), readout)
        assert reading.exit_mm is not None, (true_mm, reading.explained)
        held += reading.exit_mm.low <= true_mm <= reading.exit_mm.high
        assert reading.exit_mm.value == pytest.approx(true_mm, rel=0.03)
        assert any("the exit pupil is" in line for line in flat_words(reading))
    assert held >= 2
    as_said = ray_flat(
        COLUMNS, ROWS, camera.sensor_width_mm.value, n=light.pupil.f_number, pupil_mm=light.pupil.exit_distance_mm,
        obstruction=light.pupil.obstruction, discs=discs, falloff=4.0, rays=300, noise=0.003, seed=9,
    )  # fmt: skip
    assert read_flat(Picture(as_said, 1e9), readout).exit_mm is None


def test_two_narrow_openings_are_named_together() -> None:
    """Rays through a ring 25.5 mm wide and off to one side, and a spacer 22 mm wide near the sensor."""
    readout = read(demo_workbook().train("lantern-apsc"), demo_workbook().by_id)
    light, camera = readout.light, readout.layout.camera
    assert camera is not None
    wrong = {2: (25.5, 1.2, 0.4), 12: (26.6, -0.9, 0.6)}
    discs = [
        (one.image.distance_mm, wrong[n][0] / 2.0, *wrong[n][1:]) if n in wrong
        else (one.image.distance_mm, one.image.radius_mm, *one.image.centre_mm)
        for n, one in enumerate(light.imaged) if one.image.half_height_mm is None and one.image.passes is None
    ]  # fmt: skip
    made = ray_flat(
        COLUMNS, ROWS, camera.sensor_width_mm.value, n=light.pupil.f_number, pupil_mm=light.pupil.exit_distance_mm,
        obstruction=light.pupil.obstruction, discs=discs, falloff=4.0, rays=900, noise=0.003, seed=2,
    )  # fmt: skip
    reading = read_flat(Picture(made, 1e9), readout)
    names = {n: light.imaged[n].placed.part.name for n in wrong}
    assert reading.together is not None, (reading.explained, reading.trouble)
    assert set(reading.together.names) == set(names.values())
    for name, estimate in zip(reading.together.names, reading.together.clear_mm, strict=True):
        truth = next(wrong[n][0] for n in wrong if names[n] == name)
        assert estimate.value == pytest.approx(truth, abs=0.25)
    assert any("Two together explain it better" in line for line in flat_words(reading))


def test_no_bias_is_claimed_of_frames_that_have_none() -> None:
    """Six frames of the simulated bench camera, its pedestal taken off: a fault each, and no bias."""
    readout = read(demo_workbook().train("lantern-apsc"), demo_workbook().by_id)
    for seed in range(1, 7):
        assert read_flat(bench_frames(readout, FrameKind.FLAT, seed)[0], readout).bias is None, seed
