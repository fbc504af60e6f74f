"""Every close-up combination a shelf allows: a lens, what is behind it and what ahead, in an order that mates."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain, combinations, islice, permutations
from typing import TypeVar

from farrail.cancel import Stopped, never, until_stopped
from farrail.language import say
from farrail.parts.connections import Connection, why_not
from farrail.parts.inventory_item import AT_HAND, TO_BUY, PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import Bellows, CloseUpLens, ExtensionTube, ReversingRing, Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.parts.registry import Part
from farrail.readouts.close_up.system import (
    NO_STACK,
    CloseUpStack,
    CloseUpSystem,
    coupled,
    reversed_extension_mm,
    reversed_round,
)
from farrail.train.first_order import native_distance_mm
from farrail.train.near_focus import near_focus_of
from farrail.train.zoom_tables import f_number_at, pupil_depth_at

# More close-up lenses on one another than this are a curiosity; so many different tubes are tried together.
MOST_AHEAD, MOST_BEHIND = 4, 8
MOST_CLOSE_UP = 12
# Bellows, teleconverters, reversing rings and reversed lenses tried with each lens, of each kind at most this many.
MOST_OF_A_KIND = 3
MOST_ADAPTERS = 6
MOST_COMBINATIONS = 20_000


@dataclass(frozen=True)
class Combination:
    """One way to bring a lens closer.

    Attributes:
        lens: the lens on the camera.
        focal_mm: what it is set to.
        reversed: whether it is flipped.
        behind: parts from the lens to the camera.
        ahead: parts from the lens toward the subject.
        carried: a lens flipped on the front of it, or None.
        system: what they come to.
        diagonal_mm: of the camera's frame.
        stretch_mm: shortest and longest setting of its bellows; None without.
    """

    lens: CameraLens
    focal_mm: float
    reversed: bool
    behind: tuple[Part, ...]
    ahead: tuple[Part, ...]
    carried: CameraLens | None
    system: CloseUpSystem
    diagonal_mm: float
    stretch_mm: tuple[float, float] | None = None

    @property
    def parts(self) -> tuple[Part, ...]:
        """Every part of it, the camera's lens first."""
        return (self.lens, *self.behind, *self.ahead, *(() if self.carried is None else (self.carried,)))

    @property
    def missing(self) -> tuple[Part, ...]:
        """What of it is not available."""
        return tuple(part for part in self.parts if part.status not in AT_HAND)

    @property
    def key(self) -> tuple[object, ...]:
        """What it is made of, in its order, at no matter what focal length."""
        carried = None if self.carried is None else self.carried.id
        rows = (tuple(part.id for part in row) for row in (self.behind, self.ahead))
        return self.lens.id, self.reversed, *rows, carried

    @property
    def price(self) -> float | None:
        """What the missing parts cost; None where one has no price."""
        prices = [part.price for part in self.missing]
        return None if None in prices else float(sum(price for price in prices if price is not None))

    @property
    def words(self) -> str:
        """What it is, in a few words, from the subject to the camera."""
        named = [part.name for part in reversed(self.ahead) if not isinstance(part, Adapter)]
        if self.carried is not None:
            named = [say("{name}, reversed", name=self.carried.name)]
        zoom = say(" at {focal_mm:g} mm", focal_mm=self.focal_mm) if self.lens.longest_focal_mm is not None else ""
        named.append(f"{self.lens.name}{zoom}{', reversed round' if self.reversed else ''}")
        named += [part.name for part in self.behind]
        return " + ".join(named)


@dataclass(frozen=True)
class _Behind:
    """Parts between a lens and a camera, and what they come to.

    Attributes:
        parts: from the lens to the camera.
        shortest_mm: by how much the lens's own image is moved away from the flange, at the least.
        longest_mm: at the most.
        converter: what the teleconverters multiply by at their places.
        beyond_mm: from the lens's own image to the sensor.
        origin: the weakest input.
        stretch_mm: shortest and longest setting of a bellows; None without.
    """

    parts: tuple[Part, ...]
    shortest_mm: float
    longest_mm: float
    converter: float
    beyond_mm: float
    origin: Origin
    stretch_mm: tuple[float, float] | None


Copied = TypeVar("Copied", ExtensionTube, CloseUpLens, Adapter)
Ahead = tuple[tuple[Part, ...], CameraLens | None, CloseUpStack]


# What may be between a lens and a camera; of adapters two in a row, of bellows and teleconverters one.
BEHIND = ExtensionTube | Bellows | Teleconverter | Adapter
# What a close-up combination is made of.
MATTERS = (CameraLens, ExtensionTube, Bellows, CloseUpLens, ReversingRing, Teleconverter, Adapter)


