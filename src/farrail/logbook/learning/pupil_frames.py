"""What photos of an even wall behind a front stack say of a lens's entrance pupil, with what darkened corners say."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from farrail.logbook.kinds.front import PupilInFrame
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused, Settles, Why, least_squares
from farrail.logbook.learning.pupil import SAME_FOCAL, entry_of, groups_of, tells_walk
from farrail.optics.tolerances import TWO_SIDED_95
from farrail.parts.kinds.lenses import CameraLens
from farrail.train.zoom_tables import pupil_depth_at

# No interval is narrower than what a front stack's own lengths are shown to.
LEAST_OFF_MM = 0.1


def learn_pupils_of_frames(evidence: Evidence, lens: CameraLens) -> Iterator[Learnt]:
    """Yield the depth of a lens's entrance pupil by frames, one for each focal length of a zoom.

    Args:
        evidence: all that was seen.
        lens: the lens, as it is known now.
    """
    mine = [
        seen for seen in evidence.log
        if isinstance(seen, PupilInFrame) and seen.state in evidence.states
        and evidence.states[seen.state].train.optic == lens.id
        and not evidence.states[seen.state].train.optic_reversed
    ]  # fmt: skip
    if not mine:
        return
    focal = [_set_to(evidence, seen, lens) for seen in mine]
    by_name: dict[float, list[PupilInFrame]] = defaultdict(list)
    for seen, name in zip(mine, groups_of(lens, focal), strict=True):
        by_name[name].append(seen)
    for name, readings in sorted(by_name.items()):
        path, entry = entry_of(lens, name, walk=False)
        seen_by = tuple(one.id for one in readings)
        if tells_walk(lens, pupil_depth_at(lens, name)):
            # Its place on the axis is measured by hand: a frame's corners say the walk, and not apart from it.
            yield Refused(lens.id, path, Why.ILL_CONDITIONED, Settles.NO_PARALLAX, seen_by, entry)
            continue
        depths = np.array([one.depth_mm for one in readings])
        sigma = np.array([max(one.off_mm, LEAST_OFF_MM) / TWO_SIDED_95 for one in readings])
        fit = least_squares(np.ones((len(readings), 1)), depths, sigma)
        value, off = float(fit.values[0]), TWO_SIDED_95 * float(fit.sigma[0])
        yield Found(lens.id, path, value, value - off, value + off, "mm", seen_by, entry)


def _set_to(evidence: Evidence, seen: PupilInFrame, lens: CameraLens) -> float:
    if seen.focal_mm is not None:
        return seen.focal_mm
    return evidence.states[seen.state].train.conditions.focal_mm or lens.focal_length_mm.value


def joined(by_eye: Iterable[Learnt], by_frames: Iterable[Learnt]) -> Iterator[Learnt]:
    """Yield both, each value once: where both say one they are weighed, and refused where they contradict.

    Args:
        by_eye: what darkened corners calibrate of a lens.
        by_frames: what frames calibrate of it.
    """
    left = list(by_frames)
    for one in by_eye:
        other = next((two for two in left if _alike(one, two)), None)
        if other is None:
            yield one
            continue
        left.remove(other)
        yield _weighed(one, other)
    yield from left


def _alike(one: Learnt, two: Learnt) -> bool:
    if one.path != two.path:
        return False
    if one.focal_mm is None or two.focal_mm is None:
        return one.focal_mm == two.focal_mm
    return abs(one.focal_mm - two.focal_mm) <= SAME_FOCAL * two.focal_mm


def _weighed(one: Learnt, two: Learnt) -> Learnt:
    if not isinstance(one, Found):
        return two
    if not isinstance(two, Found):
        return one
    seen = (*one.seen, *(name for name in two.seen if name not in one.seen))
    if abs(one.value - two.value) > one.off + two.off:
        values = {"value": one.value, "other": two.value}
        return Refused(one.part, one.path, Why.CONTRADICTORY, Settles.AGAIN, seen, two.focal_mm, values)
    first, second = one.off**-2, two.off**-2
    value, off = (one.value * first + two.value * second) / (first + second), (first + second) ** -0.5
    return replace(two, value=value, low=value - off, high=value + off, seen=seen, taken=one.taken)
