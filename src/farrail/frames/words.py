"""What frames say, in words."""

import math
from collections.abc import Sequence

import numpy as np

from farrail.frames.dust import DustReading
from farrail.frames.estimate import Estimate
from farrail.frames.field_rotation import FieldRotation
from farrail.frames.flat import Explained, FlatReading, FlatTrouble
from farrail.frames.flat_model import Change
from farrail.frames.ruler import RulerReading
from farrail.frames.sky import SkyReading, SkyTrouble
from farrail.frames.stars import Drawn, StarReading, StarTrouble, TiltReading
from farrail.language import N_, say
from farrail.parts.in_beam import ApertureRole, GlassRole
from farrail.parts.inventory_item import InventoryItem
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.quantities import in_words, signed
from farrail.readouts.names import aperture_name

CORNERS = {
    (1, 1): N_("top right"),
    (-1, 1): N_("top left"),
    (1, -1): N_("bottom right"),
    (-1, -1): N_("bottom left"),
}
FLAT_TROUBLES = {
    FlatTrouble.SATURATED: N_("Too much of the frame is saturated: expose it to about half and take it again."),
    FlatTrouble.DARK: N_("Its middle is dark: the lamp was off, or too much was subtracted."),
    FlatTrouble.EVEN: N_("It is even to 2 %: no measurable vignetting."),
    FlatTrouble.ONLY_FALLOFF: N_("Only the natural falloff darkens it: no part of this train does."),
    FlatTrouble.NOT_EXPLAINED: N_(
        "No aperture of this train explains it; look for a part that is not in the train, "
        "such as a dew shield or a cap."
    ),
    FlatTrouble.UNEVEN: N_("The light of the flat is uneven: no part is to blame for it."),
    FlatTrouble.NO_APERTURE: N_("No clear aperture of this train is known; enter clear apertures first."),
}
STAR_TROUBLES = {
    StarTrouble.TOO_FEW: N_("Too few stars to judge every corner: expose longer, or on a richer field."),
    StarTrouble.TRAILED: N_("All stars are drawn out the same way: the mount moved. Guide, or expose shorter."),
    StarTrouble.SATURATED: N_("Too many stars are full: expose shorter."),
}
DRAWN = {
    Drawn.ROUND: N_("round"),
    Drawn.RADIAL: N_("drawn out from the middle"),
    Drawn.TANGENTIAL: N_("drawn out around the middle"),
    Drawn.ROTATED: N_("trailed by field rotation"),
}
SIDES = {(0, 0): "", (1, 0): N_("right"), (-1, 0): N_("left"), (0, 1): N_("top"), (0, -1): N_("bottom"), **CORNERS}


def estimate_words(estimate: Estimate, unit: str, digits: int = 2) -> str:
    """Return a value with its interval."""
    (low, shown_unit), (high, _), (value, _) = (
        in_words(number, unit, digits) for number in (estimate.low, estimate.high, estimate.value)
    )
    ends = say("{low} to {high}", low=low, high=high)
    space = "" if unit in ("", "°") else " "
    return say("{value}{space}{unit} ({ends})", value=value, space=space, unit=shown_unit, ends=ends)


def flat_words(reading: FlatReading) -> list[str]:
    """Return what a flat says, the verdict first."""
    corner = CORNERS[reading.darkest]
    lost = (
        say("dark")
        if math.isinf(reading.corner_stops)
        else say("{corner_stops:.2f} stops darker than the middle", corner_stops=reading.corner_stops)
    )
    sentences = [say("The {corner} corner is {lost}.", corner=corner, lost=lost)]
    sentences += _light_words(reading)
    if reading.trouble is FlatTrouble.UNEVEN and reading.suspects:
        listed = ", ".join(reading.suspects)
        verdict = say(
            "The light is uneven, or one of these narrows it: {listed}. Take another flat to know.", listed=listed
        )
        return [verdict, *sentences]
    if reading.trouble is not None:
        return [str(FLAT_TROUBLES[reading.trouble]), *sentences]
    found = reading.explained
    assert found is not None
    sentences = [*_explained_words(found, reading.exit_mm), *_rival_words(reading), *sentences]
    if reading.depth is not None and found.change is Change.NOTHING:
        sentences.append(
            say(
                "The entrance pupil is {estimate_words} behind the thread.",
                estimate_words=estimate_words(reading.depth, say("mm")),
            )
        )
    if found.doubtful:
        sentences.append(
            say(
                "Something else contributes: look for a part that is not in the train, or a second "
                "part that is not centred."
            )
        )
    if found.falloff is not None:
        sentences.append(
            say(
                "Natural falloff goes as cos to the power {estimate_words}; 4 is the law.",
                estimate_words=estimate_words(found.falloff, "", 1),
            )
        )
    sentences.append(
        say(
            "{misfit:.2f} % stay unexplained; {without:.1f} % by falloff alone.",
            misfit=100.0 * found.misfit,
            without=100.0 * found.without,
        )
    )
    return sentences


