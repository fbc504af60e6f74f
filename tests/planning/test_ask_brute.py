"""Asking for a size on random shelves: against every order of every part between lens and camera, read on the rail."""

import itertools
import math
import os
import random
from collections.abc import Iterator

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.parts.connections import Bayonet, Connection, Gender
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import measured
from farrail.parts.registry import Part
from farrail.planning.ask import MOST_ANSWERS, Wish, ask, width_and_tolerance
from farrail.readouts.read import read
from farrail.train.train import Conditions, MountedPart, Train

SHELVES = int(os.environ.get("FAR_RAIL_RUNS", "14"))
SHELF = demo_workbook().by_id
# Two mounts by their flange focal distances; an adapter brings a lens of the first onto a camera of the second.
FLANGE_MM = {"long": 44.0, "short": 18.0}


def lens_side(mount: str) -> Connection:
    return Connection(standard=Bayonet(name=mount, throat_mm=46.0), gender=Gender.EXTERNAL)


def body_side(mount: str) -> Connection:
    return Connection(standard=Bayonet(name=mount, throat_mm=46.0), gender=Gender.INTERNAL)


def random_shelf(dice: random.Random) -> dict[str, Part]:
    """A camera, two lenses, and two to six lengths of metal of two mounts, some of them twice."""
    mount = dice.choice(("long", "short"))
    camera, lens = SHELF["skua-full"], SHELF["brae-50"]
    assert isinstance(camera, Camera)
    assert isinstance(lens, CameraLens)
    shelf: dict[str, Part] = {
        "camera": camera.model_copy(update={"id": "camera", "front": body_side(mount),
                                            "flange_to_sensor_mm": measured(FLANGE_MM[mount])}),
    }  # fmt: skip
    for key, focal in (("near", 50.0), ("far", 90.0)):
        own = dice.choice(("long", mount))
        nearest = measured(dice.uniform(0.05, 0.3))
        shelf[key] = lens.model_copy(
            update={"id": key, "name": key, "rear": lens_side(own),
                    "flange_focal_distance_mm": measured(FLANGE_MM[own]),
                    "focal_length_mm": measured(focal), "nearest_magnification": nearest, "nearest_mm": None}
        )  # fmt: skip
    for number in range(dice.randrange(2, 5)):
        at = dice.choice(("long", mount))
        shelf[f"tube-{number}"] = ExtensionTube(
            id=f"tube-{number}", name=f"tube {number}", outer_diameter_mm=60.0, front=body_side(at), rear=lens_side(at),
            path_length_mm=measured(dice.choice((8.0, 12.0, 20.0, 36.0))), owned=dice.choice((1, 1, 2)),
        )  # fmt: skip
    if dice.random() < 0.7:
        shelf["adapter"] = Adapter(
            id="adapter", name="adapter", outer_diameter_mm=60.0, front=body_side("long"), rear=lens_side("short"),
            path_length_mm=measured(dice.choice((26.0, 26.0, 26.6))),
        )  # fmt: skip
    return shelf


def every_row(shelf: dict[str, Part]) -> Iterator[tuple[str, ...]]:
    """Every order of every choice of what is between lens and camera, each part as often as there are copies."""
    pool = [
        key for key, part in shelf.items() if isinstance(part, ExtensionTube | Adapter) for _ in range(part.owned)
    ]  # fmt: skip
    for count in range(len(pool) + 1):
        yield from set(itertools.permutations(pool, count))


