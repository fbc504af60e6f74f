"""What assistive tools are shown, asked through the interfaces Qt gives them."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QAccessibleEvent, QAccessibleInterface
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QSlider, QWidget
from tests.ui.hands import found, ledger
from tests.ui.walking import pages, settle

from farrail.train.train import Side
from farrail.ui.selection import Selection
from farrail.ui.window import MainWindow

MakeWindow = Callable[..., MainWindow]
Text, Role = QAccessible.Text, QAccessible.Role


def spoken(widget: QWidget) -> QAccessibleInterface:
    return QAccessible.queryAccessibleInterface(widget)


def test_the_rail_speaks_of_each_part_and_joint(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    train, rail = window.session.train, spoken(window.rail)
    assert train is not None
    assert rail.role() == Role.List
    # By hand: a joint before each part of the rear train, and one behind the last.
    assert rail.childCount() == 2 * len(train.rear_train) + 1
    names = [rail.child(n).text(Text.Name) for n in range(rail.childCount())]
    shelf = window.session.workbook.by_id
    assert names[1::2] == [shelf[laid.part].name for laid in train.rear_train]
    assert all(name.startswith("Joint, ") for name in names[::2])
    window.session.select(Selection(Side.REAR, 3))
    part = rail.focusChild()
    assert part is not None
    assert part.text(Text.Name) == "Seven-slot wheel"
    assert part.text(Text.Description) == "18.60 mm, published"
    assert part.state().selected
    assert not rail.child(0).state().selected
    box = part.rect()
    at = window.rail.mapFromGlobal(box.center())
    assert window.rail.rect().contains(at)
    assert "lands" in rail.text(Text.Value) or "short" in rail.text(Text.Value)
    assert rail.text(Text.Value).startswith("Seven-slot wheel. 18.60 mm, published. ")
    assert rail.indexOfChild(part) == 7


def test_a_joint_says_that_it_does_not_mate(make_window: MakeWindow) -> None:
    from farrail.workbook.edits.laying import LayPart

    window = make_window(train="lantern-apsc")
    window.session.do(LayPart("lantern-apsc", "tern-flattener", 2))
    settle(window)
    rail = spoken(window.rail)
    told = [rail.child(n).text(Text.Description) for n in range(0, rail.childCount(), 2)]
    apart = [joint for joint in window.session.readout.layout.joints if joint.mismatch]  # type: ignore[union-attr]
    assert apart
    assert sum(not one.endswith(", mates") for one in told) == len(apart)


def test_picking_tells_those_who_listen(make_window: MakeWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    window = make_window(train="lantern-apsc")
    heard: list[tuple[QAccessible.Event, int]] = []
    assert spoken(window.rail).childCount()
    monkeypatch.setattr(QAccessible, "isActive", staticmethod(lambda: True))

    def listen(event: QAccessibleEvent) -> None:
        heard.append((event.type(), event.child()))

    monkeypatch.setattr(QAccessible, "updateAccessibility", staticmethod(listen))
    window.session.select(Selection(Side.REAR, 1))
    assert (QAccessible.Event.Focus, 3) in heard
    assert (QAccessible.Event.Selection, 3) in heard
    window.session.message.emit("Something is wrong.", True)
    assert QAccessible.Event.Announcement in [kind for kind, _ in heard]


def test_sliders_say_what_they_stand_for(make_window: MakeWindow) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    settle(window)
    zoom = found(window, QSlider, "front_zoom")
    assert spoken(zoom).text(Text.Value) == "20.00 mm"
    assert spoken(zoom).role() == Role.Slider


def test_tabs_are_tabs_and_the_header_says_its_values(make_window: MakeWindow) -> None:
    window = make_window(train="sea-stacks")
    for _ in pages(window):
        tabs = [w for w in window.findChildren(QWidget) if w.property("tab") == "true" and w.isVisible()]
        assert all(spoken(tab).role() == Role.PageTab for tab in tabs)
        assert [tab for tab in tabs if spoken(tab).state().selected]
        break
    names = {spoken(w).text(Text.Name) for w in window.header.findChildren(QWidget)}
    assert {"Focal length: 20 mm", "Aperture: f/8.0"} <= names
    assert any(name.startswith("In the beam: Protection 82") for name in names)
    assert any(name.startswith("Train menu: ") and len(name) > 20 for name in names)


def test_cells_say_column_provenance_and_what_a_colour_says(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    window.stations.show_station("light")
    settle(window)
    table = ledger(window, "clearance")
    said = [
        table.ledger.data(table.ledger.index(row, column), Qt.ItemDataRole.AccessibleTextRole)
        for row in range(len(table.ledger.rows)) for column in range(len(table.ledger.columns))
    ]  # fmt: skip
    assert "has: 29.5, assumed" in said
    assert any(str(one).startswith("margin: −4.9, wrong") for one in said)


def test_pictures_have_a_value_and_a_sentence(make_window: MakeWindow) -> None:
    window = make_window(train="lantern-apsc")
    window.stations.show_station("light")
    settle(window)
    window.light.map.finish()
    told = spoken(window.light.map)
    assert told.role() == Role.Chart
    assert told.text(Text.Value).startswith("Corner illumination 63 %")
    QTest.keyClick(window.light.map, Qt.Key.Key_Right)
    assert told.text(Text.Value) == "0.0 mm, 0.0 mm: 100 %"
