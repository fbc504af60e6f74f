"""Which single observation would narrow an open verdict most.

Every value of a train that is not known is a range; the figure that decides, and what each kind of observation reads,
are followed to both ends of each. Both are taken as straight lines: an observation read with deviation σ then leaves
``σ_F² − (Σ F_u a_u s_u²)² / (Σ a_u² s_u² + σ²)`` of the figure's variance (the update of a linear Gaussian estimate),
F_u and a_u the slopes over u, s_u the deviation of u.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from farrail.errors import FarRailError
from farrail.language import say
from farrail.logbook.kinds.front import FOCAL_OFF_MM, STOPS_OFF, CornerLoss, Darkening
from farrail.logbook.kinds.lengths import LENGTH_OFF_MM, PathLength
from farrail.logbook.kinds.near import DISTANCE_OFF_MM, WIDTH_OFF_MM, FieldWidth, WorkingDistance
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.model import uniform_sigma
from farrail.logbook.observation import Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.value_names import FIGURE_WORDS, part_name, value_name
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.readouts.finding import Finding, FindingText, Severity
from farrail.readouts.front.model import DOUBT
from farrail.readouts.front.rims import focal_at_touch
from farrail.readouts.light.findings import LOOK_STOPS
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import Readout, read
from farrail.readouts.unknowns import unknowns_of, with_values
from farrail.train.rows import Shelf
from farrail.train.train import Train

# A caliper in a good hand is off by so much; common practice, no source.
CALIPER_OFF_MM = 0.05
# A figure surer than this share of itself is sure enough; an observation that leaves more than this is not worth it.
LEAST_DOUBT, WORTH = 0.01, 0.9
Read = Callable[[Readout], float | None]


@dataclass(frozen=True)
class Open:
    """A verdict that what is not known leaves open.

    Attributes:
        figure: id of the figure that decides.
        value: what it is in the middle.
        sigma: its deviation.
        limit: where the verdict turns.
    """

    figure: str
    value: float
    sigma: float
    limit: float


# Lengths of light, not of metal: no caliper measures them.
OPTICAL = (
    "entrance_pupil_depth_mm", "entrance_pupils", "exit_pupil_distance_mm", "back_focus_mm", "telescope_distance_mm",
    "focal_length_mm", "longest_focal_mm", "lens_focal_mm", "near_focal_mm", "hiatus_mm", "pupil_walk_mm",
    "principal_mm", "focal_plane_mm", "image_circle_mm",
)  # fmt: skip


@dataclass(frozen=True)
class NextBest:
    """The observation that narrows an open verdict most.

    Attributes:
        open: the verdict.
        kind: tag of the kind of observation; "" for measuring a part itself.
        part: the part to measure, where that narrows most.
        path: its value.
        left: the share of the figure's deviation that stays.
    """

    open: Open
    kind: str
    part: PartId
    path: str
    left: float


@dataclass(frozen=True)
class LookNext(FindingText):
    """The observation that would narrow an open verdict most."""

    kind = "log.look_next"
    best: NextBest
    shelf: Shelf

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        best = self.best
        if best.kind:
            look = say("note “{kind_name}” (Ctrl+I)", kind_name=OBSERVATIONS[best.kind].kind_name)
        else:
            name = value_name(self.shelf.get(best.part), best.path)
            look = say("measure {part_name}: {value_name}", part_name=part_name(best.part, self.shelf), value_name=name)
        return say("Best next: {look}.", look=look), say(
            "That would cut the uncertainty in {what} to {left:.0f} % of today's.",
            what=FIGURE_WORDS[best.open.figure],
            left=100.0 * best.left,
        )


@dataclass(frozen=True)
class _Unsure:
    """One thing not known: where it is, its deviation, and the train's parts with it at either end."""

    part: PartId
    path: str
    sigma: float
    ends: tuple[Shelf, Shelf]
    at: tuple[float, float]
    by_caliper: bool = False


