"""The kinds of part, each with the fields its readouts use; `Part` is the union of them all.

Front is the end the light enters, as the maker draws the part; a part laid flipped swaps its ends.
"""

from typing import Annotated, Literal, TypeAlias

from pydantic import Field

from farrail.optics.projection import Projection
from farrail.parts.base import (
    AT_HAND as AT_HAND,
)
from farrail.parts.base import (
    TO_BUY as TO_BUY,
)
from farrail.parts.base import (
    Adjustable as Adjustable,
)
from farrail.parts.base import (
    DrawnSize as DrawnSize,
)
from farrail.parts.base import (
    FixedLength as FixedLength,
)
from farrail.parts.base import (
    Housing as Housing,
)
from farrail.parts.base import (
    KitName as KitName,
)
from farrail.parts.base import (
    PartBase as PartBase,
)
from farrail.parts.base import (
    PartId as PartId,
)
from farrail.parts.base import (
    Price as Price,
)
from farrail.parts.base import (
    Status as Status,
)
from farrail.parts.base import (
    Through as Through,
)
from farrail.parts.close_up_kinds import (
    Bellows as Bellows,
)
from farrail.parts.close_up_kinds import (
    CloseUpLens as CloseUpLens,
)
from farrail.parts.close_up_kinds import (
    ExtensionTube as ExtensionTube,
)
from farrail.parts.close_up_kinds import (
    ReversingRing as ReversingRing,
)
from farrail.parts.close_up_kinds import (
    Teleconverter as Teleconverter,
)
from farrail.parts.connections import Connection, Gender, Plain, Thread
from farrail.parts.front_kinds import (
    CouplingRing as CouplingRing,
)
from farrail.parts.front_kinds import (
    FilterHolder as FilterHolder,
)
from farrail.parts.front_kinds import (
    Gradation as Gradation,
)
from farrail.parts.front_kinds import (
    HolderRing as HolderRing,
)
from farrail.parts.front_kinds import (
    Hood as Hood,
)
from farrail.parts.front_kinds import (
    SheetFilter as SheetFilter,
)
from farrail.parts.frozen import Frozen
from farrail.parts.glass import Glass, Plate
from farrail.parts.provenance import (
    Density,
    Diameter,
    Distance,
    FNumber,
    Length,
    Magnification,
    Offset,
    PixelSize,
    PupilRatio,
    RefractiveIndex,
    SignedFocal,
    Wavelength,
    assumed,
    less,
)


class Telescope(PartBase):
    """An objective or mirror in its tube, with the rear shoulder of its drawtube as datum."""

    kind: Literal["telescope"] = "telescope"
    rear: Connection
    focal_length_mm: Distance
    aperture_mm: Diameter
    obstruction_mm: Diameter | None = None
    # Required distance from the rear datum to the sensor when no corrector follows; None: the focuser finds it.
    back_focus_mm: Length | None = None
    spacing_tolerance_mm: Length | None = None
    # None: the pupil is the objective itself.
    exit_pupil_distance_mm: Distance | None = None
    image_circle_mm: Diameter | None = None
    # The drawtube ahead of the rear shoulder: how far it reaches in, and how wide it is inside.
    drawtube_length_mm: Length | None = None
    drawtube_clear_mm: Diameter | None = None
    # Where the bare focus lies behind the rear datum with the rack at its inner stop, and how far the rack travels.
    focal_plane_mm: Length | None = None
    focuser_travel_mm: Length | None = None
    # The train stands in front of the mirror, in its light.
    prime_focus: bool = False
    tube_length_mm: DrawnSize = 120.0


class Corrector(Housing):
    """A flattener or coma corrector: a new datum, at its rear shoulder, with its own requirement."""

    kind: Literal["corrector"] = "corrector"
    back_focus_mm: Length
    spacing_tolerance_mm: Length
    datum: Annotated[str, Field(max_length=120)] = "rear shoulder"
    exit_pupil_distance_mm: Distance | None = None
    # Required distance from the telescope's datum to this part's front shoulder; None: the focuser sets it.
    telescope_distance_mm: Length | None = None
    telescope_tolerance_mm: Length | None = None
    included_glass: Glass | None = None
    image_circle_mm: Diameter | None = None
    # Its own focal length as a thin lens, negative for one that diverges; None: taken as without power.
    lens_focal_mm: SignedFocal | None = None
    # Where that thin lens stands behind the front shoulder; None: in the middle.
    principal_mm: Length | None = None


class PupilAt(Frozen):
    """Where a zoom's entrance pupil lies at one focal length."""

    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)]
    depth_mm: Offset


