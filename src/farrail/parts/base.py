"""What every part has, before it is of a kind, and what a kind may say of itself."""

from collections.abc import Iterator
from functools import cached_property
from typing import Annotated, Any, ClassVar, TypeGuard

from farrail.language import Message, say
from farrail.parts.connections import Connection, Thread, default_clear_diameter_mm
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.in_beam import (
    Aperture,
    ApertureRole,
    Extends,
    GlassPiece,
    Installation,
    LightLoss,
    Outline,
    ThinLens,
)
from farrail.parts.inventory_item import InventoryItem
from farrail.parts.not_entered import Default, Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import Diameter, Distance, Length, Quantity, Span, assumed
from farrail.parts.usual import Usual


class PartBase(InventoryItem):
    """A part: what every kind has, and what a kind may say of itself.

    A kind is a subclass with a `kind` tag, a `kind_name`, a `template`, and the fields and answers of its own.
    """

    # What the kind is called, and where it is in lists of kinds.
    kind_name: ClassVar[Message] = Message("")
    rank: ClassVar[int] = 500

    @classmethod
    def template(cls) -> "PartBase":
        """Return a first version, every value assumed, for a person to make their own."""
        raise NotImplementedError(say("{name__} has no template", name__=cls.__name__))

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual["PartBase"]]:
        """Yield sizes that can be had almost anywhere, each with its source."""
        yield from ()

    @property
    def ends(self) -> tuple[Connection | None, Connection | None]:
        """Its connections, the one toward the light first; None where it has none."""
        return None, None

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield an interval for each empty field that results depend on.

        Args:
            use: how the part is used in its train.
        """
        yield from ()

    def light_loss(self) -> LightLoss | None:
        """Return what it costs in light where the light passes it; None for what is no filter."""
        return None


class Optic(PartBase):
    """What a train begins with: it makes the image, and its rear is the datum."""

    rear: Annotated[Connection, FieldInfo("Rear connection", group=Group.ENDS)]
    focal_length_mm: Annotated[
        Distance, FieldInfo("Focal length", "As engraved; of a zoom its shortest", group=Group.OPTICS, stays_mm=True)
    ]
    exit_pupil_distance_mm: Annotated[
        Distance | None, FieldInfo("Exit pupil to sensor", "From the maker or a measurement", group=Group.OPTICS)
    ] = None
    image_circle_mm: Annotated[
        Diameter | None, FieldInfo("Image circle", "Diameter it is made for", group=Group.OPTICS)
    ] = None
    # None: it is carried by its rear, or by the camera behind it.
    collar_ahead_mm: Annotated[
        Length | None,
        FieldInfo("Tripod collar ahead of rear", "Rear face to the middle of the collar's foot", group=Group.BODY),
    ] = None

    @property
    def ends(self) -> tuple[Connection | None, Connection | None]:
        """Its connections: the front of a lens with a filter thread, and the rear."""
        return getattr(self, "front", None), self.rear

    @property
    def body_mm(self) -> float:
        """How long it is drawn ahead of its rear."""
        raise NotImplementedError


# How far a washer's rim must reach beyond the thread, and how much wider than it its hole may be to rest on a shoulder;
# common practice, no source.
LEAST_RIM_MM, WIDEST_SHIM_MM = 1.0, 12.0


class TubePart(PartBase):
    """A part the light passes from its front to its rear connection."""

    # The joint on either side of it is made by the threads beyond.
    passes_thread: ClassVar[bool] = False
    # A planner may use it to fill a gap, and take it out; of these, what only adds length.
    fills: ClassVar[bool] = False
    only_length: ClassVar[bool] = False
    # A module: it may change places with its neighbours, and is worth adding where a train has room to spare.
    module: ClassVar[bool] = False
    # It is ahead of a lens unless it is put elsewhere.
    stands_ahead: ClassVar[bool] = False
    # What it and its length mean for close-up.
    brings_closer: ClassVar[bool] = False
    extends: ClassVar[Extends] = Extends.NOTHING
    # Its rear can be turned about the axis against its front, no matter what its connections are.
    turns_freely: ClassVar[bool] = False

    front: Annotated[Connection, FieldInfo("Front connection", "The end the light enters", group=Group.ENDS)]
    rear: Annotated[Connection, FieldInfo("Rear connection", group=Group.ENDS)]
    # None: nothing is known and the connections decide.
    clear_aperture_mm: Annotated[
        Diameter | None,
        FieldInfo("Clear aperture", "Narrowest free diameter inside; measure with a caliper", group=Group.APERTURE),
    ] = None

    # Inside it something narrower than both ends: a retaining ring, a thread, a ledge.
    step_clear_mm: Annotated[
        Diameter | None,
        FieldInfo(
            "Inner step, clear", "A retaining ring or thread inside, narrower than both ends", group=Group.APERTURE
        ),
    ] = None
    step_at_mm: Annotated[
        Length | None, FieldInfo("… behind the front face", "Left out: anywhere inside is tried", group=Group.APERTURE)
    ] = None

    @property
    def ends(self) -> tuple[Connection | None, Connection | None]:
        """Its connections, front first."""
        return self.front, self.rear

    @property
    def slot_count(self) -> int:
        """How many seats or slots it begins with, empty; 0 for a part without, or with a set that grows."""
        return 0

    def length_at(self, setting_mm: float | None) -> Quantity:
        """Return its length shoulder to shoulder, at a setting where it has one."""
        raise NotImplementedError

    def apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield its clear apertures: both ends, its inner step where it has one, and what a kind adds between.

        A tube is as wide as its clear aperture from end to end, so both ends are judged; without a known clear
        aperture each end takes the default of its connection, flagged assumed.
        """
        yield from self.end_aperture(filled, front=True)
        yield from self.step_aperture(filled)
        yield from self.inner_apertures(filled)
        yield from self.end_aperture(filled, front=False)

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the apertures of its kind between both ends; none for a plain tube."""
        yield from ()

    def step_aperture(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the narrow step inside it, where it has one; of unknown place it may be anywhere in it."""
        clear, at = self.step_clear_mm, self.step_at_mm
        if clear is not None:
            low, high = (0.0, filled.span_mm) if at is None else (at.low, at.high)
            origin = Origin.ASSUMED if at is None else at.origin
            yield Aperture(self, ApertureRole.STEP, clear, "step_clear_mm", low, high, origin)

    def end_aperture(self, filled: Installation, *, front: bool) -> Iterator[Aperture]:
        """Yield the aperture of one end; none where neither its clear width nor its connection is known."""
        clear = self.clear_aperture_mm
        if clear is None:
            if not (self.front if front else self.rear).known:
                return
            clear = self._bores[0 if front else 1]
        at = 0.0 if front else filled.span_mm
        role = ApertureRole.FRONT_END if front else ApertureRole.REAR_END
        yield Aperture(self, role, clear, "clear_aperture_mm", at, at, place_origin(filled))

    @cached_property
    def _bores(self) -> tuple[Quantity, Quantity]:
        """How wide its ends are taken to be where nothing was entered."""
        return _bore(self.front), _bore(self.rear)

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        """Yield the glass it holds in the beam, from front to rear."""
        yield from ()

    def thin_lens(self) -> ThinLens | None:
        """Return it as a thin lens where it has power; None for a plain tube."""
        return None

    def goes_over(self, thread_mm: float) -> bool:
        """Whether a washer passes a thread and rests on the shoulders beyond it.

        Its hole must pass the thread and its rim must reach beyond it; a hole much wider than the thread finds no
        shoulder.
        """
        if self.outer_diameter_mm <= thread_mm + LEAST_RIM_MM:
            return False
        face, clear = self.front.standard.size_mm, self.clear_aperture_mm
        hole = clear.value if clear is not None else face if face < self.outer_diameter_mm - LEAST_RIM_MM else None
        if hole is None:
            return self.outer_diameter_mm <= thread_mm + 2.0 * WIDEST_SHIM_MM
        return thread_mm - 0.05 <= hole <= thread_mm + WIDEST_SHIM_MM

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return how it is drawn besides its wall."""
        return Outline()


def _bore(connection: Connection) -> Quantity:
    note = say("minor diameter of {label} less a wall", label=connection.label)
    return assumed(default_clear_diameter_mm(connection), note=note)


def place_origin(filled: Installation) -> Origin:
    """Return where a place at a part's end came from: its length, assumed where only its two ends are known."""
    return Origin.ASSUMED if isinstance(filled.length.in_use, Span) else filled.length.origin


