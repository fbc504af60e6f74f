"""What frames say, in words."""

import math
from collections.abc import Sequence

import numpy as np

from farrail.frames.dust import DustReading
from farrail.frames.estimate import Estimate
from farrail.frames.flat import Explained, FlatReading, FlatTrouble
from farrail.frames.flat_model import Change
from farrail.frames.ruler import RulerReading
from farrail.frames.sky import SkyReading, SkyTrouble
from farrail.frames.stars import Drawn, StarReading, StarTrouble, TiltReading
from farrail.parts.in_beam import ApertureRole, GlassRole
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.parts.shelved import Shelved
from farrail.text.names import aperture_name
from farrail.text.values import minus, signed

CORNERS = {(1, 1): "top right", (-1, 1): "top left", (1, -1): "bottom right", (-1, -1): "bottom left"}
FLAT_TROUBLES = {
    FlatTrouble.SATURATED: "Too much of it is full: expose it to about half and take it anew.",
    FlatTrouble.DARK: "Its middle is dark: the lamp was off, or too much was subtracted.",
    FlatTrouble.EVEN: "It is even to 2 %: nothing vignettes that could be measured.",
    FlatTrouble.ONLY_FALLOFF: "Only the natural falloff darkens it: no part of this train does.",
    FlatTrouble.NOT_EXPLAINED: "No aperture of this train explains it; look for what is not laid: a dew shield, a cap.",
    FlatTrouble.NO_APERTURE: "The train has no aperture whose width is known; give clear apertures first.",
}
STAR_TROUBLES = {
    StarTrouble.TOO_FEW: "Too few stars to judge every corner: expose longer, or on a richer field.",
    StarTrouble.TRAILED: "All stars are drawn out the same way: the mount moved. Guide, or expose shorter.",
    StarTrouble.SATURATED: "Too many stars are full: expose shorter.",
}
DRAWN = {
    Drawn.ROUND: "round",
    Drawn.RADIAL: "drawn out from the middle",
    Drawn.TANGENTIAL: "drawn out around the middle",
}
SIDES = {(0, 0): "", (1, 0): "right", (-1, 0): "left", (0, 1): "top", (0, -1): "bottom", **CORNERS}


def estimate_words(estimate: Estimate, unit: str, digits: int = 2) -> str:
    """Return a value with its interval."""
    ends = f"{estimate.low:.{digits}f} to {estimate.high:.{digits}f}"
    space = "" if unit in ("", "°") else " "
    return minus(f"{estimate.value:.{digits}f}{space}{unit} ({ends})")


def flat_words(reading: FlatReading) -> list[str]:
    """Return what a flat says, the verdict first."""
    corner = CORNERS[reading.darkest]
    lost = "dark" if math.isinf(reading.corner_stops) else f"{reading.corner_stops:.2f} stops darker than the middle"
    told = [f"The {corner} corner is {lost}."]
    if reading.trouble is not None:
        return [FLAT_TROUBLES[reading.trouble], *told]
    found = reading.explained
    assert found is not None
    told = [*_explained_words(found), *told]
    if reading.depth is not None and found.change is Change.NOTHING:
        told.append(f"By it the entrance pupil lies {estimate_words(reading.depth, 'mm')} deep.")
    if found.doubtful:
        told.append("Something else acts too: look for what is not laid, or for a second part that stands askew.")
    if found.falloff is not None:
        told.append(f"Natural falloff goes as cos to the power {estimate_words(found.falloff, '', 1)}; 4 is the law.")
    told.append(f"{100.0 * found.misfit:.2f} % stay unexplained; {100.0 * found.without:.1f} % by falloff alone.")
    return told


