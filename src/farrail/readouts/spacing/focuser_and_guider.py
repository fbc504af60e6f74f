"""Focuser and guider: the focuser's travel, the guide sensor's place, what a train ahead of a mirror blocks."""

from collections.abc import Sequence
from dataclasses import dataclass

from farrail.parts.base import TubePart
from farrail.parts.connections import Connection, why_not
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.train.layout import Layout
from farrail.train.placed import Place, PlacedGlass
from farrail.train.train import GuidePort, Side

# A guide star may be this far out of focus along the axis; common practice, no source.
GUIDE_TOLERANCE_MM = 0.2


@dataclass(frozen=True)
class Travel:
    """How far the focuser must be drawn out; lengths in mm.

    Attributes:
        needed_mm: from its inner stop; negative where it would have to go further in.
        travel_mm: how far it goes, None where nothing was entered.
        origin: weakest input.
    """

    needed_mm: float
    travel_mm: float | None
    origin: Origin

    @property
    def reached(self) -> bool | None:
        """Whether focus is within travel; None where it may or may not."""
        if self.needed_mm < -1e-9:
            return False
        return None if self.travel_mm is None else self.needed_mm <= self.travel_mm + 1e-9


def travel_of(layout: Layout) -> Travel | None:
    """Return the focuser travel a train needs, or None where the telescope's focal plane is not known."""
    optic, sensor = layout.optic, layout.sensor_mm
    if not isinstance(optic, Telescope) or optic.focal_plane_mm is None or sensor is None:
        return None
    powers, origins = layout.first_order.powers, [optic.focal_plane_mm.origin]
    # The native focus must be where the first powered part takes it from, else on the sensor.
    laid = (powers[0].focus_mm if powers else sensor) - layout.optic_rear_mm
    if powers:
        origins.append(layout.first_order.power_origin)
    before = powers[0].z_mm if powers else sensor
    shift = sum(g.glass.shift_mm for g in _counted_glass(layout) if g.z_front_mm < before - 1e-9)
    origins += [p.length.origin for p in layout.rear]
    travel = optic.focuser_travel_mm
    if travel is not None:
        origins.append(travel.origin)
    needed = round(optic.focal_plane_mm.value + shift - laid, 9)
    return Travel(needed, None if travel is None else travel.value, weakest(origins))


@dataclass(frozen=True)
class Guiding:
    """Where a guide sensor focuses together with the main one.

    Attributes:
        part: the guider's id.
        name: its name.
        spacing_mm: from the shoulder of its guide port to the guide sensor.
        to_sensor_mm: from its prism to the main sensor.
        glass_mm: shift of the glass behind the prism.
        own_mm: shift of the prism's own glass.
        port_mm: from the prism to the port.
        origin: weakest input.
        place: where the guider is.
        hung: what hangs on its port; None for nothing.
    """

    part: str
    name: str
    spacing_mm: float
    to_sensor_mm: float
    glass_mm: float
    own_mm: float
    port_mm: float
    origin: Origin
    place: Place
    hung: "Hung | None" = None


@dataclass(frozen=True)
class Hung:
    """A guide camera on a guider's port, with what is between.

    Attributes:
        camera: its name.
        own_mm: its flange-to-sensor distance, less the shift of a window that it does not allow for.
        between_mm: length of what is between.
        travel_mm: how far the port draws out.
        error_mm: where its sensor is, less where it should, the port drawn out as far as helps.
        misfit: the two connections that do not mate, where two do not.
        origin: weakest input.
    """

    camera: str
    own_mm: float
    between_mm: float
    travel_mm: float
    error_mm: float
    misfit: tuple[str, str] | None
    origin: Origin

    @property
    def focuses(self) -> bool:
        """Whether it is where it should, well enough to guide by."""
        return abs(self.error_mm) <= GUIDE_TOLERANCE_MM + 1e-9


def _counted_glass(layout: Layout) -> list[PlacedGlass]:
    """Return all glass behind the telescope, ahead of a corrector too, but for a window the distance allows for.

    Its maker has taken its shift into the distance from the flange already; a silent one is taken to have done so.
    """
    return [g for g in layout.trace.glass if g.place.side is Side.REAR and g.adds_distance]


