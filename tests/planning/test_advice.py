"""Advice one can act on: purchases proven cheapest, proofs that say what they prove, the simplest and the closest."""

from itertools import combinations_with_replacement, product

import numpy as np
import pytest
from tests.planning.test_plan import adapter, bench, shim
from tests.planning.test_plan import spacer as ring_spacer
from tests.readouts.front.test_front import holder, lens, ring, sheet, stack
from tests.train.gear import bare_filter, drawer, laid, reducer, spacer

from farrail.optics.exposure import held_by_hand, time_words
from farrail.optics.tolerances import chance_within
from farrail.parts.connections import Connection, Gender, Plain
from farrail.parts.glass import Plate
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Window
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured, published
from farrail.parts.registry import Part
from farrail.planning.plan import Proof, plan
from farrail.planning.remedies import remedies_for
from farrail.readouts.front.graduated_words import left_words
from farrail.readouts.front.sheets import graduated_strength_stops
from farrail.readouts.spacing.focuser_and_guider import travel_of
from farrail.train.train import MountedPart
from farrail.workbook.edits.laying import LayPlan


def wanted(key: str, length: float, price: float | None) -> Spacer:
    return ring_spacer(key, 42, length, owned=0, status=Status.WANTED, price=price)


@pytest.mark.parametrize("seed", range(12))
def test_a_purchase_of_up_to_three_is_the_cheapest_by_trying_all(seed: int) -> None:
    """Own a ring and some spacers, want some at prices: every choice of one to three pieces tried beside."""
    dice = np.random.default_rng(seed)
    own = [ring_spacer(f"own{n}", 42, float(dice.integers(2, 12))) for n in range(int(dice.integers(0, 3)))]
    sold = [
        wanted(f"w{n}", round(float(dice.integers(4, 40)) / 4.0, 2), float(dice.choice([3, 5, 12, 900, 901])))
        for n in range(4)
    ]
    target = float(dice.integers(18, 34))
    # 48 mm corrector, ring 48 to 42 of 5 mm, camera 17.5 mm behind its flange.
    train, shelf = bench([adapter("ring", 48, 42, 5.0), *own, *sold], target + 17.5, 0.12)
    found = plan(train, shelf)
    gap = target - 5.0
    owns = {sum(p.path_length_mm.value for p, used in zip(own, take, strict=True) if used)
            for take in product((0, 1), repeat=len(own))}  # fmt: skip
    if any(abs(o - gap) <= 0.12 for o in owns):
        assert found.proposals
        return
    best = None
    for count in (1, 2, 3):
        for bought in combinations_with_replacement(sold, count):
            if max(bought.count(one) for one in bought) > 3:
                continue
            long = sum(p.path_length_mm.value for p in bought)
            if any(abs(o + long - gap) <= 0.12 + 1e-9 for o in owns):
                price = sum(p.price or 0.0 for p in bought)
                best = min(best or (price, count), (price, count))
    assert not found.proposals
    if best is None:
        # Usual sizes may fix it; what is on the shelf at a price cannot alone.
        assert found.buy is None or found.buy.price is None
        return
    assert found.buy is not None
    assert found.buy.price == pytest.approx(best[0])
    assert sum(item.count for item in found.buy.items) == best[1]
    assert abs(found.buy.proposal.error_mm) <= 0.12 + 1e-9


def test_what_is_at_hand_and_useful_only_with_the_purchase_is_laid_with_it() -> None:
    """Own a 10 mm spacer of M42, want the ring from M48: no advice came, for the spacer alone fits nowhere."""
    ring = adapter("ring", 48, 42, 5.0).model_copy(update={"status": Status.WANTED, "owned": 0, "price": 9.0})
    train, shelf = bench([ring, ring_spacer("ten", 42, 10.0)], 15.0 + 17.5, 0.1)
    found = plan(train, shelf)
    assert found.buy is not None
    assert [item.name for item in found.buy.items] == ["ring"]
    assert sorted(found.buy.proposal.names) == ["ring", "ten"]


