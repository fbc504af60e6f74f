"""What an evening shows beyond the spacing: filter offsets, and what ends a set of flats."""

import csv
import io
import json
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.logbook.entered import entered
from farrail.logbook.kinds.evening import Change, DustSeen, FilterFocus, Moved, Stray, StrayLight, Temperature
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.kinds.keeping import Flats
from farrail.logbook.kinds.lengths import Weighed
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars, InfinityMark, StarShape
from farrail.logbook.learning.model import Evidence
from farrail.logbook.learning.spacing_stars import works_as_it_lies
from farrail.logbook.observation import Corner, Observation
from farrail.logbook.parfocal import parfocal_table
from farrail.logbook.seen_words import seen_words
from farrail.logbook.side_by_side import Column
from farrail.logbook.state import as_owned_now, state_on
from farrail.logbook.voids import moved
from farrail.parts.kinds.filters import RoundFilter
from farrail.readouts.read import read
from farrail.train.train import MountedPart, Train
from farrail.ui.window import MainWindow
from farrail.workbook.edits.invalid_flats import WithDate
from farrail.workbook.edits.log import WriteDown
from farrail.workbook.edits.states import KeepState
from farrail.workbook.edits.trains import RemoveTrain
from farrail.workbook.store import read_file, write_file
from farrail.workbook.workbook import Workbook
from tests.command_line import far_rail

BOOK = demo_workbook()
WHEEL = BOOK.train("lantern-wheel")
# Without the season that the demo has behind it.
BARE = BOOK.model_copy(update={"states": (), "log": ()})


def focus(part: str, beside: str, offset_um: float, off_um: float = 15.0, *, number: int = 0) -> FilterFocus:
    return FilterFocus(id=f"f-{number}-{part}", train=WHEEL.id, state="x", day="2026-10-01", part=part, beside=beside,
                       position_um=5000.0 + offset_um, beside_um=5000.0, off_um=off_um)  # fmt: skip


def test_an_offset_follows_from_both_glasses() -> None:
    """t(1 − 1/n) of each by hand; the glass with more shift focuses farther out."""
    first, second = (BOOK.by_id[key] for key in ("luminance-31", "hydrogen-31"))
    assert isinstance(first, RoundFilter)
    assert isinstance(second, RoundFilter)
    by_hand = 1000.0 * (second.glass.shift_mm - first.glass.shift_mm)
    seen = focus("hydrogen-31", "luminance-31", by_hand + 10.0)
    told = seen.compared(read(WHEEL, BOOK.by_id))
    assert told is not None
    assert told.predicted == pytest.approx(by_hand)
    assert told.agreement == "agrees"


def test_the_parfocal_table_finds_hidden_offsets() -> None:
    """Three hundred evenings of random pairs: 95 % intervals hold the truth in at least 93 %; chains are followed."""
    dice, readout = np.random.default_rng(3), read(WHEEL, BOOK.by_id)
    names = [one.part for one in readout.spacing.filters]
    here = next(one.part for one in readout.spacing.filters if one.in_beam)
    held = counted = 0
    for _ in range(300):
        truth = {name: float(dice.normal(0.0, 80.0)) for name in names}
        log = []
        for number in range(8):
            one, other = dice.choice(len(names), 2, replace=False)
            off = truth[names[one]] - truth[names[other]] + float(dice.uniform(-15.0, 15.0))
            log.append(focus(names[one], names[other], off, number=number))
        for row in parfocal_table(readout, log):
            if row.measured_um is not None and row.off_um is not None:
                counted += 1
                held += abs(row.measured_um - (truth[row.part] - truth[here])) <= row.off_um
    assert counted > 900
    assert held >= 0.93 * counted
    alone = {row.part: row for row in parfocal_table(readout, [focus(names[1], names[2], 40.0)])}
    assert alone[names[1]].measured_um is None or here in (names[1], names[2])