def guiding_of(layout: Layout) -> tuple[Guiding, ...]:
    """Return, for each off-axis guider whose port is known, where its guide sensor must sit."""
    sensor = layout.sensor_mm
    if sensor is None:
        return ()
    found = []
    for placed in layout.rear:
        part = placed.part
        if not isinstance(part, OffAxisGuider) or part.guide_port_mm is None:
            continue
        at = part.prism_at_mm.value if part.prism_at_mm is not None else placed.length.value / 2.0
        z = placed.on_rail_mm(at)
        behind = sum(g.glass.shift_mm for g in _counted_glass(layout) if g.z_front_mm >= z)
        own = part.prism_glass.shift_mm if part.prism_glass is not None else 0.0
        spacing = sensor - z - behind + own - part.guide_port_mm.value
        origins = [part.guide_port_mm.origin, placed.length.origin]
        origins.append(part.prism_at_mm.origin if part.prism_at_mm is not None else Origin.ASSUMED)
        found.append(
            Guiding(
                part.id, part.name, spacing, sensor - z, behind, own, part.guide_port_mm.value, weakest(origins),
                placed.place, _hung(layout, part, placed.laid.guide, spacing),
            )
        )  # fmt: skip
    return tuple(found)


def hung_mm(camera: Camera) -> float:
    """Return how far behind its shoulder a guide camera's sensor is, as the focus sees it."""
    window = camera.window_glass()
    adds = window is not None and window.included is False
    return camera.flange_to_sensor_mm.value - (window.glass.shift_mm if window is not None and adds else 0.0)


def _hung(layout: Layout, guider: OffAxisGuider, port: GuidePort | None, spacing_mm: float) -> Hung | None:
    camera = layout.parts.get(port.camera) if port is not None else None
    if port is None or not isinstance(camera, Camera):
        return None
    between = [part for one in port.between if isinstance(part := layout.parts.get(one), TubePart)]
    long = sum(part.length_at(None).value for part in between)
    travel = guider.guide_travel_mm.value if guider.guide_travel_mm is not None else 0.0
    off = hung_mm(camera) + long - spacing_mm
    origins = [camera.flange_to_sensor_mm.origin, *(part.length_at(None).origin for part in between)]
    # Drawing the port out mends what is too near, never what is too far out.
    error = off + min(max(-off, 0.0), travel)
    misfit = _misfit(guider.guide_connection, between, camera.front)
    return Hung(camera.name, hung_mm(camera), long, travel, error, misfit, weakest(origins))


def _misfit(port: Connection | None, between: Sequence[TubePart], end: Connection) -> tuple[str, str] | None:
    """Return the first two connections that do not mate; each part goes in the one that way round it fits."""
    at, threaded = port, [part for part in between if not part.passes_thread]
    if at is None and threaded:
        # Nothing was entered what the port is: it fits the one that end of the first part leads on.
        ways = [_misfit(leaves, threaded[1:], end) for leaves in (threaded[0].rear, threaded[0].front)]
        return None if None in ways else ways[0]
    for part in threaded:
        assert at is not None
        if why_not(at, part.front) is None:
            at = part.rear
        elif why_not(at, part.rear) is None:
            at = part.front
        else:
            return at.label, part.front.label
    return None if at is None or why_not(at, end) is None else (at.label, end.label)


def shadow_of(layout: Layout) -> tuple[float, str, str] | None:
    """Return the part of a mirror's light that a train ahead of it blocks, and the widest part's name and id."""
    optic = layout.optic
    if not isinstance(optic, Telescope) or not optic.prime_focus:
        return None
    widest = layout.first_order.widest_ahead_of_mirror
    if widest is None:
        return None
    return min((widest[1] / optic.aperture_mm.value) ** 2, 1.0), widest[0], widest[2]


def hidden_in_obstruction(layout: Layout) -> bool:
    """Whether a train ahead of its mirror is wholly in the shadow of what obstructs the mirror already."""
    optic, widest = layout.optic, layout.first_order.widest_ahead_of_mirror
    if not isinstance(optic, Telescope) or optic.obstruction_mm is None or widest is None:
        return False
    return optic.prime_focus and widest[1] <= optic.obstruction_mm.value
