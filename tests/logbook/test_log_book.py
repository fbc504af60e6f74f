"""The log in the workbook: tied to states that never change, applied and taken back, no longer valid from a day on."""

import contextlib
import json
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, BadWorkbook, EditRefused
from farrail.exchange.csv_log import checked_day, log_to_csv, read_log_csv
from farrail.exchange.photo import photo_facts
from farrail.logbook.beside import beside, compared_then
from farrail.logbook.consequences import consequences
from farrail.logbook.differences import Change, differences
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.kinds.keeping import Flats, FreeNote
from farrail.logbook.kinds.lengths import PathLength, Weighed
from farrail.logbook.kinds.stars import CornerStars, FocusReached, InfinityMark, StarShape
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Assumption, Evidence, Found
from farrail.logbook.learning.spacing_stars import works_as_it_lies
from farrail.logbook.next_best import next_best
from farrail.logbook.observation import Agreement
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.seen_words import seen_words
from farrail.logbook.words import (
    consequence_words,
    difference_words,
    found_words,
    next_words,
    refused_words,
    works_words,
)
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import ShortStars
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading, unknown
from farrail.readouts.read import read
from farrail.train.train import Side
from farrail.workbook.edits.invalid_flats import WithDate
from farrail.workbook.edits.laying import FlipPart, SetInBeam
from farrail.workbook.edits.learnt import TakeBack, TakeOver, resting_on
from farrail.workbook.edits.log import ChangeObservation, ImportObservations, RemoveObservation, WriteDown
from farrail.workbook.edits.shelf import DiscardPart, SetField, SetReading
from farrail.workbook.edits.states import DropState, KeepState, RestoreState
from farrail.workbook.edits.trains import RemoveTrain, RenameTrain
from farrail.workbook.reading import from_data, from_text, to_text
from farrail.workbook.workbook import Workbook, empty_workbook

BOOK = demo_workbook()
DAY = "2026-11-20"


def evidence(book: Workbook) -> Evidence:
    return Evidence(book.log, book.states_by_id, book.by_id)


def learnt(book: Workbook, train: str) -> tuple[Found, ...]:
    return learn(evidence(book), book.train(train))[0]


# Kept as it was


def test_an_observation_keeps_its_train_whatever_happens_to_it_later() -> None:
    book = WriteDown(Darkening, "sea-stacks", DAY, {"focal_mm": 27.0}).apply(BOOK)
    seen = book.log[-1]
    state = book.states_by_id[seen.state]
    then = compared_then(seen, state)
    later = SetReading("polariser-105", "path_length_mm", Reading(value=3.0, origin=Origin.MEASURED)).apply(book)
    later = RenameTrain("sea-stacks", "Another name").apply(later)
    later = RemoveTrain("sea-stacks").apply(later)
    assert later.states_by_id[seen.state] is state
    assert compared_then(later.log[-1], later.states_by_id[seen.state]) == then
    assert from_text(to_text(later), "it") == later


def test_observations_of_one_state_share_it_and_another_state_is_another() -> None:
    first = WriteDown(FreeNote, "sea-stacks", DAY, {"note": "a"}).apply(BOOK)
    second = WriteDown(FreeNote, "sea-stacks", DAY, {"note": "b"}).apply(first)
    assert len(second.states) == len(first.states)
    moved = SetReading("polariser-105", "path_length_mm", Reading(value=3.0, origin=Origin.MEASURED)).apply(second)
    third = WriteDown(FreeNote, "sea-stacks", DAY, {"note": "c"}).apply(moved)
    assert len(third.states) == len(first.states) + 1
    assert len({seen.id for seen in third.log}) == len(third.log)


def test_a_file_of_the_former_format_opens_and_a_newer_program_is_asked_for_otherwise() -> None:
    data = json.loads(to_text(BOOK.model_copy(update={"log": (), "states": ()})))
    old = {**data, "version": 1, "log": []}
    old.pop("states", None)
    assert from_data(old, "old") == BOOK.model_copy(update={"log": (), "states": ()})
    with pytest.raises(BadWorkbook, match="newer Far Rail"):
        from_data({**data, "version": 3}, "new")


