"""Asking for a subject's size: against trying everything one by one, and against the readout of each placed train."""

import itertools
import math
from typing import Any

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube, Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import Part
from farrail.planning.ask import TOO_NEAR, Asked, Wish, answer_at, ask, laid
from farrail.planning.combinations import MOST_COMBINATIONS, combinations_of
from farrail.readouts.read import read
from farrail.train.train import MountedPart

WORKBOOK = demo_workbook()
SHELF = WORKBOOK.by_id
CAMERA = SHELF["skua-full"]
assert isinstance(CAMERA, Camera)


def of(wish: Wish, shelf: dict[str, Part] | None = None) -> Asked:
    assert isinstance(CAMERA, Camera)
    return ask(wish, SHELF if shelf is None else shelf, CAMERA, 8.0)


def small_shelf(*keys: str) -> dict[str, Part]:
    return {key: SHELF[key] for key in (*keys, "skua-full")}


def one_by_one(wish: Wish, shelf: dict[str, Part]) -> set[tuple[str, ...]]:
    """Place every lens with every subset of tubes and close-up lenses, focus it in ten thousand steps, and look."""
    tubes = [p.id for p in shelf.values() if isinstance(p, ExtensionTube)]
    ahead = sorted((p for p in shelf.values() if isinstance(p, CloseUpLens)), key=lambda p: -p.dioptres.value)
    found = set()
    train = WORKBOOK.train("lichen")
    for lens in (p for p in shelf.values() if isinstance(p, CameraLens)):
        for row in (c for n in range(len(tubes) + 1) for c in itertools.combinations(tubes, n)):
            for front in (c for n in range(len(ahead) + 1) for c in itertools.combinations(ahead, n)):
                trial = train.model_copy(
                    update={
                        "optic": lens.id, "rear_train": tuple(MountedPart(part=p) for p in row),
                        "front_stack": tuple(MountedPart(part=p.id) for p in front),
                    }
                )  # fmt: skip
                readout = read(trial, shelf)
                if any(joint.mismatch is not None for joint in readout.layout.joints):
                    continue
                close = readout.close_up
                points = [close.at(float(d)) for d in np.linspace(0.0, 1.0, 401)]
                sizes = [p.magnification for p in points]
                wanted = close.frame_mm[0] / wish.width_mm
                if not min(sizes) <= wanted <= max(sizes):
                    continue
                at = points[min(range(401), key=lambda n: abs(sizes[n] - wanted))]
                if at.distance_mm >= wish.least_distance_mm and 2 * math.log2(at.darker) <= wish.most_stops:
                    found.add((lens.id, *sorted(row), *sorted(p.id for p in front)))
    return found


@pytest.mark.parametrize(
    "wish", [Wish(18.0, 50.0, 3.0), Wish(60.0, 90.0, 1.0), Wish(30.0), Wish(120.0, 200.0, 0.5), Wish(9.0, 0.0, 4.0)]
)
def test_the_answers_are_those_of_trying_everything(wish: Wish) -> None:
    shelf = small_shelf("brae-50", "kittiwake-90", "tube-13", "tube-21", "close-up-1", "close-up-4", "achromat-5")
    found = of(wish, shelf)
    told = {(a.combination.lens.id, *sorted(p.id for p in a.combination.behind),
             *sorted(p.id for p in a.combination.ahead)) for a in found.answers}  # fmt: skip
    assert told == one_by_one(wish, shelf)
    assert found.done + sum(count for _, count in found.reasons) == found.tried


@pytest.mark.parametrize("width", [150.0, 60.0, 18.0, 10.0, 5.0])
def test_every_answer_laid_says_the_same(width: float) -> None:
    found = of(Wish(width))
    assert found.answers
    for answer in found.answers:
        readout = read(laid(answer, WORKBOOK.train("barnacles")), SHELF)
        close = readout.close_up
        assert all(joint.mismatch is None for joint in readout.layout.joints), answer.combination.words
        assert close.field_mm[0] == pytest.approx(width, rel=1e-4)
        assert close.now.distance_mm == pytest.approx(answer.distance_mm, abs=2e-3)
        assert close.stops_lost == pytest.approx(answer.stops, abs=1e-3)
        assert close.effective_f_number == pytest.approx(answer.effective_f_number, rel=1e-3)
        assert not close.outside


