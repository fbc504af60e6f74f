"""Camera lenses, with their pupils and how near they focus."""

from collections.abc import Iterator
from typing import Annotated, Literal, TypeAlias

from pydantic import Field

from farrail.language import N_, say
from farrail.optics.projection import Projection
from farrail.parts.base import Optic, PartBase, has_thread
from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.frozen import Frozen
from farrail.parts.glass import Glass, Plate, sensor_glass
from farrail.parts.in_beam import GlassPiece, GlassRole
from farrail.parts.inventory_item import DrawnSize
from farrail.parts.lens_defaults import not_entered, pupil_ratio_default
from farrail.parts.not_entered import Default, Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import (
    Diameter,
    Distance,
    FNumber,
    Length,
    Magnification,
    Offset,
    Percent,
    PupilRatio,
    Quantity,
    Stops,
    TiltAngle,
    assumed,
    unknown,
)
from farrail.parts.registers import BAYONET_REGISTERS_MM
from farrail.parts.usual import COMMON, IN, OUT, Usual, key, size

# Shortest and longest focal length, f-number and filter thread (0 for none); common practice, no source.
USUAL_LENSES = (
    (14, None, 2.8, 0),
    (20, None, 1.8, 77),
    (24, None, 2.8, 58),
    (28, None, 2.0, 58),
    (35, None, 2.0, 52),
    (50, None, 1.8, 52),
    (85, None, 1.8, 67),
    (90, None, 2.8, 62),
    (100, None, 2.8, 67),
    (135, None, 2.0, 72),
    (200, None, 2.8, 77),
    (16, 35, 4.0, 77),
    (17, 40, 4.0, 77),
    (24, 70, 2.8, 82),
    (24, 105, 4.0, 77),
    (70, 200, 4.0, 72),
)
# How far behind its thread a lens's entrance pupil is taken to be where no one has looked: between these.
PUPIL_BEHIND_MM = (15.0, 45.0)

# A gelatin filter's index, and how wide one is drawn; common practice, no source.
GELATIN_INDEX, GELATIN_WIDE_MM = 1.5, 30.0


# What is known of a lens's own hood.
Hood: TypeAlias = Literal["hood_unknown", "no_hood", "hood_fixed", "hood_comes_off"]


class PupilAt(Frozen):
    """Where a zoom's entrance pupil is at one focal length, and how far it walks forward to the frame's corner."""

    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)]
    depth_mm: Offset
    walk_mm: Offset | None = None


class FNumberAt(Frozen):
    """How far a zoom opens at one focal length."""

    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)]
    f_number: FNumber


class NearAt(Frozen):
    """A zoom's nearest focus at one focal length: subject to sensor, and the magnification there."""

    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)]
    nearest_mm: Distance
    magnification: Magnification


