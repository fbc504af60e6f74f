"""A lens known from its data sheet only, on tubes: its true figures are inside every interval shown."""

import math
import os

import numpy as np
import pytest

from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.lens_defaults import pupil_ratio_default
from farrail.parts.provenance import measured, published, unknown
from farrail.readouts.ranges import MAIN, Spread, ranges_of
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Train
from tests.readouts.not_entered.two_groups import FLANGE_MM, Lens, random_lens

MOUNT = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)
BODY, REAR = (Connection(standard=MOUNT, gender=gender) for gender in (Gender.INTERNAL, Gender.EXTERNAL))
DIAGONAL_MM = math.hypot(36.0, 24.0)
TUBES_MM = (12.0, 25.0, 45.0)
CAMERA = Camera(
    id="camera", name="camera", outer_diameter_mm=90, front=BODY, flange_to_sensor_mm=measured(FLANGE_MM),
    sensor_width_mm=measured(36.0), sensor_height_mm=measured(24.0),
)  # fmt: skip


def is_usual(lens: Lens) -> bool:
    """Whether the values of a lens are inside the default intervals of the program."""
    focal = lens.far.focal
    ratio = pupil_ratio_default(focal, DIAGONAL_MM)
    barrel = lens.near.thread - FLANGE_MM
    return (
        ratio.low <= lens.far.pupil_ratio <= ratio.high
        and ratio.low <= lens.near.pupil_ratio <= ratio.high
        and -30.0 <= lens.near.hiatus <= 110.0
        and 0.1 * focal <= lens.near.focal <= 1.02 * focal
        and 0.5 * focal <= barrel <= 2.0 * focal
        and lens.near.effective_f_number > 0.0
        and -500.0 < lens.entrance_depth_mm < 500.0
    )


def told_of(lens: Lens, tube_mm: float) -> tuple[dict[str, Spread], Readout]:
    """Return the program's figures for a lens on a tube, from its data sheet."""
    part = CameraLens(
        id="lens", name="lens", outer_diameter_mm=80, front=thread(67, 0.75, Gender.INTERNAL), rear=REAR,
        focal_length_mm=published(lens.far.focal), f_number=published(lens.f_number),
        flange_focal_distance_mm=published(FLANGE_MM), entrance_pupil_depth_mm=measured(lens.entrance_depth_mm),
        nearest_mm=published(lens.closest_mm), nearest_magnification=published(lens.near.magnification()),
    )  # fmt: skip
    tube = ExtensionTube(
        id="tube", name="tube", outer_diameter_mm=62, front=BODY, rear=REAR, path_length_mm=measured(tube_mm)
    )
    shelf = {one.id: one for one in (part, tube, CAMERA)}
    train = Train(id="t", name="t", optic="lens", rear_train=(MountedPart(part="tube"),), camera="camera")
    spreads = ranges_of(train, shelf, {"close_up": MAIN["close_up"]})
    return spreads, read(train, shelf)


@pytest.mark.parametrize("seed", [20261130])
def test_what_random_lenses_truly_do_is_within_what_is_told(seed: int) -> None:
    """Size, distance and light at closest focus behind tubes, by ray matrices; FAR_RAIL_RUNS lenses, else 24."""
    dice, wanted, tried = np.random.default_rng(seed), int(os.environ.get("FAR_RAIL_RUNS", "24")), 0
    outside: list[str] = []
    while tried < wanted:
        lens = random_lens(dice)
        if lens is None or not is_usual(lens):
            continue
        tried += 1
        tube_mm = TUBES_MM[tried % len(TUBES_MM)]
        true = lens.near.extended(tube_mm)
        distance = true.object_mm() - (true.thread - true.front)
        if true.object_mm() <= 0.0 or distance <= 0.0:
            continue
        told, readout = told_of(lens, tube_mm)
        truth = {
            "closeup.magnification": true.magnification(),
            "closeup.working_distance_mm": distance,
            "closeup.effective_f_number": true.effective_f_number,
        }
        for key, value in truth.items():
            spread = told[key]
            if not spread.low * (1.0 - 1e-6) - 1e-6 <= value <= spread.high * (1.0 + 1e-6) + 1e-6:
                outside.append(f"{lens.far.focal:.0f} mm, {tube_mm:g}: {key} {value:.4f} not in {spread.low:.4f} to "
                               f"{spread.high:.4f}")  # fmt: skip
        # A lens on a tube magnifies more at its closest focus than at infinity.
        if readout.close_up.near.focused:
            assert readout.close_up.near.magnification > readout.close_up.far.magnification
    assert outside == []


def test_an_extreme_between_the_ends_of_an_interval_is_found() -> None:
    """Least light loss of a macro lens on a tube: at a magnification inside its interval, by brute force.

    f_near = (D − H)/(2 + m + 1/m), at most 1.02 f (models.md 11); stops = 2 log2(1 + m + e/f_near), pupil
    magnification 1.
    """
    focal, closest, tube = 90.0, 300.0, 33.0
    part = CameraLens(
        id="lens", name="lens", outer_diameter_mm=80, front=thread(67, 0.75, Gender.INTERNAL), rear=REAR,
        focal_length_mm=published(focal), f_number=published(2.8), flange_focal_distance_mm=published(FLANGE_MM),
        entrance_pupil_depth_mm=measured(30.0), pupil_ratio=measured(1.0), nearest_mm=published(closest),
        nearest_magnification=unknown(0.27, 1.0),
    )  # fmt: skip
    ring = ExtensionTube(id="tube", name="tube", outer_diameter_mm=62, front=BODY, rear=REAR,
                         path_length_mm=measured(tube))  # fmt: skip
    train = Train(id="t", name="t", optic="lens", rear_train=(MountedPart(part="tube"),), camera="camera")
    spread = ranges_of(train, {one.id: one for one in (part, ring, CAMERA)})["exposure.total_stops"]
    m, hiatus = np.meshgrid(np.linspace(0.27, 1.0, 400), np.linspace(-30.0, 110.0, 400))
    near = np.minimum((closest - hiatus) / (2.0 + m + 1.0 / m), 1.02 * focal)
    stops = 2.0 * np.log2(1.0 + m + tube / near)
    inside = np.unravel_index(np.argmin(stops), stops.shape)[1]
    assert 0 < inside < 399
    # Shown to a tenth of a stop; the search may stop short of the crest where f_near reaches its limit.
    assert spread.low == pytest.approx(float(stops.min()), abs=0.01)
    assert spread.high == pytest.approx(float(stops.max()), abs=0.01)
