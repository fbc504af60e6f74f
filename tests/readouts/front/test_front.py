"""The front stack: worked cases, facts of the trade, sweeps, remedies, rings, sheets, and what cannot be."""

import itertools
import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import EditRefused
from farrail.logbook.side_by_side import Column, SideBySide
from farrail.optics.projection import angles_rad, field_angle_rad
from farrail.parts.connections import Bayonet, Connection, Gender, OnlyFits, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.in_beam import ApertureRole
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.ahead import CouplingRing, FilterHolder, HolderRing
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import Gradation, RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens, PupilAt
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import assumed, measured, published
from farrail.parts.registry import Part
from farrail.planning.remedies import remedies_for
from farrail.planning.ring_cost import ring_costs
from farrail.planning.rings import StepRing, lenses_of, plan_rings, plan_split, step_rings_of
from farrail.planning.states import states_of
from farrail.planning.turning import turning_of
from farrail.readouts.front.sheets import graduated_strength_stops, sheet_need, sheets_in
from farrail.readouts.read import Readout, read
from farrail.train.train import Conditions, MountedPart, Train
from farrail.train.zoom_tables import pupil_depth_at
from farrail.workbook.edits.trains import SetFocal

IN, OUT = Gender.INTERNAL, Gender.EXTERNAL
MOUNT = Bayonet(name="44 mm SLR bayonet", throat_mm=42)
SEAT = OnlyFits(name="holder", diameter_mm=90)
FRONT = OnlyFits(name="holder front", diameter_mm=100)


def end(standard: Any, gender: Gender) -> Connection:
    return Connection(standard=standard, gender=gender)


def lens(low: float = 16.0, high: float | None = 40.0, depth: float = 33.0, **more: Any) -> CameraLens:
    return CameraLens(
        id="lens", name="Lens", outer_diameter_mm=86, front=thread(95, 1, IN), rear=end(MOUNT, OUT),
        focal_length_mm=published(low), longest_focal_mm=None if high is None else published(high),
        f_number=published(4), flange_focal_distance_mm=published(44), entrance_pupil_depth_mm=measured(depth), **more,
    )  # fmt: skip


def disc(key: str, clear: float, length: float, **more: Any) -> Adapter:
    return Adapter(id=key, name=key, outer_diameter_mm=130, front=thread(95, 1, IN), rear=thread(95, 1, OUT),
                   path_length_mm=measured(length), clear_aperture_mm=measured(clear), **more)  # fmt: skip


def ring(key: str, length: float, clear: float = 92.0) -> HolderRing:
    return HolderRing(id=key, name=key, outer_diameter_mm=96, front=end(SEAT, OUT), rear=thread(95, 1, OUT),
                      path_length_mm=measured(length), clear_aperture_mm=measured(clear))  # fmt: skip


def holder(key: str, length: float, first: float, pitch: float, **more: Any) -> FilterHolder:
    values: dict[str, Any] = {"window_width_mm": measured(95.0), "slots": 2, "slot_thickness_mm": measured(2.1),
                              "clear_aperture_mm": measured(88.0), **more}  # fmt: skip
    return FilterHolder(
        id=key, name=key, outer_diameter_mm=118, front=end(FRONT, IN), rear=end(SEAT, IN),
        path_length_mm=measured(length), sheet_width_mm=published(100), slot_pitch_mm=measured(pitch),
        first_slot_mm=measured(first), **values,
    )  # fmt: skip


def sheet(key: str, wide: float = 100, high: float = 100, thick: float = 2.0, **more: Any) -> SheetFilter:
    return SheetFilter(id=key, name=key, outer_diameter_mm=wide, width_mm=published(wide), height_mm=published(high),
                       glass=Plate(thickness_mm=published(thick), index=published(1.5)), **more)  # fmt: skip


def stack(*row: MountedPart | str, parts: tuple[Part, ...], on: CameraLens | None = None, focal: float | None = None,
          f_number: float = 8.0, focus: float | None = None) -> Readout:  # fmt: skip
    """A stack on a lens, before a 36 × 24 sensor."""
    camera = Camera(id="cam", name="Cam", outer_diameter_mm=90, front=end(MOUNT, IN), flange_to_sensor_mm=published(44),
                    sensor_width_mm=published(36), sensor_height_mm=published(24))  # fmt: skip
    shelf = {p.id: p for p in (on or lens(), camera, *parts)}
    laid = tuple(MountedPart(part=r) if isinstance(r, str) else r for r in row)
    conditions = Conditions(f_number=f_number, focal_mm=focal, focus_mm=focus)
    return read(Train(id="t", name="t", optic="lens", front_stack=laid, camera="cam", conditions=conditions), shelf)


