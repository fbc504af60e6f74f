"""What goes into which pouch, against trying every way, and the demo's pack list as written by hand."""

from itertools import product

import numpy as np

from farrail.assembly.packing import Assignment, Packing, cases_of, packing_of, taken_for
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cases import Carries, Case
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.provenance import measured
from farrail.parts.registry import Part
from farrail.readouts.read import read
from farrail.text.pack import pack_rows, packed_mass
from farrail.train.layout import build_layout


def sheet(number: int, wide: float) -> SheetFilter:
    return SheetFilter.template().model_copy(update={"id": f"s{number}", "width_mm": measured(wide)})


def round_filter(number: int, wide: float) -> RoundFilter:
    return RoundFilter.template().model_copy(update={"id": f"r{number}", "outer_diameter_mm": wide})


def case(number: int, carries: Carries, holds: int, widest: float | None) -> Case:
    width = None if widest is None else measured(widest)
    return Case(id=f"c{number}", name=f"c{number}", carries=carries, holds=holds, widest_mm=width)


def most_placed(parts: list[Part], cases: list[Case]) -> int:
    """How many pieces find a place at best, by trying every way there is: a rule of a person, not the code's."""
    best = 0
    for way in product(range(len(cases) + 1), repeat=len(parts)):
        fits = True
        for number, box in enumerate(cases):
            inside = [part for part, where in zip(parts, way, strict=True) if where == number]
            wide = [p.width_mm.value if isinstance(p, SheetFilter) else p.outer_diameter_mm for p in inside]
            kind = SheetFilter if box.carries is Carries.SHEETS else RoundFilter
            limit = 1e9 if box.widest_mm is None else box.widest_mm.value
            fits &= len(inside) <= box.holds and all(isinstance(p, kind) for p in inside)
            fits &= all(w <= limit for w in wide)
        if fits:
            best = max(best, sum(1 for where in way if where < len(cases)))
    return best


def placed(packing: Packing) -> int:
    return sum(packed.count for packed in packing.packed)


def test_no_other_way_finds_a_place_for_more() -> None:
    dice = np.random.default_rng(20261127)
    full = short = 0
    kinds, widths = (Carries.SHEETS, Carries.ROUND_FILTERS), (None, 65.0, 100.0)
    for _ in range(60):
        parts: list[Part] = [sheet(n, float(dice.choice([75, 100, 150]))) for n in range(int(dice.integers(1, 4)))]
        parts += [round_filter(n, float(dice.choice([30, 60, 90]))) for n in range(int(dice.integers(0, 3)))]
        cases = [
            case(n, kinds[dice.integers(2)], int(dice.integers(1, 3)), widths[dice.integers(3)])
            for n in range(int(dice.integers(1, 4)))
        ]  # fmt: skip
        found = packing_of([Assignment(part, 1, 1) for part in parts], cases)
        assert placed(found) == most_placed(parts, cases)
        full, short = full + (placed(found) == len(parts)), short + (placed(found) < len(parts))
    assert full > 3
    assert short > 5


def test_what_is_opened_is_filled_before_another_and_its_own_before_any() -> None:
    some = [Assignment(sheet(1, 100.0), 3, 3), Assignment(round_filter(1, 60.0), 1, 1)]
    mine = [case(1, Carries.ANYTHING, 9, None), case(2, Carries.SHEETS, 2, 100.0), case(3, Carries.SHEETS, 2, 150.0)]
    found = packing_of(some, mine)
    assert {packed.case.id: packed.count for packed in found.packed} == {"c2": 2, "c3": 1, "c1": 1}


def test_the_sea_stacks_by_hand() -> None:
    """Its three 100 mm sheets go into the pouch, its polariser into the wallet; holder, rings, lens, body stay out."""
    book = demo_workbook()
    one = read(book.train("sea-stacks"), book.by_id)
    rows = pack_rows([one], book.by_id)
    into: dict[str, list[str]] = {}
    for row in rows:
        into.setdefault(str(row["into"]), []).append(str(row["key"]).split(":")[-1])
    sheets = [f for laid in one.layout.train.front_stack for f in laid.filters if f is not None]
    assert sorted(into["Brae pouch, ten sheets"]) == sorted(sheets)
    assert sheets
    assert next(row for row in rows if row["what"] == "case")["note"] == f"{len(sheets)} of 10, 240 g"
    assert set(one.layout.train.part_ids()) == {
        key for keys in into.values() for key in keys if key in book.by_id and not isinstance(book.by_id[key], Case)
    }
    assert "comes to 330 g" in packed_mass([one], book.by_id)


def test_drawers_and_wheels_are_kept_loaded() -> None:
    book = demo_workbook()
    layout = build_layout(book.train("lantern-wheel"), book.by_id)
    taken = taken_for([layout])
    inside = [f for placed in layout.rear for f in placed.laid.filters if f is not None]
    assert inside
    assert {one.part.id: one.count - one.loose for one in taken if one.count > one.loose} == {
        name: inside.count(name) for name in inside
    }
    packing = packing_of(taken, cases_of(book.by_id))
    assert not {part.id for packed in packing.packed for part, _ in packed.pieces} & set(inside)


def test_only_what_is_at_hand_is_packed_into() -> None:
    mine = case(1, Carries.SHEETS, 2, None)
    shelf: dict[str, Part] = {"c1": mine.model_copy(update={"owned": 3})}
    assert len(cases_of(shelf)) == 3
    assert not cases_of({"c1": mine.model_copy(update={"status": Status.WANTED})})


def test_pieces_without_a_place_are_told() -> None:
    book = demo_workbook()
    shelf = {**book.by_id, "brae-pouch": book.by_id["brae-pouch"].model_copy(update={"holds": 1})}
    one = read(book.train("sea-stacks"), shelf)
    count = sum(1 for laid in one.layout.train.front_stack for f in laid.filters if f is not None)
    assert count > 1
    assert "No place is left in a pouch or case for S" in packed_mass([one], shelf)
    assert "No place" not in packed_mass([one], book.by_id)
