"""The guide camera: a person's sum of its branch, the brute force of all spacers, and what the window and files say."""

import itertools
from typing import Any

import pytest
from tests.train.gear import bare_filter, drawer, guider, laid, spacer

from farrail.errors import EditRefused
from farrail.parts.connections import Gender, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds.cameras import Camera, Window
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured, published
from farrail.parts.registry import Part
from farrail.planning.guide import GuideWay, guide_ways, refusal_of
from farrail.planning.pieces import stock_of, task_of
from farrail.readouts.read import Readout
from farrail.readouts.spacing.focuser_and_guider import guiding_of
from farrail.train.train import GuidePort, MountedPart
from farrail.workbook.edits.laying import SetGuide
from farrail.workbook.store import read_file, write_file
from farrail.workbook.workbook import Workbook

# As sold for rear trains: internal toward the light, so that it goes into the port the other way round.
PORT_IN, PORT_OUT = thread(28.5, 0.6, Gender.INTERNAL), thread(28.5, 0.6, Gender.EXTERNAL)


def guide_camera(**more: Any) -> Camera:
    values: dict[str, Any] = {"flange_to_sensor_mm": measured(12.5), "front": PORT_OUT, **more}
    return Camera(
        id="guide-cam", name="Lantern guide camera", outer_diameter_mm=40, sensor_width_mm=published(5.6),
        sensor_height_mm=published(3.2), **values,
    )  # fmt: skip


def port_spacer(key: str, length: float, owned: int = 1) -> Spacer:
    return Spacer(
        id=key, name=key, outer_diameter_mm=34, front=PORT_IN, rear=PORT_OUT, path_length_mm=measured(length),
        owned=owned,
    )  # fmt: skip


def train_with(guide: GuidePort | None, *more: Part, tube: float = 20.0, **port: Any) -> Readout:
    port = {"guide_port_mm": measured(25.0), "guide_connection": PORT_IN, **port}
    row = (
        MountedPart(part="guider", guide=guide),
        MountedPart(part="drawer", filters=("filter",)),
        MountedPart(part="tube"),
    )
    return laid(*row, parts=(guider(**port), drawer(), bare_filter(), spacer("tube", tube), *more))


def shelf_of(readout: Readout, *more: Part) -> dict[str, Part]:
    return {part.id: part for part in (*readout.layout.parts.values(), *more)}


def way_of(*spacers: Spacer, tube: float = 20.0, camera: Camera | None = None, **port: Any) -> GuideWay | None:
    camera = camera or guide_camera()
    readout = train_with(GuidePort(camera=camera.id), camera, tube=tube, **port)
    ways = guide_ways(readout.layout.train, shelf_of(readout, *spacers))
    return ways[0] if ways else None


def test_the_camera_s_own_distance_and_its_window_count_against_the_port() -> None:
    # From the prism, 11 of the guider + 20 drawer + 20 tube + 20 camera less 1.0 of 3 mm of glass, less 25 to the port:
    # 45.0 mm to the guide sensor. The camera's own 12.5 leave 32.5.
    readout = train_with(GuidePort(camera="guide-cam"), guide_camera())
    hung = guiding_of(readout.layout)[0].hung
    assert hung is not None
    assert hung.error_mm == pytest.approx(12.5 - 45.0)
    told = next(f for f in readout.findings if f.kind == "spacing.guide_error")
    assert (
        told.sentences[0]
        == "Lantern guide camera is 32.50 mm too short of the guide port to focus with the main camera."
    )
    assert "Add 32.30 to 32.70 mm" in told.sentences[1]
    # A window it does not allow for moves the focus out by 2·(1 − 1/1.5) = 0.667: so much more is wanted.
    glass = Plate(thickness_mm=measured(2.0), index=measured(1.5))
    window = Window(glass=glass, sensor_gap_mm=measured(3.0), allowed_for=False)
    readout = train_with(GuidePort(camera="guide-cam"), guide_camera(window=window))
    hung = guiding_of(readout.layout)[0].hung
    assert hung is not None
    assert hung.error_mm == pytest.approx(12.5 - 2.0 / 3.0 - 45.0)


def test_the_port_s_own_focuser_mends_what_is_too_near_and_nothing_else() -> None:
    cases: list[tuple[tuple[str, ...], float, float]] = [
        ((), 10.0, -22.5), (("s30",), 10.0, 0.0), (("s30",), 1.0, -1.5), (("s35",), 10.0, 2.5),
    ]  # fmt: skip
    for between, travel, error in cases:
        readout = train_with(
            GuidePort(camera="guide-cam", between=between), guide_camera(), port_spacer("s30", 30.0),
            port_spacer("s35", 35.0), guide_travel_mm=measured(travel),
        )  # fmt: skip
        hung = guiding_of(readout.layout)[0].hung
        assert hung is not None
        assert hung.error_mm == pytest.approx(error)


