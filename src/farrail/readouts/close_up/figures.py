"""The close-up figures with their working."""

import math
from collections.abc import Iterator

from farrail.optics.close_up import BELLOWS_SOURCE, CONJUGATES_SOURCE
from farrail.optics.focus_stack import DEPTH_SOURCE
from farrail.optics.close_up_systems import SOURCE
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Origin, weakest
from farrail.readouts.close_up.model import CloseUp, Point
from farrail.readouts.figure import Figure, Working
from farrail.units import mm_to_micrometres

FIELD_SOURCE = "field = sensor / magnification"
BASELINES = "against the lens at infinity"
SHARPEST_SOURCE = "blur m²T/(2N_e) and Airy disc 2.44λN_e, squares added, least"
PIXEL_SOURCE = "pixel / magnification"


def ratio_words(magnification: float) -> str:
    """Return a magnification as people say it: 1:2.4, 2.5:1."""
    if not magnification > 0.0:
        return "infinity"
    return f"1:{1.0 / magnification:.3g}" if magnification < 1.0 else f"{magnification:.3g}:1"


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
    near = system.near
    own = near.magnification * close.focus_position
    extended = f"{system.longest_mm:.2f}/{near.focal_at(close.focus_position):.2f}"
    parts = f"m0 {own:.3f} ({near.basis}) + {extended} = {now.of_lens:.4f}"
    if system.turned:
        parts = f"v/f − 1 = {system.longest_mm + near.far_focal_mm:.2f}/{near.far_focal_mm:g} − 1"
    if system.stack.lenses:
        parts += f"; close-up lenses of {system.stack.dioptres:.3f} D: {now.magnification / system.converter:.4f}"
    if system.converter != 1.0:
        parts += f"; × {system.converter:.3f}"
    yield Figure(
        "closeup.magnification", "magnification", now.magnification, "×",
        Working("m0 + ext/f, then the close-up lenses' rays", parts, SOURCE), origin,
    )  # fmt: skip
    yield Figure(
        "closeup.ratio", "as a scale", ratio_words(now.magnification), "",
        Working("1 : 1/m", f"m {now.magnification:.4f}", CONJUGATES_SOURCE), origin,
    )  # fmt: skip
    for key, word, side, field in zip(
        ("width", "height"), ("wide", "high"), close.frame_mm, close.field_mm, strict=True
    ):
        yield Figure(
            f"closeup.{key}_mm", f"fills the frame, {word}", field, "mm",
            Working("sensor side / m", f"{side:g}/{now.magnification:.4f} = {field:.2f} mm", FIELD_SOURCE), frame,
        )  # fmt: skip
    if (pixel := close.pixel_um) is not None:
        yield Figure(
            "closeup.pixel_um", "one pixel on the subject", pixel, "µm",
            Working("pixel / m", f"{pixel * now.magnification:.2f}/{now.magnification:.4f}", PIXEL_SOURCE), frame,
        )  # fmt: skip
    if (share := close.crop_share) is not None:
        yield Figure(
            "closeup.crop_share", "pixels left by cropping the bare lens instead", 100.0 * share, "%",
            Working("(m of the lens alone at its nearest / m)²",
                    f"({close.bare.magnification:.3f}/{now.magnification:.3f})²", FIELD_SOURCE), origin,
        )  # fmt: skip


