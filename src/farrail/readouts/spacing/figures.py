"""The spacing figures with what their working needs."""

from collections.abc import Iterator

from farrail.optics.focus import depth_of_focus_mm
from farrail.optics.tolerances import root_sum_square_mm, worst_case_mm
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import weakest
from farrail.readouts.figure import Figure
from farrail.readouts.spacing.figure_texts import (
    ActualDistance,
    DepthOfFocus,
    FarthestFocus,
    FilterError,
    GlassShift,
    LengthToFill,
    MeasureFirst,
    RequiredDistance,
    SpacingError,
    SpacingTolerance,
    StackUpLikely,
    StackUpWorst,
    TelescopeError,
)
from farrail.readouts.spacing.model import Spacing


def spacing_figures(s: Spacing) -> dict[str, Figure]:
    """Return all spacing figures by id, in reading order."""
    return {figure.id: figure for figure in _figures(s)}


def _figures(s: Spacing) -> Iterator[Figure]:
    lengths = tuple(line.length.value for line in s.lines)
    yield Figure(ActualDistance(lengths_mm=lengths), s.actual_mm, weakest(line.length.origin for line in s.lines))
    counted = tuple(g.glass for g in s.glass_lines if g.counted)
    glass_origin = weakest(glass.origin for glass in counted)
    yield Figure(GlassShift(glass=counted, credit_mm=s.credit_mm), s.shift_mm, glass_origin)
    need, required, error = s.requirement, s.required_mm, s.error_mm
    if need is not None and required is not None:
        yield Figure(
            RequiredDistance(requirement=need, shift_mm=s.shift_mm, extension_mm=s.extension.lengths_mm),
            required,
            weakest([need.distance.origin, glass_origin, s.extension.origin]),
        )
    if error is not None and required is not None and s.error_range_mm is not None:
        low, high = s.error_range_mm
        spread = high - low > 1e-9
        yield Figure(
            SpacingError(actual_mm=s.actual_mm, required_mm=required),
            error,
            s.provenance,
            low if spread else None,
            high if spread else None,
        )
        yield Figure(LengthToFill(actual_mm=s.actual_mm, required_mm=required), max(-error, 0.0), s.provenance)
    yield from _tolerance_figures(s)
    yield from _telescope_figure(s)
    if error is not None:
        for item in s.filters:
            yield Figure(
                FilterError(filter=item.label, error_mm=error, refocus_mm=item.refocus_mm), item.error_mm, s.provenance,
                which=f"{item.slot + 1}.{item.part}",
            )  # fmt: skip


def _tolerance_figures(s: Spacing) -> Iterator[Figure]:
    yield Figure(StackUpWorst(tolerances_mm=s.tolerances_mm), worst_case_mm(s.tolerances_mm), s.provenance)
    yield Figure(StackUpLikely(), root_sum_square_mm(s.tolerances_mm), s.provenance)
    if s.loosest is not None:
        yield Figure(MeasureFirst(loosest=s.loosest), s.loosest.part, s.provenance)
    if s.tolerance_mm is not None and s.requirement is not None and s.requirement.tolerance is not None:
        tolerance = s.requirement.tolerance
        yield Figure(SpacingTolerance(tolerance=tolerance), s.tolerance_mm, tolerance.origin)
    n = s.layout.first_order.effective_f_number
    yield Figure(DepthOfFocus(f_number=n.value), depth_of_focus_mm(n.value), n.origin)
    if s.farthest_focus_mm is not None and s.error_mm is not None:
        focal = s.layout.optic.focal_length_mm
        yield Figure(
            FarthestFocus(focal_mm=focal.value, error_mm=s.error_mm),
            s.farthest_focus_mm,
            weakest([focal.origin, s.provenance]),
        )


def _telescope_figure(s: Spacing) -> Iterator[Figure]:
    corrector, error = s.layout.corrector, s.telescope_error_mm
    if error is None or corrector is None or not isinstance(corrector.part, Corrector):
        return
    need = corrector.part.telescope_distance_mm
    assert need is not None
    laid = corrector.z_front_mm - s.layout.optic_rear_mm
    yield Figure(
        TelescopeError(actual_mm=laid, required_mm=need.value), error,
        weakest([need.origin, *(p.length.origin for p in s.layout.ahead_of_corrector)]),
    )  # fmt: skip
