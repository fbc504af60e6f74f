"""Calculators of close-up and exposure."""

import math

from farrail.cli.calc import Answer, Calculation, positive_length
from farrail.errors import BadInput
from farrail.language import say
from farrail.optics import close_up, exposure, focus_stack
from farrail.units import MICROMETRES_PER_MM, mm_to_micrometres


def close_up_lens(
    dioptres: float, distance_mm: float | None, width_mm: float | None, focal_mm: float | None
) -> Calculation:
    """What a close-up lens makes of a field seen at a distance, or of a lens at infinity."""
    far = close_up.through_close_up(math.inf, [(dioptres, 0.0)])
    answers = []
    if distance_mm is not None:
        seen = close_up.through_close_up(distance_mm, [(dioptres, 0.0)])
        text = say("1/d = 1/{distance_mm:g} + {dioptres:g}/1000", distance_mm=distance_mm, dioptres=dioptres)
        answers.append(
            Answer(
                "distance_mm",
                seen.distance_mm,
                "mm",
                say("{text}; d = {distance_mm:.3f}", text=text, distance_mm=seen.distance_mm),
            )
        )
        answers.append(
            Answer(
                "scale",
                1.0 / seen.gain,
                "",
                say(
                    "d/a = {distance_mm:.3f}/{distance_mm_2:g}", distance_mm=seen.distance_mm, distance_mm_2=distance_mm
                ),
            )
        )
        if width_mm is not None:
            positive_length("width", width_mm)
            working = say("{width_mm:g}·{gain:.4f}", width_mm=width_mm, gain=1.0 / seen.gain)
            answers.append(Answer("width_mm", width_mm / seen.gain, "mm", working))
    elif width_mm is not None:
        raise BadInput("A width alone is not enough: add --distance, where the field has that width.")
    answers.append(
        Answer(
            "far_mm",
            far.distance_mm,
            "mm",
            say("1000/D = 1000/{dioptres:g}, the lens set to infinity", dioptres=dioptres),
        )
    )
    if focal_mm is not None:
        m = close_up.magnification_at_infinity(focal_mm, [(dioptres, 0.0)])
        answers.append(
            Answer(
                "far_magnification",
                m,
                "",
                say("f·D/1000 = {focal_mm:g}·{dioptres:g}/1000", focal_mm=focal_mm, dioptres=dioptres),
            )
        )
    return Calculation(tuple(answers), close_up.CLOSE_UP_SOURCE)


def extension(focal_mm: float, extension_mm: float, magnification: float, f_number: float) -> Calculation:
    """What tubes or bellows make of a lens."""
    m = close_up.extended_magnification(focal_mm, extension_mm, magnification)
    if m == 0.0:
        raise BadInput("Without extension and set to infinity there is no magnification; give one of the two.")
    ahead = close_up.subject_distance_mm(focal_mm, m)
    whole = close_up.subject_to_sensor_mm(focal_mm, m)
    effective = close_up.effective_f_number(f_number, m)
    stops = close_up.stops_between(f_number, effective)
    own = close_up.effective_f_number(f_number, magnification)
    return Calculation(
        (
            Answer(
                "magnification",
                m,
                "",
                say(
                    "m0 + ext/f = {magnification:g} + {extension_mm:g}/{focal_mm:g}",
                    magnification=magnification,
                    extension_mm=extension_mm,
                    focal_mm=focal_mm,
                ),
            ),
            Answer(
                "subject_mm", ahead, "mm", say("f(1 + 1/m) = {ahead:.3f}, from the front principal plane", ahead=ahead)
            ),
            Answer(
                "subject_to_sensor_mm", whole, "mm", say("f(2 + m + 1/m) = {whole:.3f}, and the hiatus", whole=whole)
            ),
            Answer(
                "effective_f_number",
                effective,
                "",
                say("N(1 + m) = {f_number:g}·{m:.4f}", f_number=f_number, m=1.0 + m),
            ),
            Answer("light_factor", (1.0 + m) ** 2, "", say("(1 + m)² = {m:.4f}, against infinity", m=(1.0 + m) ** 2)),
            Answer("stops_lost", stops, "stops", say("2·log2(1 + m) = {stops:.4f}, against infinity", stops=stops)),
            Answer(
                "stops_against_bare",
                close_up.stops_between(own, effective),
                "stops",
                say(
                    "2·log2((1 + m)/(1 + m0)), against the bare lens at {magnification:g}", magnification=magnification
                ),
            ),
        ),
        close_up.BELLOWS_SOURCE,
    )


