"""The light and field figures in words."""

import math

from farrail.language import N_, local_number, say, word
from farrail.optics.field import CIRCLE_SOURCE, FIELD_SOURCE
from farrail.optics.illumination import SOURCE as RI_SOURCE
from farrail.optics.passband import SOURCE as PASSBAND_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE
from farrail.optics.tilt import SOURCE as TILT_SOURCE
from farrail.quantities import Values, minus, number
from farrail.readouts.field.sky import OVERLAP
from farrail.readouts.figure import Figure
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.names import ARCMINUTES, angle_names, aperture_name, whole_name
from farrail.text.working import Teller, Told, told
from farrail.train.train import Side
from farrail.units import stops_lost

STOP_SOURCE = N_("definition of a stop")


def _f_number(f: Figure, v: Values) -> Told:
    quantity = v.quantity
    return told(
        say("f-number at the sensor"),
        "N",
        say("{number:.3g}", number=f.number),
        quantity.in_use.note or word(quantity.origin),
    )


def _exit_pupil(f: Figure, v: Values) -> Told:
    quantity = v.quantity
    label = (
        say("exit pupil before the sensor")
        if f.number >= 0.0
        else say("exit pupil, before the sensor (negative: behind it)")
    )
    numbers = (
        minus(say("{number:.1f} mm", number=f.number))
        if f.low is None
        else say("{low:.0f} to {high:.0f} mm", low=f.low, high=f.high)
    )
    return told(label, "L", numbers, quantity.in_use.note or quantity.origin)


def _focal(_: Figure, v: Values) -> Told:
    note = v.quantity.in_use.note
    return told(
        say("focal length at the sensor"), "f·(1 − d/f_r)", note, say("thin lens at its distance before the sensor")
    )


def _corner_ri(f: Figure, v: Values) -> Told:
    numbers = say(
        "{apertures} apertures at h {corner_mm:.2f} mm, N {f_number:.3g}: {number:.4f}",
        apertures=v.apertures,
        corner_mm=v.corner_mm,
        f_number=v.f_number,
        number=f.number,
    )
    return told(
        say("relative illumination in the corner"),
        say("open area of the pupil / area of the pupil"),
        numbers,
        RI_SOURCE,
    )


def _corner_stops(f: Figure, v: Values) -> Told:
    return told(
        say("light lost in the corner"),
        say("−log2 RI"),
        say("−log2 {ri:.4f} = {number}", ri=v.ri, number=number(f.number)),
        STOP_SOURCE,
    )


def _edge(f: Figure, v: Values) -> Told:
    label = say("light lost in the middle of the picture's {edge}", edge=v.edge)
    return told(label, say("−log2 RI"), say("−log2 {ri:.4f} = {number}", ri=v.ri, number=number(f.number)), STOP_SOURCE)


def _first(_: Figure, v: Values) -> Told:
    first = v.clearance
    numbers, name = say("no aperture clips inside the frame"), say("none")
    if first is not None and v.taking is not None:
        name, (x, y) = first.placed.part.name, v.taking.point_mm
        numbers = say(
            "{name}, {aperture_name}: without it {gain:.1f} % of the pupil more at {hypot:.1f} mm",
            name=name,
            aperture_name=aperture_name(first.placed),
            gain=100 * v.taking.gain,
            hypot=math.hypot(x, y),
        )
    formula = say("largest gain in the darkest place if one part alone is made large enough")
    return told(say("costs most"), formula, numbers, RI_SOURCE, name)


def _sides(sides: tuple[float, ...]) -> str:
    return say("{sides:.1f} × {sides_2:.1f} mm", sides=sides[0], sides_2=sides[1])