def _explained_words(found: Explained) -> list[str]:
    """Return what explains a flat, and what of it is not as the train has it."""
    if found.change is Change.NOTHING:
        return ["The train as it is laid explains it."]
    value = found.value
    assert value is not None
    if found.change is Change.DEPTH:
        return [f"The parts as they are laid explain it with the entrance pupil {estimate_words(value, 'mm')} deep."]
    assert found.imaged is not None
    placed = found.imaged.placed
    part = placed.part
    if found.change is Change.REACH:
        return [
            f"{part.name}, {aperture_name(placed)}, explains it: it reaches in to {estimate_words(value, 'mm')} "
            f"from the axis. {off_axis_cause([part])[0].upper()}{off_axis_cause([part])[1:]}?"
        ]
    named = f"{part.name}, {aperture_name(placed)},"
    holders = [one.placed.part for one in found.beside if one.placed.role is ApertureRole.SEAT]
    if holders:
        named = f"{part.name} in {holders[0].name}"
    # Where two parts meet the light cannot tell whose opening it was.
    met = {one.placed.part.name: one.placed.part for one in found.beside if one.placed.part not in (part, *holders)}
    if met:
        named = f"{part.name} or {' or '.join(met)}, where they meet,"
    told = []
    if found.doubtful:
        told.append(f"{named} explains it best, but not alone; its width cannot be taken from this flat.")
    else:
        told.append(f"{named} explains it: {estimate_words(value, 'mm')} clear.")
        known = placed.diameter.value
        if not value.low <= known <= value.high:
            told.append(f"The train has it {known:.2f} mm wide, {placed.diameter.origin}.")
    if found.surely_off and found.right is not None and found.up is not None:
        told.append(
            f"It stands {found.off_axis_mm:.2f} mm off the axis, {_way(found.right.value, found.up.value)} as seen "
            f"from behind the camera: {off_axis_cause([part, *holders, *met.values()])}?"
        )
    else:
        told.append("It stands on the axis as far as can be told.")
    return told


OFF_AXIS = (
    (FilterDrawer, "is the drawer pushed home until it snaps, and its filter flat in its seat"),
    (FilterWheel, "does the wheel stop with its seat in the middle"),
    (OffAxisGuider, "does the guider's prism reach in too far"),
    (FilterHolder, "is the holder seated all round, and not turned"),
)


def off_axis_cause(parts: Sequence[Shelved]) -> str:
    """Return what may be off where a part stands off the axis, by what it is or what holds it."""
    for part in parts:
        for kind, told in OFF_AXIS:
            if isinstance(part, kind):
                return told
    return "is it seated all round"


def _way(right: float, up: float) -> str:
    across, along = ("right" if right > 0.0 else "left"), ("up" if up > 0.0 else "down")
    if abs(right) > 2.4 * abs(up):
        return f"to the {across}"
    return along if abs(up) > 2.4 * abs(right) else f"{along} and to the {across}"


def dust_words(reading: DustReading) -> str:
    """Return where a mote lies, and what to clean."""
    mote = reading.mote
    size = f"A ring {mote.outer_mm:.2f} mm wide"
    if not reading.sure:
        return f"{size}: too blurred to tell how far away it is."
    far = f"{size}: {estimate_words(reading.distance_mm, 'mm', 1)} before the sensor"
    if not reading.surfaces:
        return f"{far}; no glass of this train lies there."
    first = reading.surfaces[0]
    side = "front" if first.front else "rear"
    what = "window of " if first.role is GlassRole.WINDOW else ""
    others = {one.name for one in reading.surfaces if one.part != first.part}
    more = f" (or {', '.join(sorted(others))})" if others else ""
    return f"{far}. Clean the {side} of the {what}{first.name}{more}: bulb blower first."


SKY_TROUBLES = {
    SkyTrouble.NO_POLARISER: "This train has no polariser ahead of its lens, so no band is expected.",
    SkyTrouble.SATURATED: "Too much of the sky is full: expose shorter.",
    SkyTrouble.DARK: "Part of the picture's middle is black: take the sky alone.",
}


