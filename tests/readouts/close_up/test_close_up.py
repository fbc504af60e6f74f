"""The close-up readout of placed trains: against ray matrices, handbook values and facts of the trade."""

import json
import math
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadWorkbook
from farrail.parts.kinds.ahead import Hood
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube, Teleconverter
from farrail.parts.kinds.lenses import CameraLens, NearAt
from farrail.parts.lens_defaults import Basis
from farrail.parts.origin import Origin
from farrail.parts.provenance import assumed, measured, published
from farrail.parts.registry import Part
from farrail.readouts.exposure.figure_texts import share_name
from farrail.readouts.exposure.model import Exposure
from farrail.readouts.read import Readout, read
from farrail.train.near_focus import near_focus_of
from farrail.train.train import Conditions, MountedPart, Train
from farrail.workbook.reading import from_data, to_text
from farrail.workbook.workbook import check_references
from tests.reference.rays import conjugate, lens, travel

WORKBOOK = demo_workbook()


def camera_lens(key: str) -> CameraLens:
    part = WORKBOOK.by_id[key]
    assert isinstance(part, CameraLens)
    return part


MACRO, NORMAL = camera_lens("kittiwake-90"), camera_lens("brae-50")
TUBES = (MountedPart(part="tube-35"), MountedPart(part="tube-21"), MountedPart(part="tube-13"))


def readout(
    optic: str,
    *,
    ahead: tuple[MountedPart, ...] = (),
    behind: tuple[MountedPart, ...] = (),
    parts: tuple[Part, ...] = (),
    turned: bool = False,
    **conditions: Any,
) -> Readout:
    shelf = WORKBOOK.by_id | {part.id: part for part in parts}
    train = Train(
        id="t", name="t", optic=optic, front_stack=ahead, rear_train=behind, camera="skua-full",
        optic_reversed=turned, conditions=Conditions(**conditions),
    )  # fmt: skip
    return read(train, shelf)


def ids(read_: Readout) -> set[str]:
    return {finding.id.split(":")[0] for finding in read_.findings}


def test_a_macro_lens_on_tubes_comes_near_two_to_one() -> None:
    """1:1 and 69 mm of tubes on f_eff 70 to 75: 1.9 to 2.0 (common practice, no source); 3.1 and 1.1 stops."""
    close = readout("kittiwake-90", behind=TUBES, f_number=4.0).close_up
    assert close.near.magnification == pytest.approx(1.95172, abs=5e-6)
    assert 1.9 <= close.now.magnification <= 2.0
    assert close.stops_lost == pytest.approx(3.1231, abs=5e-5)
    assert close.stops_against_bare == pytest.approx(1.1231, abs=5e-5)
    assert close.effective_f_number == pytest.approx(4.0 * 2.95172, abs=5e-5)
    # 109.647 mm ahead of the principal plane, taken at the entrance pupil 32 mm behind the thread.
    assert close.now.distance_mm == pytest.approx(109.647 - 32.0, abs=5e-4)
    assert close.subject_to_sensor_mm == pytest.approx(72.5 * (2.0 + 1.951724 + 1.0 / 1.951724), abs=1e-3)


def test_spacing_counts_the_tubes_as_meant() -> None:
    found = readout("kittiwake-90", behind=TUBES)
    assert found.spacing.error_mm == 0.0
    assert found.figures["spacing.required_mm"].value == pytest.approx(113.0)
    assert "35.00 + 21.00 + 13.00 meant" in str(found.figures["spacing.required_mm"].working)
    assert "69.00 mm of extension, as intended" in found.verdict.headline
    assert "spacing.long" not in ids(found)


def test_order_and_gaps_of_close_up_lenses_count() -> None:
    def of(*row: str) -> Any:
        return readout("brae-50", ahead=tuple(MountedPart(part=part) for part in row)).close_up.near

    right, wrong = of("close-up-4", "close-up-1"), of("close-up-1", "close-up-4")
    assert right.magnification != wrong.magnification
    near = near_focus_of(NORMAL, 50.0, 20.0, Origin.ASSUMED, 43.27)
    f, s = near.near_focal_mm, near.principal_mm
    assert s == pytest.approx(20.0 + 50.0 * (1.0 - 1.0 / 1.1))
    rays = (lens(1000.0), travel(5.0), lens(250.0), travel(2.5 + s), lens(f), travel(f * 1.14))
    distance, magnification = conjugate(*rays)
    assert (right.magnification, right.distance_mm + 2.5) == pytest.approx((magnification, distance))