def close_up_parts(shelf: Mapping[PartId, Part]) -> list[Part]:
    """Return the parts that close-up combinations are made of; no other changes what they reach."""
    return [part for part in shelf.values() if isinstance(part, MATTERS)]


def combinations_of(
    shelf: Mapping[PartId, Part], camera: Camera, f_number: float | None = None,
    lenses: Sequence[PartId] | None = None, stopped: Stopped = never,
) -> tuple[Combination, ...]:  # fmt: skip
    """Return the combinations for a camera, those of the fewest parts first for each lens.

    Every one, of a shelf of ordinary size. Of more than MOST_BEHIND tubes, MOST_CLOSE_UP close-up lenses or
    MOST_OF_A_KIND of another kind that mate with a lens, those you own and of different lengths come first; at most
    MOST_COMBINATIONS in all.

    Args:
        shelf: parts by id; those available and those wanted or ordered are used.
        camera: the camera.
        f_number: what the lenses are used at; None: each wide open. None is opened beyond its own.
        lenses: ids of the lenses to try; None for all.
        stopped: returns True once the search is cancelled.

    Raises:
        Cancelled: the search is cancelled.
    """
    usable = [p for p in close_up_parts(shelf) if p.status in AT_HAND or p.status in TO_BUY]
    usable.sort(key=lambda part: part.status not in AT_HAND)
    tried = [p for p in usable if isinstance(p, CameraLens) and (lenses is None or p.id in lenses)]
    # A shelf of hundreds of close-up lenses leaves every lens its share, the simplest first.
    share = max(MOST_COMBINATIONS // max(len(tried), 1), 1)
    each = (islice(_of_lens(lens, usable, camera, f_number, stopped), share) for lens in tried)
    return tuple(islice(until_stopped(chain.from_iterable(each), stopped), MOST_COMBINATIONS))


def _of_lens(
    lens: CameraLens, usable: Sequence[Part], camera: Camera, f_number: float | None, stopped: Stopped
) -> Iterator[Combination]:
    focals = {lens.focal_length_mm.value}
    if lens.longest_focal_mm is not None:
        focals.add(lens.longest_focal_mm.value)
    ahead = list(until_stopped(_ahead(lens.front, lens, usable, camera.diagonal_mm), stopped))
    behind = list(until_stopped(_behind(lens.rear, lens, usable, camera), stopped))
    for focal in sorted(focals, reverse=True):
        depth = pupil_depth_at(lens, focal)
        near = near_focus_of(lens, focal, depth.value, depth.origin, camera.diagonal_mm)
        engraved = _engraved(lens, focal, f_number)
        yield from _turned(lens, focal, usable, camera, engraved)
        for rear, (parts, carried, stack) in _simplest_first(behind, ahead):
            origin = weakest([near.origin, rear.origin, stack.origin])
            system = CloseUpSystem(
                near, rear.shortest_mm, rear.longest_mm, stack, rear.converter, rear.beyond_mm, False, engraved, origin,
                depth.value,
            )  # fmt: skip
            yield Combination(
                lens, focal, False, rear.parts, parts, carried, system, camera.diagonal_mm, rear.stretch_mm
            )


def at_focal_length(combination: Combination, focal_mm: float, f_number: float | None = None) -> Combination:
    """Return a combination with its zoom at another focal length.

    Args:
        combination: the combination.
        focal_mm: within the zoom's range.
        f_number: what the lens is used at; None for wide open. None is opened beyond its own.
    """
    lens, system, diagonal_mm = combination.lens, combination.system, combination.diagonal_mm
    engraved = _engraved(lens, focal_mm, f_number)
    depth = pupil_depth_at(lens, focal_mm)
    if combination.reversed:
        near = reversed_round(lens, focal_mm, system.origin, diagonal_mm)
        before = pupil_depth_at(lens, combination.focal_mm).value
        more = reversed_extension_mm(lens, focal_mm, depth.value, 0.0, diagonal_mm)
        more -= reversed_extension_mm(lens, combination.focal_mm, before, 0.0, diagonal_mm)
        short, long = system.shortest_mm + more, system.longest_mm + more
        system = replace(system, near=near, shortest_mm=short, longest_mm=long, f_number=engraved)
    else:
        near = near_focus_of(lens, focal_mm, depth.value, depth.origin, diagonal_mm)
        origin = weakest([system.origin, near.origin])
        system = replace(system, near=near, f_number=engraved, origin=origin, pupil_depth_mm=depth.value)
    return replace(combination, focal_mm=focal_mm, system=system)


def _engraved(lens: CameraLens, focal_mm: float, f_number: float | None) -> float:
    own = f_number_at(lens, focal_mm).value
    return max(f_number or own, own)


def _simplest_first(behind: Sequence[_Behind], ahead: Sequence[Ahead]) -> Iterator[tuple[_Behind, Ahead]]:
    """Yield every pair of what is behind and ahead, those of the fewest parts first."""
    by_count: dict[int, list[Ahead]] = {}
    for row in ahead:
        by_count.setdefault(len(row[0]), []).append(row)
    most = max((len(rear.parts) for rear in behind), default=0) + max(by_count, default=0)
    for total in range(most + 1):
        for rear in behind:
            for row in by_count.get(total - len(rear.parts), ()):
                yield rear, row


def _turned(
    lens: CameraLens, focal: float, usable: Sequence[Part], camera: Camera, engraved: float
) -> Iterator[Combination]:
    """Yield a lens flipped on a reversing ring, with and without tubes."""
    thread = lens.front
    if thread is None:
        return
    depth = pupil_depth_at(lens, focal)
    for ring in _rings(usable, lambda ring: why_not(thread, ring.front) is None):
        for rear in _behind(ring.rear, lens, usable, camera):
            if rear.converter != 1.0:
                continue
            fixed = ring.path_length_mm.value + camera.flange_to_sensor_mm.value
            short, long = (reversed_extension_mm(lens, focal, depth.value, fixed + e, camera.diagonal_mm)
                           for e in (rear.shortest_mm, rear.longest_mm))  # fmt: skip
            origin = weakest([depth.origin, rear.origin, ring.path_length_mm.origin])
            near = reversed_round(lens, focal, origin, camera.diagonal_mm)
            system = CloseUpSystem(near, short, long, NO_STACK, reversed=True, f_number=engraved, origin=origin)
            yield Combination(
                lens, focal, True, (ring, *rear.parts), (), None, system, camera.diagonal_mm, rear.stretch_mm
            )


# Behind the lens


def _behind(mount: Connection, lens: CameraLens, usable: Sequence[Part], camera: Camera) -> Iterator[_Behind]:
    """Yield what may be between a lens and a camera: nothing, tubes, adapters, a bellows, a teleconverter, or several.

    A teleconverter is next to the camera, and with tubes alone also next to the lens, where the tubes make it stronger.
    Those of the fewest parts come first.
    """
    pool = _pool(_between(mount, camera.front, usable))
    seen = set()
    for parts in _rows(mount, camera.front, pool):
        tubes = [part for part in parts if isinstance(part, ExtensionTube)]
        converter = next((part for part in parts if isinstance(part, Teleconverter)), None)
        if converter is not None and not _placed_well(parts, converter):
            continue
        key = tuple(sorted(part.id for part in parts)), converter is not None and parts[0] is converter
        if key not in seen:
            seen.add(key)
            adapters = [part for part in parts if isinstance(part, Adapter)]
            bellows = next((part for part in parts if isinstance(part, Bellows)), None)
            yield _summed(parts, (tubes, adapters), bellows, converter, lens, camera)


def _placed_well(parts: Sequence[Part], converter: Teleconverter) -> bool:
    """Whether a teleconverter is where it is usually mounted: next to the camera, or next to the lens before tubes."""
    if parts[-1] is converter:
        return True
    return parts[0] is converter and all(isinstance(part, ExtensionTube) for part in parts[1:])


def _pool(useful: Sequence[Part]) -> list[Part]:
    """Return what rows are made of: tubes as often as they are owned, of other kinds the first few."""
    tubes = _copies(part for part in useful if isinstance(part, ExtensionTube))
    others = [[p for p in useful if isinstance(p, kind)][:MOST_OF_A_KIND] for kind in (Bellows, Teleconverter)]
    adapters = _as_owned(part for part in useful if isinstance(part, Adapter))[:MOST_ADAPTERS]
    return [*tubes, *adapters, *chain.from_iterable(others)]


def _rows(mount: Connection, end: Connection, pool: Sequence[Part]) -> Iterator[tuple[Part, ...]]:
    """Yield every row of a pool that mates from a mount to a camera, each set of alike parts in one order alone.

    Parts of one kind and the same ends may change places without changing anything: they stay in the pool's order.
    """
    kinds = [(type(part), part.front, part.rear) if isinstance(part, BEHIND) else None for part in pool]
    growing: list[tuple[tuple[int, ...], Connection]] = [((), mount)]
    for taken, at in growing:
        if why_not(at, end) is None:
            yield tuple(pool[number] for number in taken)
        for number, part in enumerate(pool):
            assert isinstance(part, BEHIND)
            if number in taken or any(kinds[one] == kinds[number] and one > number for one in taken):
                continue
            single = not isinstance(part, ExtensionTube)
            if single and sum(isinstance(pool[one], type(part)) for one in taken) > isinstance(part, Adapter):
                continue
            if why_not(at, part.front) is None:
                growing.append(((*taken, number), part.rear))


def _summed(
    parts: tuple[Part, ...], lengths: tuple[Sequence[ExtensionTube], Sequence[Adapter]], bellows: Bellows | None,
    converter: Teleconverter | None, lens: CameraLens, camera: Camera,
) -> _Behind:  # fmt: skip
    tubes, adapters = lengths
    short = long = sum(tube.path_length_mm.value for tube in tubes)
    origins = [part.path_length_mm.origin for part in (*tubes, *adapters)]
    if adapters:
        # An adapter brings the lens to its flange focal distance; what is beyond that is extension, short of it the
        # lens draws itself out.
        whole = sum(part.path_length_mm.value for part in adapters) + camera.flange_to_sensor_mm.value
        beyond_flange = whole - lens.flange_focal_distance_mm.value
        short, long = (max(value + beyond_flange, 0.0) for value in (short, long))
        origins += [camera.flange_to_sensor_mm.origin, lens.flange_focal_distance_mm.origin]
    stretch = None
    if bellows is not None:
        stretch = (bellows.shortest_mm.value, bellows.longest_mm.value)
        short, long = short + stretch[0], long + stretch[1]
        origins += [bellows.shortest_mm.origin]
    factor, beyond = 1.0, 0.0
    if converter is not None:
        named, body = converter.factor.value, converter.path_length_mm.value
        factor, beyond = named, body
        if tubes and parts[0] is converter:
            # A diverging lens so far before the sensor: extension behind it makes it stronger and moves what it takes
            # up away from the lens (Smith, thin lenses; as the first-order record has it).
            native = native_distance_mm(lens, body)
            factor = named + short * (named - 1.0) / native
            moved = (native + short) / factor - native / named
            beyond = body + short - moved
            short = long = moved
        origins.append(converter.factor.origin)
    return _Behind(parts, short, long, factor, beyond, weakest(origins), stretch)


def _between(mount: Connection, end: Connection, usable: Sequence[Part]) -> list[Part]:
    """Return the parts that a row from a lens's mount to a camera can hold."""
    by_ends: dict[tuple[Connection, Connection], list[Part]] = {}
    for part in usable:
        if isinstance(part, BEHIND):
            by_ends.setdefault((part.front, part.rear), []).append(part)
    onward = _grown(mount, [(front, rear) for front, rear in by_ends], why_not)
    back = _grown(end, [(rear, front) for front, rear in by_ends], lambda one, other: why_not(other, one))
    return [part for (front, rear), parts in by_ends.items() if (front, rear) in onward and (rear, front) in back
            for part in parts]  # fmt: skip


def _grown(
    start: Connection, steps: Sequence[tuple[Connection, Connection]],
    refusal: Callable[[Connection, Connection], object],
) -> set[tuple[Connection, Connection]]:  # fmt: skip
    """Return the steps, each from a connection to another, that can be reached from a connection."""
    at, reached = [start], set()
    for end in at:
        for step in steps:
            if step not in reached and refusal(end, step[0]) is None:
                reached.add(step)
                at.append(step[1])
    return reached


def _copies(parts: Iterable[ExtensionTube]) -> list[ExtensionTube]:
    """Return tubes as often as they are owned, the longest first.

    Of more than MOST_BEHIND, owned ones and different lengths are preferred.
    """
    seen = Counter[float]()
    ranked: list[tuple[bool, int, float, ExtensionTube]] = []
    for tube in _as_owned(parts):
        length = tube.path_length_mm.value
        ranked.append((tube.status not in AT_HAND, seen[length], -length, tube))
        seen[length] += 1
    ranked.sort(key=lambda row: row[:3])
    return sorted((row[3] for row in ranked[:MOST_BEHIND]), key=lambda part: -part.path_length_mm.value)


def _as_owned(parts: Iterable[Copied]) -> list[Copied]:
    """Return each part as often as it is owned, what is to be bought once."""
    return [part for part in parts for _ in range(max(part.owned, 1))]


# Ahead of the lens


def _ahead(thread: Connection | None, lens: CameraLens, usable: Sequence[Part], diagonal_mm: float) -> Iterator[Ahead]:
    """Yield what may be ahead of a lens: nothing, close-up lenses, or another lens flipped."""
    yield (), None, NO_STACK
    if thread is None:
        return
    steps = [p for p in usable if isinstance(p, Adapter)]
    lenses = _reachable(thread, usable, steps)
    seen: set[tuple[PartId, ...]] = set()
    for count in range(1, MOST_AHEAD + 1):
        for chosen in combinations(lenses, count):
            for row in _chained(thread, chosen, steps):
                key = tuple(part.id for part in row)
                if key not in seen:
                    seen.add(key)
                    yield row, None, _stack(row)
    for ring in _rings(usable, lambda ring: why_not(ring.rear, thread) is None):
        for other in islice(_carried(lens, ring, usable), MOST_OF_A_KIND):
            act = coupled(other, diagonal_mm)
            first = ring.path_length_mm.value + act.plane_mm
            origin = weakest([act.origin, ring.path_length_mm.origin])
            pupil_at = ring.path_length_mm.value + act.depth_mm
            stack = CloseUpStack.of(
                [(act.dioptres, first)], act.front_mm, [origin], act.pupil_mm, act.hiatus_mm, pupil_at
            )
            yield (ring,), other, stack


def _rings(usable: Sequence[Part], fits: Callable[[ReversingRing], bool]) -> list[ReversingRing]:
    """Return the reversing rings that fit; of more than MOST_OF_A_KIND the first."""
    return list(islice((p for p in usable if isinstance(p, ReversingRing) and fits(p)), MOST_OF_A_KIND))


def _carried(lens: CameraLens, ring: ReversingRing, usable: Sequence[Part]) -> Iterator[CameraLens]:
    """Yield the lenses that fit reversed on the front of a lens, the shortest (greatest magnification) first."""
    others = [
        p for p in usable
        if isinstance(p, CameraLens) and (p.id != lens.id or p.owned > 1) and p.front is not None
        and why_not(p.front, ring.front) is None
    ]  # fmt: skip
    yield from sorted(others, key=lambda p: (p.status not in AT_HAND, p.focal_length_mm.value))


def _reachable(thread: Connection, usable: Sequence[Part], steps: Sequence[Adapter]) -> list[CloseUpLens]:
    """Return the close-up lenses that a thread leads to, over steps and one another, the strongest first.

    Of more than MOST_CLOSE_UP those available come first.
    """
    lenses = [p for p in usable if isinstance(p, CloseUpLens)]
    ways = list(dict.fromkeys((p.rear, p.front) for p in (*lenses, *steps)))
    reached = _grown(thread, ways, lambda one, other: why_not(other, one))
    found = [p for p in lenses if (p.rear, p.front) in reached]
    found = _as_owned(sorted(found, key=lambda p: p.status not in AT_HAND))[:MOST_CLOSE_UP]
    return sorted(found, key=lambda p: -p.dioptres.value)


def _chained(thread: Connection, chosen: Sequence[CloseUpLens], steps: Sequence[Adapter]) -> Iterator[tuple[Part, ...]]:
    """Yield close-up lenses screwed on one another: the strongest nearest the lens, and the weakest nearest.

    Where the threads allow neither, the first order that they do allow.
    """
    rows = [row for order in (chosen, tuple(reversed(chosen))) if (row := _in_order(thread, order, steps)) is not None]
    if not rows and len(chosen) > 2:
        others = (_in_order(thread, order, steps) for order in permutations(chosen))
        rows = list(islice((row for row in others if row is not None), 1))
    yield from rows


def _in_order(thread: Connection, order: Sequence[CloseUpLens], steps: Sequence[Adapter]) -> tuple[Part, ...] | None:
    """Return close-up lenses in this order with the steps between that they take; None where they do not mate."""
    row: list[Part] = []
    at, used = thread, Counter[PartId]()
    for part in order:
        if why_not(part.rear, at) is not None:
            step = next(
                (s for s in steps if used[s.id] < max(s.owned, 1) and why_not(s.rear, at) is None
                 and why_not(part.rear, s.front) is None), None,
            )  # fmt: skip
            if step is None:
                return None
            row.append(step)
            used[step.id] += 1
        row.append(part)
        at = part.front
    return tuple(row)


def _stack(row: Sequence[Part]) -> CloseUpStack:
    planes: list[tuple[float, float]] = []
    at, front, origins = 0.0, 0.0, []
    for part in row:
        assert isinstance(part, CloseUpLens | Adapter)
        length = part.path_length_mm.value
        origins.append(part.path_length_mm.origin)
        if isinstance(part, CloseUpLens):
            planes.append((part.dioptres.value, at + length / 2.0))
            front = length / 2.0
            origins.append(part.dioptres.origin)
        at += length
    return CloseUpStack.of(planes, front, origins)
