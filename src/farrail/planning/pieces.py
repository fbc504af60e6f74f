"""What a plan may use: the gaps between fixed parts, and the loose pieces that may fill them.

Loose are spacers, shims, adapters and adjustable spacers, unless they are to be kept as they are; everything else
behind the datum stays, in its order.
Lengths are whole thousandths of a millimetre, so that sums are exact.
"""

from collections import Counter
from dataclasses import dataclass, field, replace
from functools import cached_property

from farrail.parts.base import TubePart
from farrail.parts.connections import Connection, Gender, Thread
from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.registry import Part
from farrail.train.layout import Layout
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart
from farrail.units import mm_to_micrometres

# A setting beyond all: a part of variable length comes to its longest.
LONGEST_MM = 3000.0
# What a joint looks like from the scene's side: two parts mate there when the one's key is the other's.
Key = tuple[str, ...]


@dataclass(frozen=True)
class Piece:
    """One way one part can be placed: its interface toward the scene and toward the sensor, and how long it is.

    Attributes:
        part: the part.
        flipped: placed end for end.
        enters: key of the joint at its scene side; None for a shim, which any joint lets in.
        leaves: key of the joint at its sensor side.
        shortest_um: length in thousandths of a millimetre.
        longest_um: the same, or more for an adjustable spacer.
        stock: how many of the part may be used.
        enters_um: engagement of its scene side, None where no one has looked.
        leaves_um: engagement of its sensor side.
        copies: parts that are alike and are behind this one, with how many of each; () for one part.
    """

    part: Part
    flipped: bool
    enters: Key | None
    leaves: Key | None
    shortest_um: int
    longest_um: int
    stock: int
    enters_um: int | None = None
    leaves_um: int | None = None
    copies: tuple[tuple[Part, int], ...] = field(default=(), compare=False)


@dataclass(frozen=True)
class Gap:
    """A place between fixed parts that loose pieces must bridge, from one joint key to another.

    `enters_um` and `leaves_um` are the engagements of the fixed ends.
    """

    enters: Key
    leaves: Key
    enters_um: int | None = None
    leaves_um: int | None = None
    # How wide the thread is before which shims are placed; None where it is none.
    thread_mm: float | None = None


@dataclass(frozen=True)
class Block:
    """Fixed parts that stay together, in order: mostly one, or two rings with the filter they hold."""

    laid: tuple[MountedPart, ...]
    front: Connection
    rear: Connection
    length_um: int

    def turned(self) -> "Block":
        """Return the block placed end for end (of a block of one part only)."""
        one = self.laid[0]
        laid = one.model_copy(update={"flipped": not one.flipped})
        return replace(self, laid=(laid,), front=self.rear, rear=self.front)


@dataclass(frozen=True)
class Task:
    """A train reduced to what the planner needs.

    Attributes:
        layout: the train as placed.
        head: members of the rear train that stay at its beginning: up to the datum, and what is held fast behind it.
        tail: members that stay before the camera.
        blocks: the fixed parts between head and tail, in order.
        start: connection that head leaves toward the sensor.
        end: connection that tail, or the camera, has toward the scene.
        ends_um: length of head behind the datum, tail and camera.
        homes: in which gap each loose part is now; it had better stay there.
    """

    layout: Layout
    head: tuple[MountedPart, ...]
    tail: tuple[MountedPart, ...]
    blocks: tuple[Block, ...]
    start: Connection
    end: Connection
    ends_um: int
    homes: frozenset[tuple[PartId, int]]

    @cached_property
    def gaps(self) -> tuple[Gap, ...]:
        """The gaps to bridge, one more than blocks."""
        before = [self.start, *(b.rear for b in self.blocks)]
        after = [*(b.front for b in self.blocks), self.end]
        return tuple(
            Gap(key_after(a), key_before(b), engaged_um(a), engaged_um(b), thread_of(b))
            for a, b in zip(before, after, strict=True)
        )

    @property
    def fixed_um(self) -> int:
        """Length of everything that stays, camera included."""
        return self.ends_um + sum(block.length_um for block in self.blocks)

    @property
    def fixed(self) -> tuple[MountedPart, ...]:
        """Everything that stays, in order."""
        return (*self.head, *(laid for block in self.blocks for laid in block.laid), *self.tail)


def microns(length_mm: float) -> int:
    """Return a length in whole thousandths of a millimetre."""
    return round(mm_to_micrometres(length_mm))


def engaged_um(connection: Connection) -> int | None:
    """Return a thread's engagement in thousandths of a millimetre, None where it is no thread or not known."""
    known = connection.engagement_mm
    return None if known is None or not isinstance(connection.standard, Thread) else microns(known)


def key_after(connection: Connection) -> Key:
    """Return the key of the joint that a part leaves toward the sensor."""
    return (connection.standard.kind, connection.standard.label, connection.gender.value)


def key_before(connection: Connection) -> Key:
    """Return the key of the joint that a part needs on its scene side: its mate's key as seen from there."""
    mate = {Gender.EXTERNAL: Gender.INTERNAL, Gender.INTERNAL: Gender.EXTERNAL}.get(connection.gender, Gender.NONE)
    return (connection.standard.kind, connection.standard.label, mate.value)


def shim_fits(part: Part, gap: Gap) -> bool:
    """Return whether a shim goes over the thread at a gap's end and rests on both shoulders."""
    return gap.thread_mm is not None and isinstance(part, TubePart) and part.goes_over(gap.thread_mm)


