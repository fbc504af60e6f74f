"""The close-up figures in words."""

import math

from farrail.language import N_, Message, say
from farrail.optics.close_up import BELLOWS_SOURCE, CONJUGATES_SOURCE
from farrail.optics.close_up_systems import SOURCE
from farrail.optics.focus_stack import DEPTH_SOURCE
from farrail.parts.lens_defaults import Basis
from farrail.quantities import Values, minus
from farrail.readouts.close_up.model import CircleBasis
from farrail.readouts.figure import Figure
from farrail.readouts.names import scale_name
from farrail.text.working import Teller, Told, told
from farrail.units import mm_to_micrometres

FIELD_SOURCE = N_("field = sensor / magnification")
BASELINES = N_("against the lens at infinity")
SHARPEST_SOURCE = N_("blur m²T/(2N_e) and Airy disc 2.44λN_e, squares added, least")
PIXEL_SOURCE = N_("pixel / magnification")
BASES = {
    Basis.RULER: N_("a ruler at its closest focus"),
    Basis.TABLE: N_("its table of closest focus"),
    Basis.PUBLISHED: N_("its published closest focus"),
    Basis.DISTANCE: N_("its minimum focus distance, at a constant focal length"),
    Basis.USUAL: N_("a typical closest focus"),
    Basis.REVERSED: N_("reversed, set to infinity"),
}
CIRCLES = {
    CircleBasis.SET: N_("as set for this train"),
    CircleBasis.PIXEL: N_("one pixel"),
    CircleBasis.DIAGONAL: N_("a 1500th of the diagonal"),
}


def _magnification(f: Figure, v: Values) -> Told:
    system, now = v.system, v.now
    near = system.near
    own = near.magnification * v.position
    extended = say("{longest_mm:.2f}/{focal_at:.2f}", longest_mm=system.longest_mm, focal_at=near.focal_at(v.position))
    parts = say(
        "m0 {own:.3f} ({bases}) + {extended} = {of_lens:.4f}",
        own=own,
        bases=BASES[near.basis],
        extended=extended,
        of_lens=now.of_lens,
    )
    if system.reversed:
        parts = say(
            "v/f − 1 = {far_focal_mm:.2f}/{far_focal_mm_2:g} − 1",
            far_focal_mm=system.longest_mm + near.far_focal_mm,
            far_focal_mm_2=near.far_focal_mm,
        )
    if system.stack.lenses:
        parts += say(
            "; close-up lenses of {dioptres:.3f} D: {converter:.4f}",
            dioptres=system.stack.dioptres,
            converter=now.magnification / system.converter,
        )
    if system.converter != 1.0:
        parts += say("; × {converter:.3f}", converter=system.converter)
    return told(say("magnification"), say("m0 + ext/f, then the close-up lenses' rays"), parts, SOURCE)


def _ratio(_: Figure, v: Values) -> Told:
    m = v.now.magnification
    return told(say("as a scale"), "1 : 1/m", say("m {m:.4f}", m=m), CONJUGATES_SOURCE, scale_name(m))


def _field(word: Message) -> Teller:
    def tell(f: Figure, v: Values) -> Told:
        numbers = say(
            "{side_mm:g}/{magnification:.4f} = {number:.2f} mm",
            side_mm=v.side_mm,
            magnification=v.magnification,
            number=f.number,
        )
        return told(say("fills the frame, {word}", word=word), say("sensor side / m"), numbers, FIELD_SOURCE)

    return tell


def _pixel(_: Figure, v: Values) -> Told:
    return told(
        say("one pixel on the subject"),
        say("pixel / m"),
        say("{pixel_um:.2f}/{magnification:.4f}", pixel_um=v.pixel_um, magnification=v.magnification),
        PIXEL_SOURCE,
    )


def _crop(_: Figure, v: Values) -> Told:
    return told(
        say("pixels left by cropping the bare lens instead"), say("(m of the lens alone at its closest focus / m)²"),
        say("({bare:.3f}/{magnification:.3f})²", bare=v.bare, magnification=v.magnification), FIELD_SOURCE,
    )  # fmt: skip


def _focus_numbers(v: Values) -> str:
    system, point = v.system, v.point
    if not point.focused:
        return say("no focus")
    stack, s, focal = system.stack, system.near.principal_mm, system.near.focal_at(v.position)
    if math.isinf(point.distance_mm):
        return say("infinity")
    if not stack.lenses:
        return say(
            "f(1 + 1/m) − s = {focal:.2f}·(1 + 1/{of_lens:.4f}) − {s:.2f} = {distance_mm:.2f} mm",
            focal=focal,
            of_lens=point.of_lens,
            s=s,
            distance_mm=point.distance_mm,
        )
    a, b, c, d = stack.matrix
    q = point.of_lens * (focal - s - stack.first_mm) + focal
    powers = ", ".join(say("{power:g} dpt", power=power) for power, _ in stack.lenses)
    return minus(
        say(
            "(qD − mB)/(mA − qC) − front, m {of_lens:.4f}, q = m(f − s − z) + f = {q:.2f}, "
            "{powers} with A {a:.4f}, B {b:.3f}, C {c:.6f}, D {d:.4f}, front {front_mm:.2f}: "
            "{distance_mm:.2f} mm",
            of_lens=point.of_lens,
            q=q,
            powers=powers,
            a=a,
            b=b,
            c=c,
            d=d,
            front_mm=stack.front_mm,
            distance_mm=point.distance_mm,
        )
    )


def _distance(_: Figure, v: Values) -> Told:
    return told(say("working distance"), say("from the foremost glass to the subject"), _focus_numbers(v), SOURCE)


