"""Coverage, cone, focuser, guider, powered parts, sky and mirror shadow of placed trains; and what cannot be."""

import math
from typing import Any

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.exchange.sky_catalogue import parse_target
from farrail.parts.connections import Gender, thread
from farrail.parts.in_beam import ApertureRole
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import measured, published
from farrail.parts.registry import Part
from farrail.planning.cameras import all_my_cameras
from farrail.planning.filter_sizes import smallest_filter
from farrail.planning.flipping import both_ways
from farrail.readouts.field.sky import framing_of
from farrail.readouts.read import Readout, read
from farrail.train.train import Conditions, MountedPart, Target, Train

IN, OUT = Gender.INTERNAL, Gender.EXTERNAL


def bare(rear: tuple[MountedPart, ...] = (), camera: dict[str, Any] | None = None, parts: tuple[Part, ...] = (),
         f_number: float | None = None, **scope: Any) -> Readout:  # fmt: skip
    """A telescope of 600 mm f/4 with a 36 × 24 sensor."""
    shelf: list[Part] = [
        Telescope(id="s", name="Scope", outer_diameter_mm=180, rear=thread(54, 0.75, IN),
                  focal_length_mm=published(600), aperture_mm=published(150), **scope),
        Camera(id="c", name="Camera", outer_diameter_mm=90, front=thread(54, 0.75, OUT), **{
            "flange_to_sensor_mm": published(20.0), "sensor_width_mm": published(36), "sensor_height_mm": published(24),
            **(camera or {})}),
        *parts,
    ]  # fmt: skip
    train = Train(id="t", name="t", optic="s", rear_train=rear, camera="c", conditions=Conditions(f_number=f_number))
    return read(train, {p.id: p for p in shelf})


def ids(readout: Readout) -> list[str]:
    return [f.id.split(":")[0] for f in readout.findings]


def tube(key: str, length: float, clear: float = 50.0) -> Spacer:
    return Spacer(id=key, name=key, outer_diameter_mm=60, front=thread(54, 0.75, OUT), rear=thread(54, 0.75, IN),
                  path_length_mm=measured(length), clear_aperture_mm=published(clear))  # fmt: skip


def test_field_of_view_and_pixel_scale() -> None:
    readout = bare(camera={"pixel_size_um": published(6.0)})
    assert readout.figures["light.field_width_deg"].number == pytest.approx(math.degrees(2 * math.atan(0.03)))
    assert readout.figures["light.pixel_scale_arcsec"].number == pytest.approx(206.265 * 6 / 600, rel=1e-5)
    assert readout.figures["light.clean_frame"].shown == "36.0 × 24.0 mm, 6000 × 4000 pixels"


def test_a_sensor_larger_than_the_image_circle_is_told_with_what_is_covered() -> None:
    readout = bare(image_circle_mm=published(38.0))
    assert "light.sensor_larger_than_circle" in ids(readout)
    assert readout.figures["light.image_circle_margin_mm"].number == pytest.approx(38 - math.hypot(36, 24))
    assert 95 < readout.figures["light.image_circle_cover"].number < 100
    assert "light.sensor_larger_than_circle" not in ids(bare(image_circle_mm=published(44.0)))


@pytest.mark.parametrize(
    ("length", "needed", "found"),
    [(0.0, 80.0, False), (30.0, 50.0, False), (90.0, -10.0, True), (-15.0, 95.0, True)],
)
def test_the_focuser_gets_there_or_says_by_how_much_not(length: float, needed: float, found: bool) -> None:
    camera = {"flange_to_sensor_mm": published(20.0)} if length >= 0 else {"flange_to_sensor_mm": published(5.0)}
    rear, parts = ((MountedPart(part="x"),), (tube("x", length),)) if length > 0 else ((), ())
    readout = bare(rear, camera, parts, focal_plane_mm=measured(100.0), focuser_travel_mm=published(90.0))
    assert readout.figures["spacing.focuser_travel_mm"].number == pytest.approx(needed)
    assert ("spacing.focuser_out_of_travel" in ids(readout)) is found


def reducer(focal: float, back: float = 60.0) -> Corrector:
    return Corrector(id="r", name="Reducer", outer_diameter_mm=70, front=thread(54, 0.75, OUT),
                     rear=thread(54, 0.75, IN), path_length_mm=published(20), back_focus_mm=published(back),
                     spacing_tolerance_mm=published(1), lens_focal_mm=published(focal), principal_mm=published(20.0),
                     clear_aperture_mm=published(48))  # fmt: skip


def test_a_reducer_s_spacing_changes_focal_length_and_f_number() -> None:
    for between, distance in ((0.0, 20.0), (40.0, 60.0)):
        rear = (MountedPart(part="r"), *((MountedPart(part="x"),) if between else ()))
        readout = bare(rear, parts=(reducer(200.0), *((tube("x", between),) if between else ())))
        factor = 1 - distance / 200
        assert readout.figures["light.focal_length_mm"].number == pytest.approx(600 * factor)
        assert readout.figures["light.f_number"].number == pytest.approx(4 * factor)
        assert readout.figures["light.field_width_deg"].number == pytest.approx(
            math.degrees(2 * math.atan(36 / (2 * 600 * factor)))
        )
    barlow = bare((MountedPart(part="r"),), parts=(reducer(-20.0),))
    assert barlow.figures["light.f_number"].number == pytest.approx(8.0)


