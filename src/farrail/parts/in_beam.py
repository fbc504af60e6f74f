"""What a part puts into the beam and into the drawing, in its own coordinates.

z runs from the part's front face, 0, toward its rear as the maker draws it; the train turns and moves it from there.
"""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import TYPE_CHECKING

from farrail.parts.glass import Glass
from farrail.parts.inventory_item import InventoryItem
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity

if TYPE_CHECKING:
    from farrail.parts.connections import Connection

Polyline = tuple[tuple[float, float], ...]


class ApertureRole(StrEnum):
    """Which of a part's apertures one is."""

    FRONT_END = "front_opening"
    REAR_END = "rear_opening"
    CLEAR = "clear_aperture"
    STEP = "inner_step"
    SEAT = "filter_seat"
    IN_BEAM = "in_the_beam"
    WINDOW = "window_front"
    SLOT = "slot"
    DROPPED_IN = "dropped_in"
    PRISM = "prism"
    CARRIED_PUPIL = "carried_pupil"
    DRAWTUBE_FRONT = "drawtube_front"
    DRAWTUBE_REAR = "drawtube_rear"


class GlassRole(StrEnum):
    """What a piece of glass is there for."""

    FILTER = "filter"
    SHEET = "sheet"
    WINDOW = "window"
    GELATIN = "gelatin"


class LossReason(StrEnum):
    """Why a part costs light, or why that cannot be said in stops."""

    DENSITY = "density"
    SKY_DENSITY = "sky_density"
    DENSITY_AND_POLARISER = "density_and_polariser"
    POLARISER = "polariser"
    PASSBAND = "passband"
    CLEAR = "clear"


class Measure(StrEnum):
    """Which number a part is labelled with on the drawing."""

    LENGTH = "length"
    POWER = "power"
    FACTOR = "factor"


class Extends(StrEnum):
    """What a part's length means behind a camera lens."""

    NOTHING = "nothing"
    # It moves the lens away from the camera on purpose.
    ON_PURPOSE = "on_purpose"
    # A teleconverter's length keeps the lens's flange distance.
    CARRIED = "carried"


@dataclass(frozen=True)
class Installation:
    """How a part is: its length, its ends, and what is in it.

    Attributes:
        length: shoulder to shoulder as placed.
        span_mm: how much of the rail it takes; less than its length only where it is inside a thread.
        front: the connection at its own front, rear: at its own rear.
        seats: what is in its seats or slots, by number.
        in_beam: which of them the light passes, in a part that turns one of several into it.
        dropped: a round filter dropped in behind a holder's sheets.
        carried: a lens that a ring carries.
        shifts_mm: how far each slot's content is slid up.
    """

    length: Quantity
    span_mm: float
    front: "Connection | None" = None
    rear: "Connection | None" = None
    seats: "tuple[InventoryItem | None, ...]" = ()
    in_beam: int = 0
    dropped: "InventoryItem | None" = None
    carried: "InventoryItem | None" = None
    shifts_mm: tuple[float, ...] = ()

    @property
    def seated(self) -> "InventoryItem | None":
        """What is in the beam."""
        return self.seats[self.in_beam] if 0 <= self.in_beam < len(self.seats) else None

    def shift_mm(self, slot: int) -> float:
        """How far the content of a slot is slid up."""
        return self.shifts_mm[slot] if slot < len(self.shifts_mm) else 0.0


@dataclass(frozen=True)
class Aperture:
    """A clear aperture, or something that covers part of the light.

    Attributes:
        owner: whose aperture it is: the part, or what is in it.
        role: which of its apertures.
        diameter: clear diameter, or a rectangle's width.
        path: the owner's field that says so; what a person types over, or tries.
        low_mm: nearest to the front it may be.
        high_mm: nearest to the rear it may be.
        origin: where its place came from.
        slot: of several alike, which.
        height: of a rectangular one; None for a round one.
        centre_mm: where its centre is beside the axis, right and up.
        passes: the share of light it lets through where it only covers part of it; None for an opening.
        thick_mm: how thick what it belongs to is: the face toward the light decides, the one that way the part is.
        cut_mm: of a hood whose front is cut out: by how much it reaches less far at the frame's corners and at its
            sides than above; () for a straight one.
    """

    owner: "InventoryItem"
    role: ApertureRole
    diameter: Quantity
    path: str
    low_mm: float
    high_mm: float
    origin: Origin
    slot: int = -1
    height: Quantity | None = None
    centre_mm: tuple[float, float] = (0.0, 0.0)
    passes: float | None = None
    thick_mm: float = 0.0
    cut_mm: tuple[float, float] | tuple[()] = ()


@dataclass(frozen=True)
class GlassPiece:
    """Glass in the beam: its surface toward the part's front, the width it is drawn with, and its owner."""

    owner: "InventoryItem"
    role: GlassRole
    glass: Glass
    at_mm: float
    diameter_mm: float
    slot: int = -1
    # How far a sheet is slid up.
    shift_mm: float = 0.0
    # Whether the owner's published distance already includes the focus shift; None: the maker does not say, and it is
    # taken as included.
    included: bool | None = False

    @property
    def thick_mm(self) -> float:
        """How thick it is drawn."""
        return self.glass.drawn_thickness_mm


@dataclass(frozen=True)
class LightLoss:
    """What a part costs in light.

    Attributes:
        stops: what it takes; None where stops do not say it.
        origin: where the number came from.
        reason: why.
        dark_stops: what the dark part of a graduated filter takes beyond that, else None.
        density: the density both came from, else None.
        ends: the least and the most it may take where that is unknown, else None.
    """

    stops: float | None
    origin: Origin
    reason: LossReason
    dark_stops: float | None = None
    density: float | None = None
    ends: tuple[float, float] | None = None


@dataclass(frozen=True)
class ThinLens:
    """A powered part as a thin lens: its own focal length, or the factor it makes with the camera on its rear.

    Attributes:
        focal: its focal length, negative where it diverges; None where its factor is known instead.
        factor: its factor; None where its focal length is known instead.
        at: how far behind its front it is; None: in its middle, which is an assumption for a corrector.
        place_known: whether the middle is where it is named for, so that no uncertainty is added.
    """

    focal: Quantity | None = None
    factor: Quantity | None = None
    at: Quantity | None = None
    place_known: bool = False


@dataclass(frozen=True)
class Outline:
    """How a part is drawn besides its wall, from its own front on.

    Attributes:
        elements: lenses, each a closed outline from the axis to the rim.
        wall_mm: how thick its wall is drawn where nothing else decides; None: as its apertures leave it.
        hollow: whether a tray or carousel runs inside.
        reach_mm: how far from the axis a handle reaches; 0 for none.
        measure: which number it is labelled with.
        value: that number where it is not its length.
    """

    elements: tuple[Polyline, ...] = ()
    wall_mm: float | None = None
    hollow: bool = False
    reach_mm: float = 0.0
    measure: Measure = Measure.LENGTH
    value: float = field(default=0.0)