def ids(readout: Readout) -> list[str]:
    return [f.id.split(":")[0] for f in readout.findings]


def test_the_worked_case_of_two_discs() -> None:
    # docs/models.md case 3: f 16, f/8, E 22; discs of 74 mm at z 8 and 96 mm at z 22.
    discs = (disc("small", 74.0, 8.0), disc("large", 96.0, 14.0))
    readout = stack("small", "large", parts=discs, on=lens(depth=22.0), focal=16.0)
    light = readout.light.light_at(np.array([[17.2, 0.0], [0.0, 17.4], [18.0, 0.0]]))
    # The small disc is judged at both of its faces too; its front face is at z 8.
    assert light == pytest.approx([0.9051, 0.5930, 0.0], abs=6e-5)
    front = readout.front
    large = next(o for o in front.placed if o.part.id == "large" and o.role is ApertureRole.FRONT_END)
    assert front.heights_of(large) == pytest.approx((17.091, 17.455, 17.818), abs=6e-4)
    # The case's corner is at 21.635 mm; that of 36 × 24 mm at 21.633.
    for focal, ri in ((20.0, 0.6993), (21.0, 1.0)):
        assert 2.0 ** -front.loss_at(focal) == pytest.approx(ri, abs=2e-3)
    assert front.depth_mm == 22.0


def test_facts_of_the_trade_hold_together_from_one_set_of_dimensions() -> None:
    # Common practice, no source: a two-stage 100 mm holder on a standard ring first shows at about 24 mm and with a
    # 105 mm polariser in front at about 28 mm, on a 43.27 mm diagonal; a slimmer holder moves 18 to 16 or wider.
    zoom = lens(14.0, 40.0, 33.0)
    parts: tuple[Part, ...] = (
        ring("standard", 8.0), ring("recessed", -2.0), holder("two-stage", 20.0, 7.0, 8.0),
        holder("single", 15.0, 8.0, 0.0, slots=1), holder("slim", 10.0, 5.0, 0.0, slots=1),
        Adapter(id="front-ring", name="front-ring", outer_diameter_mm=112, front=thread(105, 1, IN),
                rear=end(FRONT, OUT), path_length_mm=measured(2), clear_aperture_mm=measured(103)),
        RoundFilter(id="pol", name="pol", outer_diameter_mm=108, front=thread(105, 1, IN), rear=thread(105, 1, OUT),
                    path_length_mm=measured(6), clear_aperture_mm=measured(103), polariser=True,
                    glass=Plate(thickness_mm=published(2), index=published(1.5))),
    )  # fmt: skip

    def clean(*row: str) -> float:
        found = stack(*row, parts=parts, on=zoom, focal=20.0).front.now.visible_mm
        assert found is not None
        return found

    assert clean("standard", "two-stage") == pytest.approx(24.0, abs=2.0)
    assert clean("standard", "two-stage", "front-ring", "pol") == pytest.approx(28.0, abs=2.0)
    assert clean("recessed", "single") == pytest.approx(18.0, abs=2.0)
    assert clean("recessed", "slim") <= 16.0 + 0.5


@pytest.mark.parametrize("focus", [None, 400.0])
def test_the_sweep_agrees_with_one_focal_length_at_a_time(focus: float | None) -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0, window_height_mm=measured(80.0)))
    table = tuple(PupilAt(focal_mm=f, depth_mm=measured(e)) for f, e in ((16.0, 36.0), (24.0, 31.0), (40.0, 27.0)))
    zoom = lens(entrance_pupils=table)
    turned = MountedPart(part="h", turned_deg=20.0)
    sweep = stack("r", turned, parts=parts, on=zoom, focal=20.0, focus=focus).front.now
    for index in (0, 15, 25, 35, 59):
        focal = sweep.focal_mm[index]
        one = stack("r", turned, parts=parts, on=zoom, focal=focal, focus=focus)
        bare = one.light.corner_ri
        assert bare is not None
        lost = math.inf if bare <= 0 else -math.log2(bare)
        assert sweep.stops[index] == pytest.approx(lost, abs=2e-3) or min(sweep.stops[index], lost) > 8
    first = sweep.first_clean_mm
    assert first is not None
    at = stack("r", turned, parts=parts, on=zoom, focal=first, focus=focus).front
    assert at.loss_at(first + 0.01) <= 0.1 < at.loss_at(first - 0.05)


