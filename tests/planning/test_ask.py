"""Asking for a subject's size: against trying everything one by one, and against the readout of each laid train."""

import itertools
import math
from typing import Any

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.parts.shelved import Status
from farrail.planning.ask import Asked, Wish, ask, laid
from farrail.planning.combinations import MOST_COMBINATIONS, combinations_of
from farrail.readouts.read import read
from farrail.train.train import Laid

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
    """Lay every lens with every subset of tubes and close-up lenses, focus it in ten thousand steps, and look."""
    tubes = [p.id for p in shelf.values() if isinstance(p, ExtensionTube)]
    ahead = sorted((p for p in shelf.values() if isinstance(p, CloseUpLens)), key=lambda p: -p.dioptres.value)
    found = set()
    train = WORKBOOK.train("lichen")
    for lens in (p for p in shelf.values() if isinstance(p, CameraLens)):
        for row in (c for n in range(len(tubes) + 1) for c in itertools.combinations(tubes, n)):
            for front in (c for n in range(len(ahead) + 1) for c in itertools.combinations(ahead, n)):
                trial = train.model_copy(
                    update={
                        "optic": lens.id, "rear_train": tuple(Laid(part=p) for p in row),
                        "front_stack": tuple(Laid(part=p.id) for p in front),
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
    assert len(found.answers) + sum(count for _, count in found.reasons) == found.tried


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


def test_the_strongest_close_up_lens_stands_nearest_and_steps_are_found() -> None:
    assert isinstance(CAMERA, Camera)
    for c in combinations_of(SHELF, CAMERA, 8.0, ["brae-50"]):
        powers = [p.dioptres.value for p in c.ahead if isinstance(p, CloseUpLens)]
        assert powers == sorted(powers, reverse=True)
    macro = combinations_of(SHELF, CAMERA, 8.0, ["kittiwake-90"])
    assert any([p.id for p in c.ahead] == ["step-62-52", "close-up-4"] for c in macro)
    assert any(c.carried is not None and c.carried.id == "brae-50" for c in macro)
    turned = [c for c in combinations_of(SHELF, CAMERA, 8.0, ["brae-50"]) if c.reversed]
    assert turned
    assert all(c.behind[0].id == "reverse-52" for c in turned)


def test_why_the_others_fail() -> None:
    found = of(Wish(18.0, 90.0, 2.0))
    assert dict(found.reasons)["stand nearer than that"] > 0
    none = of(Wish(3.0, 300.0, 0.5))
    assert not none.answers
    assert any("fills the frame with" in miss.why for miss in none.misses)
    close = of(Wish(18.0, 400.0))
    assert any("stands" in miss.why and "mm away" in miss.why for miss in close.misses)
    dark = of(Wish(18.0, 0.0, 0.0))
    assert any("costs" in miss.why for miss in dark.misses)


def test_lost_parts_are_not_used_and_wishes_must_make_sense() -> None:
    lost: dict[str, Part] = {
        key: part.model_copy(update={"status": Status.LOST}) if isinstance(part, CloseUpLens) else part
        for key, part in SHELF.items()
    }
    assert not any(isinstance(p, CloseUpLens) for a in of(Wish(30.0), lost).answers for p in a.combination.ahead)
    for bad in ((0.0, 0.0, 1.0), (-3.0, 0.0, 1.0), (math.nan, 0.0, 1.0), (18.0, -1.0, 1.0), (18.0, 0.0, -1.0)):
        with pytest.raises(BadInput, match="cannot be asked for"):
            Wish(*bad)
    cooled: Any = SHELF["skua-apsc"]
    with pytest.raises(BadInput, match="No camera lens on the shelf mates"):
        ask(Wish(18.0), SHELF, cooled)


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
