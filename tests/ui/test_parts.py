"""The Parts station driven by hand: filters, groups, kits, ready-made sizes, the caliper, drawing while typing."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton, QSlider, QSpinBox
from pytestqt.qtbot import QtBot
from tests.starter import starter_workbook
from tests.ui.hands import found, ledger, popover, press, rows, type_over

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.connections import Connection, Gender, Nosepiece, thread
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.seats import FilterDrawer
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.kinds.tubes import Adapter, Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading, Span, measured, published
from farrail.parts.registry import TEMPLATES
from farrail.planning.plan import plan
from farrail.train.train import MountedPart, Side, Train
from farrail.ui.selection import NOTHING, Selection
from farrail.ui.stations.parts import PartsStation
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.row_keys import Heading, Nth, ValueKey
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import LayPart
from farrail.workbook.edits.shelf import AddPart, SetReading


@pytest.fixture
def station(window: MainWindow) -> PartsStation:
    window.stations.show_station("parts")
    QApplication.processEvents()
    return window.parts


def choose(button_name: str, path: list[str], station: PartsStation) -> None:
    """Choose from a button's menu by the beginnings of its entries."""
    button = found(station, QPushButton, button_name)
    menu = button.menu()
    assert isinstance(menu, QMenu)
    menu.aboutToShow.emit()
    for word in path[:-1]:
        sub = next(a.menu() for a in menu.actions() if a.text().startswith(word))
        assert isinstance(sub, QMenu)
        menu = sub
    next(a for a in menu.actions() if a.text().startswith(path[-1])).trigger()


def value_row(station: PartsStation, name: str) -> int:
    return next(n for n, r in enumerate(rows(station.sheet.table)) if r[0] == name)


def test_filters_by_kind_and_status_together_and_shows_everything_again(station: PartsStation) -> None:
    everything = len(rows(station.shelf))
    choose("shelf_filter", ["Kind", "spacer"], station)
    choose("shelf_filter", ["Status", "wanted"], station)
    assert [r[0] for r in rows(station.shelf)] == ["Skerry ring 3", "Skerry ring 4", "Skerry ring 6"]
    choose("shelf_filter", ["Kind", "shim"], station)  # either kind, and wanted
    assert len(rows(station.shelf)) == 3
    choose("shelf_filter", ["Show everything"], station)
    assert len(rows(station.shelf)) == everything
    choose("shelf_filter", ["Connection", "M54"], station)
    assert [r[0] for r in rows(station.shelf)] == ["Tern 72", "Tern flattener"]
    station.show_part("shim-0-5")  # what the filter hides is shown all the same
    assert station.shown == "shim-0-5"


def test_groups_stand_under_headings_with_their_counts(station: PartsStation) -> None:
    choose("shelf_group", ["By maker"], station)
    shown = rows(station.shelf)
    headings = [r for r, row in zip(shown, station.shelf.ledger.rows, strict=True) if isinstance(row.key, Heading)]
    assert [h[0] for h in headings] == ["Brae Works", "Kittiwake", "Lantern Room", "Skua", "Tern Optics"]
    assert sum(int(h[3]) for h in headings) == len(station.session.workbook.shelf)
    choose("shelf_group", ["By connection"], station)
    names = [r[0] for r in rows(station.shelf)]
    assert names.count("Ring 48/42") == 2  # under both of its connections
    choose("shelf_group", ["Not grouped"], station)
    assert len(rows(station.shelf)) == len(station.session.workbook.shelf)


def test_a_kit_is_named_on_a_part_and_priced_once(station: PartsStation, qtbot: QtBot) -> None:
    station.show_part("spacer-20")
    type_over(station.sheet.table, value_row(station, "Kit"), 1, "Gallery set", qtbot)
    type_over(station.sheet.table, value_row(station, "Price of the whole kit"), 1, "22,5", qtbot)
    workbook = station.session.workbook
    assert workbook.by_id["spacer-20"].kit == "Gallery set"
    assert workbook.kit_prices["Gallery set"] == 22.5
    table = station.sheet.table
    type_over(table, value_row(station, "Price of the whole kit"), 1, "", qtbot)
    assert "Gallery set" not in station.session.workbook.kit_prices


