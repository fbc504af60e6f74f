"""More edges and senses that a slip would turn: gaps before the camera, bayonets, bundles aside, limits met exactly."""

import math
from typing import Any

import numpy as np
import pytest

from farrail.optics.passband import line_transmission
from farrail.parts.connections import Bayonet, Connection, Gender, Plain, thread
from farrail.parts.in_beam import ApertureRole
from farrail.parts.kinds.ahead import CouplingRing
from farrail.parts.kinds.tubes import Shim, Spacer
from farrail.parts.provenance import measured, published, unknown
from farrail.planning.pieces import Gap, key_before, shim_fits
from farrail.readouts.close_up.system import systems
from farrail.readouts.front.messages import CoupledOnWide
from farrail.readouts.light.bundles import bundle_to
from farrail.readouts.light.model import Light
from farrail.readouts.range_findings import range_report
from farrail.readouts.read import read
from farrail.readouts.spacing.focuser_and_guider import guiding_of
from farrail.train.train import MountedPart
from tests.readouts.close_up.test_close_up import TUBES
from tests.readouts.close_up.test_close_up import readout as close_readout
from tests.readouts.front.test_front import FRONT, IN, OUT, end, holder, lens, ring, stack
from tests.train.gear import ENDS, guider, laid, reducer, spacer


def test_a_gap_before_the_camera_moves_the_camera_away() -> None:
    """A thread of 6 mm in a camera's bore of 4 mm bottoms: the sensor is 2 mm farther."""
    deep = thread(54, 0.75, Gender.EXTERNAL).model_copy(update={"engagement_mm": 6.0})
    shallow = thread(54, 0.75, Gender.INTERNAL).model_copy(update={"engagement_mm": 4.0})
    last = Spacer(id="a", name="a", path_length_mm=measured(10.0), **(ENDS | {"rear": deep}))
    found = laid(MountedPart(part="a"), parts=(last,), front=shallow).layout
    assert [gap.length.value for gap in found.gaps] == [2.0]
    assert found.flange_mm == pytest.approx(12.0)
    assert found.sensor_mm == pytest.approx(32.0)
    assert found.rear[0].middle_mm == pytest.approx(5.0)


def test_a_gap_needs_both_depths_and_a_shim_does_not_stop_a_thread() -> None:
    deep = thread(54, 0.75, Gender.EXTERNAL).model_copy(update={"engagement_mm": 6.0})
    shallow = thread(54, 0.75, Gender.INTERNAL).model_copy(update={"engagement_mm": 4.0})
    unknown_depth = thread(54, 0.75, Gender.INTERNAL)
    first = Spacer(id="a", name="a", path_length_mm=measured(10.0), **(ENDS | {"rear": deep}))
    for front, gaps in ((shallow, [2.0]), (unknown_depth, [])):
        second = Spacer(id="b", name="b", path_length_mm=measured(10.0), **(ENDS | {"front": front}))
        found = laid(MountedPart(part="a"), MountedPart(part="b"), parts=(first, second)).layout
        assert [gap.length.value for gap in found.gaps] == gaps
    # A shim of half a millimetre between lets the thread go half a millimetre less deep: 1.5 are left.
    second = Spacer(id="b", name="b", path_length_mm=measured(10.0), **(ENDS | {"front": shallow}))
    face = Connection(standard=Plain(diameter_mm=60), gender=Gender.NONE, engagement_mm=0.0)
    washer = Shim(id="s", name="s", outer_diameter_mm=66, front=face, rear=face, path_length_mm=measured(0.5))
    found = laid(
        MountedPart(part="a"), MountedPart(part="s"), MountedPart(part="b"), parts=(first, washer, second)
    ).layout
    assert [gap.length.value for gap in found.gaps] == [1.5]
    assert found.flange_mm == pytest.approx(22.0)


@pytest.mark.parametrize(("outside", "hole", "rests"), [(66.0, 54.5, True), (54.6, 54.2, False), (80.0, 70.0, False),
                                                        (62.0, 48.0, False)])  # fmt: skip