def _rival_words(reading: FlatReading) -> list[str]:
    """Return which other openings may be meant, and which two explain a flat together."""
    lines = []
    if reading.rivals:
        listed = ", ".join(
            say("{name} ({percent:.0f} % as likely)", name=name, percent=100.0 * share)
            for name, share in reading.rivals
        )
        lines.append(say("About as well: {listed}.", listed=listed))
    if reading.together is not None:
        first, second = (estimate_words(one, say("mm")) for one in reading.together.clear_mm)
        names = reading.together.names
        lines.append(
            say(
                "Two together explain it better: {name} at {first} and {name_2} at {second} clear.",
                name=names[0],
                first=first,
                name_2=names[1],
                second=second,
            )
        )
    return lines


def _light_words(reading: FlatReading) -> list[str]:
    """Return what is wrong with the light or the frame itself."""
    lines = []
    if reading.bias is not None:
        percent = Estimate(*(100.0 * one for one in (reading.bias.value, reading.bias.low, reading.bias.high)))
        lines.append(
            say(
                "The bias seems not subtracted: about {percent}; subtract it first.",
                percent=estimate_words(percent, "%", 1),
            )
        )
    if reading.lamp_uneven:
        lines.append(say("The lamp is uneven by {percent:.1f} % over the frame.", percent=100.0 * reading.lamp_uneven))
    return lines


def _explained_words(found: Explained, exit_mm: Estimate | None) -> list[str]:
    """Return what explains a flat, and what of it is not as the train has it."""
    if found.change is Change.NOTHING:
        return [say("The current train explains it.")]
    value = found.value
    assert value is not None
    if found.change is Change.DEPTH:
        return [
            say(
                "The current parts explain it with the entrance pupil {estimate_words} behind the thread.",
                estimate_words=estimate_words(value, say("mm")),
            )
        ]
    assert found.imaged is not None
    placed = found.imaged.placed
    part = placed.part
    if found.change is Change.REACH:
        return [
            say(
                "{name}, {aperture_name}, explains it: it reaches in to {estimate_words} from the "
                "axis. {off_axis_cause}{off_axis_cause_2}?",
                name=part.name,
                aperture_name=aperture_name(placed),
                estimate_words=estimate_words(value, say("mm")),
                off_axis_cause=off_axis_cause([part])[0].upper(),
                off_axis_cause_2=off_axis_cause([part])[1:],
            )
        ]
    named = f"{part.name}, {aperture_name(placed)},"
    holders = [one.placed.part for one in found.beside if one.placed.role is ApertureRole.SEAT]
    if holders:
        named = say("{name} in {name_2}", name=part.name, name_2=holders[0].name)
    # Where two parts meet the light cannot say whose opening it was.
    met = {one.placed.part.name: one.placed.part for one in found.beside if one.placed.part not in (part, *holders)}
    if met:
        named = say("{name} or {listed}, where they meet,", name=part.name, listed=say(" or ").join(met))
    sentences = []
    if found.doubtful:
        sentences.append(
            say("{named} explains it best, but not alone; its width cannot be taken from this flat.", named=named)
        )
    else:
        sentences.append(
            say(
                "{named} explains it: {estimate_words} clear.",
                named=named,
                estimate_words=estimate_words(value, say("mm")),
            )
        )
        known = placed.diameter.value
        if not value.low <= known <= value.high:
            sentences.append(
                say("In the train it is {known:.2f mm}, {origin}.", known=known, origin=placed.diameter.origin)
            )
        if exit_mm is not None:
            sentences.append(
                say(
                    "Or that width is right, and the exit pupil is {exit} before the sensor.",
                    exit=estimate_words(exit_mm, say("mm"), 0),
                )
            )
    if found.surely_off and found.right is not None and found.up is not None:
        sentences.append(
            say(
                "It is {off_axis_mm:.2f mm} off the axis, {way} as seen from behind the camera: {off_axis_cause}?",
                off_axis_mm=found.off_axis_mm,
                way=_way(found.right.value, found.up.value),
                off_axis_cause=off_axis_cause([part, *holders, *met.values()]),
            )
        )
    else:
        sentences.append(say("It is centred as far as can be measured."))
    return sentences