def test_the_table_is_exported(tmp_path: Path) -> None:
    file = tmp_path / "mine.farrail.json"
    values = {"part": "hydrogen-31", "beside": "luminance-31", "position_um": 5040.0, "beside_um": 5000.0}
    write_file(file, WriteDown(FilterFocus, WHEEL.id, "2026-10-02", values).apply(BOOK))
    told = far_rail("csv", str(file), "parfocal", "--train", "lantern-wheel")
    rows = {row["id"]: row for row in csv.DictReader(io.StringIO(told.stdout))}
    assert float(rows["hydrogen-31"]["measured_um"]) == pytest.approx(40.0, abs=0.5)
    assert rows["luminance-31"]["from_glass_um"] == "0"
    entries = json.loads(far_rail("log", str(file), "--json").stdout)["entries"]
    (focused,) = (one for one in entries if one["kind"] == "filter_focus")
    assert focused["compared"]["unit"] == "µm"


@dataclass(frozen=True)
class Put:
    """An edit that puts another train in its place."""

    train: Train
    label: str = "Change"
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        trains = tuple(self.train if one.id == self.train.id else one for one in workbook.trains)
        return workbook.model_copy(update={"trains": trains})


def conditions(train: Train, **update: Any) -> Train:
    return train.model_copy(update={"conditions": train.conditions.model_copy(update=update)})


def slots(train: Train, *filters: str | None) -> Train:
    rear = tuple(laid.model_copy(update={"filters": filters}) if laid.filters else laid for laid in train.rear_train)
    return train.model_copy(update={"rear_train": rear})


LENS = conditions(BOOK.train("sea-stacks-slim"), focal_mm=24.0, f_number=8.0, focus_mm=None)
HELD = next(laid.filters for laid in WHEEL.rear_train if laid.filters)


@pytest.mark.parametrize(
    ("before", "after", "voids"),
    [
        (LENS, conditions(LENS, focal_mm=20.0), True),
        (LENS, conditions(LENS, f_number=5.6), True),
        (LENS, conditions(LENS, focus_mm=500.0), True),
        # 24 mm at 100 m moves the image 6 µm; f/8 allows 70.
        (LENS, conditions(LENS, focus_mm=100_000.0), False),
        (WHEEL, conditions(WHEEL, f_number=8.0), False),
        (slots(WHEEL, *HELD[:-1], None), slots(WHEEL, *HELD), False),
        (slots(WHEEL, *HELD), slots(WHEEL, *HELD[:-1], None), True),
        (slots(WHEEL, *HELD), slots(WHEEL, HELD[1], HELD[0], *HELD[2:]), True),
        (WHEEL, WHEEL.model_copy(update={"camera_turned_deg": 30.0}), True),
        (WHEEL, WHEEL.model_copy(update={"rear_train": (*WHEEL.rear_train, MountedPart(part="shim-0-2"))}), True),
        (WHEEL, WHEEL.model_copy(update={"name": "Other"}), False),
    ],
)
def test_what_ends_a_set_of_flats(before: Train, after: Train, voids: bool) -> None:
    assert moved(before, after, BOOK.by_id) is voids
    book = Put(before).apply(BOOK)
    book = WriteDown(Flats, before.id, "2026-09-01", {"frames": 20}).apply(book)
    told = WithDate(Put(after), "2026-10-05").apply(book)
    flats = next(seen for seen in told.log if isinstance(seen, Flats) and seen.frames == 20)
    assert (flats.void_since == "2026-10-05") is voids


@pytest.mark.parametrize(("kind", "values", "day", "voids"), [
    (Moved, {"what": Change.CAMERA_OFF}, "2026-10-05", True), (DustSeen, {}, "2026-10-05", True),
    (Moved, {"what": Change.CLEANED}, "2026-08-01", False), (Temperature, {"celsius": 4.0}, "2026-10-05", False),
])  # fmt: skip
def test_flats_end_by_hand_with_the_reason(
    kind: type[Observation], values: dict[str, Any], day: str, voids: bool
) -> None:
    book = WriteDown(Flats, WHEEL.id, "2026-09-01", {"frames": 20}).apply(BOOK)
    told = WithDate(WriteDown(kind, WHEEL.id, day, values), "2026-10-06").apply(book)
    flats = next(seen for seen in told.log if isinstance(seen, Flats) and seen.frames == 20)
    assert flats.void_since == (day if voids else None)
    assert bool(flats.void_by) is voids


