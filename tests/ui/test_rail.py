"""The rail by hand: picking, moving, flipping, placing, dragging, zooming."""

from collections.abc import Callable

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QWheelEvent
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, press

from farrail.parts.provenance import measured
from farrail.parts.registry import Part
from farrail.train.train import Side
from farrail.ui.rail.annotations import STEP_DOWN_PX, _down_px
from farrail.ui.rail.section import cut_section
from farrail.ui.selection import Selection
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.part_drag import dragged_part, part_data
from farrail.ui.window import MainWindow

LEFT = Qt.MouseButton.LeftButton


def row(window: MainWindow) -> list[str]:
    assert window.session.train is not None
    return [laid.part for laid in window.session.train.rear_train]


def body_point(window: MainWindow, index: int) -> QPoint:
    """The middle of a part's cut wall on the screen."""
    section = window.rail.section
    assert section is not None
    body = next(b for b in section.bodies if b.index == index)
    frame = window.rail.frame
    middle = frame.point((body.z0 + body.z1) / 2, (max(body.bore_mm, 1) + min(body.outer_mm, 33)) / 2)
    return middle.toPoint()


def joint_point(window: MainWindow, index: int) -> QPoint:
    section = window.rail.section
    assert section is not None
    z = next(z for side, i, z, _ in section.joints if i == index and side is Side.REAR)
    return window.rail.frame.point(z, 0).toPoint()


def test_click_picks_parts_and_joints_and_keys_walk_between_them(window: MainWindow, qtbot: QtBot) -> None:
    rail, session = window.rail, window.session
    qtbot.mouseClick(rail, LEFT, pos=body_point(window, 2))
    assert session.selection == Selection(Side.REAR, 2)
    qtbot.keyClick(rail, Qt.Key.Key_Right)
    assert session.selection == Selection(Side.REAR, 3, joint=True)
    qtbot.keyClick(rail, Qt.Key.Key_Right)
    assert session.selection == Selection(Side.REAR, 3)
    qtbot.mouseClick(rail, LEFT, pos=joint_point(window, 5))
    assert session.selection == Selection(Side.REAR, 5, joint=True)
    qtbot.keyClick(rail, Qt.Key.Key_Escape)
    assert session.selection.empty


