"""A train: an optic with what is before and behind it, named by part ids.

`front_stack` is counted from the optic outward toward the scene, `rear_train` from the optic toward the camera.
A corrector is a member of the rear train; no matter what follows it is measured from its own datum.
"""

from enum import StrEnum
from typing import Annotated

from pydantic import Field

from farrail.parts.frozen import Frozen
from farrail.parts.inventory_item import PartId

Standoff = Annotated[float, Field(ge=0.0, le=200.0)]
Shift = Annotated[float, Field(ge=-500.0, le=500.0)]
Turn = Annotated[float, Field(ge=-180.0, le=180.0)]


class Side(StrEnum):
    """Which row of parts is meant."""

    FRONT = "front_stack"
    REAR = "rear_train"


class GuidePort(Frozen):
    """What hangs on an off-axis guider's port.

    Attributes:
        camera: the guide camera.
        between: parts between the port and it, in the order the light meets them.
    """

    camera: PartId
    between: Annotated[tuple[PartId, ...], Field(max_length=24)] = ()


class MountedPart(Frozen):
    """One part as it is in a train.

    Attributes:
        part: the part's id.
        flipped: turned end for end.
        setting_mm: what an adjustable spacer is set to; None: its shortest.
        filters: the filters in a drawer's set or a wheel's slots, None for an empty slot.
        in_beam: which of `filters` is in the beam.
        standoff_mm: how far a nosepiece held by a screw is out at the part's scene side, as measured.
        out_of_cell: a filter's glass, taken out of its own cell to be held between two rings.
        turned_deg: how far it is turned about the axis, clockwise as seen from the camera; None: as it comes.
        drop_in: the round filter dropped into a holder behind its sheets.
        lens: the lens a reversing ring in a front stack carries, flipped.
        guide: the guide camera on an off-axis guider's port, and what is between; None for none.
        kept: it stays where it is and as it is set; no planner moves it, though it could be moved.
        shifts_mm: how far each of a holder's sheets is slid up from the middle, slot by slot; 0 where not given.
    """

    part: PartId
    flipped: bool = False
    setting_mm: Annotated[float, Field(ge=0.0, le=3000.0)] | None = None
    filters: Annotated[tuple[PartId | None, ...], Field(max_length=24)] = ()
    in_beam: Annotated[int, Field(ge=0, le=23)] = 0
    standoff_mm: Standoff | None = None
    out_of_cell: bool = False
    turned_deg: Turn | None = None
    drop_in: PartId | None = None
    lens: PartId | None = None
    guide: GuidePort | None = None
    kept: bool = False
    shifts_mm: Annotated[tuple[Shift, ...], Field(max_length=24)] = ()

    def part_ids(self) -> list[PartId]:
        """Return the id of every part that is here, what it holds, carries and has hung on it included."""
        held = [f for f in (*self.filters, self.drop_in, self.lens) if f is not None]
        hung = [] if self.guide is None else [*self.guide.between, self.guide.camera]
        return [self.part, *held, *hung]

    def shift_mm(self, slot: int) -> float:
        """How far the sheet of a slot is slid up."""
        return self.shifts_mm[slot] if slot < len(self.shifts_mm) else 0.0

    @property
    def filter_in_beam(self) -> PartId | None:
        """The filter the light passes now."""
        return self.filters[self.in_beam] if self.in_beam < len(self.filters) else None