def test_a_shim_rests_beyond_its_thread_on_the_rail_as_for_the_planner(
    outside: float, hole: float, rests: bool
) -> None:
    """On a thread of 54 mm: its hole lets the thread through, its rim reaches a shoulder; one rule for both."""
    male = thread(54, 0.75, Gender.EXTERNAL)
    ends = [Spacer(id="a", name="a", path_length_mm=measured(10.0), **(ENDS | {"rear": male})),
            Spacer(id="b", name="b", path_length_mm=measured(10.0), **ENDS)]  # fmt: skip
    face = Connection(standard=Plain(diameter_mm=hole), gender=Gender.NONE, engagement_mm=0.0)
    washer = Shim(id="s", name="washer", outer_diameter_mm=outside, front=face, rear=face, path_length_mm=measured(0.5))
    found = laid(*(MountedPart(part=key) for key in "asb"), parts=(ends[0], washer, ends[1]))
    told = [f.text.sentences()[1] for f in found.findings if f.kind == "joint.mismatch"]
    assert any("does not rest" in words for words in told) is not rests
    key = key_before(washer.front)
    assert shim_fits(washer, Gap(key, key, thread_mm=54.0)) is rests


def test_a_holder_s_slots_are_told_apart_by_number() -> None:
    found = stack("r", MountedPart(part="h"), parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0)), focal=30.0)
    keys = [placed.key for placed in found.front.placed]
    assert [key for key in keys if key.startswith("slot")] == ["slot_2", "slot_1"]
    assert keys[0] == "window_front"


@pytest.mark.parametrize(("off", "told"), [(0.49, False), (0.5, True), (-0.5, True), (-0.49, False)])
def test_half_a_degree_off_its_bayonet_is_told(off: float, told: bool) -> None:
    mount = Bayonet(name="x bayonet", throat_mm=42)
    tube = spacer("a", 10.0).model_copy(update={"rear": Connection(standard=mount, gender=Gender.EXTERNAL)})
    front = Connection(standard=mount, gender=Gender.INTERNAL)
    base = laid(MountedPart(part="a"), parts=(tube,), front=front)
    turned = base.layout.train.model_copy(update={"camera_turned_deg": off})
    found = read(turned, base.layout.parts)
    assert any(f.kind == "joint.bayonet_turn" for f in found.findings) is told


def test_the_limit_of_coupled_holders_shrinks_with_the_sensor() -> None:
    """43 mm on a full frame; half the sensor's sides make it 21.5: normal is what frames alike."""
    second = holder("h2", 20.0, 7.0, 8.0).model_copy(update={"rear": end(FRONT, OUT)})
    coupling = CouplingRing(id="c", name="c", outer_diameter_mm=112, front=end(FRONT, IN), rear=end(FRONT, OUT),
                            path_length_mm=measured(6))  # fmt: skip
    row = ("r", MountedPart(part="h"), "c", MountedPart(part="h2"))
    whole = stack(*row, parts=(ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), coupling, second),
                  on=lens(16.0, 70.0), focal=20.0)  # fmt: skip
    camera = whole.layout.camera
    assert camera is not None
    small = camera.model_copy(update={"sensor_width_mm": published(18.0), "sensor_height_mm": published(12.0)})
    shelf = {**whole.layout.parts, camera.id: small}
    limits = []
    for focal in (20.0, 30.0):
        conditions = whole.layout.train.conditions.model_copy(update={"focal_mm": focal})
        found = read(whole.layout.train.model_copy(update={"conditions": conditions}), shelf)
        limits.append([f.text.limit_mm for f in found.findings if isinstance(f.text, CoupledOnWide)])
    assert limits[0] == [pytest.approx(21.5, abs=0.02)]
    assert limits[1] == []


def test_a_guide_sensor_just_at_the_port_has_its_place() -> None:
    for port, kind in ((30.0, "spacing.guide_place"), (31.0, "spacing.guide_place"), (32.0, "spacing.guide_no_room")):
        found = laid(MountedPart(part="guider"), parts=(guider(guide_port_mm=measured(port)),))
        # 11 mm of guider behind the prism and 20 of camera.
        assert guiding_of(found.layout)[0].spacing_mm == pytest.approx(31.0 - port)
        assert kind in [f.kind for f in found.findings]