def test_a_teleconverter_with_extension_on_either_side_of_it() -> None:
    converter = WORKBOOK.by_id["brae-converter"]
    assert isinstance(converter, Teleconverter)
    native = 10.0 + 44.0
    diverging = -native / 0.4
    for row, ahead, behind in (
        (("tube-21", "brae-converter"), 21.0, 0.0), (("brae-converter", "tube-21"), 0.0, 21.0),
        (("brae-converter",), 0.0, 0.0), (("tube-13", "brae-converter", "tube-21"), 13.0, 21.0),
    ):  # fmt: skip
        found = readout("kittiwake-90", behind=tuple(MountedPart(part=part) for part in row), f_number=8.0)
        close = found.close_up
        assert found.spacing.error_mm == 0.0
        # The lens at its nearest makes its image f(1 + m0) behind it; the converter is so far before that image.
        seen_by_it = native / 1.4
        rays = (lens(72.5), travel(145.0 + ahead - seen_by_it), lens(diverging), travel(native + behind))
        distance, magnification = conjugate(*rays)
        assert close.near.magnification == pytest.approx(magnification, rel=1e-9), row
        assert close.near.distance_mm == pytest.approx(distance - 32.0, rel=1e-9)
    alone = (MountedPart(part="brae-converter"),)
    assert readout("kittiwake-90", behind=alone).exposure.total_stops == pytest.approx(2.0 * math.log2(1.4))
    nearest = readout("kittiwake-90", behind=alone, focus_mm=145.0)
    assert nearest.exposure.total_stops == pytest.approx(2.0 * math.log2(1.4) + 2.0, abs=1e-6)


def test_a_lens_turned_round_and_one_on_the_front_of_another() -> None:
    ring, tube = MountedPart(part="reverse-52"), MountedPart(part="tube-35")
    found = readout("brae-50", behind=(ring, tube), turned=True, f_number=8.0)
    close = found.close_up
    # The thread faces the camera; principal plane at E + f(1 − 1/p) from it, the sensor 6.5 + 35 + 44 beyond.
    v = 20.0 + 50.0 * (1.0 - 1.0 / 1.1) + 6.5 + 35.0 + 44.0
    distance, magnification = conjugate(lens(50.0), travel(v))
    assert close.now.magnification == pytest.approx(magnification)
    # The subject is f/m and the flange distance before the flange that now faces it.
    assert close.now.distance_mm == pytest.approx(distance - 50.0 + 44.0) == pytest.approx(50.0 / magnification + 44.0)
    assert close.effective_f_number == pytest.approx(8.0 * (1.0 / 1.1 + magnification))
    assert "no required distance" in found.verdict.headline
    assert all(joint.mismatch is None for joint in found.layout.joints)

    coupled = readout("tern-200", ahead=(MountedPart(part="couple-62-52", lens="brae-50"),), focus_mm=1e9, f_number=8.0)
    assert coupled.close_up.far.magnification == pytest.approx(200.0 / 50.0)
    assert coupled.close_up.far.distance_mm == pytest.approx(44.0)
    assert coupled.close_up.far.darker == 1.0
    # Wide open the main lens is wider than the one on its front: 50 mm of pupil against 25.
    wide = readout("tern-200", ahead=(MountedPart(part="couple-62-52", lens="brae-50"),), f_number=4.0)
    assert wide.close_up.far.darker == pytest.approx(2.0)
    assert all(joint.mismatch is None for joint in coupled.layout.joints)


def test_a_lens_without_thread_cannot_be_turned_round() -> None:
    bare = NORMAL.model_copy(update={"id": "bare", "front": None})
    train = WORKBOOK.train("lichen").model_copy(update={"optic": "bare", "optic_reversed": True})
    workbook = WORKBOOK.model_copy(update={"shelf": (*WORKBOOK.shelf, bare), "trains": (train,)})
    with pytest.raises(BadWorkbook, match="no filter thread to be held by"):
        check_references(workbook)
    # Where the thread is taken away later, the lens is as lenses do.
    assert not readout("bare", parts=(bare,), turned=True).layout.reversed


