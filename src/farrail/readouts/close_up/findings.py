"""Findings about close-up: outside the focus range, too near to light, quality of close-up lenses, plain truths."""

import math
import re
from collections.abc import Iterator, Sequence

from farrail.parts.kinds.closer import CloseUpLens
from farrail.parts.lens_defaults import Basis
from farrail.parts.origin import Origin
from farrail.readouts.close_up.messages import (
    ClosestFocusAssumed,
    CloseUpOrder,
    CropInstead,
    Diffraction,
    LongerGainsMore,
    NoFocus,
    OutsideFocusRange,
    PartInTheWay,
    PupilPlaceAssumed,
    SoftCorners,
    TimesLabel,
    TooCloseToLight,
)
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.finding import Finding, Severity
from farrail.units import MM_PER_METRE

# Single close-up lenses beyond this power, or more of them, show colour and soft corners; common practice, no source.
STRONG_DIOPTRES, MOST_LENSES = 4.0, 2
# A lens is called longer from here on: it gains more by the same close-up lens.
SHORT_FOCAL_MM = 70.0
# How a close-up lens's power is written on some boxes: “10x”.
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
        needs_extension = system.reversed and system.longest_mm <= 0.0
        yield Finding(NoFocus(needs_extension=needs_extension), Severity.STOP)
        return
    wanted = close.wanted_mm
    if close.outside and wanted is not None:
        yield Finding(
            OutsideFocusRange(wanted_mm=wanted, near_mm=close.near.distance_mm, far_mm=close.far.distance_mm),
            Severity.STOP,
            figure="closeup.near_mm",
        )


def _room(close: CloseUp) -> Iterator[Finding]:
    distance, reach = close.now.distance_mm, close.in_the_way_mm
    if not math.isfinite(distance):
        return
    foremost = max(close.layout.front, key=lambda p: -p.z_front_mm, default=None)
    if reach >= distance and foremost is not None:
        yield Finding(
            PartInTheWay(distance, reach, foremost.part.name), Severity.STOP, foremost.place,
            foremost.part.id, figure="closeup.working_distance_mm",
        )  # fmt: skip
    elif distance < close.needed_mm:
        yield Finding(
            TooCloseToLight(distance_mm=distance, reach_mm=reach), Severity.LOOK, figure="closeup.working_distance_mm"
        )


def _lenses(close: CloseUp) -> Iterator[Finding]:
    laid = [(p, p.part) for p in close.layout.front if isinstance(p.part, CloseUpLens)]
    system = close.system
    if not laid or system is None:
        return
    gain = close.now.magnification / close.bare.magnification if close.bare.magnification else math.nan
    for placed, lens in laid:
        label = TIMES.search(lens.name)
        if label is not None:
            yield Finding(
                TimesLabel(
                    label=label.group(0).strip(),
                    lens=lens.name,
                    dioptres=lens.dioptres.value,
                    magnification=close.now.magnification,
                    gain=gain,
                ),
                Severity.NOTE,
                placed.place,
                lens.id,
                figure="closeup.magnification",
                which=lens.id,
            )
    power = system.stack.dioptres
    if soft_corners([lens for _, lens in laid], power):
        placed, lens = next((p, lens) for p, lens in laid if not lens.achromat)
        yield Finding(
            SoftCorners(count=len(laid), dioptres=power), Severity.LOOK, placed.place, lens.id,
            figure="closeup.magnification",
        )  # fmt: skip
    powers = [lens.dioptres.value for _, lens in laid]
    if powers != sorted(powers, reverse=True):
        placed, strongest = max(laid, key=lambda item: item[1].dioptres.value)
        yield Finding(CloseUpOrder(lens=strongest.name), Severity.NOTE, placed.place, strongest.id)
    focal = system.near.far_focal_mm
    if focal < SHORT_FOCAL_MM and power <= STRONG_DIOPTRES:
        yield Finding(
            LongerGainsMore(magnification=focal * power / MM_PER_METRE), Severity.NOTE,
            laid[0][0].place, laid[0][1].id,
        )  # fmt: skip


def soft_corners(lenses: Sequence[CloseUpLens], dioptres: float) -> bool:
    """Whether close-up lenses of so much power together show colour and soft corners; achromats alone do not."""
    plain = any(not lens.achromat for lens in lenses)
    return plain and (dioptres > STRONG_DIOPTRES + 1e-6 or len(lenses) > MOST_LENSES)


def _light(close: CloseUp) -> Iterator[Finding]:
    n, limit = close.system.f_number if close.system else 0.0, close.diffraction_f_number
    if close.now.magnification > 0.0 and n > limit:
        yield Finding(
            Diffraction(f_number=n, effective=close.effective_f_number, limit=limit),
            Severity.LOOK if n > 2.0 * limit else Severity.NOTE,
            figure="closeup.diffraction_f_number",
        )
    share = close.crop_share
    if share is not None and close.equipped and share > 0.25:
        yield Finding(
            CropInstead(share=share, bare=close.bare.magnification), Severity.NOTE, figure="closeup.crop_share"
        )


def _assumed(close: CloseUp) -> Iterator[Finding]:
    system, lens = close.system, close.layout.optic
    assert system is not None
    near = system.near
    if near.basis is Basis.USUAL and close.equipped:
        yield Finding(
            ClosestFocusAssumed(lens=lens.name, magnification=near.magnification), Severity.LOOK,
            part=lens.id, figure="closeup.magnification", value="nearest_mm",
        )  # fmt: skip
    elif near.origin is Origin.ASSUMED and close.equipped and not system.reversed:
        yield Finding(
            PupilPlaceAssumed(lens=lens.name), Severity.NOTE, part=lens.id,
            figure="closeup.working_distance_mm", value="entrance_pupil_depth_mm",
        )  # fmt: skip
