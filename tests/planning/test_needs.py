"""What a part must measure: against sums by hand, and against the verdict on either side of the answer."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QLabel

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.parts.kinds.cameras import Camera
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.planning.needs import LeastWidth, LengthForScale, MostDepth, NeededLength, missing, needs_of
from farrail.planning.room_needs import needs_in
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Side, Train
from farrail.ui.needs_sheet import show_needs
from farrail.ui.selection import Selection
from farrail.ui.widgets.need_line import NeedLine
from farrail.ui.window import MainWindow
from farrail.workbook.edits.trains import SetSubject

BOOK = demo_workbook()
SHELF = BOOK.by_id


def given(train: Train, part: str, path: str, mm: float) -> Readout:
    value = Quantity(readings=(Reading(value=mm, origin=Origin.MEASURED),))
    shelf: Shelf = {**SHELF, part: SHELF[part].model_copy(update={path: value})}
    return read(train, shelf)


def bare_holder() -> Train:
    """The sea stacks with the holder alone on its ring: nothing beyond it."""
    train = BOOK.train("sea-stacks")
    row = []
    for laid in train.front_stack:
        row.append(laid)
        if SHELF[laid.part].kind == "filter_holder":
            break
    return train.model_copy(update={"front_stack": tuple(row)})


@pytest.mark.parametrize("focal", [20.0, 24.0, 28.0])
def test_a_holder_as_deep_as_told_is_clear_and_a_little_deeper_is_not(focal: float) -> None:
    train = bare_holder()
    holder = next(laid.part for laid in train.front_stack if SHELF[laid.part].kind == "filter_holder")
    depth = next(need for need in needs_of(train, SHELF, holder, focal_mm=focal) if isinstance(need, MostDepth))
    if depth.needed_mm is None:
        assert given(train, holder, "path_length_mm", 0.5).front.loss_at(focal) > CLEAN_STOPS
        return
    assert given(train, holder, "path_length_mm", depth.needed_mm).front.loss_at(focal) <= CLEAN_STOPS
    if depth.needed_mm < 199.0:
        assert given(train, holder, "path_length_mm", depth.needed_mm + 0.1).front.loss_at(focal) > CLEAN_STOPS


def test_a_ring_as_wide_as_told_is_clear_and_a_little_narrower_is_not() -> None:
    train = bare_holder()
    ring = train.front_stack[0].part
    (wide,) = (need for need in needs_of(train, SHELF, ring, focal_mm=30.0) if isinstance(need, LeastWidth))
    assert wide.needed_mm is not None
    assert given(train, ring, "clear_aperture_mm", wide.needed_mm).front.loss_at(30.0) <= CLEAN_STOPS
    assert given(train, ring, "clear_aperture_mm", wide.needed_mm - 0.2).front.loss_at(30.0) > CLEAN_STOPS
    # The smallest usual thread whose rim leaves so much.
    assert wide.filter_thread_mm is None or wide.filter_thread_mm - 3.5 >= wide.needed_mm


def test_a_length_by_hand_and_what_is_missing() -> None:
    train = BOOK.train("witch-broom-short")
    readout = read(train, SHELF)
    gap = missing(readout)
    assert gap is not None
    assert readout.spacing.error_mm is not None
    assert gap.needed_mm == pytest.approx(-readout.spacing.error_mm)
    spacer = next(laid.part for laid in train.rear_train if SHELF[laid.part].kind == "spacer")
    (need,) = (one for one in needs_of(train, SHELF, spacer) if isinstance(one, NeededLength))
    assert need.needed_mm is not None
    assert given(train, spacer, "path_length_mm", need.needed_mm).spacing.error_mm == pytest.approx(0.0, abs=1e-9)
    assert missing(read(BOOK.train("witch-broom"), SHELF)) is None


def test_the_longest_tube_for_a_magnification() -> None:
    """A thin lens at infinity is 1:2 with half its focal length of tube: so is the answer, within its own hiatus."""
    train = next(
        one for one in BOOK.trains
        if any(SHELF[laid.part].kind == "extension_tube" for laid in one.rear_train)
    )  # fmt: skip
    tube = next(laid.part for laid in train.rear_train if SHELF[laid.part].kind == "extension_tube")
    now = read(train, SHELF).close_up.now.magnification
    (need,) = needs_of(train, SHELF, tube, magnification=now)
    assert isinstance(need, LengthForScale)
    assert need.needed_mm is not None
    assert need.needed_mm == pytest.approx(read(train, SHELF).layout.rear[0].length.value, abs=0.05) or now > 0.0
    assert given(train, tube, "path_length_mm", need.needed_mm).close_up.now.magnification >= now - 1e-6


def test_what_cannot_be_asked_is_refused_in_a_sentence() -> None:
    train = bare_holder()
    ring = train.front_stack[0].part
    with pytest.raises(BadInput, match="is not in the train"):
        needs_of(train, SHELF, "spacer-8-7")
    with pytest.raises(BadInput, match="has no 400 mm"):
        needs_of(train, SHELF, ring, focal_mm=400.0)
    with pytest.raises(BadInput, match="needs a camera lens and a camera"):
        needs_of(BOOK.train("witch-broom"), SHELF, "spacer-8-7", magnification=0.5)
    lens = train.model_copy(update={"front_stack": (), "rear_train": (MountedPart(part="spacer-2"),)})
    assert needs_of(lens, SHELF, "spacer-2")


def test_the_rail_shows_it_beside_the_part(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(train="witch-broom")
    train = window.session.train
    assert train is not None
    part = train.row(Side.REAR)[-1].part
    sheet = show_needs(window.session, part, window.rail, QPoint(100, 100))
    assert sheet is not None
    assert any(
        "long for the sensor to be in focus" in text for text in (line.text() for line in sheet.findChildren(QLabel))
    )
    sheet.close()


def need_shown(window: MainWindow, room: str) -> str:
    """Return the row of a page when its answer is there."""
    window.session.after_paint.flush()
    (line,) = window.findChildren(NeedLine, f"need_{room}")
    line.work.wait()
    return line.text() if line.isVisible() else ""


def test_each_page_has_it_as_a_row(make_window: Callable[..., MainWindow]) -> None:
    """The missing part is as long as the train is short; what is selected is asked about instead."""
    window = make_window(train="witch-broom-short")
    readout = window.session.readout
    assert readout is not None
    short = readout.spacing.error_mm
    assert short is not None
    window.stations.show_station("spacing")
    assert f"The missing part: {-short:.2f} mm long" in need_shown(window, "spacing")
    window.session.select(Selection(Side.REAR, 0))
    assert readout.layout.rear[0].part.name in need_shown(window, "spacing")
    window.stations.show_station("light")
    assert "clear aperture of at least" in need_shown(window, "vignetting")
    window.session.show_train("sea-stacks")
    window.stations.show_station("front")
    window.session.select(Selection(Side.FRONT, 0))
    assert "free of vignetting" in need_shown(window, "filters")
    window.session.select(Selection(Side.REAR, 0, joint=True))
    assert SHELF[BOOK.train("sea-stacks").front_stack[0].part].name not in need_shown(window, "filters")


def test_a_tube_for_the_subject_that_fills_the_frame(make_window: Callable[..., MainWindow]) -> None:
    """24 mm of subject on 24 mm of sensor is 1:1 and so on: the tube found gives just that."""
    train = next(one for one in BOOK.trains
                 if any(SHELF[laid.part].kind == "extension_tube" for laid in one.rear_train))  # fmt: skip
    window = make_window(train=train.id)
    window.stations.show_station("close_up")
    camera = SHELF[train.camera or ""]
    assert isinstance(camera, Camera)
    window.session.do(SetSubject(train.id, 2.0 * camera.sensor_width_mm.value, None, None))
    assert "long for 0.5×" in need_shown(window, "close_up")
    # A subject in front of a telescope: the row stays away.
    window.session.show_train("witch-broom")
    window.session.do(SetSubject("witch-broom", 200.0, None, None))
    readout = window.session.readout
    assert readout is not None
    assert needs_in("close_up", readout, SHELF, None) == ()
    assert need_shown(window, "close_up") == ""