class NearAt(Frozen):
    """A zoom's nearest focus at one focal length: subject to sensor, and the magnification there."""

    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)]
    nearest_mm: Distance
    magnification: Magnification


class CameraLens(PartBase):
    """A camera lens, with its rear flange as datum."""

    kind: Literal["camera_lens"] = "camera_lens"
    front: Connection | None = None
    rear: Connection
    focal_length_mm: Distance
    # A zoom reaches from `focal_length_mm` to this.
    longest_focal_mm: Distance | None = None
    f_number: FNumber
    flange_focal_distance_mm: Length
    # Behind the thread seat (or the rim, of a lens without thread); negative where it lies ahead of it.
    entrance_pupil_depth_mm: Offset
    # The same at single focal lengths of a zoom; between them it is interpolated.
    entrance_pupils: Annotated[tuple[PupilAt, ...], Field(max_length=40)] = ()
    projection: Projection = "rectilinear"
    exit_pupil_distance_mm: Distance | None = None
    image_circle_mm: Diameter | None = None
    included_glass: Glass | None = None
    barrel_length_mm: DrawnSize = 70.0
    # Its nearest focus as the maker gives it: subject to sensor, and the magnification there; of a zoom over its range.
    nearest_mm: Distance | None = None
    nearest_magnification: Magnification | None = None
    near_points: Annotated[tuple[NearAt, ...], Field(max_length=40)] = ()
    # Between its principal planes, negative where they are crossed; None: none.
    hiatus_mm: Offset | None = None
    # Exit pupil over entrance pupil; None: 1.
    pupil_ratio: PupilRatio | None = None
    # Seen through a ruler at its nearest focus: from the thread seat, so wide a field filled so wide a frame. This
    # outranks what the maker gives.
    pair_distance_mm: Distance | None = None
    pair_width_mm: Diameter | None = None
    pair_frame_mm: Diameter | None = None

    @property
    def can_turn(self) -> bool:
        """Whether it has a filter thread to be held by when it is turned round."""
        return self.front is not None and isinstance(self.front.standard, Thread)


class Adapter(Housing):
    """Joins two different connections."""

    kind: Literal["adapter"] = "adapter"


class Spacer(FixedLength):
    """Adds length between two connections of the same standard."""

    kind: Literal["spacer"] = "spacer"


class Shim(FixedLength):
    """A thin washer between two shoulders; the thread passes through it."""

    kind: Literal["shim"] = "shim"


class Rotator(Housing):
    """Turns the camera about the axis."""

    kind: Literal["rotator"] = "rotator"


class OffAxisGuider(Housing):
    """Picks light for a guide camera beside the frame, with a prism toward the part's top.

    `prism_edge_mm` runs from the axis to the prism's near edge, `prism_at_mm` from the front face to its middle,
    `guide_port_mm` from there to the shoulder of the guide port; `prism_glass` is the glass the guide's light passes.
    """

    kind: Literal["off_axis_guider"] = "off_axis_guider"
    prism_edge_mm: Length | None = None
    prism_width_mm: Diameter | None = None
    prism_height_mm: Diameter | None = None
    prism_at_mm: Length | None = None
    guide_port_mm: Length | None = None
    prism_glass: Glass | None = None


class AdjustableSpacer(Adjustable):
    """A spacer of variable length; the setting belongs to the train it is laid in."""

    kind: Literal["adjustable_spacer"] = "adjustable_spacer"


class FilterSeat(Housing):
    """A part with a seat for a filter.

    `seat_mm` runs from the front face to the filter's front surface; `seat_aperture_mm` is the mask or ledge
    that holds the filter, when it is narrower than the filter itself; `seat_diameter_mm` and `seat_thickness_mm` are
    the largest cell it takes.
    """

    seat_mm: Length
    seat_aperture_mm: Diameter | None = None
    # A rectangular seat is `seat_aperture_mm` wide and this high; None: a round one.
    seat_aperture_height_mm: Diameter | None = None
    # How far the seat's middle stands off the axis, toward the part's top.
    seat_offset_mm: Offset | None = None
    seat_diameter_mm: Diameter | None = None
    seat_thickness_mm: Length | None = None


class FilterDrawer(FilterSeat):
    """A housing with one exchangeable filter."""

    kind: Literal["filter_drawer"] = "filter_drawer"
    # How far from the axis its handle reaches; it must pass the neighbours when the drawer is drawn.
    handle_reach_mm: Length | None = None


class FilterWheel(FilterSeat):
    """A housing that turns one of several filters into the beam."""

    kind: Literal["filter_wheel"] = "filter_wheel"
    slots: Annotated[int, Field(ge=1, le=24)]


