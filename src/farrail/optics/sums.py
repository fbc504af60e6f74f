"""Sums a person does at the bench: a reducer in its place, an entrance pupil from what was seen, dust from its ring."""

import math
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.optics.seen import Seen

REDUCER_SOURCE = N_("thin lenses: M = 1 − d/f_r, a = f − d/M, L = d − a·f_r/(a − f_r)")
SEEN_SOURCE = N_("(E + z)·h/f + k·f/2N = r, k 1 where it begins, 0 half, −1 all dark")
DUST_SOURCE = N_("similar triangles: a point in a cone of f/N throws a ring D = x/N")


@dataclass(frozen=True)
class Reduced:
    """A telescope with a thin corrector.

    Attributes:
        magnification: what the corrector does to the focal length.
        focal_mm: the focal length with it.
        f_number: N of the cone that reaches the sensor.
        apart_mm: from the objective to the corrector.
        exit_pupil_mm: from the sensor back to the exit pupil; negative behind the sensor.
    """

    magnification: float
    focal_mm: float
    f_number: float
    apart_mm: float
    exit_pupil_mm: float


_SIDES = {Seen.BEGINS: 1.0, Seen.HALF: 0.0, Seen.DARK: -1.0}


def with_corrector(focal_mm: float, aperture_mm: float, corrector_mm: float, distance_mm: float) -> Reduced:
    """Return what a thin corrector makes of a telescope.

    Args:
        focal_mm: the telescope's own focal length.
        aperture_mm: its aperture.
        corrector_mm: the corrector's focal length: above 0 reduces, below 0 extends.
        distance_mm: from the corrector to the sensor.

    Source: thin lenses in air, the objective as aperture stop.

    Raises:
        BadInput: a length that cannot be, or nothing comes to a focus there.
    """
    _above_zero(say("focal length"), focal_mm)
    _above_zero(say("aperture"), aperture_mm)
    _above_zero(say("distance"), distance_mm)
    if not math.isfinite(corrector_mm) or corrector_mm == 0.0:
        raise BadInput(
            "A corrector of {corrector_mm:g} mm cannot be used; give its focal length, negative for a Barlow.",
            corrector_mm=corrector_mm,
        )
    magnification = 1.0 - distance_mm / corrector_mm
    apart = focal_mm - distance_mm / magnification if magnification > 0.0 else -1.0
    if apart <= 0.0 or apart == corrector_mm:
        raise BadInput(
            "With {distance_mm:g} mm behind a corrector of {corrector_mm:g} mm there is no focus.",
            distance_mm=distance_mm,
            corrector_mm=corrector_mm,
        )
    image = apart * corrector_mm / (apart - corrector_mm)
    focal = focal_mm * magnification
    return Reduced(magnification, focal, focal / aperture_mm, apart, distance_mm - image)


def entrance_pupil_mm(
    focal_mm: float, f_number: float, radius_mm: float, ahead_mm: float, height_mm: float, seen: Seen
) -> float:
    """Return how far behind the seat the entrance pupil is, from where an opening showed in the corner.

    Args:
        focal_mm: the focal length at which it was seen.
        f_number: N then; stopped down it is shown better.
        radius_mm: half the opening's clear diameter.
        ahead_mm: how far ahead of the seat it is.
        height_mm: the image height it was seen at, such as the corner's.
        seen: how much was gone there.

    Source: an opening's rim projected along the field direction on to the pupil, rectilinear.

    Raises:
        BadInput: a value that cannot be.
    """
    for name, value in (
        (say("focal length"), focal_mm),
        (say("f-number"), f_number),
        (say("radius"), radius_mm),
        (say("height"), height_mm),
    ):
        _above_zero(name, value)
    return (radius_mm - _SIDES[seen] * focal_mm / (2.0 * f_number)) * focal_mm / height_mm - ahead_mm


def dust_distance_mm(ring_mm: float, f_number: float) -> float:
    """Return how far before the sensor a mote is whose shadow is a ring of a diameter, glass counted as t/n.

    Args:
        ring_mm: D on the sensor.
        f_number: N of the cone.

    Source: similar triangles.

    Raises:
        BadInput: a value that cannot be.
    """
    _above_zero(say("ring"), ring_mm)
    _above_zero(say("f-number"), f_number)
    return ring_mm * f_number


def _above_zero(name: str, value: float) -> None:
    if not math.isfinite(value) or value <= 0.0:
        raise BadInput("A {name} of {value:g} cannot be used; give one above 0.", name=name, value=value)
