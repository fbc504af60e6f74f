"""Spacing of placed trains: sums, glass, verdicts, and what they rest on."""

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.glass import PrintedShift
from farrail.parts.kinds.cameras import Camera, Window
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, assumed, measured, published, unknown
from farrail.parts.registers import C_MOUNT_REGISTER_MM, T_MOUNT_REGISTER_MM
from farrail.parts.registry import Part
from farrail.readouts.read import Readout, read
from farrail.readouts.spacing.figure_texts import loosest_name
from farrail.readouts.spacing.grounds import State
from farrail.train.train import MountedPart, Train

SHELF = demo_workbook().by_id


def changed(part_id: str, **fields: object) -> dict[str, Part]:
    """The demo shelf with one part's fields replaced."""
    part = SHELF[part_id]
    return SHELF | {part_id: type(part).model_validate(part.model_copy(update=fields).model_dump())}


def demo_train(train_id: str) -> Train:
    return demo_workbook().train(train_id)


def demo_readout(train_id: str, shelf: dict[str, Part] | None = None) -> Readout:
    return read(demo_train(train_id), shelf or SHELF)


def finding_ids(readout: Readout) -> list[str]:
    return [f.id.split(":")[0] for f in readout.findings]


def test_registers() -> None:
    # C mount: 0.69 inch (ISO 10935, from memory). T mount: 55 mm, common practice, no source.
    assert pytest.approx(17.526) == C_MOUNT_REGISTER_MM
    assert T_MOUNT_REGISTER_MM == 55.0


def test_a_corrector_chain_from_practice() -> None:
    # Common practice, no source: 16.5 + 12 + 19.3 + 6.5 places 54.3 on a 55 mm requirement.
    lengths = (16.5, 12.0, 19.3)
    ring = SHELF["spacer-5"]
    assert isinstance(ring, Spacer)
    shelf = dict(SHELF)
    for number, length in enumerate(lengths):
        update = {"id": f"ring-{number}", "path_length_mm": measured(length)}
        shelf[f"ring-{number}"] = ring.model_copy(update=update)
    shelf["skua-apsc"] = changed("skua-apsc", flange_to_sensor_mm=published(6.5), window=None)["skua-apsc"]
    rows = (MountedPart(part="tern-flattener"), *(MountedPart(part=f"ring-{n}") for n in range(3)))
    spacing = read(Train(id="t", name="t", optic="tern-72", rear_train=rows, camera="skua-apsc"), shelf).spacing
    assert spacing.actual_mm == pytest.approx(54.3)
    assert spacing.error_mm == pytest.approx(-0.7)


def test_the_good_train_lands_and_shows_its_sum() -> None:
    readout = demo_readout("witch-broom")
    spacing = readout.spacing
    assert [line.to_here_mm for line in spacing.lines] == pytest.approx([9.0, 29.5, 38.2, 43.2, 55.7])
    assert spacing.shift_mm == pytest.approx(0.6814, abs=1e-4)  # 2 mm of 1.5168
    assert spacing.required_mm == pytest.approx(55.6814, abs=1e-4)  # 55 plus the glass, never minus
    assert spacing.error_mm == pytest.approx(0.0186, abs=1e-4)
    assert readout.verdict.state is State.GOOD
    figure = readout.figures["spacing.error_mm"]
    assert "55.700 − 55.681" in figure.working.numbers
    assert figure.provenance is Origin.ASSUMED  # the filter's index


def test_a_missing_spacer_is_short_by_its_length_and_stops_the_train() -> None:
    good, short = demo_readout("witch-broom"), demo_readout("witch-broom-short")
    assert good.spacing.error_mm is not None
    assert short.spacing.error_mm == pytest.approx(good.spacing.error_mm - 5.0)
    assert short.verdict.state is State.SHORT
    assert short.figures["spacing.spare_mm"].number == pytest.approx(4.981, abs=1e-3)
    assert short.stops
    assert not good.stops
    assert short.findings[0].id == "spacing.short"


def test_long_and_no_room_are_told_apart() -> None:
    train = demo_train("witch-broom")
    longer = train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part="spacer-12"))})
    assert read(longer, SHELF).verdict.state is State.LONG
    thick = changed("kittiwake-drawer", path_length_mm=published(40.0))
    verdict = read(train, thick).verdict
    assert verdict.state is State.NO_ROOM
    assert "5.82 mm too long" in verdict.detail