def test_an_aperture_ahead_of_a_reducer_is_seen_through_it() -> None:
    ahead = tube("x", 50.0, clear=46.0)
    readout = bare((MountedPart(part="x"), MountedPart(part="r")), parts=(ahead, reducer(200.0)))
    light = readout.light
    seen = next(s for s in light.imaged if s.placed.part.id == "x" and s.placed.role is ApertureRole.FRONT_END)
    # By hand: 70 mm before the thin lens (f 200), which is 20 mm before the sensor.
    image = 70 * 200 / (70 - 200)
    assert seen.image.distance_mm == pytest.approx(20 - image)
    assert seen.scale == pytest.approx(-image / 70)
    # The cone there: the native cone at that place, on the axis, is as wide as the engine says.
    native = 20 / 0.9
    on_axis = (native + 70) / 4.0
    at = light.pupil.f_number
    assert seen.image.distance_mm / at / seen.scale == pytest.approx(on_axis, rel=1e-6)


def test_a_reducer_too_far_from_the_sensor_makes_no_image_and_no_nan() -> None:
    readout = bare((MountedPart(part="r"),), parts=(reducer(15.0),))
    assert "spacing.no_image" in ids(readout)
    assert all(math.isfinite(f.number) for f in readout.figures.values() if isinstance(f.value, float))


def test_the_guide_sensor_sits_where_the_focus_is_through_the_prism() -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("lantern-reversed"), workbook.by_id)
    # Prism 8.5 mm behind the datum, sensor at 56.0: 47.5, less the filter's glass, less 22; the camera's own distance
    # allows for its window.
    shift = 2.0 * (1 - 1 / 1.5168)
    assert readout.figures["spacing.guide.kittiwake-guider_mm"].number == pytest.approx(47.5 - shift - 22.0, abs=1e-6)


def test_a_train_ahead_of_the_mirror_is_its_obstruction() -> None:
    readout = bare(prime_focus=True)
    assert readout.figures["light.train_shadow"].number == pytest.approx(100 * (90 / 150) ** 2)
    assert readout.light.pupil.obstruction == pytest.approx(0.6)
    assert "light.train_shadow" in ids(readout)


def test_a_narrow_filter_in_a_fast_cone() -> None:
    workbook = demo_workbook()
    train = workbook.train("lantern-wheel")
    row = list(train.rear_train)
    row[-1] = row[-1].model_copy(update={"in_beam": 4})
    narrow = workbook.by_id["hydrogen-31"].model_copy(update={"passband_nm": published(3.0)})
    shelf = dict(workbook.by_id) | {"hydrogen-31": narrow}
    asked = train.model_copy(update={"rear_train": tuple(row), "conditions": Conditions(f_number=2.8)})
    readout = read(asked, shelf)
    finding = next(f for f in readout.findings if f.id.startswith("light.narrowband_in_fast_cone"))
    assert finding.part == "hydrogen-31"
    passes = readout.figures["light.passband.hydrogen-31"]
    assert 40 < passes.number < 60
    assert passes.provenance is Origin.ASSUMED  # the coating's index is a guess
    slow = asked.model_copy(update={"conditions": Conditions(f_number=7.0)})
    assert "light.narrowband_in_fast_cone" not in ids(read(slow, shelf))


def test_panels_of_a_target_by_its_turned_outline() -> None:
    workbook = demo_workbook()
    train = workbook.train("witch-broom")

    def panels(width: float, height: float, turned: float) -> tuple[int, int]:
        target = Target(name="x", width_arcmin=width, height_arcmin=height, turned_deg=turned)
        asked = train.model_copy(update={"conditions": Conditions(target=target)})
        framing = framing_of(read(asked, workbook.by_id).layout)
        assert framing is not None
        return framing.columns, framing.rows

    assert panels(180, 100, 0) == (1, 1)  # a frame of 188′ × 125′
    assert panels(180, 100, 90) == (1, 2)
    assert panels(340, 100, 0) == (2, 1)  # 188·(1 + 0.85) = 348
    assert panels(355, 100, 0) == (3, 1)


@pytest.mark.parametrize(("text", "size"), [("40 x 30", (40, 30)), ("40×30′", (40, 30)), ("12,5", (12.5, 12.5))])
def test_targets_by_size(text: str, size: tuple[float, float]) -> None:
    target = parse_target(text)
    assert (target.width_arcmin, target.height_arcmin) == size


@pytest.mark.parametrize("text", ["0 x 3", "1 x 2 x 3", "99999", "no such cloud", ""])
def test_what_is_no_target_is_told_in_one_sentence(text: str) -> None:
    with pytest.raises(BadInput) as caught:
        parse_target(text)
    assert str(caught.value).endswith(".")


