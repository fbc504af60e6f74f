"""What was calibrated of a value, or why it was not, as values; and the least squares behind both."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

import numpy as np

from farrail.language import say
from farrail.logbook.observation import Observation
from farrail.logbook.state import State, known_now
from farrail.optics.clipping import Array
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import with_conditions

# From here on the unknowns of a fit cannot be distinguished; one shared unknown radius makes about 26 (models.md).
WORST_CONDITION = 15.0


class Why(StrEnum):
    """Why a value cannot be shown from what was seen."""

    TOO_FEW = "too_few"
    ILL_CONDITIONED = "ill_conditioned"
    WAY_UNKNOWN = "way_unknown"
    ONE_SIDED = "one_sided"
    CONTRADICTORY = "contradictory"
    OUTSIDE = "outside"


class Settles(StrEnum):
    """The further observation that would settle it."""

    OTHER_PART_SHOWS = "other_part_shows"
    NO_PARALLAX = "no_parallax"
    ACROSS_IT_ALONE = "across_it_alone"
    OTHER_TUBE = "other_tube"
    BARREL = "barrel"
    OTHER_SPACING = "other_spacing"
    LONGER_SPACING = "longer_spacing"
    SHORTER_SPACING = "shorter_spacing"
    AGAIN = "again"


class Assumption(StrEnum):
    """What was taken for the fit beyond the observations."""

    AS_IS = "as_is"
    EACH_FOCAL = "each_focal"
    SHARED_OFFSET = "shared_offset"


@dataclass(frozen=True)
class Found:
    """A value calibrated.

    Attributes:
        part: whose it is.
        path: the part's field; of a zoom's table its name, the focal length beside it.
        value: the best single number.
        low: lower end of what holds it with 95 %.
        high: upper end.
        unit: of all three.
        seen: the observations it rests on.
        focal_mm: the entry of a zoom's table; None where it is no table.
        taken: what was taken beyond the observations.
        touch_mm: how much of the interval is owed to not knowing how dark an eye calls dark.
    """

    part: PartId
    path: str
    value: float
    low: float
    high: float
    unit: str
    seen: tuple[str, ...]
    focal_mm: float | None = None
    taken: Assumption = Assumption.AS_IS
    touch_mm: float = 0.0

    @property
    def off(self) -> float:
        """Half the width of its interval."""
        return max(self.high - self.value, self.value - self.low)

    @property
    def key(self) -> str:
        """Its place in a workbook, such as `brae-17-35.entrance_pupils[24]`."""
        return place_key(self.part, self.path, self.focal_mm)


@dataclass(frozen=True)
class Refused:
    """A value that cannot be shown yet.

    Attributes:
        part: whose it is.
        path: the part's field.
        why: the reason.
        settles: the further observation that would settle it.
        seen: the observations there are.
        focal_mm: the entry of a zoom's table.
        values: names and numbers its sentence needs.
    """

    part: PartId
    path: str
    why: Why
    settles: Settles
    seen: tuple[str, ...] = ()
    focal_mm: float | None = None
    values: Mapping[str, Any] = field(default_factory=dict, hash=False)

    @property
    def key(self) -> str:
        """Its place in a workbook."""
        return place_key(self.part, self.path, self.focal_mm)


Learnt = Found | Refused


def place_key(part: PartId, path: str, focal_mm: float | None) -> str:
    """Return the place of a value in a workbook as one word."""
    return f"{part}.{path}" + ("" if focal_mm is None else say("[{focal_mm:g}]", focal_mm=focal_mm))


@dataclass(frozen=True)
class Evidence:
    """Observations with the states they were made in, and the parts as they are known now.

    Attributes:
        log: the observations.
        states: kept states by id.
        shelf: parts as known now.
    """

    log: Sequence[Observation]
    states: Mapping[str, State]
    shelf: Shelf

    @classmethod
    def of(cls, log: Sequence[Observation], states: Mapping[str, State], shelf: Shelf) -> "Evidence":
        """Return the evidence of a workbook's log: entries set aside do not count."""
        return cls(tuple(seen for seen in log if not seen.aside), states, shelf)

    def parts_of(self, seen: Observation) -> dict[PartId, Part]:
        """Return the parts of an observation's train as they are known now; those gone since, as they were."""
        return known_now(self.states[seen.state], self.shelf)

    def readout_of(self, seen: Observation, parts: Shelf | None = None) -> Readout:
        """Return the readout of the train an observation was made with, set as it was then.

        Args:
            seen: the observation.
            parts: in place of the parts as they are known now.
        """
        train = with_conditions(self.states[seen.state].train, seen.focal_mm, seen.f_number)
        return read(train, self.parts_of(seen) if parts is None else parts)


@dataclass(frozen=True)
class Fit:
    """A weighted least-squares fit.

    Attributes:
        values: the unknowns.
        sigma: their standard deviations.
        condition: of the matrix with its columns brought to one length.
        determined: which unknowns the equations determine at all.
    """

    values: Array
    sigma: Array
    condition: float
    determined: Array


def least_squares(matrix: Array, wanted: Array, sigma: Array) -> Fit:
    """Solve ``matrix · values = wanted`` with standard deviations `sigma`.

    Where the residuals are larger than `sigma` lets expect, the deviations of the values are widened by the square root
    of χ² per degree of freedom (Birge's ratio); they are never narrowed.
    """
    a, b = matrix / sigma[:, None], wanted / sigma
    count = a.shape[1]
    lengths = np.linalg.norm(a, axis=0)
    scaled = a / np.where(lengths > 0.0, lengths, 1.0)
    u, singular, vt = np.linalg.svd(scaled, full_matrices=False)
    largest = singular[0] if singular.size else 0.0
    good = singular > max(largest, 1e-30) * 1e-9
    # An unknown is determined where nothing of it is in the null space.
    seen = (vt[good] ** 2).sum(axis=0)
    determined = (seen > 1.0 - 1e-6) & (lengths > 0.0)
    inverse = np.where(good, 1.0 / np.where(good, singular, 1.0), 0.0)
    solved = vt.T @ (inverse * (u.T @ b)) / np.where(lengths > 0.0, lengths, 1.0)
    variance = ((vt.T * inverse) ** 2).sum(axis=1) / np.where(lengths > 0.0, lengths, 1.0) ** 2
    free = a.shape[0] - int(good.sum())
    chi = float(((a @ solved - b) ** 2).sum())
    widen = max(1.0, chi / free) if free > 0 else 1.0
    smallest = singular[good][-1] if good.any() else 0.0
    full = int(good.sum()) == count
    condition = float(largest / smallest) if full and smallest > 0.0 else math.inf
    return Fit(solved, np.sqrt(variance * widen), condition, determined)


def uniform_sigma(off: float) -> float:
    """Return the standard deviation of a reading that may be off by up to so much, all alike likely."""
    return max(off, 1e-9) / math.sqrt(3.0)