def _whole(f: Figure, v: Values) -> Told:
    numbers = say(
        "{distance_mm:.2f} + {ahead_mm:.2f} + {principal_mm:.2f} + {hiatus_mm:.2f} + {behind_mm:.2f} = {number:.2f} mm",
        distance_mm=v.distance_mm,
        ahead_mm=v.ahead_mm,
        principal_mm=v.principal_mm,
        hiatus_mm=v.hiatus_mm,
        behind_mm=v.behind_mm,
        number=f.number,
    )
    formula = say("working distance + glass ahead + s + hiatus + f(1 + m)")
    return told(say("subject to sensor"), formula, numbers, CONJUGATES_SOURCE)


def _end(word: Message, place: Message) -> Teller:
    def tell(_: Figure, v: Values) -> Told:
        label = say("{word} working distance in focus", word=word)
        return told(label, say("the lens at {place}", place=place), _focus_numbers(v), SOURCE, say("none"))

    return tell


def _effective(f: Figure, v: Values) -> Told:
    system, now = v.system, v.now
    formula = "N(1/p + m)" if system.reversed else "N(1 + m/p)"
    extra = say(", × {converter:.3f}", converter=system.converter) if system.converter != 1.0 else ""
    if now.narrower > 1.0:
        extra += say(", × {narrower:.3f} by the coupled lens's opening", narrower=now.narrower)
    numbers = say(
        "N {f_number:.3g}, m {of_lens:.4f} of lens and extension, p {pupil_ratio:g}{extra}: {number:.4f}",
        f_number=system.f_number,
        of_lens=now.of_lens,
        pupil_ratio=system.near.pupil_ratio,
        extra=extra,
        number=f.number,
    )
    return told(say("effective f-number"), formula, numbers, BELLOWS_SOURCE)


def _stops(f: Figure, v: Values) -> Told:
    numbers = say("2·log2({darker:.4f}) = {number:.3f}", darker=v.now.darker, number=f.number)
    return told(say("light lost {baselines}", baselines=BASELINES), say("2·log2(N_e/N)"), numbers, BELLOWS_SOURCE)


def _stops_bare(_: Figure, v: Values) -> Told:
    numbers = say(
        "2·log2({darker:.4f}/{darker_2:.4f}), the lens alone at m {of_lens:.3f}",
        darker=v.now.darker,
        darker_2=v.bare.darker,
        of_lens=v.bare.of_lens,
    )
    label, formula = (
        say("… compared with the lens alone at its closest focus"),
        say("2·log2 of both effective f-numbers"),
    )
    return told(label, formula, numbers, BELLOWS_SOURCE)


def _depth(label: Message) -> Teller:
    def tell(_: Figure, v: Values) -> Told:
        numbers = say(
            "2·{effective_f_number:.2f}·{circle_mm:.4f}/{magnification:.3f}² = "
            "{geometric_mm:.4f}, and {diffraction_mm:.4f} by diffraction; c {circles}",
            effective_f_number=v.effective_f_number,
            circle_mm=v.circle_mm,
            magnification=v.now.magnification,
            geometric_mm=v.depth.geometric_mm,
            diffraction_mm=v.depth.diffraction_mm,
            circles=CIRCLES[v.circle_basis],
        )
        return told(label, "2N_e·c/m² + 4λN_e²/m²", numbers, DEPTH_SOURCE)

    return tell


def _diffraction(_: Figure, v: Values) -> Told:
    circle = say(
        "{mm_to_micrometres:.2f} µm, {circles}",
        mm_to_micrometres=mm_to_micrometres(v.circle_mm),
        circles=CIRCLES[v.circle_basis],
    )
    numbers = say("c {circle}; N = N_e/{darker:.3f}", circle=circle, darker=v.now.darker)
    return told(say("diffraction shows beyond f/"), "2.44 λ N_e = 2c", numbers, say("first dark ring of the Airy disc"))


def _sharpest(_: Figure, v: Values) -> Told:
    numbers = say(
        "{magnification:.3f}·√({deep_mm:g}/0.00268)/{darker:.3f}",
        magnification=v.now.magnification,
        deep_mm=v.deep_mm,
        darker=v.now.darker,
    )
    label = say("sharpest single frame for a depth of {deep_mm:g} mm, f/", deep_mm=v.deep_mm)
    return told(label, "m √(T/(4.88 λ)) / (N_e/N)", numbers, SHARPEST_SOURCE)


TELLERS: dict[str, Teller] = {
    "closeup.magnification": _magnification,
    "closeup.ratio": _ratio,
    "closeup.width_mm": _field(N_("wide")),
    "closeup.height_mm": _field(N_("high")),
    "closeup.pixel_um": _pixel,
    "closeup.crop_share": _crop,
    "closeup.working_distance_mm": _distance,
    "closeup.subject_to_sensor_mm": _whole,
    "closeup.near_mm": _end(N_("nearest"), N_("its closest focus")),
    "closeup.far_mm": _end(N_("farthest"), N_("infinity")),
    "closeup.effective_f_number": _effective,
    "closeup.stops_lost": _stops,
    "closeup.stops_against_bare": _stops_bare,
    "closeup.depth_of_field_mm": _depth(N_("depth of field, both sides")),
    "closeup.depth_geometric_mm": _depth(N_("… by blur")),
    "closeup.depth_diffraction_mm": _depth(N_("… by diffraction")),
    "closeup.diffraction_f_number": _diffraction,
    "closeup.sharpest_f_number": _sharpest,
}
