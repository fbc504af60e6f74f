"""Who is not asked when the part that limits is sought takes nothing, against taking everyone away in turn."""

import numpy as np

from farrail.optics.illumination import relative_to_axis
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.readouts.light.taking import takes_most


def test_the_part_named_is_the_one_whose_removal_brings_most() -> None:
    dice = np.random.default_rng(20261127)
    pupil = Pupil(f_number=6.0, exit_distance_mm=400.0, focal_length_mm=430.0)
    place = np.array([[11.7, 7.8]])
    shadowed = 0
    for _ in range(120):
        count = int(dice.integers(2, 30))
        images = [
            ApertureImage(radius_mm=float(dice.uniform(9.0, 24.0)), distance_mm=float(dice.uniform(10.0, 200.0)))
            for _ in range(count)
        ]
        # Tubes of one bore: the same opening comes twice, of two owners and of one.
        images += [images[0], images[1]]
        owners = [int(dice.integers(0, count)) for _ in images]
        light = float(relative_to_axis(pupil, images, place)[0])
        found = takes_most(pupil, images, owners, place)
        if found is None or light < 0.02:
            continue
        gains = {}
        for owner in set(owners):
            rest = [image for image, whose in zip(images, owners, strict=True) if whose != owner]
            gains[owner] = float(relative_to_axis(pupil, rest, place)[0]) - light
        best = max(gains.values())
        assert gains[owners[found.number]] >= best - 3e-3
        assert abs(found.gain - max(gains[owners[found.number]], 0.0)) < 1e-6
        shadowed += best < 1e-6
    assert shadowed > 3
