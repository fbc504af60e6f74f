"""The entrance pupil, its walk, and clear widths of a front stack, from corners seen to darken.

At the rim that shows ``(E + z)·tan θ + k·f/(2N) = r``: linear in the pupil's depth E and the rim's half width r. Each
reading is one such equation, weighted by how far its focal length may be off; k is what an eye calls dark. Source:
similar triangles at the entrance pupil, docs/models.md.
"""

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from farrail.logbook.kinds.front import Darkening
from farrail.logbook.learning.model import (
    WORST_CONDITION,
    Assumption,
    Evidence,
    Fit,
    Found,
    Learnt,
    Refused,
    Settles,
    Why,
    least_squares,
    uniform_sigma,
)
from farrail.optics.clipping import Array
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.readouts.front.model import Front
from farrail.readouts.front.rims import rims_over
from farrail.readouts.light.own_glass import assumed_walk_mm
from farrail.train.placed import PlacedAperture
from farrail.train.zoom_tables import pupil_depth_at, pupil_depths_mm

# Focal lengths nearer to each other than this share of them are one entry of a zoom's table.
SAME_FOCAL = 0.04
ROUNDS = 4
# A zoom's pupil moves less than this with each millimetre of focal length; common practice, no source.
MOST_SLOPE = 1.0
# A pupil measured by hand is off by so much where nothing else was entered; common practice, no source.
BY_HAND_OFF_MM = 0.5
STEP_MM, STEP_SHARE = 0.5, 1e-3
# A pupil is between these, behind the seat; what comes out beyond is no pupil but a slip in a reading.
LEAST_DEPTH_MM, MOST_DEPTH_MM = -200.0, 400.0


@dataclass(frozen=True)
class _Reading:
    """One equation: `gap + slope·δE + δr = touch·bundle` at the rim that showed."""

    seen: Darkening
    group: float
    rim: PlacedAperture
    gap_mm: float
    slope: float
    bundle_mm: float
    sigma_mm: float


def learn_pupils(evidence: Evidence, lens: CameraLens) -> Iterator[Learnt]:
    """Yield what darkened corners calibrate of a lens and of the stacks before it.

    Args:
        evidence: all that was seen.
        lens: the lens, as it is known now.
    """
    mine = [
        seen for seen in evidence.log
        if isinstance(seen, Darkening) and seen.state in evidence.states and _on(evidence, seen, lens.id)
    ]  # fmt: skip
    if not mine:
        return
    groups = groups_of(lens, [seen.focal_mm for seen in mine])
    fronts = list(zip(mine, groups, _fronts(evidence, mine), strict=True))
    fronts = [item for item in fronts if item[2].judged]
    if not fronts:
        return
    names = tuple(dict.fromkeys(groups))
    for taken in (Assumption.EACH_FOCAL, Assumption.SHARED_OFFSET):
        fit = _solve(lens, fronts, names, shared=taken is Assumption.SHARED_OFFSET)
        if fit.sound or (taken is Assumption.SHARED_OFFSET) or len(names) == 1:
            learnt = list(_told(lens, fit, names, taken if len(names) > 1 or is_zoom(lens) else Assumption.AS_IS))
            if not fit.sound:
                learnt = _by_known_pupil(lens, fronts, names, learnt)
            yield from _without_leaps(learnt)
            return


def _without_leaps(learnt: list[Learnt]) -> Iterator[Learnt]:
    """Yield what was calibrated; pupils of neighbouring focal lengths that no lens moves between are refused.

    Readings by two eyes that call different shades dark, or a slip, look like a pupil that leaps.
    """
    rows = sorted(
        (one for one in learnt if isinstance(one, Found) and one.path == "entrance_pupils"),
        key=lambda one: one.focal_mm or 0.0,
    )
    leaps: dict[str, set[str]] = defaultdict(set)
    for one, other in pairwise(rows):
        apart = (other.focal_mm or 0.0) - (one.focal_mm or 0.0)
        if abs(other.value - one.value) - one.off - other.off > MOST_SLOPE * apart:
            for which in (one, other):
                leaps[which.key] |= {*one.seen, *other.seen}
    for entry in learnt:
        if entry.key in leaps:
            seen = tuple(sorted(leaps[entry.key]))
            yield Refused(entry.part, entry.path, Why.CONTRADICTORY, Settles.AGAIN, seen, entry.focal_mm)
        else:
            yield entry


