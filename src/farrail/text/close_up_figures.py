"""The close-up figures in words."""

import math

from farrail.optics.close_up import BELLOWS_SOURCE, CONJUGATES_SOURCE
from farrail.optics.close_up_systems import SOURCE
from farrail.optics.focus_stack import DEPTH_SOURCE
from farrail.readouts.close_up.model import CircleBasis
from farrail.readouts.figure import Figure
from farrail.text.names import scale_name
from farrail.text.values import Values, minus
from farrail.text.working import Teller, Told, told
from farrail.train.near_focus import Basis
from farrail.units import mm_to_micrometres

FIELD_SOURCE = "field = sensor / magnification"
BASELINES = "against the lens at infinity"
SHARPEST_SOURCE = "blur m²T/(2N_e) and Airy disc 2.44λN_e, squares added, least"
PIXEL_SOURCE = "pixel / magnification"
BASES = {
    Basis.RULER: "a ruler seen at its nearest",
    Basis.TABLE: "its table of nearest foci",
    Basis.PUBLISHED: "its published nearest focus",
    Basis.DISTANCE: "its nearest distance, its focal length kept",
    Basis.USUAL: "a usual nearest focus",
    Basis.REVERSED: "turned round, set to infinity",
}
CIRCLES = {
    CircleBasis.SET: "as set for this train",
    CircleBasis.PIXEL: "one pixel",
    CircleBasis.DIAGONAL: "a 1500th of the diagonal",
}


def _magnification(f: Figure, v: Values) -> Told:
    system, now = v.system, v.now
    near = system.near
    own = near.magnification * v.position
    extended = f"{system.longest_mm:.2f}/{near.focal_at(v.position):.2f}"
    parts = f"m0 {own:.3f} ({BASES[near.basis]}) + {extended} = {now.of_lens:.4f}"
    if system.reversed:
        parts = f"v/f − 1 = {system.longest_mm + near.far_focal_mm:.2f}/{near.far_focal_mm:g} − 1"
    if system.stack.lenses:
        parts += f"; close-up lenses of {system.stack.dioptres:.3f} D: {now.magnification / system.converter:.4f}"
    if system.converter != 1.0:
        parts += f"; × {system.converter:.3f}"
    return told("magnification", "m0 + ext/f, then the close-up lenses' rays", parts, SOURCE)


def _ratio(_: Figure, v: Values) -> Told:
    m = v.now.magnification
    return told("as a scale", "1 : 1/m", f"m {m:.4f}", CONJUGATES_SOURCE, scale_name(m))


def _field(word: str) -> Teller:
    def tell(f: Figure, v: Values) -> Told:
        numbers = f"{v.side_mm:g}/{v.magnification:.4f} = {f.number:.2f} mm"
        return told(f"fills the frame, {word}", "sensor side / m", numbers, FIELD_SOURCE)

    return tell


def _pixel(_: Figure, v: Values) -> Told:
    return told("one pixel on the subject", "pixel / m", f"{v.pixel_um:.2f}/{v.magnification:.4f}", PIXEL_SOURCE)


def _crop(_: Figure, v: Values) -> Told:
    return told(
        "pixels left by cropping the bare lens instead", "(m of the lens alone at its nearest / m)²",
        f"({v.bare:.3f}/{v.magnification:.3f})²", FIELD_SOURCE,
    )  # fmt: skip


def _focus_numbers(v: Values) -> str:
    system, point = v.system, v.point
    if not point.focused:
        return "nothing comes to a focus"
    stack, s, focal = system.stack, system.near.principal_mm, system.near.focal_at(v.position)
    if math.isinf(point.distance_mm):
        return "infinity"
    if not stack.lenses:
        return f"f(1 + 1/m) − s = {focal:.2f}·(1 + 1/{point.of_lens:.4f}) − {s:.2f} = {point.distance_mm:.2f} mm"
    a, b, c, d = stack.matrix
    q = point.of_lens * (focal - s - stack.first_mm) + focal
    powers = ", ".join(f"{power:g} dpt" for power, _ in stack.lenses)
    return minus(
        f"(qD − mB)/(mA − qC) − front, m {point.of_lens:.4f}, q = m(f − s − z) + f = {q:.2f}, {powers} with A {a:.4f}, "
        f"B {b:.3f}, C {c:.6f}, D {d:.4f}, front {stack.front_mm:.2f}: {point.distance_mm:.2f} mm"
    )


