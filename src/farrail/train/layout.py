"""A train's layout: every part, aperture and piece of glass at its place on the rail.

z runs with the light; z = 0 is the optic's rear datum: the last corrector's when there is one, else the telescope's
shoulder or the lens's flange. See docs/conventions.md.
"""

from dataclasses import dataclass
from functools import cached_property

from farrail.errors import BadWorkbook
from farrail.language import say
from farrail.parts.base import Optic, TubePart
from farrail.parts.connections import Connection
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.provenance import Quantity, assumed, published
from farrail.parts.registry import Part
from farrail.train.first_order import FirstOrder
from farrail.train.joints import End, Joint, chain_joints, ends_of
from farrail.train.placed import Placed
from farrail.train.rotation import rotations_of
from farrail.train.rows import Shelf, optic_ends_of
from farrail.train.seating import Held, Member, gaps_of, held_filters, is_bare_glass
from farrail.train.trace import TracedRows
from farrail.train.train import MountedPart, Side, Train


@dataclass(frozen=True)
class Layout(TracedRows):
    """A placed train, with what it does to the light and how it is about the axis."""

    @cached_property
    def first_order(self) -> FirstOrder:
        """Focal length, f-number, pupils and power, worked out once."""
        return FirstOrder(self)

    @cached_property
    def front_rotation_deg(self) -> tuple[float, ...]:
        """How far each part of the front stack is turned, from the lens outward; what is ahead turns along."""
        found, angle = [], 0.0
        for placed in self.front:
            angle = angle if placed.laid.turned_deg is None else placed.laid.turned_deg
            found.append(angle)
        return tuple(found)

    @property
    def front_in_frame_deg(self) -> tuple[float, ...]:
        """How far each part of the front stack is turned against the frame: a camera turned behind it turns that."""
        camera = self.turned_deg[-1] if self.camera is not None else 0.0
        return tuple(turn - camera for turn in self.front_rotation_deg)

    @cached_property
    def turned_deg(self) -> tuple[float, ...]:
        """How far each part of the rear train is turned about the axis, the camera last, clockwise from behind."""
        return tuple(turned.angle_deg for turned in rotations_of(self))


def build_layout(train: Train, shelf: Shelf) -> Layout:
    """Build a train's layout.

    Args:
        train: the train.
        shelf: parts by id; all that the train names must be there.

    Raises:
        BadWorkbook: the train names a part the shelf does not have, or one of the wrong kind.
    """
    optic = _find(shelf, train.optic, train)
    if not isinstance(optic, Optic):
        raise BadWorkbook(
            "Train “{name}” names {name_2} as its optic; choose a telescope or a camera lens.",
            name=train.name,
            name_2=optic.name,
        )
    camera = None if train.camera is None else _find(shelf, train.camera, train)
    if camera is not None and not isinstance(camera, Camera):
        raise BadWorkbook(
            "Train “{name}” names {name_2} as its camera; choose a camera.", name=train.name, name_2=camera.name
        )

    if camera is not None and train.camera_bare:
        camera = camera.without_front_ring()
    rear_parts = [_tube(shelf, laid, train) for laid in train.rear_train]
    front_parts = [_tube(shelf, laid, train) for laid in train.front_stack]
    lengths = [part.length_at(laid.setting_mm) for part, laid in zip(rear_parts, train.rear_train, strict=True)]

    # The last corrector's rear shoulder is the origin; count back to where the optic's shoulder must be.
    correctors = [i for i, part in enumerate(rear_parts) if isinstance(part, Corrector)]
    origin = correctors[-1] + 1 if correctors else 0
    members = _members(optic, rear_parts, train, camera)
    held = held_filters(members)
    gaps = gaps_of(members, held)
    apart = {gap.index: gap.length.value for gap in gaps}
    for index, hold in held.items():
        # What the glass adds is the gap it makes; here it is inside the thread, if only the thread is deep enough.
        note = say("the glass is inside the thread")
        lengths[index] = published(0.0, note=note) if hold.known else assumed(0.0, note=note)
    start = -sum(length.value for length in lengths[:origin]) - sum(apart.get(i, 0.0) for i in range(origin))
    rear, flange = _place_rear(train.rear_train, rear_parts, lengths, start, apart, held)
    optic_rear = start

    front_seat = optic_rear - optic.body_mm
    front = _place_front(train.front_stack, front_parts, front_seat)
    joints = _joints(optic, optic_ends_of(optic, train), front, rear, camera, front_seat, flange)
    return Layout(
        train=train,
        optic=optic,
        camera=camera,
        front=tuple(front),
        rear=tuple(rear),
        corrector=rear[correctors[-1]] if correctors else None,
        optic_rear_mm=optic_rear,
        front_seat_mm=front_seat,
        flange_mm=flange,
        joints=tuple(joints),
        parts={i: shelf[i] for i in train.part_ids() if i in shelf},
        gaps=tuple(gaps),
    )


