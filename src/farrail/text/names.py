"""What things are called: apertures, lines of the running total, glass, scales, angles."""

from farrail.parts.connections import Clash, Mismatch
from farrail.parts.in_beam import ApertureRole, GlassRole
from farrail.readouts.front.model import CLEAN_STOPS
from farrail.readouts.spacing.model import Asks, Counted, GlassLine, Line, LineKind, Requirement
from farrail.train.placed import PlacedAperture
from farrail.train.seating import CannotHold, Cause, JointGap

ARCMINUTES = 60.0
APERTURES = {
    ApertureRole.FRONT_END: "front opening",
    ApertureRole.REAR_END: "rear opening",
    ApertureRole.CLEAR: "clear aperture",
    ApertureRole.STEP: "inner step",
    ApertureRole.SEAT: "filter seat",
    ApertureRole.IN_BEAM: "in the beam",
    ApertureRole.WINDOW: "window, front",
    ApertureRole.SLOT: "slot",
    ApertureRole.DROPPED_IN: "dropped in",
    ApertureRole.PRISM: "prism",
    ApertureRole.DRAWTUBE_FRONT: "drawtube's front",
    ApertureRole.DRAWTUBE_REAR: "drawtube's rear",
}
ASKS = {Asks.BACK_FOCUS: "back focus", Asks.FLANGE: "flange focal distance"}
SURFACES = {Asks.BACK_FOCUS: "rear shoulder", Asks.FLANGE: "rear flange"}
CLASHES = {
    Clash.KIND: "different kinds of connection",
    Clash.DIAMETER: "the diameters differ",
    Clash.PITCH: "the pitches differ",
    Clash.FITTING: "different fittings",
    Clash.GENDER: "one must be external, the other internal",
}
COUNTED = {
    Counted.IN_BEAM: "in the converging beam",
    Counted.NOT_ALLOWED_FOR: "not allowed for in the camera's distance",
    Counted.ALLOWED_FOR: "allowed for in the camera's distance",
    Counted.MAKER_SILENT: "maker silent: taken as allowed for in the camera's distance",
}


def aperture_name(placed: PlacedAperture) -> str:
    """Return what an aperture of a part is called."""
    name = APERTURES[placed.role]
    return f"{name} {placed.place.slot + 1}" if placed.role is ApertureRole.SLOT else name


def whole_name(placed: PlacedAperture) -> str:
    """Return part and aperture."""
    return f"{placed.part.name}, {aperture_name(placed)}"


def requirement_name(requirement: Requirement) -> str:
    """Return which distance a datum asks for."""
    return ASKS[requirement.asks]


def datum_name(requirement: Requirement) -> str:
    """Return the surface a distance is counted from, and whose it is."""
    return f"{requirement.owner}, {requirement.datum or SURFACES[requirement.asks]}"


def gap_name(gap: JointGap) -> str:
    """Return what keeps a joint's shoulders apart."""
    if gap.cause is Cause.HOLDS:
        return f"{', '.join(gap.held)} keeps the rings apart"
    names = {
        Cause.BOTTOMS: f"{gap.standard} thread bottoms",
        Cause.DRAWN_OUT: f"{gap.standard}, drawn out",
        Cause.UNKNOWN_PLACE: f"{gap.standard}, taken as pushed home",
    }
    return names[gap.cause]


def mismatch_phrase(mismatch: Mismatch | CannotHold) -> str:
    """Return why a joint does not mate, or a filter is not held, as a phrase."""
    if isinstance(mismatch, Mismatch):
        return f"{mismatch.left.label} against {mismatch.right.label}: {CLASHES[mismatch.clash]}"
    wide = f"{mismatch.filter} is {mismatch.wide_mm:.1f} mm wide"
    if mismatch.thread is not None:
        return f"{wide} and {mismatch.thread.label} takes {mismatch.room_mm:.1f} mm"
    return f"{wide} and falls through {mismatch.ring}, clear to {mismatch.room_mm:.1f} mm"


def line_name(line: Line) -> str:
    """Return what a line of the running total is called."""
    if line.kind is LineKind.CAMERA:
        return f"{line.name} to sensor"
    return line.name if line.gap is None else gap_name(line.gap)


def glass_name(line: GlassLine) -> str:
    """Return what a piece of glass is called."""
    return "camera window" if line.role is GlassRole.WINDOW else line.name


# A ratio so near a whole one, as a share of it, is told as that.
WHOLE_RATIO = 0.005


def scale_name(magnification: float) -> str:
    """Return a magnification as people say it: 1:2 or 3:1 where the ratio is a whole one, else 0.75x, 2.69x."""
    if not magnification > 0.0:
        return "infinity"
    ratio = max(magnification, 1.0 / magnification)
    whole = round(ratio)
    if abs(ratio - whole) <= WHOLE_RATIO * whole:
        return f"{whole}:1" if magnification >= 1.0 else f"1:{whole}"
    return f"{magnification:.3g}x"


def angle_names(*angles_deg: float) -> tuple[str, ...]:
    """Return angles as people say them, all in one unit: degrees where one has two or more, else minutes of arc."""
    if max(angles_deg) >= 2.0:
        return tuple(f"{angle:.2f}°" for angle in angles_deg)
    return tuple(f"{angle * ARCMINUTES:.1f}′" for angle in angles_deg)


def loss_name(stops: float) -> str:
    """Return a corner's loss."""
    if stops == float("inf"):
        return "dark"
    return "clean" if stops <= CLEAN_STOPS else f"{stops:.2f} stops darker"
