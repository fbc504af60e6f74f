"""Findings about close-up: outside the focus window, too near to light, quality of close-up lenses, plain truths."""

import math
import re
from collections.abc import Iterator, Sequence

from farrail.parts.kinds.closer import CloseUpLens
from farrail.parts.provenance import Origin
from farrail.readouts.close_up.figures import ratio_words
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.close_up.near_focus import Basis
from farrail.readouts.finding import Finding, Severity
from farrail.units import MM_PER_METRE

# Single close-up lenses beyond this power, or more of them, show colour and soft corners; common practice, no source.
STRONG_DIOPTRES, MOST_LENSES = 4.0, 2
# A lens is called longer from here on: it gains more by the same close-up lens.
SHORT_FOCAL_MM = 70.0
TIMES = re.compile(r"(\d+(?:[.,]\d+)?)\s*[x×](?:\W|$)", re.IGNORECASE)


def close_up_findings(close: CloseUp) -> Iterator[Finding]:
    """Yield the findings."""
    if not close.active:
        return
    yield from _focus(close)
    if not close.now.focused:
        return
    yield from _room(close)
    yield from _lenses(close)
    yield from _light(close)
    yield from _assumed(close)


def _focus(close: CloseUp) -> Iterator[Finding]:
    system = close.system
    assert system is not None
    if not close.near.focused and not close.far.focused:
        turned = system.turned and system.longest_mm <= 0.0
        reason = (
            "Turned round it stands within its own focal length of the sensor; add extension."
            if turned
            else "The subject would lie inside the lenses: take a close-up lens or a tube out."
        )
        yield Finding("closeup.no_focus", Severity.STOP, "Nothing comes to a focus with this arrangement.", reason)
        return
    wanted = close.wanted_mm
    if close.outside and wanted is not None:
        near, far = close.near.distance_mm, close.far.distance_mm
        side = "nearer" if wanted < near else "farther"
        reach = f"{near:.0f} mm on" if math.isinf(far) else f"{near:.0f} to {far:.0f} mm"
        at = f"{wanted:.0f} mm" if wanted > 0.0 else "inside the lenses"
        yield Finding(
            "closeup.outside_window", Severity.STOP,
            f"A subject at {at} cannot be focused: it lies {side} than the window.",
            f"From the foremost glass it focuses from {reach}; {side} will not focus. Move, or change what is laid.",
            figure="closeup.near_mm",
        )  # fmt: skip


def _room(close: CloseUp) -> Iterator[Finding]:
    distance, reach = close.now.distance_mm, close.in_the_way_mm
    if not math.isfinite(distance):
        return
    foremost = max(close.layout.front, key=lambda p: -p.z_front_mm, default=None)
    if reach >= distance and foremost is not None:
        yield Finding(
            "closeup.hood_in_the_way", Severity.STOP,
            f"The subject would lie {reach - distance:.0f} mm inside {foremost.part.name}.",
            f"The working distance is {distance:.0f} mm and it reaches {reach:.0f} mm beyond the glass: take it off.",
            foremost.part.id, figure="closeup.working_distance_mm",
        )  # fmt: skip
    elif distance < close.needed_mm:
        yield Finding(
            "closeup.too_near_to_light", Severity.LOOK,
            f"Only {distance - reach:.0f} mm stay between the train and the subject: hard to light.",
            "Light from the side or through a ring, or go for a longer lens: it keeps more room at the same size.",
            figure="closeup.working_distance_mm",
        )  # fmt: skip


