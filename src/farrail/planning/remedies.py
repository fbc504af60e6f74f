"""What would clean a front stack's corners: each remedy as a train of its own, with what it gains."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.inventory_item import AT_HAND, TO_BUY
from farrail.parts.kinds.ahead import FilterHolder, HolderRing
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.registry import Part
from farrail.planning.polarisers import dropped_in
from farrail.readouts.front.model import Front
from farrail.readouts.read import read
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train

MOST_REMEDIES = 12
# A gain below this is none; a millimetre of focal length, or a tenth of a stop.
GAIN_MM, GAIN_STOPS = 0.2, 0.05


@dataclass(frozen=True)
class Remedy:
    """One change to a front stack.

    Attributes:
        words: what is changed.
        train: the train with it.
        first_clean_mm: from which focal length on it is then clean; None where nowhere.
        corner_stops: added corner loss at the focal length set.
        depth_mm: how deep the stack then is.
        to_buy: whether something of it is only wanted.
        helps: whether it gains anything.
    """

    words: str
    train: Train
    first_clean_mm: float | None
    corner_stops: float
    depth_mm: float
    to_buy: bool
    helps: bool


def remedies_for(train: Train, shelf: Shelf) -> tuple[Remedy, ...]:
    """Return the remedies for a train's front stack, the best first; none where there is no lens or no stack."""
    front = read(train, shelf).front
    if not front.judged:
        return ()
    found = _each(train, shelf, front)
    found += _together(train, shelf, front, found)
    found.sort(key=lambda r: (not r.helps, r.first_clean_mm is None, r.first_clean_mm or 0.0, r.corner_stops, r.to_buy))
    return tuple(found[:MOST_REMEDIES])


def _each(train: Train, shelf: Shelf, front: Front) -> list[Remedy]:
    """Return every single remedy."""
    found, seen = [], set()
    for words, other, to_buy in _variants(train, shelf, front):
        if other.front_stack in seen or other.front_stack == train.front_stack:
            continue
        seen.add(other.front_stack)
        try:
            then = Front(build_layout(other, shelf))
        except FarRailError:
            continue
        if _broken(then) > _broken(front) or not then.judged:
            continue
        first, stops = then.now.first_clean_mm, then.corner_stops
        found.append(Remedy(words, other, first, stops, then.depth_mm, to_buy, _gains(front, first, stops)))
    return found


def _together(train: Train, shelf: Shelf, front: Front, found: list[Remedy]) -> list[Remedy]:
    """Return up to three remedies available taken one after another, each the best of what is then left."""
    words: list[str] = []
    here, now = train, front
    choice = found
    for _ in range(3):
        best = min(
            (r for r in choice if r.helps and not r.to_buy),
            key=lambda r: (r.first_clean_mm is None, r.first_clean_mm or 0.0, r.corner_stops), default=None,
        )  # fmt: skip
        if best is None:
            break
        words.append(best.words)
        here, now = best.train, Front(build_layout(best.train, shelf))
        choice = _each(here, shelf, now)
    if len(words) < 2:
        return []
    first, stops = now.now.first_clean_mm, now.corner_stops
    return [Remedy(say(", then ").join(words), here, first, stops, now.depth_mm, False, _gains(front, first, stops))]


def _gains(front: Front, first_mm: float | None, stops: float) -> bool:
    now = front.now.first_clean_mm
    if first_mm is not None and (now is None or first_mm < now - GAIN_MM):
        return True
    return stops < front.corner_stops - GAIN_STOPS


def _broken(front: Front) -> int:
    return sum(j.mismatch is not None for j in front.layout.joints if j.side.value == "front_stack")


def _with_stack(train: Train, stack: tuple[MountedPart, ...]) -> Train:
    return train.model_copy(update={"front_stack": stack})


def _variants(train: Train, shelf: Shelf, front: Front) -> Iterator[tuple[str, Train, bool]]:
    stack = train.front_stack
    parts = [placed.part for placed in front.layout.front]
    for index, part in enumerate(parts):
        without = _with_stack(train, (*stack[:index], *stack[index + 1 :]))
        if isinstance(part, RoundFilter) and index == 0 and len(stack) > 1:
            yield say("take {name} off", name=part.name), without, False
        if isinstance(part, FilterHolder) and any(isinstance(p, FilterHolder) for p in parts[:index]):
            held = _held_in(stack[index], shelf)
            lost = say(", giving up {listed} in it", listed=say(" and ").join(held)) if held else ""
            yield say("one slot module fewer: without {name}{lost}", name=part.name, lost=lost), without, False
        if isinstance(part, RoundFilter) and part.polariser and index == len(stack) - 1 and index > 0:
            for other, stack_then in dropped_in(stack, shelf, parts, index):
                if other.id != part.id and _usable(other):
                    words = say("polariser behind: {name} dropped in", name=other.name)
                    yield words, _with_stack(train, stack_then), other.status in TO_BUY
    yield from _other_rings(train, shelf, parts)
    yield from _other_holders(train, shelf, parts)
    for index, part in enumerate(parts):
        if isinstance(part, FilterHolder):
            if _graduated(stack[index:], shelf):
                break  # its line would run upright
            turned = (stack[index].turned_deg or 0.0) + 90.0
            turned = turned if turned <= 180.0 else turned - 180.0
            laid = stack[index].model_copy(update={"turned_deg": turned})
            yield (
                say("turn {name} to {turned:g}°", name=part.name, turned=turned),
                _with_stack(train, (*stack[:index], laid, *stack[index + 1 :])),
                False,
            )
            break


