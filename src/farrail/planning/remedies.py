"""What would free a front stack's corners: each fix as a train of its own, with what it gains, costs and gives up."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from farrail.errors import FarRailError
from farrail.language import say
from farrail.parts.inventory_item import TO_BUY
from farrail.parts.registry import Part
from farrail.planning.front_changes import Change, stack_changes
from farrail.readouts.front.model import Front
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import read
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf, with_parts
from farrail.train.train import Conditions, Train

MOST_REMEDIES, MOST_TO_BUY = 14, 4
# A gain below this is none; a millimetre of focal length, or a tenth of a stop.
GAIN_MM, GAIN_STOPS = 0.2, 0.05
# Stopped down no farther than this, in steps as engraved.
SMALLEST = 22.0
ENGRAVED = (1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0)
# Less than this of the frame is no crop one would make.
LEAST_CROP = 0.25
# Engraved apertures are thirds of a stop apart.
THIRDS = 3.0


@dataclass(frozen=True)
class Remedy:
    """One change to a front stack, or to how it is used.

    Attributes:
        change: what is done.
        first_clean_mm: from which focal length on it is then free of vignetting; None where nowhere.
        corner_stops: added corner loss then, at the focal length it is used at.
        depth_mm: how deep the stack then is.
        helps: whether it gains anything.
        cost: the price of what must be bought for it; None where it is not known, or nothing is bought.
        band: the best and the worst first clean focal length, None for nowhere; they differ while the entrance pupil
            is not known. None without a front stack.
    """

    change: Change
    first_clean_mm: float | None
    corner_stops: float
    depth_mm: float
    helps: bool
    cost: float | None = None
    band: tuple[float | None, float | None] | None = None

    @property
    def open_band(self) -> tuple[float, float | None] | None:
        """The band where its ends differ; None where one value, or nowhere, says it all."""
        low, high = self.band or (None, None)
        return None if low is None or low == high else (low, high)

    @property
    def words(self) -> str:
        """What is changed."""
        return self.change.words

    @property
    def train(self) -> Train:
        """The train with it."""
        return self.change.train

    @property
    def to_buy(self) -> bool:
        """Whether something of it must be bought."""
        return self.change.to_buy

    @property
    def frees(self) -> bool:
        """Whether the corners are then free of vignetting."""
        return self.corner_stops <= CLEAN_STOPS + 1e-6


def remedies_for(train: Train, shelf: Shelf) -> tuple[Remedy, ...]:
    """Return the fixes for a train's front stack, the best first; none where there is no lens or no stack.

    What frees the corners comes before what only helps; among those, what you own, then settings, then purchases.
    """
    front = read(train, shelf).front
    if not front.judged:
        return ()
    found = _each(train, shelf, front)
    found += _together(train, shelf, front, found)
    found += _settings(train, shelf, front)
    found.sort(key=_order)
    bought = [remedy for remedy in found if remedy.to_buy]
    kept = [remedy for remedy in found if not remedy.to_buy or remedy in bought[:MOST_TO_BUY]]
    return tuple(_with_band(remedy, shelf) for remedy in kept[:MOST_REMEDIES])


def _with_band(remedy: Remedy, shelf: Shelf) -> Remedy:
    """Return a remedy with what its first clean focal length may be while the pupil is not known."""
    change = remedy.change
    if not change.train.front_stack:
        return remedy
    then = Front(build_layout(change.train, with_parts(shelf, change.bought)), crop=change.crop)
    return replace(remedy, band=then.band)


def _order(remedy: Remedy) -> tuple[object, ...]:
    used = remedy.change.crop < 1.0 or (bool(remedy.change.loses) and not remedy.to_buy)
    kind = 2 if remedy.to_buy else 1 if used else 0
    first = remedy.first_clean_mm
    return (
        not remedy.helps, not remedy.frees, kind if remedy.frees else 0, first is None, first or 0.0,
        remedy.corner_stops, kind, remedy.cost is None, remedy.cost or 0.0,
    )  # fmt: skip


def _each(train: Train, shelf: Shelf, front: Front) -> list[Remedy]:
    """Return every single change of the stack."""
    found, seen = [], set()
    for change in stack_changes(train, shelf, front):
        stack = change.train.front_stack
        if stack in seen or stack == train.front_stack:
            continue
        seen.add(stack)
        remedy = _judged(change, shelf, front)
        if remedy is not None:
            found.append(remedy)
    return found


def _judged(change: Change, shelf: Shelf, front: Front) -> Remedy | None:
    """Return what a change does; None where it does not go together, or leaves nothing to judge."""
    parts = with_parts(shelf, change.bought)
    if change.train.front_stack:
        try:
            then = Front(build_layout(change.train, parts), crop=change.crop)
        except FarRailError:
            return None
        if _broken(then) > _broken(front) or not then.judged:
            return None
        first, stops, depth = then.now.first_clean_mm, then.corner_stops, then.depth_mm
    else:
        first, stops, depth = front.range_mm[0], 0.0, 0.0
    return Remedy(change, first, stops, depth, _gains(front, first, stops), _cost(change, parts))


def _cost(change: Change, parts: Shelf) -> float | None:
    """Return what a change costs: parts of the stack that are only wanted, once each; None where a price is missing."""
    wanted: dict[str, Part] = {
        placed.part: parts[placed.part] for placed in change.train.front_stack if parts[placed.part].status in TO_BUY
    }
    prices = [part.price for part in wanted.values()]
    known = [price for price in prices if price is not None]
    return sum(known) if change.to_buy and len(known) == len(prices) else None


def _together(train: Train, shelf: Shelf, front: Front, found: list[Remedy]) -> list[Remedy]:
    """Return up to three fixes of what is owned taken one after another, each the best of what is then left."""
    taken: list[Change] = []
    here, now = train, front
    choice = found
    for _ in range(3):
        best = min(
            (r for r in choice if r.helps and not r.to_buy and not r.change.loses),
            key=lambda r: (r.first_clean_mm is None, r.first_clean_mm or 0.0, r.corner_stops), default=None,
        )  # fmt: skip
        if best is None:
            break
        taken.append(best.change)
        here, now = best.train, Front(build_layout(best.train, shelf))
        choice = _each(here, shelf, now)
    if len(taken) < 2:
        return []
    change = Change(say(", then ").join(one.words for one in taken), here)
    first, stops = now.now.first_clean_mm, now.corner_stops
    return [Remedy(change, first, stops, now.depth_mm, _gains(front, first, stops))]


def _settings(train: Train, shelf: Shelf, front: Front) -> Iterator[Remedy]:
    """Yield what can be set: a longer focal length, a smaller aperture, a crop."""
    for change in (*_zoomed(train, front), *_stopped_down(train, shelf, front), *_cropped(train, front)):
        remedy = _judged(change, shelf, front)
        if remedy is not None and remedy.helps:
            yield remedy


def _used(train: Train, **update: float) -> Train:
    conditions: Conditions = train.conditions.model_copy(update=update)
    return train.model_copy(update={"conditions": conditions})


def _zoomed(train: Train, front: Front) -> Iterator[Change]:
    first, longest = front.now.first_clean_mm, front.range_mm[1]
    if first is None or first <= front.focal_mm + GAIN_MM:
        return
    focal_mm = min(math.ceil(first * 10.0 - 1e-6) / 10.0, longest)
    left = 100.0 * front.focal_mm / focal_mm  # of a flat subject
    words = say("zoom to {focal_mm:g} mm or longer", focal_mm=focal_mm)
    lost = say("{lost:.0f} % of the field's width", lost=100.0 - left)
    yield Change(words, _used(train, focal_mm=focal_mm), lost)


def _stopped_down(train: Train, shelf: Shelf, front: Front) -> Iterator[Change]:
    """Yield the widest engraved aperture that frees the corners, else the one that frees them most."""
    if front.corner_stops <= CLEAN_STOPS:
        return
    tried: list[tuple[float, float, Train]] = []
    for number in (n for n in ENGRAVED if front.f_number + 1e-6 < n <= SMALLEST):
        then = _used(train, f_number=number)
        loss = Front(build_layout(then, shelf)).corner_stops
        tried.append((loss, number, then))
        if loss <= CLEAN_STOPS:
            break
    if not tried:
        return
    loss, number, then = min(tried, key=lambda one: one[:2])
    stops = 2.0 * math.log2(number / front.f_number)
    words = say("stop down to f/{number:g}", number=number)
    yield Change(words, then, say("{stops:.1f} stops of light", stops=round(THIRDS * stops) / THIRDS))


def _cropped(train: Train, front: Front) -> Iterator[Change]:
    """Yield the largest crop about the middle whose corners are free of vignetting."""

    def free(share: float) -> bool:
        return replace(front, crop=share).corner_stops <= CLEAN_STOPS

    if free(1.0) or not free(LEAST_CROP):
        return
    low, high = LEAST_CROP, 1.0
    for _ in range(12):
        middle = (low + high) / 2.0
        low, high = (middle, high) if free(middle) else (low, middle)
    words = say("crop to {share:.0f} % of the width", share=math.floor(100.0 * low))
    lost = say("{lost:.0f} % of the pixels", lost=100.0 * (1.0 - low * low))
    yield Change(words, train, lost, crop=math.floor(100.0 * low) / 100.0)


def _gains(front: Front, first_mm: float | None, stops: float) -> bool:
    now = front.now.first_clean_mm
    if first_mm is not None and (now is None or first_mm < now - GAIN_MM):
        return True
    return stops < front.corner_stops - GAIN_STOPS


def _broken(front: Front) -> int:
    return sum(j.mismatch is not None for j in front.layout.joints if j.side.value == "front_stack")