def reversed_lens(focal_mm: float, image_distance_mm: float | None, main_focal_mm: float | None) -> Calculation:
    """What a lens flipped makes, on extension or on the front of another lens."""
    if (image_distance_mm is None) == (main_focal_mm is None):
        raise BadInput("Give --image-distance for a lens on extension, or --on for one on the front of another lens.")
    if main_focal_mm is not None:
        m = close_up.coupled_magnification(main_focal_mm, focal_mm)
        return Calculation(
            (
                Answer(
                    "magnification",
                    m,
                    "",
                    say(
                        "f main / f reversed = {main_focal_mm:g}/{focal_mm:g}",
                        main_focal_mm=main_focal_mm,
                        focal_mm=focal_mm,
                    ),
                ),
                Answer("subject_mm", focal_mm, "mm", say("its own focal length, the main lens set to infinity")),
            ),
            close_up.REVERSED_SOURCE,
        )
    assert image_distance_mm is not None
    m = close_up.reversed_magnification(focal_mm, image_distance_mm)
    ahead = close_up.subject_distance_mm(focal_mm, m)
    return Calculation(
        (
            Answer(
                "magnification",
                m,
                "",
                say(
                    "v/f − 1 = {image_distance_mm:g}/{focal_mm:g} − 1",
                    image_distance_mm=image_distance_mm,
                    focal_mm=focal_mm,
                ),
            ),
            Answer(
                "subject_mm",
                ahead,
                "mm",
                say("f(1 + 1/m) = {ahead:.4f}, from the principal plane toward it", ahead=ahead),
            ),
        ),
        close_up.REVERSED_SOURCE,
    )


def stack_plan(
    depth_mm: float, magnification: float, f_number: float, blur_um: float, overlap_percent: float, interval_s: float
) -> Calculation:
    """How many frames a subject takes, how far apart, and how long that lasts."""
    effective = close_up.effective_f_number(f_number, magnification)
    field = focus_stack.depth_of_field(effective, magnification, blur_um / MICROMETRES_PER_MM)
    plan = focus_stack.focus_stack(depth_mm, field.whole_mm, overlap_percent / 100.0)
    if not (math.isfinite(interval_s) and 0.0 <= interval_s <= 3600.0):
        raise BadInput("An interval of {interval_s:g} s cannot be used; give 0 to 3600 s.", interval_s=interval_s)
    parts = say(
        "{geometric_mm:.4f} mm by blur + {diffraction_mm:.4f} mm by diffraction",
        geometric_mm=field.geometric_mm,
        diffraction_mm=field.diffraction_mm,
    )
    return Calculation(
        (
            Answer(
                "frames",
                float(plan.frames),
                "frames",
                say("⌈(depth − dof)/step⌉ + 1, depth {depth_mm:g} mm", depth_mm=depth_mm),
            ),
            Answer(
                "step_um",
                mm_to_micrometres(plan.step_mm),
                "µm",
                say("dof·(1 − {overlap_percent:g} %)", overlap_percent=overlap_percent),
            ),
            Answer(
                "travel_mm",
                plan.travel_mm,
                "mm",
                say("{frames} × {step_mm:.4f}", frames=plan.frames - 1, step_mm=plan.step_mm),
            ),
            Answer("depth_of_field_um", mm_to_micrometres(field.whole_mm), "µm", parts),
            Answer(
                "effective_f_number",
                effective,
                "",
                say("N(1 + m) = {f_number:g}·{magnification:g}", f_number=f_number, magnification=1.0 + magnification),
            ),
            Answer(
                "time_s",
                plan.time_s(interval_s),
                "s",
                say("{frames} × {interval_s:g} s", frames=plan.frames, interval_s=interval_s),
            ),
        ),
        focus_stack.DEPTH_SOURCE,
    )


def shutter(stops: float, base: str) -> Calculation:
    """How long to expose with filters that take so many stops."""
    given = exposure.parse_time_s(base)
    exact = exposure.exact_time_s(given)
    time_s = exposure.longer_time_s(exact, stops)
    held = say(" by hand (bulb)") if exposure.held_by_hand(time_s) else ""
    as_given = exposure.longer_time_s(given, stops)
    return Calculation(
        (
            Answer(
                "time_s",
                time_s,
                "s",
                say(
                    "{exact:.6g} s·2^{stops:g} = {time_s:.4g} s, shown as {time_words}{held}",
                    exact=exact,
                    stops=stops,
                    time_s=time_s,
                    time_words=exposure.time_words(time_s),
                    held=held,
                ),
            ),
            Answer("base_s", exact, "s", say("{base} means {exact:.6g} s", base=base.strip(), exact=exact)),
            Answer(
                "time_as_written_s",
                as_given,
                "s",
                say("{given:.6g} s·2^{stops:g}, the base taken as written", given=given, stops=stops),
            ),
        ),
        exposure.TIME_SOURCE,
    )


def density(density: float | None, stops: float | None, transmission_percent: float | None) -> Calculation:
    """One of density, stops and transmission as the other two."""
    if [density, stops, transmission_percent].count(None) != 2:
        raise BadInput("Give one of --density, --stops and --transmission.")
    if stops is not None:
        density = exposure.density_of_stops(stops)
    elif transmission_percent is not None:
        density = exposure.density_of_transmission(transmission_percent / 100.0)
    assert density is not None
    told = exposure.stops_of_density(density)
    passed = 100.0 * exposure.transmission_of_density(density)
    return Calculation(
        (
            Answer("stops", told, "stops", say("D/log10 2 = {density:.4g}/0.30103", density=density)),
            Answer("density", density, "", say("−log10 of the transmission")),
            Answer("transmission_percent", passed, "%", say("10^−{density:.4g}", density=density)),
            Answer("factor", 100.0 / passed, "×", say("exposure factor")),
        ),
        exposure.DENSITY_SOURCE,
    )
