"""Calculators of the bench: stack-up, reducers, pupils from what was seen, openings, glass ahead, dust, sky."""

import math

import numpy as np

from farrail.cli.calc import Answer, Calculation
from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.optics import sums, tolerances
from farrail.optics.focus import farthest_focus_mm
from farrail.optics.illumination import illumination_at, natural_falloff
from farrail.optics.oblique import glass_shortens_mm
from farrail.optics.polarised_sky import SOURCE as SKY_SOURCE
from farrail.optics.polarised_sky import darkest_axis_rad, passed, sight_lines, stops_of, sun_direction
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.optics.seen import Seen
from farrail.units import stops_lost

NEWTON = N_("Newton: x·x' = f²")
OBLIQUE = N_("t·(1 − tan θ'/tan θ), sin θ' = sin θ/n")


def stack_up(each_mm: list[float], error_mm: float | None, allowed_mm: float | None) -> Calculation:
    """How far a stack of parts may be off; with an error and a tolerance, the chance of landing."""
    if not each_mm or any(not math.isfinite(t) or t < 0.0 for t in each_mm):
        raise BadInput("Give each part's tolerance in mm, 0 or more, such as --each 0.05 --each 0.1.")
    worst, likely = tolerances.worst_case_mm(each_mm), tolerances.root_sum_square_mm(each_mm)
    told = " + ".join(say("{t:g}", t=t) for t in each_mm)
    answers = [
        Answer("worst_mm", worst, "mm", say("{told} = {worst:.3f}", told=told, worst=worst)),
        Answer("likely_mm", likely, "mm", say("2·sqrt(Σt²/3) = {likely:.3f}", likely=likely)),
    ]
    if error_mm is not None and allowed_mm is not None:
        chance = tolerances.chance_within(error_mm, (-allowed_mm, allowed_mm), each_mm)
        answers.append(
            Answer(
                "chance",
                chance,
                "",
                say("{error_mm:+g} mm stays within ±{allowed_mm:g} mm", error_mm=error_mm, allowed_mm=allowed_mm),
            )
        )
    return Calculation(tuple(answers), tolerances.SOURCE)


def reducer(focal_mm: float, aperture_mm: float, corrector_mm: float, distance_mm: float) -> Calculation:
    """What a reducer or Barlow makes of a telescope, by where the sensor is."""
    made = sums.with_corrector(focal_mm, aperture_mm, corrector_mm, distance_mm)
    return Calculation(
        (
            Answer(
                "magnification",
                made.magnification,
                "×",
                say("1 − {distance_mm:g}/{corrector_mm:g}", distance_mm=distance_mm, corrector_mm=corrector_mm),
            ),
            Answer(
                "focal_mm",
                made.focal_mm,
                "mm",
                say("{focal_mm:g}·{magnification:.5f}", focal_mm=focal_mm, magnification=made.magnification),
            ),
            Answer(
                "f_number",
                made.f_number,
                "",
                say("{focal_mm:.2f}/{aperture_mm:g}", focal_mm=made.focal_mm, aperture_mm=aperture_mm),
            ),
            Answer(
                "apart_mm",
                made.apart_mm,
                "mm",
                say(
                    "{focal_mm:g} − {distance_mm:g}/{magnification:.5f}",
                    focal_mm=focal_mm,
                    distance_mm=distance_mm,
                    magnification=made.magnification,
                ),
            ),
            Answer("exit_pupil_mm", made.exit_pupil_mm, "mm", say("image of the objective, from the sensor back")),
        ),
        sums.REDUCER_SOURCE,
    )


def far_focus(focal_mm: float, long_mm: float) -> Calculation:
    """How far away a lens still focuses when its sensor is too far behind it."""
    if not focal_mm > 0.0:
        raise BadInput("A focal length of {focal_mm:g} mm cannot be used; give one above 0.", focal_mm=focal_mm)
    far = farthest_focus_mm(focal_mm, long_mm)
    return Calculation(
        (Answer("farthest_mm", far, "mm", say("{focal_mm:g}²/{long_mm:g}", focal_mm=focal_mm, long_mm=long_mm)),),
        NEWTON,
    )


