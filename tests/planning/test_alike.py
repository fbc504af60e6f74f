"""Shelves of many parts: alike ones count as one with copies, and what was left out is said."""

import itertools
import random
from collections import Counter

import pytest

from farrail.parts.connections import Gender, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured, published
from farrail.parts.registry import Part
from farrail.planning import alike
from farrail.planning.plan import Plan, Proof, plan
from farrail.train.train import MountedPart, Train

MALE, FEMALE = Gender.EXTERNAL, Gender.INTERNAL
BACK_FOCUS_MM, FLANGE_MM, TOLERANCE_MM = 55.0, 17.5, 0.05
TRAIN = Train(id="t", name="t", optic="scope", rear_train=(MountedPart(part="corrector"),), camera="camera")
SENSOR = {"sensor_width_mm": published(20), "sensor_height_mm": published(15)}


def shelf_of(lengths_mm: list[float], owned: list[int] | None = None) -> dict[str, Part]:
    """Return a telescope with a corrector, a camera, and spacers of one thread."""
    ends = {"front": thread(42, 0.75, FEMALE), "rear": thread(42, 0.75, MALE)}
    parts: list[Part] = [
        Telescope(id="scope", name="Scope", outer_diameter_mm=90, rear=thread(68, 1, FEMALE),
                  focal_length_mm=published(400), aperture_mm=published(80)),
        Corrector(id="corrector", name="Corrector", outer_diameter_mm=70, front=thread(68, 1, MALE),
                  rear=ends["rear"], path_length_mm=published(40), back_focus_mm=published(BACK_FOCUS_MM),
                  spacing_tolerance_mm=published(TOLERANCE_MM)),
        Camera(id="camera", name="Camera", outer_diameter_mm=80, front=ends["front"],
               flange_to_sensor_mm=published(FLANGE_MM), **SENSOR),
        *(
            Spacer(id=f"s{n}", name=f"S{n}", outer_diameter_mm=60, path_length_mm=measured(mm),
                   owned=1 if owned is None else owned[n], **ends)
            for n, mm in enumerate(lengths_mm)
        ),
    ]  # fmt: skip
    return {part.id: part for part in parts}


def within_stock(made: Plan, shelf: dict[str, Part]) -> bool:
    return all(
        count <= shelf[part].owned
        for proposal in made.proposals
        for part, count in Counter(laid.part for laid in proposal.train.rear_train).items()
    )


@pytest.mark.parametrize("seed", range(12))
def test_copies_change_no_answer(seed: int) -> None:
    """Fewest spacers, then the smallest error: by trying every set of a shelf with many alike lengths."""
    dice = random.Random(seed)
    lengths = [dice.choice((3.0, 5.0, 7.5, 10.0, 12.48, 20.0)) for _ in range(9)]
    owned = [dice.choice((1, 1, 2)) for _ in lengths]
    every = [mm for mm, count in zip(lengths, owned, strict=True) for _ in range(count)]
    gap = BACK_FOCUS_MM - FLANGE_MM
    best = min(
        ((count, round(abs(sum(some) - gap), 6)) for count in range(1, len(every) + 1)
         for some in itertools.combinations(every, count) if abs(sum(some) - gap) <= TOLERANCE_MM + 1e-9),
        default=None,
    )  # fmt: skip
    shelf = shelf_of(lengths, owned)
    made = plan(TRAIN, shelf)
    assert within_stock(made, shelf)
    if best is None:
        assert made.proof is Proof.IMPOSSIBLE
        return
    first = made.proposals[0]
    assert (len(first.names), round(abs(first.error_mm), 6)) == best


def test_5000_parts_are_planned_and_proven_where_many_are_alike() -> None:
    dice = random.Random(3)
    shelf = shelf_of([dice.choice((3.0, 5.0, 7.5, 10.0, 12.5, 20.0)) for _ in range(4990)])
    made = plan(TRAIN, shelf)
    assert made.proof is Proof.OPTIMAL
    # 20 + 12.5 + 5 or 20 + 10 + 7.5: two cannot make 37.5.
    assert len(made.proposals[0].names) == 3
    assert made.proposals[0].error_mm == pytest.approx(0.0)
    assert within_stock(made, shelf)


def test_what_is_left_out_of_a_search_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(alike.few, "__defaults__", (40,))
    dice = random.Random(4)
    lengths = dice.sample([round(1.0 + 0.01 * n, 2) for n in range(3000)], 400)
    made = plan(TRAIN, shelf_of(lengths))
    assert made.proof is Proof.UNDECIDED
    assert made.text == "Searched: 40 of 400 different spacers, adapters and shims. There may be a better way."
    assert abs(made.proposals[0].error_mm) <= TOLERANCE_MM
    none = plan(TRAIN, shelf_of([50.0 + mm for mm in lengths]))
    assert none.proof is Proof.UNDECIDED
    assert "found nothing. That proves nothing" in none.text
