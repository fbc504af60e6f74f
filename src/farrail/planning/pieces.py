"""What a plan may use: the gaps between fixed parts, and the loose pieces that may fill them.

Loose are spacers, shims, adapters and adjustable spacers; everything else behind the datum stays, in its order.
Lengths are whole thousandths of a millimetre, so that sums are exact.
"""

from collections import Counter
from dataclasses import dataclass

from farrail.parts.connections import Connection, Gender
from farrail.parts.kinds import AT_HAND, Adapter, AdjustableSpacer, Part, PartId, Shim, Spacer
from farrail.train.layout import Layout, Shelf
from farrail.train.train import Laid
from farrail.units import mm_to_micrometres

LOOSE = (Spacer, Shim, Adapter, AdjustableSpacer)
# What a joint looks like from the scene's side: two parts mate there when the one's key is the other's.
Key = tuple[str, ...]


@dataclass(frozen=True)
class Piece:
    """One way one part can be laid: its interface toward the scene and toward the sensor, and how long it is.

    Attributes:
        part: the part.
        flipped: laid end for end.
        enters: key of the joint at its scene side; None for a shim, which any joint lets in.
        leaves: key of the joint at its sensor side.
        shortest_um: length in thousandths of a millimetre.
        longest_um: the same, or more for an adjustable spacer.
        stock: how many of the part may be used.
    """

    part: Part
    flipped: bool
    enters: Key | None
    leaves: Key | None
    shortest_um: int
    longest_um: int
    stock: int


@dataclass(frozen=True)
class Gap:
    """A place between fixed parts that loose pieces must bridge, from one joint key to another."""

    enters: Key
    leaves: Key


@dataclass(frozen=True)
class Task:
    """A train reduced to what the planner needs.

    Attributes:
        layout: the train as laid.
        fixed: the parts that stay, in order, behind the datum.
        ahead: how many members of the rear train lie before the datum.
        gaps: one more than fixed parts.
        fixed_um: length of all fixed parts and the camera.
        homes: in which gap each loose part lies now; it had better stay there.
    """

    layout: Layout
    fixed: tuple[Laid, ...]
    ahead: int
    gaps: tuple[Gap, ...]
    fixed_um: int
    homes: frozenset[tuple[PartId, int]]


def microns(length_mm: float) -> int:
    """Return a length in whole thousandths of a millimetre."""
    return round(mm_to_micrometres(length_mm))


def key_after(connection: Connection) -> Key:
    """Return the key of the joint that a part leaves toward the sensor."""
    return (connection.standard.kind, connection.standard.label, connection.gender.value)


def key_before(connection: Connection) -> Key:
    """Return the key of the joint that a part needs on its scene side: its mate's key as seen from there."""
    mate = {Gender.EXTERNAL: Gender.INTERNAL, Gender.INTERNAL: Gender.EXTERNAL}.get(connection.gender, Gender.NONE)
    return (connection.standard.kind, connection.standard.label, mate.value)


def task_of(layout: Layout) -> Task | None:
    """Return the task a laid train sets, or None without a camera."""
    camera = layout.camera
    if camera is None:
        return None
    start = layout.corrector.rear if layout.corrector is not None else layout.optic.rear
    fixed = [p for p in layout.behind_datum if not isinstance(p.part, LOOSE)]
    homes = frozenset(
        (p.part.id, sum(f.index < p.index for f in fixed)) for p in layout.behind_datum if isinstance(p.part, LOOSE)
    )
    before = [key_after(start), *(key_after(p.rear) for p in fixed)]
    after = [*(key_before(p.front) for p in fixed), key_before(camera.front)]
    length = sum(microns(p.length.value) for p in fixed) + microns(camera.flange_to_sensor_mm.value)
    return Task(
        layout=layout,
        fixed=tuple(p.laid for p in fixed),
        ahead=len(layout.rear) - len(layout.behind_datum),
        gaps=tuple(Gap(a, b) for a, b in zip(before, after, strict=True)),
        fixed_um=length,
        homes=homes,
    )


def stock_of(part: Part, task: Task) -> int:
    """Return how many of a part are at hand beyond those the fixed train holds."""
    if part.status not in AT_HAND:
        return 0
    held = Counter(laid.part for laid in task.fixed)
    held.update(placed.part.id for placed in task.layout.ahead_of_corrector)
    return max(part.owned - held[part.id], 0)


def pieces_of(part: Part, stock: int) -> list[Piece]:
    """Return the ways a loose part can be laid; none for a part that is not loose or not there."""
    if stock < 1 or not isinstance(part, LOOSE):
        return []
    if isinstance(part, Shim):
        length = microns(part.path_length_mm.value)
        return [Piece(part, False, None, None, length, length, stock)]
    if isinstance(part, AdjustableSpacer):
        low, high = microns(part.shortest_mm.value), microns(part.longest_mm.value)
    else:
        low = high = microns(part.path_length_mm.value)
    ways = [Piece(part, False, key_before(part.front), key_after(part.rear), low, max(low, high), stock)]
    turned = Piece(part, True, key_before(part.rear), key_after(part.front), low, max(low, high), stock)
    if (turned.enters, turned.leaves) != (ways[0].enters, ways[0].leaves):
        ways.append(turned)
    return ways


def pieces_at_hand(shelf: Shelf, task: Task) -> list[Piece]:
    """Return every way in which what is at hand can be laid."""
    return [piece for part in shelf.values() for piece in pieces_of(part, stock_of(part, task))]


def useful(pieces: list[Piece], task: Task) -> list[Piece]:
    """Return the pieces that can stand on a path from a gap's entry to its exit; the others only cost time."""
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