OFF_AXIS = (
    (FilterDrawer, N_("is the drawer pushed home until it snaps, and its filter flat in its seat")),
    (FilterWheel, N_("does the wheel stop with its seat in the middle")),
    (OffAxisGuider, N_("does the guider's prism reach in too far")),
    (FilterHolder, N_("is the holder seated all round, and not turned")),
)


def off_axis_cause(parts: Sequence[InventoryItem]) -> str:
    """Return what may be off where a part is off the axis, by what it is or what holds it."""
    for part in parts:
        for kind, cause in OFF_AXIS:
            if isinstance(part, kind):
                return str(cause)
    return say("is it seated all round")


def _way(right: float, up: float) -> str:
    across, along = (say("right") if right > 0.0 else say("left")), (say("up") if up > 0.0 else say("down"))
    if abs(right) > 2.4 * abs(up):
        return say("to the {across}", across=across)
    return along if abs(up) > 2.4 * abs(right) else say("{along} and to the {across}", along=along, across=across)


def dust_words(reading: DustReading) -> str:
    """Return where a mote is, and what to clean."""
    mote = reading.mote
    size = say("A ring of {outer_mm:.2f mm}", outer_mm=mote.outer_mm)
    if not reading.sure:
        return say("{size}: too blurred to measure its distance.", size=size)
    far = say(
        "{size}: {estimate_words} before the sensor",
        size=size,
        estimate_words=estimate_words(reading.distance_mm, say("mm"), 1),
    )
    if not reading.surfaces:
        return say("{far}; no glass of this train is there.", far=far)
    first = reading.surfaces[0]
    side = say("front") if first.front else say("rear")
    what = say("window of ") if first.role is GlassRole.WINDOW else ""
    others = {one.name for one in reading.surfaces if one.part != first.part}
    more = say(" (or {listed})", listed=", ".join(sorted(others))) if others else ""
    return say(
        "{far}. Clean the {side} of the {what}{name}{more}: bulb blower first.",
        far=far,
        side=side,
        what=what,
        name=first.name,
        more=more,
    )


SKY_TROUBLES = {
    SkyTrouble.NO_POLARISER: N_("This train has no polariser ahead of its lens, so no band is expected."),
    SkyTrouble.SATURATED: N_("Too much of the sky is full: expose shorter."),
    SkyTrouble.DARK: N_("Part of the picture's middle is black: take the sky alone."),
}


def sky_words(reading: SkyReading) -> list[str]:
    """Return what a photo of clear sky says of a polariser."""
    if reading.trouble is not None:
        return [str(SKY_TROUBLES[reading.trouble])]
    verdict = say("as predicted") if reading.agrees else say("not as predicted")
    sentences = [
        say(
            "The sky is uneven by {estimate_words} along the middle, {verdict} ({predicted_stops:.1f} stops).",
            estimate_words=estimate_words(reading.uneven, say("stops"), 1),
            verdict=verdict,
            predicted_stops=reading.predicted_stops,
        )
    ]
    if reading.elsewhere:
        width = float(np.ptp(reading.right_mm))
        sentences.append(
            say(
                "It is darkest {side_words}, predicted was {side_words_2}: the Sun was elsewhere, "
                "or the ring was rotated.",
                side_words=_side_words(reading.darkest_mm / width),
                side_words_2=_side_words(reading.predicted_darkest_mm / width),
            )
        )
    if not reading.given:
        sentences.append(say("Sun and air are the usual ones: give them in Front for a prediction of that evening."))
    return sentences


def _side_words(share: float) -> str:
    if abs(share) < 0.05:
        return say("in the middle")
    if share > 0.0:
        return say("{share:.0f} % of the width right of the middle", share=100.0 * share)
    return say("{share:.0f} % of the width left of the middle", share=-100.0 * share)


def stayed_words(*, stays: bool) -> str:
    """Return what another frame says something about a mote, taken after a filter or the camera was turned."""
    if stays:
        return say("It is in the other frame too: it is behind the part that was rotated.")
    return say("The other frame has it elsewhere or not at all: it is on the part that was rotated, or ahead of it.")


def stars_words(reading: StarReading) -> list[str]:
    """Return what the stars of one frame say."""
    count = say("{count} stars.", count=reading.stars.count)
    if reading.trouble is not None:
        return [str(STAR_TROUBLES[reading.trouble]), count]
    assert reading.drawn is not None
    sentences = [say("Corner stars are {drawn}.", drawn=DRAWN[reading.drawn]), count]
    if reading.rotation is not None:
        sentences += _rotation_words(reading.rotation)
    middle = next(zone for zone in reading.zones if not (zone.column or zone.row))
    sentences.append(say("Width in the centre: {width_um:.1f} µm.", width_um=middle.width_um))
    side = SIDES[reading.softer]
    if side:
        sentences.append(
            say(
                "The {side} is softer: tilt, or focus in between. One frame cannot show which way; "
                "take several through focus.",
                side=side,
            )
        )
    return sentences


