"""An adapter no one sells, dimensioned so that a turner can make it: two threads, a length, the bore light needs."""

import math
from dataclasses import dataclass, replace

from farrail.assembly.rear_joints import bottoming_mm, datum_index, helping_joint, rear_joint
from farrail.errors import BadInput
from farrail.parts.connections import (
    EXTERNAL_ROOT_PITCHES,
    INTERNAL_MINOR_PITCHES,
    Connection,
    Gender,
    Thread,
    default_clear_diameter_mm,
)
from farrail.readouts.light.guide import guide_needed_mm
from farrail.readouts.read import Readout

# Engagement where no one has looked, and how far the body is out beyond its larger thread; common practice,
# no source.
USUAL_DEPTH_MM, RIM_MM = 4.0, 3.0
# A run-out groove at the foot of a thread is this many pitches wide (DIN 76 has about so much; from memory).
RELIEF_PITCHES = 1.5
# What the light needs is widened by this, and a length cannot be asked for closer than that; common practice,
# no source.
MARGIN_MM, CLOSEST_MM, WIDEST_MM = 0.5, 0.02, 0.1
# Metal between two internal threads that meet, and the turns a thread must have to hold; common practice, no source.
LEAST_FLOOR_MM, LEAST_TURNS = 0.5, 2.0
# An external thread is so much shorter than its mate is deep, and an internal one so much deeper than its mate is long,
# that the shoulders meet first; common practice, no source.
CLEARANCE_MM = 0.3
# A run-out groove is so much deeper than the thread itself; common practice, no source.
GROOVE_MM = 0.1
Point = tuple[float, float]


@dataclass(frozen=True)
class End:
    """One threaded end of the piece: its thread, and how long that is without the groove of an internal one."""

    thread: Thread
    gender: Gender
    depth_mm: float

    @property
    def relief_mm(self) -> float:
        """How wide its run-out groove is."""
        return RELIEF_PITCHES * self.thread.pitch_mm

    @property
    def external(self) -> bool:
        """Whether it is an external thread."""
        return self.gender is Gender.EXTERNAL

    @property
    def whole_mm(self) -> float:
        """How long the end is, its groove included: an external one's is at its shoulder, within the length."""
        return self.depth_mm if self.external else self.depth_mm + self.relief_mm

    @property
    def root_mm(self) -> float:
        """The thread's diameter at its roots."""
        return self.thread.diameter_mm - (EXTERNAL_ROOT_PITCHES * self.thread.pitch_mm if self.external else 0.0)

    @property
    def crest_mm(self) -> float:
        """The thread's diameter at its crests."""
        return self.thread.diameter_mm - (0.0 if self.external else INTERNAL_MINOR_PITCHES * self.thread.pitch_mm)

    @property
    def groove_mm(self) -> float:
        """The diameter of its groove: below the roots."""
        return self.root_mm + (-2.0 if self.external else 2.0) * GROOVE_MM


@dataclass(frozen=True)
class AdapterOrder:
    """A piece to be turned.

    Attributes:
        front: its end toward the scene.
        rear: its end toward the sensor.
        length_mm: shoulder to shoulder.
        tolerance_mm: half width of what is allowed of it.
        bore_mm: the clear bore.
        outer_mm: its rim.
        between: names of the parts it joins.
        narrow: whether the threads leave less bore than the light needs.
        removed_mm: glass shift of the filters it takes the place of, not in its length.
    """

    front: End
    rear: End
    length_mm: float
    tolerance_mm: float
    bore_mm: float
    outer_mm: float
    between: tuple[str, str]
    narrow: bool
    removed_mm: float = 0.0


def order_for(readout: Readout, joint: int | None, length_mm: float | None, *, whole: bool = False) -> AdapterOrder:
    """Return the piece a train asks for.

    Args:
        readout: the train, read.
        joint: the joint it goes into, before the rear train's part of this index; None for the last.
        length_mm: its length; None for what the train is short of, or the whole distance.
        whole: one piece from the datum to the camera, in place of everything between.

    Raises:
        BadInput: an end is no thread, nothing says how long it is to be, or there is no wall for a bore.
    """
    layout, spacing = readout.layout, readout.spacing
    first = rear_joint(layout, datum_index(layout)) if whole else (
        helping_joint(layout, joint) if length_mm is None else rear_joint(layout, joint)
    )  # fmt: skip
    last = rear_joint(layout, None) if whole else first
    front, rear = _mate(first.left, first.left_name), _mate(last.right, last.right_name)
    removed = _removed_mm(readout) if whole and length_mm is None else 0.0
    length = _length(readout, length_mm, removed, whole=whole)
    if length_mm is None and not whole:
        # Its own threads are cut to fit: the joint it goes into no longer bottoms.
        length += bottoming_mm(layout, first.index)
    tolerance = spacing.tolerance_mm or WIDEST_MM
    begin = first.z_mm
    needed = max(_needed_mm(readout, begin), _needed_mm(readout, begin + length)) + MARGIN_MM
    front, rear = _within(front, rear, length)
    most = min(_bore_of(front), _bore_of(rear))
    if most <= 1.0:
        raise BadInput(
            "Threads as small as {label} leave no wall for a bore; choose another joint.", label=front.thread.label
        )
    outer = max(front.thread.diameter_mm, rear.thread.diameter_mm) + 2.0 * RIM_MM
    return AdapterOrder(
        front, rear, round(length, 2), min(max(round(tolerance / 4.0, 2), CLOSEST_MM), WIDEST_MM),
        round(min(needed, most), 1), outer, (first.left_name, last.right_name), needed > most,
        removed,
    )  # fmt: skip