class Target(Frozen):
    """Something in the sky of a given angular size.

    Attributes:
        name: what it is called.
        width_arcmin: its long axis.
        height_arcmin: its short axis.
        turned_deg: how far the long axis is turned from the picture's width, anticlockwise, with the camera straight.
        right_ascension_deg: where its middle is (J2000); None where only its size was entered.
        declination_deg: the same; north positive.
        overlap: how much neighbouring panels of a mosaic share of a side.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    width_arcmin: Annotated[float, Field(gt=0.0, le=10_000.0)]
    height_arcmin: Annotated[float, Field(gt=0.0, le=10_000.0)]
    turned_deg: Annotated[float, Field(ge=-360.0, le=360.0)] = 0.0
    right_ascension_deg: Annotated[float, Field(ge=0.0, lt=360.0)] | None = None
    declination_deg: Annotated[float, Field(ge=-90.0, le=90.0)] | None = None
    # Enough to join panels; common practice, no source.
    overlap: Annotated[float, Field(ge=0.0, le=0.6)] = 0.15


class Sky(Frozen):
    """A clear sky before the camera, for what a polariser does to it.

    Attributes:
        sun_high_deg: how high the Sun is.
        sun_right_deg: how far to the right of where the camera looks; negative: to the left.
        camera_up_deg: how far above the horizon the camera looks.
        most_polarised: how far the sky is polarised at 90° from the Sun; about 0.8 in clear air (common practice).
        polariser_deg: turn of the polariser's axis from the right toward up; None: darkest in the middle.
    """

    sun_high_deg: Annotated[float, Field(ge=-18.0, le=90.0)] = 20.0
    sun_right_deg: Turn = 90.0
    camera_up_deg: Annotated[float, Field(ge=-90.0, le=90.0)] = 0.0
    most_polarised: Annotated[float, Field(ge=0.0, le=1.0)] = 0.8
    polariser_deg: Turn | None = None


class Conditions(Frozen):
    """How the train is used; None takes the optic's own."""

    f_number: Annotated[float, Field(ge=0.3, le=1000.0)] | None = None
    target: Target | None = None
    # What a zoom is set to, and how far away the lens is focused, from its entrance pupil; None: infinity.
    focal_mm: Annotated[float, Field(gt=0.0, le=100_000.0)] | None = None
    focus_mm: Annotated[float, Field(ge=10.0, le=1e9)] | None = None
    # How far a lens that shifts is shifted, as seen from behind the camera.
    shift_right_mm: Annotated[float, Field(ge=-50.0, le=50.0)] = 0.0
    shift_up_mm: Annotated[float, Field(ge=-50.0, le=50.0)] = 0.0
    # How far a lens that tilts is tilted: positive looks down, and the plane of focus leans to the ground.
    tilt_deg: Annotated[float, Field(ge=-20.0, le=20.0)] = 0.0
    # How thick the gelatin filter in the lens's rear slot is; None: the slot is empty.
    gelatin_mm: Annotated[float, Field(gt=0.0, le=3.0)] | None = None
    # What the meter said without filters, as engraved, and at what sensitivity; None: 100.
    metered_s: Annotated[float, Field(gt=0.0, le=86_400.0)] | None = None
    metered_iso: Annotated[float, Field(ge=1.0, le=10_000_000.0)] | None = None
    # What a flash has at ISO 100: f-number times distance in metres.
    guide_number_m: Annotated[float, Field(gt=0.0, le=1000.0)] | None = None
    # A close subject: how wide and how deep it is, and the blur on the sensor that still counts as sharp.
    subject_width_mm: Annotated[float, Field(gt=0.0, le=100_000.0)] | None = None
    subject_depth_mm: Annotated[float, Field(gt=0.0, le=10_000.0)] | None = None
    blur_um: Annotated[float, Field(gt=0.0, le=1000.0)] | None = None
    # Where the Sun is, for a polariser; None: a usual place.
    sky: Sky | None = None


Day = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class Tick(Frozen):
    """A step of putting the train together that is done, and on which day."""

    step: Annotated[str, Field(min_length=1, max_length=300)]
    day: Day


class Built(Frozen):
    """The train as it was last put together, and on which day: what a change since makes necessary again."""

    day: Day
    optic: PartId
    optic_reversed: bool = False
    front_stack: Annotated[tuple[MountedPart, ...], Field(max_length=60)] = ()
    rear_train: Annotated[tuple[MountedPart, ...], Field(max_length=60)] = ()
    camera: PartId | None = None
    camera_bare: bool = False

    def row(self, side: Side) -> tuple[MountedPart, ...]:
        """Return the parts on one side as they were."""
        return self.front_stack if side is Side.FRONT else self.rear_train


class Train(Frozen):
    """An optic, what is placed on both its sides, and a camera."""

    id: PartId
    name: Annotated[str, Field(min_length=1, max_length=120)]
    optic: PartId
    # A lens flipped: its filter thread faces the camera.
    optic_reversed: bool = False
    front_stack: Annotated[tuple[MountedPart, ...], Field(max_length=60)] = ()
    rear_train: Annotated[tuple[MountedPart, ...], Field(max_length=60)] = ()
    camera: PartId | None = None
    # The camera is used with its front ring taken off.
    camera_bare: bool = False
    camera_standoff_mm: Standoff | None = None
    camera_turned_deg: Turn | None = None
    conditions: Conditions = Conditions()
    # Steps of putting it together that are done, and the train as it was when all were.
    ticks: Annotated[tuple[Tick, ...], Field(max_length=400)] = ()
    built: Built | None = None

    def row(self, side: Side) -> tuple[MountedPart, ...]:
        """Return the parts on one side."""
        return self.front_stack if side is Side.FRONT else self.rear_train

    def part_ids(self) -> list[PartId]:
        """Return the id of every part used, once for each use."""
        ids = [self.optic]
        for laid in (*self.front_stack, *self.rear_train):
            ids.extend(laid.part_ids())
        if self.camera is not None:
            ids.append(self.camera)
        return ids


def with_conditions(train: Train, focal_mm: float | None, f_number: float | None) -> Train:
    """Return a train set to a focal length and an aperture, where they are given."""
    given = {"focal_mm": focal_mm, "f_number": f_number}
    changed = {name: value for name, value in given.items() if value is not None}
    if not changed:
        return train
    conditions: Conditions = train.conditions.model_copy(update=changed)
    return train.model_copy(update={"conditions": conditions})