def _rotation_words(rotation: FieldRotation) -> list[str]:
    """Return how the field turned, and what else looks alike."""
    turn, corner = rotation.turn_deg, rotation.corner_um
    if rotation.about_middle:
        return [
            say(
                "Field rotation of {turn:.2f}° looks like this, and so does a wrong spacing: "
                "compare with a short exposure.",
                turn=turn,
            )
        ]
    right, up = (-one for one in rotation.centre_mm)
    return [
        say(
            "Field rotation of {turn:.2f}°, {corner:.0f} µm in the farthest corner: no part of the train is to blame.",
            turn=turn,
            corner=corner,
        ),
        say(
            "Its centre, the guide star, is {right:.1f mm} right and {up:.1f mm} up of the picture's middle.",
            right=right,
            up=up,
        ),
    ]


def tilt_words(
    reading: TiltReading, flange_mm: float, width_mm: float, height_mm: float, allowed_deg: float = 0.0
) -> list[str]:
    """Return what several frames through focus say of tilt and curvature.

    Args:
        reading: where focus is.
        flange_mm: how far apart the flange's screws are.
        width_mm: how wide the sensor is.
        height_mm: how high it is.
        allowed_deg: what the train's depth of focus allows: less is left alone.
    """
    across, upright = reading.across_um, reading.upright_um
    lines = [say("The sensor is tilted by {estimate_words}.", estimate_words=estimate_words(reading.tilt_deg, "°"))]
    right, up = reading.farthest(width_mm, height_mm)
    if not (right or up):
        lines = [say("No tilt above {high:.2f}° is measurable.", high=reading.tilt_deg.high)]
    elif reading.tilt_deg.value <= allowed_deg:
        lines.append(say("The depth of focus allows {allowed:.2f}°: leave it.", allowed=allowed_deg))
    else:
        corner, opposite = SIDES[right, up], SIDES[-right, -up]
        shim = flange_mm * math.hypot(*reading.slopes(width_mm, height_mm))
        lines.append(
            say(
                "Focus is farthest out in the picture's {corner}, at {hour:.0f} o'clock. "
                "That is the sensor's {opposite}, seen from behind the camera, since the picture is upside down there: "
                "shim the camera out at its {opposite} by {shim:.2f mm} across {flange_mm:g mm} of flange.",
                corner=corner,
                hour=round(reading.hour(width_mm, height_mm)) or 12,
                opposite=opposite,
                shim=shim,
                flange_mm=flange_mm,
            )
        )
        screws = reading.screws_mm(width_mm, height_mm, flange_mm)
        lines.append(
            say(
                "With three screws, seen from behind the camera: out by {twelve:.2f mm} at 12 o'clock, "
                "{four:.2f mm} at 4 and {eight:.2f mm} at 8.",
                twelve=screws[0],
                four=screws[1],
                eight=screws[2],
            )
        )
    lines.append(
        say(
            "Left to right {signed} µm ({low:.0f} to {high:.0f}), bottom to top {signed_2} µm "
            "({low_2:.0f} to {high_2:.0f}), from {frames} frames.",
            signed=signed(across.value, 0),
            low=across.low,
            high=across.high,
            signed_2=signed(upright.value, 0),
            low_2=upright.low,
            high_2=upright.high,
            frames=reading.frames,
        )
    )
    curved = reading.curvature_um
    lines.append(
        say(
            "Field curvature: focus in the corner is {estimate_words} farther out than in the centre.",
            estimate_words=estimate_words(curved, "µm", 0),
        )
    )
    return lines


def ruler_words(reading: RulerReading | None) -> list[str]:
    """Return what a rule says."""
    if reading is None:
        return [
            say(
                "No ruler marks were found: place the ruler along the picture's side, in focus, or "
                "click twice along them."
            )
        ]
    lines = [
        say("The rule is not square: turned {turned:.1f}°, {perspective:.0f} % larger at one end. Square it up.",
            turned=abs(reading.turned_deg), perspective=100.0 * reading.perspective)
    ] if reading.askew else []  # fmt: skip
    return [
        *lines,
        say(
            "{estimate_words} of the rule fill the frame's width.",
            estimate_words=estimate_words(reading.width_mm, say("mm")),
        ),
        say(
            "Magnification {estimate_words}, from {marks:.0f} marks.",
            estimate_words=estimate_words(reading.magnification, "", 3),
            marks=reading.marks,
        ),
    ]