def test_a_near_subject_s_rays_spread_and_the_stack_shows_later() -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0))
    far = stack("r", "h", parts=parts, focal=20.0).front
    near = stack("r", "h", parts=parts, focal=20.0, focus=300.0).front
    assert near.now.first_clean_mm is not None
    assert far.now.first_clean_mm is not None
    # docs/models.md: s = Z/(Z − x), here about 300/240: openings and levers grow alike, the cone does not.
    assert near.now.first_clean_mm != far.now.first_clean_mm
    x = 33.0 + 28.0
    s = 300 / (300 - x)
    edge = near.images[0]
    assert edge.radius_mm == pytest.approx(47.5 * s)
    assert edge.distance_mm == pytest.approx(x * s)


def test_how_large_a_sheet_this_lens_needs() -> None:
    # docs/interface and issue check: f 14, E 25, z 20, f/8, 36 × 24: 117.5 × 78.9, and 140.8 across to turn freely.
    front = stack("r", parts=(ring("r", 8.0),), on=lens(depth=25.0), focal=14.0).front
    assert sheet_need(front, 25.0 + 20.0).sizes_mm == pytest.approx((117.46, 78.89, 140.83), abs=0.02)


def test_a_graduated_line_falls_where_its_slide_puts_it() -> None:
    grad = sheet("grad", high=150, density=published(0.9), gradation=Gradation.SOFT, transition_mm=published(30.0))
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), grad)
    laid = MountedPart(part="h", filters=("grad", None), shifts_mm=(10.0,))
    front = stack("r", laid, parts=parts, focal=24.0).front
    item = sheets_in(front)[0]
    ahead = 33 + 8 + 7
    assert item.ahead_mm == pytest.approx(ahead)
    assert item.line == pytest.approx(24 * 10 / ahead / 12)
    assert item.blur == pytest.approx((24 * 30 / ahead + 24 * 24 / (8 * ahead)) / 24)
    assert [graduated_strength_stops(d) for d in (0.5, 1, 2, 3.4, 4, 9)] == [0, 0, 1, 2, 3, 4]


def test_remedies_are_ranked_and_each_is_read_like_any_train() -> None:
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    found = remedies_for(train, workbook.by_id)
    words = [r.words for r in found]
    assert words[0].startswith("polariser behind: Polariser, drop-in 86 dropped in, then Ring 82, recessed instead of")
    for wanted in ("take Protection 82 off", "Ring 82, recessed instead of Ring 82, standard",
                   "buy Skerry slim holder instead of Skerry holder 100"):  # fmt: skip
        assert wanted in words
    # A graduated sheet is in the holder: its line would run upright.
    assert not any(word.startswith("turn ") for word in words)
    now = read(train, workbook.by_id).front.now.first_clean_mm
    assert now is not None
    for r in found:
        front = replace(read(r.train, workbook.by_id).front, crop=r.change.crop)
        assert front.now.first_clean_mm == r.first_clean_mm
        assert not [j for j in front.layout.joints if j.mismatch]
        sooner = r.first_clean_mm is not None and r.first_clean_mm < now - 0.2
        assert r.helps is (sooner or front.corner_stops <= 0.1)
    # What frees the corners comes first, the rest by the focal length it frees.
    assert [r.frees for r in found] == sorted((r.frees for r in found), reverse=True)
    clean = [r.first_clean_mm or math.inf for r in found if r.helps and not r.frees]
    assert clean == sorted(clean)


def test_turning_a_rectangular_window() -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0, window_height_mm=measured(70.0)))
    front = stack("r", "h", parts=parts, focal=24.0).front
    turning = turning_of(front, 0.1)
    assert turning is not None
    by_hand = stack("r", MountedPart(part="h", turned_deg=45.0), parts=parts, focal=24.0).front.corner_stops
    assert turning.stops[15] == pytest.approx(by_hand, abs=1e-6)
    assert turning.worst_deg > 0.0
    assert turning_of(stack("r", parts=parts, focal=24.0).front, 0.1) is None  # nothing rectangular


