"""What the lines of the running total, its glass and its requirement are called."""

from farrail.language import N_, say
from farrail.readouts.names import gap_name
from farrail.readouts.spacing.model import Asks, Counted, GlassLine, Line, LineKind, Requirement

ASKS = {Asks.BACK_FOCUS: N_("back focus"), Asks.FLANGE: N_("flange focal distance")}
SURFACES = {Asks.BACK_FOCUS: N_("rear shoulder"), Asks.FLANGE: N_("rear flange")}
COUNTED = {
    Counted.IN_BEAM: N_("in the converging beam"),
    Counted.NOT_ALLOWED_FOR: N_("not allowed for in the camera's distance"),
    Counted.ALLOWED_FOR: N_("allowed for in the camera's distance"),
    Counted.MAKER_SILENT: N_("maker silent: taken as allowed for in the camera's distance"),
}


def requirement_name(requirement: Requirement) -> str:
    """Return which distance a datum asks for."""
    return str(ASKS[requirement.asks])


def datum_name(requirement: Requirement) -> str:
    """Return the surface a distance is counted from, and whose it is."""
    return f"{requirement.owner}, {say(requirement.datum) if requirement.datum else SURFACES[requirement.asks]}"


def line_name(line: Line) -> str:
    """Return what a line of the running total is called."""
    if line.kind is LineKind.CAMERA:
        return say("{name} to sensor", name=line.name)
    return line.name if line.gap is None else gap_name(line.gap)


def glass_name(line: GlassLine) -> str:
    """Return what a piece of glass is called."""
    return say("camera window") if line.path.startswith("window.") else line.name
