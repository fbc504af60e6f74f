"""Calculators of field, tilt, passband, plates and front openings."""

import math

import numpy as np

from farrail.cli.calc import Answer, Calculation
from farrail.errors import BadInput
from farrail.language import say
from farrail.optics import field, passband, plates, tilt
from farrail.optics.focus import depth_of_focus_mm
from farrail.optics.illumination import illumination_at, onset_height_mm
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.units import MICROMETRES_PER_MM, mm_to_micrometres, stops_lost


def image_circle(width_mm: float, height_mm: float, diameter_mm: float) -> Calculation:
    """What of a frame an image circle covers."""
    covered = 100.0 * field.covered_fraction(width_mm, height_mm, diameter_mm)
    inside = field.rectangle_in_circle_mm(width_mm, height_mm, diameter_mm)
    diagonal = (width_mm**2 + height_mm**2) ** 0.5
    return Calculation(
        (
            Answer(
                "covered_percent",
                covered,
                "%",
                say(
                    "area of {width_mm:g} × {height_mm:g} inside ⌀ {diameter_mm:g}",
                    width_mm=width_mm,
                    height_mm=height_mm,
                    diameter_mm=diameter_mm,
                ),
            ),
            Answer(
                "margin_mm",
                diameter_mm - diagonal,
                "mm",
                say("{diameter_mm:g} − {diagonal:.3f}", diameter_mm=diameter_mm, diagonal=diagonal),
            ),
            Answer("inscribed_width_mm", inside[0], "mm", say("sensor × circle / diagonal, at most the sensor")),
            Answer("inscribed_height_mm", inside[1], "mm", "likewise"),
        ),
        field.CIRCLE_SOURCE,
    )


def field_of_view(width_mm: float, height_mm: float, focal_mm: float, pixel_um: float | None) -> Calculation:
    """What a frame covers of the sky, and how fine its pixels are."""
    sides = (("width", width_mm), ("height", height_mm), ("diagonal", (width_mm**2 + height_mm**2) ** 0.5))
    answers = []
    for name, side in sides:
        angle = field.angle_of_view_deg(side, focal_mm)
        answers.append(
            Answer(
                f"{name}_deg",
                angle,
                "°",
                say(
                    "2·atan({side:.4g}/(2·{focal_mm:g})) = {angle:.2f}′", side=side, focal_mm=focal_mm, angle=angle * 60
                ),
            )
        )
    if pixel_um is not None:
        scale = field.pixel_scale_arcsec(pixel_um / MICROMETRES_PER_MM, focal_mm)
        answers.append(
            Answer(
                "pixel_arcsec",
                scale,
                "″",
                say("206.265·{pixel_um:g}/{focal_mm:g}", pixel_um=pixel_um, focal_mm=focal_mm),
            )
        )
    return Calculation(tuple(answers), field.FIELD_SOURCE)


def tilt_budget(half_diagonal_mm: float, f_number: float, pixel_um: float | None, flange_mm: float) -> Calculation:
    """How far a sensor may be tilted."""
    by_wave = tilt.allowed_tilt_deg(half_diagonal_mm, f_number)
    reach = depth_of_focus_mm(f_number)
    answers = [
        Answer(
            "allowed_deg",
            by_wave,
            "°",
            say(
                "atan(2λN²/h) = atan({reach:.5f}/{half_diagonal_mm:g})", reach=reach, half_diagonal_mm=half_diagonal_mm
            ),
        ),
        Answer(
            "shim_mm",
            tilt.shim_across_mm(flange_mm, by_wave),
            "mm",
            say("{flange_mm:g}·tan {by_wave:.4f}°", flange_mm=flange_mm, by_wave=by_wave),
        ),
    ]
    if pixel_um is not None:
        by_pixel = tilt.allowed_tilt_deg(half_diagonal_mm, f_number, pixel_um / MICROMETRES_PER_MM)
        answers.append(
            Answer(
                "pixel_deg",
                by_pixel,
                "°",
                say("atan(N·p/h) = atan({f_number:g}·{pixel_um:g} µm/h)", f_number=f_number, pixel_um=pixel_um),
            )
        )
    return Calculation(tuple(answers), tilt.SOURCE)


