"""What hangs out, by a person's sum of masses and levers."""

import pytest

from farrail.assembly.cautions import Caution, cautions_of
from farrail.assembly.overhang import Carrier, overhang_of
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.provenance import measured
from farrail.readouts.read import read
from farrail.text.pack import pack_rows, packed_mass
from farrail.text.steps import caution_words
from farrail.train.layout import Layout, build_layout
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.workbook import Workbook


def weighed(**masses: float) -> Workbook:
    book = demo_workbook()
    by_id = {key.replace("_", "-"): mass for key, mass in masses.items()}
    shelf = tuple(part.model_copy(update={"mass_g": by_id.get(part.id)}) for part in book.shelf)
    return book.model_copy(update={"shelf": shelf})


def layout(train: str, book: Workbook) -> Layout:
    return build_layout(book.train(train), book.by_id)


def lever(laid: Layout) -> Caution | None:
    return next((one for one in cautions_of(laid) if one.key == "overhang"), None)


def test_a_telescope_carries_its_camera_behind_its_rear() -> None:
    """By hand: 46 + 9 + 20.5 + 8.7 + 5 + 12.5 = 101.7 mm behind the rear face, 1.4 kg there: 1.396 N·m."""
    laid = layout("witch-broom", weighed(skua_apsc=1400.0))
    found = overhang_of(laid)
    assert found is not None
    assert found.mass_g == 1400.0
    assert found.torque_nm == pytest.approx(1.396, abs=5e-4)
    assert len(found.unweighed) == len(laid.rear) + sum(1 for p in laid.rear for f in p.laid.filters if f is not None)


def test_a_lens_hangs_ahead_of_the_camera_s_flange() -> None:
    """The camera is on the tripod: its own mass is no lever; the middle of 96 mm is 48 ahead: 0.424 N·m."""
    laid = layout("sea-stacks", weighed(brae_17_35=900.0, skua_full=700.0))
    found = overhang_of(laid)
    assert found is not None
    assert found.mass_g == 900.0
    assert found.torque_nm == pytest.approx(0.4237, abs=5e-4)


def test_what_nobody_has_weighed_makes_no_number() -> None:
    assert overhang_of(layout("witch-broom", demo_workbook())) is None
    assert packed_mass([read(demo_workbook().train("witch-broom"), demo_workbook().by_id)]) == ""


def test_a_heavy_short_train_is_cautioned_and_told() -> None:
    assert lever(layout("sea-stacks", weighed(brae_17_35=300.0))) is None
    found = lever(layout("sea-stacks", weighed(brae_17_35=9000.0)))
    assert found is not None
    told = " ".join(caution_words(found))
    assert "9.0 kg hangs out" in told
    assert "parts of unknown weight" in told


def test_the_pack_list_adds_up() -> None:
    """Two trains share the telescope and the camera: each is weighed once."""
    book = weighed(tern_72=2100.0, skua_apsc=500.0)
    both = [read(book.train(key), book.by_id) for key in ("witch-broom", "witch-broom-short")]
    notes = {row["key"]: row["note"] for row in pack_rows(both)}
    assert (notes["tern-72"], notes["skua-apsc"]) == ("2.1 kg", "500 g")
    assert packed_mass(both).startswith("What is weighed comes to 2.6 kg; ")
    all_of_it = book.model_copy(
        update={"shelf": tuple(part.model_copy(update={"mass_g": 100.0}) for part in book.shelf)}
    )
    one = read(all_of_it.train("brae-cooled"), all_of_it.by_id)
    count = len(all_of_it.train("brae-cooled").part_ids())
    assert packed_mass([one]) == f"All parts together {count * 100} g."


def test_a_mass_is_kept_in_the_file() -> None:
    book = weighed(tern_72=2100.0)
    assert from_text(to_text(book), "a test").by_id["tern-72"].mass_g == 2100.0


def test_a_collar_balances_what_lies_ahead_against_what_lies_behind() -> None:
    """By hand: lens 900 g, its middle 48 mm ahead of the rear, the collar 20 mm: 28 mm ahead of it, 25.2 g·m.

    Body 700 g at its sensor, 44 mm behind the rear, 64 behind the collar: 44.8 g·m. 19.6 g·m more behind: 0.192 N·m.
    """
    book = weighed(brae_17_35=900.0, skua_full=700.0)
    lens = book.by_id["brae-17-35"].model_copy(update={"collar_ahead_mm": measured(20.0)})
    book = book.model_copy(update={"shelf": tuple(lens if part.id == lens.id else part for part in book.shelf)})
    found = overhang_of(layout("sea-stacks", book))
    assert found is not None
    assert (found.carrier, found.front_heavy, found.mass_g) == (Carrier.COLLAR, False, 1600.0)
    assert found.torque_nm == pytest.approx(0.0196 * 9.80665, abs=1e-6)
    heavy = lens.model_copy(update={"mass_g": 9000.0, "collar_ahead_mm": measured(0.0)})
    again = book.model_copy(update={"shelf": tuple(heavy if part.id == lens.id else part for part in book.shelf)})
    caution = lever(layout("sea-stacks", again))
    assert caution is not None
    assert "on the collar" in " ".join(caution_words(caution))
    assert "heavier toward the scene" in " ".join(caution_words(caution))