def test_ready_made_sizes_come_on_to_the_shelf_with_their_source(station: PartsStation, qtbot: QtBot) -> None:
    choose("new_part", ["Ready-made"], station)
    table = found(station, Ledger, "ready_made")
    groups = [row.key.group for row in table.ledger.rows if isinstance(row.key, Heading)]
    assert groups[:5] == ["telescopes", "camera lenses", "correctors", "thread adapters", "step rings"]
    assert groups[-2:] == ["sensor formats", "flange focal distances"]
    assert len(groups) == len(set(groups)) == 28
    assert all(r[1] for r, row in zip(rows(table), table.ledger.rows, strict=True) if isinstance(row.key, Nth))
    qtbot.keyClicks(station.sizes.search, "spacer m48 5")
    assert rows(table)[1][0] == "Spacer M48×0.75, 5 mm"
    table.setCurrentIndex(table.ledger.index(1, 0))
    found(station, QSpinBox, "ready_made_count").setValue(3)
    press(station, "ready_made_have", qtbot)
    mine = station.session.workbook.shelf[-1]
    assert (mine.name, mine.status, mine.owned) == ("Spacer M48×0.75, 5 mm", Status.OWNED, 3)
    assert found(station, QSpinBox, "ready_made_count").value() == 1
    station.sizes.search.clear()
    qtbot.keyClicks(station.sizes.search, "m48 7.5")
    assert [r[0] for r in rows(table)] == ["Spacers", "Spacer M48×0.75, 7.5 mm"]
    table.setCurrentIndex(table.ledger.index(1, 0))
    press(station, "ready_made_take", qtbot)
    press(station, "ready_made_done", qtbot)
    part = station.session.workbook.shelf[-1]
    assert isinstance(part, Spacer)
    assert station.shown == part.id
    assert (part.path_length_mm.value, part.path_length_mm.origin) == (7.5, Origin.ASSUMED)
    assert part.path_length_mm.in_use.note.startswith("common practice")


def test_the_caliper_types_into_the_field_in_use(station: PartsStation, qtbot: QtBot) -> None:
    station.show_part("spacer-20")
    station.show_caliper(True)
    assert station.caliper.accessibleName() == "Simulated caliper, for practice"
    table = station.sheet.table
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(value_row(station, "Length"), 1))
    press(station, "caliper_zero", qtbot)
    press(station, "caliper_hold", qtbot)
    qtbot.keyClick(table, Qt.Key.Key_F2)
    editor = table.findChildren(QLineEdit, "ledger_editor")[-1]
    station.window().activateWindow()
    editor.setFocus()
    press(station, "caliper_send", qtbot)
    assert "± 0.02" in editor.text()
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()
    part = station.session.workbook.by_id["spacer-20"]
    assert isinstance(part, Spacer)
    assert part.path_length_mm.origin is Origin.MEASURED
    assert part.path_length_mm.value == pytest.approx(20.0, abs=0.09)
    assert part.path_length_mm.readings[0].origin is Origin.PUBLISHED  # stays visible


def test_the_caliper_measures_the_picked_value_or_says_that_none_is(station: PartsStation, qtbot: QtBot) -> None:
    station.show_part("spacer-12")
    station.show_caliper(True)
    station.sheet.table.clearSelection()
    station.sheet.table.setCurrentIndex(station.sheet.table.ledger.index(-1, -1))
    press(station, "caliper_send", qtbot)
    window = station.window()
    assert isinstance(window, MainWindow)
    assert "goes nowhere" in window.bar.text.text()
    table = station.sheet.table
    table.setCurrentIndex(table.ledger.index(value_row(station, "Clear aperture"), 1))
    jaws = found(station, QSlider, "caliper_jaws")
    jaws.setValue(3900)
    jaws.setFocus()
    table.setFocus()
    press(station, "caliper_send", qtbot)
    part = station.session.workbook.by_id["spacer-12"]
    assert isinstance(part, Spacer)
    assert part.clear_aperture_mm is not None
    assert part.clear_aperture_mm.value == pytest.approx(39.03, abs=0.03)  # its zero was never set


def test_the_section_follows_what_is_typed_and_goes_back_when_it_is_given_up(
    station: PartsStation, qtbot: QtBot
) -> None:
    station.show_part("spacer-5")
    table = station.sheet.table
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(value_row(station, "Length"), 1))
    qtbot.keyClick(table, Qt.Key.Key_F2)
    editor = table.findChildren(QLineEdit, "ledger_editor")[-1]
    editor.selectAll()
    qtbot.keyClicks(editor, "31.5")
    assert station.sheet.drawing.length_mm == pytest.approx(31.5)
    qtbot.keyClicks(editor, " apples")
    assert station.sheet.drawing.length_mm == pytest.approx(31.5)  # no value yet: the drawing stays
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    QApplication.processEvents()
    assert station.sheet.drawing.length_mm == pytest.approx(5.0)
    assert station.session.history.undo_label is None