def test_a_log_that_names_a_state_nobody_kept_is_refused() -> None:
    data = json.loads(to_text(BOOK))
    data["states"] = data["states"][1:]
    with pytest.raises(BadWorkbook, match="that is not kept"):
        from_data(data, "it")


def test_a_part_that_has_left_the_shelf_is_known_as_it_was() -> None:
    book = WriteDown(PathLength, "witch-broom", DAY, {"length_mm": 55.7}).apply(BOOK)
    seen = book.log[-1]
    gone = RemoveTrain("witch-broom").apply(RemoveTrain("witch-broom-short").apply(book))
    gone = DiscardPart("spacer-8-7").apply(gone)
    both = beside(seen, evidence(gone))
    assert both.then is not None
    # 9 + 20.5 + 8.7 + 5 + 12.5 = 55.7, from the datum to the sensor.
    assert both.then.predicted == pytest.approx(55.7)
    assert both.now == both.then


# Every kind beside its prediction


@pytest.mark.parametrize(
    ("train", "kind", "values", "predicted", "agrees"),
    [
        ("witch-broom", "path_length", {"length_mm": 55.72}, 55.7, True),
        ("witch-broom", "path_length", {"length_mm": 29.6, "first": 2, "last": 3}, 29.5, True),
        ("witch-broom", "path_length", {"length_mm": 30.5, "first": 2, "last": 3}, 29.5, False),
        ("witch-broom", "corner_stars", {"shape": "round"}, "round", True),
        ("witch-broom", "corner_stars", {"shape": "radial"}, "round", False),
        ("witch-broom-short", "corner_stars", {"shape": "round"}, "not_round", False),
        ("sea-stacks", "focus_reached", {"reached": True}, "reached", True),
        ("brae-cooled", "infinity_mark", {"mark_m": 12.0}, 85.0**2 / 0.681434599 / 1000.0, True),
        ("brae-cooled", "infinity_mark", {"mark_m": 3.0}, 85.0**2 / 0.681434599 / 1000.0, False),
        ("sea-stacks", "filter_stops", {"part": "solid-3-0", "without_s": 0.02, "with_s": 20.0}, 9.9658, True),
        ("sea-stacks", "mass", {"mass_g": 900.0}, None, False),
        ("sea-stacks-slim", "darkening", {"focal_mm": 20.0}, None, False),
    ],
)  # fmt: skip
def test_an_observation_stands_beside_its_prediction(
    train: str, kind: str, values: dict[str, object], predicted: float | str | None, agrees: bool
) -> None:
    """Predictions by a person's sum: lengths added up, stops log2 1000, the ring at f²/s of its scale."""
    book = WriteDown(OBSERVATIONS[kind], train, DAY, values).apply(BOOK)
    side = compared_then(book.log[-1], book.states[-1] if book.log[-1].state == book.states[-1].id else
                         book.states_by_id[book.log[-1].state])  # fmt: skip
    assert side is not None
    if isinstance(predicted, float):
        assert side.predicted == pytest.approx(predicted, rel=1e-4)
    else:
        assert side.predicted == predicted
    assert (side.agreement is Agreement.AGREES) is agrees
    assert difference_words(side)
    assert seen_words(book.log[-1], book.by_id)


def test_a_reading_by_eye_is_given_the_eye_s_doubt() -> None:
    """Onset is predicted at 29.36 mm and half at 28.43: seen by eye at 28.6 it agrees, measured there it does not."""
    for judged, agrees in (("by_eye", True), ("measured", False)):
        values = {"focal_mm": 28.6, "f_number": 8.0, "judged": judged, "off_mm": 0.1}
        book = WriteDown(Darkening, "sea-stacks", DAY, values).apply(BOOK)
        side = compared_then(book.log[-1], book.states_by_id[book.log[-1].state])
        assert side is not None
        assert side.predicted == pytest.approx(29.36, abs=0.01)
        assert (side.agreement is Agreement.AGREES) is agrees


