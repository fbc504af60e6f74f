"""Where the sensor sees pupil and apertures: against rays traced from the objective through thin lenses."""

import math
from typing import Any

import numpy as np
import pytest

from farrail.errors import BadInput
from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import Teleconverter
from farrail.parts.kinds.lenses import CameraLens, FNumberAt, PupilAt
from farrail.parts.origin import Origin
from farrail.parts.provenance import Span, measured, published
from farrail.parts.registry import Part
from farrail.readouts.read import Readout, read
from farrail.train.train import Conditions, MountedPart, Train
from tests.train.gear import laid, reducer, spacer

APSC = {"sensor_width_mm": published(23.5), "sensor_height_mm": published(15.7)}


def slow_telescope(clear_mm: float, at_mm: float = 50.0, **optic: Any) -> Readout:
    """A 2032 mm f/10 with a reducer of f 285, its thin lens 15 mm before its rear, 90 mm of which reach to the sensor.

    One ring's front is `clear_mm` wide, `at_mm` before the sensor.
    """
    optics = reducer(path_length_mm=measured(15.0), principal_mm=measured(0.0), clear_aperture_mm=measured(200.0))
    wide = spacer("wide", 90.0 - at_mm, 200.0)
    narrow = spacer("narrow", at_mm - 20.0, clear_mm)
    scope = {"focal_length_mm": published(2032.0), "aperture_mm": published(203.2), **optic}
    row = [MountedPart(part="reducer"), MountedPart(part="wide"), MountedPart(part="narrow")]
    return laid(*row, parts=(optics, wide, narrow), scope=scope, **APSC)


def traced_ri(height: float, x: float, clear: float, objective: float, focal: float, d: float, f_r: float) -> float:
    """The share of rays from all over an objective to one point of the sensor that pass an aperture before it."""
    m = 1.0 - d / f_r
    a = focal - d / m  # objective to the thin lens, for a star far away
    rim = objective / 2.0
    side = np.linspace(-rim, rim, 1201)
    px, py = np.meshgrid(side, side)
    inside = px**2 + py**2 <= rim**2
    px, py = px[inside], py[inside]
    # Slope u ahead of the lens so that the ray from p arrives at the point: p + u·a at the lens, bent by −y/f_r.
    bend = 1.0 - d / f_r

    def at_x(p: np.ndarray, target: float) -> np.ndarray:
        u = (target - p * bend) / (a * bend + d)
        at_lens = p + u * a
        after = u - at_lens / f_r
        return at_lens + after * (d - x)

    here = np.hypot(at_x(px, height), at_x(py, 0.0))
    return float(np.mean(here <= clear / 2.0))


def test_an_exit_pupil_may_lie_behind_the_sensor() -> None:
    found = slow_telescope(38.0)
    light, corner = found.light, math.hypot(23.5, 15.7) / 2.0
    # By hand: M 0.63158, N 6.3158, a 1865.75, L = 105 − 1865.75·285/(1865.75 − 285) = −231.38.
    assert light.pupil.exit_distance_mm == pytest.approx(-231.38, abs=0.02)
    assert light.pupil.f_number == pytest.approx(6.3158, abs=1e-3)
    narrow = next(c for c in light.clearances if c.placed.part.id == "narrow" and c.distance_mm == pytest.approx(50.0))
    assert narrow.needed_mm == pytest.approx(42.286, abs=0.01)
    truth = traced_ri(corner, 50.0, 38.0, 203.2, 2032.0, 105.0, 285.0)
    assert light.corner_ri == pytest.approx(truth, abs=2e-3)
    # 34 mm there keeps less than half, where a telecentric pupil would say .92.
    truth = traced_ri(corner, 50.0, 34.0, 203.2, 2032.0, 105.0, 285.0)
    assert 0.4 < truth < 0.5
    assert slow_telescope(34.0).light.corner_ri == pytest.approx(truth, abs=2e-3)
    assert found.layout.first_order.exit_pupil.origin is Origin.PUBLISHED


