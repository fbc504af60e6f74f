"""A part at its place on the rail."""

from dataclasses import dataclass
from typing import Literal

from farrail.parts.connections import Connection
from farrail.parts.glass import Glass
from farrail.parts.kinds import Adjustable, Part, Shim, Tube
from farrail.parts.provenance import Origin, Quantity, Reading
from farrail.train.seating import Held
from farrail.train.train import Laid, Side


@dataclass(frozen=True)
class Placed:
    """A tube of the front stack or rear train between two planes of the rail.

    `z_front_mm` is the end toward the scene whatever way the part is turned; `front` and `rear` likewise.
    """

    side: Side
    index: int
    part: Tube
    laid: Laid
    length: Quantity
    z_front_mm: float
    z_rear_mm: float
    front: Connection
    rear: Connection
    # A filter between two rings: the glass lies inside their thread and adds nothing of its own.
    held: Held | None = None

    @property
    def passes_thread(self) -> bool:
        """Whether the joint on either side of it is made by the threads beyond."""
        return isinstance(self.part, Shim) or self.held is not None


@dataclass(frozen=True)
class PlacedGlass:
    """Glass in the beam: its front surface on the rail and whose glass it is."""

    part: Part
    label: str
    glass: Glass
    z_front_mm: float
    diameter_mm: float
    role: Literal["filter", "window"]

    @property
    def z_rear_mm(self) -> float:
        """Its rear surface."""
        return self.z_front_mm + self.glass.drawn_thickness_mm


@dataclass(frozen=True)
class PlacedOpening:
    """A clear aperture on the rail; low and high differ where its place is not known.

    Attributes:
        part: whose aperture it is.
        label: which of its apertures, in words.
        diameter: clear diameter with provenance.
        z_mm: its place (the middle of an unknown span).
        z_low_mm: nearest to the scene it may be.
        z_high_mm: nearest to the sensor it may be.
        side: which side of the optic.
        position_origin: where its place came from.
        height: of a rectangular one, whose width `diameter` is; None for a round one.
        centre_mm: where its centre lies beside the axis in the part's own frame, right and up.
        passes: what it lets through where it only covers part of the light; None for an opening.
    """

    part: Part
    label: str
    diameter: Quantity
    z_mm: float
    z_low_mm: float
    z_high_mm: float
    side: Side
    position_origin: Origin
    height: Quantity | None = None
    centre_mm: tuple[float, float] = (0.0, 0.0)
    passes: float | None = None
    index: int = -1

    @property
    def place_unknown(self) -> bool:
        """Whether only the two ends of its place are known."""
        return self.z_high_mm > self.z_low_mm


def length_in_train(part: Tube, laid: Laid) -> Quantity:
    """Return the length a part has as laid: its path length, or an adjustable spacer's setting.

    A setting outside the range the part has is brought to its nearer end.
    """
    if not isinstance(part, Adjustable):
        return part.path_length_mm
    shortest, longest = part.shortest_mm.value, part.longest_mm.value
    wanted = shortest if laid.setting_mm is None else laid.setting_mm
    setting = min(max(wanted, shortest), max(longest, shortest))
    reading = Reading(
        value=setting, origin=part.shortest_mm.origin, tolerance=part.shortest_mm.tolerance, note="as set in this train"
    )
    return Quantity(readings=(reading,))
