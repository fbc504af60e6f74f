"""What the apertures of a part are called."""

from farrail.parts.in_beam import ApertureRole
from farrail.train.placed import PlacedAperture

APERTURE_NAMES = {
    ApertureRole.FRONT_END: "front opening",
    ApertureRole.REAR_END: "rear opening",
    ApertureRole.CLEAR: "clear aperture",
    ApertureRole.SEAT: "filter seat",
    ApertureRole.IN_BEAM: "in the beam",
    ApertureRole.WINDOW: "window, front",
    ApertureRole.SLOT: "slot",
    ApertureRole.DROPPED_IN: "dropped in",
    ApertureRole.PRISM: "prism",
    ApertureRole.DRAWTUBE_FRONT: "drawtube's front",
    ApertureRole.DRAWTUBE_REAR: "drawtube's rear",
}


def aperture_name(placed: PlacedAperture) -> str:
    """Return what an aperture of a part is called."""
    name = APERTURE_NAMES[placed.role]
    return f"{name} {placed.place.slot + 1}" if placed.role is ApertureRole.SLOT else name