def test_a_lens_flange_is_judged_by_side() -> None:
    short = demo_readout("brae-cooled")
    assert short.spacing.error_mm == pytest.approx(-0.6814, abs=1e-4)
    assert short.verdict.state is State.GOOD
    assert not short.stops
    adapter = published(12.1814)
    long = demo_readout("brae-cooled", changed("slr44-42", path_length_mm=adapter))
    assert long.spacing.error_mm == pytest.approx(0.5, abs=1e-4)
    assert long.verdict.state is State.NO_ROOM  # no spacer to take out
    assert "infinity is lost" in long.verdict.headline
    assert long.figures["spacing.farthest_focus_mm"].number / 1000 == pytest.approx(14.45, rel=1e-3)


def test_glass_is_counted_once_and_only_behind_the_datum() -> None:
    window = SHELF["skua-apsc"]
    assert isinstance(window, Camera)
    assert window.window is not None
    base = demo_readout("witch-broom").spacing.shift_mm
    counted = changed("skua-apsc", window=window.window.model_copy(update={"allowed_for": False}))
    grown = demo_readout("witch-broom", counted).spacing
    assert grown.shift_mm == pytest.approx(base + 1.5 * (1 - 1 / 1.5168))
    credit = changed("tern-flattener", included_glass=PrintedShift(focus_shift_mm=published(0.3)))
    assert demo_readout("witch-broom", credit).spacing.shift_mm == pytest.approx(base - 0.3)
    ahead = demo_train("witch-broom")
    before = ahead.model_copy(update={"rear_train": (MountedPart(part="clear-36"), *ahead.rear_train)})
    assert read(before, SHELF).spacing.shift_mm == pytest.approx(base)


def test_every_filter_of_a_wheel_has_its_error() -> None:
    readout = demo_readout("lantern-wheel")
    errors = {f.part: f.error_mm for f in readout.spacing.filters}
    assert len(errors) == 7
    assert errors["luminance-31"] == pytest.approx(readout.spacing.error_mm)
    assert errors["hydrogen-31"] - errors["luminance-31"] == pytest.approx(-(1 - 1 / 1.5168))
    assert "spacing.filter_leaves_tolerance" in finding_ids(readout)


def test_an_unknown_length_is_judged_at_its_worst_end() -> None:
    near = demo_readout("witch-broom", changed("spacer-5", path_length_mm=unknown(4.9, 5.1)))
    assert near.spacing.error_range_mm == pytest.approx((-0.0814, 0.1186), abs=1e-4)
    assert near.verdict.state is State.GOOD
    figure = near.figures["spacing.error_mm"]
    assert (figure.low, figure.high) == near.spacing.error_range_mm
    wide = demo_readout("witch-broom", changed("spacer-5", path_length_mm=unknown(4.0, 5.6)))
    assert wide.verdict.state is State.SHORT
    assert "at its worst end" in wide.verdict.headline


def test_an_assumed_value_that_decides_is_named() -> None:
    decided = demo_readout("witch-broom", changed("spacer-5", path_length_mm=assumed(5.0)))
    harmless = demo_readout("witch-broom", changed("spacer-5", path_length_mm=assumed(5.0, tolerance=0.1)))
    assert "spacing.assumed_decides" in finding_ids(decided)
    assert "spacing.assumed_decides" not in finding_ids(harmless)
    assert next(f for f in decided.findings if f.id == "spacing.assumed_decides").part == "spacer-5"


def test_published_figures_that_disagree_are_shown_as_a_band() -> None:
    readout = demo_readout("witch-broom")
    assert "spacing.published_disagree" in finding_ids(readout)
    flattener = SHELF["tern-flattener"]
    assert isinstance(flattener, Corrector)
    other = demo_readout("witch-broom", changed("tern-flattener", back_focus_mm=flattener.back_focus_mm.choosing(1)))
    assert other.spacing.required_mm == pytest.approx(55.9314, abs=1e-4)