# Taken over and back


def test_the_season_moves_the_corrector_s_distance_and_two_verdicts() -> None:
    """Too short at 54.92, round at 55.32, too long at 56.12, tolerance 0.4: between 55.2 and 55.75."""
    found = learnt(BOOK, "lantern-wheel")
    (one,) = found
    assert (one.part, one.path) == ("coma-corrector", "back_focus_mm")
    assert 55.2 < one.low < one.value < one.high < 55.8
    after = TakeOver(found).apply(BOOK)
    changed = consequences(BOOK.trains, BOOK.by_id, after.by_id)
    assert {c.train.id for c in changed if c.spacing_changes} == {"lantern-wheel", "lantern-apsc"}
    assert all("too short" in consequence_words(c) for c in changed if c.spacing_changes)
    use = after.by_id["coma-corrector"].back_focus_mm.in_use  # type: ignore[attr-defined]
    assert use.origin is Origin.MEASURED
    assert set(use.seen) == {seen.id for seen in BOOK.log if isinstance(seen, CornerStars)} - {
        seen.id for seen in BOOK.log if seen.train == "witch-broom"
    }
    assert from_text(to_text(after), "it") == after


def test_what_was_taken_over_is_taken_back_with_its_observation() -> None:
    after = TakeOver(learnt(BOOK, "sea-stacks")).apply(BOOK)
    lens = after.by_id["brae-17-35"]
    assert isinstance(lens, CameraLens)
    assert len(lens.entrance_pupils) == 4
    gone = next(seen for seen in BOOK.log if isinstance(seen, Darkening))
    assert [part.id for part in resting_on(after, gone.id)] == ["brae-17-35"]
    back = TakeBack(gone.id).apply(after)
    assert back.by_id["brae-17-35"] == BOOK.by_id["brae-17-35"]
    assert back.by_id["solid-3-0"] == after.by_id["solid-3-0"]
    metered = next(seen for seen in BOOK.log if seen.kind == "filter_stops")
    assert TakeBack(metered.id).apply(back).by_id["solid-3-0"] == BOOK.by_id["solid-3-0"]


def test_taking_over_twice_keeps_one_learnt_figure_and_every_other() -> None:
    found = learnt(BOOK, "lantern-wheel")
    once = TakeOver(found).apply(BOOK)
    twice = TakeOver(learnt(once, "lantern-wheel")).apply(once)
    readings = twice.by_id["coma-corrector"].back_focus_mm.readings  # type: ignore[attr-defined]
    assert [reading.origin for reading in readings] == [Origin.PUBLISHED, Origin.MEASURED]
    with pytest.raises(EditRefused, match="No value is selected"):
        TakeOver(()).apply(BOOK)


def test_a_zoom_of_one_shared_offset_moves_its_whole_table() -> None:
    found = learnt(BOOK, "sea-stacks")
    shared = tuple(
        Found(
            one.part, one.path, one.value, one.low, one.high, one.unit, one.seen, one.focal_mm, Assumption.SHARED_OFFSET
        )
        for one in found
        if one.path == "entrance_pupils"
    )
    before, after = BOOK.by_id["brae-17-35"], TakeOver(shared).apply(BOOK).by_id["brae-17-35"]
    assert isinstance(before, CameraLens)
    assert isinstance(after, CameraLens)
    # At 27.6 mm the table said 30.35; calibrated is 26.39: all entries move by as much.
    moved = [at.depth_mm.value for at in after.entrance_pupils if at.focal_mm in (17.0, 24.0, 35.0)]
    offset = shared[0].value - (31.5 + (28.0 - 31.5) * (shared[0].focal_mm - 24.0) / 11.0)  # type: ignore[operator]
    assert moved == pytest.approx([27.0 + offset, 31.5 + offset, 28.0 + offset], abs=0.01)
    assert TakeBack(shared[0].seen[0]).apply(TakeOver(shared).apply(BOOK)).by_id["brae-17-35"] == before


