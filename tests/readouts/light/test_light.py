"""Light of placed trains, its findings, and joints."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.connections import Gender, default_clear_diameter_mm, thread, why_not
from farrail.parts.fields import Shape, offered_fields
from farrail.parts.in_beam import ApertureRole
from farrail.parts.inventory_item import Status
from farrail.parts.origin import Origin
from farrail.parts.provenance import measured, unknown
from farrail.parts.written_ends import parse_connection_cell
from farrail.planning.fitting import fits_at
from farrail.readouts.finding import Severity
from farrail.readouts.names import mismatch_phrase
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Side, Train
from tests.readouts.spacing.test_spacing import SHELF, changed, demo_readout, demo_train, finding_ids


def said(readout: Readout, start: str) -> str:
    return next(f.title for f in readout.findings if f.id.startswith(start))


def test_distances_are_reduced_by_glass_behind_the_aperture() -> None:
    readout = demo_readout("witch-broom")
    first = next(c for c in readout.light.clearances if c.placed.part.id == "ring-48-42")
    # 55.7 placed, less the shift of the 2 mm filter and the 1.5 mm window between it and the sensor.
    shift = 3.5 * (1 - 1 / 1.5168)
    assert first.distance_mm == pytest.approx(55.7 - shift, abs=1e-6)
    last = readout.light.clearances[-1]
    assert last.distance_mm == pytest.approx(12.5 - 1.5 * (1 - 1 / 1.5168), abs=1e-6)


def test_the_clean_train_says_so_with_margins() -> None:
    readout = demo_readout("witch-broom")
    assert readout.figures["light.corner_ri"].value == 1.0
    assert readout.figures["light.limiting_part"].shown == "none"
    assert "ample: 2.8 mm" in said(readout, "light.filter_ample")


def test_the_larger_sensor_is_clipped_by_the_filter_first() -> None:
    readout = demo_readout("lantern-apsc")
    light = readout.light
    assert light.limiting is not None
    assert light.limiting.placed.part.id == "luminance-31"
    assert readout.figures["light.limiting_part"].value == "Luminance 31"
    assert readout.figures["light.corner_stops"].number == pytest.approx(0.66, abs=0.01)
    clipping = [c for c in light.clearances if c.clips and c.placed.passes is None]
    # The ledge is at the filter: alone it takes less, and nothing after the filter.
    assert [c.placed.role for c in clipping] == [ApertureRole.SEAT, ApertureRole.IN_BEAM]
    assert light.last[light.clearances.index(clipping[0])] == pytest.approx(0.0, abs=1e-4)
    heights, ri = light.profile
    assert ri[heights < clipping[1].onset_mm - 0.3].min() == pytest.approx(1.0)
    assert light.map(24, 16)[0, 0] < 0.8 < light.map(24, 16)[8, 12]


def test_an_unknown_seat_is_fine_or_decides() -> None:
    fine = demo_readout("lantern-wheel")
    assert "large enough wherever the filter sits" in said(fine, "light.place_harmless:luminance")
    figure = next(f for key, f in fine.figures.items() if "luminance" in key and key.startswith("light.needed"))
    assert figure.low is not None
    assert figure.high is not None
    assert figure.low < figure.high
    deciding = demo_readout("lantern-wheel", changed("luminance-31", clear_aperture_mm=measured(27.2)))
    assert "depends on where it sits: measure this" in said(deciding, "light.place_decides:luminance")
    flat = changed("kittiwake-wheel", seat_mm=measured(9.0))
    assert not any("light.place" in f.id for f in demo_readout("lantern-wheel", flat).findings)


def test_turning_a_wheel_moves_its_seat() -> None:
    shelf = changed("kittiwake-drawer", seat_mm=measured(5.0))
    train = demo_train("witch-broom")
    row = list(train.rear_train)
    row[2] = row[2].model_copy(update={"flipped": True})
    straight = read(train, shelf).light
    turned = read(train.model_copy(update={"rear_train": tuple(row)}), shelf).light
    place = {
        n: next(o for o in light.placed if o.role is ApertureRole.IN_BEAM).z_mm
        for n, light in (("s", straight), ("t", turned))
    }
    assert place["s"] == pytest.approx(9.0 + 5.0)
    assert place["t"] == pytest.approx(29.5 - 5.0 - 2.0)  # the surface that faces the light, one thickness on


def test_unknown_clear_apertures_take_the_thread_and_are_marked() -> None:
    # ISO 68-1 (from memory): M42×0.75 internal has a minor diameter of 42 − 1.0825·0.75.
    inside = thread(42, 0.75, Gender.INTERNAL)
    assert default_clear_diameter_mm(inside) == pytest.approx(41.188, abs=1e-3)
    shelf = changed("spacer-5", clear_aperture_mm=None)
    image = next(c for c in demo_readout("witch-broom", shelf).light.clearances if c.placed.part.id == "spacer-5")
    assert image.placed.diameter.origin is Origin.ASSUMED


def test_a_filter_on_the_front_of_a_lens_is_judged_there() -> None:
    ring = SHELF["spacer-5"]
    collar = thread(67, 0.75, Gender.EXTERNAL)
    front = ring.model_copy(
        update={"id": "collar", "front": thread(67, 0.75, Gender.INTERNAL), "rear": collar,
                "clear_aperture_mm": measured(40.0), "path_length_mm": measured(10.0)}
    )  # fmt: skip
    shelf = SHELF | {"collar": front}
    train = demo_train("brae-cooled").model_copy(update={"front_stack": (MountedPart(part="collar"),)})
    readout = read(train, shelf)
    placed = readout.layout.front[0]
    assert (placed.z_front_mm, placed.z_rear_mm) == (-88.0, -78.0)
    needed = [c for c in readout.light.clearances if c.placed.side is Side.FRONT]
    # f/N + 2x·h/f with x = E + z: 85/2.8 + 2·(34 + 10)·14.13/85
    assert needed[0].needed_mm == pytest.approx(85 / 2.8 + 2 * 44 * 14.1307 / 85, abs=1e-3)
    assert not [j for j in readout.layout.joints if j.mismatch]


def test_a_flipped_part_breaks_its_joints_and_says_why() -> None:
    train = demo_train("witch-broom")
    row = list(train.rear_train)
    row[1] = row[1].model_copy(update={"flipped": True})
    readout = read(train.model_copy(update={"rear_train": tuple(row)}), SHELF)
    wrong = [j for j in readout.layout.joints if j.mismatch is not None]
    assert [j.index for j in wrong] == [1, 2]
    assert finding_ids(readout).count("joint.mismatch") == 2
    assert readout.stops
    assert wrong[0].mismatch is not None
    assert "diameters differ" in mismatch_phrase(wrong[0].mismatch)


def test_threads_mate_by_diameter_pitch_and_gender() -> None:
    male, female = thread(42, 0.75, Gender.EXTERNAL), thread(42, 0.75, Gender.INTERNAL)
    assert why_not(male, female) is None
    other, same = why_not(male, thread(42, 1.0, Gender.INTERNAL)), why_not(male, male)
    assert other is not None
    assert same is not None
    assert "pitches differ" in mismatch_phrase(other)
    assert "one must be external" in mismatch_phrase(same)
    assert parse_connection_cell("m54X0,75  external") == thread(54, 0.75, Gender.EXTERNAL)


def test_a_shim_lets_the_thread_through() -> None:
    train = demo_train("witch-broom")
    row = (*train.rear_train[:4], MountedPart(part="shim-0-5"), *train.rear_train[4:])
    layout = read(train.model_copy(update={"rear_train": row}), SHELF).layout
    assert not [j for j in layout.joints if j.mismatch]
    bad = (*train.rear_train[:1], MountedPart(part="shim-0-5"), *train.rear_train[2:])
    wrong = [j for j in read(train.model_copy(update={"rear_train": bad}), SHELF).layout.joints if j.mismatch]
    assert len(wrong) == 1
    assert wrong[0].mismatch is not None
    assert "M48×0.75" in mismatch_phrase(wrong[0].mismatch)


def test_using_more_than_is_owned_is_a_finding() -> None:
    train = demo_train("witch-broom")
    twice = train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part="spacer-5"))})
    readout = read(twice, SHELF)
    found = next(f for f in readout.findings if f.id == "shelf.used_more_than_owned:spacer-5")
    assert found.severity is Severity.LOOK
    assert "used 2×" in found.title


def test_a_lost_part_is_told_and_not_offered() -> None:
    shelf = changed("spacer-5", status=Status.LOST)
    assert "shelf.not_at_hand" in finding_ids(demo_readout("witch-broom", shelf))
    train = demo_train("witch-broom-short")
    assert "spacer-5" not in [f.part.id for f in fits_at(train, shelf, Side.REAR, len(train.rear_train))]


def test_the_shelf_at_a_joint_lists_what_mates_with_the_error_it_leaves() -> None:
    train = demo_train("witch-broom-short")
    fits = fits_at(train, SHELF, Side.REAR, len(train.rear_train))
    assert fits[0].part.id == "spacer-5"
    assert fits[0].error_mm == pytest.approx(0.0186, abs=1e-4)
    names = {f.part.id for f in fits}
    assert "ring-48-48" not in names
    assert "kittiwake-drawer" not in names  # the only one is in use
    for fit in fits:
        row = (*train.rear_train, MountedPart(part=fit.part.id, flipped=fit.flipped))
        laid = read(train.model_copy(update={"rear_train": row}), SHELF)
        assert not [j for j in laid.layout.joints if j.mismatch]
        assert laid.spacing.error_mm == pytest.approx(fit.error_mm)


def test_the_shelf_in_a_parts_place_keeps_its_filters() -> None:
    train = demo_train("witch-broom")
    spare = SHELF["kittiwake-drawer"].model_copy(update={"id": "spare-drawer", "name": "Spare drawer"})
    fits = {f.part.id: f for f in fits_at(train, SHELF | {"spare-drawer": spare}, Side.REAR, 2, instead=True)}
    assert fits["spare-drawer"].error_mm == pytest.approx(0.0186, abs=1e-4)  # the same glass in the beam
    # Without the drawer its glass is gone as well: 20.5 mm and 0.68 mm less.
    assert fits["spacer-20"].error_mm == pytest.approx(0.0186 - 0.5 + 0.6814, abs=1e-3)


def test_values_of_every_kind_are_found_for_the_part_sheet() -> None:
    for part in SHELF.values():
        fields = [one.field for one in offered_fields(part) if one.field.shape is Shape.QUANTITY]
        assert len({f.path for f in fields}) == len(fields) > 0
        for field in fields:
            bare = "index" in field.path or field.path in ("f_number", "near_f_number", "density", "pupil_ratio")
            unit = {
                "pixel_size_um": "µm", "line_nm": "nm", "passband_nm": "nm", "dioptres": "dpt", "factor": "×",
                "nearest_magnification": "×", "distortion_percent": "%", "corner_loss_stops": "stops",
                "polariser_stops": "stops", "reduction_factor": "×", "most_tilt_deg": "°",
            }.get(field.path, "mm")  # fmt: skip
            assert field.unit == ("" if bare else unit)
    camera = {one.field.path for one in offered_fields(SHELF["skua-apsc"])}
    assert {"flange_to_sensor_mm", "window.glass.thickness_mm", "window.sensor_gap_mm"} <= camera


def test_a_train_of_unknown_places_still_gives_figures() -> None:
    shelf = changed("kittiwake-wheel", path_length_mm=unknown(18.0, 19.0), seat_mm=unknown(0.0, 18.0))
    readout = demo_readout("lantern-wheel", shelf)
    assert readout.figures["light.corner_ri"].provenance is Origin.ASSUMED


def test_every_demo_train_reads_without_a_gap() -> None:
    for train in demo_workbook().trains:
        assert isinstance(train, Train)
        for figure in read(train, SHELF).figures.values():
            assert figure.shown not in (None, "", "–")
            assert figure.working.formula
            assert figure.working.source
            assert figure.value == figure.value, figure.id  # not NaN


def test_a_cell_that_does_not_go_into_its_seat_is_refused_with_both_numbers() -> None:
    train = demo_train("lantern-wheel")
    assert "joint.filter_cell" not in finding_ids(read(train, SHELF))
    row = list(train.rear_train)
    row[-1] = row[-1].model_copy(update={"filters": ("dual-band-36", *row[-1].filters[1:])})
    wide = read(train.model_copy(update={"rear_train": tuple(row)}), SHELF)
    found = next(f for f in wide.findings if f.id == "joint.filter_cell:3.1.wide")
    assert found.severity is Severity.STOP
    assert "36.00 mm and the seat accepts 31.20 mm" in found.reason
    thin = changed("kittiwake-drawer", seat_thickness_mm=measured(1.5))
    thick = [f for f in demo_readout("witch-broom", thin).findings if f.id.startswith("joint.filter_cell")]
    assert [(f.part, "too thick" in f.title) for f in thick] == [("dual-band-36", True)]