def _find(shelf: Shelf, part_id: PartId, train: Train) -> Part:
    part = shelf.get(part_id)
    if part is None:
        raise BadWorkbook(
            "Train “{name}” uses a part “{part_id}” that is not on the shelf; add it or remove it.",
            name=train.name,
            part_id=part_id,
        )
    return part


def _tube(shelf: Shelf, laid: MountedPart, train: Train) -> TubePart:
    part = _find(shelf, laid.part, train)
    if not isinstance(part, TubePart):
        raise BadWorkbook(
            "Train “{name}” has {name_2} between other parts; only parts with two ends can be there.",
            name=train.name,
            name_2=part.name,
        )
    for part_id in laid.part_ids():
        _find(shelf, part_id, train)
    return part.without_cell() if laid.out_of_cell and isinstance(part, RoundFilter) else part


def _members(optic: Optic, parts: list[TubePart], train: Train, camera: Camera | None) -> list[Member]:
    """Return the rear train as its seating sees it: optic, parts, camera."""
    members = [Member(optic, None, optic_ends_of(optic, train)[1], 0.0)]
    for laid, part in zip(train.rear_train, parts, strict=True):
        ends = (part.rear, part.front) if laid.flipped else (part.front, part.rear)
        thickness = part.glass.drawn_thickness_mm if is_bare_glass(part) else part.length_at(laid.setting_mm).value
        members.append(Member(part, *ends, thickness, laid.standoff_mm))
    if camera is not None:
        members.append(Member(camera, camera.front, None, 0.0, train.camera_standoff_mm))
    return members


def _place_rear(
    row: tuple[MountedPart, ...],
    parts: list[TubePart],
    lengths: list[Quantity],
    start_mm: float,
    apart: dict[int, float],
    held: dict[int, Held],
) -> tuple[list[Placed], float]:
    """Return the rear train at its places, and where the camera's flange is."""
    placed, z, joint_mm = [], start_mm, start_mm
    for index, (laid, part, length) in enumerate(zip(row, parts, lengths, strict=True)):
        ends = (part.rear, part.front) if laid.flipped else (part.front, part.rear)
        if index in held and is_bare_glass(part):
            # The glass is before the end of the external thread, which begins at its own shoulder.
            glass, reach = part.glass.drawn_thickness_mm, held[index].reach_mm
            ahead = _gap_before_next(index, apart, held, len(row))
            front = joint_mm + reach if held[index].from_left else z + ahead - reach - glass
            placed.append(Placed(Side.REAR, index, part, laid, length, front, front + glass, *ends, held[index]))
            continue
        z += apart.get(index, 0.0)
        placed.append(Placed(Side.REAR, index, part, laid, length, z, z + length.value, *ends))
        z += length.value
        if not part.passes_thread:
            joint_mm = z
    return placed, z + apart.get(len(row), 0.0)


def _gap_before_next(index: int, apart: dict[int, float], held: dict[int, Held], count: int) -> float:
    """Return the gap that the joint behind a held filter will have."""
    following = next((i for i in range(index + 1, count) if i not in held), count)
    return apart.get(following, 0.0)


def _place_front(row: tuple[MountedPart, ...], parts: list[TubePart], seat_mm: float) -> list[Placed]:
    placed, z = [], seat_mm
    for index, (laid, part) in enumerate(zip(row, parts, strict=True)):
        length = part.length_at(laid.setting_mm)
        ends = (part.rear, part.front) if laid.flipped else (part.front, part.rear)
        placed.append(Placed(Side.FRONT, index, part, laid, length, z - length.value, z, *ends))
        z -= length.value
    return placed


def _joints(
    optic: Optic, own: tuple[Connection | None, Connection], front: list[Placed], rear: list[Placed],
    camera: Camera | None, seat_mm: float, flange_mm: float,
) -> list[Joint]:  # fmt: skip
    joints: list[Joint] = []
    if front or isinstance(optic, CameraLens):
        outward = list(reversed(front))
        ends = [(End(None, say("the scene")), End(None, say("the scene")))]
        ends += [ends_of(p) for p in outward]
        ends.append((End(own[0], optic.name), End(own[1], optic.name)))
        positions = [p.z_front_mm for p in outward] + [seat_mm]
        joints += chain_joints(Side.FRONT, len(front), ends, positions)
    ends = [(End(None, optic.name), End(own[1], optic.name)), *[ends_of(p) for p in rear]]
    last = End(camera.front, camera.name) if camera is not None else End(None, say("no camera"))
    ends.append((last, last))
    positions = [p.z_front_mm for p in rear] + [flange_mm]
    return joints + chain_joints(Side.REAR, 0, ends, positions)
