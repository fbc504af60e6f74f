"""The spacing figures in words."""

from farrail.optics.focus import DEPTH_OF_FOCUS_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.tolerances import SOURCE as STACK_SOURCE
from farrail.readouts.figure import Figure
from farrail.readouts.spacing.model import GlassLine, Line, Loosest
from farrail.text.names import datum_name, glass_name, line_name, requirement_name
from farrail.text.values import Values
from farrail.text.working import Teller, Told, told

LAID_SOURCE = "sum of shoulder-to-shoulder lengths"
TRAVEL_SOURCE = "focal plane at the inner stop + glass − laid distance"


def _laid(f: Figure, v: Values) -> Told:
    lengths = " + ".join(f"{mm:.2f}" for mm in v.lengths_mm) or "0"
    return told("laid distance", "Σ lengths + flange to sensor", f"{lengths} = {f.number:.2f} mm", LAID_SOURCE)


def _shift(f: Figure, v: Values) -> Told:
    parts = " + ".join(glass.working for glass in v.glass) or "no glass counted"
    if v.credit_mm:
        parts += f" − {v.credit_mm:.3f} already included by the optic"
    return told("glass shift", "Σ t·(1 − 1/n), paraxial", f"{parts}; sum {f.number:.3f} mm", PLATE_SOURCE)


def _required(f: Figure, v: Values) -> Told:
    need, name = v.requirement, requirement_name(v.requirement)
    meant = " + ".join(f"{mm:.2f}" for mm in v.extension_mm)
    also = f" + {meant} meant" if meant else ""
    return told(
        f"required ({name} + glass)", f"{name} + Σ glass shift{' + extension' if also else ''}",
        f"{need.distance.value:.2f} + {v.shift_mm:.3f}{also} = {f.number:.3f} mm",
        need.distance.in_use.note or f"{need.distance.origin} for {datum_name(need)}",
    )  # fmt: skip


def _error(f: Figure, v: Values) -> Told:
    numbers = f"{v.laid_mm:.3f} − {v.required_mm:.3f} = {f.number:+.3f} mm"
    return told("laid less required", "laid − required", numbers, LAID_SOURCE)


def _spare(_: Figure, v: Values) -> Told:
    numbers = f"{v.required_mm:.3f} − {v.laid_mm:.3f}"
    return told("length still to fill", "required − laid, when short", numbers, LAID_SOURCE)


def _worst(f: Figure, v: Values) -> Told:
    written = " + ".join(f"{t:.2f}" for t in v.tolerances_mm) or "0"
    return told("stack-up, worst case", "Σ tolerances", f"{written} = ±{f.number:.3f} mm", STACK_SOURCE)


def _likely(f: Figure, v: Values) -> Told:
    return told("stack-up, 95 %", "2·sqrt(Σt²/3), at most the worst case", f"±{f.number:.3f} mm", STACK_SOURCE)


def loosest_name(loosest: Loosest) -> str:
    """Return what spreads the error most."""
    if isinstance(loosest.of, Line):
        return f"length of {line_name(loosest.of)}"
    return f"glass of {glass_name(loosest.of)}" if isinstance(loosest.of, GlassLine) else requirement_name(loosest.of)


def _measure_first(_: Figure, v: Values) -> Told:
    what = loosest_name(v.loosest)
    numbers = f"{what}: ±{v.loosest.half_width_mm:.3f} mm"
    return told("measure first", "largest half width of all inputs", numbers, STACK_SOURCE, what)


def _tolerance(f: Figure, v: Values) -> Told:
    source = v.tolerance.in_use.note or v.tolerance.origin
    return told("spacing tolerance", "given for the optic", f"±{f.number:.2f} mm", source)


def _depth_of_focus(f: Figure, v: Values) -> Told:
    numbers = f"2·0.00055·{v.f_number:.3g}² = ±{f.number:.4f} mm"
    return told("depth of focus at the sensor", "±2λN², λ 550 nm", numbers, DEPTH_OF_FOCUS_SOURCE)


def _farthest(f: Figure, v: Values) -> Told:
    numbers = f"{v.focal_mm:g}²/{v.error_mm:.3f} = {f.number:.0f} mm"
    return told("farthest focus", "f²/e", numbers, "conjugates in Newton's form, x·x′ = f²")


def _telescope(f: Figure, v: Values) -> Told:
    numbers = f"{v.laid_mm:.2f} − {v.required_mm:.2f} = {f.number:+.2f} mm"
    return told("telescope to corrector, laid less required", "laid − required", numbers, LAID_SOURCE)


def _filter(f: Figure, v: Values) -> Told:
    numbers = f"{v.error_mm:+.3f} − ({v.refocus_mm:+.3f}) = {f.number:+.3f} mm"
    return told(f"error with {v.filter}", "error − (shift of this filter − shift in the beam)", numbers, PLATE_SOURCE)


def _travel(f: Figure, v: Values) -> Told:
    limit = "" if v.travel_mm is None else f", of {v.travel_mm:g} mm"
    return told(
        "focuser drawn out by", "focal plane racked in + glass − datum to sensor", f"{f.number:+.2f} mm{limit}",
        TRAVEL_SOURCE,
    )  # fmt: skip


def _guide(f: Figure, v: Values) -> Told:
    g = v.guide
    numbers = (
        f"{g.to_sensor_mm:.2f} from prism to sensor − {g.glass_mm:.2f} glass behind it + {g.own_mm:.2f} the prism's "
        f"own − {g.port_mm:.2f} to the port = {g.spacing_mm:.2f} mm"
    )
    return told(
        f"guide sensor behind the port of {g.name}", "the same focus through the prism", numbers,
        "equal optical distance from the datum",
    )  # fmt: skip


TELLERS: dict[str, Teller] = {
    "spacing.laid_mm": _laid,
    "spacing.glass_shift_mm": _shift,
    "spacing.required_mm": _required,
    "spacing.error_mm": _error,
    "spacing.spare_mm": _spare,
    "spacing.stack_worst_mm": _worst,
    "spacing.stack_rss_mm": _likely,
    "spacing.measure_first": _measure_first,
    "spacing.tolerance_mm": _tolerance,
    "spacing.depth_of_focus_mm": _depth_of_focus,
    "spacing.farthest_focus_mm": _farthest,
    "spacing.telescope_error_mm": _telescope,
    "spacing.filter.*.error_mm": _filter,
    "spacing.focuser_travel_mm": _travel,
    "spacing.guide.*_mm": _guide,
}
