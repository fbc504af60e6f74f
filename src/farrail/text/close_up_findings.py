"""Sentences about close-up."""

import math
from collections.abc import Callable

from farrail.text.names import scale_name
from farrail.text.values import Values

Told = tuple[str, str]


def _no_focus(v: Values) -> Told:
    reason = (
        "Turned round it stands within its own focal length of the sensor; add extension."
        if v.needs_extension
        else "The subject would lie inside the lenses: take a close-up lens or a tube out."
    )
    return "Nothing comes to a focus with this arrangement.", reason


def _outside(v: Values) -> Told:
    side = "nearer" if v.wanted_mm < v.near_mm else "farther"
    reach = f"{v.near_mm:.0f} mm on" if math.isinf(v.far_mm) else f"{v.near_mm:.0f} to {v.far_mm:.0f} mm"
    at = f"{v.wanted_mm:.0f} mm" if v.wanted_mm > 0.0 else "inside the lenses"
    return (
        f"A subject at {at} cannot be focused: it lies {side} than the window.",
        f"From the foremost glass it focuses from {reach}; {side} will not focus. Move, or change what is laid.",
    )


def _in_the_way(v: Values) -> Told:
    return (
        f"The subject would lie {v.reach_mm - v.distance_mm:.0f} mm inside {v.part}.",
        f"The working distance is {v.distance_mm:.0f} mm and it reaches {v.reach_mm:.0f} mm beyond the glass: take it "
        "off.",
    )


def _too_near(v: Values) -> Told:
    return (
        f"Only {v.distance_mm - v.reach_mm:.0f} mm stay between the train and the subject: hard to light.",
        "Light from the side or through a ring, or go for a longer lens: it keeps more room at the same size.",
    )


def _label(v: Values) -> Told:
    return (
        f"The “{v.label}” on {v.lens} means +{v.dioptres:g} dioptres, not {v.dioptres:g}x magnification.",
        f"On this lens all of it together makes {scale_name(v.magnification)}, {v.gain:.1f} times what "
        "the lens does alone at its nearest.",
    )


def _quality(v: Values) -> Told:
    return (
        f"{v.count} close-up {'lens' if v.count == 1 else 'lenses'} of {v.dioptres:.1f} dioptres in all: expect "
        "soft, coloured corners.",
        "Stop down to f/8 or f/11, or take an achromat; a longer lens needs less power for the same size.",
    )


def _order(v: Values) -> Told:
    return (
        f"{v.lens} is the strongest and does not stand next to the lens.",
        "The strongest nearest the lens keeps the gaps small where they count, and the corners better.",
    )


def _longer(v: Values) -> Told:
    return (
        f"At infinity these close-up lenses give m {v.magnification:.2f} on this lens.",
        "That is focal length times dioptres: a longer lens gains more by the same close-up lens.",
    )


def _diffraction(v: Values) -> Told:
    return (
        f"Diffraction softens the picture: f/{v.f_number:.3g} acts as f/{v.effective:.3g}.",
        f"The Airy disc is wider than two blurs that count as sharp beyond f/{v.limit:.2g}. Open up, and stack "
        "frames for depth.",
    )


def _crop(v: Values) -> Told:
    return (
        f"Cropping the lens alone to this field would leave {100.0 * v.share:.0f} % of the pixels, at no cost in "
        "light.",
        f"Alone at its nearest the lens makes {scale_name(v.bare)}.",
    )


def _nearest(v: Values) -> Told:
    return (
        f"How near {v.lens} focuses is assumed (1:{1.0 / v.magnification:.0f}): measure this one first.",
        "Focus on a ruler at its nearest; note how much of it fills the frame and how far it lies from the thread.",
    )


def _place(v: Values) -> Told:
    return (
        f"Working distances rest on where the pupil of {v.lens} is taken to be.",
        "A ruler seen at its nearest focus, and its distance from the thread, settles it.",
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