def test_all_cameras_worst_first_and_smallest_filter_in_a_sentence() -> None:
    workbook = demo_workbook()
    train = workbook.train("lantern-wheel")
    cameras = all_my_cameras(train, workbook.by_id)
    assert [c.camera.id for c in cameras] == ["skua-apsc", "skua-four-thirds", "skua-full"]
    assert cameras[2].lost_stops > cameras[0].lost_stops > 0.5 > cameras[1].lost_stops
    assert [c.mates for c in cameras] == [True, True, False]
    light = read(train, workbook.by_id).light
    c = next(c for c in light.clearances if c.placed.part.id == "luminance-31")
    assert smallest_filter(c) == (
        f"A filter here needs {c.needed_mm:.1f} mm clear: 31 mm is the smallest usual size, with 1.3 mm to spare."
    )


def test_which_way_round_is_better_follows_from_the_seat() -> None:
    workbook = demo_workbook()
    train = workbook.train("lantern-reversed")
    for seat, better in ((4.5, True), (15.0, False)):
        wheel = workbook.by_id["kittiwake-wheel-5"].model_copy(update={"seat_mm": measured(seat)})
        both = both_ways(train, dict(workbook.by_id) | {wheel.id: wheel})
        assert [b.better for b in both] == [better]
        assert both[0].now.from_sensor_mm != both[0].turned.from_sensor_mm


def test_a_sensor_beside_the_axis_and_a_rectangular_seat() -> None:
    plain = bare((MountedPart(part="x"),), parts=(tube("x", 60.0, clear=47.0),))
    off = bare(
        (MountedPart(part="x"),), camera={"sensor_right_mm": measured(3.0)}, parts=(tube("x", 60.0, clear=47.0),)
    )
    assert plain.light.edges["left"] == pytest.approx(plain.light.edges["right"])
    # The sensor's right is the picture's left.
    assert off.light.edges["left"] < off.light.edges["right"]
    picture = off.light.map(60, 40)
    assert picture[:, 0].mean() < picture[:, -1].mean()


BAD = [
    {"f_number": 0.3}, {"f_number": 200.0},
    {"camera": {"sensor_width_mm": published(300), "sensor_height_mm": published(200)}},
    {"exit_pupil_distance_mm": published(10.0)}, {"exit_pupil_distance_mm": published(90_000.0)},
]  # fmt: skip


@pytest.mark.parametrize("what", BAD, ids=str)
def test_extremes_give_numbers_and_sentences_never_nan(what: dict[str, Any]) -> None:
    rear, parts = (MountedPart(part="x"), MountedPart(part="y")), (tube("x", 60.0), tube("y", 15.0, clear=0.5))
    readout = bare(rear, parts=parts, **what)
    for figure in readout.figures.values():
        if isinstance(figure.value, float):
            assert not math.isnan(figure.value), figure.id
        assert "nan" not in figure.working.numbers
    for finding in readout.findings:
        assert "nan" not in finding.title + finding.reason
    assert ((readout.light.map(24, 16) >= 0.0) & (readout.light.map(24, 16) <= 1.0)).all()


def test_sixty_parts_are_laid_and_judged() -> None:
    rear = tuple(MountedPart(part="x") for _ in range(60))
    readout = bare(rear, parts=(tube("x", 2.0),))
    assert len(readout.light.clearances) == 120
    assert math.isfinite(readout.light.corner_ri or math.nan)


@pytest.mark.parametrize("value", [0.0, -3.0])
def test_a_clear_aperture_of_nothing_is_refused(value: float) -> None:
    with pytest.raises(ValueError, match="is outside"):
        tube("x", 5.0, clear=value)


def test_an_aperture_behind_the_sensor_takes_nothing() -> None:
    # A filter seat measured deeper than the housing is long would be behind the sensor.
    readout = bare((MountedPart(part="x"),), camera={"flange_to_sensor_mm": published(0.0)}, parts=(tube("x", 5.0),))
    assert readout.light.corner_ri == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("pixel_um", "steady", "advice"),
    [(3.76, "1.5 pixels", "Two to four pixels"), (1.2, "4.8 pixels", "show nothing more"), (9.0, "0.6", "lose detail")],
)
def test_sampling_is_said_beside_seeing(pixel_um: float, steady: str, advice: str) -> None:
    """At 600 mm a pixel of 3.76 µm sees 206,265″ × 0.00376 / 600 = 1.29″; a star of 2″ is 1.5 pixels wide."""
    readout = bare(camera={"pixel_size_um": published(pixel_um)})
    said = next(one for one in readout.findings if one.id == "light.sampling")
    assert f"{206_264.8 * pixel_um / 1000.0 / 600.0:.2f}″" in said.title
    assert steady in said.title
    assert advice in said.reason
    assert not [one for one in bare().findings if one.id == "light.sampling"]