def test_words_of_what_is_learnt_and_what_is_not() -> None:
    for train in BOOK.trains:
        found, refused = learn(evidence(BOOK), train)
        for one in found:
            assert "observation" in found_words(one, BOOK.by_id)
        for other in refused:
            assert "would take" in refused_words(other, BOOK.by_id)


# Void


def test_flats_are_void_from_the_day_something_moves() -> None:
    book = WriteDown(Flats, "lantern-wheel", DAY, {"frames": 30}).apply(BOOK)
    mine = book.log[-1].id
    # Another filter in the beam is no move, nor is a look at another train.
    turned = WithDate(SetInBeam("lantern-wheel", 3, 2), "2026-11-21").apply(book)
    assert turned.train("lantern-wheel") != book.train("lantern-wheel")
    assert isinstance(turned.log_by_id[mine], Flats)
    assert turned.log_by_id[mine].void_since is None  # type: ignore[attr-defined]
    flipped = WithDate(FlipPart("lantern-wheel", 3, Side.REAR, label="Flip the wheel"), "2026-11-22").apply(turned)
    flats = flipped.log_by_id[mine]
    assert isinstance(flats, Flats)
    assert (flats.void_since, flats.void_by) == ("2026-11-22", "Flip the wheel")
    again = WithDate(FlipPart("lantern-wheel", 3, Side.REAR), "2026-11-23").apply(flipped)
    # Turned back it is as it place, and the flats stay no longer valid from the day it was turned.
    assert again.log_by_id[mine] == flats
    others = [seen for seen in flipped.log if isinstance(seen, Flats) and seen.id != mine]
    assert others
    assert all(seen.void_since is None for seen in others)


# States and what differs


def test_a_state_is_kept_by_name_laid_again_and_let_go() -> None:
    kept = KeepState("sea-stacks", "October", DAY).apply(BOOK)
    state = next(state for state in kept.states if state.name == "October")
    with pytest.raises(EditRefused, match="snapshot “October”"):
        KeepState("sea-stacks", "Again", DAY).apply(kept)
    bare = RemoveTrain("sea-stacks").apply(kept)
    bare = RemoveTrain("sea-stacks-slim").apply(bare)
    bare = DiscardPart("polariser-105").apply(bare)
    laid = RestoreState(state.id).apply(bare)
    assert "polariser-105" in laid.by_id
    assert laid.trains[-1].front_stack == BOOK.train("sea-stacks").front_stack
    assert from_text(to_text(laid), "it") == laid
    # An observation was made with it: let go, the state stays without its name.
    dropped = DropState(state.id).apply(kept)
    assert dropped.states_by_id[state.id].name == ""
    with pytest.raises(EditRefused, match="1 to 120"):
        KeepState("sea-stacks", " ", DAY).apply(BOOK)


def test_what_differs_is_told_part_by_part() -> None:
    one, other = BOOK.train("sea-stacks"), BOOK.train("sea-stacks-slim")
    found = differences(one, other, BOOK.by_id, BOOK.by_id)
    assert {d.part for d in found if d.change is Change.ADDED} == {"ring-82-recessed", "polariser-86"}
    assert {d.part for d in found if d.change is Change.GONE} == {"protection-82", "ring-82", "front-ring-105",
                                                                  "polariser-105"}  # fmt: skip
    flipped = FlipPart("witch-broom", 2, Side.REAR).apply(BOOK)
    (turned,) = differences(BOOK.train("witch-broom"), flipped.train("witch-broom"), BOOK.by_id, BOOK.by_id)
    assert (turned.change, turned.part) == (Change.LAID, "kittiwake-drawer")
    priced = SetField("kittiwake-drawer", "price", 12.0).apply(BOOK)
    assert differences(BOOK.train("witch-broom"), BOOK.train("witch-broom"), BOOK.by_id, priced.by_id) == ()
    longer = SetReading("kittiwake-drawer", "path_length_mm", Reading(value=21.0, origin=Origin.MEASURED)).apply(BOOK)
    (known,) = differences(BOOK.train("witch-broom"), BOOK.train("witch-broom"), BOOK.by_id, longer.by_id)
    assert (known.change, known.part) == (Change.VALUE, "kittiwake-drawer")