def test_the_spacers_are_those_of_trying_all() -> None:
    lengths = {"a": 3.0, "b": 5.0, "c": 7.5, "d": 10.0, "e": 12.0, "f": 15.0}
    spacers = [port_spacer(key, length) for key, length in lengths.items()]
    for tube in (9.0, 12.5, 14.0, 17.0, 20.0, 26.3, 33.0, 60.0):
        need = tube + 25.0 - 12.5
        rows = [row for n in range(7) for row in itertools.combinations(lengths.values(), n)]
        fitting = [len(row) for row in rows if abs(sum(row) - need) <= 0.2 + 1e-9]
        way = way_of(*spacers, tube=tube)
        assert way is not None
        assert (way.train is not None) == bool(fitting)
        if way.train is not None:
            assert len(way.names) == min(fitting)
            assert abs(way.error_mm) <= 0.2
            assert sum(lengths[name] for name in way.names) - need == pytest.approx(way.error_mm)
        else:
            assert f"{need:.2f} mm between the port of guider and Lantern guide camera" in refusal_of(way)


def test_a_camera_too_long_for_its_port_is_said_and_one_in_focus_is_left_alone() -> None:
    way = way_of(camera=guide_camera(flange_to_sensor_mm=measured(50.0)))
    assert way is not None
    assert refusal_of(way) == "Lantern guide camera is 5.0 mm too long for the port of guider."
    assert way_of(camera=guide_camera(flange_to_sensor_mm=measured(45.1))) is None
    readout = train_with(GuidePort(camera="guide-cam"), guide_camera(flange_to_sensor_mm=measured(45.1)))
    assert any(f.kind == "spacing.guide_focuses" for f in readout.findings)


def test_what_does_not_mate_is_said_and_what_the_train_holds_is_not_at_hand() -> None:
    readout = train_with(GuidePort(camera="guide-cam"), guide_camera(front=thread(42, 0.75, Gender.EXTERNAL)))
    told = next(f for f in readout.findings if f.kind == "spacing.guide_misfit")
    assert "does not mate on the port of guider: M28.5" in told.sentences[0]
    # The one 32.5 mm spacer hangs on a second guider of the same train already.
    camera, only = guide_camera(), port_spacer("only", 32.5)
    readout = train_with(GuidePort(camera="guide-cam"), camera, only)
    first = readout.layout.train
    ways = guide_ways(first, shelf_of(readout, only))
    assert ways[0].names == ("only",)
    rows = (*first.rear_train[:1], MountedPart(part="only"), *first.rear_train[1:])
    held = first.model_copy(update={"rear_train": rows})
    assert guide_ways(held, shelf_of(readout, only))[0].train is None


def test_what_hangs_on_the_port_is_not_at_hand_for_the_train() -> None:
    # 20 mm are wanted before the camera; the one 20 mm spacer that fits there hangs on the guide port.
    thread_of_train = port_spacer("twenty", 20.0)
    readout = train_with(GuidePort(camera="guide-cam", between=("twenty",)), guide_camera(), thread_of_train)
    task = task_of(readout.layout)
    assert task is not None
    assert stock_of(thread_of_train, task) == 0
    assert stock_of(thread_of_train.model_copy(update={"owned": 2}), task) == 1


def test_it_is_kept_in_the_file_and_refused_where_it_cannot_be(tmp_path: Any) -> None:
    readout = train_with(None, guide_camera(), port_spacer("s30", 30.0))
    shelf = (*shelf_of(readout, guide_camera(), port_spacer("s30", 30.0)).values(),)
    workbook = Workbook(name="mine", shelf=shelf, trains=(readout.layout.train,))
    done = SetGuide("t", 0, GuidePort(camera="guide-cam", between=("s30",))).apply(workbook)
    write_file(tmp_path / "a.farrail.json", done)
    assert read_file(tmp_path / "a.farrail.json").workbook == done
    assert done.uses_of("guide-cam")
    assert SetGuide("t", 0, None).apply(done) == workbook
    for index, port in ((1, GuidePort(camera="guide-cam")), (0, GuidePort(camera="tube")),
                        (0, GuidePort(camera="guide-cam", between=("filter-x",)))):  # fmt: skip
        with pytest.raises(EditRefused):
            SetGuide("t", index, port).apply(workbook)