def test_what_is_at_hand_comes_before_what_must_be_bought() -> None:
    found = of(Wish(18.0, 90.0, 2.0))
    prices = [a.combination.price for a in found.answers]
    assert prices == sorted(prices, key=lambda price: math.inf if price is None else price)
    assert prices[0] == 0.0
    assert all(a.distance_mm >= 90.0 and a.stops <= 2.0 for a in found.answers)
    bought = next(a for a in found.answers if a.combination.missing)
    assert [p.name for p in bought.combination.missing] == ["Brae converter 1.4×"]
    assert bought.combination.price == 120.0
    unpriced = SHELF | {"brae-converter": SHELF["brae-converter"].model_copy(update={"price": None})}
    assert any(a.combination.price is None for a in of(Wish(18.0, 90.0, 2.0), unpriced).answers)


def test_close_up_lenses_are_stacked_both_ways_and_steps_are_found() -> None:
    assert isinstance(CAMERA, Camera)
    orders = set()
    for c in combinations_of(SHELF, CAMERA, 8.0, ["brae-50"]):
        powers = [p.dioptres.value for p in c.ahead if isinstance(p, CloseUpLens)]
        assert powers in (sorted(powers), sorted(powers, reverse=True))
        orders.add(tuple(powers))
    assert {(10.0, 4.0), (4.0, 10.0)} <= orders
    told = [
        (*sorted(p.id for p in a.combination.parts), a.combination.focal_mm, *(p.id for p in a.combination.behind))
        for a in of(Wish(18.0)).answers
    ]
    assert len(told) == len(set(told))


def test_why_the_others_fail() -> None:
    found = of(Wish(18.0, 90.0, 2.0))
    assert dict(found.reasons)[TOO_NEAR] > 0
    none = of(Wish(3.0, 300.0, 0.5))
    assert not none.answers
    assert any("fills the frame with" in miss.why for miss in none.misses)
    close = of(Wish(18.0, 400.0))
    assert any("is" in miss.why and "mm away" in miss.why for miss in close.misses)
    dark = of(Wish(18.0, 0.0, 0.0))
    assert any("costs" in miss.why for miss in dark.misses)


def test_lost_parts_are_not_used_and_wishes_must_make_sense() -> None:
    lost: dict[str, Part] = {
        key: part.model_copy(update={"status": Status.LOST}) if isinstance(part, CloseUpLens) else part
        for key, part in SHELF.items()
    }
    assert not any(isinstance(p, CloseUpLens) for a in of(Wish(30.0), lost).answers for p in a.combination.ahead)
    for bad in ((0.0, 0.0, 1.0), (-3.0, 0.0, 1.0), (math.nan, 0.0, 1.0), (18.0, -1.0, 1.0), (18.0, 0.0, -1.0)):
        with pytest.raises(BadInput, match="cannot be used"):
            Wish(*bad)
    cooled: Any = SHELF["skua-apsc"]
    # An adapter brings a lens of the other mount to it; without one nothing mates.
    assert all(
        any(isinstance(p, Adapter) for p in a.combination.behind) for a in ask(Wish(18.0), SHELF, cooled).answers
    )
    bare = {key: part for key, part in SHELF.items() if not isinstance(part, Adapter)}
    with pytest.raises(BadInput, match="No camera lens among your parts mates"):
        ask(Wish(18.0), bare, cooled)


