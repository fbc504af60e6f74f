"""The photo a train takes, against rays, projections by hand, sums and equations made without the program's code."""

import math
import tracemalloc
from dataclasses import replace

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.optics.oblique import Directions
from farrail.optics.projection import Projection
from farrail.parts.kinds.ahead import FilterHolder
from farrail.preview import pool, sensor
from farrail.preview.fields import fields_of
from farrail.preview.model import PreviewSettings, Scene, corner_losses, frame_preview, release, usual_scene
from farrail.preview.night import add_stars
from farrail.preview.view import View, view_of
from farrail.readouts.read import Readout, read
from farrail.train.train import Conditions, Side, Sky
from farrail.workbook.edits.laying import TurnPart

FLAT = PreviewSettings(Scene.FLAT)


def readout_of(train_id: str, **changes: object) -> Readout:
    workbook = demo_workbook()
    return read(workbook.train(train_id).model_copy(update=changes), workbook.by_id)


def used(train_id: str, **conditions: object) -> Conditions:
    return demo_workbook().train(train_id).conditions.model_copy(update=conditions)


def disc(count: int) -> tuple[np.ndarray, np.ndarray]:
    """Points spread evenly over a disc of radius 1, in a spiral."""
    k = np.arange(count) + 0.5
    return np.sqrt(k / count) * np.cos(k * 2.39996323), np.sqrt(k / count) * np.sin(k * 2.39996323)


def test_the_light_of_an_even_field_is_that_of_the_engine() -> None:
    """Both ways a map is made: round about the axis, and beside it with the holder turned."""
    for train in ("brae-cooled", "lantern-reversed", "sea-stacks"):
        readout = readout_of(train)
        made = frame_preview(readout, FLAT, 480)
        rows, columns = made.fields.vignetting.shape
        dice = np.random.default_rng(3)
        j, i = dice.integers(0, rows, 100), dice.integers(0, columns, 100)
        x, y = made.view.seen_mm
        exact = readout.light.light_at(-np.stack([x[j, i], y[j, i]], axis=1).astype(float))
        off = np.abs(made.fields.vignetting[j, i] - exact)
        # Where a pixel is worked out itself it may be off by the error asked for; elsewhere by that of the grid.
        assert np.quantile(off, 0.9) < 1e-3, train
        assert off.max() < 8e-3, train


def test_rays_through_a_ring_on_a_wide_lens() -> None:
    """200,000 rays a pixel through both ends of an adapter ring, ahead of the pupil where the demo has it."""
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    train = train.model_copy(
        update={"front_stack": train.front_stack[1:2], "conditions": used("sea-stacks", focal_mm=17.0, f_number=8.0)}
    )
    # The lens's own vignetting left aside: the picture shows what the stack adds to it.
    lens = workbook.by_id["brae-17-35"].model_copy(update={"corner_loss_stops": None})
    readout = read(train, {**workbook.by_id, lens.id: lens})
    made = frame_preview(readout, FLAT, 360)
    x, y = made.view.seen_mm
    rims = [(radius, 27.0 + (-96.0 - z)) for radius, z in ((40.0, -104.0), (40.0, -96.0))]
    px, py = (side * 17.0 / 8.0 / 2.0 for side in disc(200_000))
    dice = np.random.default_rng(5)
    seen = []
    for _ in range(60):
        j, i = dice.integers(0, 60), dice.integers(0, 60)
        passes = np.ones(px.size, dtype=bool)
        for radius, ahead in rims:
            passes &= (px + x[j, i] / 17.0 * ahead) ** 2 + (py + y[j, i] / 17.0 * ahead) ** 2 <= radius**2
        seen.append(float(passes.mean()))
        assert made.fields.vignetting[j, i] == pytest.approx(seen[-1], abs=2e-3)
    assert min(seen) < 0.05 < 0.95 < max(seen)  # the places span the shadow


