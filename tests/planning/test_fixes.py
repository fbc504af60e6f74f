"""Fixes for dark corners with gear of a newcomer: usual sizes only, one lens, nothing better on the shelf."""

import math

import numpy as np
import pytest
from tests.readouts.front.test_front import lens, stack

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.connections import Gender, thread
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.filters import SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import measured
from farrail.parts.registry import Part, usual_sizes
from farrail.planning.remedies import Remedy, remedies_for
from farrail.readouts.front.model import Front
from farrail.readouts.light.own_glass import assumed_walk_mm
from farrail.readouts.read import read
from farrail.train.layout import build_layout
from farrail.train.rows import Shelf, with_parts
from farrail.train.train import MountedPart
from farrail.workbook.edits.front import LayStack
from farrail.workbook.workbook import empty_workbook

OWNED = {"status": Status.OWNED, "owned": 1}
POINTS = np.arange(4000) + 0.5


def ready(key: str, **more: object) -> Part:
    found = next(u.part for u in usual_sizes() if u.part.id == key)
    return found.model_copy(update={**OWNED, **more})


def on_lens(*keys: str | MountedPart, more: tuple[Part, ...] = (), focal: float = 18.0) -> tuple[Remedy, ...]:
    """The fixes of a 16-40 mm lens with an M77 filter thread and these on it."""
    row = tuple(MountedPart(part=key) if isinstance(key, str) else key for key in keys)
    known = {part.id for part in more}
    parts = (*more, *(ready(laid.part) for laid in row if laid.part not in known))
    own = lens(16.0, 40.0, 30.0).model_copy(update={"front": thread(77.0, 0.75, Gender.INTERNAL)})
    found = stack(*row, parts=parts, on=own, focal=focal)
    return remedies_for(found.layout.train, found.layout.parts)


def left_by_rays(focal_mm: float, f_number: float, half_mm: float, openings: list[tuple[float, float]]) -> float:
    """The share of the corner's bundle, against the axis, through round openings at places ahead of the pupil."""
    radius = focal_mm / f_number / 2.0
    r, turn = np.sqrt(POINTS / POINTS.size) * radius, POINTS * 2.39996323
    x, y = r * np.cos(turn), r * np.sin(turn)
    shares = []
    for height in (half_mm, 0.0):
        passes = np.ones(POINTS.size, dtype=bool)
        for ahead, clear in openings:
            passes &= np.hypot(x + ahead * height / focal_mm, y) <= clear / 2.0
        shares.append(float(passes.mean()))
    return shares[0] / shares[1]


def openings_of(remedy: Remedy, shelf: Shelf) -> list[tuple[float, float]]:
    """Every round opening ahead of the lens, from its place on the rail: distance from the pupil, clear diameter."""
    readout = read(remedy.train, shelf)
    seat = readout.layout.front_seat_mm
    return [(30.0 + seat - one.z_mm, one.diameter.value) for one in readout.front.placed]


POLARISER = ready(
    "ready-screw-filter-77", id="polariser", name="Polariser", polariser=True, path_length_mm=measured(12.0),
    front=thread(77.0, 0.75, Gender.INTERNAL),
)  # fmt: skip
HOOD = ready(
    "ready-hood-77-20", id="hood", name="Hood", path_length_mm=measured(20.0), clear_aperture_mm=measured(88.0)
)


def test_a_newcomer_s_polariser_and_hood_have_every_kind_of_fix() -> None:
    found = on_lens("polariser", "hood", more=(POLARISER, HOOD))
    words = [one.words for one in found if one.helps]
    for beginning in ("take Hood off", "take Polariser off", "crop to ", "zoom to "):
        assert any(one.startswith(beginning) for one in words), (beginning, words)
    alone = on_lens("polariser", more=(POLARISER,))
    wider = [one for one in alone if "instead of Polariser" in one.words and one.helps]
    assert wider
    assert all(one.to_buy and one.cost is None and one.change.bought for one in wider)
    assert all(one.change.loses for one in found if one.words.startswith(("crop", "zoom", "stop", "take")))


def test_a_step_ring_and_a_holder_with_empty_slots_are_named() -> None:
    sheets = (u.part for u in usual_sizes() if isinstance(u.part, SheetFilter))
    sheet = next(one for one in sheets if one.width_mm.value == 100.0)
    holder = MountedPart(part="ready-holder-100-3", filters=(sheet.id, None, None))
    found = on_lens(
        "ready-step-77-82", "ready-holder-ring-100-82-standard", holder,
        more=(ready("ready-step-77-82"), ready("ready-holder-ring-100-82-standard"), ready(holder.part),
              ready(sheet.id)), focal=16.0,
    )  # fmt: skip
    words = [one.words for one in found if one.helps]
    assert any("without a step ring" in one for one in words), words
    assert any("1 slot instead" in one or "2 slots instead" in one for one in words), words
    assert any("wide-angle" in one for one in words), words
    fewer = next(one for one in found if "1 slot instead" in one.words)
    assert fewer.change.loses == "2 empty slots"


