"""Sentences about close-up."""

import math
from collections.abc import Callable

from farrail.language import say
from farrail.text.names import scale_name
from farrail.text.values import Values

Told = tuple[str, str]


def _no_focus(v: Values) -> Told:
    reason = (
        say("Reversed, it is closer to the sensor than its focal length; add extension.")
        if v.needs_extension
        else say("The subject would be inside the lenses: remove a close-up lens or a tube.")
    )
    return say("This arrangement cannot focus at any distance."), reason


def _outside(v: Values) -> Told:
    side = say("nearer") if v.wanted_mm < v.near_mm else say("farther")
    reach = (
        say("{near_mm:.0f mm} on", near_mm=v.near_mm)
        if math.isinf(v.far_mm)
        else say("{near_mm:.0f length} to {far_mm:.0f mm}", near_mm=v.near_mm, far_mm=v.far_mm)
    )
    at = say("{wanted_mm:.0f mm}", wanted_mm=v.wanted_mm) if v.wanted_mm > 0.0 else say("inside the lenses")
    return (
        say("A subject at {at} is out of the focus range ({side}).", at=at, side=side),
        say(
            "Focus range from the front glass: {reach}; {side} cannot be focused. Move, or change the parts.",
            reach=reach,
            side=side,
        ),
    )


def _in_the_way(v: Values) -> Told:
    return (
        say(
            "The subject would be {distance_mm:.0f mm} inside {part}.",
            distance_mm=v.reach_mm - v.distance_mm,
            part=v.part,
        ),
        say(
            "The working distance is {distance_mm:.0f mm} and it reaches {reach_mm:.0f mm} "
            "beyond the glass: take it off.",
            distance_mm=v.distance_mm,
            reach_mm=v.reach_mm,
        ),
    )


def _too_near(v: Values) -> Told:
    return (
        say(
            "Only {reach_mm:.0f mm} stay between the train and the subject: hard to light.",
            reach_mm=v.distance_mm - v.reach_mm,
        ),
        say(
            "Light from the side or with a ring light, or use a longer lens for more working distance at the same size."
        ),
    )


def _label(v: Values) -> Told:
    return (
        say(
            "The “{label}” on {lens} means +{dioptres:g} dioptres, not {dioptres:g}x magnification.",
            label=v.label,
            lens=v.lens,
            dioptres=v.dioptres,
        ),
        say(
            "All of it together reaches {scale_name} on this lens, {gain:.1f} times what the "
            "lens alone reaches at its closest focus.",
            scale_name=scale_name(v.magnification),
            gain=v.gain,
        ),
    )


def _quality(v: Values) -> Told:
    return (
        say(
            "{count} close-up {also} of {dioptres:.1f} dioptres in all: expect soft, coloured corners.",
            count=v.count,
            also=say("lens") if v.count == 1 else say("lenses"),
            dioptres=v.dioptres,
        ),
        say("Stop down to f/8 or f/11, or take an achromat; a longer lens needs less power for the same size."),
    )


def _order(v: Values) -> Told:
    return (
        say("{lens} is the strongest but is not next to the lens.", lens=v.lens),
        say("The strongest one closest to the lens gives better corners."),
    )


def _longer(v: Values) -> Told:
    return (
        say(
            "At infinity these close-up lenses give m {magnification:.2f} on this lens.", magnification=v.magnification
        ),
        say("That is focal length times dioptres: a longer lens gains more by the same close-up lens."),
    )


def _diffraction(v: Values) -> Told:
    return (
        say(
            "Diffraction softens the picture: f/{f_number:.3g} acts as f/{effective:.3g}.",
            f_number=v.f_number,
            effective=v.effective,
        ),
        say(
            "Past f/{limit:.2g} diffraction limits sharpness. Open up and focus-stack for depth.",
            limit=v.limit,
        ),
    )


def _crop(v: Values) -> Told:
    return (
        say(
            "Cropping the lens alone to this field would leave {share:.0f} % of the pixels, at no cost in light.",
            share=100.0 * v.share,
        ),
        say("At its closest focus the lens alone reaches {scale_name}.", scale_name=scale_name(v.bare)),
    )


def _nearest(v: Values) -> Told:
    return (
        say(
            "How near {lens} focuses is assumed (1:{magnification:.0f}): measure this one first.",
            lens=v.lens,
            magnification=1.0 / v.magnification,
        ),
        say(
            "Focus on a ruler at the closest distance; enter the width in frame and its "
            "distance from the filter thread."
        ),
    )


def _place(v: Values) -> Told:
    return (
        say("Working distances assume where the entrance pupil of {lens} is.", lens=v.lens),
        say(
            "To fix this: focus a ruler at the closest distance; enter the width in frame and "
            "its distance from the filter thread."
        ),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "closeup.no_focus": _no_focus,
    "closeup.outside_window": _outside,
    "closeup.hood_in_the_way": _in_the_way,
    "closeup.too_near_to_light": _too_near,
    "closeup.label": _label,
    "closeup.quality": _quality,
    "closeup.order": _order,
    "closeup.longer_gains_more": _longer,
    "closeup.diffraction": _diffraction,
    "closeup.crop_instead": _crop,
    "closeup.nearest_assumed": _nearest,
    "closeup.place_assumed": _place,
}