@pytest.mark.parametrize("focal_mm", [12.0, 16.0, 24.0, 50.0, 135.0])
@pytest.mark.parametrize(
    ("projection", "distortion"), [("rectilinear", 0.0), ("rectilinear", -0.03), ("equisolid", 0.0)]
)
def test_a_grid_of_degrees_lands_where_the_projection_puts_it(
    focal_mm: float, projection: Projection, distortion: float
) -> None:
    view = View(961, 641, 36.0, 24.0, 0.0, 0.0, focal_mm, Directions(projection, 21.6, distortion))
    az, _ = view.az_el_deg
    middle = az[320]
    for degree in (2.0, 5.0, 9.0, 14.0, 30.0):
        angle = math.radians(degree)
        height = focal_mm * math.tan(angle) if projection == "rectilinear" else 2.0 * focal_mm * math.sin(angle / 2.0)
        if height > 17.0:
            continue
        # A barrel pulls in: h' = h/(1 − d·…) by fixed point of h = h'/(1 + d(h'/c)²).
        shown = height
        for _ in range(60):
            shown = height * (1.0 + distortion * (shown / 21.6) ** 2)
        pixel = float(np.interp(degree, middle, np.arange(961)))
        assert pixel == pytest.approx(480.0 + shown / 36.0 * 961.0, abs=0.5)


def test_the_horizon_follows_pitch_and_roll() -> None:
    view = View(600, 400, 36.0, 24.0, 0.0, 0.0, 20.0, Directions(), 0.0, 10.0)
    _, el = view.az_el_deg
    # Looking up by 10° the horizon is f·tan 10° under the middle: 3.53 mm.
    row = float(np.interp(0.0, el[::-1, 300], np.arange(399, -1, -1)))
    assert row == pytest.approx(199.5 + 20.0 * math.tan(math.radians(10.0)) / 24.0 * 400.0, abs=0.6)
    _, rolled = View(600, 400, 36.0, 24.0, 0.0, 0.0, 20.0, Directions(), 90.0, 0.0).az_el_deg
    # A camera turned clockwise by a quarter has the sky on its left.
    assert rolled[200, 20] > 30.0 > -30.0 > rolled[200, 580]


@pytest.mark.parametrize("f_number", [4.0, 16.0])
@pytest.mark.parametrize(("sheet", "run_mm", "density"), [("soft-0-9", 35.0, 0.9), ("hard-0-6", 3.0, 0.6)])
@pytest.mark.parametrize("turned_deg", [0.0, 20.0])
def test_a_graduated_filter_is_its_transition_averaged_over_the_bundle(
    f_number: float, sheet: str, run_mm: float, density: float, turned_deg: float
) -> None:
    """2,000 rays a place through a sheet slid up by 6 mm."""
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    stack = tuple(
        laid.model_copy(update={"filters": (None, sheet)}) if laid.part == "skerry-100" else laid
        for laid in train.front_stack
    )
    changed = train.model_copy(
        update={"front_stack": stack, "conditions": used("sea-stacks", focal_mm=24.0, f_number=f_number)}
    )
    workbook = workbook.model_copy(update={"trains": (changed,)})
    if turned_deg:
        workbook = TurnPart("sea-stacks", 2, turned_deg, Side.FRONT).apply(workbook)
    readout = read(workbook.train("sea-stacks"), workbook.by_id)
    view = view_of(readout, 300)
    stops = fields_of(readout, view).graduated_stops
    holder = next(p for p in readout.layout.front if p.part.id == "skerry-100")
    assert isinstance(holder.part, FilterHolder)
    slot_mm = holder.on_rail_mm(holder.part.slot_at_mm(1, holder.z_rear_mm - holder.z_front_mm))
    # The entrance pupil at 24 mm, halfway in the demo's table; the thread seat is 96 mm ahead of the flange.
    ahead = 31.5 + (-96.0 - slot_mm)
    px, py = (side * 24.0 / f_number / 2.0 for side in disc(2_000))
    x, y = view.seen_mm
    turn = math.radians(turned_deg)
    for j in range(4, view.rows, 23):
        for i in (5, 150, 290):
            across, up = px + x[j, i] / 24.0 * ahead, py + y[j, i] / 24.0 * ahead
            above = across * math.sin(turn) + up * math.cos(turn) - 6.0
            light = np.mean(10.0 ** (-density * np.clip(0.5 + above / run_mm, 0.0, 1.0)))
            assert stops[j, i] == pytest.approx(-math.log2(light), abs=0.02)