def test_a_coupled_holder_turns_on_its_own() -> None:
    second = holder("h2", 20.0, 7.0, 8.0).model_copy(update={"rear": end(FRONT, OUT)})
    coupling = CouplingRing(id="c", name="c", outer_diameter_mm=112, front=end(FRONT, IN), rear=end(FRONT, OUT),
                            path_length_mm=measured(6))  # fmt: skip
    row = ("r", MountedPart(part="h", turned_deg=10.0), "c", MountedPart(part="h2", turned_deg=50.0))
    readout = stack(*row, parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), coupling, second), focal=24.0)
    assert readout.layout.front_rotation_deg == (0.0, 10.0, 10.0, 50.0)
    assert "front.coupled_on_wide" in ids(readout)
    normal = stack(*row, parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), coupling, second),
                   on=lens(24.0, 70.0), focal=50.0)  # fmt: skip
    assert "front.coupled_on_wide" not in ids(normal)


@pytest.mark.parametrize(
    ("row", "sheets", "wanted"),
    [
        (MountedPart(part="h", filters=("x", None)), {"thick": 4.0}, "front.thick_sheet"),
        (MountedPart(part="h", filters=("x", None)), {"wide": 130.0}, "front.sheet_width"),
        (MountedPart(part="h", filters=(None, "x")), {"gasket": True, "density": published(3.0)}, "front.gasket"),
        (MountedPart(part="h", filters=("x", None)), {"density": published(1.8)}, "front.no_gasket"),
        (
            MountedPart(part="h", filters=("x", None), shifts_mm=(35.0,)),
            {"density": published(1.0)},
            "front.sheet_edge",
        ),
        (MountedPart(part="h", filters=("x", None)), {"density": published(3.0)}, "front.sun"),
    ],
)
def test_slots_and_sheets_are_judged(row: MountedPart, sheets: dict[str, Any], wanted: str) -> None:
    readout = stack("r", row, parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), sheet("x", **sheets)), focal=24.0)
    assert wanted in ids(readout)
    fine = MountedPart(part="h", filters=("x", None))
    good = stack("r", fine, parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), sheet("x")), focal=24.0)
    assert wanted not in ids(good)


def changed(**more: Any) -> Part:
    return holder("h", 20.0, 7.0, 8.0).model_copy(update=more)


def kinds_with(row: MountedPart, *parts: Part) -> set[str]:
    return set(ids(stack("r", row, parts=(ring("r", 8.0), *parts), focal=24.0)))


def test_one_slot_may_be_of_another_thickness() -> None:
    # Slots of 2 mm, the rearmost of 4: a 4 mm sheet goes there and nowhere else.
    thick = changed(other_slot=1, other_slot_thickness_mm=measured(4.0))
    sheet_4 = sheet("x", thick=4.0)
    for row, wrong in ((("x", None), False), ((None, "x"), True)):
        kinds = kinds_with(MountedPart(part="h", filters=row), thick, sheet_4)
        assert any(kind.startswith("front.thick_sheet") for kind in kinds) is wrong
    plain = kinds_with(MountedPart(part="h", filters=("x", None)), changed(), sheet_4)
    assert any(kind.startswith("front.thick_sheet") for kind in plain)


def test_sheets_that_overlap_slots_outside_and_gaskets_without_a_plate_are_said() -> None:
    # Two sheets of 4 mm want 4 mm from middle to middle; 3.5 mm make them overlap by half a millimetre.
    both = MountedPart(part="h", filters=("x", "y"))
    sheets = (sheet("x", thick=4.0), sheet("y", thick=4.0))
    for pitch, overlap in ((3.5, True), (4.0, False)):
        body = changed(slot_pitch_mm=measured(pitch), slot_thickness_mm=measured(4.0))
        kinds = kinds_with(both, body, *sheets)
        assert any(kind.startswith("front.sheets_overlap") for kind in kinds) is overlap
    # A body of 14 mm with its second slot at 8 + 7 = 15 mm.
    for long, outside in ((14.0, True), (15.0, False)):
        kinds = kinds_with(MountedPart(part="h", filters=(None, None)), changed(path_length_mm=measured(long)))
        assert any(kind.startswith("front.slot_outside") for kind in kinds) is outside
    soft = sheet("x", gasket=True)
    for plate, wrong in ((False, True), (True, False)):
        kinds = kinds_with(MountedPart(part="h", filters=("x", None)), changed(baffle=plate), soft)
        assert any(kind.startswith("front.gasket") for kind in kinds) is wrong


