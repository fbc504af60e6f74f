"""Findings about light: what clips, which filter is too small, marginal or ample, and which unknown place matters."""

from collections.abc import Iterator

from farrail.parts.in_beam import ApertureRole
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.origin import Origin
from farrail.readouts.finding import Finding, FindingText, Severity
from farrail.readouts.light.guide import guide_lights
from farrail.readouts.light.messages import (
    Clips,
    FilterAmple,
    FilterMarginal,
    FilterMasked,
    FilterTooSmall,
    GuideDarkened,
    PlaceDecides,
    PlaceHarmless,
    StopsDown,
)
from farrail.readouts.light.model import Clearance, Light
from farrail.train.train import Side

# Losses in stops at which a darkened corner deserves a look, and stops a train; common practice, no source.
LOOK_STOPS = 0.05
STOP_STOPS = 1.0
# A guide star that loses so much is hard to find on nights with few; our own choice, no source.
GUIDE_STOPS = 0.75
# Spare diameter below which a filter is called marginal; common practice, no source.
MARGINAL_MM = 1.0


def light_findings(light: Light) -> Iterator[Finding]:
    """Yield the findings about a train's light."""
    yield from _stop(light)
    yield from _guide(light)
    first = light.limiting
    for number, c in enumerate(light.clearances, start=1):
        if c.placed.side is Side.FRONT:
            continue  # the front stack has findings of its own
        figure = f"light.needed.{number}.{c.placed.part.id}_mm"
        if c.placed.place_unknown and (finding := _unknown_place(c, figure)) is not None:
            yield finding
        elif isinstance(c.placed.part, RoundFilter):
            if c.placed.role in (ApertureRole.FRONT_END, ApertureRole.REAR_END) and not c.clips:
                continue  # rims that clear the light need no word beside the glass
            yield _filter(c, figure, _mask_of(light, c))
        elif c.clips and (c is first or c.alone_stops >= LOOK_STOPS):
            which = f"{c.placed.part.id}.{c.placed.key}"
            yield _about(c, Clips(c, c is first), _severity(c), figure, which)


def _stop(light: Light) -> Iterator[Finding]:
    """Yield what stops the beam on the axis, ahead of the lens or behind it."""
    order = light.layout.first_order
    stop = order.stop
    if stop is None or stop.stops < LOOK_STOPS:
        return
    meant = stop.aperture.side is Side.FRONT
    severity = Severity.NOTE if meant else Severity.LOOK
    yield Finding(
        StopsDown(
            part=stop.aperture.part.name,
            stops=stop.stops,
            f_number=order.f_number.value,
            effective=order.effective_f_number.value,
            assumed=stop.origin is Origin.ASSUMED,
            has_mm=stop.aperture.diameter.value,
        ),
        severity,
        stop.aperture.place,
        stop.aperture.part.id,
        figure="light.f_number",
    )


def _guide(light: Light) -> Iterator[Finding]:
    """Yield what darkens a guide star enough to be missed."""
    for one in guide_lights(light):
        if one.tightest is not None and one.stops >= GUIDE_STOPS:
            yield Finding(
                GuideDarkened(one), Severity.LOOK, one.tightest.place, one.tightest.part.id,
                figure=f"light.guide.{one.prism.part.id}_stops", which=one.prism.part.id,
            )  # fmt: skip


def _about(c: Clearance, said: FindingText, severity: Severity, figure: str, which: str) -> Finding:
    return Finding(said, severity, c.placed.place, c.placed.part.id, figure=figure, which=which)


def _severity(c: Clearance) -> Severity:
    if c.alone_stops >= STOP_STOPS:
        return Severity.STOP
    return Severity.LOOK if c.alone_stops >= LOOK_STOPS else Severity.NOTE


def _mask_of(light: Light, c: Clearance) -> Clearance | None:
    """Return the mask or ledge that holds a filter in its seat where that is tighter than the filter itself."""
    same = [o for o in light.clearances if o.placed.role is ApertureRole.SEAT and o.placed.place == c.placed.place]
    tighter = [o for o in same if o.margin_mm < c.margin_mm]
    return min(tighter, key=lambda o: o.margin_mm, default=None)


def _filter(c: Clearance, figure: str, mask: Clearance | None = None) -> Finding:
    part = c.placed.part.id
    if mask is not None and mask.margin_mm < MARGINAL_MM and not c.clips:
        # The narrowest speaks: a wide filter behind a narrow mask is not to spare.
        severity = Severity.LOOK if mask.clips else Severity.NOTE
        return Finding(FilterMasked(clearance=c, mask=mask), severity, c.placed.place, part, figure=figure, which=part)
    if c.clips:
        return _about(c, FilterTooSmall(c), _severity(c), figure, part)
    if c.margin_mm < MARGINAL_MM:
        return _about(c, FilterMarginal(c), Severity.LOOK, figure, part)
    return _about(c, FilterAmple(c), Severity.NOTE, figure, part)


def _unknown_place(c: Clearance, figure: str) -> Finding | None:
    """Judge an aperture of unknown place at its worse end; None where it clips wherever it sits."""
    which = f"{c.placed.part.id}.{c.placed.key}"
    if not c.clips:
        return _about(c, PlaceHarmless(c), Severity.NOTE, figure, which)
    if c.margin_best_mm >= 0.0:
        return _about(c, PlaceDecides(c), Severity.LOOK, figure, which)
    return None