def test_a_shelf_of_a_hundred_close_up_lenses_is_still_asked_at_once() -> None:
    lens = SHELF["close-up-2"]
    assert isinstance(lens, CloseUpLens)
    many: dict[str, Part] = {f"c{n}": lens.model_copy(update={"id": f"c{n}"}) for n in range(60)}
    step = SHELF["step-67-82"]
    other = lens.model_copy(update={"front": step.ends[0], "rear": step.ends[1]})
    many |= {f"d{n}": other.model_copy(update={"id": f"d{n}"}) for n in range(60)}
    assert isinstance(CAMERA, Camera)
    found = combinations_of(SHELF | many, CAMERA, 8.0)
    assert len(found) <= MOST_COMBINATIONS
    # Every lens keeps its simplest ways, and lenses that no thread leads to are not tried.
    assert {c.lens.id for c in found} >= {"brae-50", "kittiwake-90", "tern-200", "lantern-12"}
    assert not any(part.id.startswith("d") for c in found if c.lens.id == "brae-50" for part in c.ahead)
    counts = [len(c.parts) for c in found if c.lens.id == "brae-50" and not c.reversed]
    assert counts == sorted(counts)


def zoom_shelf(*keys: str) -> dict[str, Part]:
    """A 24 to 70 mm zoom that focuses to 0.09 at both ends, and what else is asked for."""
    assert isinstance(SHELF["brae-50"], CameraLens)
    zoom = SHELF["brae-50"].model_copy(
        update={
            "id": "zoom", "name": "Kittiwake zoom 24-70", "focal_length_mm": Quantity.of(24.0, Origin.PUBLISHED),
            "longest_focal_mm": Quantity.of(70.0, Origin.PUBLISHED), "nearest_mm": None,
            "nearest_magnification": Quantity.of(0.09, Origin.PUBLISHED), "near_points": (), "pair_distance_mm": None,
        }
    )  # fmt: skip
    return {"zoom": zoom, **small_shelf(*keys)}


@pytest.mark.parametrize(("wide", "tube"), [(36.0, 36.0), (48.0, 36.0), (30.0, 36.0), (200.0, 12.0)])
def test_a_zoom_is_tried_between_its_ends(wide: float, tube: float) -> None:
    # A person's sum: m = tube / f at infinity, and 0.09 more at the nearest; 36 mm of subject take 1.0 on 36 mm.
    shelf = zoom_shelf("tube-35")
    longer = SHELF["tube-35"].model_copy(update={"path_length_mm": Quantity.of(tube, Origin.MEASURED)})
    found = of(Wish(wide), shelf | {"tube-35": longer})
    inside = [a for a in found.answers if a.combination.behind and a.combination.ahead == ()]
    focals = [f / 100.0 for f in range(2400, 7001)]
    fitting = [f for f in focals if tube / f <= 36.0 / wide <= tube / f + 0.09 + 1e-9]
    assert bool(inside) == bool(fitting)
    for answer in inside:
        assert min(fitting) - 0.06 <= answer.combination.focal_mm <= max(fitting) + 0.06
        assert answer.combination.focal_mm == round(answer.combination.focal_mm, 1)
        close = read(laid(answer, WORKBOOK.train("lichen")), shelf | {"tube-35": longer}).close_up
        assert close.field_mm[0] == pytest.approx(wide, rel=1e-4)


def test_a_zoom_whose_focus_hardly_moves_is_found_between_two_millimetres() -> None:
    shelf = zoom_shelf("tube-35")
    still: Any = shelf["zoom"].model_copy(update={"nearest_magnification": Quantity.of(0.001, Origin.PUBLISHED)})
    # 35 / (36 / 45.3) = 44.04 mm of focal length for 45.3 mm of subject with the lens all but fixed.
    found = of(Wish(45.3), shelf | {"zoom": still})
    answer = next(a for a in found.answers if [p.id for p in a.combination.behind] == ["tube-35"])
    assert answer.combination.focal_mm == pytest.approx(44.07, abs=0.04)