def _lenses(close: CloseUp) -> Iterator[Finding]:
    laid = [(p, p.part) for p in close.layout.front if isinstance(p.part, CloseUpLens)]
    system = close.system
    if not laid or system is None:
        return
    gain = close.now.magnification / close.bare.magnification if close.bare.magnification else math.nan
    for _, lens in laid:
        label = TIMES.search(lens.name)
        if label is not None:
            yield Finding(
                f"closeup.label:{lens.id}", Severity.NOTE,
                f"The “{label.group(0).strip()}” on {lens.name} means +{lens.dioptres.value:g} dioptres, not times.",
                f"On this lens all of it together makes {ratio_words(close.now.magnification)}, {gain:.1f} times what "
                "the lens does alone at its nearest.",
                lens.id, figure="closeup.magnification",
            )  # fmt: skip
    power = system.stack.dioptres
    if soft_corners([lens for _, lens in laid], power):
        yield Finding(
            "closeup.quality", Severity.LOOK,
            f"{len(laid)} close-up {'lens' if len(laid) == 1 else 'lenses'} of {power:.1f} dioptres in all: expect "
            "soft, coloured corners.",
            "Stop down to f/8 or f/11, or take an achromat; a longer lens needs less power for the same size.",
            next(lens.id for _, lens in laid if not lens.achromat), figure="closeup.magnification",
        )  # fmt: skip
    powers = [lens.dioptres.value for _, lens in laid]
    if powers != sorted(powers, reverse=True):
        strongest = max((lens for _, lens in laid), key=lambda lens: lens.dioptres.value)
        yield Finding(
            "closeup.order", Severity.NOTE,
            f"{strongest.name} is the strongest and does not stand next to the lens.",
            "The strongest nearest the lens keeps the gaps small where they count, and the corners better.",
            strongest.id,
        )  # fmt: skip
    focal = system.near.far_focal_mm
    if focal < SHORT_FOCAL_MM and power <= STRONG_DIOPTRES:
        yield Finding(
            "closeup.longer_gains_more", Severity.NOTE,
            f"At infinity these close-up lenses give m {focal * power / MM_PER_METRE:.2f} on this lens.",
            "That is focal length times dioptres: a longer lens gains more by the same close-up lens.",
            laid[0][1].id,
        )  # fmt: skip


def soft_corners(lenses: Sequence[CloseUpLens], dioptres: float) -> bool:
    """Whether close-up lenses of so much power together show colour and soft corners; achromats alone do not."""
    plain = any(not lens.achromat for lens in lenses)
    return plain and (dioptres > STRONG_DIOPTRES + 1e-6 or len(lenses) > MOST_LENSES)


def _light(close: CloseUp) -> Iterator[Finding]:
    n, limit = close.system.f_number if close.system else 0.0, close.diffraction_f_number
    if close.now.magnification > 0.0 and n > limit:
        yield Finding(
            "closeup.diffraction", Severity.LOOK if n > 2.0 * limit else Severity.NOTE,
            f"Diffraction softens the picture: f/{n:.3g} acts as f/{close.effective_f_number:.3g}.",
            f"The Airy disc is wider than two blurs that count as sharp beyond f/{limit:.2g}. Open up, and stack "
            "frames for depth.",
            figure="closeup.diffraction_f_number",
        )  # fmt: skip
    share = close.crop_share
    if share is not None and close.equipped and share > 0.25:
        yield Finding(
            "closeup.crop_instead", Severity.NOTE,
            f"Cropping the lens alone to this field would leave {100.0 * share:.0f} % of the pixels, for nothing.",
            f"Alone at its nearest the lens makes {ratio_words(close.bare.magnification)}.",
            figure="closeup.crop_share",
        )  # fmt: skip


def _assumed(close: CloseUp) -> Iterator[Finding]:
    system = close.system
    assert system is not None
    near = system.near
    guessed = near.basis is Basis.USUAL
    if guessed and close.equipped:
        yield Finding(
            "closeup.nearest_assumed", Severity.LOOK,
            f"How near {close.layout.optic.name} focuses is assumed (1:{1.0 / near.magnification:.0f}): measure this "
            "one first.",
            "Focus on a ruler at its nearest; note how much of it fills the frame and how far it lies from the thread.",
            close.layout.optic.id, figure="closeup.magnification",
        )  # fmt: skip
    elif near.origin is Origin.ASSUMED and close.equipped and not system.turned:
        yield Finding(
            "closeup.place_assumed", Severity.NOTE,
            f"Working distances rest on where the pupil of {close.layout.optic.name} is taken to be.",
            "A ruler seen at its nearest focus, and its distance from the thread, settles it.",
            close.layout.optic.id, figure="closeup.working_distance_mm",
        )  # fmt: skip