class CameraLens(Optic):
    """A camera lens, with its rear flange as datum."""

    kind_name = N_("camera lens")
    rank = 20

    kind: Literal["camera_lens"] = "camera_lens"
    front: Annotated[Connection | None, FieldInfo("Front connection", "Its filter thread", group=Group.ENDS)] = None
    # A zoom reaches from `focal_length_mm` to this.
    longest_focal_mm: Annotated[
        Distance | None, FieldInfo("Longest focal length, of a zoom", "As engraved", group=Group.OPTICS, stays_mm=True)
    ] = None
    f_number: Annotated[FNumber, FieldInfo("f-number", "Wide open, as engraved", "", Group.OPTICS)]
    # Of a zoom that opens less wide at its long end; between them it is interpolated.
    f_numbers: Annotated[
        tuple[FNumberAt, ...],
        Field(max_length=40),
        FieldInfo(
            "f-numbers, of a zoom",
            "Wide open, at which focal length, such as 18 mm: 3.5 published ;; 55 mm: 5.6 published",
            group=Group.OPTICS,
        ),
    ] = ()
    flange_focal_distance_mm: Annotated[
        Length, FieldInfo("Flange focal distance", "Lens flange to sensor, by its mount", group=Group.OPTICS)
    ]
    # Behind the thread seat (or the rim, of a lens without thread); negative where it is ahead of it.
    entrance_pupil_depth_mm: Annotated[
        Offset,
        FieldInfo(
            "Entrance pupil behind seat", "Find the no-parallax point and measure from the thread", group=Group.OPTICS
        ),
    ]
    # The same at single focal lengths of a zoom; between them it is interpolated.
    entrance_pupils: Annotated[
        tuple[PupilAt, ...],
        Field(max_length=40),
        FieldInfo(
            "Entrance pupils, of a zoom",
            "Distance behind the seat by focal length, and the shift toward the corner where known, "
            "such as 17 mm: 27 measured @@ 4 measured ;; 35 mm: 28 assumed",
            group=Group.OPTICS,
        ),
    ] = ()
    # How far it has moved toward the scene, seen from the direction of the frame's corner; None: not known.
    pupil_walk_mm: Annotated[
        Offset | None,
        FieldInfo(
            "Entrance pupil walks forward",
            "No-parallax point found for the corner, against the middle's",
            group=Group.OPTICS,
        ),
    ] = None
    # By how much a corner of the frame is farther out than the projection says; negative for a barrel.
    distortion_percent: Annotated[
        Percent | None,
        FieldInfo("Distortion in the corner", "Negative for a barrel, by the maker or a test", "%", Group.OPTICS),
    ] = None
    # What the bare lens itself loses: by its front glass, or as a person measured it wide open.
    front_element_mm: Annotated[
        Diameter | None, FieldInfo("Front glass, clear", "Diameter seen from the front", group=Group.APERTURE)
    ] = None
    front_element_depth_mm: Annotated[
        Offset | None, FieldInfo("… behind the seat", "From the thread's rim to the glass", group=Group.APERTURE)
    ] = None
    corner_loss_stops: Annotated[
        Stops | None,
        FieldInfo("Corner loss, wide open", "Vignetting of the bare lens, by a test", "stops", Group.APERTURE),
    ] = None
    projection: Annotated[
        Projection,
        FieldInfo(
            "Projection", "Projection of angles on the frame; rectilinear except for fisheyes", group=Group.OPTICS
        ),
    ] = "rectilinear"
    # Where a hood cannot come off, its rim counts as the lens's front, and a slip-on holder goes around it.
    hood: Annotated[Hood, FieldInfo("Its own hood", "Whether it comes off", group=Group.ENDS)] = "hood_unknown"
    # Of a lens that shifts: how far at most, in any direction.
    most_shift_mm: Annotated[
        Offset | None, FieldInfo("Shift, at most", "As engraved on a shift lens", group=Group.OPTICS)
    ] = None
    # Of a lens that tilts, and of one with a slot behind its rear glass.
    most_tilt_deg: Annotated[
        TiltAngle | None, FieldInfo("Tilt, at most", "As engraved on a tilt lens", "°", Group.OPTICS)
    ] = None
    gelatin_slot: Annotated[
        bool, FieldInfo("Rear gelatin slot", "Whether a gelatin filter goes in behind its glass", group=Group.ENDS)
    ] = False
    included_glass: Annotated[
        Glass | None,
        FieldInfo(
            "Included glass",
            "Sensor glass it was designed for",
            group=Group.GLASS,
            begins=sensor_glass,
            first="thickness_mm",
        ),
    ] = None
    # As measured with a ruler at the closest focus; None: an interval around the drawn length.
    barrel_mm: Annotated[
        Length | None,
        FieldInfo(
            "Barrel at closest focus", "Filter thread to flange, focused as close as it goes", group=Group.FOCUSING
        ),
    ] = None
    barrel_length_mm: Annotated[DrawnSize, FieldInfo("Barrel, drawn", "Thread to flange", group=Group.BODY)] = 70.0
    focuses_itself: Annotated[
        bool, FieldInfo("Focuses by itself", "No for an enlarging lens or lens head on bellows", group=Group.FOCUSING)
    ] = True
    # Its nearest focus as the maker gives it: subject to sensor, and the magnification there; of a zoom over its range.
    nearest_mm: Annotated[
        Distance | None, FieldInfo("Minimum focus distance, from the sensor", "From the manual", group=Group.FOCUSING)
    ] = None
    nearest_magnification: Annotated[
        Magnification | None, FieldInfo("… magnification there", "From the manual, such as 0.15", "×", Group.FOCUSING)
    ] = None
    near_points: Annotated[
        tuple[NearAt, ...],
        Field(max_length=40),
        FieldInfo(
            "Closest focus of a zoom",
            "Minimum focus distance and magnification by focal length, such as 24 mm: 380 "
            "published @@ 0.17 published ;; 70 mm: 420 published @@ 0.21 published",
            group=Group.FOCUSING,
        ),
    ] = ()
    near_focal_mm: Annotated[
        Distance | None,
        FieldInfo(
            "Focal length at closest focus", "Shorter for internal focusing", group=Group.FOCUSING, stays_mm=True
        ),
    ] = None
    near_f_number: Annotated[
        FNumber | None,
        FieldInfo("Effective f-number at closest focus", "Wide open, as some makers of macro lenses publish", "",
             Group.FOCUSING),
    ] = None  # fmt: skip
    # Between its principal planes, negative where they are crossed; None: a range.
    hiatus_mm: Annotated[
        Offset | None, FieldInfo("Between principal planes", "Negative where they are crossed", group=Group.FOCUSING)
    ] = None
    # Exit pupil over entrance pupil; None: a range.
    pupil_ratio: Annotated[
        PupilRatio | None,
        FieldInfo("Exit over entrance pupil", "Pupil magnification: both diameters seen", "", Group.OPTICS),
    ] = None
    # Seen through a ruler at its nearest focus: from the thread seat, so wide a field filled so wide a frame. This
    # outranks what the maker gives.
    pair_distance_mm: Annotated[
        Distance | None,
        FieldInfo(
            "Ruler at closest focus, from the filter thread",
            "Filter thread to ruler, at the closest focus",
            group=Group.FOCUSING,
        ),
    ] = None
    pair_width_mm: Annotated[
        Diameter | None,
        FieldInfo("… width of ruler in frame", "Millimetres of ruler across the frame", group=Group.FOCUSING),
    ] = None
    pair_frame_mm: Annotated[
        Diameter | None, FieldInfo("… sensor width used", "Width of the sensor used", group=Group.FOCUSING)
    ] = None

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield what close-up rests on; for a lens carried reversed on another only its pupils matter."""
        if use.close_up and use.optic:
            yield from not_entered(self, use)
        elif use.close_up and self.pupil_ratio is None:
            yield pupil_ratio_default(self.focal_length_mm.value, use.diagonal_mm)

    def gelatin(self, thick_mm: float) -> GlassPiece:
        """Return a gelatin filter in its rear slot, of the usual index (common practice, no source)."""
        plate = Plate(
            thickness_mm=Quantity.of(thick_mm, Origin.MEASURED),
            index=Quantity.of(GELATIN_INDEX, Origin.ASSUMED, note=say("gelatin, usual")),
        )
        return GlassPiece(self, GlassRole.GELATIN, plate, 0.0, GELATIN_WIDE_MM)

    @property
    def can_be_reversed(self) -> bool:
        """Whether it has a filter thread to be held by when it is flipped."""
        return has_thread(self.front)

    @property
    def body_mm(self) -> float:
        """How long its barrel is drawn."""
        return self.barrel_length_mm

    @classmethod
    def template(cls) -> "CameraLens":
        """Return a 50 mm lens."""
        bayonet = Connection(standard=Bayonet(name="44 mm SLR bayonet", throat_mm=42.0), gender=Gender.EXTERNAL)
        return cls(
            id="new-lens", name=say("New camera lens"), outer_diameter_mm=75, rear=bayonet, focal_length_mm=assumed(50),
            f_number=assumed(2), flange_focal_distance_mm=assumed(44), entrance_pupil_depth_mm=assumed(30),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual focal lengths and ratios for each bayonet; where the pupil is is to be found."""
        for mount, (register, throat) in BAYONET_REGISTERS_MM.items():
            rear = Connection(standard=Bayonet(name=mount, throat_mm=throat), gender=OUT)
            for low, high, f_number, across in USUAL_LENSES:
                reach = f"{low}" if high is None else f"{low}-{high}"
                part = cls(
                    id=key("lens", mount, reach, f_number),
                    name=say("Lens {reach} mm f/{f_number:g}, {mount}", reach=reach, f_number=f_number, mount=mount),
                    outer_diameter_mm=float(max(across + 6, 75)), rear=rear, focal_length_mm=size(float(low)),
                    longest_focal_mm=None if high is None else size(float(high)), f_number=size(f_number),
                    front=thread(across, 0.75, IN) if across else None, flange_focal_distance_mm=size(register),
                    entrance_pupil_depth_mm=unknown(*PUPIL_BEHIND_MM, say("find the no-parallax point")),
                )  # fmt: skip
                yield Usual(say("camera lenses"), part, COMMON)