def test_a_published_figure_is_added_with_its_source(station: PartsStation, qtbot: QtBot) -> None:
    station.show_part("spacer-12")
    table = station.sheet.table
    table.row_activated.emit(ValueKey("path_length_mm"), 2)
    card = popover()
    for name, text in (("value_field", "12.1"), ("value_source", "drawing 7")):
        field = found(card, QLineEdit, name)
        field.setText(text)
    button = found(card, QPushButton, "value_as_published")
    button.click()
    part = station.session.workbook.by_id["spacer-12"]
    assert isinstance(part, Spacer)
    assert [(r.value, r.note) for r in part.path_length_mm.readings] == [(12.0, ""), (12.1, "drawing 7")]


def test_engagement_spans_windows_and_front_rings_are_typed(station: PartsStation, qtbot: QtBot) -> None:
    station.show_part("spacer-12")
    table = station.sheet.table
    type_over(table, value_row(station, "Front connection"), 1, "M42x0.75 internal 3.5", qtbot)
    part = station.session.workbook.by_id["spacer-12"]
    assert isinstance(part, Spacer)
    assert part.front == thread(42, 0.75, part.front.gender, 3.5)
    station.show_part("kittiwake-drawer")
    type_over(table, value_row(station, "Front face to filter"), 1, "8 to 10", qtbot)
    drawer = station.session.workbook.by_id["kittiwake-drawer"]
    assert isinstance(drawer, FilterDrawer)
    assert isinstance(drawer.seat_mm.in_use, Span)
    station.add("camera")
    type_over(table, value_row(station, "Window thickness"), 1, "1.5", qtbot)
    type_over(table, value_row(station, "Front ring that comes off"), 1, "4", qtbot)
    type_over(table, value_row(station, "Window allowed for"), 1, "no", qtbot)
    camera = station.session.workbook.shelf[-1]
    assert isinstance(camera, Camera)
    assert camera.window is not None
    assert (camera.window.glass.drawn_thickness_mm, camera.window.allowed_for) == (1.5, False)
    assert camera.without_front_ring().flange_to_sensor_mm.value == pytest.approx(13.5)