def test_two_shims_are_bought_where_nobody_sells_one() -> None:
    """1.72 mm short: usual shims come in 0.1, 0.2, 0.3, 0.5, 0.8, 1.0; 1.0 and 0.8 are 0.08 mm off."""
    train, shelf = bench([adapter("ring", 48, 42, 5.0)], 6.72 + 17.5, 0.1)
    found = plan(train, shelf)
    assert found.proof is Proof.IMPOSSIBLE
    assert found.buy is not None
    assert found.buy.name.startswith("Shim") or "Shim" in found.buy.name
    assert abs(found.buy.proposal.error_mm) <= 0.1
    assert sum(item.count for item in found.buy.items) == 2
    made = LayPlan("t", found.buy.proposal.train.rear_train, found.buy.new_parts)
    assert {part.id for part in made.bought} == {item.parts[0].id for item in found.buy.items}


def test_fifteen_spacers_of_one_millimetre_fill_a_gap() -> None:
    train, shelf = bench([adapter("ring", 48, 42, 5.0), ring_spacer("one", 42, 1.0, owned=15)], 20.0 + 17.5, 0.1)
    found = plan(train, shelf)
    assert found.proposals
    assert found.proposals[0].names.count("one") == 15
    too_many = plan(*bench([adapter("ring", 48, 42, 5.0), ring_spacer("one", 42, 1.0, owned=40)], 40.0 + 17.5, 0.1))
    assert "using up to 24 pieces" in too_many.text


def test_the_simplest_and_the_closest_stand_beside_each_other() -> None:
    """Needing 0.73 with ±0.3: one shim of 0.5 is simplest, 0.5 + 0.2 nearer, no eleven gaskets."""
    shims: list[Part] = [shim("half", 0.5), shim("fifth", 0.2), shim("gasket", 0.07, owned=11)]
    train, shelf = bench([adapter("ring", 48, 42, 5.0), *shims], 5.73 + 17.5, 0.3)
    found = plan(train, shelf).proposals
    errors = {tuple(sorted(p.names)): p.error_mm for p in found}
    assert sorted(found[0].names) == ["half", "ring"]
    assert errors[("half", "ring")] == pytest.approx(-0.23)
    assert errors[("fifth", "half", "ring")] == pytest.approx(-0.03)
    assert [abs(p.error_mm) for p in found[:2]] == sorted([abs(p.error_mm) for p in found[:2]], reverse=True)


def test_the_chance_of_landing_is_that_of_sums_drawn_at_random() -> None:
    dice = np.random.default_rng(2)
    for error, allowed, widths in (
        (0.0, (-0.3, 0.3), (0.2, 0.2, 0.1)), (0.25, (-0.3, 0.3), (0.1, 0.05)), (-0.4, (-0.3, 0.3), (0.3,)),
        (0.1, (-2.0, 0.02), (0.05, 0.1, 0.02, 0.02)), (0.0, (-0.01, 0.01), (0.5, 0.5)),
    ):  # fmt: skip
        drawn = error + sum(dice.uniform(-w, w, 400_000) for w in widths)
        truth = float(np.mean((drawn >= allowed[0]) & (drawn <= allowed[1])))
        assert chance_within(error, allowed, widths) == pytest.approx(truth, abs=4e-3)
    assert chance_within(0.2, (-0.3, 0.3), ()) == 1.0
    assert chance_within(0.4, (-0.3, 0.3), (0.0,)) == 0.0


def test_a_shim_goes_over_its_thread_and_rests_on_a_shoulder() -> None:
    """A washer with a hole of 42 is no use in a joint of M63, nor one of 80 in M42."""
    for hole, outer, fits in ((42.0, 50.0, True), (43.0, 52.0, True), (30.0, 40.0, False), (80.0, 90.0, False)):
        face = Connection(standard=Plain(diameter_mm=hole), gender=Gender.NONE, engagement_mm=0)
        one = shim("shim", 0.5).model_copy(update={"front": face, "rear": face, "outer_diameter_mm": outer})
        train, shelf = bench([adapter("ring", 48, 42, 5.0), one], 5.5 + 17.5, 0.05)
        assert bool(plan(train, shelf).proposals) == fits, hole


