"""The close-up figures with what their working needs."""

import math
from collections.abc import Iterator
from typing import Any

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Origin, weakest
from farrail.readouts.close_up.model import CloseUp, Point
from farrail.readouts.close_up.system import hiatus_of
from farrail.readouts.figure import Figure


def close_up_figures(close: CloseUp) -> Iterator[Figure]:
    """Yield the figures of a close-up train; none where it is not meant for it, or nothing comes to a focus."""
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
    values: dict[str, Any] = {"system": system, "now": now, "position": close.focus_position}
    yield Figure("closeup.magnification", now.magnification, origin, values)
    yield Figure("closeup.ratio", (now.magnification,), origin, values)
    for kind, side, field in zip(
        ("closeup.width_mm", "closeup.height_mm"), close.frame_mm, close.field_mm, strict=True
    ):
        yield Figure(kind, field, frame, {"side_mm": side, "magnification": now.magnification})
    if (pixel := close.pixel_um) is not None:
        yield Figure(
            "closeup.pixel_um", pixel, frame,
            {"pixel_um": pixel * now.magnification, "magnification": now.magnification},
        )  # fmt: skip
    if (share := close.crop_share) is not None:
        yield Figure(
            "closeup.crop_share", 100.0 * share, origin,
            {"bare": close.bare.magnification, "magnification": now.magnification},
        )  # fmt: skip


def _distance(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    origin = system.origin
    lens = close.layout.optic
    assert isinstance(lens, CameraLens)
    hiatus = hiatus_of(system, lens)
    planes = {
        "ahead_mm": system.stack.ahead_mm, "principal_mm": system.near.principal_at(close.focus_position),
        "hiatus_mm": hiatus.value,
        "behind_mm": close.behind_mm, "corner_mm": math.hypot(*close.frame_mm) / 2.0,
    }  # fmt: skip
    values = {**_focus(close, now, close.focus_position), **planes}
    yield Figure("closeup.working_distance_mm", now.distance_mm, origin, values)
    yield Figure(
        "closeup.subject_to_sensor_mm", close.subject_to_sensor_mm, weakest([origin, hiatus.origin]),
        {"distance_mm": now.distance_mm, "point": now, **planes},
    )  # fmt: skip
    for kind, point, position in (("closeup.near_mm", close.near, 1.0), ("closeup.far_mm", close.far, 0.0)):
        value = point.distance_mm if point.focused else None
        yield Figure(kind, value, origin, _focus(close, point, position))


def _focus(close: CloseUp, point: Point, position: float) -> dict[str, Any]:
    return {"system": close.system, "point": point, "position": position}


def _light(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    values = {"system": system, "now": now, "bare": close.bare}
    yield Figure("closeup.effective_f_number", close.effective_f_number, system.origin, values)
    yield Figure("closeup.stops_lost", close.stops_lost, system.origin, values)
    yield Figure("closeup.stops_against_bare", close.stops_against_bare, system.origin, values)


def _depth(close: CloseUp) -> Iterator[Figure]:
    system, depth, now = close.system, close.depth, close.now
    assert system is not None
    circle, circle_origin, basis = close.circle_mm
    if depth is None:
        return
    origin = weakest([system.origin, circle_origin])
    values = {
        "depth": depth, "circle_mm": circle, "circle_basis": basis, "now": now,
        "effective_f_number": close.effective_f_number,
    }  # fmt: skip
    yield Figure("closeup.depth_of_field_mm", depth.whole_mm, origin, values)
    yield Figure("closeup.depth_geometric_mm", depth.geometric_mm, origin, values)
    yield Figure("closeup.depth_diffraction_mm", depth.diffraction_mm, origin, values)
    yield Figure("closeup.diffraction_f_number", close.diffraction_f_number, origin, values)
    deep, sharpest = close.layout.train.conditions.subject_depth_mm, close.sharpest_f_number
    if sharpest is not None and deep is not None:
        yield Figure("closeup.sharpest_f_number", sharpest, origin, {"deep_mm": deep, "now": now})


def _frame_origin(close: CloseUp) -> Origin:
    camera = close.layout.camera
    return Origin.ASSUMED if camera is None else camera.sensor_width_mm.origin