def test_within_its_own_focal_length_nothing_comes_to_a_focus() -> None:
    """A reversed 200 mm lens on a ring of 6.5 mm: v is shorter than f."""
    found = readout("tern-200", behind=(MountedPart(part="reverse-52"),), turned=True)
    assert "closeup.no_focus" in ids(found)
    assert not any(key.startswith("closeup") for key in found.figures)
    assert "add extension" in next(f.reason for f in found.findings if f.id == "closeup.no_focus")


@pytest.mark.parametrize(
    ("before", "after", "within"), [((280.0, 170.0), (160.0, 105.0), 0.06), ((140.0, 260.0), (70.0, 130.0), 0.03)]
)
def test_a_measured_pair_outranks_the_catalogue(
    before: tuple[float, float], after: tuple[float, float], within: float
) -> None:
    """With +4 D a field so wide at such a distance becomes this (common practice, no source; read to ±5 mm)."""
    told = {
        "pair_width_mm": measured(before[0]), "pair_distance_mm": measured(before[1]), "pair_frame_mm": published(36.0),
    }  # fmt: skip
    normal = NORMAL.model_copy(update={"id": "told", **told})
    thin = WORKBOOK.by_id["close-up-4"].model_copy(update={"id": "thin", "path_length_mm": measured(0.0)})
    close = readout("told", ahead=(MountedPart(part="thin"),), parts=(normal, thin)).close_up
    assert close.bare.distance_mm == pytest.approx(before[1])
    assert close.field_mm[0] == pytest.approx(after[0], rel=within)
    assert close.now.distance_mm == pytest.approx(after[1], rel=within)
    # Exactly: 1/d1 = 1/d0 + D and W1 = W0·d1/d0.
    exact = 1.0 / (1.0 / before[1] + 0.004)
    assert close.now.distance_mm == pytest.approx(exact)
    assert close.field_mm[0] == pytest.approx(before[0] * exact / before[1])
    assert close.system is not None
    assert close.system.near.basis is Basis.RULER


def test_where_the_nearest_focus_comes_from() -> None:
    zoom = NORMAL.model_copy(
        update={
            "nearest_mm": None, "nearest_magnification": None, "longest_focal_mm": published(100.0),
            "near_points": (
                NearAt(focal_mm=50.0, nearest_mm=published(400.0), magnification=published(0.15)),
                NearAt(focal_mm=100.0, nearest_mm=assumed(500.0), magnification=published(0.25)),
            ),
        }
    )  # fmt: skip
    middle = near_focus_of(zoom, 75.0, 20.0, Origin.MEASURED, 43.27)
    # Linear in 1/f: two thirds of the way from 1/50 to 1/100.
    m = 0.15 + 0.10 * 2.0 / 3.0
    assert middle.magnification == pytest.approx(m)
    assert middle.near_focal_mm == pytest.approx((400.0 + 100.0 * 2.0 / 3.0) / (2.0 + m + 1.0 / m))
    assert middle.origin is Origin.ASSUMED
    assert near_focus_of(zoom, 40.0, 20.0, Origin.MEASURED, 43.27).magnification == pytest.approx(0.15)
    distance_only = NORMAL.model_copy(update={"nearest_magnification": None, "nearest_mm": published(225.0)})
    assert near_focus_of(distance_only, 50.0, 20.0, Origin.MEASURED, 43.27).magnification == pytest.approx(0.5)
    nothing = NORMAL.model_copy(update={"nearest_magnification": None, "nearest_mm": None})
    told = near_focus_of(nothing, 50.0, 20.0, Origin.MEASURED, 43.27)
    assert (told.magnification, told.origin) == (0.12, Origin.ASSUMED)
    found = readout("plain", parts=(nothing.model_copy(update={"id": "plain"}),), behind=(MountedPart(part="tube-13"),))
    assert "closeup.nearest_assumed" in ids(found)
    absurd = NORMAL.model_copy(update={"hiatus_mm": published(500.0)})
    assert near_focus_of(absurd, 50.0, 20.0, Origin.MEASURED, 43.27).near_focal_mm == 50.0