def _distance(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    origin, ahead = system.origin, system.stack.ahead_mm
    yield Figure(
        "closeup.working_distance_mm", "working distance", now.distance_mm, "mm",
        Working("from the foremost glass to the subject", _distance_words(close, now, close.focus_position), SOURCE), origin,
    )  # fmt: skip
    yield Figure(
        "closeup.subject_to_sensor_mm", "subject to sensor", close.subject_to_sensor_mm, "mm",
        Working("working distance + glass ahead + s + hiatus + f(1 + m)",
                f"{now.distance_mm:.2f} + {ahead:.2f} + {system.near.principal_mm:.2f} + "
                f"{_hiatus(close):.2f} + {close.behind_mm:.2f} = {close.subject_to_sensor_mm:.2f} mm",
                CONJUGATES_SOURCE), origin,
    )  # fmt: skip
    for key, word, point, focus_position in (("near", "nearest", close.near, 1.0), ("far", "farthest", close.far, 0.0)):
        yield Figure(
            f"closeup.{key}_mm", f"{word} working distance in focus",
            point.distance_mm if point.focused else "none", "mm" if point.focused else "",
            Working(f"the lens at {'its nearest' if key == 'near' else 'infinity'}",
                    _distance_words(close, point, focus_position), SOURCE), origin,
        )  # fmt: skip


def _light(close: CloseUp) -> Iterator[Figure]:
    system, now = close.system, close.now
    assert system is not None
    origin, n, p = system.origin, system.f_number, system.near.pupil_ratio
    formula = "N(1/p + m)" if system.turned else "N(1 + m/p)"
    extra = f", × {system.converter:.3f}" if system.converter != 1.0 else ""
    if system.narrower > 1.0:
        extra += f", × {system.narrower:.3f} by the coupled lens's opening"
    yield Figure(
        "closeup.effective_f_number", "effective f-number", close.effective_f_number, "",
        Working(formula, f"N {n:.3g}, m {now.of_lens:.4f} of lens and extension, p {p:g}{extra}: "
                f"{close.effective_f_number:.4f}", BELLOWS_SOURCE), origin,
    )  # fmt: skip
    yield Figure(
        "closeup.stops_lost", f"light lost {BASELINES}", close.stops_lost, "stops",
        Working("2·log2(N_e/N)", f"2·log2({now.darker:.4f}) = {close.stops_lost:.3f}", BELLOWS_SOURCE), origin,
    )  # fmt: skip
    bare = close.bare
    yield Figure(
        "closeup.stops_against_bare", "… against the lens alone at its nearest", close.stops_against_bare, "stops",
        Working("2·log2 of both effective f-numbers", f"2·log2({now.darker:.4f}/{bare.darker:.4f}), the lens alone "
                f"at m {bare.of_lens:.3f}", BELLOWS_SOURCE), origin,
    )  # fmt: skip


def _depth(close: CloseUp) -> Iterator[Figure]:
    system, depth, now = close.system, close.depth, close.now
    assert system is not None
    circle, circle_origin, circle_words = close.circle_mm
    if depth is None:
        return
    origin = weakest([system.origin, circle_origin])
    numbers = (
        f"2·{close.effective_f_number:.2f}·{circle:.4f}/{now.magnification:.3f}² = {depth.geometric_mm:.4f}, "
        f"and {depth.diffraction_mm:.4f} by diffraction; c {circle_words}"
    )
    for key, word, value in (
        ("depth_of_field_mm", "depth of field, both sides", depth.whole_mm),
        ("depth_geometric_mm", "… by blur", depth.geometric_mm),
        ("depth_diffraction_mm", "… by diffraction", depth.diffraction_mm),
    ):
        yield Figure(
            f"closeup.{key}", word, value, "mm", Working("2N_e·c/m² + 4λN_e²/m²", numbers, DEPTH_SOURCE), origin
        )
    yield Figure(
        "closeup.diffraction_f_number", "diffraction shows beyond f/", close.diffraction_f_number, "",
        Working("2.44 λ N_e = 2c", f"c {mm_to_micrometres(circle):.2f} µm, {circle_words}; N = N_e/{now.darker:.3f}",
                "first dark ring of the Airy disc"), origin,
    )  # fmt: skip
    deep, sharpest = close.layout.train.conditions.subject_depth_mm, close.sharpest_f_number
    if sharpest is not None and deep is not None:
        yield Figure(
            "closeup.sharpest_f_number", f"sharpest in one frame {deep:g} mm deep, f/", sharpest, "",
            Working("m √(T/(4.88 λ)) / (N_e/N)", f"{now.magnification:.3f}·√({deep:g}/0.00268)/{now.darker:.3f}",
                    SHARPEST_SOURCE), origin,
        )  # fmt: skip


def _distance_words(close: CloseUp, point: Point, focus_position: float) -> str:
    system = close.system
    assert system is not None
    if not point.focused:
        return "nothing comes to a focus"
    stack, s, focal = system.stack, system.near.principal_mm, system.near.focal_at(focus_position)
    if math.isinf(point.distance_mm):
        return "infinity"
    if not stack.lenses:
        return f"f(1 + 1/m) − s = {focal:.2f}·(1 + 1/{point.of_lens:.4f}) − {s:.2f} = {point.distance_mm:.2f} mm"
    a, b, c, d = stack.matrix
    q = point.of_lens * (focal - s - stack.first_mm) + focal
    powers = ", ".join(f"{power:g} D" for power, _ in stack.lenses)
    return (
        f"(qD − mB)/(mA − qC) − front, m {point.of_lens:.4f}, q = m(f − s − z) + f = {q:.2f}, {powers} with A {a:.4f}, "
        f"B {b:.3f}, C {c:.6f}, D {d:.4f}, front {stack.front_mm:.2f}: {point.distance_mm:.2f} mm"
    ).replace("-", "−")


def _hiatus(close: CloseUp) -> float:
    lens = close.layout.optic
    return lens.hiatus_mm.value if isinstance(lens, CameraLens) and lens.hiatus_mm is not None else 0.0


def _frame_origin(close: CloseUp) -> Origin:
    camera = close.layout.camera
    return Origin.ASSUMED if camera is None else camera.sensor_width_mm.origin
