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
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.lens_defaults import hiatus_default
from farrail.readouts.close_up.model import CloseUp


def learn_near_focus(evidence: Evidence, lens: CameraLens) -> Iterator[Learnt]:
    """Yield what widths seen at the closest focus calibrate of a lens; close-up lenses rule that out."""
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
    at, taken = (focal, Assumption.EACH_FOCAL) if zoom else (None, Assumption.AS_IS)
    path = "near_points.magnification" if zoom else "nearest_magnification"
    if np.ptp(drawn_out) < 1e-6:
        # One extension alone says m0 where it is none; with a tube it says only the two together.
        if drawn_out[0] > 1e-6:
            yield Refused(lens.id, path, Why.TOO_FEW, Settles.OTHER_TUBE, seen_by, at)
            return
        fit = least_squares(np.ones((len(m), 1)), m, sigma)
        yield from _told(lens, fit, path, at, taken, seen_by)
        yield from _distances(lens, readings, at, taken, fit)
        return
    # Columns of one length: extension is shown in focal lengths.
    matrix = np.stack([np.ones_like(m), drawn_out / focal], axis=1)
    fit = least_squares(matrix, m, sigma)
    if fit.condition > WORST_CONDITION:
        yield Refused(lens.id, path, Why.ILL_CONDITIONED, Settles.OTHER_TUBE, seen_by, at)
        return
    yield from _told(lens, fit, path, at, taken, seen_by)
    yield from _effective(lens, fit, focal, at, taken, seen_by)
    # A distance measured without a tube is the closest focus itself.
    bare = [reading for reading, out in zip(readings, drawn_out, strict=True) if out < 1e-6]
    yield from _distances(lens, bare, at, taken, fit)


def _told(
    lens: CameraLens, fit: Fit, path: str, at: float | None, taken: Assumption, seen_by: tuple[str, ...]
) -> Iterator[Learnt]:
    value, off = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
    if not 0.001 <= value <= 20.0:
        yield Refused(lens.id, path, Why.OUTSIDE, Settles.AGAIN, seen_by, at, {"value": value})
        return
    yield Found(lens.id, path, value, max(value - off, 0.001), value + off, "×", seen_by, at, taken)


def _effective(
    lens: CameraLens, fit: Fit, focal: float, at: float | None, taken: Assumption, seen_by: tuple[str, ...]
) -> Iterator[Learnt]:
    """Yield the focal length at the closest focus, or the closest distance that follows: f_near (2 + m0 + 1/m0) + H.

    A zoom's table has no column for the focal length; there the distance carries what is not known of the hiatus H.
    """
    m0, slope = (float(v) for v in fit.values)
    off = TWO_SIDED_95 * float(fit.sigma[1])
    distance_path = "near_points.nearest_mm" if at is not None else "nearest_mm"
    if slope - off <= 0.0 or m0 <= 0.001:
        path = distance_path if at is not None or lens.hiatus_mm is not None else "near_focal_mm"
        yield Refused(lens.id, path, Why.ILL_CONDITIONED, Settles.OTHER_TUBE, seen_by, at)
        return
    near, low, high = (focal / of_slope for of_slope in (slope, slope + off, slope - off))
    if at is None and lens.hiatus_mm is None:
        yield Found(lens.id, "near_focal_mm", near, low, high, "mm", seen_by, at, taken)
        return
    usual = hiatus_default(focal, 0.0)
    ends = (usual.typical, usual.low, usual.high)
    if lens.hiatus_mm is not None:
        ends = (lens.hiatus_mm.value, lens.hiatus_mm.low, lens.hiatus_mm.high)
    whole = 2.0 + m0 + 1.0 / m0
    value, least, most = (one * whole + hiatus for one, hiatus in zip((near, low, high), ends, strict=True))
    yield Found(lens.id, distance_path, value, least, most, "mm", seen_by, at, taken)


def _distances(
    lens: CameraLens, readings: list[tuple[FieldWidth, CloseUp]], at: float | None, taken: Assumption, fit: Fit
) -> Iterator[Learnt]:
    """Yield the distance at which the ruler was seen, from where it was counted.

    A distance from the sensor is the closest focus as makers publish it. Only with a barrel that was measured is it
    brought to the thread seat, or one from the seat to the sensor.
    """
    told = [(seen, close) for seen, close in readings if seen.distance_mm is not None]
    if not told:
        return
    seen_by = tuple(seen.id for seen, _ in told)
    to_sensor = at is not None or (
        lens.barrel_mm is None and all(seen.counted_from is CountedFrom.SENSOR for seen, _ in told)
    )
    path = "near_points.nearest_mm" if at is not None else "nearest_mm" if to_sensor else "pair_distance_mm"
    counted = [_from(seen, lens, to_sensor=to_sensor) for seen, _ in told]
    found = [one for one in counted if one is not None]
    if len(found) < len(counted):
        yield Refused(lens.id, path, Why.TOO_FEW, Settles.BARREL, seen_by, at)
        return
    sigma = np.array([uniform_sigma(seen.off_distance_mm) for seen, _ in told])
    mean = least_squares(np.ones((len(found), 1)), np.array(found), sigma)
    value, off = float(mean.values[0]), TWO_SIDED_95 * float(mean.sigma[0])
    if value - off <= 0.0:
        yield Refused(lens.id, path, Why.OUTSIDE, Settles.AGAIN, seen_by, at, {"value": value})
        return
    yield Found(lens.id, path, value, value - off, value + off, "mm", seen_by, at, taken)
    if not to_sensor:
        frame = told[0][1].frame_mm[0]
        m, off_m = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
        yield Found(
            lens.id, "pair_width_mm", frame / m, frame / (m + off_m), frame / max(m - off_m, 1e-3), "mm", seen_by
        )
        yield Found(lens.id, "pair_frame_mm", frame, frame, frame, "mm", seen_by)


def _from(seen: FieldWidth, lens: CameraLens, *, to_sensor: bool) -> float | None:
    """Return a distance counted from the sensor or from the seat; None if that needs a barrel that is not entered."""
    assert seen.distance_mm is not None
    if (seen.counted_from is CountedFrom.SENSOR) == to_sensor:
        return seen.distance_mm
    if lens.barrel_mm is None:
        return None
    ahead = lens.barrel_mm.value + lens.flange_focal_distance_mm.value
    return seen.distance_mm + (ahead if to_sensor else -ahead)