@pytest.mark.parametrize("clear", [30.0, 36.0, 40.0])
@pytest.mark.parametrize("at", [30.0, 50.0, 65.0])
def test_the_corner_behind_such_a_pupil_is_that_of_traced_rays(clear: float, at: float) -> None:
    corner = math.hypot(23.5, 15.7) / 2.0
    # The ring is as narrow at its rear, 20 mm before the sensor: both ends are passed by the same rays.
    found = slow_telescope(clear, at)
    ends = [traced_ri(corner, x, clear, 203.2, 2032.0, 105.0, 285.0) for x in (at, 20.0)]
    assert found.light.corner_ri == pytest.approx(min(ends), abs=3e-3)


@pytest.mark.parametrize("ahead", [90.0, 104.9, 105.0, 105.1, 150.0, 300.0])
def test_an_aperture_ahead_of_a_reducer_is_seen_whichever_side_its_image_lies(ahead: float) -> None:
    """A drawtube's end 150 mm ahead of a reducer of f 105 costs 0.73 stops in the corner; its image is behind."""
    focal, f_r, d, wide = 600.0, 105.0, 40.0, 34.0
    optics = reducer(path_length_mm=measured(10.0), principal_mm=measured(10.0), clear_aperture_mm=measured(200.0))
    optics = optics.model_copy(update={"lens_focal_mm": published(f_r)})
    scope = {"drawtube_length_mm": measured(ahead - 10.0), "drawtube_clear_mm": measured(wide)}
    tube = spacer("tube", 20.0, 200.0)
    found = laid(MountedPart(part="reducer"), MountedPart(part="tube"), parts=(optics, tube), scope=scope, **APSC)
    light, corner = found.light, math.hypot(23.5, 15.7) / 2.0
    m = 1.0 - d / f_r
    a = focal - d / m
    rim = 75.0
    side = np.linspace(-rim, rim, 1201)
    px, py = np.meshgrid(side, side)
    inside = px**2 + py**2 <= rim**2
    px, py = px[inside], py[inside]

    def at_place(p: np.ndarray, target: float, place: float) -> np.ndarray:
        u = (target - p * m) / (a * m + d)
        return p + u * (a - place)

    def open_at(target: float, *places: float) -> float:
        """Return the share of the objective's rays to a point of the sensor that pass the drawtube at some places."""
        kept = [np.hypot(at_place(px, target, place), at_place(py, 0.0, place)) <= wide / 2.0 for place in places]
        return float(np.mean(np.logical_and.reduce(kept)))

    # Both ends of the drawtube ahead of the thin lens; where they stop the axis too, against the centre's light.
    assert min(open_at(corner, ahead), open_at(corner, 10.0)) < 0.999
    both = open_at(corner, ahead, 10.0) / open_at(0.0, ahead, 10.0)
    assert light.corner_ri == pytest.approx(both, abs=4e-3)


BAYONET = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)


def behind_lens(
    *row: MountedPart,
    parts: tuple[Part, ...] = (),
    conditions: Conditions | None = None,
    turned: bool = False,
    **lens: Any,
) -> Readout:
    values: dict[str, Any] = {
        "focal_length_mm": published(50.0), "f_number": published(2.8), "flange_focal_distance_mm": published(44.0),
        "entrance_pupil_depth_mm": measured(30.0), **lens,
    }  # fmt: skip
    rear = Connection(standard=BAYONET, gender=Gender.EXTERNAL)
    optic = CameraLens(id="lens", name="lens", outer_diameter_mm=75, rear=rear, **values)
    body = Camera(
        id="body", name="body", outer_diameter_mm=120, front=Connection(standard=BAYONET, gender=Gender.INTERNAL),
        flange_to_sensor_mm=published(44.0), sensor_width_mm=published(36.0), sensor_height_mm=published(24.0),
    )  # fmt: skip
    train = Train(id="t", name="t", optic="lens", rear_train=row, camera="body", optic_reversed=turned,
                  conditions=conditions or Conditions())  # fmt: skip
    return read(train, {part.id: part for part in (optic, body, *parts)})


def converter(key: str, factor: float, long: float) -> Teleconverter:
    return Teleconverter(
        id=key, name=key, outer_diameter_mm=70, front=Connection(standard=BAYONET, gender=Gender.INTERNAL),
        rear=Connection(standard=BAYONET, gender=Gender.EXTERNAL), path_length_mm=measured(long),
        factor=published(factor), clear_aperture_mm=measured(60.0),
    )  # fmt: skip