def entrance_pupil(
    focal_mm: float, f_number: float, clear_mm: float, ahead_mm: float, height_mm: float, seen: Seen
) -> Calculation:
    """Where an entrance pupil is, from the focal length at which an opening showed in the corner."""
    depth = sums.entrance_pupil_mm(focal_mm, f_number, clear_mm / 2.0, ahead_mm, height_mm, seen)
    told = say(
        "opening {clear_mm:g} mm wide, {ahead_mm:g} mm ahead of the seat, h {height_mm:g} mm: {depth:.2f}",
        clear_mm=clear_mm,
        ahead_mm=ahead_mm,
        height_mm=height_mm,
        depth=depth,
    )
    return Calculation((Answer("depth_mm", depth, "mm", told),), sums.SEEN_SOURCE)


def opening(
    f_number: float, exit_mm: float | None, clear_mm: float, distance_mm: float, height_mm: float
) -> Calculation:
    """What a round opening ahead of the sensor leaves at an image height."""
    pupil = Pupil(f_number, math.inf if exit_mm is None else exit_mm, 100.0)
    if not clear_mm > 0.0 or not distance_mm > 0.0 or not height_mm >= 0.0:
        raise BadInput("Give a clear diameter and a distance above 0, and a height of 0 or more.")
    image = ApertureImage(clear_mm / 2.0, distance_mm)
    ri = float(illumination_at(pupil, [image], np.array([[height_mm, 0.0]]))[0])
    natural = float(natural_falloff(pupil.exit_distance_mm, np.array([height_mm]))[0])
    return Calculation(
        (
            Answer(
                "illumination", ri, "", say("open share of the pupil seen from h {height_mm:g} mm", height_mm=height_mm)
            ),
            Answer("lost_stops", stops_lost(ri), "stops", say("−log2 {ri:.4f}", ri=ri)),
            Answer("natural", natural, "", say("cos⁴ θ', tan θ' = h/L, for itself")),
        ),
        say("area of the pupil ∩ opening over area of the pupil"),
    )


def glass_ahead(thickness_mm: float, index: float, angle_deg: float) -> Calculation:
    """How much glass ahead of a lens shortens the way to the pupil for a ray at an angle."""
    if not thickness_mm > 0.0 or not index > 1.0 or not 0.0 <= angle_deg < 90.0:
        raise BadInput("Give a thickness above 0, an index above 1 and an angle of 0 to 90°.")
    found = float(glass_shortens_mm(np.array([math.radians(angle_deg)]), thickness_mm, index)[0])
    return Calculation(
        (
            Answer(
                "shorter_mm",
                found,
                "mm",
                say(
                    "{thickness_mm:g} mm, n {index:g}, {angle_deg:g}°",
                    thickness_mm=thickness_mm,
                    index=index,
                    angle_deg=angle_deg,
                ),
            ),
        ),
        OBLIQUE,
    )


def dust(ring_mm: float, f_number: float) -> Calculation:
    """How far before the sensor a mote is, from the ring it throws."""
    far = sums.dust_distance_mm(ring_mm, f_number)
    told = say("{ring_mm:g}·{f_number:g}, glass between counted as t/n", ring_mm=ring_mm, f_number=f_number)
    return Calculation((Answer("distance_mm", far, "mm", told),), sums.DUST_SOURCE)


def sky(width_mm: float, focal_mm: float, sun_high_deg: float, sun_right_deg: float, most: float) -> Calculation:
    """How much a polariser set darkest in the middle takes across a level frame of clear sky."""
    if not width_mm > 0.0 or not focal_mm > 0.0 or not 0.0 <= most <= 1.0:
        raise BadInput("Give a width and a focal length above 0, and a polarised share of 0 to 1.")
    sun = sun_direction(sun_high_deg, sun_right_deg)
    across = np.array([-0.5, -0.25, 0.0, 0.25, 0.5]) * width_mm
    sight = sight_lines(across, np.zeros(5), focal_mm, "rectilinear")
    lost = stops_of(passed(sight, sun, most, darkest_axis_rad(sun)))
    names = ("left", "left_quarter", "middle", "right_quarter", "right")
    uneven = float(lost.max() - lost.min())
    told = tuple(
        Answer(f"{name}_stops", float(value), "stops", say("at {x:+.1f} mm", x=x))
        for name, value, x in zip(names, lost, across, strict=True)
    )
    return Calculation(
        (Answer("uneven_stops", uneven, "stops", say("most less least across the frame")), *told), SKY_SOURCE
    )