def test_a_narrower_sheet_in_its_frame_fits_a_wider_holder() -> None:
    row = MountedPart(part="h", filters=("x", None))
    bare = kinds_with(row, changed(), sheet("x", wide=85.0))
    framed = kinds_with(row, changed(), sheet("x", wide=85.0).model_copy(update={"frame_width_mm": measured(100.0)}))
    assert any(kind.startswith("front.sheet_width") for kind in bare)
    assert not any(kind.startswith("front.sheet_width") for kind in framed)


def test_a_square_polariser_leaves_a_graduated_filter_two_angles() -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), sheet("pol", polariser=True),
             sheet("grad", high=150, gradation=Gradation.HARD, density=published(0.6)))  # fmt: skip
    right = stack("r", MountedPart(part="h", filters=("pol", "grad")), parts=parts, focal=24.0)
    finding = next(f for f in right.findings if f.id == "front.square_polariser_with_grad")
    assert "0° and 90° only" in finding.title
    assert "outermost" not in finding.reason
    wrong = stack("r", MountedPart(part="h", filters=("grad", "pol")), parts=parts, focal=24.0)
    assert "outermost" in next(f for f in wrong.findings if f.id == "front.square_polariser_with_grad").reason


def test_rules_of_thumb_speak_only_where_dimensions_are_assumed() -> None:
    guess = ring("r", 8.0).model_copy(update={"path_length_mm": assumed(8.0)})
    assert "front.standard_ring_on_wide" in ids(stack("r", "h", parts=(guess, holder("h", 20, 7, 8)), focal=20.0))
    assert "front.standard_ring_on_wide" not in ids(
        stack("r", "h", parts=(ring("r", 8.0), holder("h", 20, 7, 8)), focal=20.0)
    )
    # On a smaller frame the limit is scaled: nothing is wide about 30 mm there; here 40 mm is not.
    assert "front.standard_ring_on_wide" not in ids(stack("r", "h", parts=(guess, holder("h", 20, 7, 8)), focal=40.0))


def test_an_assumed_pupil_gives_a_band_and_a_measured_one_none() -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0))
    known = stack("r", "h", parts=parts, on=lens(pupil_walk_mm=measured(0.0)), focal=20.0)
    assert known.front.band is None
    assert not {"front.pupil_assumed", "front.pupil_walk"} & set(ids(known))
    # Nothing was entered how far it walks: standing still is the worst that can be, and what is shown.
    walks = stack("r", "h", parts=parts, focal=20.0)
    assert walks.front.band is not None
    assert walks.front.band[1] == walks.front.now.first_clean_mm == known.front.now.first_clean_mm
    assert "front.pupil_walk" in ids(walks)
    guessed = lens().model_copy(update={"entrance_pupil_depth_mm": assumed(33.0)})
    front = stack("r", "h", parts=parts, on=guessed, focal=20.0).front
    assert front.band is not None
    low, high = front.band
    assert low is not None
    assert high is not None
    assert low < (front.now.first_clean_mm or 0.0) < high


def test_a_zoom_s_pupil_is_interpolated_with_the_weaker_origin() -> None:
    table = (PupilAt(focal_mm=16, depth_mm=measured(36)), PupilAt(focal_mm=24, depth_mm=assumed(30)))
    zoom = lens(entrance_pupils=table)
    assert pupil_depth_at(zoom, 20.0).value == pytest.approx(33.0)
    assert pupil_depth_at(zoom, 20.0).origin == "assumed"
    assert pupil_depth_at(zoom, 10.0).value == 36.0
    assert pupil_depth_at(zoom, 35.0).value == 30.0


