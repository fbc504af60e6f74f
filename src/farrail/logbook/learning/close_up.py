"""A lens's nearest focus and its focal length there, from a tape measure seen with and without tubes.

At its near stop a lens with e of extension images ``m = m0 + e/f_eff`` and fills the frame with ``W = frame/m``: linear
in m0 and 1/f_eff. Source: Newton's equation, docs/models.md.
"""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from farrail.logbook.kinds.near import CountedFrom, FieldWidth
from farrail.logbook.learning.model import (
    WORST_CONDITION,
    Evidence,
    Fit,
    Found,
    Learnt,
    Refused,
    Settles,
    Taken,
    Why,
    least_squares,
    uniform_sigma,
)
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.close_up.model import CloseUp


def learn_near_focus(evidence: Evidence, lens: CameraLens) -> Iterator[Learnt]:
    """Yield what widths seen at the near stop teach of a lens; through close-up lenses they teach nothing of it."""
    by_focal: dict[float, list[tuple[FieldWidth, CloseUp]]] = defaultdict(list)
    for seen in evidence.log:
        if not isinstance(seen, FieldWidth) or not seen.nearest or seen.state not in evidence.states:
            continue
        train = evidence.states[seen.state].train
        if train.optic != lens.id or train.optic_reversed:
            continue
        readout = evidence.readout_of(seen)
        close = readout.close_up
        system = close.system
        if system is None or system.stack.lenses or system.converter != 1.0:
            continue
        by_focal[round(readout.layout.first_order.own_focal_length.value, 1)].append((seen, close))
    for focal, readings in by_focal.items():
        yield from _at(lens, focal, readings)


def _at(lens: CameraLens, focal: float, readings: list[tuple[FieldWidth, CloseUp]]) -> Iterator[Learnt]:
    frames = np.array([close.frame_mm[0] for _, close in readings])
    widths = np.array([seen.width_mm for seen, _ in readings])
    drawn_out = np.array([close.system.longest_mm if close.system is not None else 0.0 for _, close in readings])
    m = frames / widths
    sigma = m * np.array([uniform_sigma(seen.off_mm) for seen, _ in readings]) / widths
    seen_by = tuple(seen.id for seen, _ in readings)
    zoom = lens.longest_focal_mm is not None
    at, taken = (focal, Taken.EACH_FOCAL) if zoom else (None, Taken.AS_IS)
    path = "near_points.magnification" if zoom else "nearest_magnification"
    if np.ptp(drawn_out) < 1e-6:
        # One extension alone tells m0 where it is none; with a tube it tells only the two together.
        if drawn_out[0] > 1e-6:
            yield Refused(lens.id, path, Why.TOO_FEW, Settles.OTHER_TUBE, seen_by, at)
            return
        fit = least_squares(np.ones((len(m), 1)), m, sigma)
        yield from _told(lens, fit, path, at, taken, seen_by)
        yield from _pair(lens, readings, at, taken, fit)
        return
    # Columns of one length: extension is told in focal lengths.
    matrix = np.stack([np.ones_like(m), drawn_out / focal], axis=1)
    fit = least_squares(matrix, m, sigma)
    if fit.condition > WORST_CONDITION:
        yield Refused(lens.id, path, Why.ILL_CONDITIONED, Settles.OTHER_TUBE, seen_by, at)
        return
    yield from _told(lens, fit, path, at, taken, seen_by)
    yield from _effective(lens, fit, focal, at, taken, seen_by)


def _told(
    lens: CameraLens, fit: Fit, path: str, at: float | None, taken: Taken, seen_by: tuple[str, ...]
) -> Iterator[Learnt]:
    value, off = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
    if not 0.001 <= value <= 20.0:
        yield Refused(lens.id, path, Why.OUTSIDE, Settles.AGAIN, seen_by, at, {"value": value})
        return
    yield Found(lens.id, path, value, max(value - off, 0.001), value + off, "×", seen_by, at, taken)


def _effective(
    lens: CameraLens, fit: Fit, focal: float, at: float | None, taken: Taken, seen_by: tuple[str, ...]
) -> Iterator[Learnt]:
    """Yield the nearest distance at which a lens of that f_eff focuses: f_eff (2 + m0 + 1/m0) + hiatus."""
    m0, slope = (float(v) for v in fit.values)
    off = TWO_SIDED_95 * float(fit.sigma[1])
    path = "near_points.nearest_mm" if at is not None else "nearest_mm"
    if slope - off <= 0.0 or m0 <= 0.001:
        yield Refused(lens.id, path, Why.ILL_CONDITIONED, Settles.OTHER_TUBE, seen_by, at)
        return
    hiatus = lens.hiatus_mm.value if lens.hiatus_mm is not None else 0.0

    def nearest(of_slope: float) -> float:
        return focal / of_slope * (2.0 + m0 + 1.0 / m0) + hiatus

    yield Found(lens.id, path, nearest(slope), nearest(slope + off), nearest(slope - off), "mm", seen_by, at, taken)


def _pair(
    lens: CameraLens, readings: list[tuple[FieldWidth, CloseUp]], at: float | None, taken: Taken, fit: Fit
) -> Iterator[Learnt]:
    """Yield the distance at which the ruler was seen, from the thread seat or, of a zoom, from the sensor."""
    told = [(seen, close) for seen, close in readings if seen.distance_mm is not None]
    if not told:
        return
    wanted = CountedFrom.SENSOR if at is not None else CountedFrom.SEAT
    found = np.array([_from(seen, lens, wanted) for seen, _ in told])
    sigma = np.array([uniform_sigma(seen.off_distance_mm) for seen, _ in told])
    mean = least_squares(np.ones((len(found), 1)), found, sigma)
    value, off = float(mean.values[0]), TWO_SIDED_95 * float(mean.sigma[0])
    path = "near_points.nearest_mm" if at is not None else "pair_distance_mm"
    seen_by = tuple(seen.id for seen, _ in told)
    if value - off <= 0.0:
        yield Refused(lens.id, path, Why.OUTSIDE, Settles.AGAIN, seen_by, at, {"value": value})
        return
    yield Found(lens.id, path, value, value - off, value + off, "mm", seen_by, at, taken)
    if at is None:
        frame = told[0][1].frame_mm[0]
        m, off_m = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
        yield Found(
            lens.id, "pair_width_mm", frame / m, frame / (m + off_m), frame / max(m - off_m, 1e-3), "mm", seen_by
        )
        yield Found(lens.id, "pair_frame_mm", frame, frame, frame, "mm", seen_by)


def _from(seen: FieldWidth, lens: CameraLens, wanted: CountedFrom) -> float:
    """Return a distance counted from the seat or from the sensor; without a tube or a close-up lens between."""
    assert seen.distance_mm is not None
    ahead = lens.barrel_length_mm + lens.flange_focal_distance_mm.value
    from_seat = seen.distance_mm - (ahead if seen.counted_from is CountedFrom.SENSOR else 0.0)
    return from_seat + (ahead if wanted is CountedFrom.SENSOR else 0.0)
