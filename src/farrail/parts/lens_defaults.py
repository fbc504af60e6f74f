"""Intervals and typical values for empty fields of a lens; common practice, from memory."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Protocol, TypeGuard

from farrail.parts.not_entered import Default, Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, weakest

# A lens is wide below, and long above, this many times the frame's diagonal.
WIDE_DIAGONALS, LONG_DIAGONALS = 0.8, 3.0
# Between its principal planes.
LEAST_HIATUS_MM, MOST_HIATUS_MM, WIDE_HIATUS_MM = -30.0, 110.0, 50.0
# Focal length at the closest focus over focal length at infinity: greatest, usual and least.
MOST_NEAR_FOCAL, USUAL_NEAR_FOCAL, LEAST_NEAR_FOCAL = 1.02, 0.6, 0.1
# How much slower than N (1 + m/p) a lens can be at its closest focus, because its entrance pupil shrinks.
MOST_CONE = 1.25
# Magnification at the closest focus if neither it nor the distance is entered.
LEAST_MAGNIFICATION, USUAL_MAGNIFICATION, MOST_MAGNIFICATION = 0.05, 0.12, 0.35
# At its closest focus a lens's front principal plane is typically no deeper than this share of the way to the subject.
MOST_PRINCIPAL = 0.7
# Focal lengths closer than this share are the same.
SAME_FOCAL = 0.01
# Length of the barrel, from the filter thread to the flange, in focal lengths.
SHORTEST_BARREL, LONGEST_BARREL = 0.5, 2.0


class LensRecord(Protocol):
    """What the defaults read of a camera lens, by the names of its fields."""

    @property
    def pupil_ratio(self) -> Quantity | None: ...  # noqa: D102
    @property
    def hiatus_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def barrel_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def barrel_length_mm(self) -> float: ...  # noqa: D102
    @property
    def flange_focal_distance_mm(self) -> Quantity: ...  # noqa: D102
    @property
    def focuses_itself(self) -> bool: ...  # noqa: D102
    @property
    def nearest_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def longest_focal_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def nearest_magnification(self) -> Quantity | None: ...  # noqa: D102
    @property
    def near_points(self) -> Sequence[Any]: ...  # noqa: D102
    @property
    def near_focal_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def near_f_number(self) -> Quantity | None: ...  # noqa: D102
    @property
    def pair_distance_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def pair_width_mm(self) -> Quantity | None: ...  # noqa: D102
    @property
    def pair_frame_mm(self) -> Quantity | None: ...  # noqa: D102


class Basis(StrEnum):
    """What a lens's closest focus is known from."""

    RULER = "ruler"
    TABLE = "table"
    PUBLISHED = "published"
    DISTANCE = "distance"
    USUAL = "usual"
    REVERSED = "reversed"
    NONE_OF_ITS_OWN = "none_of_its_own"


@dataclass(frozen=True)
class NearPoint:
    """A lens's closest focus at one focal length, as far as it was entered.

    Attributes:
        distance_mm: subject to sensor; None where not entered.
        magnification: there; None where not entered.
        origin: the weakest input.
        basis: what it is known from.
        most: of a zoom, its greatest magnification, entered as one number for all focal lengths; else None.
        share: focal length in units of the longest, which that number holds for.
    """

    distance_mm: float | None
    magnification: float | None
    origin: Origin
    basis: Basis
    most: float | None = None
    share: float = 1.0


def is_known(quantity: Quantity | None) -> TypeGuard[Quantity]:
    """Whether a value is published or measured, not assumed and not a trial value for an empty field.

    Args:
        quantity: as entered, or as a range search tries it.
    """
    return quantity is not None and quantity.origin is not Origin.ASSUMED


def pupil_ratio_default(focal_mm: float, diagonal_mm: float) -> Default:
    """Return the pupil magnification of a camera lens: telephoto to retrofocus."""
    if focal_mm < WIDE_DIAGONALS * diagonal_mm:
        return Default("pupil_ratio", 0.8, 3.0, 1.6)
    long = diagonal_mm > 0.0 and focal_mm > LONG_DIAGONALS * diagonal_mm
    return Default("pupil_ratio", 0.4, 2.5, 0.7 if long else 1.0)


def pupil_ratio_of(lens: LensRecord, focal_mm: float, diagonal_mm: float) -> float:
    """Return a lens's pupil magnification, the typical one where none is entered."""
    if lens.pupil_ratio is not None:
        return lens.pupil_ratio.value
    return pupil_ratio_default(focal_mm, diagonal_mm).typical