def _by_known_pupil(
    lens: CameraLens, fronts: list[tuple[Darkening, float, Front]], names: tuple[float, ...], learnt: list[Learnt]
) -> list[Learnt]:
    """Return what was calibrated, with widths that a measured pupil settles in the place of their refusal."""
    known = {name: prior for name in names if (prior := _known_offset(lens, fronts, name)) is not None}
    if len(known) < len(names):
        return learnt
    fit = _solve(lens, fronts, names, shared=False, known=known)
    widths = {one.key: one for one in _told(lens, fit, names, Assumption.AS_IS) if one.part != lens.id}
    return [widths.get(one.key, one) for one in learnt]


def _known_offset(
    lens: CameraLens, fronts: list[tuple[Darkening, float, Front]], name: float
) -> tuple[float, float] | None:
    """Return how far the pupil is from where it is said to be, as the corner sees it, and the deviation of that.

    A measured pupil is where it was measured, less what it may walk toward the corner; None where it was not measured,
    or only from the readings themselves.
    """
    before = pupil_depth_at(lens, name)
    use = before.in_use
    mine = {seen.id for seen, _, _ in fronts}
    if isinstance(use, Span) or before.origin is not Origin.MEASURED or mine & set(use.seen):
        return None
    corner = max((math.hypot(*at) for _, group, front in fronts if group == name for at in front.corners), default=0.0)
    walk = assumed_walk_mm(lens, math.degrees(math.atan2(corner, name)))
    off = uniform_sigma(max(use.tolerance, BY_HAND_OFF_MM))
    return -walk / 2.0, math.hypot(off, walk / math.sqrt(12.0))


def _fronts(evidence: Evidence, mine: Sequence[Darkening]) -> list[Front]:
    """Return each reading's front stack; readings of one state at one f-number share one, for only the zoom differs.

    Focused near, what is seen depends on the focal length as well: then each has its own.
    """
    kept: dict[tuple[object, ...], Front] = {}
    found = []
    for seen in mine:
        near = evidence.states[seen.state].train.conditions.focus_mm is not None
        key = seen.state, seen.f_number, seen.focal_mm if near else None
        if key not in kept:
            kept[key] = evidence.readout_of(seen).front
        found.append(kept[key])
    return found


def is_zoom(lens: CameraLens) -> bool:
    """Whether a lens's pupil is shown in a table over its focal lengths."""
    return lens.longest_focal_mm is not None


def _on(evidence: Evidence, seen: Darkening, lens: PartId) -> bool:
    train = evidence.states[seen.state].train
    return train.optic == lens and not train.optic_reversed and bool(train.front_stack)


def groups_of(lens: CameraLens, focal_mm: Sequence[float]) -> list[float]:
    """Return for each reading the entry of the lens's table it is about: readings near each other are about one."""
    if not is_zoom(lens):
        return [lens.focal_length_mm.value] * len(focal_mm)
    order = sorted(range(len(focal_mm)), key=focal_mm.__getitem__)
    clusters: list[list[int]] = []
    for number in order:
        if clusters and focal_mm[number] <= focal_mm[clusters[-1][0]] * (1.0 + SAME_FOCAL):
            clusters[-1].append(number)
        else:
            clusters.append([number])
    found = [0.0] * len(focal_mm)
    for cluster in clusters:
        middle = round(sum(focal_mm[n] for n in cluster) / len(cluster), 1)
        for number in cluster:
            found[number] = middle
    return found


@dataclass
class _Fitted:
    """A fit with what its unknowns are."""

    readings: list[_Reading]
    unknowns: list[tuple[PartId, str] | None]
    depths: list[float]
    columns: dict[float, int]
    half_widths: list[float]
    nominal: Fit
    late: Fit

    @property
    def sound(self) -> bool:
        """Whether every unknown is shown, and distinguished."""
        return bool(self.nominal.determined.all()) and self.nominal.condition <= WORST_CONDITION