def one_by_one(shelf: dict[str, Part], width_mm: float, tolerance: float) -> set[tuple[str, float]]:
    """Lens and length of metal of everything that fills the frame's width, read on the rail and focused in steps."""
    found: set[tuple[str, float]] = set()
    rows = list(every_row(shelf))
    for lens, row in itertools.product(("near", "far"), rows):
        train = Train(id="t", name="t", optic=lens, camera="camera", conditions=Conditions(f_number=8.0),
                      rear_train=tuple(MountedPart(part=key) for key in row))  # fmt: skip
        readout = read(train, shelf)
        if any(joint.mismatch is not None for joint in readout.layout.joints):
            continue
        sizes = [readout.close_up.at(float(at)).magnification for at in np.linspace(0.0, 1.0, 41)]
        sizes = [size for size in sizes if not math.isnan(size)]
        wanted = readout.close_up.frame_mm[0] / width_mm
        if sizes and min(sizes) / (1.0 + tolerance) <= wanted <= max(sizes) * (1.0 + tolerance):
            parts = [shelf[key] for key in row]
            found.add((lens, round(sum(p.path_length_mm.value for p in parts if isinstance(p, ExtensionTube)), 2)))
    return found


def test_random_shelves_against_every_order() -> None:
    dice, answered = random.Random(11), 0
    for number in range(SHELVES):
        shelf = random_shelf(dice)
        while len(list(itertools.islice(every_row(shelf), 2000))) >= 2000:
            shelf = random_shelf(dice)
        width, tolerance = dice.choice((20.0, 30.0, 45.0, 80.0, 150.0, 400.0)), dice.choice((0.0, 0.05))
        camera = shelf["camera"]
        assert isinstance(camera, Camera)
        expected = one_by_one(shelf, width, tolerance)
        try:
            asked = ask(Wish(width, tolerance=tolerance), shelf, camera, 8.0)
        except BadInput:
            assert not expected, number
            continue
        told = {
            (a.combination.lens.id,
             round(sum(p.path_length_mm.value for p in a.combination.behind if isinstance(p, ExtensionTube)), 2))
            for a in asked.answers
        }  # fmt: skip
        # A list that is full holds the best of them.
        assert told == expected or (len(asked.answers) == MOST_ANSWERS and told < expected), (number, width, tolerance)
        answered += bool(told)
    assert answered > SHELVES // 3


def test_every_width_answered_is_within_its_tolerance() -> None:
    """A lens reversed on the camera has one size only: it is an answer where that is near enough."""
    camera = SHELF["skua-full"]
    assert isinstance(camera, Camera)
    shelf: dict[str, Part] = {key: SHELF[key] for key in ("brae-50", "reverse-52", "skua-full")}
    own = next(a for a in (*ask(Wish(20.0), shelf, camera).answers, *ask(Wish(20.0), shelf, camera).misses)
               if a.combination.reversed)  # fmt: skip
    frame = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    width = own.field_mm(frame)[0]

    def reversed_at(asked_mm: float, tolerance: float, *, allowed: bool = True) -> bool:
        wish = Wish(asked_mm, tolerance=tolerance, reversed_lenses=allowed)
        answers = ask(wish, shelf, camera).answers
        assert all(abs(math.log(a.field_mm(frame)[0] / asked_mm)) <= math.log1p(tolerance) + 1e-9 for a in answers)
        return any(a.combination.reversed for a in answers)

    assert reversed_at(1.04 * width, 0.05)
    assert reversed_at(width / 1.04, 0.05)
    assert not reversed_at(1.06 * width, 0.05)
    assert not reversed_at(width, 0.05, allowed=False)


@pytest.mark.parametrize(
    ("text", "width", "tolerance"),
    [("22", 22.0, 0.02), ("22 ± 5 %", 22.0, 0.05), ("22 mm ±1", 22.0, 1 / 22), ("1 in +/- 10%", 25.4, 0.1)],
)
def test_a_width_and_how_far_it_may_be_off(text: str, width: float, tolerance: float) -> None:
    assert list(width_and_tolerance(text)) == pytest.approx([width, tolerance])


@pytest.mark.parametrize("text", ["", "x", "22 ±", "22 ± x %", "22 ± 5 g"])
def test_what_is_no_width(text: str) -> None:
    with pytest.raises(BadInput):
        width_and_tolerance(text)