def test_the_focus_window_and_a_subject_outside_it() -> None:
    inside = readout("kittiwake-90", behind=TUBES, focus_mm=125.0)
    close = inside.close_up
    low, high = close.near.distance_mm, close.far.distance_mm
    assert low < 125.0 - 32.0 < high
    assert close.now.distance_mm == pytest.approx(93.0)
    assert inside.figures["closeup.near_mm"].value == pytest.approx(low)
    assert inside.figures["closeup.far_mm"].value == pytest.approx(high)
    assert high == pytest.approx(90.0 * (1.0 + 90.0 / 69.0) - 32.0)
    for focus, word, end in ((60.0, "nearer", low), (400.0, "farther", high)):
        found = readout("kittiwake-90", behind=TUBES, focus_mm=focus)
        text = next(f.title for f in found.findings if f.id == "closeup.outside_window")
        assert word in text
        assert found.close_up.now.distance_mm == pytest.approx(end)
    bare = readout("kittiwake-90")
    assert math.isinf(bare.close_up.now.distance_mm)
    assert not any(key.startswith("closeup") for key in bare.figures)


def test_depth_of_field_frames_and_sharpest_f_number() -> None:
    """N 4, m 2, c 5 µm, λ 550: N_e 12, .0300 + .0792 mm, step .0819, 61 frames of 5 mm."""
    one = MACRO.model_copy(update={"id": "one", "nearest_mm": None, "focal_length_mm": published(69.0)})
    shelf = (one, ExtensionTube(**_like("tube-35", id="e", path_length_mm=measured(69.0))))
    close = readout(
        "one", behind=(MountedPart(part="e"),), parts=shelf, f_number=4.0, blur_um=5.0, subject_depth_mm=5.0
    ).close_up
    assert close.now.magnification == pytest.approx(2.0)
    assert close.effective_f_number == pytest.approx(12.0)
    assert close.depth is not None
    assert (close.depth.geometric_mm, close.depth.diffraction_mm) == pytest.approx((0.0300, 0.0792))
    plan = close.stack_of_frames(5.0, 0.25)
    assert plan.frames == 61
    assert plan.step_mm == pytest.approx(0.0819)
    # The least of blur² + Airy² over f-numbers, searched.
    n = np.linspace(2.0, 400.0, 400_000)
    blur, airy = 4.0 * 5.0 / (2.0 * n), 2.44 * 550e-6 * n
    assert close.sharpest_f_number == pytest.approx(float(n[np.argmin(blur**2 + airy**2)]) / 3.0, rel=1e-4)
    assert close.diffraction_f_number == pytest.approx(2 * 0.005 / (2.44 * 550e-6) / 3.0)


def _like(part_id: str, **update: Any) -> dict[str, Any]:
    part = WORKBOOK.by_id[part_id].model_copy(update=update)
    return {name: getattr(part, name) for name in type(part).model_fields}


def test_what_the_findings_say() -> None:
    ten = readout("brae-50", ahead=(MountedPart(part="close-up-10x"),))
    label = next(f for f in ten.findings if f.id.startswith("closeup.label"))
    assert "means +10 dioptres, not 10x magnification" in label.title
    gain = ten.close_up.now.magnification / ten.close_up.bare.magnification
    assert f"{gain:.1f} times" in label.reason
    assert "closeup.quality" in ids(ten)
    assert "closeup.quality" not in ids(readout("brae-50", ahead=(MountedPart(part="close-up-4"),)))
    three = tuple(MountedPart(part=f"close-up-{n}") for n in (4, 2, 1))
    assert "closeup.quality" in ids(readout("brae-50", ahead=three))
    assert "closeup.order" not in ids(readout("brae-50", ahead=three))
    assert "closeup.order" in ids(readout("brae-50", ahead=three[::-1]))
    assert "closeup.quality" not in ids(readout("kittiwake-90", ahead=(MountedPart(part="achromat-5"),)))
    crop = readout("brae-50", ahead=(MountedPart(part="close-up-1"),))
    assert "closeup.crop_instead" in ids(crop)
    share = (crop.close_up.bare.magnification / crop.close_up.now.magnification) ** 2
    assert crop.figures["closeup.crop_share"].value == pytest.approx(100.0 * share)