@pytest.mark.parametrize("projection", ["rectilinear", "equidistant", "equisolid", "stereographic", "orthographic"])
def test_projections_by_their_definitions(projection: Any) -> None:
    laws: dict[str, Callable[[float], float]] = {
        "rectilinear": lambda t: 10 * math.tan(t), "equidistant": lambda t: 10 * t,
        "equisolid": lambda t: 20 * math.sin(t / 2), "stereographic": lambda t: 20 * math.tan(t / 2),
        "orthographic": lambda t: 10 * math.sin(t),
    }  # fmt: skip
    for angle in (0.1, 0.6, 1.2):
        height = laws[projection](angle)
        assert field_angle_rad(height, 10.0, projection) == pytest.approx(angle)
        assert float(angles_rad(np.array(height), 10.0, projection)) == pytest.approx(angle)


def test_a_fisheye_is_judged_by_its_own_projection_without_nan() -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0))
    fisheye = lens(12.0, None, projection="equisolid")
    readout = stack("r", "h", parts=parts, on=fisheye)
    assert "front.field_too_wide" in ids(readout)
    for figure in readout.figures.values():
        assert "nan" not in figure.working.numbers
        assert not (isinstance(figure.value, float) and math.isnan(figure.value)), figure.id
    straight = stack("r", "h", parts=parts, on=lens(24.0, None))
    bent = stack("r", "h", parts=parts, on=lens(24.0, None, projection="equidistant"))
    assert bent.front.corner_stops > straight.front.corner_stops  # its corner looks further out


def test_what_cannot_be_is_told_in_one_sentence() -> None:
    outside = stack("r", parts=(ring("r", 8.0),), focal=60.0)
    finding = next(f for f in outside.findings if f.id == "front.focal_outside")
    assert finding.title == "Lens cannot be set to 60 mm."
    bare = lens().model_copy(update={"front": None})
    assert "front.nothing_holds" in ids(stack("r", parts=(ring("r", 8.0),), on=bare, focal=20.0))
    no_thread = lens().model_copy(update={"front": end(OnlyFits(name="hood", diameter_mm=95), OUT)})
    assert any(f.id.startswith("joint.mismatch") for f in stack("r", parts=(ring("r", 8.0),), on=no_thread).findings)
    ahead = lens(depth=-6.0)
    assert math.isfinite(
        stack("r", "h", parts=(ring("r", 8.0), holder("h", 20, 7, 8)), on=ahead, focal=20.0).front.depth_mm
    )
    workbook = demo_workbook()
    with pytest.raises(EditRefused, match="reaches 17 to 35"):
        SetFocal("sea-stacks", 50.0).apply(workbook)
    with pytest.raises(EditRefused, match="is no zoom"):
        SetFocal("bulbous", 14.0).apply(workbook)


def test_the_demo_s_dusk_train_shows_dark_corners_and_the_slim_one_is_clean() -> None:
    workbook = demo_workbook()
    dusk = read(workbook.train("sea-stacks"), workbook.by_id)
    assert dusk.stops
    assert dusk.figures["front.limiting_part"].shown == "Polariser 105, front opening"
    slim = read(workbook.train("sea-stacks-slim"), workbook.by_id)
    assert "front.clean" in ids(slim)
    assert not slim.stops
    bulbous = read(workbook.train("bulbous"), workbook.by_id)
    assert not [j for j in bulbous.layout.joints if j.mismatch]
    columns = tuple(Column(workbook.train(t), workbook.by_id, t) for t in ("sea-stacks", "sea-stacks-slim"))
    assert [column.facts["ahead_mm"] for column in columns] == [41.0, 18.5]
    fits = [part.name for part in SideBySide(columns).still_fits(1)]
    assert fits == ["Solid 3.0", "Soft graduated 0.9", "Hard graduated 0.6"]


LENSES = [("a", 52.0), ("b", 67.0), ("c", 72.0)]