def _solve(
    lens: CameraLens, fronts: list[tuple[Darkening, float, Front]], names: tuple[float, ...], *, shared: bool,
    known: Mapping[float, tuple[float, float]] | None = None,
) -> _Fitted:  # fmt: skip
    """Fit pupil depths and unknown half widths; which rim shows is looked at again as they move.

    Of what is known of the pupil's offset at an entry, its value and its deviation are one more equation each.
    """
    priors = known or {}
    columns = {name: 0 if shared else number for number, name in enumerate(names)}
    count = 1 if shared else len(names)
    offsets = np.zeros(count)
    wider: dict[tuple[PartId, str], float] = {}
    fitted: _Fitted | None = None
    for round_number in range(ROUNDS):
        readings = _readings(lens, fronts, [float(offsets[columns[group]]) for _, group, _ in fronts], wider)
        open_widths = list(dict.fromkeys(_width_of(r.rim) for r in readings if _open(r.rim)))
        matrix = np.zeros((len(readings) + len(priors), count + len(open_widths)))
        for row, reading in enumerate(readings):
            matrix[row, columns[reading.group]] = reading.slope
            if _open(reading.rim):
                matrix[row, count + open_widths.index(_width_of(reading.rim))] = 1.0
        for row, name in enumerate(priors, len(readings)):
            matrix[row, columns[name]] = 1.0
        sigma = np.array([reading.sigma_mm for reading in readings] + [off for _, off in priors.values()])
        held = [value - float(offsets[columns[name]]) for name, (value, _) in priors.items()]

        def wanted(late: bool, readings: list[_Reading] = readings, held: list[float] = held) -> Array:
            touch = [r.seen.touch_low if late else r.seen.touch for r in readings]
            return np.array([t * r.bundle_mm - r.gap_mm for t, r in zip(touch, readings, strict=True)] + held)

        nominal, late = (least_squares(matrix, wanted(is_late), sigma) for is_late in (False, True))
        middle = (nominal.values + late.values) / 2.0
        fitted = _Fitted(
            readings, [None] * count + list(open_widths), [float(v) for v in offsets], columns,
            [wider.get(width, 0.0) for width in open_widths], nominal, late,
        )  # fmt: skip
        if not fitted.sound or float(np.abs(middle).max()) < 1e-6:
            break
        # The last round's numbers are shown from where it began: that is kept beside them.
        if round_number == ROUNDS - 1:
            break
        offsets = offsets + middle[:count]
        for width, more in zip(open_widths, middle[count:], strict=True):
            wider[width] = wider.get(width, 0.0) + float(more)
    assert fitted is not None
    return fitted


def _readings(
    lens: CameraLens, fronts: Sequence[tuple[Darkening, float, Front]], offsets_mm: Sequence[float],
    wider: dict[tuple[PartId, str], float],
) -> list[_Reading]:  # fmt: skip
    """Return the equations with the pupil moved and rims widened so far; readings that share a front in one pass."""
    sharing: dict[int, list[int]] = defaultdict(list)
    for number, (_, _, front) in enumerate(fronts):
        sharing[id(front)].append(number)
    found: dict[int, _Reading] = {}
    for numbers in sharing.values():
        front = fronts[numbers[0]][2]
        focal = np.array([fronts[n][0].focal_mm for n in numbers])
        near = focal[:, None] * np.array([1.0, 1.0, 1.0 + STEP_SHARE])
        moved = np.array([offsets_mm[n] for n in numbers])[:, None] + np.array([0.0, STEP_MM, 0.0])
        rims = rims_over(front, near.ravel(), pupil_depths_mm(lens, near.ravel()) + moved.ravel())
        assert rims is not None
        more = np.array([wider.get(_width_of(placed), 0.0) for placed in front.placed])
        gaps = (rims.free * rims.radius_mm + more[None, :]).reshape(len(numbers), 3, -1)
        radii = rims.radius_mm.reshape(len(numbers), 3, -1)
        for at, number in enumerate(numbers):
            seen, group, _ = fronts[number]
            found[number] = _reading(seen, group, front, gaps[at], radii[at])
    return [found[number] for number in range(len(fronts))]


def _reading(seen: Darkening, group: float, front: Front, gaps_mm: Array, radii_mm: Array) -> _Reading:
    """Return the equation of one reading at the rim that shows.

    Args:
        seen: the reading.
        group: the entry of the lens's table it is about.
        front: its stack.
        gaps_mm: how far each rim is from the middle of the bundle as set, with the pupil a step deeper, and at a focal
            length a step longer, (3, A).
        radii_mm: the bundle's radius at each rim, (3, A).
    """
    focal, only = seen.focal_mm, seen.rims_meant(front)
    touch = (seen.touch + seen.touch_low) / 2.0
    left_mm = gaps_mm - touch * radii_mm
    short = left_mm[0]
    number = min(only, key=lambda n: short[n]) if only else int(short.argmin())
    slope = float((gaps_mm[1, number] - gaps_mm[0, number]) / STEP_MM)
    # How fast the rim's place moves with the focal length turns an unsure reading into an unsure rim.
    along = float((left_mm[2, number] - left_mm[0, number]) / (focal * STEP_SHARE))
    sigma = abs(along) * uniform_sigma(seen.off_mm) if front.range_mm[1] > front.range_mm[0] else 0.0
    if sigma <= 0.0:
        # Of a fixed lens it is the eye alone that may be off, a tenth of the bundle at the least.
        sigma = 0.1 * float(radii_mm[0, number])
    return _Reading(
        seen, group, front.placed[number], float(gaps_mm[0, number]), slope, float(radii_mm[0, number]),
        max(sigma, 1e-6),
    )  # fmt: skip


