"""Findings about light: what clips, which filter is too small, marginal or ample, and which unknown place matters."""

from collections.abc import Iterator

from farrail.parts.kinds.filters import RoundFilter
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.light.model import Clearance, Light
from farrail.train.train import Side

# Losses in stops at which a darkened corner deserves a look, and stops a train; common practice, no source.
LOOK_STOPS = 0.05
STOP_STOPS = 1.0
# Spare diameter below which a filter is called marginal; common practice, no source.
MARGINAL_MM = 1.0


def light_findings(light: Light) -> Iterator[Finding]:
    """Yield the findings about a train's light."""
    first = light.first_to_clip
    for number, c in enumerate(light.clearances, start=1):
        if c.placed.side is Side.FRONT:
            continue  # the front stack has findings of its own
        figure = f"light.needed.{number}.{c.placed.part.id}_mm"
        if c.placed.place_unknown and (finding := _unknown_place(c, figure)) is not None:
            yield finding
        elif isinstance(c.placed.part, RoundFilter):
            yield _filter(c, figure)
        elif c.clips and (c is first or c.alone_stops >= LOOK_STOPS):
            which = f"{c.placed.part.id}.{c.placed.key}"
            yield _about(c, "light.clip", _severity(c), figure, which, first=c is first)


def _about(c: Clearance, kind: str, severity: Severity, figure: str, which: str, *, first: bool = False) -> Finding:
    values = {"clearance": c, "first": first}
    return Finding(kind, severity, values, c.placed.place, c.placed.part.id, figure=figure, which=which)


def _severity(c: Clearance) -> Severity:
    if c.alone_stops >= STOP_STOPS:
        return Severity.STOP
    return Severity.LOOK if c.alone_stops >= LOOK_STOPS else Severity.NOTE


def _filter(c: Clearance, figure: str) -> Finding:
    part = c.placed.part.id
    if c.clips:
        return _about(c, "light.filter_too_small", _severity(c), figure, part)
    if c.margin_mm < MARGINAL_MM:
        return _about(c, "light.filter_marginal", Severity.LOOK, figure, part)
    return _about(c, "light.filter_ample", Severity.NOTE, figure, part)


def _unknown_place(c: Clearance, figure: str) -> Finding | None:
    """Judge an aperture of unknown place at its worse end; None where it clips wherever it sits."""
    which = f"{c.placed.part.id}.{c.placed.key}"
    if not c.clips:
        return _about(c, "light.place_harmless", Severity.NOTE, figure, which)
    if c.margin_best_mm >= 0.0:
        return _about(c, "light.place_decides", Severity.LOOK, figure, which)
    return None