def test_a_teleconverter_ahead_of_the_tubes_is_stronger_and_reads_the_same_laid() -> None:
    found = combinations_of(small_shelf("kittiwake-90", "brae-converter", "tube-35"), CAMERA, 8.0)  # type: ignore[arg-type]
    both = [c for c in found if len(c.behind) == 2 and not c.reversed]
    assert {tuple(p.id for p in c.behind) for c in both} == {
        ("tube-35", "brae-converter"), ("brae-converter", "tube-35"),
    }  # fmt: skip
    # At infinity: 1.4 × 35/90 with the tube ahead of it; behind it a lens f_t = −s/0.4, s ahead of the sensor.
    for c in both:
        sized = answer_at(c, 0.0).magnification
        converter, lens = next(p for p in c.behind if isinstance(p, Teleconverter)), c.lens
        if c.behind[-1] is converter:
            assert sized == pytest.approx(1.4 * 35.0 / 90.0, rel=1e-9)
            continue
        s = lens.flange_focal_distance_mm.value + converter.path_length_mm.value / 2.0
        f_t = -s / 0.4
        v = 1.0 / (1.0 / (s + 35.0) - 1.0 / f_t)
        drawn_out = v - s / 1.4
        assert sized == pytest.approx((s + 35.0) / v * drawn_out / 90.0, rel=1e-9)
    for wish in (Wish(60.0), Wish(40.0)):
        for answer in of(wish, small_shelf("kittiwake-90", "brae-converter", "tube-35")).answers:
            close = read(laid(answer, WORKBOOK.train("barnacles")), SHELF).close_up
            assert close.field_mm[0] == pytest.approx(wish.width_mm, rel=1e-4)
            assert close.effective_f_number == pytest.approx(answer.effective_f_number, rel=1e-3)


def test_two_of_a_close_up_lens_are_stacked_where_two_are_owned() -> None:
    shelf = small_shelf("brae-50", "close-up-4")
    two: dict[str, Part] = shelf | {"close-up-4": shelf["close-up-4"].model_copy(update={"owned": 2})}

    def stacks(of_shelf: dict[str, Part]) -> set[int]:
        assert isinstance(CAMERA, Camera)
        return {len(c.ahead) for c in combinations_of(of_shelf, CAMERA, 8.0)}

    assert stacks(shelf) == {0, 1}
    assert stacks(two) == {0, 1, 2}


def test_dark_corners_go_behind_clean_ones() -> None:
    # A tube-like step in front of the lens: the same power, but its rim is far out and cuts the corner.
    shelf = small_shelf("brae-50", "close-up-2")
    deep = shelf["close-up-2"].model_copy(
        update={"id": "deep", "name": "Brae close-up +2, deep", "path_length_mm": Quantity.of(60.0, Origin.MEASURED)}
    )
    found = of(Wish(350.0), {"deep": deep, **shelf})
    single = [a for a in found.answers if len(a.combination.ahead) == 1]
    assert [a.vignettes for a in single] == [False, True]
    assert single[1].combination.ahead[0].id == "deep"


@pytest.mark.parametrize("width_mm", [12.0, 22.0])
def test_what_leaves_no_room_for_light_comes_after_what_does_alike(width_mm: float) -> None:
    """With no least distance asked for: a front glass that nearly touches the subject is no best answer."""
    answers = of(Wish(width_mm)).answers
    assert {one.distance_mm < 40.0 for one in answers} == {True, False}
    for one in answers:
        assert any("hard to light" in caution for caution in one.cautions) == (one.distance_mm < 40.0)
    # Of what costs nothing and bears as many other cautions, what can be lit is first; under 20 mm nothing is lit.
    alike: dict[tuple[bool, int], list[int]] = {}
    for one in answers:
        if one.combination.price == 0.0:
            others = len(one.cautions) + one.vignettes - (one.distance_mm < 40.0)
            alike.setdefault((one.certain, others), []).append(
                0 if one.distance_mm >= 40.0 else 1 if one.distance_mm >= 20.0 else 2
            )
    assert all(classes == sorted(classes) for classes in alike.values()), alike
    assert answers[0].distance_mm >= 40.0