def test_a_hood_in_the_way_and_too_near_to_light() -> None:
    hooded = readout("kittiwake-90", ahead=(MountedPart(part="hood-62"),), behind=TUBES)
    assert "closeup.hood_in_the_way" not in ids(hooded)
    long_hood = Hood(**_like("hood-62", id="long", path_length_mm=measured(90.0)))
    found = readout("kittiwake-90", ahead=(MountedPart(part="long"),), behind=TUBES, parts=(long_hood,))
    assert "closeup.hood_in_the_way" in ids(found)
    near = readout("brae-50", ahead=(MountedPart(part="close-up-10x"),), behind=TUBES)
    assert "closeup.too_near_to_light" in ids(near) or "closeup.no_focus" in ids(near)


def test_the_ladder_has_a_rung_for_focusing_close() -> None:
    exposure = Exposure(readout("kittiwake-90", behind=TUBES, f_number=4.0).layout)
    assert [share_name(share) for share in exposure.shares] == ["Kittiwake 90 mm macro f/2.8, so close"]
    assert exposure.total_stops == pytest.approx(3.1231, abs=5e-5)
    dusk = read(WORKBOOK.train("sea-stacks"), WORKBOOK.by_id)
    assert not any("so close" in share_name(share) for share in dusk.exposure.shares)


def test_bellows_are_laid_as_set_and_light_is_judged_with_the_extension() -> None:
    bellows = MountedPart(part="lantern-bellows", setting_mm=90.0)
    even = MACRO.model_copy(update={"id": "even", "exit_pupil_distance_mm": assumed(90.0)})
    # The lens itself at infinity.
    found = readout("even", behind=(bellows,), parts=(even,), f_number=8.0, focus_mm=1e9)
    assert found.spacing.error_mm == 0.0
    assert found.close_up.far.magnification == pytest.approx(1.0)
    # Twice the f-number, twice the distance: the cone that reaches the sensor.
    assert found.light.pupil.f_number == pytest.approx(16.0)
    assert found.light.pupil.focal_length_mm == pytest.approx(180.0)
    assert found.light.pupil.exit_distance_mm == pytest.approx(180.0)
    beyond = readout("kittiwake-90", behind=(MountedPart(part="lantern-bellows", setting_mm=400.0),))
    assert "spacing.setting" in ids(beyond)


@pytest.mark.parametrize("row", [(), ("tube-35",), ("brae-converter",), ("tube-35", "brae-converter"),
                                 ("brae-converter", "tube-13")])  # fmt: skip
def test_the_cone_at_the_sensor_is_that_of_ray_matrices(row: tuple[str, ...]) -> None:
    """The rim of the exit pupil traced through converter and tubes gives pupil, distance and cone."""
    engraved, native, own = 4.0, 10.0 + 44.0, 80.0
    used = engraved * (1.4 if "brae-converter" in row else 1.0)
    found = readout("kittiwake-90", behind=tuple(MountedPart(part=part) for part in row), f_number=used, focus_mm=1e9)
    pupil, lengths = found.light.pupil, {"tube-35": 35.0, "tube-13": 13.0, "brae-converter": 20.0}
    sensor = 44.0 + sum(lengths[part] for part in row)
    where = 44.0 - own  # of the lens's pupil on the rail, the flange at 0
    rim = own / engraved / 2.0
    if "brae-converter" not in row:
        assert pupil.exit_distance_mm == pytest.approx(sensor - where)
        assert pupil.f_number == pytest.approx((sensor - where) / (2.0 * rim))
        return
    before = 35.0 if row[0] == "tube-35" else 0.0
    thin = before + 10.0
    diverging = -native / 0.4
    # The lens's image is a flange distance behind the converter's front, the front principal plane native/M before.
    first = before + 44.0 - native / 1.4
    ahead = first - where
    image = 1.0 / (1.0 / diverging - 1.0 / ahead)  # of the pupil, behind the converter; negative: before it
    assert pupil.exit_distance_mm == pytest.approx(sensor - thin - image)
    assert pupil.f_number == pytest.approx((sensor - thin - image) / (2.0 * rim * abs(image / ahead)))


