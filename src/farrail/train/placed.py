"""A part at its place on the rail, and what it puts into the beam there."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from farrail.parts.base import PartBase, TubePart
from farrail.parts.connections import Connection
from farrail.parts.glass import Glass
from farrail.parts.in_beam import Aperture, ApertureRole, GlassRole, Installation
from farrail.parts.inventory_item import InventoryItem, PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.train.seating import Held
from farrail.train.train import MountedPart, Side

_OTHER_END = {
    ApertureRole.FRONT_END: ApertureRole.REAR_END,
    ApertureRole.REAR_END: ApertureRole.FRONT_END,
}


@dataclass(frozen=True)
class Place:
    """Where something is in a train: which row, which member, and which of its slots.

    Index −1 of the rear train is the optic; one past its last member is the camera.
    """

    side: Side
    index: int
    slot: int = -1


@dataclass(frozen=True)
class Placed:
    """A member of the front stack or rear train between two planes of the rail.

    `z_front_mm` is the end toward the scene no matter what way the part is turned; `front` and `rear` likewise.
    """

    side: Side
    index: int
    part: TubePart
    laid: MountedPart
    length: Quantity
    z_front_mm: float
    z_rear_mm: float
    front: Connection
    rear: Connection
    # A filter between two rings: the glass is inside their thread and adds nothing of its own.
    held: Held | None = None

    @property
    def place(self) -> Place:
        """Where it is in its train."""
        return Place(self.side, self.index)

    @property
    def passes_thread(self) -> bool:
        """Whether the joint on either side of it is made by the threads beyond."""
        return self.part.passes_thread or self.held is not None

    @property
    def middle_mm(self) -> float:
        """The middle between its planes."""
        return (self.z_front_mm + self.z_rear_mm) / 2.0

    def on_rail_mm(self, at_mm: float) -> float:
        """Return where a place of the part's own, counted from its front as the maker draws it, is on the rail."""
        return self.z_rear_mm - at_mm if self.laid.flipped else self.z_front_mm + at_mm

    def filled(self, parts: Mapping[PartId, PartBase]) -> Installation:
        """Return how it is and what is in it."""
        laid = self.laid
        ends = (self.rear, self.front) if laid.flipped else (self.front, self.rear)
        return Installation(
            length=self.length,
            span_mm=self.z_rear_mm - self.z_front_mm,
            front=ends[0],
            rear=ends[1],
            seats=tuple(parts.get(part) if part is not None else None for part in laid.filters),
            in_beam=laid.in_beam,
            dropped=parts.get(laid.drop_in or ""),
            carried=parts.get(laid.lens or ""),
            shifts_mm=laid.shifts_mm,
        )


@dataclass(frozen=True)
class PlacedGlass:
    """Glass in the beam: its front surface on the rail and whose glass it is."""

    part: InventoryItem
    glass: Glass
    z_front_mm: float
    diameter_mm: float
    role: GlassRole
    place: Place
    # How far a sheet is slid up.
    shift_mm: float = 0.0
    # Whether its owner's published distance already includes its focus shift; None: not stated, taken as included.
    included: bool | None = False

    @property
    def of_camera(self) -> bool:
        """Whether it is the camera's own window."""
        return isinstance(self.part, Camera)

    @property
    def adds_distance(self) -> bool:
        """Whether its focus shift comes on top of the published distances."""
        return self.included is False

    @property
    def z_rear_mm(self) -> float:
        """Its rear surface."""
        return self.z_front_mm + self.glass.drawn_thickness_mm


@dataclass(frozen=True)
class PlacedAperture:
    """A clear aperture on the rail, or what covers part of the light; low and high differ where its place is unknown.

    Attributes:
        part: whose aperture it is.
        role: which of its apertures; of both ends the front one is toward the scene, no matter what way the part is.
        diameter: clear diameter with provenance.
        path: the part's field that says so.
        z_mm: its place (the middle of an unknown span).
        z_low_mm: nearest to the scene it may be.
        z_high_mm: nearest to the sensor it may be.
        place: where it is in the train.
        position_origin: where its place came from.
        height: of a rectangular one, whose width `diameter` is; None for a round one.
        centre_mm: where its centre is beside the axis in the part's own frame, right and up.
        passes: what it lets through where it only covers part of the light; None for an opening.
        cut_mm: of a hood cut out in petals, by how much it reaches less far at the frame's corners and at its sides.
    """

    part: InventoryItem
    role: ApertureRole
    diameter: Quantity
    path: str
    z_mm: float
    z_low_mm: float
    z_high_mm: float
    place: Place
    position_origin: Origin
    height: Quantity | None = None
    centre_mm: tuple[float, float] = (0.0, 0.0)
    passes: float | None = None
    cut_mm: tuple[float, float] | tuple[()] = ()

    @property
    def side(self) -> Side:
        """Which side of the optic it is on."""
        return self.place.side

    @property
    def index(self) -> int:
        """Which member of its row it belongs to."""
        return self.place.index

    @property
    def key(self) -> str:
        """Which of the part's apertures, as a stable id."""
        return self.role.value if self.place.slot < 0 else f"{self.role.value}_{self.place.slot + 1}"

    @property
    def plain(self) -> bool:
        """Whether it is a round opening about the axis, at a known place behind the optic."""
        return (
            self.height is None
            and self.passes is None
            and not self.cut_mm
            and self.z_low_mm == self.z_high_mm
            and self.place.side is Side.REAR
            and self.centre_mm == (0.0, 0.0)
        )

    @property
    def place_unknown(self) -> bool:
        """Whether only the two ends of its place are known."""
        return self.z_high_mm > self.z_low_mm


def placed_aperture(placed: Placed, aperture: Aperture) -> PlacedAperture:
    """Return an aperture of a placed part on the rail.

    Of something thick the face toward the light decides: in a part placed the other way that is its other face.
    """
    if placed.laid.flipped:
        ends = (
            placed.z_rear_mm - aperture.high_mm - aperture.thick_mm,
            placed.z_rear_mm - aperture.low_mm - aperture.thick_mm,
        )
        role = _OTHER_END.get(aperture.role, aperture.role)
    else:
        ends = (placed.z_front_mm + aperture.low_mm, placed.z_front_mm + aperture.high_mm)
        role = aperture.role
    place = replace(placed.place, slot=aperture.slot)
    return PlacedAperture(
        aperture.owner, role, aperture.diameter, aperture.path, (ends[0] + ends[1]) / 2.0, *ends, place,
        aperture.origin, aperture.height, aperture.centre_mm, aperture.passes, aperture.cut_mm,
    )  # fmt: skip