def next_best(train: Train, shelf: Shelf) -> tuple[NextBest, ...]:
    """Return for each open verdict of a train the observation that narrows it most, the widest open first."""
    middle = read(train, shelf)
    unsure = list(_unsure(middle, shelf))
    if not unsure:
        return ()
    ends = [tuple(read(train, one) for one in item.ends) for item in unsure]
    found = []
    for figure, ask, limit in FIGURES:
        value = ask(middle)
        slopes = _slopes(ask, ends, unsure)
        if value is None or slopes is None:
            continue
        sigma = math.sqrt(float(np.sum(slopes**2)))
        if sigma <= LEAST_DOUBT * max(abs(value), 1e-9) or not abs(value - limit(middle)) <= 2.0 * sigma:
            continue
        verdict = Open(figure, value, sigma, limit(middle))
        best = min(_candidates(verdict, middle, ends, unsure, slopes), key=lambda one: one.left, default=None)
        if best is not None and best.left < WORTH:
            found.append(best)
    return tuple(sorted(found, key=lambda one: abs(one.open.value - one.open.limit) / one.open.sigma))


def next_findings(train: Train, shelf: Shelf) -> tuple[Finding, ...]:
    """Return for each open verdict a finding that names the observation that narrows it most."""
    return tuple(
        Finding(
            LookNext(best, shelf), Severity.NOTE, part=best.part, figure=best.open.figure, which=best.open.figure
        )
        for best in next_best(train, shelf)
    )  # fmt: skip


def _candidates(
    verdict: Open, middle: Readout, ends: list[tuple[Readout, ...]], unsure: list[_Unsure], slopes: np.ndarray
) -> Iterator[NextBest]:
    whole = float(np.sum(slopes**2))

    def left(reads: np.ndarray, sigma: float) -> float:
        """Slopes are shown in deviations of the unknowns: each counts as one."""
        told = float(slopes @ reads) ** 2 / (float(reads @ reads) + sigma**2)
        return math.sqrt(max(whole - told, 0.0) / whole)

    for kind, ask, off in READS:
        if not kind.suits(middle):
            continue
        reads = _slopes(ask, ends, unsure)
        if reads is None or not np.any(reads):
            continue
        yield NextBest(verdict, str(kind.model_fields["kind"].default), "", "", left(reads, off(middle)))
    for number, one in enumerate(unsure):
        if one.by_caliper:
            reads = np.zeros(len(unsure))
            reads[number] = one.sigma
            yield NextBest(verdict, "", one.part, one.path, left(reads, uniform_sigma(CALIPER_OFF_MM)))


def _slopes(ask: Read, ends: list[tuple[Readout, ...]], unsure: list[_Unsure]) -> "np.ndarray | None":
    """Return by how much a reading moves with one deviation of each unknown; None where it cannot be shown."""
    found = []
    for pair, item in zip(ends, unsure, strict=True):
        try:
            low, high = (ask(one) for one in pair)
        except FarRailError:
            return None
        if low is None or high is None or not (math.isfinite(low) and math.isfinite(high)):
            return None
        width = item.at[1] - item.at[0]
        found.append((high - low) / width * item.sigma if width else 0.0)
    return np.array(found)


def _unsure(readout: Readout, shelf: Shelf) -> Iterator[_Unsure]:
    """Yield what is not known: ranges, an assumed entrance pupil, two published figures that differ."""
    for unknown in unknowns_of(readout.layout):
        ends = tuple({**shelf, **with_values(shelf, {unknown: unknown.at(share)})} for share in (0.0, 1.0))
        path = ".".join(str(step) for step in unknown.path)
        width = unknown.at(1.0) - unknown.at(0.0)
        caliper = unknown.entered and path.endswith("_mm") and path.split(".")[0] not in OPTICAL
        yield _Unsure(unknown.part, path, width / math.sqrt(12.0), ends, (unknown.at(0.0), unknown.at(1.0)), caliper)  # type: ignore[arg-type]
    lens = readout.layout.optic
    if isinstance(lens, CameraLens) and readout.front.judged and readout.front.pupil_origin is Origin.ASSUMED:
        off = DOUBT * abs(readout.front.layout.first_order.entrance_pupil.value)
        if off > 0.0 and not any(
            one.part == lens.id and one.field.startswith("entrance_pupil") for one in unknowns_of(readout.layout)
        ):
            both = tuple({**shelf, lens.id: _moved(lens, step)} for step in (-off, off))
            yield _Unsure(lens.id, "entrance_pupil_depth_mm", uniform_sigma(off), both, (-off, off))  # type: ignore[arg-type]
    need = readout.spacing.requirement
    band = None if need is None else need.distance.published_band
    if need is not None and band is not None:
        part = shelf[need.part]
        told = tuple(
            {**shelf, part.id: part.model_copy(update={need.path: Quantity.of(v, Origin.PUBLISHED)})} for v in band
        )
        yield _Unsure(need.part, need.path, (band[1] - band[0]) / math.sqrt(12.0), told, band)  # type: ignore[arg-type]


