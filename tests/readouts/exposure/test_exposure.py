"""The ladder of stops: densities add, a graduated filter counts by its clear part, and time follows."""

import math

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, EditRefused
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.origin import Origin
from farrail.parts.provenance import measured, published
from farrail.readouts.exposure.figure_texts import payment_words
from farrail.readouts.exposure.figures import exposure_figures
from farrail.readouts.exposure.model import Compensation, Exposure
from farrail.readouts.read import read
from farrail.train.train import MountedPart
from farrail.workbook.edits.trains import SetMetered
from farrail.workbook.workbook import Workbook


def exposure_of(workbook: Workbook, train: str = "sea-stacks") -> Exposure:
    return read(workbook.train(train), workbook.by_id).exposure


def with_part(workbook: Workbook, part: RoundFilter | SheetFilter) -> Workbook:
    return workbook.model_copy(update={"shelf": tuple(part if p.id == part.id else p for p in workbook.shelf)})


def test_the_ladder_runs_from_the_scene_to_the_sensor_and_adds_up() -> None:
    exposure = exposure_of(demo_workbook())
    assert [r.part.id for r in exposure.shares] == ["polariser-105", "soft-0-9", "solid-3-0", "protection-82"]
    # D 3.0 is 9.97 stops by definition; a polariser is assumed to take 1.5.
    assert exposure.total_stops == pytest.approx(9.9658 + 1.5, abs=1e-4)
    assert exposure.sky_stops == pytest.approx(2.9897, abs=1e-4)
    assert exposure.origin is Origin.ASSUMED
    # 1/15 s stands for 1/16 s.
    assert exposure.time_s == pytest.approx(2.0 ** (9.9658 + 1.5 - 4.0), rel=1e-4)
    assert exposure.by_hand


def test_what_is_dropped_in_stands_behind_the_sheets() -> None:
    exposure = exposure_of(demo_workbook(), "sea-stacks-slim")
    assert [r.part.id for r in exposure.shares] == ["soft-0-9", "solid-3-0", "polariser-86"]


def test_a_measured_filter_outranks_its_label() -> None:
    workbook = demo_workbook()
    solid = workbook.by_id["solid-3-0"]
    assert isinstance(solid, SheetFilter)
    own = solid.model_copy(update={"density": measured(3.2)})
    exposure = exposure_of(with_part(workbook, own))
    share = next(r for r in exposure.shares if r.part.id == "solid-3-0")
    assert share.stops == pytest.approx(3.2 * 3.32193, abs=1e-4)
    assert share.origin is Origin.MEASURED


def test_a_grey_round_filter_counts_and_a_narrow_passband_does_not() -> None:
    workbook = demo_workbook()
    protection = workbook.by_id["protection-82"]
    assert isinstance(protection, RoundFilter)
    assert exposure_of(workbook).shares[-1].stops == 0.0
    grey = exposure_of(with_part(workbook, protection.model_copy(update={"density": published(0.9)})))
    assert grey.shares[-1].stops == pytest.approx(2.99, abs=5e-3)
    dense = with_part(workbook, protection.model_copy(update={"density": published(3.0)}))
    only = dense.train("sea-stacks").model_copy(update={"front_stack": (MountedPart(part="protection-82"),)})
    assert "Protection 82 is no solar filter." in [f.title for f in read(only, dense.by_id).findings]
    narrow = protection.model_copy(update={"line_nm": published(656.3), "passband_nm": published(6.0)})
    assert exposure_of(with_part(workbook, narrow)).shares[-1].stops is None


def test_every_way_to_pay_pays_the_same() -> None:
    exposure = exposure_of(demo_workbook())
    ways = {way.way: way for way in exposure.payments()}
    gain = 2.0**exposure.total_stops
    assert payment_words(ways[Compensation.TIME]) == ("Time", "1/15 s", "2 min 57 s")
    assert ways[Compensation.SENSITIVITY].after == pytest.approx(100.0 * gain)
    assert ways[Compensation.FLASH_POWER].after == pytest.approx(gain)
    assert float(payment_words(ways[Compensation.SENSITIVITY])[2].replace(" ", "")) == pytest.approx(
        100.0 * gain, rel=5e-3
    )
    # f/8 can be opened to the lens's f/2.8, three stops, and no further.
    assert payment_words(ways[Compensation.APERTURE])[2] == "beyond f/2.8"


def test_a_few_stops_are_paid_with_the_aperture() -> None:
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    only = train.model_copy(update={"front_stack": (MountedPart(part="polariser-105"),)})
    ways = {way.way: way for way in read(only, workbook.by_id).exposure.payments()}
    aperture = ways[Compensation.APERTURE].after
    assert aperture is not None
    assert ways[Compensation.APERTURE].reached
    assert (8.0 / aperture) ** 2 == pytest.approx(2.0**1.5, rel=0.04)


def test_figures_carry_their_working_and_a_bare_train_has_none() -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("sea-stacks"), workbook.by_id)
    total = readout.figures["exposure.total_stops"]
    assert total.number == pytest.approx(11.4658, abs=1e-4)
    assert "1.50 + 0.00 + 9.97 + 0.00 = 11.47" in total.working.numbers
    assert readout.figures["exposure.time_s"].number == pytest.approx(176.7, abs=0.1)
    bare = workbook.train("sea-stacks").model_copy(update={"front_stack": ()})
    assert not list(exposure_figures(read(bare, workbook.by_id).exposure))


def test_a_time_beyond_a_day_is_told_and_its_figure_left_out() -> None:
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    dark = SetMetered(train.id, 3600.0, None).apply(workbook)
    readout = read(dark.train(train.id), dark.by_id)
    with pytest.raises(BadInput, match="hours"):
        readout.exposure.payments()
    assert "exposure.time_s" not in readout.figures
    assert "exposure.total_stops" in readout.figures


def test_iso_is_kept_or_refused() -> None:
    workbook = demo_workbook()
    kept = SetMetered("sea-stacks", 0.5, 64.0).apply(workbook)
    assert exposure_of(kept).payments()[1].before == 64.0
    with pytest.raises(EditRefused, match="ISO 0"):
        SetMetered("sea-stacks", 0.5, 0.0).apply(workbook)


def test_a_filter_laid_behind_the_optic_counts_too() -> None:
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    rear = train.model_copy(update={"rear_train": (MountedPart(part="polariser-86"),), "front_stack": ()})
    assert read(rear, workbook.by_id).exposure.total_stops == pytest.approx(1.5)


def test_a_grey_filter_and_polariser_in_one_take_both_shares() -> None:
    workbook = demo_workbook()
    both = workbook.by_id["polariser-86"].model_copy(update={"density": published(1.8)})
    shelf = workbook.by_id | {"polariser-86": both}
    shares = {share.part.id: share for share in read(workbook.train("sea-stacks-slim"), shelf).exposure.shares}
    assert shares["polariser-86"].stops == pytest.approx(1.8 / math.log10(2.0) + 1.5)
    assert shares["polariser-86"].origin is Origin.ASSUMED