def test_new_kinds_are_said_in_words() -> None:
    base = {"id": "x", "train": WHEEL.id, "state": "x", "day": "2026-10-01"}
    said = [
        seen_words(one, BOOK.by_id)
        for one in (
            focus("hydrogen-31", "luminance-31", -25.0),
            StrayLight(**base, what=Stray.REFLECTION, part="luminance-31", corners=(Corner.TOP_LEFT,)),
            DustSeen(**base, part="skua-four-thirds"),
            Temperature(**base, celsius=-3.5, position_um=4200.0),
            Moved(**base, what=Change.ROTATED),
        )
    ]
    assert said == [
        "Hydrogen 31 focuses −25 µm from Luminance 31", "reflection from Luminance 31, top left",
        "dust on Skua 4/3 cooled", "−3.5 °C, focuser at 4200 µm", "something rotated",
    ]  # fmt: skip


def test_one_round_corner_does_not_mean_that_it_works() -> None:
    train = BOOK.train("witch-broom")
    for corners, works in (((), True), ((Corner.TOP_LEFT,), False)):
        values = {"shape": StarShape.ROUND, "corners": corners}
        book = WriteDown(CornerStars, train.id, "2026-11-01", values).apply(BOOK)
        evidence = Evidence.of(book.log, book.states_by_id, book.by_id)
        assert (works_as_it_lies(evidence, train) is not None) is works


@pytest.mark.parametrize(
    ("kind", "name", "text", "value", "half"),
    [
        (Darkening, "focal_mm", "28 mm", 28.0, 0.0), (Darkening, "f_number", "f/11", 11.0, 0.0),
        (Darkening, "f_number", "F5.6", 5.6, 0.0), (Weighed, "mass_g", "300 g", 300.0, 0.0),
        (Weighed, "mass_g", "0.3 kg", 300.0, 0.0), (FieldWidth, "width_mm", "15 cm", 150.0, 0.0),
        (FieldWidth, "width_mm", "6 in", 152.4, 0.0), (FieldWidth, "width_mm", "190 ± 8", 190.0, 8.0),
        (FilterStops, "with_s", "1/250 s", 0.004, 0.0), (Temperature, "celsius", "−3 °C", -3.0, 0.0),
        (Temperature, "celsius", "4C", 4.0, 0.0), (FilterFocus, "position_um", "5.2 mm", 5200.0, 0.0),
        (InfinityMark, "mark_m", "12 m", 12.0, 0.0), (Flats, "frames", "30", 30.0, 0.0),
    ],
)  # fmt: skip
def test_numbers_are_taken_as_people_write_them(
    kind: type[Observation], name: str, text: str, value: float, half: float
) -> None:
    found = entered(kind, name, text)
    assert [found.low, found.tolerance] == pytest.approx([value, half])


@pytest.mark.parametrize(
    ("kind", "name", "text"),
    [(Flats, "frames", "2.5"), (FilterStops, "with_s", "1/0"), (Weighed, "mass_g", "3 mm"),
     (FieldWidth, "width_mm", "10 to 20"), (FieldWidth, "width_mm", "wide")],
)  # fmt: skip
def test_what_is_no_number_of_that_field(kind: type[Observation], name: str, text: str) -> None:
    with pytest.raises(BadInput):
        entered(kind, name, text)


def test_what_is_behind_the_sign_is_the_uncertainty_of_the_entry(tmp_path: Path) -> None:
    file, table = tmp_path / "mine.farrail.json", tmp_path / "seen.csv"
    write_file(file, BOOK)
    table.write_text("kind,train,day,width_mm,nearest\nfield_width,barnacles,2026-10-09,190 ± 8 mm,yes\n")
    assert far_rail("log", str(file), "--import", str(table)).returncode == 0
    seen = read_file(file).workbook.log[-1]
    assert isinstance(seen, FieldWidth)
    assert (seen.width_mm, seen.off_mm) == (190.0, 8.0)