def hiatus_default(focal_mm: float, diagonal_mm: float) -> Default:
    """Return the distance between a lens's principal planes."""
    typical = WIDE_HIATUS_MM if focal_mm < WIDE_DIAGONALS * diagonal_mm else 0.0
    return Default("hiatus_mm", LEAST_HIATUS_MM, MOST_HIATUS_MM, typical)


def barrel_default(lens: LensRecord, focal_mm: float, typical_mm: float) -> Default:
    """Return the length of a lens's barrel; the one it is drawn with is within it and never taken as a fact."""
    low, high = SHORTEST_BARREL * focal_mm, LONGEST_BARREL * focal_mm
    within = (lens.barrel_length_mm, max(typical_mm, 0.0))
    return Default("barrel_mm", min(low, *within), max(high, *within), max(typical_mm, 0.0))


def barrel_of(lens: LensRecord) -> Quantity:
    """Return a lens's barrel from filter thread to flange, the drawn length where none is entered."""
    return Quantity.of(lens.barrel_length_mm, Origin.ASSUMED) if lens.barrel_mm is None else lens.barrel_mm


def near_point_of(lens: LensRecord, focal_mm: float) -> NearPoint:
    """Return a lens's closest focus as entered; of a zoom's table in between, linear in 1/f."""
    table = sorted(lens.near_points, key=lambda at: at.focal_mm)
    if table:
        return _in_table(table, focal_mm)
    distance, own = lens.nearest_mm, lens.nearest_magnification
    origin = weakest([q.origin for q in (distance, own) if q is not None])
    value = None if distance is None else distance.value
    longest = focal_mm if lens.longest_focal_mm is None else lens.longest_focal_mm.value
    shorter = focal_mm < (1.0 - SAME_FOCAL) * longest
    if own is not None and not (shorter and is_known(own)):
        return NearPoint(value, own.value, origin, Basis.PUBLISHED)
    # One number for a zoom is its greatest magnification, at the longest focal length; at shorter ones it is unknown.
    most = None if own is None else own.value
    if value is not None:
        return NearPoint(value, None, origin, Basis.DISTANCE, most, focal_mm / longest)
    return NearPoint(None, None, Origin.ASSUMED, Basis.USUAL, most, focal_mm / longest)


def _in_table(table: "Sequence[Any]", focal_mm: float) -> NearPoint:
    low = max((at for at in table if at.focal_mm <= focal_mm), key=lambda at: at.focal_mm, default=table[0])
    high = min((at for at in table if at.focal_mm >= focal_mm), key=lambda at: at.focal_mm, default=table[-1])
    span = 1.0 / low.focal_mm - 1.0 / high.focal_mm
    share = (1.0 / low.focal_mm - 1.0 / focal_mm) / span if abs(span) > 1e-12 else 0.0

    def between(one: Quantity, other: Quantity) -> float:
        return one.value + share * (other.value - one.value)

    origin = weakest(q.origin for at in (low, high) for q in (at.nearest_mm, at.magnification))
    return NearPoint(
        between(low.nearest_mm, high.nearest_mm), between(low.magnification, high.magnification), origin, Basis.TABLE
    )


def magnification_at(between_planes_mm: float, focal_mm: float) -> float | None:
    """Return m with subject and sensor so far apart: f (2 + m + 1/m), without the hiatus; None where too close."""
    half = between_planes_mm / focal_mm / 2.0 - 1.0
    return None if half < 1.0 else half - (half * half - 1.0) ** 0.5


def near_magnification_default(point: NearPoint, focal_mm: float, diagonal_mm: float) -> Default:
    """Return the magnification at the closest focus where it was not entered.

    With the distance D it solves f_near (2 + m + 1/m) = D − H over all f_near and H that can be. A zoom magnifies no
    more than its greatest magnification; without D typically in proportion to its focal length.
    """
    path, distance_mm = "nearest_magnification", point.distance_mm
    most = MOST_MAGNIFICATION if point.most is None else point.most
    if distance_mm is None:
        typical = USUAL_MAGNIFICATION if point.most is None else most * point.share
        return Default(path, min(LEAST_MAGNIFICATION, typical), max(most, typical), typical)
    hiatus = hiatus_default(focal_mm, diagonal_mm)
    longest = MOST_NEAR_FOCAL * focal_mm
    low = magnification_at(distance_mm - hiatus.low, USUAL_NEAR_FOCAL * focal_mm) or 1.0
    high = magnification_at(distance_mm - hiatus.high, longest) or 1.0
    found = magnification_at(distance_mm - hiatus.typical, focal_mm) or magnification_at(distance_mm, focal_mm)
    typical = high if found is None else found
    if point.most is not None:
        high, typical = min(high, most), min(typical, most)
    return Default(path, min(low, high, typical), max(high, typical), typical)