# What to look at next


def test_the_next_observation_is_the_one_that_leaves_least() -> None:
    (best,) = next_best(BOOK.train("sea-stacks"), BOOK.by_id)
    assert (best.open.figure, best.kind) == ("front.first_clean_mm", "darkening")
    assert next_words(best, BOOK.by_id)
    # A spacer of unknown length: a caliper on it leaves next to nothing, stars leave much.
    spacer = BOOK.by_id["spacer-5"].model_copy(update={"path_length_mm": unknown(4.0, 5.5)})
    shelf = {**BOOK.by_id, "spacer-5": spacer}
    (spacing,) = next_best(BOOK.train("witch-broom"), shelf)
    assert (spacing.open.figure, spacing.part) == ("spacing.error_mm", "spacer-5")
    # By hand: the length's deviation is 1.5/√12 = 0.433; two published figures 0.25 apart stay, 0.25/√12 = 0.072, and
    # of the caliper's 0.05/√3 = 0.029 nearly all: √(0.072² + 0.029²) of √(0.433² + 0.072²).
    assert spacing.left == pytest.approx((0.0722**2 + 0.0288**2) ** 0.5 / (0.433**2 + 0.0722**2) ** 0.5, rel=0.02)


def test_a_verdict_that_is_closed_asks_for_nothing() -> None:
    shelf = {
        **BOOK.by_id,
        "spacer-5": BOOK.by_id["spacer-5"].model_copy(update={"path_length_mm": unknown(4.99, 5.01)}),
    }
    assert not [one for one in next_best(BOOK.train("witch-broom"), shelf) if one.open.figure == "spacing.error_mm"]


# Tables and photos


def test_a_log_goes_out_and_comes_back() -> None:
    text = log_to_csv(BOOK.log, BOOK.states_by_id)
    bare = BOOK.model_copy(update={"log": (), "states": ()})
    rows = read_log_csv(text, bare)
    assert [row.reason for row in rows] == [""] * len(BOOK.log)
    again = ImportObservations(tuple(row.edit for row in rows if row.edit is not None)).apply(bare)
    assert [seen.model_dump(exclude={"id", "state"}) for seen in again.log] == [
        seen.model_dump(exclude={"id", "state"}) for seen in BOOK.log
    ]


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        ("seen,sea-stacks,2026-10-03,20", "The kind “seen” is not known"),
        ("darkening,nowhere,2026-10-03,20", "There is no train “nowhere”"),
        ("darkening,sea-stacks,3 October,20", "is no day; write 2026-10-03"),
        ("darkening,sea-stacks,2026-02-30,20", "is no day"),
        ("darkening,sea-stacks,2999-01-01,20", "is in the future"),
        ("darkening,sea-stacks,2026-10-03,", "give “Focal length” as well"),
        ("darkening,sea-stacks,2026-10-03,-4", "Focal length: "),
        ("darkening,sea-stacks,2026-10-03,18 to 20", "is a range"),
        ("darkening,sea-stacks,2026-10-03,wide", "wide"),
        ("note,sea-stacks,2026-10-03,20,too many", "more cells than the header"),
    ],
)
def test_a_bad_row_says_why_and_the_others_come_in(row: str, reason: str) -> None:
    rows = read_log_csv(f"kind,train,day,focal_mm\n{row}\ndarkening,sea-stacks,2026-10-03,24\n", BOOK)
    assert reason in rows[0].reason
    assert rows[0].edit is None
    assert rows[1].edit is not None


