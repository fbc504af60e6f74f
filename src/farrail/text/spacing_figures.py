"""The spacing figures in words."""

from farrail.language import N_, say
from farrail.optics.focus import DEPTH_OF_FOCUS_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.tolerances import SOURCE as STACK_SOURCE
from farrail.quantities import Values
from farrail.readouts.figure import Figure
from farrail.readouts.spacing.model import GlassLine, Line, Loosest
from farrail.readouts.spacing.names import datum_name, glass_name, line_name, requirement_name
from farrail.text.working import Teller, Told, told

LAID_SOURCE = N_("sum of shoulder-to-shoulder lengths")
TRAVEL_SOURCE = N_("focal plane at the inner stop + glass − actual distance")


def _laid(f: Figure, v: Values) -> Told:
    lengths = " + ".join(say("{mm:.2f}", mm=mm) for mm in v.lengths_mm) or "0"
    return told(
        say("actual distance"),
        say("Σ lengths + flange to sensor"),
        say("{lengths} = {number:.2f} mm", lengths=lengths, number=f.number),
        LAID_SOURCE,
    )


def _shift(f: Figure, v: Values) -> Told:
    parts = " + ".join(glass.working for glass in v.glass) or say("no glass counted")
    if v.credit_mm:
        parts += say(" − {credit_mm:.3f} already included by the optic", credit_mm=v.credit_mm)
    return told(
        say("glass shift"),
        say("Σ t·(1 − 1/n), paraxial"),
        say("{parts}; sum {number:.3f} mm", parts=parts, number=f.number),
        PLATE_SOURCE,
    )


def _required(f: Figure, v: Values) -> Told:
    need, name = v.requirement, requirement_name(v.requirement)
    meant = " + ".join(say("{mm:.2f}", mm=mm) for mm in v.extension_mm)
    also = say(" + {meant} meant", meant=meant) if meant else ""
    return told(
        say("required ({name} + glass)", name=name),
        say("{name} + Σ glass shift{also}", name=name, also=say(" + extension") if also else ""),
        say(
            "{value:.2f} + {shift_mm:.3f}{also} = {number:.3f} mm",
            value=need.distance.value,
            shift_mm=v.shift_mm,
            also=also,
            number=f.number,
        ),
        need.distance.in_use.note
        or say("{origin} for {datum_name}", origin=need.distance.origin, datum_name=datum_name(need)),
    )


def _error(f: Figure, v: Values) -> Told:
    numbers = say(
        "{laid_mm:.3f} − {required_mm:.3f} = {number:+.3f} mm",
        laid_mm=v.laid_mm,
        required_mm=v.required_mm,
        number=f.number,
    )
    return told(say("error (actual − required)"), say("actual − required"), numbers, LAID_SOURCE)


def _spare(_: Figure, v: Values) -> Told:
    numbers = say("{required_mm:.3f} − {laid_mm:.3f}", required_mm=v.required_mm, laid_mm=v.laid_mm)
    return told(say("length still to fill"), say("required − actual, if too short"), numbers, LAID_SOURCE)


def _worst(f: Figure, v: Values) -> Told:
    written = " + ".join(say("{t:.2f}", t=t) for t in v.tolerances_mm) or "0"
    return told(
        say("stack-up, worst case"),
        say("Σ tolerances"),
        say("{written} = ±{number:.3f} mm", written=written, number=f.number),
        STACK_SOURCE,
    )


def _likely(f: Figure, v: Values) -> Told:
    return told(
        say("stack-up, 95 %"),
        say("2·sqrt(Σt²/3), at most the worst case"),
        say("±{number:.3f} mm", number=f.number),
        STACK_SOURCE,
    )


def loosest_name(loosest: Loosest) -> str:
    """Return what spreads the error most."""
    if isinstance(loosest.of, Line):
        return say("length of {line_name}", line_name=line_name(loosest.of))
    return (
        say("glass of {glass_name}", glass_name=glass_name(loosest.of))
        if isinstance(loosest.of, GlassLine)
        else requirement_name(loosest.of)
    )


def _measure_first(_: Figure, v: Values) -> Told:
    what = loosest_name(v.loosest)
    numbers = say("{what}: ±{half_width_mm:.3f} mm", what=what, half_width_mm=v.loosest.half_width_mm)
    return told(say("measure first"), say("largest half width of all inputs"), numbers, STACK_SOURCE, what)


def _tolerance(f: Figure, v: Values) -> Told:
    source = v.tolerance.in_use.note or v.tolerance.origin
    return told(say("spacing tolerance"), say("given for the optic"), say("±{number:.2f} mm", number=f.number), source)


def _depth_of_focus(f: Figure, v: Values) -> Told:
    numbers = say("2·0.00055·{f_number:.3g}² = ±{number:.4f} mm", f_number=v.f_number, number=f.number)
    return told(say("depth of focus at the sensor"), say("±2λN², λ 550 nm"), numbers, DEPTH_OF_FOCUS_SOURCE)


def _farthest(f: Figure, v: Values) -> Told:
    numbers = say(
        "{focal_mm:g}²/{error_mm:.3f} = {number:.0f} mm", focal_mm=v.focal_mm, error_mm=v.error_mm, number=f.number
    )
    return told(say("farthest focus"), "f²/e", numbers, say("conjugates in Newton's form, x·x′ = f²"))


def _telescope(f: Figure, v: Values) -> Told:
    numbers = say(
        "{laid_mm:.2f} − {required_mm:.2f} = {number:+.2f} mm",
        laid_mm=v.laid_mm,
        required_mm=v.required_mm,
        number=f.number,
    )
    return told(say("telescope to corrector, actual − required"), say("actual − required"), numbers, LAID_SOURCE)


def _filter(f: Figure, v: Values) -> Told:
    numbers = say(
        "{error_mm:+.3f} − ({refocus_mm:+.3f}) = {number:+.3f} mm",
        error_mm=v.error_mm,
        refocus_mm=v.refocus_mm,
        number=f.number,
    )
    return told(
        say("error with {filter}", filter=v.filter),
        say("error − (shift of this filter − shift in the beam)"),
        numbers,
        PLATE_SOURCE,
    )


def _travel(f: Figure, v: Values) -> Told:
    limit = "" if v.travel_mm is None else say(", of {travel_mm:g} mm", travel_mm=v.travel_mm)
    return told(
        say("focuser drawn out by"),
        say("focal plane racked in + glass − datum to sensor"),
        say("{number:+.2f} mm{limit}", number=f.number, limit=limit),
        TRAVEL_SOURCE,
    )


def _guide(f: Figure, v: Values) -> Told:
    g = v.guide
    numbers = say(
        "{to_sensor_mm:.2f} from prism to sensor − {glass_mm:.2f} glass behind it + "
        "{own_mm:.2f} the prism's own − {port_mm:.2f} to the port = {spacing_mm:.2f} mm",
        to_sensor_mm=g.to_sensor_mm,
        glass_mm=g.glass_mm,
        own_mm=g.own_mm,
        port_mm=g.port_mm,
        spacing_mm=g.spacing_mm,
    )
    return told(
        say("guide sensor behind the port of {name}", name=g.name), say("the same focus through the prism"), numbers,
        say("equal optical distance from the datum"),
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