def sky_words(reading: SkyReading) -> list[str]:
    """Return what a photo of clear sky says of a polariser."""
    if reading.trouble is not None:
        return [SKY_TROUBLES[reading.trouble]]
    verdict = "as predicted" if reading.agrees else "not as predicted"
    told = [
        f"The sky is uneven by {estimate_words(reading.uneven, 'stops', 1)} along the middle, {verdict} "
        f"({reading.predicted_stops:.1f} stops)."
    ]
    if reading.elsewhere:
        width = float(np.ptp(reading.right_mm))
        told.append(
            f"It is darkest {_side_words(reading.darkest_mm / width)}, and that was predicted "
            f"{_side_words(reading.predicted_darkest_mm / width)}: the Sun stood elsewhere, or the ring was turned."
        )
    if not reading.given:
        told.append("Sun and air are the usual ones: give them in Front for a prediction of that evening.")
    return told


def _side_words(share: float) -> str:
    if abs(share) < 0.05:
        return "in the middle"
    return f"{100.0 * abs(share):.0f} % of the width {'right' if share > 0.0 else 'left'} of the middle"


def stayed_words(*, stays: bool) -> str:
    """Return what another frame tells of a mote, taken after a filter or the camera was turned."""
    if stays:
        return "It stands in the other frame too: it lies behind what was turned."
    return "The other frame has it elsewhere or not at all: it lies on what was turned, or ahead of it."


def stars_words(reading: StarReading) -> list[str]:
    """Return what the stars of one frame say."""
    count = f"{reading.stars.count} stars."
    if reading.trouble is not None:
        return [STAR_TROUBLES[reading.trouble], count]
    assert reading.drawn is not None
    told = [f"Corner stars are {DRAWN[reading.drawn]}.", count]
    middle = next(zone for zone in reading.zones if not (zone.column or zone.row))
    told.append(f"They are {middle.width_um:.1f} µm wide in the middle.")
    side = SIDES[reading.softer]
    if side:
        told.append(
            f"The {side} is softer: tilt, or focus in between. One frame cannot tell which way; take several through "
            "focus."
        )
    return told


def tilt_words(reading: TiltReading, flange_mm: float, width_mm: float, height_mm: float) -> list[str]:
    """Return what several frames through focus say of tilt and curvature.

    Args:
        reading: where focus lies.
        flange_mm: how far apart the flange's screws stand.
        width_mm: how wide the sensor is.
        height_mm: how high it is.
    """
    across, upright = reading.across_um, reading.upright_um
    told = [f"The sensor is tilted by {estimate_words(reading.tilt_deg, '°')}."]
    sure = [one.low > 0.0 or one.high < 0.0 for one in (across, upright)]
    if not any(sure):
        told = [f"No tilt beyond {reading.tilt_deg.high:.2f}° can be told."]
    else:
        right, up = (way if is_sure else 0 for way, is_sure in zip(reading.near_corner, sure, strict=True))
        corner, opposite = SIDES[right, up], SIDES[-right, -up]
        shim = flange_mm / 1000.0 * math.hypot(across.value / width_mm, upright.value / height_mm)
        told.append(
            f"Focus lies farthest out in the picture's {corner}. It comes from the sensor's {opposite}, seen from "
            f"behind the camera, for the picture is upside down there: shim the camera out at its {opposite} "
            f"by {shim:.2f} mm across {flange_mm:g} mm of flange."
        )
    told.append(
        f"Left to right {signed(across.value, 0)} µm ({across.low:.0f} to {across.high:.0f}), bottom to top "
        f"{signed(upright.value, 0)} µm ({upright.low:.0f} to {upright.high:.0f}), from {reading.frames} frames."
    )
    curved = reading.curvature_um
    told.append(
        f"Curvature: focus in the corner lies {estimate_words(curved, 'µm', 0)} farther out than in the middle."
    )
    return [minus(line) for line in told]


def ruler_words(reading: RulerReading | None) -> list[str]:
    """Return what a rule says."""
    if reading is None:
        return ["No marks of a rule were found: lay it along the picture's side, sharp, or click twice along them."]
    return [
        f"{estimate_words(reading.width_mm, 'mm')} of the rule fill the frame's width.",
        f"Magnification {estimate_words(reading.magnification, '', 3)}, from {reading.marks:.0f} marks.",
    ]