def test_what_is_no_table_is_refused() -> None:
    for text in ("", "a,b\n1,2\n", "kind;train\nx;y\n"):
        with pytest.raises(BadInput, match="no column"):
            read_log_csv(text, BOOK)


def test_days_of_the_future_are_refused() -> None:
    assert checked_day("2026-10-03") == "2026-10-03"
    for bad in ("2999-01-01", "26-1-1", "2026-13-01", ""):
        with pytest.raises(BadInput):
            checked_day(bad)


def photo(path: Path, tags: dict[int, object]) -> Path:
    from PIL import Image

    picture = Image.new("RGB", (8, 6))
    exif = Image.Exif()
    exif.get_ifd(0x8769).update(tags)
    picture.save(path, exif=exif)
    return path


def test_a_photo_tells_focal_length_aperture_day_and_time(tmp_path: Path) -> None:
    """EXIF 2.32: FocalLength 0x920A, FNumber 0x829D, ExposureTime 0x829A, DateTimeOriginal 0x9003."""
    taken = photo(tmp_path / "a.jpg", {0x920A: 24.0, 0x829D: 8.0, 0x829A: 0.004, 0x9003: "2026:10:03 21:14:05"})
    facts = photo_facts(taken)
    assert (facts.focal_mm, facts.f_number, facts.exposure_s) == (24.0, 8.0, 0.004)
    assert (facts.day, facts.time) == ("2026-10-03", "21:14")
    assert photo_facts(photo(tmp_path / "b.jpg", {})).silent
    odd = photo_facts(photo(tmp_path / "c.jpg", {0x9003: "yesterday", 0x829D: 0.0}))
    assert odd.silent


@given(st.data())
@settings(max_examples=60, deadline=None)
def test_a_damaged_photo_is_told_in_a_sentence(tmp_path_factory: pytest.TempPathFactory, data: st.DataObject) -> None:
    folder = tmp_path_factory.mktemp("photo")
    whole = photo(folder / "a.jpg", {0x920A: 24.0, 0x9003: "2026:10:03 21:14:05"}).read_bytes()
    spoilt = bytearray(whole)
    for _ in range(data.draw(st.integers(1, 12))):
        spoilt[data.draw(st.integers(0, len(spoilt) - 1))] = data.draw(st.integers(0, 255))
    path = folder / "b.jpg"
    path.write_bytes(bytes(spoilt[: data.draw(st.integers(1, len(spoilt)))]))
    with contextlib.suppress(BadInput):
        photo_facts(path)


def test_no_photo_is_told_too(tmp_path: Path) -> None:
    text = tmp_path / "text.jpg"
    text.write_text("no picture", encoding="utf-8")
    for path in (text, tmp_path / "nowhere.jpg", tmp_path):
        with pytest.raises(BadInput):
            photo_facts(path)


# Refusals


def test_edits_of_what_is_gone_are_refused() -> None:
    for edit in (
        WriteDown(FreeNote, "nowhere", DAY, {}), ChangeObservation("nothing", {}), RemoveObservation("nothing"),
        KeepState("nowhere", "x", DAY), DropState("nothing"), RestoreState("nothing"),
    ):  # fmt: skip
        with pytest.raises(EditRefused):
            edit.apply(BOOK)
    with pytest.raises(EditRefused, match="Mass"):
        WriteDown(Weighed, "sea-stacks", DAY, {"mass_g": -5.0}).apply(BOOK)


def test_changing_and_removing() -> None:
    book = WriteDown(FocusReached, "witch-broom", DAY, {"reached": True}).apply(BOOK)
    mine = book.log[-1].id
    changed = ChangeObservation(mine, {"reached": False, "note": "frost"}).apply(book)
    assert changed.log_by_id[mine].note == "frost"
    assert len(changed.log) == len(book.log)
    removed = RemoveObservation(mine).apply(changed)
    assert removed.log == BOOK.log
    assert {state.id for state in removed.states} == {state.id for state in BOOK.states}
    with pytest.raises(EditRefused):
        ChangeObservation(mine, {"time": "25:00"}).apply(book)