def test_no_remedy_costs_a_filter_without_saying_so() -> None:
    """Two holders coupled, a graduated sheet in each: what is given up is in the row; nothing is turned upright."""
    grad = sheet("grad", high=150, density=published(0.9), gradation="soft")
    parts: tuple[Part, ...] = (
        ring("r", 8.0), holder("one", 14.0, 7.0, 8.0, slots=1), holder("two", 14.0, 7.0, 8.0, slots=1), grad
    )  # fmt: skip
    rows = (
        MountedPart(part="r"),
        MountedPart(part="one", filters=("grad",)),
        MountedPart(part="two", filters=("grad",)),
    )
    found = stack(*rows, parts=parts, on=lens(16.0, 40.0, 33.0), focal=18.0)
    remedies = remedies_for(found.layout.train, found.layout.parts)
    fewer = [r for r in remedies if r.words.startswith("one slot module fewer")]
    assert fewer
    assert all(r.change.loses == "grad" for r in fewer)
    assert not any(r.words.startswith("turn ") for r in remedies)
    plain = stack("r", "one", parts=parts, on=lens(16.0, 40.0, 33.0), focal=18.0)
    turned = [r for r in remedies_for(plain.layout.train, plain.layout.parts) if r.words.startswith("turn ")]
    assert [r.words for r in turned] == ["turn one to 90°"]


@pytest.mark.parametrize(("brighter", "strength", "left"), [(3.0, 2.0, "1 stop"), (7.0, 4.0, "3 stops"),
                                                            (2.5, 2.0, "0.5 stops"), (3.5, 3.0, "0.5 stops"),
                                                            (2.0, 1.0, "1 stop")])  # fmt: skip
def test_what_a_graduated_filter_leaves_is_what_is_left(brighter: float, strength: float, left: str) -> None:
    """Seven stops of difference behind a filter of four leave three; a half is rounded up each time."""
    assert graduated_strength_stops(brighter) == strength
    assert left_words(brighter, strength) == f"{left} brighter"


def test_beyond_the_camera_s_longest_time_a_watch_counts() -> None:
    assert time_words(32.0) == "30 s"
    assert not held_by_hand(32.0)
    for time_s in (33.0, 34.0, 35.9):
        assert held_by_hand(time_s)
        assert time_words(time_s) == f"{time_s:.0f} s"


def test_focuser_travel_counts_glass_ahead_of_a_corrector_and_a_window_once() -> None:
    """3 mm of index 1.5168 ahead of a corrector move the focus 1.02 mm out; an allowed-for window moves nothing."""
    scope = {"focal_plane_mm": measured(100.0), "focuser_travel_mm": measured(80.0)}
    optics = reducer().model_copy(update={"lens_focal_mm": None})

    def needed(*row: str, allowed: bool | None = None) -> float:
        glass = Plate(thickness_mm=measured(3.0), index=measured(1.5168))
        set_ = drawer()
        filter_ = bare_filter().model_copy(update={"glass": glass})
        window = Window(glass=Plate(thickness_mm=measured(1.5), index=measured(1.5168)), sensor_gap_mm=measured(5.0),
                        allowed_for=allowed)  # fmt: skip
        laid_row = (MountedPart(part=one, filters=("filter",) if one == "drawer" else ()) for one in row)
        more = {} if allowed is None else {"window": window}
        found = laid(*laid_row, parts=(optics, set_, filter_, spacer("a", 20.0)), scope=scope, **more)
        travel = travel_of(found.layout)
        assert travel is not None
        return travel.needed_mm

    shift = 3.0 * (1.0 - 1.0 / 1.5168)
    assert shift == pytest.approx(1.022, abs=1e-3)
    # A spacer of 20 in the drawer's place: the same length without the glass.
    assert needed("drawer", "reducer") - needed("a", "reducer") == pytest.approx(shift)
    assert needed("reducer", "drawer") - needed("reducer", "a") == pytest.approx(shift)
    own = 1.5 * (1.0 - 1.0 / 1.5168)
    assert needed("a", allowed=True) == pytest.approx(needed("a"))
    assert needed("a", allowed=False) - needed("a") == pytest.approx(own)