def test_a_short_lens_without_a_pupil_given_has_a_range_and_no_mirror_box_stops_the_train() -> None:
    """A lens of 20 mm on a flange focal distance of 44: its pupil cannot be in the mirror box."""
    found = behind_lens(focal_length_mm=published(20.0))
    pupil = found.layout.first_order.exit_pupil
    assert isinstance(pupil.in_use, Span)
    assert pupil.low == 44.0
    assert pupil.high >= 4 * 44.0
    assert not found.stops
    by_ratio = behind_lens(focal_length_mm=published(20.0), pupil_ratio=measured(2.6)).layout.first_order.exit_pupil
    assert by_ratio.value == pytest.approx(52.0)
    assert by_ratio.origin is Origin.PUBLISHED
    assert by_ratio.in_use.note.startswith("computed")


def test_two_teleconverters_count_as_two() -> None:
    row = (MountedPart(part="one"), MountedPart(part="two"))
    parts = (converter("one", 1.4, 20.0), converter("two", 2.0, 32.0))
    first = behind_lens(*row, parts=parts, pupil_ratio=measured(1.2)).layout.first_order
    # On register each multiplies by its name, and the first takes up the image where the lens alone would put it.
    assert [one.power.magnification for one in first.powers] == pytest.approx([1.4, 2.0])
    assert first.focal_length.value == pytest.approx(140.0)
    assert first.own_f_number.value == pytest.approx(2.8 * 2.8)
    assert first.powers[0].focus_mm == pytest.approx(44.0)
    # The rim of the lens's pupil by matrices through both: 60 mm before the lens's own image.
    system = np.eye(2)
    z = 44.0 - 60.0
    for part, power in zip(parts, first.powers, strict=True):
        f = power.power.focal_mm
        assert f == pytest.approx(-(part.path_length_mm.value / 2 + 44.0) / (part.factor.value - 1.0))
        system = np.array([[1, 0], [-1 / f, 1]]) @ np.array([[1, power.first_mm - z], [0, 1]]) @ system
        z = power.z_mm
    _, b, _, d = system.ravel()
    image = -b / d  # behind the second converter's rear plane
    assert first.pupil.exit_distance_mm == pytest.approx(20.0 + 32.0 + 44.0 - z - image)
    assert first.pupil.f_number == pytest.approx(2.8 * 2.8, rel=1e-6)
    stops = [share.stops for share in behind_lens(*row, parts=parts).exposure.shares if share.stops]
    assert sum(stops) == pytest.approx(2.0 * math.log2(2.8))


def test_a_zoom_opens_by_its_table_and_turned_round_has_its_own_pupil() -> None:
    table = (FNumberAt(focal_mm=18, f_number=published(3.5)), FNumberAt(focal_mm=55, f_number=published(5.6)))
    pupils = (PupilAt(focal_mm=18, depth_mm=measured(20)), PupilAt(focal_mm=55, depth_mm=measured(46)))
    zoom: dict[str, Any] = {
        "focal_length_mm": published(18.0), "longest_focal_mm": published(55.0), "f_number": published(3.5),
        "f_numbers": table, "entrance_pupils": pupils,
    }  # fmt: skip
    for focal, n in ((18.0, 3.5), (36.5, 4.55), (55.0, 5.6)):
        first = behind_lens(conditions=Conditions(focal_mm=focal), **zoom).layout.first_order
        assert first.f_number.value == pytest.approx(n)
    turned = behind_lens(
        conditions=Conditions(focal_mm=55.0), turned=True, front=thread(58, 0.75, Gender.INTERNAL), **zoom
    )
    # Its thread is on the camera, 44 mm before the sensor, and its pupil 46 mm ahead of that.
    assert turned.light.pupil.exit_distance_mm == pytest.approx(44.0 + 46.0)


def test_a_telescope_faster_than_any_is_refused_in_a_sentence() -> None:
    with pytest.raises(BadInput, match=r"f/0\.2; f/0\.3 to f/1000 can be"):
        laid(parts=(), scope={"focal_length_mm": published(30.0)}).layout.first_order.f_number  # noqa: B018
    found = laid(parts=(), scope={"focal_length_mm": published(30.0)})
    assert any(f.kind == "train.not_judged" for f in found.findings)
