"""Flats of a healthy train whose light or glass is not perfect, made ray by ray: how often a part is accused.

    python -m tests.frames.healthy --times 300 --seed 1

The lamp is uneven by a hump or a gradient, motes lie on the glass, or the bias was not taken off. Prints a line for
each kind: how many name a part, and what the others say.
"""

import argparse
from collections import Counter
from collections.abc import Callable, Iterator
from functools import cache

import numpy as np

from farrail.demo.hallan_skerry import demo_workbook
from farrail.frames.flat import FlatReading, read_flat
from farrail.frames.flat_model import Change
from farrail.frames.picture import Picture
from farrail.readouts.read import Readout, read
from tests.frames.rays import ray_flat

COLUMNS, ROWS, RAYS, NOISE = 192, 128, 300, 0.004
TRAINS = ("lantern-apsc", "witch-broom", "lantern-wheel")
Array = np.ndarray


@cache
def readout_of(name: str) -> Readout:
    workbook = demo_workbook()
    return read(workbook.train(name), workbook.by_id)


@cache
def clean(name: str) -> Array:
    """Return a healthy train's light without noise: its openings as discs, each pixel's rays counted."""
    readout = readout_of(name)
    light, camera = readout.light, readout.layout.camera
    assert camera is not None
    discs = [
        (one.image.distance_mm, one.image.radius_mm, *one.image.centre_mm) for one in light.imaged
        if one.image.half_height_mm is None and one.image.passes is None and not one.image.front
    ]  # fmt: skip
    pupil = light.pupil
    made = ray_flat(
        COLUMNS, ROWS, camera.sensor_width_mm.value, n=pupil.f_number, pupil_mm=pupil.exit_distance_mm,
        obstruction=pupil.obstruction, discs=discs, falloff=4.0, rays=RAYS, noise=0.0, seed=5,
    )  # fmt: skip
    return made.astype(float)


def _grid() -> tuple[Array, Array]:
    """Return places over the frame, −1 to 1 across and as far up."""
    x, y = np.meshgrid(np.linspace(-1.0, 1.0, COLUMNS), np.linspace(-1.0, 1.0, ROWS) * ROWS / COLUMNS)
    return x, y


def hump(dice: np.random.Generator) -> Array:
    """Return an uneven lamp: brighter or darker about some place by 0.5 to 5 %."""
    x, y = _grid()
    at = dice.uniform(-0.7, 0.7, 2)
    wide = dice.uniform(0.5, 1.5)
    size = dice.choice((-1.0, 1.0)) * dice.uniform(0.005, 0.05)
    return np.asarray(1.0 + size * np.exp(-((x - at[0]) ** 2 + (y - at[1]) ** 2) / (2.0 * wide**2)))


def gradient(dice: np.random.Generator) -> Array:
    """Return a lamp brighter on one side by up to 10 %."""
    x, y = _grid()
    turn, size = dice.uniform(0.0, 2.0 * np.pi), dice.uniform(0.005, 0.1)
    return np.asarray(1.0 + size * (x * np.cos(turn) + y * np.sin(turn)))


def motes(dice: np.random.Generator) -> Array:
    """Return 1 to 4 rings of dust, 0.5 to 3 % deep."""
    x, y = _grid()
    light = np.ones_like(x)
    for _ in range(dice.integers(1, 5)):
        far = np.hypot(x - dice.uniform(-0.9, 0.9), y - dice.uniform(-0.6, 0.6))
        wide, hole = dice.uniform(0.03, 0.15), dice.uniform(0.0, 0.4)
        light *= 1.0 - dice.uniform(0.005, 0.03) * ((far < wide) & (far > hole * wide))
    return light


KINDS: dict[str, Callable[[np.random.Generator], Array]] = {
    "nothing": lambda dice: np.ones((ROWS, COLUMNS)),
    "hump": hump,
    "motes": motes,
    "gradient, hump and motes": lambda dice: hump(dice) * gradient(dice) * motes(dice),
}


def flat_of(kind: str, name: str, seed: int) -> Picture:
    """Return a flat of a healthy train; of the kind "bias" a bias of 2 to 8 % of the light was not taken off."""
    dice = np.random.default_rng(seed)
    bias = 20_000.0 * dice.uniform(0.02, 0.08) if kind == "bias" else 0.0
    uneven = KINDS[kind](dice) if kind in KINDS else np.ones((ROWS, COLUMNS))
    light = clean(name) * uneven * dice.normal(1.0, NOISE, (ROWS, COLUMNS)) + bias
    return Picture(light.astype(np.float32), 1e9)


def readings(kind: str, times: int, seed: int) -> Iterator[FlatReading]:
    """Yield what flats of healthy trains say."""
    for number in range(times):
        name = TRAINS[number % len(TRAINS)]
        yield read_flat(flat_of(kind, name, 1000 * seed + number), readout_of(name))


def accuses(reading: FlatReading) -> bool:
    """Whether a part is named that is as it should be."""
    found = reading.explained
    return found is not None and found.change is not Change.NOTHING


def main() -> int:
    """Print how often."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--times", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    for kind in (*KINDS, "bias"):
        said = Counter(
            "accuses" if accuses(one) else str(one.trouble or "explained")
            for one in readings(kind, options.times, options.seed)
        )
        print(f"{kind}: {dict(said)} of {options.times}", flush=True)
    return 0


if __name__ == "__main__":
    main()
