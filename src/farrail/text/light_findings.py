"""Sentences about light and field."""

from collections.abc import Callable

from farrail.language import say
from farrail.parts.provenance import Origin
from farrail.readouts.light.model import Clearance
from farrail.text.names import whole_name
from farrail.text.range_findings import unknown_name
from farrail.text.values import Values

Told = tuple[str, str]
# Less than this is no loss in words.
LEAST_LOSS_STOPS = 0.005


def _stops(c: Clearance) -> str:
    return say("all light lost") if c.alone >= 1.0 else say("{alone_stops:.2f} stops lost", alone_stops=c.alone_stops)


def _over_range(v: Values) -> Told:
    """Return what an aperture does over the interval of what is not known."""
    c, (low, high) = v.clearance, v.range_stops
    between = say("{low:.2f} to {high}", low=low, high=_lost_name(high))
    title = (
        say("{name} may darken the corner: {between}.", name=whole_name(c.placed), between=between)
        if low < LEAST_LOSS_STOPS
        else say("{name} darkens the corner: {between}.", name=whole_name(c.placed), between=between)
    )
    first = say("Enter or measure first: {unknown}.", unknown=unknown_name(v)) if v.named else ""
    if v.range_needed_mm is None or c.placed.passes is not None:
        return title, first
    low_mm, high_mm = v.range_needed_mm
    sizes = say(
        "Clear aperture needed {low_mm:.1f length} to {high_mm:.1f mm}, actual {has_mm:.1f mm}.",
        low_mm=low_mm,
        high_mm=high_mm,
        has_mm=c.has_mm,
    )
    return title, f"{sizes} {first}".strip()


def _lost_name(stops: float) -> str:
    return say("all light lost") if stops == float("inf") else say("{stops:.2f} stops lost", stops=stops)


def _clip(v: Values) -> Told:
    if v.ranged:
        return _over_range(v)
    c = v.clearance
    name = f"{whole_name(c.placed)},"
    if c.placed.passes is not None:
        return (
            say("{name} shadows one side of the frame: {stops} there.", name=name, stops=_stops(c)),
            say(
                "Its edge is {has_mm:.1f mm} from the axis; the frame's light reaches {needed_mm:.1f mm}.",
                has_mm=c.has_mm / 2,
                needed_mm=c.needed_mm / 2,
            ),
        )
    order = say("costs most") if v.first else say("clips too")
    assumed = say(" Its clear aperture is assumed: measure it.") if c.placed.diameter.origin is Origin.ASSUMED else ""
    return (
        say("{name} {order}: {stops} in the corner.", name=name, order=order, stops=_stops(c)),
        say(
            "It is clear to {has_mm:.1f mm} and the corner needs {needed_mm:.1f mm}.{assumed}",
            has_mm=c.has_mm,
            needed_mm=c.needed_mm,
            assumed=assumed,
        ),
    )


def _stop(v: Values) -> Told:
    measure = say(" Its clear aperture is assumed: measure it.") if v.assumed else ""
    return (
        say(
            "{part} is the aperture stop: f/{effective:.2f} instead of f/{f_number:.3g}, {stops:.2f} stops less light.",
            part=v.part,
            effective=v.effective,
            f_number=v.f_number,
            stops=v.stops,
        ),
        say(
            "Its clear aperture of {has_mm:.1f mm} limits the beam on the axis; vignetting is counted against that."
            "{measure}",
            has_mm=v.has_mm,
            measure=measure,
        ),
    )


def _sizes(c: Clearance) -> str:
    return say(
        "The corner needs {needed_mm:.1f mm}; it is clear to {has_mm:.1f mm}.", needed_mm=c.needed_mm, has_mm=c.has_mm
    )


def _too_small(v: Values) -> Told:
    if v.ranged:
        return _over_range(v)
    c = v.clearance
    return say("{name} is too small: {stops} in the corner.", name=c.placed.part.name, stops=_stops(c)), _sizes(c)


def _marginal(v: Values) -> Told:
    c = v.clearance
    return say(
        "{name} is marginal: {margin_mm:.1f mm} to spare.", name=c.placed.part.name, margin_mm=c.margin_mm
    ), _sizes(c)


def _ample(v: Values) -> Told:
    c = v.clearance
    return say("{name} is ample: {margin_mm:.1f mm} to spare.", name=c.placed.part.name, margin_mm=c.margin_mm), _sizes(
        c
    )


def _harmless(v: Values) -> Told:
    c = v.clearance
    span = c.placed.z_high_mm - c.placed.z_low_mm
    return (
        say(
            "{name} is large enough wherever the filter sits (margin {margin_mm:.1f length} to "
            "{margin_best_mm:.1f mm}).",
            name=c.placed.part.name,
            margin_mm=c.margin_mm,
            margin_best_mm=c.margin_best_mm,
        ),
        say("The filter position is only known within {span:.1f mm}, but that does not matter here.", span=span),
    )


