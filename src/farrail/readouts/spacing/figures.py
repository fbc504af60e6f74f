"""The spacing figures with their working."""

from farrail.optics.focus import DEPTH_OF_FOCUS_SOURCE, depth_of_focus_mm
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.tolerances import SOURCE as STACK_SOURCE
from farrail.optics.tolerances import root_sum_square_mm, worst_case_mm
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import weakest
from farrail.readouts.figure import Figure, Working
from farrail.readouts.spacing.model import LAID_SOURCE, Spacing


def spacing_figures(s: Spacing) -> dict[str, Figure]:
    """Return all spacing figures by id, in reading order."""
    return {figure.id: figure for figure in _figures(s)}


def _figures(s: Spacing) -> list[Figure]:
    lengths = " + ".join(f"{line.length.value:.2f}" for line in s.lines) or "0"
    origin = weakest(line.length.origin for line in s.lines)
    figures = [
        Figure(
            "spacing.laid_mm", "laid distance", s.laid_mm, "mm",
            Working("Σ path lengths + flange to sensor", f"{lengths} = {s.laid_mm:.2f} mm", LAID_SOURCE), origin,
        )
    ]  # fmt: skip
    parts = " + ".join(g.glass.working for g in s.glass_lines if g.counted) or "no glass counted"
    if s.credit_mm:
        parts += f" − {s.credit_mm:.3f} already included by the optic"
    glass_origin = weakest(g.glass.origin for g in s.glass_lines if g.counted)
    figures.append(
        Figure(
            "spacing.glass_shift_mm", "glass shift", s.shift_mm, "mm",
            Working("Σ t·(1 − 1/n), paraxial", f"{parts}; sum {s.shift_mm:.3f} mm", PLATE_SOURCE), glass_origin,
        )
    )  # fmt: skip
    need, required, error = s.requirement, s.required_mm, s.error_mm
    if need is not None and required is not None:
        source = need.distance.in_use.note or f"{need.distance.origin} for {need.datum}"
        meant = s.extension
        also = f" + {' + '.join(f'{mm:.2f}' for mm in meant.lengths_mm)} meant" if meant.lengths_mm else ""
        figures.append(
            Figure(
                "spacing.required_mm", f"required ({need.name} + glass)", required, "mm",
                Working(
                    f"{need.name} + Σ glass shift{' + extension' if also else ''}",
                    f"{need.distance.value:.2f} + {s.shift_mm:.3f}{also} = {required:.3f} mm", source,
                ),
                weakest([need.distance.origin, glass_origin, meant.origin]),
            )
        )  # fmt: skip
    if error is not None and required is not None and s.error_range_mm is not None:
        low, high = s.error_range_mm
        spread = high - low > 1e-9
        figures.append(
            Figure(
                "spacing.error_mm", "laid less required", error, "mm",
                Working("laid − required", f"{s.laid_mm:.3f} − {required:.3f} = {error:+.3f} mm", LAID_SOURCE),
                s.provenance, low if spread else None, high if spread else None,
            )
        )  # fmt: skip
        figures.append(
            Figure(
                "spacing.spare_mm", "length still to fill", max(-error, 0.0), "mm",
                Working("required − laid, when short", f"{required:.3f} − {s.laid_mm:.3f}", LAID_SOURCE), s.provenance,
            )
        )  # fmt: skip
    figures += _tolerance_figures(s)
    if s.telescope_error_mm is not None:
        figures.append(_telescope_figure(s, s.telescope_error_mm))
    for item in s.filters:
        if error is not None:
            figures.append(
                Figure(
                    f"spacing.filter.{item.slot + 1}.{item.part}.error_mm", f"error with {item.label}", item.error_mm,
                    "mm",
                    Working(
                        "error − (shift of this filter − shift in the beam)",
                        f"{error:+.3f} − ({item.refocus_mm:+.3f}) = {item.error_mm:+.3f} mm", PLATE_SOURCE,
                    ),
                    s.provenance,
                )
            )  # fmt: skip
    return figures


def _tolerance_figures(s: Spacing) -> list[Figure]:
    written = " + ".join(f"{t:.2f}" for t in s.tolerances_mm) or "0"
    worst, likely = worst_case_mm(s.tolerances_mm), root_sum_square_mm(s.tolerances_mm)
    figures = [
        Figure(
            "spacing.stack_worst_mm", "stack-up, worst case", worst, "mm",
            Working("Σ tolerances", f"{written} = ±{worst:.3f} mm", STACK_SOURCE), s.provenance,
        ),
        Figure(
            "spacing.stack_rss_mm", "stack-up, 95 %", likely, "mm",
            Working("2·sqrt(Σt²/3), at most the worst case", f"±{likely:.3f} mm", STACK_SOURCE), s.provenance,
        ),
    ]  # fmt: skip
    if s.loosest is not None:
        what, half = s.loosest[1], s.loosest[2]
        figures.append(
            Figure(
                "spacing.measure_first", "measure first", what, "",
                Working("largest half width of all inputs", f"{what}: ±{half:.3f} mm", STACK_SOURCE), s.provenance,
            )
        )  # fmt: skip
    if s.tolerance_mm is not None and s.requirement is not None and s.requirement.tolerance is not None:
        tolerance = s.requirement.tolerance
        figures.append(
            Figure(
                "spacing.tolerance_mm", "spacing tolerance", s.tolerance_mm, "mm",
                Working("given for the optic", f"±{s.tolerance_mm:.2f} mm", tolerance.in_use.note or tolerance.origin),
                tolerance.origin,
            )
        )  # fmt: skip
    n = s.layout.first_order.f_number
    depth = depth_of_focus_mm(n.value)
    figures.append(
        Figure(
            "spacing.depth_of_focus_mm", "depth of focus at the sensor", depth, "mm",
            Working("±2λN², λ 550 nm", f"2·0.00055·{n.value:.3g}² = ±{depth:.4f} mm", DEPTH_OF_FOCUS_SOURCE), n.origin,
        )
    )  # fmt: skip
    if s.farthest_focus_mm is not None and s.error_mm is not None:
        focal = s.layout.optic.focal_length_mm
        figures.append(
            Figure(
                "spacing.farthest_focus_mm", "farthest focus", s.farthest_focus_mm, "mm",
                Working("f²/e", f"{focal.value:g}²/{s.error_mm:.3f} = {s.farthest_focus_mm:.0f} mm",
                        "conjugates in Newton's form, x·x′ = f²"),
                weakest([focal.origin, s.provenance]),
            )
        )  # fmt: skip
    return figures


def _telescope_figure(s: Spacing, error_mm: float) -> Figure:
    corrector = s.layout.corrector
    assert corrector is not None
    assert isinstance(corrector.part, Corrector)
    need = corrector.part.telescope_distance_mm
    assert need is not None
    laid = corrector.z_front_mm - s.layout.optic_rear_mm
    return Figure(
        "spacing.telescope_error_mm", "telescope to corrector, laid less required", error_mm, "mm",
        Working("laid − required", f"{laid:.2f} − {need.value:.2f} = {error_mm:+.2f} mm", LAID_SOURCE),
        weakest([need.origin, *(p.length.origin for p in s.layout.ahead_of_corrector)]),
    )  # fmt: skip