class FixedLength(TubePart):
    """A part whose shoulders are a fixed length apart."""

    path_length_mm: Annotated[Length, FieldInfo("Length", "Shoulder to shoulder, screwed home", group=Group.LENGTH)]

    def length_at(self, setting_mm: float | None) -> Quantity:
        """Return its length."""
        return self.path_length_mm


class Adjustable(TubePart):
    """A part of variable length; the setting belongs to the train it is placed in."""

    shortest_mm: Annotated[Length, FieldInfo("Shortest", "Length screwed in", group=Group.LENGTH)]
    longest_mm: Annotated[Length, FieldInfo("Longest", "Length drawn out", group=Group.LENGTH)]

    def length_at(self, setting_mm: float | None) -> Quantity:
        """Return its length as set, its shortest where nothing is; beyond its range the nearer end."""
        shortest, longest = self.shortest_mm.value, self.longest_mm.value
        wanted = shortest if setting_mm is None else setting_mm
        setting = min(max(wanted, shortest), max(longest, shortest))
        use = self.shortest_mm
        return Quantity.of(setting, use.origin, use.tolerance, say("as set in this train"))


class Housing(FixedLength):
    """A part whose body may reach beyond its own shoulders, over its neighbours.

    `overhang_front_mm` and `overhang_rear_mm` say by how much; `overhang_clear_mm` is the diameter that stays free
    inside the overhang.
    """

    overhang_front_mm: Annotated[
        Length | None, FieldInfo("Body reaches ahead of front", "Overlap over the next part", group=Group.BODY)
    ] = None
    overhang_rear_mm: Annotated[
        Length | None, FieldInfo("Body reaches behind rear", "Overlap over the next part", group=Group.BODY)
    ] = None
    overhang_clear_mm: Annotated[
        Diameter | None, FieldInfo("… free inside", "Diameter left for the neighbour", group=Group.BODY)
    ] = None


def has_thread(connection: Any) -> bool:
    """Whether a connection is there and is a thread."""
    return isinstance(connection, Connection) and isinstance(connection.standard, Thread)


def is_module(part: PartBase) -> TypeGuard[TubePart]:
    """Whether a part may change places with its neighbours, and is worth adding where there is room."""
    return isinstance(part, TubePart) and part.module