def _width_of(placed: PlacedAperture) -> tuple[PartId, str]:
    return placed.part.id, placed.path


def _open(placed: PlacedAperture) -> bool:
    """Whether nothing was entered or published how wide a rim is, or it was calibrated from what was seen."""
    use = placed.diameter.in_use
    return isinstance(use, Span) or placed.diameter.origin is Origin.ASSUMED or bool(use.seen)


def _told(lens: CameraLens, fit: _Fitted, names: tuple[float, ...], taken: Assumption) -> Iterator[Learnt]:
    by_column: dict[int, list[str]] = defaultdict(list)
    for reading in fit.readings:
        by_column[fit.columns[reading.group]].append(reading.seen.id)
        if _open(reading.rim):
            by_column[fit.unknowns.index(_width_of(reading.rim))].append(reading.seen.id)
    for name in names:
        column = fit.columns[name]
        seen = tuple(by_column[column])
        before = pupil_depth_at(lens, name)
        walk = tells_walk(lens, before)
        path, focal = entry_of(lens, name, walk=walk)
        base = -fit.depths[column] if walk else before.value + fit.depths[column]
        yield _one(fit, column, lens.id, path, focal, base, taken, seen, sign=-1.0 if walk else 1.0)
    for column, width in enumerate(fit.unknowns):
        if width is None:
            continue
        rim = next(reading.rim for reading in fit.readings if _width_of(reading.rim) == width)
        base = rim.diameter.value + 2.0 * fit.half_widths[column - len(set(fit.columns.values()))]
        yield _one(fit, column, *width, None, base, taken, tuple(by_column[column]), sign=2.0)


def tells_walk(lens: CameraLens, before: Quantity) -> bool:
    """Whether a reading says the pupil's walk: its place on the axis is measured and no one knows how far it walks."""
    use = before.in_use
    measured_by_hand = not isinstance(use, Span) and use.origin is Origin.MEASURED and not use.seen
    known = lens.pupil_walk_mm is not None or any(at.walk_mm is not None for at in lens.entrance_pupils)
    return measured_by_hand and not known


def entry_of(lens: CameraLens, focal_mm: float, *, walk: bool) -> tuple[str, float | None]:
    """Return the field that says a lens's pupil or its walk, and the entry of a zoom's table."""
    if not is_zoom(lens):
        return ("pupil_walk_mm" if walk else "entrance_pupil_depth_mm"), None
    return ("entrance_pupils.walk_mm" if walk else "entrance_pupils"), focal_mm


def _one(
    fit: _Fitted, column: int, part: PartId, path: str, focal: float | None, base: float, taken: Assumption,
    seen: tuple[str, ...], *, sign: float,
) -> Learnt:  # fmt: skip
    """Return one unknown as calibrated, or why it is not: its two ends are those of what an eye may call dark."""
    if not fit.nominal.determined[column] or fit.nominal.condition > WORST_CONDITION:
        told_apart = bool(fit.nominal.determined[column])
        why = Why.ILL_CONDITIONED if told_apart or len(seen) > 1 else Why.TOO_FEW
        values = {"condition": fit.nominal.condition}
        return Refused(part, path, why, Settles.OTHER_PART_SHOWS, seen, focal, values)
    ends = [base + sign * float(one.values[column]) for one in (fit.nominal, fit.late)]
    off = TWO_SIDED_95 * abs(sign) * float(max(fit.nominal.sigma[column], fit.late.sigma[column]))
    value = sum(ends) / 2.0
    if not LEAST_DEPTH_MM <= value <= MOST_DEPTH_MM * 2.0 or (sign == 2.0 and value <= 0.0):
        return Refused(part, path, Why.OUTSIDE, Settles.AGAIN, seen, focal, {"value": value})
    touch = abs(ends[1] - ends[0]) / 2.0
    return Found(part, path, value, min(ends) - off, max(ends) + off, "mm", seen, focal, taken, touch)