@pytest.mark.parametrize(
    ("optic", "ahead", "behind", "focus"),
    [
        ("brae-50", ("close-up-4",), ("tube-13",), None), ("tern-200", ("step-62-52", "close-up-10x"), (), 173.0),
        ("kittiwake-90", ("achromat-5", "hood-62"), ("tube-35",), None), ("kittiwake-90", ("hood-62",), (), 160.0),
        ("kittiwake-90", ("achromat-5", "hood-62"), ("brae-converter",), 150.0),
    ],
)  # fmt: skip
def test_what_stands_ahead_is_seen_along_the_rays_of_the_near_subject(
    optic: str, ahead: tuple[str, ...], behind: tuple[str, ...], focus: float | None
) -> None:
    """Each aperture's edges traced to the pupil from the subject, through the close-up lens if one is between."""
    found = readout(
        optic,
        ahead=tuple(MountedPart(part=p) for p in ahead),
        behind=tuple(MountedPart(part=p) for p in behind),
        focus_mm=focus,
        f_number=8.0,
    )
    close, front = found.close_up, found.front
    depth = found.layout.first_order.entrance_pupil.value
    corner = math.hypot(18.0, 12.0)
    subject_z = found.layout.front_seat_mm - close.system.stack.ahead_mm - close.now.distance_mm  # type: ignore[union-attr]
    subject_h = corner / close.now.magnification
    pupil_z = found.layout.front_seat_mm + depth
    planes = [((p.z_front_mm + p.z_rear_mm) / 2.0, p.part.dioptres.value) for p in found.layout.front
              if isinstance(p.part, CloseUpLens)]  # fmt: skip
    assert len(planes) <= 1
    checked = 0
    for placed, image in zip(front.placed, front.images, strict=True):
        if subject_z > placed.z_mm:
            continue
        for side in (-1.0, 1.0):
            edge = side * placed.diameter.value / 2.0
            # Straight from the subject's corner to the edge, and on; bent where a close-up lens is behind it.
            slope = (edge - subject_h) / (placed.z_mm - subject_z)
            height, z = edge, placed.z_mm
            for plane, power in planes:
                if plane > z + 1e-9:
                    height, z = height + slope * (plane - z), plane
                    slope -= height * power / 1000.0
                elif abs(plane - z) <= 1e-9:
                    slope -= height * power / 1000.0
            if any(plane < placed.z_mm - 1e-9 for plane, _ in planes):
                # Between lens and close-up lens the ray comes as if from the subject's image.
                plane, power = planes[0]
                seen = 1.0 / (1.0 / (plane - subject_z) - power / 1000.0)
                image_h = subject_h * seen / (plane - subject_z)
                slope = (edge - image_h) / (placed.z_mm - (plane - seen))
            at_pupil = height + slope * (pupil_z - z)
            pupil_radius = found.light.pupil.focal_length_mm / (2.0 * found.light.pupil.f_number)
            own = image.radius_mm * side / pupil_radius
            lever = image.distance_mm * corner / found.light.pupil.focal_length_mm / pupil_radius
            # The subject's corner is traced on the upper side; the engine shifts what it sees the other way.
            assert own - lever == pytest.approx(at_pupil / pupil_radius, abs=2e-3)
            checked += 1
    assert checked >= 2


def test_demo_trains_have_every_figure() -> None:
    check_references(WORKBOOK)
    for name in ("lichen", "barnacles"):
        found = read(WORKBOOK.train(name), WORKBOOK.by_id)
        for key in ("magnification", "ratio", "width_mm", "height_mm", "working_distance_mm", "subject_to_sensor_mm",
                    "near_mm", "far_mm", "effective_f_number", "stops_lost", "stops_against_bare", "depth_of_field_mm",
                    "diffraction_f_number", "sharpest_f_number", "pixel_um"):  # fmt: skip
            figure = found.figures[f"closeup.{key}"]
            assert figure.value is not None
            assert not isinstance(figure.value, float) or math.isfinite(figure.value)
            assert figure.working.source
        assert not found.stops


def test_kinds_survive_the_file_and_refuse_what_cannot_be() -> None:
    assert from_data(json.loads(to_text(WORKBOOK)), "the demo") == WORKBOOK
    for dioptres in (0.0, -2.0, 300.0):
        with pytest.raises(ValidationError, match="dioptres is outside"):
            CloseUpLens(**_like("close-up-4", dioptres=published(dioptres)))
    with pytest.raises(ValidationError, match="is outside"):
        ExtensionTube(**_like("tube-35", path_length_mm=measured(-1.0)))
