"""Findings about light: what clips, which filter is too small, marginal or ample, and which unknown place matters."""

from collections.abc import Iterator

from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.provenance import Origin
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.light.model import Clearance, Light
from farrail.readouts.names import aperture_name
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
            yield _clip(c, figure, is_first=c is first)


def _severity(c: Clearance) -> Severity:
    if c.alone_stops >= STOP_STOPS:
        return Severity.STOP
    return Severity.LOOK if c.alone_stops >= LOOK_STOPS else Severity.NOTE


def _clip(c: Clearance, figure: str, *, is_first: bool) -> Finding:
    name = f"{c.placed.part.name}, {aperture_name(c.placed)},"
    order = "clips first" if is_first else "clips too"
    if c.placed.passes is not None:
        return Finding(
            f"light.clip:{c.placed.part.id}.{c.placed.key}", _severity(c),
            f"{name} shadows one side of the frame: {_stops(c)} there.",
            f"Its edge stands {c.has_mm / 2:.1f} mm from the axis; the frame's light reaches {c.needed_mm / 2:.1f} mm.",
            c.placed.part.id, figure=figure,
        )  # fmt: skip
    assumed = " Its clear aperture is assumed: measure it." if c.placed.diameter.origin is Origin.ASSUMED else ""
    return Finding(
        f"light.clip:{c.placed.part.id}.{c.placed.key}", _severity(c),
        f"{name} {order}: {_stops(c)} in the corner.",
        f"It is clear to {c.has_mm:.1f} mm and the corner needs {c.needed_mm:.1f} mm.{assumed}",
        c.placed.part.id, figure=figure,
    )  # fmt: skip


def _filter(c: Clearance, figure: str) -> Finding:
    name, part = c.placed.part.name, c.placed.part.id
    sizes = f"The corner needs {c.needed_mm:.1f} mm; it is clear to {c.has_mm:.1f} mm."
    if c.clips:
        text = f"{name} is too small: {_stops(c)} in the corner."
        return Finding(f"light.filter_too_small:{part}", _severity(c), text, sizes, part, figure=figure)
    if c.margin_mm < MARGINAL_MM:
        text = f"{name} is marginal: {c.margin_mm:.1f} mm to spare."
        return Finding(f"light.filter_marginal:{part}", Severity.LOOK, text, sizes, part, figure=figure)
    text = f"{name} is ample: {c.margin_mm:.1f} mm to spare."
    return Finding(f"light.filter_ample:{part}", Severity.NOTE, text, sizes, part, figure=figure)


def _unknown_place(c: Clearance, figure: str) -> Finding | None:
    """Judge an aperture of unknown place at its worse end; None where it clips wherever it sits."""
    name, part = c.placed.part.name, c.placed.part.id
    span = c.placed.z_high_mm - c.placed.z_low_mm
    key = f"{part}.{c.placed.key}"
    if not c.clips:
        return Finding(
            f"light.place_harmless:{key}", Severity.NOTE,
            f"{name} is fine wherever it sits: {c.margin_mm:.1f} to {c.margin_best_mm:.1f} mm to spare.",
            f"Its place is known to {span:.1f} mm only, and that needs no measurement.", part, figure=figure,
        )  # fmt: skip
    if c.margin_best_mm >= 0.0:
        return Finding(
            f"light.place_decides:{key}", Severity.LOOK,
            f"Whether {name} clips depends on where it sits: measure this.",
            f"{-c.margin_mm:.1f} mm too small at the worse end, {c.margin_best_mm:.1f} mm to spare at the better.",
            part, figure=figure,
        )  # fmt: skip
    return None


def _stops(c: Clearance) -> str:
    return "all light lost" if c.alone >= 1.0 else f"{c.alone_stops:.2f} stops lost"
