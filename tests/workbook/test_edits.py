"""Edits and history: pure, undoable, and refused in words."""

import math
from collections.abc import Callable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import EditRefused
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading, Span
from farrail.parts.registry import TEMPLATES
from farrail.train.train import Side
from farrail.workbook.edits.front import CarryLens
from farrail.workbook.edits.laying import (
    FlipPart,
    LayPart,
    MovePart,
    RemovePart,
    ReplacePart,
    ReverseOptic,
    SetFilter,
    SetInBeam,
    SetSpacer,
)  # fmt: skip
from farrail.workbook.edits.shelf import (
    AddPart,
    ChooseReading,
    DiscardPart,
    DuplicatePart,
    SetField,
    SetReading,
    parse_reading,
)  # fmt: skip
from farrail.workbook.edits.trains import (
    AddTrain,
    DuplicateTrain,
    RemoveTrain,
    RenameTrain,
    SetCamera,
    SetFNumber,
    SetGuideNumber,
    SetOptic,
    SetSubject,
)  # fmt: skip
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit, History
from farrail.workbook.reading import from_text, to_text

T = "witch-broom"


def reading(value: float) -> Reading:
    return Reading(value=value, origin=Origin.MEASURED)


EDITS: list[Edit] = [
    LayPart(T, "spacer-12", 2), MovePart(T, 1, 4), FlipPart(T, 1), RemovePart(T, 3),
    ReplacePart(T, "kittiwake-wheel", 2),
    SetInBeam(T, 2, 1), SetFilter(T, 2, 0, "clear-36"), SetFilter(T, 2, 2, "red-31"), SetFilter(T, 2, 0, None),
    LayPart(T, "helix-13", 0, flipped=True), AddTrain("New", "tern-72", None), DuplicateTrain(T), RemoveTrain(T),
    RenameTrain(T, "Another"), SetFNumber(T, 8.0), SetCamera(T, "skua-four-thirds"), SetOptic(T, "lantern-150"),
    SetReading("spacer-5", "path_length_mm", reading(5.02)), ChooseReading("tern-flattener", "back_focus_mm", 1),
    SetReading("dual-band-36", "glass.thickness_mm", reading(2.2)), SetField("spacer-5", "owned", 3),
    SetReading("helix-13", "clear_aperture_mm", Span(low=37, high=38)), AddPart(TEMPLATES["shim"]()),
    DuplicatePart("spacer-5"), DiscardPart("spacer-20"), SetField("spacer-5", "name", " Ring five "),
]  # fmt: skip


@pytest.mark.parametrize("edit", EDITS, ids=lambda e: f"{type(e).__name__}")
def test_undo_after_apply_is_identity_and_redo_its_opposite(edit: Edit) -> None:
    before = demo_workbook()
    kept = before.model_dump_json()
    history = History(before)
    assert history.do(edit)
    after = history.present
    assert after != before
    assert before.model_dump_json() == kept  # nothing is changed in place
    assert history.undo_label == str(edit.label)
    assert history.undo() == str(edit.label)
    assert history.present is before
    assert history.clean
    assert history.redo() == str(edit.label)
    assert history.present is after
    assert not history.clean


def test_a_smaller_wheel_keeps_the_first_filters_and_a_slot_it_has_in_the_beam() -> None:
    history = History(demo_workbook())
    history.do(SetInBeam("lantern-wheel", 3, 6))
    history.do(ReplacePart("lantern-wheel", "kittiwake-wheel-5", 3))
    laid = history.present.train("lantern-wheel").rear_train[3]
    assert laid.filters == ("luminance-31", "red-31", "green-31", "blue-31", "hydrogen-31")
    assert laid.in_beam == 4


@settings(max_examples=25, deadline=None)
@given(st.lists(st.sampled_from(EDITS), max_size=12))
def test_any_run_of_edits_is_undone_to_the_start(edits: list[Edit]) -> None:
    history = History(demo_workbook())
    for edit in edits:
        try:
            history.do(edit)
        except EditRefused:
            continue
    end = history.present
    while history.undo():
        pass
    assert history.present is demo_workbook()
    while history.redo():
        pass
    assert history.present == end


def test_turning_a_value_back_and_forth_is_one_step() -> None:
    history = History(demo_workbook())
    history.do(SetFNumber(T, 7.0))
    history.do(SetFNumber(T, 8.0))
    assert history.undo() is not None
    assert history.present is demo_workbook()
    history.do(SetFNumber(T, 9.0))
    history.mark_saved()
    history.do(SetFNumber(T, 10.0))  # a save ends the step: undo must come back to the saved state
    history.undo()
    assert history.clean