def by_trying(
    rings: list[StepRing], kits: dict[str, float], mains: tuple[float, ...], swapped: bool
) -> tuple[float, int] | None:
    """Cheapest price and then fewest rings by trying every chain for every lens and every set of kits."""
    chains = []
    for _, size in LENSES:
        found = []
        usable = [r for r in rings if r.high <= max(mains)]
        for count in range(4):
            for row in itertools.permutations(usable, count):
                at = size
                for r in row:
                    at = r.high if r.low == at else -1.0
                if at in mains:
                    found.append((at, row))
        chains.append(found)
    best: tuple[float, int] | None = None
    names = sorted({r.kit for r in rings if r.kit})
    for taken in itertools.product((False, True), repeat=len(names)):
        have = {kit for kit, yes in zip(names, taken, strict=True) if yes}
        for ended in itertools.product(*chains):
            if {at for at, _ in ended} != set(mains):
                continue
            choice = [row for _, row in ended]
            price = sum(kits[k] for k in have)
            total = 0
            for r in {r for row in choice for r in row}:
                uses = [r in row for row in choice]
                needed = 1 if swapped else sum(uses)
                total += needed
                price += max(needed - r.owned - (r.kit in have), 0) * (10_000.0 if r.price is None else r.price)
            best = min(best or (math.inf, 0), (round(price, 2), total))
    return best


@pytest.mark.parametrize("swapped", [False, True])
@pytest.mark.parametrize("seed", range(6))
def test_ring_plans_are_as_good_as_trying_everything(seed: int, swapped: bool) -> None:
    rng = np.random.default_rng(seed)
    sizes = [52.0, 67.0, 72.0, 77.0, 82.0]
    rings = []
    for low, high in itertools.combinations(sizes, 2):
        if rng.random() < 0.75:
            kit = "set" if rng.random() < 0.3 else ""
            price = float(rng.integers(4, 20))
            owned = int(rng.random() < 0.25) if not kit else 0
            # A third without a price: they count for more than any that has one.
            known = price if rng.random() < 0.7 else None
            rings.append(StepRing(low, high, known, f"{low}-{high}", owned, kit))
    for main in (77.0, 82.0):
        found = plan_rings(LENSES, rings, {"set": 14.0}, swapped=swapped, sizes=[main])
        best = by_trying(rings, {"set": 14.0}, (main,), swapped)
        if best is None or best[0] == math.inf:
            assert not found
        else:
            assert (10_000.0 * found[0].unpriced + found[0].price, found[0].rings) == best


@pytest.mark.parametrize("swapped", [False, True])
@pytest.mark.parametrize("seed", range(5))
def test_two_sizes_kept_are_as_good_as_trying_everything(seed: int, swapped: bool) -> None:
    rng = np.random.default_rng(100 + seed)
    sizes = [52.0, 67.0, 72.0, 77.0, 82.0]
    rings = []
    for low, high in itertools.combinations(sizes, 2):
        if rng.random() < 0.7:
            owned = int(rng.random() < 0.25)
            rings.append(StepRing(low, high, float(rng.integers(4, 20)), f"{low}-{high}", owned))
    pairs = [(low, high) for low, high in itertools.combinations(sizes, 2) if high >= 72.0]
    tried = [found for pair in pairs if (found := by_trying(rings, {}, pair, swapped)) is not None]
    made = plan_split(LENSES, rings, {}, swapped=swapped, sizes=sizes)
    assert (made is None) == (not tried)
    if made is not None:
        assert (made.price, made.rings) == min(tried)
        assert set(dict(made.ends).values()) == set(made.sizes)
        for lens, chain in made.chains:
            start = dict(LENSES)[lens]
            assert (chain[-1].high if chain else start) == dict(made.ends)[lens]
    # Lenses of one thread have nothing to split.
    assert plan_split([("a", 67.0), ("b", 67.0)], rings, {}) is None


