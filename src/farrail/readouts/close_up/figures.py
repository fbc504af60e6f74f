"""The close-up figures with what their working needs."""

import math
from collections.abc import Iterator

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.readouts.close_up.figure_texts import (
    CropShare,
    DepthByBlur,
    DepthByDiffraction,
    DiffractionFNumber,
    EffectiveFNumber,
    FarthestDistance,
    Focus,
    FrameHeight,
    FrameWidth,
    Magnification,
    NearestDistance,
    PixelOnSubject,
    Planes,
    Scale,
    SharpestFNumber,
    StopsAgainstBare,
    StopsLost,
    SubjectToSensor,
    WholeDepth,
    WorkingDistance,
)
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.close_up.system import hiatus_of
from farrail.readouts.figure import Figure


def close_up_figures(close: CloseUp) -> Iterator[Figure]:
    """Yield the figures of a close-up train; none where it is not for it, or nothing comes to a focus."""
    if not close.active or not close.now.focused or not close.now.magnification > 0.0:
        return
    yield from _size(close)
    yield from _distance(close)
    yield from _light(close)
    yield from _depth(close)


def _size(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    origin, frame = system.origin, weakest([system.origin, _frame_origin(close)])
    yield Figure(Magnification(system=system, now=now, position=close.focus_position), now.magnification, origin)
    yield Figure(Scale(now.magnification), (now.magnification,), origin)
    for text, side, field in zip((FrameWidth, FrameHeight), close.frame_mm, close.field_mm, strict=True):
        yield Figure(text(side, now.magnification), field, frame)
    if (pixel := close.pixel_um) is not None:
        yield Figure(
            PixelOnSubject(pixel_um=pixel * now.magnification, magnification=now.magnification), pixel, frame,
        )  # fmt: skip
    if (share := close.crop_share) is not None:
        yield Figure(
            CropShare(bare=close.bare.magnification, magnification=now.magnification), 100.0 * share, origin,
        )  # fmt: skip


def _distance(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    origin = system.origin
    lens = close.layout.optic
    assert isinstance(lens, CameraLens)
    hiatus = hiatus_of(system, lens)
    planes = Planes(
        system.stack.ahead_mm, system.near.principal_at(close.focus_position), hiatus.value, close.behind_mm,
        math.hypot(*close.frame_mm) / 2.0,
    )  # fmt: skip
    here = WorkingDistance(Focus(system, now, close.focus_position), planes)
    yield Figure(here, now.distance_mm, origin)
    yield Figure(SubjectToSensor(now, planes), close.subject_to_sensor_mm, weakest([origin, hiatus.origin]))
    for text, point, position in ((NearestDistance, close.near, 1.0), (FarthestDistance, close.far, 0.0)):
        value = point.distance_mm if point.focused else None
        yield Figure(text(Focus(system, point, position)), value, origin)


def _light(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    yield Figure(EffectiveFNumber(system=system, now=now), close.effective_f_number, system.origin)
    yield Figure(StopsLost(now=now), close.stops_lost, system.origin)
    yield Figure(StopsAgainstBare(now=now, bare=close.bare), close.stops_against_bare, system.origin)


def _depth(close: CloseUp) -> Iterator[Figure]:
    system, depth, now = close.system, close.depth, close.now
    assert system is not None
    circle, circle_origin, basis = close.circle_mm
    if depth is None:
        return
    origin = weakest([system.origin, circle_origin])
    both = depth, circle, basis, now, close.effective_f_number
    yield Figure(WholeDepth(*both), depth.whole_mm, origin)
    yield Figure(DepthByBlur(*both), depth.geometric_mm, origin)
    yield Figure(DepthByDiffraction(*both), depth.diffraction_mm, origin)
    yield Figure(DiffractionFNumber(circle_mm=circle, circle_basis=basis, now=now), close.diffraction_f_number, origin)
    deep, sharpest = close.layout.train.conditions.subject_depth_mm, close.sharpest_f_number
    if sharpest is not None and deep is not None:
        yield Figure(SharpestFNumber(deep_mm=deep, now=now), sharpest, origin)


def _frame_origin(close: CloseUp) -> Origin:
    camera = close.layout.camera
    return Origin.ASSUMED if camera is None else camera.sensor_width_mm.origin