def test_an_edit_that_changes_nothing_is_no_step() -> None:
    history = History(demo_workbook())
    assert not history.do(SetInBeam(T, 2, 0))
    assert history.undo_label is None


def test_history_keeps_a_limit() -> None:
    history = History(demo_workbook(), limit=3)
    for number in range(6):
        history.do(SetField("spacer-5", "owned", number + 2))
    assert [history.undo() is not None for _ in range(4)] == [True, True, True, False]


REFUSED: list[tuple[Edit, str]] = [
    (LayPart(T, "tern-72", 0), "cannot be between"),
    (LayPart(T, "gone", 0), "no longer on the shelf"),
    (LayPart("gone", "spacer-5", 0), "no train"),
    (MovePart(T, 17, 0), "no longer on the rail"),
    (RemovePart(T, -1), "no longer on the rail"),
    (SetInBeam(T, 2, 9), "no slot 10"),
    (SetFilter(T, 2, 7, "red-31"), "no slot 8"),
    (SetFilter(T, 2, 0, "spacer-5"), "needs a filter in each seat"),
    (SetSpacer(T, 3, 12.0), "Only an adjustable spacer"),
    (SetReading("spacer-5", "path_length_mm", Reading(value=-3, origin=Origin.MEASURED)), "outside 0 to 3000"),
    (SetReading("spacer-5", "glass.index", Reading(value=2, origin=Origin.MEASURED)), "has no value"),
    (ChooseReading("tern-flattener", "back_focus_mm", 5), "figure is gone"),
    (SetField("spacer-5", "name", "   "), "needs a name"),
    (SetField("spacer-5", "owned", -1), "it must be 0 or more"),
    (DiscardPart("tern-72"), "is on 2 trains"),
    (SetFNumber(T, 0.01), "cannot be used"),
    (SetCamera(T, "spacer-5"), "needs a camera"),
    (AddTrain("  ", "tern-72", None), "needs a name"),
]


@pytest.mark.parametrize(("edit", "words"), REFUSED, ids=lambda e: type(e).__name__ if not isinstance(e, str) else "")
def test_edits_that_do_not_fit_are_refused_in_words(edit: Edit, words: str) -> None:
    history = History(demo_workbook())
    with pytest.raises(EditRefused, match=words):
        history.do(edit)
    assert history.present is demo_workbook()


def test_an_adjustable_spacer_is_set_within_its_range() -> None:
    workbook = LayPart(T, "helix-13", 5).apply(demo_workbook())
    laid = SetSpacer(T, 5, 13.68).apply(workbook).train(T).row(Side.REAR)[5]
    assert laid.setting_mm == 13.68
    with pytest.raises(EditRefused, match="reaches 10 to 15"):
        SetSpacer(T, 5, 15.2).apply(workbook)


@pytest.mark.parametrize(
    ("text", "value", "tolerance"),
    [("16.46", 16.46, 0), ("16,46", 16.46, 0), (" 16.46 ± 0.02 mm", 16.46, 0.02), ("5+/-0,1", 5, 0.1), ("−2", -2, 0)],
)
def test_what_a_person_types(text: str, value: float, tolerance: float) -> None:
    made = parse_reading(text, Origin.MEASURED)
    assert (made.value, made.tolerance) == (value, tolerance)


@pytest.mark.parametrize("text", ["", "abc", "1.2.3", "1,000.5", "nan", "inf", "5 ± x"])
def test_what_is_no_length_is_refused(text: str) -> None:
    make: Callable[[], Reading] = lambda: parse_reading(text, Origin.MEASURED)  # noqa: E731
    with pytest.raises(EditRefused, match="is not a length"):
        assert math.isfinite(make().value)


def test_what_a_workbook_works_out_follows_every_edit() -> None:
    workbook = demo_workbook()
    assert workbook.by_id["spacer-5"].owned == 1
    assert workbook.use_counts["spacer-20"] == 0
    changed = LayPart(T, "spacer-20", 2).apply(SetField("spacer-5", "owned", 4).apply(workbook))
    assert changed.by_id["spacer-5"].owned == 4
    assert changed.use_counts["spacer-20"] == 1


