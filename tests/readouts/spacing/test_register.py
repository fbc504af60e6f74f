"""A register that lens and camera share, and the tolerance of what is turned to a printed length."""

import pytest

from farrail.parts.connections import Bayonet, Connection, Gender, NotKnown, Thread, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Adapter, Spacer
from farrail.parts.provenance import Quantity, assumed, published
from farrail.parts.registers import t_mount
from farrail.parts.registry import Part, usual_sizes
from farrail.parts.usual import machined
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Train

IN, OUT = Gender.INTERNAL, Gender.EXTERNAL
OURS, OTHER = Bayonet(name="ours", throat_mm=44.0), Bayonet(name="other", throat_mm=46.0)


def lens(flange: Quantity, mount: Bayonet = OURS) -> CameraLens:
    return CameraLens(
        id="lens", name="Lens", outer_diameter_mm=70.0, rear=Connection(standard=mount, gender=OUT),
        focal_length_mm=published(50), f_number=published(2), flange_focal_distance_mm=flange,
        entrance_pupil_depth_mm=assumed(20.0),
    )  # fmt: skip


def camera(flange: Quantity, front: Bayonet | Thread = OURS) -> Camera:
    return Camera(
        id="camera", name="Camera", outer_diameter_mm=90.0, front=Connection(standard=front, gender=IN),
        flange_to_sensor_mm=flange, sensor_width_mm=published(36), sensor_height_mm=published(24),
    )  # fmt: skip


def laid(*parts: Part) -> Readout:
    optic, *between, body = parts
    shelf = {part.id: part for part in parts}
    train = Train(
        id="t", name="T", optic=optic.id, rear_train=tuple(MountedPart(part=p.id) for p in between), camera=body.id
    )  # fmt: skip
    return read(train, shelf)


def doubts(readout: Readout) -> list[str]:
    return [finding.part or "" for finding in readout.findings if finding.kind == "spacing.assumed_decides"]


def tube(length: float) -> ExtensionTube:
    return ExtensionTube(
        id="tube", name="Tube", outer_diameter_mm=60.0, front=Connection(standard=OURS, gender=IN),
        rear=Connection(standard=OURS, gender=OUT), path_length_mm=published(length),
    )  # fmt: skip


@pytest.mark.parametrize("between", [(), (tube(20.0),)])
def test_a_register_on_both_sides_of_the_sum_decides_nothing(between: tuple[Part, ...]) -> None:
    readout = laid(lens(assumed(44.0)), *between, camera(assumed(44.0)))
    assert doubts(readout) == []
    # By hand: no matter what the mount's flange focal distance is, the error stays what the tubes make it.
    errors = {
        laid(lens(assumed(register)), *between, camera(assumed(register))).spacing.error_mm for register in (40.0, 48.0)
    }
    assert len(errors) == 1


def test_with_an_adapter_between_two_mounts_the_register_decides() -> None:
    ring = Adapter(
        id="ring", name="Ring", outer_diameter_mm=60.0, front=Connection(standard=OURS, gender=IN),
        rear=Connection(standard=OTHER, gender=OUT), path_length_mm=published(0.5),
    )  # fmt: skip
    assert doubts(laid(lens(published(44.0)), ring, camera(assumed(43.5), OTHER))) == ["camera"]


def test_an_adapter_of_unknown_ends_may_change_the_mount_and_a_tube_does_not() -> None:
    unlooked = Connection(standard=NotKnown(), gender=Gender.NONE)
    body = camera(assumed(44.0)).model_copy(update={"front": unlooked})
    ends = {"front": unlooked, "rear": unlooked}
    ring = Adapter(
        id="ring", name="Ring", outer_diameter_mm=60.0, front=unlooked, rear=unlooked, path_length_mm=published(0.005)
    )
    assert doubts(laid(lens(published(44.0)), ring, body)) == ["camera"]
    assert doubts(laid(lens(published(44.0)), tube(0.005).model_copy(update=ends), body)) == []


def test_two_registers_that_differ_are_no_shared_one() -> None:
    assert doubts(laid(lens(published(44.0)), camera(assumed(43.0)))) == ["camera"]


def test_turned_lengths_bear_the_general_tolerance() -> None:
    # ISO 2768-1:1989, class f, linear dimensions, from memory: 0.5 to 6 mm ±0.05, to 30 ±0.1, to 120 ±0.15.
    told = {5.0: 0.05, 6.0: 0.05, 7.5: 0.1, 30.0: 0.1, 35.0: 0.15, 120.0: 0.15}
    assert {length: machined(length).tolerance for length in told} == told
    spacers = [usual.part for usual in usual_sizes() if isinstance(usual.part, Spacer)]
    assert spacers
    assert all(part.path_length_mm.tolerance > 0.0 for part in spacers)


@pytest.mark.parametrize(("length", "doubted"), [(machined(15.0), []), (assumed(15.0), ["spacer"])])
def test_a_ready_made_spacer_is_not_doubted_by_a_tenth_of_its_length(length: Quantity, doubted: list[str]) -> None:
    telescope = Telescope(
        id="telescope", name="Telescope", outer_diameter_mm=90.0, rear=thread(48.0, 0.75, IN),
        focal_length_mm=published(480.0), aperture_mm=published(80.0),
    )  # fmt: skip
    corrector = Corrector(
        id="corrector", name="Corrector", outer_diameter_mm=64.0, front=thread(48.0, 0.75, OUT), rear=t_mount(OUT),
        path_length_mm=published(40.0), back_focus_mm=published(55.0), spacing_tolerance_mm=published(0.5),
    )  # fmt: skip
    spacer = Spacer(
        id="spacer", name="Spacer", outer_diameter_mm=47.0, front=t_mount(IN), rear=t_mount(OUT), path_length_mm=length
    )
    # 15 + 39.82 = 54.82: 0.18 short, 0.32 from the limit. A tenth of 15 mm would decide; the tenth it is turned to not.
    body = camera(published(39.82), Thread(diameter_mm=42.0, pitch_mm=0.75))
    readout = laid(telescope, corrector, spacer, body)
    assert readout.spacing.error_mm == pytest.approx(-0.18)
    assert doubts(readout) == doubted