def _distance(_: Figure, v: Values) -> Told:
    return told("working distance", "from the foremost glass to the subject", _focus_numbers(v), SOURCE)


def _whole(f: Figure, v: Values) -> Told:
    numbers = (
        f"{v.distance_mm:.2f} + {v.ahead_mm:.2f} + {v.principal_mm:.2f} + {v.hiatus_mm:.2f} + {v.behind_mm:.2f} = "
        f"{f.number:.2f} mm"
    )
    formula = "working distance + glass ahead + s + hiatus + f(1 + m)"
    return told("subject to sensor", formula, numbers, CONJUGATES_SOURCE)


def _end(word: str, place: str) -> Teller:
    def tell(_: Figure, v: Values) -> Told:
        label = f"{word} working distance in focus"
        return told(label, f"the lens at {place}", _focus_numbers(v), SOURCE, "none")

    return tell


def _effective(f: Figure, v: Values) -> Told:
    system, now = v.system, v.now
    formula = "N(1/p + m)" if system.reversed else "N(1 + m/p)"
    extra = f", × {system.converter:.3f}" if system.converter != 1.0 else ""
    if system.narrower > 1.0:
        extra += f", × {system.narrower:.3f} by the coupled lens's opening"
    numbers = (
        f"N {system.f_number:.3g}, m {now.of_lens:.4f} of lens and extension, p {system.near.pupil_ratio:g}{extra}: "
        f"{f.number:.4f}"
    )
    return told("effective f-number", formula, numbers, BELLOWS_SOURCE)


def _stops(f: Figure, v: Values) -> Told:
    numbers = f"2·log2({v.now.darker:.4f}) = {f.number:.3f}"
    return told(f"light lost {BASELINES}", "2·log2(N_e/N)", numbers, BELLOWS_SOURCE)


def _stops_bare(_: Figure, v: Values) -> Told:
    numbers = f"2·log2({v.now.darker:.4f}/{v.bare.darker:.4f}), the lens alone at m {v.bare.of_lens:.3f}"
    label, formula = "… against the lens alone at its nearest", "2·log2 of both effective f-numbers"
    return told(label, formula, numbers, BELLOWS_SOURCE)


def _depth(label: str) -> Teller:
    def tell(_: Figure, v: Values) -> Told:
        numbers = (
            f"2·{v.effective_f_number:.2f}·{v.circle_mm:.4f}/{v.now.magnification:.3f}² = {v.depth.geometric_mm:.4f}, "
            f"and {v.depth.diffraction_mm:.4f} by diffraction; c {CIRCLES[v.circle_basis]}"
        )
        return told(label, "2N_e·c/m² + 4λN_e²/m²", numbers, DEPTH_SOURCE)

    return tell


def _diffraction(_: Figure, v: Values) -> Told:
    circle = f"{mm_to_micrometres(v.circle_mm):.2f} µm, {CIRCLES[v.circle_basis]}"
    numbers = f"c {circle}; N = N_e/{v.now.darker:.3f}"
    return told("diffraction shows beyond f/", "2.44 λ N_e = 2c", numbers, "first dark ring of the Airy disc")


def _sharpest(_: Figure, v: Values) -> Told:
    numbers = f"{v.now.magnification:.3f}·√({v.deep_mm:g}/0.00268)/{v.now.darker:.3f}"
    label = f"sharpest in one frame {v.deep_mm:g} mm deep, f/"
    return told(label, "m √(T/(4.88 λ)) / (N_e/N)", numbers, SHARPEST_SOURCE)


TELLERS: dict[str, Teller] = {
    "closeup.magnification": _magnification,
    "closeup.ratio": _ratio,
    "closeup.width_mm": _field("wide"),
    "closeup.height_mm": _field("high"),
    "closeup.pixel_um": _pixel,
    "closeup.crop_share": _crop,
    "closeup.working_distance_mm": _distance,
    "closeup.subject_to_sensor_mm": _whole,
    "closeup.near_mm": _end("nearest", "its nearest"),
    "closeup.far_mm": _end("farthest", "infinity"),
    "closeup.effective_f_number": _effective,
    "closeup.stops_lost": _stops,
    "closeup.stops_against_bare": _stops_bare,
    "closeup.depth_of_field_mm": _depth("depth of field, both sides"),
    "closeup.depth_geometric_mm": _depth("… by blur"),
    "closeup.depth_diffraction_mm": _depth("… by diffraction"),
    "closeup.diffraction_f_number": _diffraction,
    "closeup.sharpest_f_number": _sharpest,
}