@pytest.mark.parametrize(
    ("path", "text", "value", "note"),
    [
        ("dioptres", "10x", 10.0, "labelled 10x: means dioptres"), ("dioptres", "+4", 4.0, ""),
        ("dioptres", "2,5 D", 2.5, ""), ("dioptres", "+3 dpt", 3.0, ""), ("density", "0.9", 0.9, ""),
        ("density", "10 stops", 3.0103, "given as 10 stops"), ("density", "0.1 %", 3.0, "given as 0.1 %"),
        ("density", "50%", 0.30103, "given as 50%"), ("path_length_mm", "16.46", 16.46, ""),
    ],
)  # fmt: skip
def test_values_are_read_as_boxes_label_them(path: str, text: str, value: float, note: str) -> None:
    """0.3, 1 stop and 50 % are one filter, 3.0, 9.97 stops and 0.1 % another (definitions)."""
    reading = parse_value(path, text, Origin.MEASURED)
    assert reading.value == pytest.approx(value, abs=1e-4)
    assert reading.note == note


@pytest.mark.parametrize(("path", "text"), [("dioptres", "ten x"), ("density", "0 %"), ("density", "-2 stops"),
                                            ("density", "dark"), ("dioptres", "")])  # fmt: skip
def test_what_is_no_such_value_is_refused(path: str, text: str) -> None:
    with pytest.raises(EditRefused):
        parse_value(path, text, Origin.MEASURED)


def test_measured_stops_keep_their_spread() -> None:
    reading = parse_value("density", "9.6 ± 0.1 stops", Origin.MEASURED)
    assert isinstance(reading, Reading)
    assert reading.value == pytest.approx(9.6 * math.log10(2.0), abs=1e-4)
    assert reading.tolerance == pytest.approx(0.1 * math.log10(2.0), abs=1e-4)


def test_close_up_edits_refuse_what_cannot_be_and_undo_by_value() -> None:
    workbook = demo_workbook()
    for edit in (SetSubject("lichen", 0.0, None, None), SetSubject("lichen", 5.0, -1.0, None),
                 SetSubject("lichen", 5.0, 1.0, 2000.0), SetGuideNumber("lichen", -4.0),
                 ReverseOptic("bulbous", True), CarryLens("lichen", 0, "brae-50")):  # fmt: skip
        with pytest.raises(EditRefused):
            edit.apply(workbook)
    for good in (SetSubject("lichen", 20.0, 2.0, 6.0), SetGuideNumber("lichen", 28.0), ReverseOptic("lichen", True)):
        assert good.apply(workbook) != workbook
        assert good.label
    back = ReverseOptic("lichen", False).apply(ReverseOptic("lichen", True).apply(workbook))
    assert back == workbook


def test_a_wheel_has_the_slots_that_parts_say_in_every_train() -> None:
    """More slots are empty ones; fewer are refused while a filter is in one of them; undo brings all back."""
    before = demo_workbook()
    history = History(before)
    assert history.do(SetField("kittiwake-wheel", "slots", 9))

    def filters() -> list[tuple[str | None, ...]]:
        return [
            laid.filters for train in history.present.trains for laid in train.rear_train
            if laid.part == "kittiwake-wheel"
        ]  # fmt: skip

    assert filters()
    assert {len(held) for held in filters()} == {9}
    wheel = next(train for train in history.present.trains if train.id == "lantern-wheel")
    index = next(n for n, laid in enumerate(wheel.rear_train) if laid.part == "kittiwake-wheel")
    assert history.do(SetFilter("lantern-wheel", index, 8, "red-31"))
    kept = filters()
    with pytest.raises(EditRefused, match=r"Seven-slot wheel has a filter in slot 9 in “Lantern 150 with its wheel”"):
        history.do(SetField("kittiwake-wheel", "slots", 7))
    assert filters() == kept
    assert history.do(SetFilter("lantern-wheel", index, 8, None))
    assert history.do(SetField("kittiwake-wheel", "slots", 7))
    assert {len(held) for held in filters()} == {7}
    # In a file that was written with the old number of slots, too.
    text = to_text(history.present).replace('"slots": 7', '"slots": 8')
    told = from_text(text, "file")
    assert {len(laid.filters) for t in told.trains for laid in t.rear_train if laid.part == "kittiwake-wheel"} == {8}
    while history.undo() is not None:
        pass
    assert history.present == before


def test_removing_a_filter_leaves_its_slot_empty() -> None:
    history = History(demo_workbook())
    held = next(t for t in history.present.trains if t.id == "lantern-wheel")
    index = next(n for n, laid in enumerate(held.rear_train) if laid.part == "kittiwake-wheel")
    before = held.rear_train[index].filters
    assert history.do(SetFilter("lantern-wheel", index, 1, None))
    after = history.present.train("lantern-wheel").rear_train[index].filters
    assert after == (before[0], None, *before[2:])