def _moved(lens: CameraLens, step: float) -> CameraLens:
    """Return a lens with its entrance pupil moved at every focal length; where it is known, no farther than that."""

    def along(quantity: Quantity) -> Quantity:
        most = abs(step) if quantity.origin is Origin.ASSUMED else min(abs(step), quantity.tolerance)
        return Quantity.of(quantity.value + math.copysign(most, step), quantity.origin)

    rows = tuple(at.model_copy(update={"depth_mm": along(at.depth_mm)}) for at in lens.entrance_pupils)
    return lens.model_copy(
        update={"entrance_pupils": rows, "entrance_pupil_depth_mm": along(lens.entrance_pupil_depth_mm)}
    )


def _shows_at(readout: Readout) -> float | None:
    return focal_at_touch(readout.front, 0.5)


def _eye(readout: Readout) -> float:
    """Return the deviation of a focal length at which an eye sees the corner darken."""
    seen = [focal_at_touch(readout.front, touch) for touch in (0.0, 1.0)]
    doubt = 0.0 if seen[0] is None or seen[1] is None else abs(seen[1] - seen[0]) / math.sqrt(12.0)
    return math.hypot(uniform_sigma(FOCAL_OFF_MM), doubt)


def _clean_margin(readout: Readout) -> float | None:
    return readout.front.corner_stops if readout.front.judged else None


def _first_clean(readout: Readout) -> float | None:
    """Return the first clean focal length: always worth knowing better where the pupil is a guess."""
    front = readout.front
    return front.now.first_clean_mm if front.judged and front.range_mm[1] > front.range_mm[0] else None


def _corner(readout: Readout) -> float | None:
    return readout.corner_stops if readout.light.corners else None


def _near(readout: Readout, what: str) -> float | None:
    close = readout.close_up
    # A lens used far away is not measured close up.
    if not close.active or close.system is None or not close.near.focused or close.near.magnification <= 0.0:
        return None
    return close.frame_mm[0] / close.near.magnification if what == "width" else close.near.distance_mm


def _star_off(readout: Readout) -> float:
    return uniform_sigma(max(readout.spacing.tolerance_mm or 0.2, 0.05))


# The figures that decide, and where each verdict turns.
FIGURES: tuple[tuple[str, Read, Callable[[Readout], float]], ...] = (
    ("spacing.error_mm", lambda r: r.spacing.error_mm,
     lambda r: math.copysign(r.spacing.tolerance_mm or 0.0, r.spacing.error_mm or 1.0)),
    ("light.corner_stops", _corner, lambda _: LOOK_STOPS),
    ("front.corner_loss_stops", _clean_margin, lambda _: CLEAN_STOPS),
    ("front.first_clean_mm", _first_clean, lambda r: _first_clean(r) or 0.0),
)  # fmt: skip
# What can be seen, what it reads, and how far it is off.
READS: tuple[tuple[type[Observation], Read, Callable[[Readout], float]], ...] = (
    (Darkening, _shows_at, _eye),
    (CornerLoss, _corner, lambda _: uniform_sigma(STOPS_OFF)),
    (CornerStars, lambda r: r.spacing.error_mm, _star_off),
    (PathLength, lambda r: r.spacing.actual_mm, lambda _: uniform_sigma(LENGTH_OFF_MM)),
    (FieldWidth, lambda r: _near(r, "width"), lambda _: uniform_sigma(WIDTH_OFF_MM)),
    (WorkingDistance, lambda r: _near(r, "distance"), lambda _: uniform_sigma(DISTANCE_OFF_MM)),
)