def near_focal_mm(distance_mm: float, hiatus_mm: float, magnification: float, focal_mm: float) -> float:
    """Return the focal length at the closest focus: (D − H)/(2 + m + 1/m), within what a lens can have."""
    found = (distance_mm - hiatus_mm) / (2.0 + magnification + 1.0 / magnification)
    return min(max(found, LEAST_NEAR_FOCAL * focal_mm), MOST_NEAR_FOCAL * focal_mm)


def near_f_number_default(lens: LensRecord, focal_mm: float, diagonal_mm: float, own_f_number: float) -> Default:
    """Return the effective f-number wide open at the closest focus: N' (1 + m/p).

    N' is between N·f_near/f, where the entrance pupil keeps its size, and a little above N, where it shrinks more than
    the focal length.
    """
    point, ratio = near_point_of(lens, focal_mm), pupil_ratio_default(focal_mm, diagonal_mm)
    least, most = point.magnification, point.magnification
    if point.magnification is None:
        unknown = near_magnification_default(point, focal_mm, diagonal_mm)
        least, most, m = unknown.low, unknown.high, unknown.typical
    else:
        m = point.magnification
    shortest = USUAL_NEAR_FOCAL
    if point.distance_mm is not None:
        shortest = near_focal_mm(point.distance_mm, MOST_HIATUS_MM, m, focal_mm) / focal_mm
    assert least is not None
    assert most is not None
    low = own_f_number * min(shortest, 1.0) * (1.0 + least / ratio.high)
    return Default(
        "near_f_number",
        low,
        MOST_CONE * own_f_number * (1.0 + most / ratio.low),
        own_f_number * (1.0 + m / ratio.typical),
    )


def not_entered(lens: LensRecord, use: Use) -> Iterator[Default]:
    """Yield the defaults of a lens that close-up rests on."""
    focal, diagonal = use.focal_mm, use.diagonal_mm
    unknown_ratio = not is_known(lens.pupil_ratio)
    if lens.pupil_ratio is None:
        yield pupil_ratio_default(focal, diagonal)
    if not lens.focuses_itself or use.reversed:
        if lens.barrel_mm is None:
            yield barrel_default(lens, focal, lens.barrel_length_mm)
        return
    point = near_point_of(lens, focal)
    ruler = lens.pair_distance_mm is not None and lens.pair_width_mm is not None and lens.pair_frame_mm is not None
    if point.magnification is None and not ruler:
        yield near_magnification_default(point, focal, diagonal)
    if lens.near_focal_mm is None:
        if point.distance_mm is None:
            yield Default("near_focal_mm", USUAL_NEAR_FOCAL * focal, MOST_NEAR_FOCAL * focal, focal)
        elif lens.hiatus_mm is None:
            yield hiatus_default(focal, diagonal)
    if unknown_ratio and lens.near_f_number is None:
        yield near_f_number_default(lens, focal, diagonal, use.f_number)
    if lens.barrel_mm is not None:
        return
    if point.distance_mm is None:
        yield barrel_default(lens, focal, lens.barrel_length_mm)
    elif unknown_ratio and not ruler:
        yield barrel_default(lens, focal, _typical_barrel_mm(lens, point.distance_mm, use))


def typical_near_principal_mm(principal_mm: float, near_focal_mm: float, magnification: float) -> float:
    """Return where the front principal plane typically is at the closest focus: well ahead of the subject.

    Args:
        principal_mm: behind the thread seat, from the entrance pupil and the typical pupil magnification.
        near_focal_mm: focal length at the closest focus.
        magnification: there.
    """
    return min(principal_mm, MOST_PRINCIPAL * near_focal_mm * (1.0 + 1.0 / magnification))


def _typical_barrel_mm(lens: LensRecord, distance_mm: float, use: Use) -> float:
    """Return the barrel that leaves the working distance of the typical pupil magnification at the closest focus."""
    focal, diagonal = use.focal_mm, use.diagonal_mm
    point = near_point_of(lens, focal)
    m = point.magnification or near_magnification_default(point, focal, diagonal).typical
    hiatus = hiatus_default(focal, diagonal).typical if lens.hiatus_mm is None else lens.hiatus_mm.value
    near = near_focal_mm(distance_mm, hiatus, m, focal) if lens.near_focal_mm is None else lens.near_focal_mm.value
    principal = use.pupil_depth_mm + focal * (1.0 - 1.0 / pupil_ratio_default(focal, diagonal).typical)
    ahead = near * (1.0 + 1.0 / m) - typical_near_principal_mm(principal, near, m)
    return distance_mm - lens.flange_focal_distance_mm.value - ahead
