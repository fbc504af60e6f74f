"""Sentences about light and field."""

from collections.abc import Callable

from farrail.parts.provenance import Origin
from farrail.readouts.light.model import Clearance
from farrail.text.names import whole_name
from farrail.text.values import Values

Told = tuple[str, str]


def _stops(c: Clearance) -> str:
    return "all light lost" if c.alone >= 1.0 else f"{c.alone_stops:.2f} stops lost"


def _clip(v: Values) -> Told:
    c = v.clearance
    name = f"{whole_name(c.placed)},"
    if c.placed.passes is not None:
        return (
            f"{name} shadows one side of the frame: {_stops(c)} there.",
            f"Its edge stands {c.has_mm / 2:.1f} mm from the axis; the frame's light reaches {c.needed_mm / 2:.1f} mm.",
        )
    order = "takes most" if v.first else "clips too"
    assumed = " Its clear aperture is assumed: measure it." if c.placed.diameter.origin is Origin.ASSUMED else ""
    return (
        f"{name} {order}: {_stops(c)} in the corner.",
        f"It is clear to {c.has_mm:.1f} mm and the corner needs {c.needed_mm:.1f} mm.{assumed}",
    )


def _sizes(c: Clearance) -> str:
    return f"The corner needs {c.needed_mm:.1f} mm; it is clear to {c.has_mm:.1f} mm."


def _too_small(v: Values) -> Told:
    c = v.clearance
    return f"{c.placed.part.name} is too small: {_stops(c)} in the corner.", _sizes(c)


def _marginal(v: Values) -> Told:
    c = v.clearance
    return f"{c.placed.part.name} is marginal: {c.margin_mm:.1f} mm to spare.", _sizes(c)


def _ample(v: Values) -> Told:
    c = v.clearance
    return f"{c.placed.part.name} is ample: {c.margin_mm:.1f} mm to spare.", _sizes(c)


def _harmless(v: Values) -> Told:
    c = v.clearance
    span = c.placed.z_high_mm - c.placed.z_low_mm
    return (
        f"{c.placed.part.name} is fine wherever it sits: {c.margin_mm:.1f} to {c.margin_best_mm:.1f} mm to spare.",
        f"Its place is known to {span:.1f} mm only, and that needs no measurement.",
    )


def _decides(v: Values) -> Told:
    c = v.clearance
    return (
        f"Whether {c.placed.part.name} clips depends on where it sits: measure this.",
        f"{-c.margin_mm:.1f} mm too small at the worse end, {c.margin_best_mm:.1f} mm to spare at the better.",
    )


def _circle(v: Values) -> Told:
    circle = v.circle
    return (
        f"The sensor's diagonal is {-circle.margin_mm:.1f} mm larger than the image circle.",
        f"{circle.diagonal_mm:.1f} against {circle.diameter.value:.1f} mm: {100 * circle.covered:.0f} % of the frame "
        "lies inside it. Crop to what is inside, or take a smaller sensor.",
    )


def _filter_masked(v: Values) -> Told:
    mask, c = v.mask, v.clearance
    lacks = f"{-mask.margin_mm:.1f} mm too narrow" if mask.clips else f"only {mask.margin_mm:.1f} mm to spare"
    return (
        f"The seat that holds {c.placed.part.name} decides, not the filter: {lacks}.",
        f"{mask.placed.part.name} leaves {mask.has_mm:.1f} mm clear there and {mask.needed_mm:.1f} mm are needed; a "
        "wider filter alone gains nothing.",
    )


def _narrowband(v: Values) -> Told:
    band = v.band
    where = "" if band.in_beam else ", once it is turned into the beam"
    corner = "" if band.corner is None else f" and {100 * band.corner:.0f} % in the frame's corner"
    return (
        f"{band.name} passes {100 * band.passes:.0f} % of its own line in the middle{corner}{where}.",
        f"At f/{band.f_number:.3g} the cone shifts its passband by {band.mean_nm:.2f} nm on the mean and "
        f"{band.edge_nm:.2f} nm at the edge, and it is {band.width_nm:g} nm wide. Take a wider one, one made for fast "
        "cones, or stop down.",
    )


def _aberration(v: Values) -> Told:
    return (
        f"The glass in the beam adds {v.aberration_um:.0f} µm of spherical aberration.",
        f"{v.tolerable_um:.0f} µm can be refocused away at this f-number; use thinner glass.",
    )


def _focal(v: Values) -> Told:
    return (
        f"{v.part} makes {v.focal_mm * v.power.magnification:.0f} mm of {v.focal_mm:g} mm.",
        f"At {v.power.distance_mm:.1f} mm before the sensor it works at {v.power.magnification:.3f}×; "
        "the distance changes that.",
    )


def _shadow(v: Values) -> Told:
    if v.hidden:
        return (
            "The train stands in the shadow of what obstructs the mirror already: it costs nothing more.",
            f"{v.part}, its widest part, is narrower than that.",
        )
    return (
        f"The train blocks {100 * v.share:.1f} % of the mirror's light; {v.part} is its widest part.",
        "Everything ahead of the mirror stands in its light; a slimmer part there gains it back.",
    )


def _tilt_plate(v: Values) -> Told:
    return (
        f"{v.part} tilts up to {v.most_deg:g}°: it moves a corner by {v.moved_um:.0f} µm at most.",
        f"{v.allowed_deg:.3f}° keep the corners in focus. Begin with its plates parallel; stars long on one side "
        "of the frame say which screw to turn.",
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
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