def test_a_polarised_sky_at_nine_places() -> None:
    """Rayleigh and Malus written out again for each place; only what differs from half is in the picture."""
    sky = Sky(sun_high_deg=20.0, sun_right_deg=90.0, most_polarised=0.8)
    readout = readout_of("sea-stacks", conditions=used("sea-stacks", focal_mm=20.0, sky=sky))
    view = view_of(readout, 301)
    stops = fields_of(readout, view).polarised_stops
    sun = np.array([math.cos(math.radians(20.0)), math.sin(math.radians(20.0)), 0.0])
    # Darkest in the middle: across the direction e ∥ s × u the light swings in there.
    swing = np.cross([0.0, 0.0, 1.0], sun)
    axis = math.atan2(swing[1], swing[0]) + math.pi / 2.0
    x, y = view.seen_mm
    for j in (0, view.rows // 2, view.rows - 1):
        for i in (0, 150, 300):
            s = np.array([x[j, i], y[j, i], 20.0])
            s /= np.linalg.norm(s)
            cosine = float(s @ sun)
            degree = 0.8 * (1.0 - cosine**2) / (1.0 + cosine**2)
            e = np.cross(s, sun)
            e /= np.linalg.norm(e)
            a = np.array([math.cos(axis), math.sin(axis), 0.0])
            a -= (a @ s) * s
            a /= np.linalg.norm(a)
            share = 0.5 * (1.0 + degree * (2.0 * float(a @ e) ** 2 - 1.0))
            assert stops[j, i] == pytest.approx(-math.log2(share) - 1.0, abs=0.03)


def test_a_star_has_the_axes_it_is_drawn_with() -> None:
    """Second moments of one star, within 3 %; a pixel's own width adds in squares."""
    light = np.zeros((161, 161, 3), dtype=np.float32)
    spots, one = np.array([[80.2, 80.7]]), np.ones(1)
    add_stars(light, spots, 6.0 * one, 9.0 * one, 4.0, math.radians(30.0) * one)
    weight = light[..., 1] / light[..., 1].sum()
    y, x = np.mgrid[0:161, 0:161] + 0.5
    dx, dy = x - (weight * x).sum(), y - (weight * y).sum()
    moments = np.array([[(weight * dx * dx).sum(), (weight * dx * dy).sum()],
                        [(weight * dx * dy).sum(), (weight * dy * dy).sum()]])  # fmt: skip
    sizes, ways = np.linalg.eigh(moments)
    assert math.sqrt(sizes[1]) == pytest.approx(9.0, rel=0.03)
    assert math.sqrt(sizes[0]) == pytest.approx(4.0, rel=0.03)
    assert abs(ways[1, 1] / ways[0, 1]) == pytest.approx(math.tan(math.radians(30.0)), rel=0.05)


def test_the_rulers_marks_are_a_millimetre_apart() -> None:
    """Millimetres across are sensor width / m, within half a pixel."""
    view = View(1200, 800, 36.0, 24.0, 0.0, 0.0, 90.0, Directions())
    made = pool.pool(view, 1.5, 2.8, 0.0)
    # A millimetre (50 pixels) below the ruler's edge, which is 0.62 of the way to the bottom.
    marks = made[round(400 + 0.62 * 400 + 50), :, 0] < 0.1
    edges = np.flatnonzero(np.diff(marks.astype(int)))
    centres = (edges[::2] + edges[1::2]) / 2.0
    assert len(centres) >= 22
    apart = np.diff(centres)
    assert apart.mean() == pytest.approx(1200.0 / (36.0 / 1.5), abs=0.02)
    assert np.abs(apart - 50.0).max() <= 1.0


@pytest.mark.parametrize("wide_px", [8.0, 20.0, 44.0])
def test_a_point_out_of_focus_is_as_wide_as_its_disc(wide_px: float) -> None:
    """A disc's deviation is a quarter of its width: within 5 %, mixed between drawn widths."""
    light = np.zeros((240, 240, 3), dtype=np.float32)
    light[120, 120] = 1.0
    spread = pool.blurred(light, np.full((240, 240), wide_px / 4.0, dtype=np.float32))[..., 0]
    x = np.mgrid[0:240, 0:240][1] - 120.0
    assert math.sqrt((spread * x * x).sum() / spread.sum()) == pytest.approx(wide_px / 4.0, rel=0.05)


@pytest.mark.parametrize(
    ("depth_mm", "magnification", "f_number"), [(3.0, 0.5, 4.0), (-2.0, 1.5, 16.0), (6.0, 1.0, 8.0)]
)
def test_a_point_beside_the_plane_in_focus_has_the_width_of_its_cone(
    depth_mm: float, magnification: float, f_number: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    """5,000 rays: the point's image is z·m² off the sensor, where the cone of effective f-number N is z·m²/N wide.

    So half the depth of field is c·N/m², as handbooks have it with N = n·(1 + m), from memory.
    """
    view = View(480, 320, 12.0, 8.0, 0.0, 0.0, 60.0, Directions())

    def point(x: np.ndarray, _: np.ndarray, __: float) -> tuple[np.ndarray, np.ndarray]:
        light = np.zeros((*x.shape, 3), dtype=np.float32)
        light[160, 240] = 1.0
        return light, np.full(x.shape, depth_mm, dtype=np.float32)

    monkeypatch.setattr(pool, "subject", point)
    shown = pool.pool(view, magnification, f_number, 0.0)[..., 1]
    x = np.mgrid[0:320, 0:480][1] - 240.0
    across, _ = disc(5_000)
    # Each ray goes from the exit pupil, f_number times its width away, to the image beyond the sensor.
    rays_px = across * abs(depth_mm) * magnification**2 / (2.0 * f_number) / (12.0 / 480.0)
    assert math.sqrt((shown * x * x).sum() / shown.sum()) == pytest.approx(rays_px.std(), rel=0.05)


def test_a_metered_patch_lands_where_the_exposure_equation_puts_it() -> None:
    """By hand: 100 cd/m² metered at ISO 200 and f/8 gives 12.5·64/(100·200) = 1/25 s; H = .65·100/25/64 = .0406 lx·s.

    Saturation at ISO 200 is 78/200 = .39 lx·s, so the patch is at .104 of it; ISO 2720 and ISO 12232, from memory.
    """
    time_s = 12.5 * 8.0**2 / (100.0 * 200.0)
    share = 0.65 * 100.0 * time_s / 8.0**2 / (78.0 / 200.0)
    made = frame_preview(readout_of("lichen"), FLAT, 90)
    middle = made.light[made.view.rows // 2, 45]
    assert np.abs(np.log2(middle / share)).max() < 0.02
    brighter = frame_preview(readout_of("lichen"), replace(FLAT, stops=1.5), 90).light[made.view.rows // 2, 45]
    assert np.log2(brighter[0] / middle[0]) == pytest.approx(1.5, abs=1e-3)
    # A grey card, 18 %, is shown as the standard curve shows it: 118 of 255.
    assert abs(int(sensor.shown(np.array([share]))[0]) - 118) <= 1


def test_two_runs_give_the_same_bytes() -> None:
    for train, scene in (("sea-stacks", Scene.DUSK), ("witch-broom", Scene.NIGHT), ("barnacles", Scene.POOL)):
        one, other = (frame_preview(readout_of(train), PreviewSettings(scene), 120).shown for _ in range(2))
        assert one.tobytes() == other.tobytes()
        assert one.std() > 4.0  # there is a picture


def test_a_graduated_filter_saves_the_sky() -> None:
    """Metered on the ground, the bare sky is blown out; behind three stops less of it is."""
    bare = frame_preview(readout_of("sea-stacks", front_stack=()), PreviewSettings(Scene.DUSK), 240)
    whole = frame_preview(readout_of("sea-stacks"), PreviewSettings(Scene.DUSK), 240)
    sky = (bare.sky > 0.5) & (whole.fields.vignetting > 0.9)
    assert bare.clipped[sky].mean() > 0.5
    assert whole.clipped[sky].mean() < 0.25


def test_corners_name_what_darkens_them() -> None:
    losses = corner_losses(readout_of("sea-stacks"))
    assert [loss.corner for loss in losses] == ["top left", "top right", "bottom left", "bottom right"]
    assert {loss.part for loss in losses} == {"polariser-105"}
    assert all(not loss.part for loss in corner_losses(readout_of("witch-broom")))


def test_the_usual_scene_suits_the_train() -> None:
    assert usual_scene(readout_of("sea-stacks")) is Scene.DUSK
    assert usual_scene(readout_of("witch-broom")) is Scene.NIGHT
    assert usual_scene(readout_of("barnacles")) is Scene.POOL


def test_a_shift_moves_the_picture() -> None:
    """A lens shifted up by 5 mm shows what is higher: the horizon moves 5 mm down in the picture."""
    level = view_of(readout_of("sea-stacks"), 360)
    raised = view_of(readout_of("sea-stacks", conditions=used("sea-stacks", shift_up_mm=5.0)), 360)
    rows = [
        float(np.interp(0.0, view.seen_mm[1][::-1, 0], np.arange(view.rows - 1, -1, -1))) for view in (level, raised)
    ]
    assert abs(rows[1] - rows[0]) == pytest.approx(5.0 / 24.0 * 240.0, abs=0.1)
    assert rows[1] > rows[0]


def test_noise_has_the_spread_of_shot_and_read_noise() -> None:
    """A grey field: the spread of its electrons is √(e + 3²), and a pixel of nine of the sensor's has a third of it."""
    full_e, share = 20_000.0, 0.2
    for pixels in (1.0, 9.0):
        codes = sensor.developed(np.full((400, 300, 3), share, dtype=np.float32), full_e, pixels, 3)
        mean, sigma = share, math.sqrt(share * full_e + 9.0) / full_e / math.sqrt(pixels)
        steps = sensor.shown(np.array([mean - sigma, mean + sigma]))
        within = float(((codes >= steps[0]) & (codes <= steps[1])).mean())
        inside = within if pixels == 1.0 else float((np.abs(codes.astype(float) - codes.mean()) <= 3.0).mean())
        assert inside > (0.66 if pixels == 1.0 else 0.999)
        assert codes.std() == pytest.approx(float(steps[1] - steps[0]) / 2.0, abs=0.35)


@pytest.mark.parametrize(("train_id", "scene"), [("sea-stacks", Scene.DUSK), ("lantern-wheel", Scene.NIGHT)])
def test_a_large_photo_needs_less_than_forty_megabytes(train_id: str, scene: Scene) -> None:
    readout = readout_of(train_id)
    frame_preview(readout, PreviewSettings(scene), 96)
    release()
    tracemalloc.start()
    try:
        assert np.ptp(frame_preview(readout, PreviewSettings(scene), 960).shown) > 0
        peak = tracemalloc.get_traced_memory()[1]
        release()
        held = tracemalloc.get_traced_memory()[0]
    finally:
        tracemalloc.stop()
    assert peak < 40e6
    assert held < 8e6