def _decides(v: Values) -> Told:
    c = v.clearance
    return (
        say("Whether {name} clips depends on where it sits: measure this.", name=c.placed.part.name),
        say(
            "{margin_mm:.1f mm} too small at the worse end, {margin_best_mm:.1f mm} to spare at the better.",
            margin_mm=-c.margin_mm,
            margin_best_mm=c.margin_best_mm,
        ),
    )


def _circle(v: Values) -> Told:
    circle = v.circle
    return (
        say("The sensor's diagonal is {margin_mm:.1f mm} larger than the image circle.", margin_mm=-circle.margin_mm),
        say(
            "Image circle {value:.1f mm}, frame diagonal {diagonal_mm:.1f length}: "
            "{covered:.0f} % of the frame is inside. Crop to that, or use a smaller sensor.",
            diagonal_mm=circle.diagonal_mm,
            value=circle.diameter.value,
            covered=100 * circle.covered,
        ),
    )


def _filter_masked(v: Values) -> Told:
    mask, c = v.mask, v.clearance
    lacks = (
        say("{margin_mm:.1f mm} too narrow", margin_mm=-mask.margin_mm)
        if mask.clips
        else say("only {margin_mm:.1f mm} to spare", margin_mm=mask.margin_mm)
    )
    return (
        say("The seat that holds {name} decides, not the filter: {lacks}.", name=c.placed.part.name, lacks=lacks),
        say(
            "{name} leaves {has_mm:.1f mm} there, and {needed_mm:.1f mm} are needed; a larger "
            "filter alone does not help.",
            name=mask.placed.part.name,
            has_mm=mask.has_mm,
            needed_mm=mask.needed_mm,
        ),
    )


def _narrowband(v: Values) -> Told:
    band = v.band
    where = "" if band.in_beam else say(", once it is turned into the beam")
    corner = "" if band.corner is None else say(" and {corner:.0f} % in the frame's corner", corner=100 * band.corner)
    return (
        say(
            "{name} passes {passes:.0f} % of its own line in the middle{corner}{where}.",
            name=band.name,
            passes=100 * band.passes,
            corner=corner,
            where=where,
        ),
        say(
            "At f/{f_number:.3g} the cone shifts its passband of {width_nm:g} nm by "
            "{mean_nm:.2f} nm on average and {edge_nm:.2f} nm at the edge. Use a wider one, "
            "one made for fast optics, or stop down.",
            f_number=band.f_number,
            mean_nm=band.mean_nm,
            edge_nm=band.edge_nm,
            width_nm=band.width_nm,
        ),
    )


def _aberration(v: Values) -> Told:
    return (
        say(
            "The glass in the beam adds {aberration_um:.0f} µm of spherical aberration.", aberration_um=v.aberration_um
        ),
        say(
            "Refocusing compensates up to {tolerable_um:.0f} µm at this f-number; use thinner glass.",
            tolerable_um=v.tolerable_um,
        ),
    )


def _focal(v: Values) -> Told:
    return (
        say(
            "{part} makes {magnification:.0f} mm of {focal_mm:g} mm.",
            part=v.part,
            magnification=v.focal_mm * v.power.magnification,
            focal_mm=v.focal_mm,
        ),
        say(
            "At {distance_mm:.1f mm} before the sensor it works at {magnification:.3f}×; the distance changes that.",
            distance_mm=v.power.distance_mm,
            magnification=v.power.magnification,
        ),
    )


def _shadow(v: Values) -> Told:
    if v.hidden:
        return (
            say("The train is within the shadow of the mirror's own obstruction: no extra light is lost."),
            say("{part}, its widest part, is narrower than that.", part=v.part),
        )
    return (
        say(
            "The train blocks {share:.1f} % of the mirror's light; {part} is its widest part.",
            share=100 * v.share,
            part=v.part,
        ),
        say("Everything ahead of the mirror is in its light; a narrower part there loses less."),
    )


def _tilt_plate(v: Values) -> Told:
    return (
        say(
            "{part} tilts up to {most_deg:g}°: it moves a corner by {moved_um:.0f} µm at most.",
            part=v.part,
            most_deg=v.most_deg,
            moved_um=v.moved_um,
        ),
        say(
            "{allowed_deg:.3f}° keep the corners in focus. Begin with its plates parallel; stars "
            "long on one side of the frame say which screw to turn.",
            allowed_deg=v.allowed_deg,
        ),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "light.stop": _stop,
    "light.clip": _clip,
    "light.filter_too_small": _too_small,
    "light.filter_marginal": _marginal,
    "light.filter_ample": _ample,
    "light.place_harmless": _harmless,
    "light.place_decides": _decides,
    "light.sensor_larger_than_circle": _circle,
    "light.filter_masked": _filter_masked,
    "light.narrowband_in_fast_cone": _narrowband,
    "light.plate_aberration": _aberration,
    "light.tilt_plate": _tilt_plate,
    "light.effective_focal_length": _focal,
    "light.train_shadow": _shadow,
}