def test_crop_zoom_and_stop_are_what_rays_say() -> None:
    """A round opening 62 mm wide, 40 mm ahead of the thread: the corner's bundle ray by ray."""
    tube = ready("ready-hood-77-40", id="tube", name="Tube", path_length_mm=measured(40.0),
                 clear_aperture_mm=measured(96.0))  # fmt: skip
    found = on_lens("tube", more=(tube,), focal=18.0)
    half = math.hypot(36.0, 24.0) / 2.0
    own = lens(16.0, 40.0, 30.0).model_copy(update={"front": thread(77.0, 0.75, Gender.INTERNAL)})
    readout = stack("tube", parts=(tube,), on=own, focal=18.0)
    shelf = readout.layout.parts
    by_kind = {one.words.split(" ")[0]: one for one in found}
    assert {"crop", "zoom", "take"} <= set(by_kind)
    assert readout.front.corner_stops > 0.1
    crop = by_kind["crop"].change.crop
    for kind, share in (("crop", crop), ("zoom", 1.0)):
        used = by_kind[kind].train.conditions
        left = left_by_rays(
            used.focal_mm or 18.0, readout.front.f_number, half * share, openings_of(by_kind[kind], shelf)
        )
        assert left == pytest.approx(2.0 ** -by_kind[kind].corner_stops, abs=0.01)
        assert -math.log2(left) <= 0.1 + 0.01
    wider = left_by_rays(18.0, readout.front.f_number, half * (crop + 0.02), openings_of(by_kind["crop"], shelf))
    assert -math.log2(wider) > 0.1
    assert by_kind["take"].first_clean_mm == 16.0


def test_applying_a_fix_is_one_edit_with_what_must_be_bought_and_how_it_is_used() -> None:
    found = on_lens("polariser", "hood", more=(POLARISER, HOOD))
    own = lens(16.0, 40.0, 30.0).model_copy(update={"front": thread(77.0, 0.75, Gender.INTERNAL)})
    readout = stack("polariser", "hood", parts=(POLARISER, HOOD), on=own, focal=18.0)
    shelf = tuple(readout.layout.parts.values())
    workbook = empty_workbook().model_copy(update={"shelf": shelf, "trains": (readout.layout.train,)})
    for remedy in found:
        if remedy.change.crop < 1.0:
            continue
        train = readout.layout.train.id
        edit = LayStack(train, remedy.train.front_stack, remedy.change.bought, remedy.train.conditions)
        then = edit.apply(workbook)
        laid = read(then.train(train), then.by_id)
        assert len(then.shelf) == len(shelf) + len(remedy.change.bought)
        if then.train(train).front_stack:
            assert laid.front.corner_stops == pytest.approx(remedy.corner_stops)
            assert laid.front.depth_mm == pytest.approx(remedy.depth_mm)


def test_a_fix_says_between_which_focal_lengths_it_frees_while_the_pupil_is_assumed() -> None:
    """Pupils drawn from 10 % shallower to 10 % deeper, as the assumption allows: each first clean one is in between."""
    book = demo_workbook()
    train = book.train("sea-stacks")
    found = [one for one in remedies_for(train, book.by_id) if one.train.front_stack and one.band is not None]
    assert len(found) > 4
    wide = book.by_id["brae-17-35"]
    assert isinstance(wide, CameraLens)
    dice = np.random.default_rng(8)
    for share in (1.0, 0.9, 1.1, *dice.uniform(0.9, 1.1, 5)):
        moved = tuple(
            at.model_copy(update={"depth_mm": measured(at.depth_mm.value * share)}) for at in wide.entrance_pupils
        )
        for one in found:
            low, high = one.band or (None, None)
            parts = with_parts(book.by_id, one.change.bought)
            most = assumed_walk_mm(wide, Front(build_layout(one.train, parts), crop=one.change.crop).field_angle_deg)
            walk = float(dice.uniform(0.0, most))
            known = wide.model_copy(update={"entrance_pupils": moved, "pupil_walk_mm": measured(walk)})
            shelf = {**parts, known.id: known}
            first = Front(build_layout(one.train, shelf), crop=one.change.crop).now.first_clean_mm
            assert low is not None
            assert first is not None or high is None, one.words
            if first is not None:
                assert low - 0.1 <= first, (one.words, share)
                assert high is None or first <= high + 0.1, (one.words, share, walk)


def test_nothing_is_stopped_down_where_the_corners_are_free_already() -> None:
    clear = on_lens("ready-step-77-82", focal=40.0)
    assert not any("stop down" in one.words for one in clear)
