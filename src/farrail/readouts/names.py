"""What things are called: apertures, lines of the running total, glass, scales, angles."""

from farrail.language import N_, say
from farrail.parts.connections import Clash, Mismatch
from farrail.parts.in_beam import ApertureRole
from farrail.readouts.limits import CLEAN_STOPS
from farrail.train.placed import PlacedAperture
from farrail.train.seating import CannotHold, CannotRest, Cause, JointGap

ARCMINUTES = 60.0
APERTURES = {
    ApertureRole.FRONT_END: N_("front opening"),
    ApertureRole.REAR_END: N_("rear opening"),
    ApertureRole.CLEAR: N_("clear aperture"),
    ApertureRole.STEP: N_("inner step"),
    ApertureRole.SEAT: N_("filter seat"),
    ApertureRole.IN_BEAM: N_("in the beam"),
    ApertureRole.WINDOW: N_("front window"),
    ApertureRole.SLOT: N_("slot"),
    ApertureRole.DROPPED_IN: N_("dropped in"),
    ApertureRole.PRISM: N_("prism"),
    ApertureRole.DRAWTUBE_FRONT: N_("drawtube's front"),
    ApertureRole.DRAWTUBE_REAR: N_("drawtube's rear"),
}
CLASHES = {
    Clash.KIND: N_("different kinds of connection"),
    Clash.DIAMETER: N_("the diameters differ"),
    Clash.PITCH: N_("the pitches differ"),
    Clash.FITTING: N_("different fittings"),
    Clash.GENDER: N_("one must be external, the other internal"),
}


def aperture_name(placed: PlacedAperture) -> str:
    """Return what an aperture of a part is called."""
    name = str(APERTURES[placed.role])
    return f"{name} {placed.place.slot + 1}" if placed.role is ApertureRole.SLOT else name


def whole_name(placed: PlacedAperture) -> str:
    """Return part and aperture."""
    return f"{placed.part.name}, {aperture_name(placed)}"


def gap_name(gap: JointGap) -> str:
    """Return what keeps a joint's shoulders apart."""
    if gap.cause is Cause.HOLDS:
        return say("{listed} keeps the rings apart", listed=", ".join(gap.held))
    names = {
        Cause.BOTTOMS: say("{standard} thread bottoms", standard=gap.standard),
        Cause.DRAWN_OUT: say("{standard}, drawn out", standard=gap.standard),
        Cause.UNKNOWN_PLACE: say("{standard}, taken as pushed home", standard=gap.standard),
    }
    return names[gap.cause]


def mismatch_phrase(mismatch: Mismatch | CannotHold | CannotRest) -> str:
    """Return why a joint does not mate, or a filter is not held, as a phrase."""
    if isinstance(mismatch, Mismatch):
        return say(
            "{label} against {label_2}: {clashes}",
            label=mismatch.left.label,
            label_2=mismatch.right.label,
            clashes=CLASHES[mismatch.clash],
        )
    if isinstance(mismatch, CannotRest):
        return say(
            "{shim}, {outer_mm:.1f mm} outside, does not rest on the shoulder beyond {label}",
            shim=mismatch.shim,
            outer_mm=mismatch.outer_mm,
            label=mismatch.thread.label,
        )
    wide = say("{filter} measures {wide_mm:.1f mm}", filter=mismatch.filter, wide_mm=mismatch.wide_mm)
    if mismatch.thread is not None:
        return say(
            "{wide} and {label} accepts {room_mm:.1f mm}",
            wide=wide,
            label=mismatch.thread.label,
            room_mm=mismatch.room_mm,
        )
    return say(
        "{wide} and falls through {ring}, clear aperture {room_mm:.1f mm}",
        wide=wide,
        ring=mismatch.ring,
        room_mm=mismatch.room_mm,
    )


# A ratio so near a whole one, as a share of it, is shown as that.
WHOLE_RATIO = 0.005


def scale_name(magnification: float) -> str:
    """Return a magnification as people say it: 1:2 or 3:1 where the ratio is a whole one, else 0.75x, 2.69x."""
    if not magnification > 0.0:
        return say("infinity")
    ratio = max(magnification, 1.0 / magnification)
    whole = round(ratio)
    if abs(ratio - whole) <= WHOLE_RATIO * whole:
        return f"{whole}:1" if magnification >= 1.0 else f"1:{whole}"
    return say("{magnification:.3g}x", magnification=magnification)


def angle_names(*angles_deg: float) -> tuple[str, ...]:
    """Return angles as people say them, all in one unit: degrees where one has two or more, else minutes of arc."""
    if max(angles_deg) >= 2.0:
        return tuple(say("{angle:.2f}°", angle=angle) for angle in angles_deg)
    return tuple(say("{arcminutes:.1f}′", arcminutes=angle * ARCMINUTES) for angle in angles_deg)


def loss_name(stops: float) -> str:
    """Return a corner's loss."""
    if stops == float("inf"):
        return say("dark")
    return say("clean") if stops <= CLEAN_STOPS else say("{stops:.2f} stops darker", stops=stops)