def _held_in(laid: MountedPart, shelf: Shelf) -> list[str]:
    """Return the names of the filters a holder holds."""
    return [shelf[one].name for one in (*laid.filters, laid.drop_in) if one is not None and one in shelf]


def _graduated(stack: tuple[MountedPart, ...], shelf: Shelf) -> bool:
    """Whether a graduated sheet is in a holder, or in one that turns with it."""
    sheets = (shelf.get(one or "") for laid in stack for one in laid.filters)
    return any(isinstance(sheet, SheetFilter) and sheet.graded for sheet in sheets)


def _usable(part: Part) -> bool:
    return part.status in (*AT_HAND, *TO_BUY)


def _instead(other: Part, part: TubePart, to_buy: bool) -> str:
    """Return what taking another part in the place of one is called."""
    also = say("buy ") if to_buy else ""
    return say("{also}{name} instead of {name_2}", also=also, name=other.name, name_2=part.name)


def _other_rings(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[tuple[str, Train, bool]]:
    for index, part in enumerate(parts):
        if not isinstance(part, HolderRing):
            continue
        for other in shelf.values():
            if isinstance(other, HolderRing) and other.id != part.id and _usable(other):
                laid = train.front_stack[index].model_copy(update={"part": other.id})
                stack = (*train.front_stack[:index], laid, *train.front_stack[index + 1 :])
                to_buy = other.status in TO_BUY
                yield (
                    _instead(other, part, to_buy),
                    _with_stack(train, stack),
                    to_buy,
                )


def _other_holders(train: Train, shelf: Shelf, parts: Sequence[TubePart]) -> Iterator[tuple[str, Train, bool]]:
    for index, part in enumerate(parts):
        if not isinstance(part, FilterHolder):
            continue
        for other in shelf.values():
            if not isinstance(other, FilterHolder) or other.id == part.id or not _usable(other):
                continue
            old = train.front_stack[index]
            needed = sum(f is not None for f in old.filters)
            if other.slots < needed:
                continue
            sheets = tuple(f for f in old.filters if f is not None)
            filters = (*sheets, *(None,) * other.slots)[: other.slots]
            drop_in = old.drop_in if other.drop_in_mm is not None else None
            laid = old.model_copy(update={"part": other.id, "filters": filters, "drop_in": drop_in, "shifts_mm": ()})
            stack = (*train.front_stack[:index], laid, *train.front_stack[index + 1 :])
            to_buy = other.status in TO_BUY
            yield (
                _instead(other, part, to_buy),
                _with_stack(train, stack),
                to_buy,
            )


@dataclass(frozen=True)
class Turning:
    """What turning the holder does: added corner loss from 0° to 90° against the frame, wherever it is turned now.

    Attributes:
        angles_deg: angles, absolute.
        stops: loss at each.
        worst_deg: the angle with the greatest loss.
        clean_deg: the ranges of angles that are clean.
    """

    angles_deg: tuple[float, ...]
    stops: tuple[float, ...]
    worst_deg: float
    clean_deg: tuple[tuple[float, float], ...]


def turning_of(front: Front, limit_stops: float, steps: int = 31) -> Turning | None:
    """Return the sweep of a holder's angle; None where nothing rectangular is in the stack."""
    if not front.judged or all(o.half_height_mm is None for o in front.images):
        return None
    angles = tuple(90.0 * n / (steps - 1) for n in range(steps))
    first = next(p for p, o in zip(front.placed, front.images, strict=True) if o.half_height_mm is not None)
    now = front.layout.front_in_frame_deg[first.index]
    stops = tuple(front.turned_stops(angle - now) for angle in angles)
    worst = angles[stops.index(max(stops))]
    clean: list[tuple[float, float]] = []
    start: float | None = None
    for angle, lost in zip(angles, stops, strict=True):
        if lost <= limit_stops and start is None:
            start = angle
        if lost > limit_stops and start is not None:
            clean.append((start, angle - 90.0 / (steps - 1)))
            start = None
    if start is not None:
        clean.append((start, 90.0))
    return Turning(angles, stops, worst, tuple(clean))
