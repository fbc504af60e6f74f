"""Every field of every page with what no one can use: nothing raised, nothing changed, the reason in place."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot
from tests.ui.hands import found

from farrail.ui.first.question_row import QuestionRow
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.short_field import ShortField
from farrail.ui.window import MainWindow
from farrail.workbook.routes.answer import QUESTIONS, Route
from farrail.workbook.workbook import empty_workbook

BAD = ("letters", "1e400", "-7e9", "9" * 1000, "\u05d0\u05d1\u05d2 \u202e12", "1..2", "NaN", "\x00\x07")
# What each station is shown with.
TRAINS = {"parts": "witch-broom", "spacing": "lantern-wheel", "light": "witch-broom", "front": "sea-stacks",
          "close_up": "lichen", "exposure": "sea-stacks"}  # fmt: skip
# A page is brought to the front by its tab.
TABS = {"front": ("show_sheets", "show_sky"), "close_up": ("show_ask", "show_stack")}
# Any text is a search.
FREE = {"shelf_search", "ready_made_search"}


@pytest.mark.parametrize("station", TRAINS)
def test_every_field_of_a_station_refuses_in_place(
    make_window: Callable[..., MainWindow], station: str, qtbot: QtBot
) -> None:
    window = make_window(train=TRAINS[station])
    window.stations.show_station(station)
    QApplication.processEvents()
    fields = [f for f in window.stations.current.findChildren(QLineEdit) if f.objectName() not in FREE]
    assert fields or station in ("spacing", "parts")
    before = window.session.workbook
    for field in fields:
        if not isinstance(field, ShortField | NumberField):
            continue
        for text in BAD:
            field.setFocus()
            field.selectAll()
            field.insert(text)
            field.setModified(True)
            qtbot.keyClick(field, Qt.Key.Key_Return)
            QApplication.processEvents()
            assert window.session.workbook == before, (field.objectName(), text)
            window.stations.refresh()
            field.clear()
        field.editingFinished.emit()
        QApplication.processEvents()
        field.refuse("") if isinstance(field, ShortField) else field.say(None, "")
        window.session.replace(before, None, None, None)
        window.session.show_train(TRAINS[station])
        QApplication.processEvents()


@pytest.mark.parametrize("name", ["metered_time", "closeup_subject", "sky_sun_high_deg"])
def test_the_reason_stands_at_the_field(make_window: Callable[..., MainWindow], name: str, qtbot: QtBot) -> None:
    station = {"metered_time": "exposure", "closeup_subject": "close_up", "sky_sun_high_deg": "front"}[name]
    window = make_window(train=TRAINS[station])
    window.stations.show_station(station)
    QApplication.processEvents()
    field = found(window, QLineEdit, name)
    field.setFocus()
    field.selectAll()
    field.insert("letters")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert field.property("wrong")
    assert "letters" in field.toolTip()
    assert field.text() == "letters"
    field.insert("1")
    field.textEdited.emit(field.text())
    assert not field.property("wrong")


@pytest.mark.parametrize("route", list(Route))
def test_every_question_refuses_in_place_and_keeps_the_answer(
    make_window: Callable[..., MainWindow], route: Route, qtbot: QtBot
) -> None:
    window = make_window(empty_workbook())
    window.show_first()
    window.first.begin(route)
    page = window.first.route
    page.answer(QUESTIONS[route][0].key, "36x24" if route is Route.NIGHT else "24 to 70")
    pieces = {
        Route.NIGHT: ("filter_drawer", "shim"),
        Route.FILTERS: ("adapter", "round_filter", "filter_holder", "hood"),
    }
    if route is Route.NIGHT:
        page.answer("optic.what", "telescope_corrector")
    for number, kind in enumerate(pieces.get(route, ()), start=1):
        page.answer(f"piece.{number}", kind)
    before = window.session.workbook
    rows = [row for row in page.findChildren(QuestionRow) if row.field is not None and not row.isHidden()]
    assert len(rows) > 8
    for row in rows:
        if row.question.stem in ("corrector.datum",):
            continue  # a surface may be called anything
        assert row.field is not None
        for text in BAD:
            row.take_focus()
            row.field.selectAll()
            row.field.insert(text)
            qtbot.keyClick(row.field, Qt.Key.Key_Return)
            assert window.session.workbook == before, (row.question.key, text)
            assert row.reason.text().endswith((".", "external")), (row.question.key, text, row.reason.text())
            qtbot.keyClick(row.field, Qt.Key.Key_Escape)
            assert row.reason.isHidden()
