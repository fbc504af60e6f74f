"""The guide star's light: what takes it on its way to an off-axis guider's prism.

The star that lights the prism's middle is judged, as the sensor would see it: its chief ray comes from the exit pupil
and passes the prism's middle (similar triangles). What is ahead of the prism takes its share of that star's bundle.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from farrail.optics.illumination import illumination_at, illumination_of_each
from farrail.parts.in_beam import ApertureRole
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.readouts.light.aperture_images import ImagedAperture
from farrail.train.placed import PlacedAperture
from farrail.units import stops_lost

if TYPE_CHECKING:
    from farrail.readouts.light.model import Light


@dataclass(frozen=True)
class GuideLight:
    """What the guide star of one prism loses.

    Attributes:
        prism: the prism.
        height_mm: how far from the axis its star is, in the plane of the sensor.
        stops: what is lost ahead of the prism.
        tightest: what takes most; None where nothing takes any.
        alone_stops: what that takes alone.
        needed_mm: the clear width it would need.
        has_mm: the clear width it has.
        origin: weakest input.
    """

    prism: PlacedAperture
    height_mm: float
    stops: float
    tightest: PlacedAperture | None
    alone_stops: float
    needed_mm: float
    has_mm: float
    origin: Origin


def guide_needed_mm(light: "Light", distance_mm: float) -> float:
    """Return the clear width the guide stars' light needs at a reduced distance before the sensor; 0 behind a prism."""
    pupil, most = light.pupil, 0.0
    for one in light.imaged:
        if one.placed.role is ApertureRole.PRISM and distance_mm >= one.image.distance_mm:
            most = max(most, _needed_mm(_height_mm(light, one), distance_mm, pupil.exit_distance_mm, pupil.f_number))
    return most


def guide_lights(light: "Light") -> Iterator[GuideLight]:
    """Yield what the guide star of each prism loses to what is ahead of it."""
    pupil = light.pupil
    for prism in light.imaged:
        if prism.placed.role is not ApertureRole.PRISM:
            continue
        ahead = [
            one for one in light.imaged
            if not one.image.front and one.image.passes is None and one.image.distance_mm > prism.image.distance_mm
        ]  # fmt: skip
        height = _height_mm(light, prism)
        if not ahead or not math.isfinite(height):
            continue
        across = np.array(prism.image.centre_mm)
        star = (across / np.linalg.norm(across) * height)[None, :]
        images = [one.image for one in ahead]
        lit = float(illumination_at(pupil, images, star)[0])
        alone = illumination_of_each(pupil, images, star)[0]
        worst = int(np.argmin(alone))
        one = ahead[worst]
        needed = _needed_mm(height, one.image.distance_mm, pupil.exit_distance_mm, pupil.f_number) / one.scale
        yield GuideLight(
            prism.placed, height, stops_lost(lit), one.placed if alone[worst] < 1.0 - 1e-9 else None,
            stops_lost(float(alone[worst])), needed, one.has_mm,
            weakest([prism.placed.diameter.origin, one.placed.diameter.origin]),
        )  # fmt: skip


def _height_mm(light: "Light", prism: ImagedAperture) -> float:
    """Return how far from the axis, in the plane of the sensor, the star of a prism's middle is."""
    share = prism.image.distance_mm / light.pupil.exit_distance_mm
    return math.hypot(*prism.image.centre_mm) / (1.0 - share) if share < 1.0 else math.inf


def _needed_mm(height_mm: float, distance_mm: float, pupil_mm: float, f_number: float) -> float:
    """Return 2h(1 − d/E) + d/N: the width of a bundle and twice how far its middle is from the axis."""
    return 2.0 * height_mm * abs(1.0 - distance_mm / pupil_mm) + distance_mm / f_number