def test_a_corrector_may_have_a_requirement_of_its_own() -> None:
    shelf = changed(
        "tern-flattener", telescope_distance_mm=published(12.0), telescope_tolerance_mm=published(1.0)
    )  # fmt: skip
    readout = demo_readout("witch-broom", shelf)
    assert readout.spacing.telescope_error_mm == pytest.approx(-12.0)
    assert "spacing.telescope_to_corrector" in finding_ids(readout)
    assert readout.figures["spacing.telescope_error_mm"].number == pytest.approx(-12.0)


def test_a_camera_whose_maker_is_silent_is_told() -> None:
    assert "spacing.window_silent" in finding_ids(demo_readout("lantern-wheel"))
    camera = SHELF["skua-four-thirds"]
    assert isinstance(camera, Camera)
    assert isinstance(camera.window, Window)


def test_an_adjustable_spacer_takes_its_setting_from_the_train() -> None:
    train = demo_train("witch-broom-short")
    for setting, length in ((None, 10.0), (12.34, 12.34), (99.0, 15.0)):
        row = (*train.rear_train, MountedPart(part="helix-13", setting_mm=setting))
        readout = read(train.model_copy(update={"rear_train": row}), SHELF)
        assert readout.spacing.lines[-2].length.value == pytest.approx(length)
        assert ("spacing.setting" in finding_ids(readout)) == (setting == 99.0)


@pytest.mark.parametrize("missing", ["camera", "requirement"])
def test_what_cannot_be_judged_is_said(missing: str) -> None:
    update: dict[str, object] = {"camera": None} if missing == "camera" else {"rear_train": ()}
    readout = read(demo_train("witch-broom").model_copy(update=update), SHELF)
    assert readout.verdict.state is State.UNJUDGED
    assert "spacing.not_judged" in finding_ids(readout)
    assert "spacing.error_mm" not in readout.figures


def test_provenance_of_a_quantity() -> None:
    quantity = Quantity(readings=(Reading(value=16.5, origin=Origin.PUBLISHED, note="manual"),))
    measured_now = quantity.with_reading(Reading(value=16.46, origin=Origin.MEASURED, tolerance=0.02))
    assert measured_now.value == 16.46
    assert measured_now.readings[0].note == "manual"  # the published figure stays beside it
    again = measured_now.with_reading(Reading(value=16.47, origin=Origin.MEASURED))
    assert [r.value for r in again.readings] == [16.5, 16.47]
    assert again.choosing(0).origin is Origin.PUBLISHED


def test_the_lens_kind_carries_its_flange_and_pupil() -> None:
    lens = SHELF["brae-85"]
    assert isinstance(lens, CameraLens)
    assert read(demo_train("brae-cooled"), SHELF).layout.front_seat_mm == -lens.barrel_length_mm


def test_measure_first_names_what_a_monte_carlo_finds() -> None:
    readout = demo_readout("lantern-wheel", changed("kittiwake-wheel", path_length_mm=published(18.6, 0.3)))
    assert readout.spacing.loosest is not None
    assert readout.spacing.loosest.part == "kittiwake-wheel"
    assert readout.figures["spacing.measure_first"].shown == "length of Seven-slot wheel"
    # Each input drawn from its tolerance: the one whose draws go with the sum's most is the one to measure.
    halves = np.array(readout.spacing.tolerances_mm)
    draws = np.random.default_rng(3).uniform(-halves, halves, (50_000, len(halves)))
    total = draws.sum(axis=1)
    shares = [0.0 if h == 0 else float(np.corrcoef(draws[:, i], total)[0, 1]) for i, h in enumerate(halves)]
    assert halves[int(np.argmax(shares))] == readout.spacing.loosest.half_width_mm


def test_measure_first_counts_unknown_spans_and_disagreeing_figures() -> None:
    spacing = demo_readout("witch-broom", changed("spacer-5", path_length_mm=unknown(4.5, 5.5))).spacing
    assert spacing.loosest is not None
    assert spacing.loosest.part == "spacer-5"
    plain = demo_readout("witch-broom").spacing
    assert plain.loosest is not None
    assert (loosest_name(plain.loosest), plain.loosest.half_width_mm) == ("back focus", 0.125)  # half of 55.00 to 55.25
