"""The light and field figures in words."""

import math

from farrail.optics.field import CIRCLE_SOURCE, FIELD_SOURCE
from farrail.optics.illumination import SOURCE as RI_SOURCE
from farrail.optics.passband import SOURCE as PASSBAND_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE
from farrail.optics.tilt import SOURCE as TILT_SOURCE
from farrail.readouts.field.sky import OVERLAP
from farrail.readouts.figure import Figure
from farrail.readouts.light.model import CLEAN_STOPS
from farrail.text.names import ARCMINUTES, angle_names, aperture_name, whole_name
from farrail.text.values import Values, minus, number
from farrail.text.working import Teller, Told, told
from farrail.train.train import Side
from farrail.units import stops_lost

STOP_SOURCE = "definition of a stop"


def _f_number(f: Figure, v: Values) -> Told:
    quantity = v.quantity
    return told("f-number at the sensor", "N", f"{f.number:.3g}", quantity.in_use.note or quantity.origin)


def _exit_pupil(f: Figure, v: Values) -> Told:
    quantity = v.quantity
    label = "exit pupil before the sensor" if f.number >= 0.0 else "exit pupil, before the sensor (negative: behind it)"
    numbers = minus(f"{f.number:.1f} mm") if f.low is None else f"{f.low:.0f} to {f.high:.0f} mm"
    return told(label, "L", numbers, quantity.in_use.note or quantity.origin)


def _focal(_: Figure, v: Values) -> Told:
    note = v.quantity.in_use.note
    return told("focal length at the sensor", "f·(1 − d/f_r)", note, "thin lens at its distance before the sensor")


def _corner_ri(f: Figure, v: Values) -> Told:
    numbers = f"{v.apertures} apertures at h {v.corner_mm:.2f} mm, N {v.f_number:.3g}: {f.number:.4f}"
    return told("relative illumination in the corner", "open area of the pupil / area of the pupil", numbers, RI_SOURCE)


def _corner_stops(f: Figure, v: Values) -> Told:
    return told("light lost in the corner", "−log2 RI", f"−log2 {v.ri:.4f} = {number(f.number)}", STOP_SOURCE)


def _edge(f: Figure, v: Values) -> Told:
    label = f"light lost in the middle of the picture's {v.edge}"
    return told(label, "−log2 RI", f"−log2 {v.ri:.4f} = {number(f.number)}", STOP_SOURCE)


def _first(_: Figure, v: Values) -> Told:
    first = v.clearance
    numbers, name = "no aperture clips inside the frame", "none"
    if first is not None and v.taking is not None:
        name, (x, y) = first.placed.part.name, v.taking.point_mm
        numbers = (
            f"{name}, {aperture_name(first.placed)}: without it {100 * v.taking.gain:.1f} % of the pupil more at "
            f"{math.hypot(x, y):.1f} mm"
        )
    formula = "largest gain in the darkest place when one part alone is made wide enough"
    return told("takes most", formula, numbers, RI_SOURCE, name)


def _sides(sides: tuple[float, ...]) -> str:
    return f"{sides[0]:.1f} × {sides[1]:.1f} mm"