def test_move_flip_and_remove_with_keys_and_undo_by_name(window: MainWindow, qtbot: QtBot) -> None:
    rail, session = window.rail, window.session
    start = row(window)
    qtbot.mouseClick(rail, LEFT, pos=body_point(window, 3))
    qtbot.keyClick(rail, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert row(window)[3:] == ["spacer-5", "spacer-8-7"]
    assert session.history.undo_label == "Move Spacer 8.7"
    qtbot.keyClick(rail, Qt.Key.Key_F, Qt.KeyboardModifier.ShiftModifier)
    assert session.train is not None
    assert session.train.rear_train[4].flipped
    qtbot.keyClick(rail, Qt.Key.Key_Delete)
    assert row(window)[3:] == ["spacer-5"]
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert row(window) == start
    assert session.history.clean


def test_a_part_is_dragged_to_another_joint(window: MainWindow, qtbot: QtBot) -> None:
    rail = window.rail
    start, end = body_point(window, 1), joint_point(window, 5)
    qtbot.mousePress(rail, LEFT, pos=start)
    qtbot.mouseMove(rail, start + QPoint(30, 4))
    qtbot.mouseMove(rail, end)
    assert rail.grab().width() == rail.width()  # the ghost is painted under way
    qtbot.mouseRelease(rail, LEFT, pos=end)
    assert row(window) == ["tern-flattener", "kittiwake-drawer", "spacer-8-7", "spacer-5", "ring-48-42"]
    assert window.session.selection == Selection(Side.REAR, 4)


def drop(window: MainWindow, part: str | Part, at: QPoint) -> None:
    data = part_data(window.session.workbook.by_id[part] if isinstance(part, str) else part)
    actions, buttons, keys = Qt.DropAction.CopyAction, LEFT, Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(window.rail, QDragEnterEvent(at, actions, data, buttons, keys))
    QApplication.sendEvent(window.rail, QDropEvent(QPointF(at), actions, data, buttons, keys))


def test_a_shelf_part_is_dropped_at_a_joint(window: MainWindow) -> None:
    drop(window, "spacer-12", joint_point(window, 4))
    assert row(window)[4] == "spacer-12"
    assert window.session.history.undo_label == "Add Spacer 12"


def test_a_part_of_another_workbook_comes_with_its_values(window: MainWindow, qtbot: QtBot) -> None:
    """A spacer with the id of another part here, and one with the name of another part here: added, or asked."""
    session = window.session
    own = session.workbook.by_id["spacer-12"]
    stranger = own.model_copy(update={"name": "Brass spacer", "path_length_mm": measured(11.87, 0.01)})
    drop(window, stranger, joint_point(window, 4))
    laid = session.workbook.by_id[row(window)[4]]
    assert laid == stranger.model_copy(update={"id": laid.id})
    assert laid.id != own.id
    assert session.workbook.by_id[own.id] == own
    # Dropped again it is known, no matter what id it was given here.
    count = len(session.workbook.shelf)
    drop(window, stranger, joint_point(window, 4))
    assert (row(window)[4], len(session.workbook.shelf)) == (laid.id, count)
    other = own.model_copy(update={"path_length_mm": measured(12.4)})
    before = row(window)
    drop(window, other, joint_point(window, 4))
    assert row(window) == before
    assert "The shelf has another Spacer 12, with other values." in window.bar.text.text()
    press(window, "drop_other", qtbot)
    assert session.workbook.by_id[row(window)[4]].model_copy(update={"id": own.id}) == other
    drop(window, other.model_copy(update={"path_length_mm": measured(12.5)}), joint_point(window, 4))
    press(window, "drop_own", qtbot)
    assert row(window)[4] == own.id
    data = QMimeData()
    data.setData("application/x-farrail-part", b'{"kind": "spacer", "id": 3}')
    assert dragged_part(data) is None


def test_a_bare_filter_dropped_on_a_drawer_joins_its_set(window: MainWindow) -> None:
    drop(window, "red-31", body_point(window, 2))
    assert window.session.train is not None
    drawer = window.session.train.rear_train[2]
    assert drawer.filters == ("dual-band-36", "clear-36", "red-31")
    assert drawer.in_beam == 2


def test_enter_on_a_joint_offers_the_shelf_and_enter_lays_the_best(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="witch-broom-short")
    window.rail.setFocus()
    qtbot.mouseClick(window.rail, LEFT, pos=joint_point(window, 4))
    qtbot.keyClick(window.rail, Qt.Key.Key_Return)
    fits = found(window, Ledger, "fits")
    assert [c.text for c in fits.ledger.rows[0].cells] == ["Spacer 5", "0.02 long"]
    qtbot.keyClick(fits, Qt.Key.Key_Return)
    assert row(window)[-1] == "spacer-5"
    readout = window.session.readout
    assert readout is not None
    assert readout.verdict.met


def test_zoom_pan_and_home(window: MainWindow, qtbot: QtBot) -> None:
    rail = window.rail
    fitted = rail.frame
    at = QPointF(640, 150)
    wheel = QWheelEvent(
        at, rail.mapToGlobal(at), QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(rail, wheel)
    assert rail.frame.scale > fitted.scale * 1.3
    assert rail.frame.z(640) == pytest.approx(fitted.z(640))
    before = rail.frame.origin_px
    empty = QPoint(1240, 330)
    qtbot.mousePress(rail, LEFT, pos=empty)
    qtbot.mouseMove(rail, empty - QPoint(100, 0))
    qtbot.mouseRelease(rail, LEFT, pos=empty - QPoint(100, 0))
    assert rail.frame.origin_px == pytest.approx(before - 100)
    qtbot.keyClick(rail, Qt.Key.Key_0)
    assert rail.frame == fitted


def test_the_section_is_to_scale_and_shows_what_clips(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(train="lantern-apsc")
    readout = window.session.readout
    assert readout is not None
    section = cut_section(readout)
    guider = next(b for b in section.bodies if b.name == "Off-axis guider")
    assert guider.z1 - guider.z0 == pytest.approx(17.0)
    assert section.sensor_mm == pytest.approx(55.6)
    assert {round(n.radius_mm, 2) for n in section.notches} == {
        12.0,
        14.5,
        14.75,
    }  # the prism's edge, the filter, its ledge
    assert section.corner_bundle is not None
    assert section.corner_bundle.high < 1.0
    low, high = section.corner_bundle.edges_mm(0.0)
    assert low == high == pytest.approx(section.half_diagonal_mm)


def test_a_joint_that_cannot_mate_is_drawn_apart(window: MainWindow) -> None:
    window.session.select(Selection(Side.REAR, 1))
    window.rail.flip_picked()
    section = window.rail.section
    assert section is not None
    bodies = {b.index: b for b in section.bodies}
    assert bodies[2].z0 - bodies[1].z1 == pytest.approx(2.2)
    assert [mates for _, _, _, mates in section.joints].count(False) == 2


def test_tips_name_the_connections(window: MainWindow) -> None:
    tip = window.rail._tip(QPointF(joint_point(window, 3)))
    assert "Kittiwake drawer to Spacer 8.7" in tip
    assert "M42×0.75 external to M42×0.75 internal" in tip


def test_losses_are_written_below_one_another_as_a_plain_search_would_place_them() -> None:
    generator = np.random.default_rng(3)
    for _ in range(60):
        written: list[QRectF] = []
        for x, y, wide in generator.uniform((0.0, 0.0, 20.0), (120.0, 30.0, 60.0), (40, 3)).tolist():
            box = QRectF(x, y, wide, 15.0)
            down = 0.0
            while any(box.translated(0.0, down).intersects(other) for other in written):
                down += STEP_DOWN_PX
            assert _down_px(box, written) == pytest.approx(down)
            written.append(box.translated(0.0, down))