@pytest.mark.parametrize(("right", "up"), [(4.0, 3.0), (-4.0, 3.0), (3.0, -4.0), (-5.0, -1.0)])
def test_a_bundle_is_clipped_where_rays_of_a_decentred_sensor_meet_the_rim(right: float, up: float) -> None:
    """Every ray of the plane through the axis and the place, traced to each rim by hand."""
    tube = spacer("a", 40.0, 26.0)
    found = laid(MountedPart(part="a"), parts=(tube,), sensor_right_mm=measured(0.0), sensor_up_mm=measured(0.0))
    prism = guider()
    decentred = laid(MountedPart(part="guider"), MountedPart(part="a"), parts=(prism, tube))
    for readout in (found, decentred):
        light = readout.light
        height = math.hypot(right, up)
        way = (right / height, up / height)
        bundle = bundle_to(light, (3.0 * right, 3.0 * up))
        arrives = []
        for u in np.linspace(-1.0, 1.0, 4001):
            free = True
            for image in light.images:
                if image.front or abs(image.distance_mm) < 1e-9 or image.passes is not None:
                    continue
                along = 3.0 * height * (1.0 - image.distance_mm * light.pupil.convergence_per_mm)
                along += u * image.distance_mm / (2.0 * light.pupil.f_number)
                x, y = along * way[0] - image.centre_mm[0], along * way[1] - image.centre_mm[1]
                free = free and (image.half_height_mm is not None or math.hypot(x, y) <= image.radius_mm)
            if free:
                arrives.append(u)
        if any(image.passes is not None for image in light.images):
            assert bundle.low >= min(arrives) - 1e-3
            assert bundle.high <= max(arrives) + 1e-3
        else:
            assert bundle.low == pytest.approx(min(arrives), abs=1e-3)
            assert bundle.high == pytest.approx(max(arrives), abs=1e-3)


def test_a_prism_begins_to_clip_where_the_first_corner_loses_light() -> None:
    """A prism 12 mm above the axis: the least height on the way to any corner at which light is lost, step by step."""
    found = laid(MountedPart(part="guider"), parts=(guider(),), sensor_width_mm=published(6.0))
    light = found.light
    prism = next(row for row in light.clearances if row.placed.role is ApertureRole.PRISM)
    heights = []
    for x, y in light.corners:
        for share in np.linspace(0.0, 1.0, 401):
            if float(light.light_at(np.array([[x * share, y * share]]))[0]) < 1.0 - 1e-6:
                heights.append(math.hypot(x, y) * share)
                break
    assert heights
    assert prism.onset_mm == pytest.approx(min(heights), abs=0.7)


def test_light_asked_without_its_subject_finds_it() -> None:
    found = laid(MountedPart(part="a"), parts=(spacer("a", 40.0, 30.0),))
    alone = Light(found.layout)
    points = np.array([[18.0, 12.0], [5.0, -3.0]])
    assert alone.light_at(points) == pytest.approx(found.light.light_at(points))
    near = close_readout("kittiwake-90", focus_mm=400.0)
    assert Light(near.layout).corner_ri == pytest.approx(near.light.corner_ri)


def test_a_range_that_never_reaches_the_tolerance_depends_on_nothing() -> None:
    """A reducer wanting 60 ± 1 with 42 to 44 in place: too short at both ends and between, so nothing depends on it."""
    optics = reducer().model_copy(update={"lens_focal_mm": None})
    span: dict[str, Any] = {"path_length_mm": unknown(22.0, 24.0, "not measured")}
    part = Spacer(id="a", name="a", **span, **ENDS)
    found = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(optics, part))
    report = range_report(found.layout.train, found.layout.parts)
    assert "spacing.depends" not in [f.kind for f in report.findings]
    inside = part.model_copy(update={"path_length_mm": unknown(38.0, 40.5, "not measured")})
    found = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(optics, inside))
    report = range_report(found.layout.train, found.layout.parts)
    assert "spacing.depends" in [f.kind for f in report.findings]


def test_the_far_end_of_a_focus_range_belongs_to_it() -> None:
    close = close_readout("kittiwake-90", behind=TUBES).close_up
    assert close.system is not None
    assert close.far.magnification > 0.5
    table = systems([close.system])
    for position in (0.0, 1.0):
        size = table.at(np.array([position])).magnification
        if float(size[0]) > 0.0:
            assert float(table.position_for(size)[0]) == pytest.approx(position, abs=1e-6)


def test_the_narrowest_passband_that_can_be_given_is_taken() -> None:
    assert 0.0 <= float(line_transmission(656.3, 656.3, 0.1, 2.0, 4.0)) <= 1.0