def test_a_nosepiece_held_by_a_screw_is_asked_about_and_its_standoff_typed(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    socket = Connection(standard=Nosepiece(diameter_mm=50.8, held_by="screw"), gender=Gender.INTERNAL)
    nose = Connection(standard=Nosepiece(diameter_mm=50.8), gender=Gender.EXTERNAL)
    demo = demo_workbook()
    # fmt: off
    scope = Telescope(id="scope", name="Scope", outer_diameter_mm=90, rear=socket, focal_length_mm=published(400),
                      aperture_mm=published(80), back_focus_mm=published(60), spacing_tolerance_mm=published(1))
    tail = Adapter(id="tail", name="Nosepiece to M42", outer_diameter_mm=55, front=nose,
                   rear=thread(42, 0.75, Gender.EXTERNAL), path_length_mm=measured(40))
    # fmt: on
    train = Train(
        id="t", name="Held by a screw", optic="scope", rear_train=(MountedPart(part="tail"),), camera="skua-apsc"
    )
    window = make_window(demo.model_copy(update={"shelf": (*demo.shelf, scope, tail), "trains": (train,)}), train="t")
    readout = window.session.readout
    assert readout is not None
    assert "joint.nosepiece_place:0" in [f.id for f in readout.findings]
    assert readout.spacing.provenance is Origin.ASSUMED
    table = ledger(window, "running_total")
    assert rows(table)[0][:2] == ["50.8 mm nosepiece, taken as pushed home", "0.00"]
    type_over(table, 0, 1, "7.5", qtbot)
    assert rows(table)[0][:3] == ["50.8 mm nosepiece, drawn out", "7.50", "7.50"]
    assert window.session.workbook.trains[0].rear_train[0].standoff_mm == 7.5
    now = window.session.readout
    assert now is not None
    assert now.spacing.actual_mm == pytest.approx(60.0)
    assert "joint.nosepiece_place:0" not in [f.id for f in now.findings]


def test_glass_held_between_two_rings_says_how_to_hold_it(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(train="brae-held")
    assert window.session.readout is not None
    findings = {f.id: f for f in window.session.readout.findings}
    assert "never tight" in findings["joint.filter_held:2"].reason
    assert not [i for i in findings if i.startswith("joint.mismatch")]


def test_a_bayonet_holds_one_angle_and_a_rotator_frees_it(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(train="brae-cooled")

    def turn(part_index: int, angle: str) -> list[str]:
        window.session.select(Selection(Side.REAR, part_index))
        window.trains.turn_picked()
        field = found(popover(), QLineEdit, "ask_field")
        field.setText(angle)
        qtbot.keyClick(field, Qt.Key.Key_Return)
        assert window.session.readout is not None
        return [f.id for f in window.session.readout.findings if f.id.startswith("joint.bayonet_turn")]

    assert turn(0, "90°") == ["joint.bayonet_turn:0"]  # the adapter's own bayonet
    assert turn(0, "") == []
    assert turn(1, "90") == []  # the drawer hangs on a thread
    turn(1, "a quarter")
    assert "is not an angle" in window.bar.text.text()


def test_a_handle_that_meets_a_body_reaching_over_it_is_told_with_both_numbers(window: MainWindow) -> None:
    session = window.session
    for path, value in (("overhang_front_mm", 6.0), ("overhang_clear_mm", 70.0)):
        session.do(SetReading("kittiwake-rotator", path, Reading(value=value, origin=Origin.MEASURED)))
    session.do(LayPart("witch-broom", "kittiwake-rotator", 3))
    assert session.readout is not None
    collides = [f for f in session.readout.findings if f.id.startswith("joint.profiles_collide")]
    assert [f.title for f in collides] == ["Rotator 9.5 runs into the handle of Kittiwake drawer."]
    assert "its clear aperture is 70.0 mm" in collides[0].reason
    assert "82.0 mm" in collides[0].reason


def test_an_example_is_nobody_s_until_it_is_measured_or_said_to_be_had(window: MainWindow) -> None:
    session = window.session
    session.replace(starter_workbook(), None, None, None)
    assert {part.status for part in session.workbook.shelf} == {Status.EXAMPLE}
    train = session.train
    assert train is not None
    assert plan(train, session.workbook.by_id).proposals == () or all(
        not proposal.names for proposal in plan(train, session.workbook.by_id).proposals
    )
    assert session.readout is not None
    assert "shelf.examples" in [f.kind for f in session.readout.findings]
    # Typing what was measured makes it one's own; so does saying so.
    session.do(SetReading("spacer-7", "path_length_mm", Reading(value=7.02, origin=Origin.MEASURED)))
    assert session.workbook.by_id["spacer-7"].status is Status.OWNED
    session.do(SetReading("spacer-5", "path_length_mm", Reading(value=5.0, origin=Origin.ASSUMED)))
    assert str(session.workbook.by_id["spacer-5"].status) == "example"
    window.stations.show_station("parts")
    window.parts.show_part("spacer-5")
    action = found(window, QAction, "act_have_it")
    action.trigger()
    assert session.workbook.by_id["spacer-5"].status is Status.OWNED


def test_a_part_goes_where_it_mates_and_can_be_moved_to_where_it_would_too(station: PartsStation, qtbot: QtBot) -> None:
    session = station.session
    window = station.window()
    assert isinstance(window, MainWindow)
    session.select(NOTHING)
    session.do(AddPart(TEMPLATES["spacer"]()))
    part = session.workbook.shelf[-1]
    station.show_part(part.id)
    before = session.train
    assert before is not None
    press(station, "lay_part", qtbot)
    laid = session.train
    assert laid is not None
    # M42 on both sides: behind the last spacer it is nearest the camera.
    assert [one.part for one in laid.rear_train] == [*(one.part for one in before.rear_train), part.id]
    assert "It also fits elsewhere" in window.bar.text.text()
    press(window, "lay_place_1", qtbot)
    moved = session.train
    assert moved is not None
    assert [one.part for one in moved.rear_train].index(part.id) == len(before.rear_train) - 1
    assert session.readout is not None
    assert not [f for f in session.readout.findings if f.kind == "joint.mismatch"]
    session.undo()
    assert session.train == before
