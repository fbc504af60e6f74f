"""Flats of trains with one opening too narrow and off the axis, made ray by ray: is it found, how wide is it?

    python -m tests.frames.faulty --times 300 --seed 1

Prints how often the right part is named, alone or among those that meet there, how often another is, and how many of
the 95 % intervals hold the width and the place of its middle.
"""

import argparse
import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from farrail.frames.flat import FlatReading, read_flat
from farrail.frames.flat_model import Change
from farrail.frames.picture import Picture
from farrail.readouts.light.aperture_images import ImagedAperture
from tests.frames.healthy import COLUMNS, ROWS, TRAINS, readout_of
from tests.frames.rays import ray_flat

RAYS, NOISE = 200, 0.004
# What an opening takes of the darkest corner at least, so that it can be seen at all.
LEAST_STOPS = 0.25
SAME_PLACE_MM, LEAST_NARROWER_MM = 1.0, 0.1


@dataclass(frozen=True)
class Fault:
    """An opening as it truly is: its number among the train's, its width and its middle, mm on the part."""

    number: int
    width_mm: float
    right_mm: float
    up_mm: float


@dataclass(frozen=True)
class Tried:
    """A fault, what was said of it, and whether it was named, its width and its place held."""

    fault: Fault
    reading: FlatReading
    named: bool
    wrong: bool
    holds: tuple[bool, ...]


def _round(one: ImagedAperture) -> bool:
    return one.image.half_height_mm is None and one.image.passes is None and not one.image.front


def _flat(name: str, fault: Fault, seed: int) -> np.ndarray:
    readout = readout_of(name)
    light, camera = readout.light, readout.layout.camera
    assert camera is not None
    discs = []
    for number, one in enumerate(light.imaged):
        if not _round(one):
            continue
        if number == fault.number:
            half, right, up = fault.width_mm / 2.0, fault.right_mm, fault.up_mm
            discs.append((one.image.distance_mm, half * one.scale, right * one.scale, up * one.scale))
        else:
            discs.append((one.image.distance_mm, one.image.radius_mm, *one.image.centre_mm))
    covers = [
        (
            one.image.distance_mm,
            one.image.radius_mm,
            one.image.half_height_mm,
            *one.image.centre_mm,
            one.image.angle_rad,
        )
        for one in light.imaged
        if one.image.passes is not None and one.image.half_height_mm is not None and not one.image.front
    ]
    pupil = light.pupil
    return ray_flat(
        COLUMNS, ROWS, camera.sensor_width_mm.value, n=pupil.f_number, pupil_mm=pupil.exit_distance_mm,
        obstruction=pupil.obstruction, discs=discs, falloff=4.0, rays=RAYS, noise=NOISE, seed=seed,
        covers=covers,
    )  # fmt: skip


def _fault(name: str, dice: np.random.Generator) -> Fault:
    """Return a fault that takes at least so much of a corner, by the middle of the corner's bundle behind it."""
    readout = readout_of(name)
    camera, pupil = readout.layout.camera, readout.light.pupil
    assert camera is not None
    corner = math.hypot(camera.sensor_width_mm.value, camera.sensor_height_mm.value) / 2.0
    places = [n for n, one in enumerate(readout.light.imaged) if _round(one)]
    number = int(dice.choice(places))
    one = readout.light.imaged[number]
    share = one.image.distance_mm / pupil.exit_distance_mm
    bundle, middle = share * pupil.exit_distance_mm / (2.0 * pupil.f_number), (1.0 - share) * corner
    half = middle + bundle * float(dice.uniform(-0.5, 0.55))
    # Narrower than it is and than what is in the same place, but no narrower than the light of the picture's middle:
    # such an opening is an aperture of its own, and a flat, which has no scale, looks much as with a wider one.
    as_laid = min(
        other.image.radius_mm for other in readout.light.imaged
        if _round(other) and abs(other.image.distance_mm - one.image.distance_mm) < SAME_PLACE_MM
    )  # fmt: skip
    half = max(min(half, as_laid - LEAST_NARROWER_MM), bundle)
    off, turn = float(dice.uniform(0.0, 1.5)), float(dice.uniform(0.0, 2.0 * math.pi))
    return Fault(number, 2.0 * half / one.scale, off * math.cos(turn), off * math.sin(turn))


def tries(times: int, seed: int) -> Iterator[Tried]:
    """Yield faults that show, with what a flat says of each."""
    dice = np.random.default_rng(seed)
    made = 0
    while made < times:
        name = TRAINS[made % len(TRAINS)]
        fault = _fault(name, dice)
        light = _flat(name, fault, int(dice.integers(1 << 30)))
        corners = [light[:8, :8], light[:8, -8:], light[-8:, :8], light[-8:, -8:]]
        middle = float(light[ROWS // 2 - 4 : ROWS // 2 + 4, COLUMNS // 2 - 4 : COLUMNS // 2 + 4].mean())
        if -math.log2(max(min(float(one.mean()) for one in corners) / middle, 1e-6)) < LEAST_STOPS:
            continue
        made += 1
        readout = readout_of(name)
        reading = read_flat(Picture(light, 1e9), readout)
        yield _judged(fault, reading, readout.light.imaged[fault.number])


def _judged(fault: Fault, reading: FlatReading, truth: ImagedAperture) -> Tried:
    found = reading.explained
    if found is None or found.change is Change.NOTHING or found.imaged is None:
        return Tried(fault, reading, named=False, wrong=False, holds=())
    named = {one.placed.part.id for one in (found.imaged, *found.beside)}
    right = truth.placed.part.id in named
    if not right or found.value is None or found.right is None or found.up is None:
        return Tried(fault, reading, named=right, wrong=not right, holds=())
    held = tuple(
        one.low <= true <= one.high
        for one, true in ((found.value, fault.width_mm), (found.right, fault.right_mm), (found.up, fault.up_mm))
    )
    return Tried(fault, reading, named=True, wrong=False, holds=held)


def main() -> int:
    """Print how often."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--times", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    tried = list(tries(options.times, options.seed))
    held = np.array([one.holds for one in tried if one.holds])
    right, another = sum(one.named for one in tried), sum(one.wrong for one in tried)
    print(f"{len(tried)} faults: right part {right}, another {another}, none {len(tried) - right - another}")
    print(f"of {len(held)} intervals held: width {held[:, 0].sum()}, right {held[:, 1].sum()}, up {held[:, 2].sum()}")
    return 0


if __name__ == "__main__":
    main()