def passband_shift(
    line_nm: float, index: float, f_number: float, width_nm: float | None, obstruction: float
) -> Calculation:  # fmt: skip
    """What a cone does to a narrow passband."""
    edge = passband.edge_shift_nm(line_nm, index, f_number)
    mean = passband.mean_shift_nm(line_nm, index, f_number, obstruction)
    answers = [
        Answer(
            "mean_shift_nm",
            mean,
            "nm",
            say("over the pupil's area, obstruction {obstruction:g}", obstruction=obstruction),
        ),
        Answer(
            "edge_shift_nm",
            edge,
            "nm",
            say("λ0·(1 − sqrt(1 − (sin u/{index:g})²)), tan u = 1/(2·{f_number:g})", index=index, f_number=f_number),
        ),
    ]
    if width_nm is not None:
        for band in ("flat-top", "gaussian"):
            share = 100.0 * passband.line_transmission(
                line_nm, line_nm, width_nm, index, f_number, obstruction=obstruction, band=band,
            )  # fmt: skip
            answers.append(
                Answer(
                    f"{band}_percent",
                    share,
                    "%",
                    say("share of the line passed at {width_nm:g} nm width", width_nm=width_nm),
                )
            )
    return Calculation(tuple(answers), passband.SOURCE)


def plate_aberration(thickness_mm: float, index: float, f_number: float) -> Calculation:
    """What a plate adds of spherical aberration, and what can be refocused away."""
    exact = mm_to_micrometres(plates.spherical_aberration_mm(thickness_mm, index, f_number))
    third = mm_to_micrometres(thickness_mm * (index**2 - 1.0) / (8.0 * index**3 * f_number**2))
    limit = mm_to_micrometres(plates.tolerable_aberration_mm(f_number))
    return Calculation(
        (
            Answer("exact_um", exact, "µm", say("edge ray's shift − paraxial shift")),
            Answer("third_order_um", third, "µm", "t(n² − 1)/(8n³N²)"),
            Answer("tolerable_um", limit, "µm", say("16λN², λ 550 nm")),
        ),
        plates.SOURCE,
    )


def front_corner(
    focal_mm: float, f_number: float, pupil_depth_mm: float, discs: list[str], height_mm: float
) -> Calculation:  # fmt: skip
    """What round openings ahead of a lens leave of the light at an image height.

    Raises:
        BadInput: an opening that is not written as diameter@distance, or a number that cannot be used.
    """
    if not discs:
        raise BadInput("Give at least one --disc, written as diameter@distance ahead of the thread seat, such as 74@8.")
    if not (0.0 < focal_mm <= 1e5 and 0.0 <= height_mm <= 1e4):
        raise BadInput("Give a focal length above zero and an image height of zero or more, in mm.")
    pupil = Pupil(f_number, 1e5, focal_mm)
    images, words = [], []
    for text in discs:
        clear, ahead = _disc(text)
        distance = pupil_depth_mm + ahead
        image = ApertureImage(clear / 2.0, distance, front=True)
        images.append(image)
        onset = onset_height_mm(pupil, image)
        words.append(
            say(
                "⌀ {clear:g} at E + z {distance:g}: begins at h {onset:.3f}",
                clear=clear,
                distance=distance,
                onset=onset,
            )
        )
    ri = float(illumination_at(pupil, images, np.array([[height_mm, 0.0]]))[0])
    lost = stops_lost(ri)
    onset = min(onset_height_mm(pupil, o) for o in images)
    return Calculation(
        (
            Answer("relative_illumination", ri, "", "; ".join(words)),
            Answer("stops_lost", lost, "stops", say("−log2 {ri:.4f}", ri=ri)),
            Answer("onset_height_mm", onset, "mm", say("(E + z)·h/f + f/2N = r, the first to touch")),
        ),
        say("parallel rays of the field point through each opening on to the entrance pupil"),
    )


def _disc(text: str) -> tuple[float, float]:
    clear, at, ahead = text.partition("@")
    try:
        values = float(clear.replace(",", ".")), float(ahead.replace(",", "."))
    except ValueError:
        values = (math.nan, math.nan)
    if not at or not all(math.isfinite(v) for v in values) or not 0.0 < values[0] <= 2000.0:
        raise BadInput("“{text}” is no opening; write diameter@distance, such as 74@8.", text=text[:20])
    return values