class RoundFilter(FixedLength):
    """A round filter: its path length is that of its cell, or of the bare glass when unmounted."""

    kind: Literal["round_filter"] = "round_filter"
    glass: Glass
    # A narrow passband: its nominal centre and full width at half maximum, and the coating's effective index.
    line_nm: Wavelength | None = None
    passband_nm: Wavelength | None = None
    effective_index: RefractiveIndex | None = None
    polariser: bool = False
    # Optical density of a grey filter; None: as good as clear.
    density: Density | None = None
    # The glass without its cell; None: nobody has taken it out.
    glass_diameter_mm: Diameter | None = None

    def without_cell(self) -> "RoundFilter":
        """Return the filter as bare glass; itself when it has no cell.

        Without a known diameter the glass is taken as wide as its clear aperture and 1 mm (common practice, no source).
        """
        if isinstance(self.front.standard, Plain) and isinstance(self.rear.standard, Plain):
            return self
        clear = self.clear_aperture_mm
        narrow = clear.value + 1.0 if clear is not None else max(self.outer_diameter_mm - 3.0, 1.0)
        wide = self.glass_diameter_mm.value if self.glass_diameter_mm is not None else narrow
        rim = Connection(standard=Plain(diameter_mm=wide), gender=Gender.NONE, engagement_mm=0.0)
        glass = self.glass
        thick = glass.thickness_mm if isinstance(glass, Plate) else assumed(glass.drawn_thickness_mm)
        update = {"front": rim, "rear": rim, "outer_diameter_mm": wide, "path_length_mm": thick}
        return self.model_copy(update=update)


class Window(Frozen):
    """A camera's window: its glass, how far its rear face stands before the sensor, and whose job its shift is.

    `allowed_for` says whether the camera's published flange-to-sensor distance already makes up for the window;
    None: the maker is silent, and it is taken as allowed for.
    """

    glass: Glass
    sensor_gap_mm: Length
    allowed_for: bool | None = None


class FrontRing(Frozen):
    """A ring on a camera's front that can be taken off: its path length, and the connection behind it."""

    length_mm: Length
    behind: Connection


class Camera(PartBase):
    """A camera: where its sensor stands behind its front connection, and how large it is."""

    kind: Literal["camera"] = "camera"
    front: Connection
    flange_to_sensor_mm: Length
    sensor_width_mm: Diameter
    sensor_height_mm: Diameter
    pixel_size_um: PixelSize | None = None
    # Where the sensor's middle stands off the axis, as seen from behind.
    sensor_right_mm: Offset | None = None
    sensor_up_mm: Offset | None = None
    window: Window | None = None
    # What `front` and `flange_to_sensor_mm` include and can be taken off.
    front_ring: FrontRing | None = None

    def without_front_ring(self) -> "Camera":
        """Return the camera as it is with its front ring taken off; itself when it has none."""
        ring = self.front_ring
        if ring is None:
            return self
        left = less(self.flange_to_sensor_mm, ring.length_mm)
        return self.model_copy(update={"front": ring.behind, "flange_to_sensor_mm": left, "front_ring": None})


Optic: TypeAlias = Telescope | CameraLens
Tube: TypeAlias = (
    Corrector
    | Adapter
    | Spacer
    | Shim
    | Rotator
    | OffAxisGuider
    | AdjustableSpacer
    | FilterDrawer
    | FilterWheel
    | RoundFilter
    | HolderRing
    | FilterHolder
    | CouplingRing
    | Hood
    | CloseUpLens
    | ExtensionTube
    | Bellows
    | Teleconverter
    | ReversingRing
)
Part = Annotated[
    Telescope | CameraLens | Tube | SheetFilter | Camera,
    Field(discriminator="kind"),
]

KIND_NAMES = {
    "telescope": "telescope",
    "camera_lens": "camera lens",
    "corrector": "corrector",
    "adapter": "adapter",
    "spacer": "spacer",
    "shim": "shim",
    "rotator": "rotator",
    "off_axis_guider": "off-axis guider",
    "adjustable_spacer": "adjustable spacer",
    "filter_drawer": "filter drawer",
    "filter_wheel": "filter wheel",
    "round_filter": "round filter",
    "holder_ring": "holder ring",
    "filter_holder": "filter holder",
    "coupling_ring": "coupling ring",
    "hood": "hood",
    "close_up_lens": "close-up lens",
    "extension_tube": "extension tube",
    "bellows": "bellows",
    "teleconverter": "teleconverter",
    "reversing_ring": "reversing ring",
    "sheet_filter": "sheet filter",
    "camera": "camera",
}