def _clean_frame(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    size = _sides(f.value)
    pixels = "" if v.pixels is None else f", {v.pixels[0]} × {v.pixels[1]} pixels"
    formula = f"largest frame of the sensor's aspect that loses at most {CLEAN_STOPS:g} stops"
    return told("clean crop", formula, size, RI_SOURCE, f"{size}{pixels}")


def _clean_share(f: Figure, v: Values) -> Told:
    numbers = f"{_sides(v.clean_mm)} of {v.frame_mm[0]:g} × {v.frame_mm[1]:g} mm = {f.number:.0f} %"
    return told("clean part of the frame", "clean area / frame area", numbers, RI_SOURCE)


def _needed(f: Figure, v: Values) -> Told:
    c, pupil, corner = v.clearance, v.pupil, v.corner_mm
    n, distance = pupil.f_number, c.distance_mm
    if c.placed.side is Side.FRONT:
        formula, focal = "f/N + 2x·h/f", pupil.focal_length_mm
        numbers = f"{focal:g}/{n:.3g} + 2·{distance:.2f}·{corner:.2f}/{focal:g}"
    else:
        formula, far = "2h·|1 − x/L| + x/N", pupil.exit_distance_mm
        numbers = f"{2 * corner:.2f}·|1 − {distance:.2f}/{far:.4g}| + {distance:.2f}/{n:.3g}"
    if not v.centred:
        formula += ", about its own centre and sides"
    label = f"clear diameter needed: {whole_name(c.placed)}"
    return told(label, formula, f"{numbers} = {f.number:.2f} mm", CLEAR_DIAMETER_SOURCE)


def _loss(f: Figure, v: Values) -> Told:
    numbers = (
        f"alone {number(f.number)}, after all others {100 * v.last:.1f} % of the pupil "
        f"({stops_lost(1.0 - v.last):.2f} stops)"
    )
    label = f"lost in the corner to {whole_name(v.clearance.placed)}, alone"
    return told(label, "−log2 RI behind it alone", numbers, RI_SOURCE)


def _shadow(f: Figure, v: Values) -> Told:
    numbers = f"{v.part}: {f.number:.1f} % of {v.aperture_mm:g} mm"
    return told(
        "light the train blocks ahead of the mirror", "(widest part / aperture)²", numbers,
        "area of the shadow over area of the mirror",
    )  # fmt: skip


FIELD_FORMULAS = {
    "rectilinear": "2·atan(d/2f)", "equidistant": "d/f", "equisolid": "4·asin(d/4f)", "stereographic": "4·atan(d/4f)",
    "orthographic": "2·asin(d/2f)",
}  # fmt: skip


def _field_of_view(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    across, down = angle_names(*f.value)
    numbers = f"f {v.focal_mm:.1f} mm, {v.sides_mm[0]:g} × {v.sides_mm[1]:g} mm: {across} × {down}"
    formula = f"{FIELD_FORMULAS[v.projection]} for each side"
    return told("field of view", formula, numbers, FIELD_SOURCE, f"{across} × {down}")


def _field(f: Figure, v: Values) -> Told:
    angle, formula = f.number, FIELD_FORMULAS[v.projection]
    filled = formula.replace("4f", f"(4·{v.focal_mm:.1f})").replace("2f", f"(2·{v.focal_mm:.1f})")
    filled = filled.replace("d/f", f"d/{v.focal_mm:.1f}").replace("d/", f"{v.side_mm:.2f}/")
    numbers = f"{filled} = {angle:.3f}° = {angle * ARCMINUTES:.1f}′"
    return told(f"field of view, {f.which}", formula, numbers, FIELD_SOURCE)


def _pixel_scale(f: Figure, v: Values) -> Told:
    numbers = f"206.265·{v.pixel_um:g}/{v.focal_mm:.1f} = {f.number:.3f}″"
    return told("pixel scale", "206.265·p/f", numbers, FIELD_SOURCE)


def _circle_margin(f: Figure, v: Values) -> Told:
    circle = v.circle
    numbers = f"{circle.diameter.value:.1f} − {circle.diagonal_mm:.2f} = {f.number:+.2f} mm"
    source = circle.diameter.in_use.note or str(circle.diameter.origin)
    return told("image circle less the frame's diagonal", "circle − diagonal", numbers, source)


def _circle_cover(f: Figure, v: Values) -> Told:
    numbers = f"circle {v.circle.diameter.value:.1f} mm: {f.number:.1f} %"
    return told("frame inside the image circle", "area of frame inside circle / area of frame", numbers, CIRCLE_SOURCE)


def _inscribed(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    words = _sides(f.value)
    label, formula = "largest frame inside the image circle", "sensor × circle / diagonal, at most the sensor"
    return told(label, formula, words, CIRCLE_SOURCE, words)


def _tilt(f: Figure, v: Values) -> Told:
    numbers = f"atan(2·0.00055·{v.f_number:.3g}²/{v.corner_mm:.2f}) = {f.number:.4f}°"
    return told("tilt allowed", "atan(2λN²/h)", numbers, TILT_SOURCE)


def _tilt_shim(f: Figure, v: Values) -> Told:
    numbers = f"{v.flange_mm:g}·tan {v.tilt_deg:.4f}° = {f.number:.4f} mm"
    return told("tilt allowed, as shim across the flange", "flange · tan a", numbers, TILT_SOURCE)


def _tilt_pixel(f: Figure, v: Values) -> Told:
    numbers = f"atan({v.f_number:.3g}·{v.pixel_um:g} µm/{v.corner_mm:.2f} mm) = {f.number:.4f}°"
    return told("tilt that blurs a corner by one pixel", "atan(N·p/h)", numbers, TILT_SOURCE)


def _tilt_plate(f: Figure, v: Values) -> Told:
    numbers = f"{v.corner_mm:.2f} mm · tan {v.most_deg:g}° = {f.number:.0f} µm"
    return told(f"{v.part} moves a corner by, at most", "h · tan a", numbers, TILT_SOURCE)


def _aberration(f: Figure, v: Values) -> Told:
    numbers = f"{f.number:.2f} µm of {v.tolerable_um:.1f} µm"
    formula = "edge ray's shift − paraxial shift, summed; tolerable 16λN²"
    return told("spherical aberration of the glass", formula, numbers, PLATE_SOURCE)


def _passband(_: Figure, v: Values) -> Told:
    band = v.band
    known = band.corner is not None
    corner = f"; in the corner {100 * band.corner:.0f} %, mean shift {band.corner_nm:.2f} nm" if known else ""
    numbers = (
        f"mean shift {band.mean_nm:.2f} nm, edge {band.edge_nm:.2f} nm, {band.width_nm:g} nm wide: flat-top "
        f"{100 * band.passes:.0f} %, Gaussian {100 * band.gaussian:.0f} %{corner}"
    )
    formula = "share of the pupil whose shifted passband still holds the line"
    return told(f"{band.name} passes of its own line", formula, numbers, PASSBAND_SOURCE)


def _panels(_: Figure, v: Values) -> Told:
    framing = v.framing
    numbers = (
        f"{framing.across_mm:.1f} × {framing.down_mm:.1f} mm as turned on a frame of {v.sides_mm[0]:g} × "
        f"{v.sides_mm[1]:g} mm: {framing.columns} × {framing.rows}"
    )
    formula = f"reach / (side·(1 − {OVERLAP:g})), rounded up"
    return told(f"panels for {framing.target.name}", formula, numbers, FIELD_SOURCE)


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
