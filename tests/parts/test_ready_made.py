"""Ready-made sizes: of every kind there are some, all assumed, and whole trains of them go together."""

from collections import Counter

import pytest

from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import KINDS, Part, usual_sizes
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Train

SIZES = {usual.part.name: usual.part for usual in usual_sizes()}


def of(*names: str, front: tuple[str, ...] = ()) -> Readout:
    """Place ready-made parts by name: the optic first, the camera last."""
    optic, *between, camera = (SIZES[name] for name in names)
    train = Train(
        id="t",
        name="t",
        optic=optic.id,
        rear_train=tuple(MountedPart(part=part.id) for part in between),
        camera=camera.id,
        front_stack=tuple(MountedPart(part=SIZES[name].id) for name in front),
    )
    return read(train, {part.id: part for part in SIZES.values()})


def apart(readout: Readout) -> list[int]:
    return [joint.index for joint in readout.layout.joints if joint.mismatch is not None]


def test_every_kind_has_ready_made_sizes_with_ids_of_their_own() -> None:
    parts = [usual.part for usual in usual_sizes()]
    assert {type(part) for part in parts} == set(KINDS.values())
    assert not [key for key, count in Counter(part.id for part in parts).items() if count > 1]
    assert not [name for name, count in Counter(part.name for part in parts).items() if count > 1]
    assert all(usual.source for usual in usual_sizes())


def test_every_value_of_them_is_assumed() -> None:
    def quantities(part: Part) -> list[Quantity]:
        return [value for name in type(part).model_fields if isinstance(value := getattr(part, name), Quantity)]

    for part in SIZES.values():
        assert {quantity.origin for quantity in quantities(part)} <= {Origin.ASSUMED}, part.name


def test_a_night_train_of_ready_made_parts_goes_together_and_comes_to_what_they_add_up_to() -> None:
    camera = next(name for name, part in SIZES.items() if part.kind == "camera" and "M42" in name)
    found = of(
        "Refractor 80 mm f/6", "Flattener M48, 55 mm", "Drawer M48, 36 mm filters", "Ring M48 to M42",
        "Spacer M42×0.75, 10 mm", camera,
    )  # fmt: skip
    assert apart(found) == []
    # 20 of drawer, 5 of ring, 10 of spacer and the T mount's own 55: far too long for 55 mm, and said so.
    assert found.spacing.error_mm == pytest.approx(20.0 + 5.0 + 10.0 + 55.0 - 55.0)
    assert found.layout.first_order.own_f_number.value == pytest.approx(6.0)


@pytest.mark.parametrize("system", [100, 150])
def test_a_front_stack_of_ready_made_parts_goes_together(system: int) -> None:
    mount = "44 mm SLR bayonet"
    camera = next(name for name, part in SIZES.items() if part.kind == "camera" and mount in name)
    ring = f"Ring 77 mm, standard, {system} mm system"
    found = of(f"Lens 17-40 mm f/4, {mount}", camera, front=(ring, f"Holder {system} mm, 2 slots"))
    assert apart(found) == []
    assert found.front.judged
    # Where the pupil is nothing was entered: both ends are shown.
    assert (found.layout.first_order.entrance_pupil.low, found.layout.first_order.entrance_pupil.high) == (15.0, 45.0)
    stepped = of(f"Lens 24 mm f/2.8, {mount}", camera, front=("Step ring 58 to 77 mm", ring))
    assert apart(stepped) == []