def _clean_frame(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    size = _sides(f.value)
    pixels = "" if v.pixels is None else say(", {pixels} × {pixels_2} pixels", pixels=v.pixels[0], pixels_2=v.pixels[1])
    formula = say(
        "largest frame of the sensor's aspect that loses at most {clean_stops:g} stops", clean_stops=CLEAN_STOPS
    )
    told_size = say("{wide:.1f length} × {high:.1f mm}", wide=f.value[0], high=f.value[1])
    return told(say("vignetting-free crop"), formula, size, RI_SOURCE, f"{told_size}{pixels}")


def _clean_share(f: Figure, v: Values) -> Told:
    numbers = say(
        "{sides} of {frame_mm:g} × {frame_mm_2:g} mm = {number:.0f} %",
        sides=_sides(v.clean_mm),
        frame_mm=v.frame_mm[0],
        frame_mm_2=v.frame_mm[1],
        number=f.number,
    )
    return told(say("vignetting-free part of the frame"), say("vignetting-free area / frame area"), numbers, RI_SOURCE)


def _needed(f: Figure, v: Values) -> Told:
    c, pupil, corner = v.clearance, v.pupil, v.corner_mm
    n, distance = pupil.f_number, c.distance_mm
    if c.placed.side is Side.FRONT:
        formula, focal = "f/N + 2x·h/f", pupil.focal_length_mm
        numbers = say(
            "{focal:g}/{n:.3g} + 2·{distance:.2f}·{corner:.2f}/{focal:g}",
            focal=focal,
            n=n,
            distance=distance,
            corner=corner,
        )
    else:
        formula, far = "2h·|1 − x/L| + x/N", pupil.exit_distance_mm
        numbers = say(
            "{corner:.2f}·|1 − {distance:.2f}/{far:.4g}| + {distance:.2f}/{n:.3g}",
            corner=2 * corner,
            distance=distance,
            far=far,
            n=n,
        )
    if not v.centred:
        formula += say(", about its own centre and sides")
    label = say("clear diameter needed: {whole_name}", whole_name=whole_name(c.placed))
    return told(
        label, formula, say("{numbers} = {number:.2f} mm", numbers=numbers, number=f.number), CLEAR_DIAMETER_SOURCE
    )


def _loss(f: Figure, v: Values) -> Told:
    numbers = say(
        "alone {number}, after all others {last:.1f} % of the pupil ({stops_lost:.2f} stops)",
        number=number(f.number),
        last=100 * v.last,
        stops_lost=stops_lost(1.0 - v.last),
    )
    label = say("lost in the corner to {whole_name}, alone", whole_name=whole_name(v.clearance.placed))
    return told(label, say("−log2 RI behind it alone"), numbers, RI_SOURCE)


def _shadow(f: Figure, v: Values) -> Told:
    numbers = say(
        "{part}: {number:.1f} % of {aperture_mm:g} mm", part=v.part, number=f.number, aperture_mm=v.aperture_mm
    )
    return told(
        say("light the train blocks ahead of the mirror"), say("(widest part / aperture)²"), numbers,
        say("area of the shadow over area of the mirror"),
    )  # fmt: skip


FIELD_FORMULAS = {
    "rectilinear": N_("2·atan(d/2f)"),
    "equidistant": "d/f",
    "equisolid": N_("4·asin(d/4f)"),
    "stereographic": N_("4·atan(d/4f)"),
    "orthographic": N_("2·asin(d/2f)"),
}


def _field_of_view(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    across, down = angle_names(*f.value)
    numbers = say(
        "f {focal_mm:.1f} mm, {sides_mm:g} × {sides_mm_2:g} mm: {across} × {down}",
        focal_mm=v.focal_mm,
        sides_mm=v.sides_mm[0],
        sides_mm_2=v.sides_mm[1],
        across=across,
        down=down,
    )
    formula = say("{field_formulas} for each side", field_formulas=FIELD_FORMULAS[v.projection])
    return told(say("field of view"), formula, numbers, FIELD_SOURCE, f"{across} × {down}")


def _field(f: Figure, v: Values) -> Told:
    angle, formula = f.number, str(FIELD_FORMULAS[v.projection])
    focal, side = local_number(f"{v.focal_mm:.1f}"), local_number(f"{v.side_mm:.2f}")
    filled = formula.replace("4f", f"(4·{focal})").replace("2f", f"(2·{focal})")
    filled = filled.replace("d/f", f"d/{focal}").replace("d/", f"{side}/")
    numbers = say(
        "{filled} = {angle:.3f}° = {arcminutes:.1f}′", filled=filled, angle=angle, arcminutes=angle * ARCMINUTES
    )
    return told(say("field of view, {which}", which=f.which), formula, numbers, FIELD_SOURCE)


def _pixel_scale(f: Figure, v: Values) -> Told:
    numbers = say(
        "206.265·{pixel_um:g}/{focal_mm:.1f} = {number:.3f}″", pixel_um=v.pixel_um, focal_mm=v.focal_mm, number=f.number
    )
    return told(say("pixel scale"), "206.265·p/f", numbers, FIELD_SOURCE)


def _circle_margin(f: Figure, v: Values) -> Told:
    circle = v.circle
    numbers = say(
        "{value:.1f} − {diagonal_mm:.2f} = {number:+.2f} mm",
        value=circle.diameter.value,
        diagonal_mm=circle.diagonal_mm,
        number=f.number,
    )
    source = circle.diameter.in_use.note or word(circle.diameter.origin)
    return told(say("image circle less the frame's diagonal"), say("circle − diagonal"), numbers, source)


def _circle_cover(f: Figure, v: Values) -> Told:
    numbers = say("circle {value:.1f} mm: {number:.1f} %", value=v.circle.diameter.value, number=f.number)
    return told(
        say("frame inside the image circle"), say("area of frame inside circle / area of frame"), numbers, CIRCLE_SOURCE
    )


def _inscribed(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    words = _sides(f.value)
    label, formula = say("largest frame inside the image circle"), say("sensor × circle / diagonal, at most the sensor")
    return told(label, formula, words, CIRCLE_SOURCE, words)


def _tilt(f: Figure, v: Values) -> Told:
    numbers = say(
        "atan(2·0.00055·{f_number:.3g}²/{corner_mm:.2f}) = {number:.4f}°",
        f_number=v.f_number,
        corner_mm=v.corner_mm,
        number=f.number,
    )
    return told(say("tilt allowed"), "atan(2λN²/h)", numbers, TILT_SOURCE)


def _tilt_shim(f: Figure, v: Values) -> Told:
    numbers = say(
        "{flange_mm:g}·tan {tilt_deg:.4f}° = {number:.4f} mm",
        flange_mm=v.flange_mm,
        tilt_deg=v.tilt_deg,
        number=f.number,
    )
    return told(say("tilt allowed, as shim across the flange"), say("flange · tan a"), numbers, TILT_SOURCE)


def _tilt_pixel(f: Figure, v: Values) -> Told:
    numbers = say(
        "atan({f_number:.3g}·{pixel_um:g} µm/{corner_mm:.2f} mm) = {number:.4f}°",
        f_number=v.f_number,
        pixel_um=v.pixel_um,
        corner_mm=v.corner_mm,
        number=f.number,
    )
    return told(say("tilt that blurs a corner by one pixel"), say("atan(N·p/h)"), numbers, TILT_SOURCE)


def _tilt_plate(f: Figure, v: Values) -> Told:
    numbers = say(
        "{corner_mm:.2f} mm · tan {most_deg:g}° = {number:.0f} µm",
        corner_mm=v.corner_mm,
        most_deg=v.most_deg,
        number=f.number,
    )
    return told(say("most a corner is moved by {part}", part=v.part), say("h · tan a"), numbers, TILT_SOURCE)


def _aberration(f: Figure, v: Values) -> Told:
    numbers = say("{number:.2f} µm of {tolerable_um:.1f} µm", number=f.number, tolerable_um=v.tolerable_um)
    formula = say("edge ray's shift − paraxial shift, summed; tolerable 16λN²")
    return told(say("spherical aberration of the glass"), formula, numbers, PLATE_SOURCE)


def _passband(_: Figure, v: Values) -> Told:
    band = v.band
    known = band.corner is not None
    corner = (
        say(
            "; in the corner {corner:.0f} %, mean shift {corner_nm:.2f} nm",
            corner=100 * band.corner,
            corner_nm=band.corner_nm,
        )
        if known
        else ""
    )
    numbers = say(
        "mean shift {mean_nm:.2f} nm, edge {edge_nm:.2f} nm, width {width_nm:g} nm: "
        "flat-top {passes:.0f} %, Gaussian {gaussian:.0f} %{corner}",
        mean_nm=band.mean_nm,
        edge_nm=band.edge_nm,
        width_nm=band.width_nm,
        passes=100 * band.passes,
        gaussian=100 * band.gaussian,
        corner=corner,
    )
    formula = say("share of the pupil whose shifted passband still holds the line")
    return told(say("share of its own line passed by {name}", name=band.name), formula, numbers, PASSBAND_SOURCE)


def _panels(_: Figure, v: Values) -> Told:
    framing = v.framing
    numbers = say(
        "{across_mm:.1f} × {down_mm:.1f} mm as turned on a frame of {sides_mm:g} × "
        "{sides_mm_2:g} mm: {columns} × {rows}",
        across_mm=framing.across_mm,
        down_mm=framing.down_mm,
        sides_mm=v.sides_mm[0],
        sides_mm_2=v.sides_mm[1],
        columns=framing.columns,
        rows=framing.rows,
    )
    formula = say("reach / (side·(1 − {overlap:g})), rounded up", overlap=OVERLAP)
    return told(say("panels for {name}", name=framing.target.name), formula, numbers, FIELD_SOURCE)


TELLERS: dict[str, Teller] = {
    "light.f_number": _f_number,
    "light.exit_pupil_mm": _exit_pupil,
    "light.focal_length_mm": _focal,
    "light.corner_ri": _corner_ri,
    "light.corner_stops": _corner_stops,
    "light.edge.*_stops": _edge,
    "light.limiting_part": _first,
    "light.clean_frame": _clean_frame,
    "light.clean_share": _clean_share,
    "light.needed.*_mm": _needed,
    "light.loss.*_stops": _loss,
    "light.train_shadow": _shadow,
    "light.field_of_view": _field_of_view,
    "light.field_*_deg": _field,
    "light.pixel_scale_arcsec": _pixel_scale,
    "light.image_circle_margin_mm": _circle_margin,
    "light.image_circle_cover": _circle_cover,
    "light.inscribed_frame": _inscribed,
    "light.tilt_plate.*_um": _tilt_plate,
    "light.tilt_allowed_deg": _tilt,
    "light.tilt_shim_mm": _tilt_shim,
    "light.tilt_pixel_deg": _tilt_pixel,
    "light.plate_aberration_um": _aberration,
    "light.passband.*": _passband,
    "light.target_panels": _panels,
}
