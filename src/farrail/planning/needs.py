"""What a part must measure: the reverse of what it does where it is.

Each answer is found by trying: the part is given another value and the train is read again.
The search ends when the value at which the verdict changes is known to a hundredth.
Ahead of a lens a part has its depth and clear width, behind the optic its length and clear width.
For a close-up it is the length for a magnification.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.base import FixedLength
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.ahead import FilterHolder, HolderRing
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.readouts.front.model import Front
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import Side, Train

# Nothing ahead of a lens is longer or wider than this; a value is found to a hundredth.
LONGEST_MM, WIDEST_MM, FINE_MM = 200.0, 400.0, 0.01


@dataclass(frozen=True)
class Need:
    """What one measure of a part must be.

    Attributes:
        part: the part; "" for one that is missing.
        name: its name.
        actual_mm: what it measures.
        needed_mm: what it must measure; None where no value helps.
    """

    part: PartId
    name: str
    actual_mm: float | None
    needed_mm: float | None

    @property
    def kind(self) -> str:
        """Which measure it is, as a stable word."""
        raise NotImplementedError

    @property
    def sentence(self) -> str:
        """The answer in one sentence."""
        raise NotImplementedError


@dataclass(frozen=True)
class MostDepth(Need):
    """How deep a part ahead of a lens may be."""

    kind = "most_depth"
    focal_mm: float

    @property
    def sentence(self) -> str:
        """The answer in one sentence."""
        if self.needed_mm is None:
            return say("{name}: at {focal:g} mm no depth is free of vignetting; the rest of the stack vignettes.",
                       name=self.name, focal=self.focal_mm)  # fmt: skip
        if self.needed_mm >= LONGEST_MM:
            return say("{name}: at {focal:g} mm its depth does not matter.", name=self.name, focal=self.focal_mm)
        return say("{name}: a depth of at most {most:.1f mm}, for no vignetting at {focal:g} mm.",
                   name=self.name, most=self.needed_mm, focal=self.focal_mm)  # fmt: skip


@dataclass(frozen=True)
class LeastWidth(Need):
    """How wide a part must be inside."""

    kind = "least_width"
    focal_mm: float | None

    @property
    def filter_thread_mm(self) -> int | None:
        """The smallest usual filter thread that leaves this width inside its rim."""
        least = self.needed_mm
        return None if least is None else next((mm for mm in FILTER_THREADS_MM if mm - RIM_MM >= least), None)

    @property
    def sentence(self) -> str:
        """The answer in one sentence."""
        if self.needed_mm is None:
            return say("{name}: no width is free of vignetting; the rest of the train vignettes.", name=self.name)
        if self.focal_mm is None:
            return say("{name}: a clear aperture of at least {least:.1f mm}, for no vignetting.",
                       name=self.name, least=self.needed_mm)  # fmt: skip
        return say("{name}: a clear aperture of at least {least:.1f mm}, for no vignetting at {focal:g} mm.",
                   name=self.name, least=self.needed_mm, focal=self.focal_mm)  # fmt: skip


# How much narrower a filter is inside its rim than its thread, both sides together; common practice, no source.
RIM_MM = 3.5


@dataclass(frozen=True)
class NeededLength(Need):
    """How long a part must be for the sensor to be where the optic needs it."""

    kind = "length"

    @property
    def sentence(self) -> str:
        """The answer in one sentence."""
        if self.needed_mm is None:
            return say("{name}: no length helps; the others are too long already.", name=self.name)
        return say("{name}: {long:.2f mm} long for the sensor to be in focus.", name=self.name, long=self.needed_mm)


@dataclass(frozen=True)
class LengthForScale(Need):
    """How long a part must be for a magnification."""

    kind = "length_for_magnification"
    magnification: float

    @property
    def sentence(self) -> str:
        """The answer in one sentence."""
        if self.needed_mm is None:
            return say("{name}: no length up to {most:g} mm gives {scale:.3g}×.",
                       name=self.name, most=LONGEST_MM, scale=self.magnification)  # fmt: skip
        return say("{name}: {long:.1f mm} long for {scale:.3g}×, focused as now.",
                   name=self.name, long=self.needed_mm, scale=self.magnification)  # fmt: skip


def needs_of(
    train: Train, shelf: Shelf, part_id: PartId, *, focal_mm: float | None = None, magnification: float | None = None
) -> tuple[Need, ...]:
    """Return what a part of a train must measure.

    Args:
        train: the train.
        shelf: parts by id.
        part_id: the part.
        focal_mm: the focal length a front stack is to be free of vignetting at; None for the one set.
        magnification: a magnification wanted of a part behind the lens.

    Raises:
        BadInput: the part is not in the train, or has nothing that could be otherwise.
    """
    readout = read(train, shelf)
    for side in Side:
        for index, laid in enumerate(train.row(side)):
            if laid.part == part_id:
                found = _ahead(readout, shelf, index, focal_mm) if side is Side.FRONT else _behind(
                    readout, shelf, index, magnification)  # fmt: skip
                needs = tuple(found)
                if needs:
                    return needs
                raise BadInput("{name} has no measure to be found here.", name=shelf[part_id].name)
    name = shelf[part_id].name if part_id in shelf else part_id
    raise BadInput("{name} is not in the train “{train}”; name one of its parts.", name=name, train=train.name)


def missing(readout: Readout) -> NeededLength | None:
    """Return how long a missing part must be; None where the sensor is in focus, or nothing is required."""
    error = readout.spacing.error_mm
    if error is None or error >= 0.0 or readout.verdict.met:
        return None
    return NeededLength("", say("The missing part"), None, -error)


def _ahead(readout: Readout, shelf: Shelf, index: int, focal_mm: float | None) -> Iterator[Need]:
    front, placed = readout.front, readout.layout.front[index]
    if not front.judged or front.lens is None:
        raise BadInput("The front stack needs a lens and a sensor to be judged by; add them to the train.")
    low, high = front.range_mm
    focal = front.focal_mm if focal_mm is None else focal_mm
    if not low - 1e-9 <= focal <= high + 1e-9:
        raise BadInput("The lens has no {focal:g} mm; give {low:g} to {high:g}.", focal=focal, low=low, high=high)
    part = placed.part

    def clean(path: str, mm: float) -> bool:
        trial = _with(readout, shelf, part.id, path, mm).front
        return trial.loss_at(focal) <= CLEAN_STOPS

    if isinstance(part, FixedLength):
        least = -LONGEST_MM if isinstance(part, HolderRing) else 0.0
        most = _last(lambda mm: clean("path_length_mm", mm), least, LONGEST_MM)
        yield MostDepth(part.id, part.name, placed.length.value, most, focal)
    path = "window_width_mm" if isinstance(part, FilterHolder) else "clear_aperture_mm"
    if path in type(part).model_fields:
        wide = _first(lambda mm: clean(path, mm), 1.0, WIDEST_MM)
        yield LeastWidth(part.id, part.name, _clear_now(front, part.id), wide, focal)


def _behind(readout: Readout, shelf: Shelf, index: int, magnification: float | None) -> Iterator[Need]:
    placed = readout.layout.rear[index]
    part, length = placed.part, placed.length.value
    error = readout.spacing.error_mm
    if magnification is not None:
        if readout.close_up.system is None:
            raise BadInput("A magnification needs a camera lens and a camera; this train has no such pair.")
        needed = _length_for(readout, shelf, part.id, magnification)
        yield LengthForScale(part.id, part.name, length, needed, magnification)
    elif isinstance(part, FixedLength) and error is not None and not isinstance(part, RoundFilter):
        long = length - error
        yield NeededLength(part.id, part.name, length, long if long > 0.0 else None)
    own = [c for c in readout.light.clearances if c.placed.part.id == part.id]
    if own and magnification is None:
        tight = max(own, key=lambda c: c.needed_mm - c.has_mm)
        yield LeastWidth(part.id, part.name, tight.has_mm, max(c.needed_mm for c in own), None)


def _length_for(readout: Readout, shelf: Shelf, part_id: PartId, magnification: float) -> float | None:
    """Return the length at which the magnification, focused as now, first reaches what is wanted."""

    def large(mm: float) -> bool:
        return _with(readout, shelf, part_id, "path_length_mm", mm).close_up.now.magnification >= magnification

    return _first(large, 0.0, LONGEST_MM)


def _clear_now(front: Front, part_id: PartId) -> float | None:
    return min((placed.diameter.value for placed in front.placed if placed.part.id == part_id), default=None)


def _with(readout: Readout, shelf: Shelf, part_id: PartId, path: str, mm: float) -> Readout:
    """Return the readout with one value of a part otherwise."""
    value = Quantity(readings=(Reading(value=mm, origin=Origin.MEASURED),))
    part = shelf[part_id].model_copy(update={path: value})
    return read(readout.layout.train, {**shelf, part_id: part})


def _last(holds: Callable[[float], bool], low: float, high: float) -> float | None:
    """Return the largest value at which something holds that holds up to a point; None where it never does."""
    found = _first(lambda mm: holds(-mm), -high, -low)
    return None if found is None else -found


def _first(holds: Callable[[float], bool], low: float, high: float) -> float | None:
    """Return the smallest value at which something holds that holds from a point on; None where it never does."""
    if not holds(high):
        return None
    if holds(low):
        return low
    while high - low > FINE_MM:
        middle = (low + high) / 2.0
        low, high = (low, middle) if holds(middle) else (middle, high)
    return high