def test_nothing_is_learnt_from_an_empty_log() -> None:
    assert empty_workbook().log == ()
    bare = BOOK.model_copy(update={"log": ()})
    for train in BOOK.trains:
        assert learn(evidence(bare), train) == ((), ())


def test_two_onsets_that_cannot_both_be_are_both_kept_and_widen_the_interval() -> None:
    told = [{"focal_mm": f, "f_number": 8.0, "judged": "measured", "off_mm": 0.1} for f in (27.0, 27.9)]
    book = BOOK.model_copy(update={"log": (), "states": ()})
    for values in told:
        book = WriteDown(Darkening, "sea-stacks", DAY, values).apply(book)
    (found,) = learnt(book, "sea-stacks")
    assert len(found.seen) == 2
    alone = WriteDown(Darkening, "sea-stacks", DAY, told[0]).apply(BOOK.model_copy(update={"log": (), "states": ()}))
    (one,) = learnt(alone, "sea-stacks")
    assert found.off > 3.0 * one.off
    assert all(seen.id in found.seen for seen in book.log)


def test_the_shelf_s_owner_counts_as_having_measured() -> None:
    shelf = tuple(part.model_copy(update={"status": Status.EXAMPLE}) if part.id == "coma-corrector" else part
                  for part in BOOK.shelf)  # fmt: skip
    after = TakeOver(learnt(BOOK, "lantern-wheel")).apply(BOOK.model_copy(update={"shelf": shelf}))
    assert after.by_id["coma-corrector"].status is Status.OWNED


def test_infinity_at_its_mark() -> None:
    """A train 0.68 mm too short on 85 mm reaches infinity before the mark, one that lands at the mark."""
    for train, predicted in (("brae-cooled", "before_infinity"), ("sea-stacks", "at_infinity")):
        book = WriteDown(InfinityMark, train, DAY, {}).apply(BOOK)
        side = compared_then(book.log[-1], book.states_by_id[book.log[-1].state])
        assert side is not None
        assert side.predicted == predicted


def test_stars_of_a_known_rule() -> None:
    shelf = tuple(part.model_copy(update={"short_stars": ShortStars.RADIAL}) if part.id == "tern-flattener" else part
                  for part in BOOK.shelf)  # fmt: skip
    book = from_text(to_text(BOOK.model_copy(update={"shelf": shelf})), "it")
    readout = read(book.train("witch-broom-short"), book.by_id)
    seen = WriteDown(CornerStars, "witch-broom-short", DAY, {"shape": StarShape.TANGENTIAL}).apply(book).log[-1]
    side = seen.compared(readout)
    assert side is not None
    assert side.predicted == "radial"
    assert side.agreement is Agreement.DIFFERS


def test_if_it_works_leave_it() -> None:
    """The Witch Broom's stars were round; its error is 0.02 mm of ±0.5: 0.48 to spare. Moved, nothing is said."""
    works = works_as_it_lies(evidence(BOOK), BOOK.train("witch-broom"))
    assert works is not None
    assert works.day == "2026-10-03"
    assert works.spare_mm == pytest.approx(0.5 - 0.018565401)
    assert "leave it" in works_words(works)
    moved = FlipPart("witch-broom", 2, Side.REAR).apply(BOOK)
    assert works_as_it_lies(evidence(moved), moved.train("witch-broom")) is None
    assert works_as_it_lies(evidence(BOOK), BOOK.train("lantern-wheel")) is None
    later = WriteDown(CornerStars, "witch-broom", DAY, {"shape": StarShape.RADIAL}).apply(BOOK)
    assert works_as_it_lies(evidence(later), later.train("witch-broom")) is None
