"""The chord engine against a vectorised polygon clipper on the same work, in the same run."""

import time
from typing import Any

import numpy as np
import shapely

from farrail.optics.clipping import FINE_CHORDS, Array, open_fraction

COLUMNS, ROWS, APERTURES = 96, 64, 12
# Polygons must be fine against the pupil for the yardstick itself to be right to 1e-4.
QUARTER_SEGMENTS = 64


def _work() -> tuple[Array, Array, Array]:
    """A frame map: shifts grow with the distance from the axis; decentred a little, so that nothing is centred."""
    rng = np.random.default_rng(72)
    x, y = np.meshgrid(np.linspace(-1, 1, COLUMNS), np.linspace(-0.67, 0.67, ROWS))
    field = np.stack([x.ravel(), y.ravel()], axis=1)
    lever = rng.uniform(0.1, 0.5, APERTURES)
    centre = field[:, None, :] * lever[None, :, None] + rng.normal(0.0, 0.02, (APERTURES, 2))
    radius = rng.uniform(1.0, 1.15, APERTURES)
    return centre[:, :, 0], centre[:, :, 1], radius


def _polygons(x: Array, y: Array, radius: Array) -> Array:
    """The same map by clipping polygons, all points at once for each aperture."""
    pupil = shapely.Point(0, 0).buffer(1.0, quad_segs=QUARTER_SEGMENTS)
    shapes = np.full(x.shape[0], pupil, dtype=object)
    for index in range(x.shape[1]):
        discs = shapely.buffer(shapely.points(x[:, index], y[:, index]), radius[index], quad_segs=QUARTER_SEGMENTS)
        shapes = shapely.intersection(shapes, discs)
    areas: Array = shapely.area(shapes) / pupil.area
    return areas


def map_against_polygons() -> list[dict[str, Any]]:
    """Time a 96x64 map with 12 apertures both ways; ratio and greatest difference."""
    x, y, radius = _work()
    open_fraction(x, y, radius)
    times = []
    for _ in range(7):
        start = time.perf_counter()
        ours = open_fraction(x, y, radius, chords=FINE_CHORDS)
        times.append(time.perf_counter() - start)
    start = time.perf_counter()
    theirs = _polygons(x, y, radius)
    slow = time.perf_counter() - start
    quick = sorted(times)[len(times) // 2]
    error = float(np.abs(ours - theirs).max())
    note = f"{1000 * quick:.1f} ms against {slow:.1f} s, {COLUMNS}x{ROWS} points, {APERTURES} apertures"
    return [
        {"what": "map by chords, times faster than polygon clipping", "value": slow / quick, "unit": "x",
         "wish": ">= 500", "met": slow / quick >= 500, "note": note},
        {"what": "map by chords, greatest difference", "value": error, "unit": "", "wish": "<= 2e-3",
         "met": error <= 2e-3},
    ]  # fmt: skip


def map_against_a_ray_tracer() -> list[dict[str, Any]]:
    """Time one field point by chords and by a general ray tracer at the same error, where one is installed.

    The tracer is heavy and no part of the test environment; tests/reference/make_ray_trace.py says how to get it.
    """
    try:
        from optiland.optic import Optic
    except ImportError:
        return []
    from farrail.optics.illumination import relative_illumination
    from farrail.optics.pupils import ApertureImage, Pupil

    heights = np.linspace(0.0, 14.0, 128)
    pupil = Pupil(400 / 203, 400.0, 400.0)
    stack = [ApertureImage(14.0 + 0.3 * i, 20.0 + 3.0 * i) for i in range(APERTURES)]
    times = []
    for _ in range(7):
        start = time.perf_counter()
        ours = relative_illumination(pupil, stack, heights)
        times.append((time.perf_counter() - start) / heights.size)
    quick = sorted(times)[3]
    lens = Optic()
    lens.add_surface(index=0, thickness=20.0)
    for number, image in enumerate(stack, start=1):
        following = 400.0 - image.distance_mm if number == APERTURES else 3.0
        lens.add_surface(index=number, thickness=following, aperture=2.0 * image.radius_mm)
    lens.add_surface(index=APERTURES + 1, thickness=1.0, is_stop=True)
    lens.add_surface(index=APERTURES + 2)
    lens.set_aperture(aperture_type="EPD", value=203.0)
    lens.set_field_type(field_type="object_height")
    lens.add_field(y=0)
    lens.add_field(y=float(heights[100]))
    lens.add_wavelength(value=0.55, is_primary=True)
    start = time.perf_counter()
    rays = lens.trace(Hx=0, Hy=1, wavelength=0.55, num_rays=180, distribution="hexapolar")
    slow = time.perf_counter() - start
    share = float((np.ravel(rays.i) > 0).mean())
    note = f"{1e6 * quick:.1f} µs against {1000 * slow:.0f} ms a point; {ours[100]:.4f} and {share:.4f}"
    return [
        {"what": "profile by chords, times faster than a ray tracer", "value": slow / quick, "unit": "x",
         "wish": ">= 10000", "met": slow / quick >= 10_000, "note": note},
    ]  # fmt: skip


def idle_map() -> list[dict[str, Any]]:
    """Time a 384x256 map of a decentred train, in all and its longest chunk."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.optics.illumination import GRID_ROWS, enlarged
    from farrail.readouts.read import read

    workbook = demo_workbook()
    chunks: list[float] = []
    light = read(workbook.train("lantern-reversed"), workbook.by_id).light
    rows = []
    for row in range(0, GRID_ROWS, 7):
        start = time.perf_counter()
        rows.append(light.grid_rows(row, min(row + 7, GRID_ROWS)))
        chunks.append(time.perf_counter() - start)
    start = time.perf_counter()
    enlarged(np.concatenate(rows), 384, 256)
    chunks.append(time.perf_counter() - start)
    whole = 1000 * sum(chunks)
    return [
        {"what": "idle map 384x256, decentred train", "value": whole, "unit": "ms", "wish": "<= 120",
         "met": whole <= 120, "note": f"longest of {len(chunks)} chunks {1000 * max(chunks):.1f} ms"},
    ]  # fmt: skip


def zoom_sweep() -> list[dict[str, Any]]:
    """Sweep the demo's dusk stack over 60 focal lengths, alone and for eight other stacks."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.readouts.front.model import Front
    from farrail.train.layout import build_layout
    from farrail.train.train import MountedPart

    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    stacks = [train.front_stack, train.front_stack[1:], train.front_stack[:3], train.front_stack[1:3]]
    stacks += [(MountedPart(part="ring-82-recessed"), *stack[-1:]) for stack in (stacks[2], stacks[3])]
    stacks += [tuple(laid.model_copy(update={"turned_deg": 30.0}) for laid in stack) for stack in stacks[:3]]
    times = []
    for _ in range(7):
        start = time.perf_counter()
        for stack in stacks:
            _ = Front(build_layout(train.model_copy(update={"front_stack": stack}), workbook.by_id)).now
        times.append(1000 * (time.perf_counter() - start))
    median = sorted(times)[3]
    return [
        {"what": "zoom sweep of 60 focal lengths with 8 other stacks", "value": median, "unit": "ms", "wish": "<= 100",
         "met": median <= 100, "note": f"{len(stacks)} stacks; slowest of seven runs {max(times):.0f} ms"},
    ]  # fmt: skip