def _mate(end: Connection | None, owner: str) -> End:
    if end is None or not isinstance(end.standard, Thread):
        what = "nothing" if end is None else end.label
        raise BadInput(
            "{owner} ends in {what}, which is not turned on a lathe; order the piece for a "
            "thread, and put a ring on it.",
            owner=owner,
            what=what,
        )
    other = Gender.INTERNAL if end.gender is Gender.EXTERNAL else Gender.EXTERNAL
    mate = end.engagement_mm or USUAL_DEPTH_MM
    least = LEAST_TURNS * end.standard.pitch_mm
    depth = max(mate - CLEARANCE_MM, least) if other is Gender.EXTERNAL else mate + CLEARANCE_MM
    return End(end.standard, other, round(depth, 2))


def _length(readout: Readout, length_mm: float | None, removed_mm: float, *, whole: bool) -> float:
    spacing, camera = readout.spacing, readout.layout.camera
    if length_mm is None and spacing.error_mm is not None and spacing.required_mm is not None and camera is not None:
        bare = spacing.required_mm - camera.flange_to_sensor_mm.value - removed_mm
        length_mm = bare if whole else -spacing.error_mm
    if length_mm is None or not 0.5 <= length_mm <= 500.0:
        raise BadInput("The length of the piece is not given; enter 0.5 to 500 mm.")
    return length_mm


def _within(front: End, rear: End, length_mm: float) -> tuple[End, End]:
    """Return the ends with internal threads no deeper than the piece is long."""
    internal = [end for end in (front, rear) if end.gender is Gender.INTERNAL]
    if not internal:
        return front, rear
    for end in internal:
        room = _room_mm(end, length_mm, len(internal))
        if room < LEAST_TURNS * end.thread.pitch_mm:
            raise BadInput(
                "{length_mm:.2f} mm is too short to cut {label} into; choose a joint with a longer "
                "gap, or one piece in place of several.",
                length_mm=length_mm,
                label=end.thread.label,
            )
    front, rear = (
        replace(end, depth_mm=min(end.depth_mm, _room_mm(end, length_mm, len(internal)))) if not end.external else end
        for end in (front, rear)
    )
    return front, rear


def _room_mm(end: End, length_mm: float, count: int) -> float:
    """Return how deep an internal thread may be cut into a piece with `count` internal threads."""
    return math.floor(100.0 * ((length_mm - LEAST_FLOOR_MM) / count - end.relief_mm)) / 100.0


def _removed_mm(readout: Readout) -> float:
    """Return the glass shift that goes with what a whole piece takes the place of: filters, not the camera's own."""
    camera = readout.layout.camera
    kept = None if camera is None else camera.id
    return sum(line.glass.shift_mm for line in readout.spacing.glass_lines if line.counted and line.part != kept)


def _needed_mm(readout: Readout, z_mm: float) -> float:
    """Return the clear diameter the corner's light needs at a plane: 2h(1 − d/L) + d/N (the cone of the corner)."""
    layout = readout.layout
    camera, sensor = layout.camera, layout.sensor_mm
    if camera is None or sensor is None:
        return 0.0
    first = layout.first_order
    before, pupil = max(sensor - z_mm, 0.0), first.exit_pupil.value
    half = camera.diagonal_mm / 2.0
    corner = abs(2.0 * half * (1.0 - before / pupil)) + before / first.f_number.value
    # Ahead of a guider the guide star's light passes too.
    return max(corner, guide_needed_mm(readout.light, before))


def _bore_of(end: End) -> float:
    """Return how wide a bore an end leaves: within an external thread's wall, or an internal one's own crests."""
    return default_clear_diameter_mm(Connection(standard=end.thread, gender=end.gender))


def outline(order: AdapterOrder) -> list[Point]:
    """Return the upper half of the piece's section as a closed line of (along, up), the front shoulder at 0, in mm."""
    bore, rim, long = order.bore_mm / 2.0, order.outer_mm / 2.0, order.length_mm
    ahead = [(-x, y) for x, y in _end_line(order.front, bore)]
    behind = [(long + x, y) for x, y in _end_line(order.rear, bore)]
    return [*reversed(ahead), (0.0, rim), (long, rim), *behind, ahead[-1]]


def _end_line(end: End, bore: float) -> list[Point]:
    """Return an end's line from its shoulder to the bore: how far out of the piece it is, and the radius."""
    crest, groove, wide, whole = end.crest_mm / 2.0, end.groove_mm / 2.0, end.relief_mm, end.whole_mm
    if end.external:
        return [(0.0, groove), (wide, groove), (wide, crest), (whole, crest), (whole, bore)]
    depth = end.depth_mm
    return [(0.0, crest), (-depth, crest), (-depth, groove), (-whole, groove), (-whole, bore)]


def thread_lines(order: AdapterOrder) -> list[tuple[Point, Point]]:
    """Return the thin lines by which a drawing shows a thread: at its roots, as ISO 6410-1 has it (from memory)."""
    lines = []
    for end, shoulder, away in ((order.front, 0.0, -1.0), (order.rear, order.length_mm, 1.0)):
        # Of an external thread the groove is at the shoulder, of an internal one at the foot.
        first, last = (end.relief_mm, end.depth_mm) if end.external else (0.0, -end.depth_mm)
        lines.append(((shoulder + away * first, end.root_mm / 2.0), (shoulder + away * last, end.root_mm / 2.0)))
    return lines