def test_what_a_main_size_costs_a_lens_at_its_widest() -> None:
    # models.md 2, front form: a disc of radius r is x ahead of the pupil; the share left to the corner is that of
    # two circles a distance x·h/f apart (closed form, any handbook of geometry). The filter's front rim, 5 mm ahead.
    workbook = demo_workbook()
    depth = {"entrance_pupils": (), "entrance_pupil_depth_mm": assumed(27.5), "focal_length_mm": assumed(18.0)}
    lens = workbook.by_id["brae-17-35"].model_copy(update=depth)
    shelf = {"brae-17-35": lens, "skua-full": workbook.by_id["skua-full"]}
    plans = {plan.main_mm: plan for plan in plan_rings(lenses_of(shelf), step_rings_of(shelf), {})}
    lost = {main: ring_costs(plan, shelf)[0] for main, plan in plans.items()}

    def share(f_number: float) -> float:
        tangent = math.hypot(18.0, 12.0) / 18.0
        # 2 mm of glass carry the ray less far aside than air.
        glass = 2.0 * math.tan(math.asin(math.sin(math.atan(tangent)) / 1.5168))
        a, r, d = 18.0 / (2.0 * f_number), (82.0 - 3.5) / 2.0, 30.5 * tangent + glass
        if d + a <= r:
            return 1.0
        one = a * a * math.acos((d * d + a * a - r * r) / (2.0 * d * a))
        two = r * r * math.acos((d * d + r * r - a * a) / (2.0 * d * r))
        kite = 0.5 * math.sqrt((-d + a + r) * (d + a - r) * (d - a + r) * (d + a + r))
        return (one + two - kite) / (math.pi * a * a)

    told = lost[82.0]
    assert (told.focal_mm, told.f_number) == (18.0, 2.8)
    assert share(told.f_number) < share(8.0)
    assert told.stops == pytest.approx(-math.log2(share(2.8)), abs=2e-3)
    assert lost[105.0].stops == 0.0
    # A lens whose image circle no frame available fits is not judged.
    small = lens.model_copy(update={"image_circle_mm": assumed(20.0)})
    assert ring_costs(plans[82.0], {**shelf, "brae-17-35": small}) == ()


def test_no_lens_and_a_telescope() -> None:
    assert plan_rings([], [], {}) == ()
    workbook = demo_workbook()
    train = workbook.train("witch-broom").model_copy(update={"front_stack": (MountedPart(part="ring-82"),)})
    assert "front.no_lens" in ids(read(train, workbook.by_id))
    assert remedies_for(train, workbook.by_id) == ()
    assert Plain(diameter_mm=5).label == "plain 5 mm"


def test_two_lenses_of_one_name_are_told_apart_in_a_ring_plan() -> None:
    workbook = demo_workbook()
    zoom = workbook.by_id["brae-17-35"]
    wide = {"entrance_pupils": (), "entrance_pupil_depth_mm": assumed(27.5), "focal_length_mm": assumed(18.0)}
    long = {**wide, "id": "twin", "focal_length_mm": assumed(30.0)}
    one, twin = zoom.model_copy(update=wide), zoom.model_copy(update=long)
    shelf = {"brae-17-35": one, "twin": twin, "skua-full": workbook.by_id["skua-full"]}
    plan = plan_rings(lenses_of(shelf), step_rings_of(shelf), {}, sizes=[86.0])[0]
    assert sorted(lens for lens, _ in plan.chains) == ["brae-17-35", "twin"]
    costs = ring_costs(plan, shelf)
    assert {(cost.lens, cost.focal_mm) for cost in costs} == {("brae-17-35", 18.0), ("twin", 30.0)}
    assert {cost.name for cost in costs} == {zoom.name}


def test_a_stack_s_states_leave_what_then_mates() -> None:
    workbook = demo_workbook()
    train = workbook.train("sea-stacks")
    told = {state.name: [laid.part for laid in state.front_stack] for state in states_of(train, workbook.by_id)}
    row = [laid.part for laid in train.front_stack]
    # The polariser is outermost on the holder's front ring: alone it comes off alone, the holder takes it along.
    assert told["This train without Polariser 105"] == row[:-1]
    holder_at = row.index("skerry-100")
    assert [parts for name, parts in told.items() if "Skerry holder 100" in name] == [row[:holder_at]]
    assert all(state.id.startswith("state-") for state in states_of(train, workbook.by_id))
    assert states_of(workbook.train("witch-broom"), workbook.by_id) == ()


def test_comparing_prices_a_kit_once() -> None:
    workbook = demo_workbook()
    train, shelf = workbook.train("sea-stacks"), dict(workbook.by_id)
    for key in [laid.part for laid in train.front_stack][-2:]:
        shelf[key] = shelf[key].model_copy(update={"status": Status.WANTED, "kit": "dusk set", "price": 40.0})
    before, after, unpriced = (
        Column(train, one, "t", prices).facts["to_pay"]
        for one, prices in ((workbook.by_id, {}), (shelf, {"dusk set": 65.0}), (shelf, {}))
    )
    assert before == 0.0
    assert after == 65.0
    assert unpriced is None