def thread_of(connection: Connection) -> float | None:
    """Return a thread's diameter; None for what is none."""
    return connection.standard.diameter_mm if isinstance(connection.standard, Thread) else None


def gap_um(key: Key, left_um: int | None, right_um: int | None) -> int:
    """Return by how much a joint's shoulders stay apart: its external thread may be longer than the other is deep."""
    if left_um is None or right_um is None:
        return 0
    long, deep = (left_um, right_um) if key[2] == Gender.EXTERNAL.value else (right_um, left_um)
    return max(0, long - deep)


def task_of(layout: Layout) -> Task | None:
    """Return the task a placed train sets, or None without a camera."""
    camera = layout.camera
    if camera is None:
        return None
    behind = layout.behind_datum
    ahead = layout.rear[: len(layout.rear) - len(behind)]
    # A filter between two rings holds them fast: group what is from the one to the other.
    first, last = len(ahead), len(layout.rear) - 1
    spans: list[list[int]] = []
    head_end, tail_start = first, last + 1
    for placed in behind:
        if placed.held is None:
            continue
        before, after = _holders(layout, placed.index)
        if before < first:
            head_end = max(head_end, after + 1)
        elif after > last:
            tail_start = min(tail_start, before)
        elif spans and before <= spans[-1][1]:
            spans[-1][1] = max(spans[-1][1], after)
        else:
            spans.append([before, after])
    spans = [s for s in spans if s[0] >= head_end and s[1] < tail_start]
    blocks: list[Block] = []
    homes: list[tuple[PartId, int]] = []
    index = head_end
    while index < tail_start:
        placed = layout.rear[index]
        span = next((s for s in spans if s[0] == index), None)
        if span is None and placed.part.fills and not placed.laid.kept:
            homes.append((placed.part.id, len(blocks)))
            index += 1
            continue
        end = layout.rear[index if span is None else span[1]]
        length = microns(end.z_rear_mm - placed.z_front_mm) + microns(placed.laid.standoff_mm or 0.0)
        laid = tuple(p.laid for p in layout.rear[index : end.index + 1])
        blocks.append(Block(laid, placed.front, end.rear, length))
        index = end.index + 1
    start = layout.rear[head_end - 1].rear if head_end else layout.optic_ends[1]
    head_length = layout.rear[head_end - 1].z_rear_mm if head_end else layout.optic_rear_mm
    tail_at = layout.rear[tail_start].z_front_mm if tail_start <= last else layout.flange_mm
    sensor = layout.flange_mm + camera.flange_to_sensor_mm.value
    standoff = layout.train.camera_standoff_mm or 0.0 if tail_start > last else 0.0
    return Task(
        layout=layout,
        head=tuple(p.laid for p in layout.rear[:head_end]),
        tail=tuple(p.laid for p in layout.rear[tail_start:]),
        blocks=tuple(blocks),
        start=start,
        end=layout.rear[tail_start].front if tail_start <= last else camera.front,
        ends_um=microns(head_length) + microns(sensor - tail_at) + microns(standoff),
        homes=frozenset(homes),
    )


def _holders(layout: Layout, index: int) -> tuple[int, int]:
    """Return the places of the two parts that hold a filter; −1 for the optic, one past the last for the camera."""
    before, after = index - 1, index + 1
    while before >= 0 and layout.rear[before].passes_thread:
        before -= 1
    while after < len(layout.rear) and layout.rear[after].passes_thread:
        after += 1
    return before, after


def stock_of(part: Part, task: Task) -> int:
    """Return how many of a part are available beyond those the fixed train holds."""
    if part.status not in AT_HAND:
        return 0
    held = Counter(part_id for laid in task.fixed for part_id in laid.part_ids())
    return max(part.owned - held[part.id], 0)


def pieces_of(part: Part, stock: int) -> list[Piece]:
    """Return the ways a loose part can be placed; none for a part that is not loose or not there."""
    if stock < 1 or not isinstance(part, TubePart) or not part.fills:
        return []
    low, high = microns(part.length_at(None).value), microns(part.length_at(LONGEST_MM).value)
    if part.passes_thread:
        return [Piece(part, False, None, None, low, low, stock)]
    ways = []
    for flipped, one, other in ((False, part.front, part.rear), (True, part.rear, part.front)):
        ends = (key_before(one), key_after(other))
        depths = (engaged_um(one), engaged_um(other))
        ways.append(Piece(part, flipped, *ends, low, max(low, high), stock, *depths))
    return ways[: 1 if replace(ways[1], flipped=False) == ways[0] else 2]


def pieces_at_hand(shelf: Shelf, task: Task) -> list[Piece]:
    """Return every way in which what is available can be placed."""
    return [piece for part in shelf.values() for piece in pieces_of(part, stock_of(part, task))]


def useful(pieces: list[Piece], task: Task) -> list[Piece]:
    """Return the pieces that can be on a path from a gap's entry to its exit; the others only cost time."""
    forward: set[Key] = {gap.enters for gap in task.gaps}
    backward: set[Key] = {gap.leaves for gap in task.gaps}
    for _ in range(len(pieces)):
        ahead = {p.leaves for p in pieces if p.enters in forward and p.leaves is not None} - forward
        behind = {p.enters for p in pieces if p.leaves in backward and p.enters is not None} - backward
        if not ahead and not behind:
            break
        forward |= ahead
        backward |= behind
    return [p for p in pieces if p.enters is None or (p.enters in forward and p.leaves in backward)]