def test_an_entry_of_an_earlier_day_is_tied_to_the_train_as_it_was_then(tmp_path: Path) -> None:
    """Kept on 1 September, changed, kept on 1 October: what was seen between is of the first state."""
    train = BOOK.train("witch-broom")
    book = KeepState(train.id, "first", "2026-09-01").apply(BARE)
    changed = train.model_copy(update={"rear_train": (*train.rear_train, MountedPart(part="shim-0-2"))})
    book = KeepState(train.id, "second", "2026-10-01").apply(Put(changed).apply(book))
    now = changed.model_copy(update={"rear_train": train.rear_train[:-1]})
    book = Put(now).apply(book)
    first, second = (next(state for state in book.states if state.name == name) for name in ("first", "second"))
    for day, state in (("2026-09-01", first), ("2026-09-20", first), ("2026-10-01", second), ("2026-10-20", None),
                       ("2026-08-01", None)):  # fmt: skip
        assert state_on(book.states, now, day) == state, day
    file, table = tmp_path / "mine.farrail.json", tmp_path / "seen.csv"
    write_file(file, book)
    table.write_text("kind,train,day,shape\ncorner_stars,witch-broom,2026-09-20,round\n")
    assert far_rail("log", str(file), "--import", str(table)).returncode == 0
    assert read_file(file).workbook.log[-1].state == first.id


def test_the_window_offers_the_snapshot_of_the_day(make_window: Callable[..., MainWindow]) -> None:
    train = BOOK.train("witch-broom")
    book = KeepState(train.id, "first", "2026-09-01").apply(BARE)
    shorter = train.model_copy(update={"rear_train": train.rear_train[:-1]})
    window = make_window(Put(shorter).apply(book), train=train.id)
    window.stations.show_station("log")
    entry = window.log.entry
    entry.begin(CornerStars)
    assert entry.state.currentText() == "As it is now"
    entry.day.setText("2026-09-01")
    assert entry.state.currentText() == "As of 2026-09-01, first"
    entry.give()
    workbook = window.session.workbook
    assert workbook.log[-1].state == next(state.id for state in workbook.states if state.name == "first")


def test_a_snapshot_of_a_deleted_train_is_opened_again(make_window: Callable[..., MainWindow]) -> None:
    train = BOOK.train("witch-broom")
    book = RemoveTrain(train.id).apply(KeepState(train.id, "first", "2026-09-01").apply(BARE))
    shelf = tuple(part for part in book.shelf if part.id != "spacer-12")
    window = make_window(book.model_copy(update={"shelf": shelf}), train="sea-stacks")
    page = window.log.states
    window.stations.show_station("log")
    window.log.show_page(3)
    row = next(n for n, one in enumerate(page.table.ledger.rows) if "deleted" in one.cells[0].text)
    page.table.setCurrentIndex(page.table.ledger.index(row, 0))
    kept = next(state for state in book.states if state.name == "first")
    gone = [part.name for key, part in kept.by_id.items() if key == "spacer-12"]
    assert ("No longer among your parts: Spacer 12" in page._text.text()) is bool(gone)
    page.lay.click()
    assert window.session.train is not None
    assert window.session.train.rear_train == train.rear_train


def test_what_is_gone_is_missing_from_a_snapshot_compared() -> None:
    train = BOOK.train("witch-broom")
    book = KeepState(train.id, "first", "2026-09-01").apply(BARE)
    kept = next(state for state in book.states if state.name == "first")
    lost = train.rear_train[-1].part
    shelf = {key: part for key, part in book.by_id.items() if key != lost}
    column = Column(kept.train, as_owned_now(kept, shelf), "first")
    assert column.facts["to_buy"] == 1.0
    assert Column(kept.train, as_owned_now(kept, book.by_id), "first").facts["to_buy"] == 0.0
