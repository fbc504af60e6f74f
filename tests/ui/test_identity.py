"""The selection means one thing: equal parts differ by their place, values by their field, not by a label."""

from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QComboBox, QSlider
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, label, ledger

from farrail.cancel import Cancel
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.provenance import published
from farrail.train.train import Side
from farrail.ui.background_task import BackgroundTask
from farrail.ui.findings_column import FindingRow
from farrail.ui.selection import Selection
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import LayPart
from farrail.workbook.edits.shelf import change_part
from farrail.workbook.workbook import Workbook


def with_two_equal_spacers() -> Workbook:
    """The clean train with a second spacer of 5 mm, both so narrow that they vignette."""
    book = change_part(demo_workbook(), "spacer-5", "clear_aperture_mm", published(24.0))
    book = change_part(book, "spacer-5", "owned", 2)
    return LayPart("witch-broom", "spacer-5", 5).apply(book)


def places(window: MainWindow) -> list[int]:
    readout = window.session.readout
    assert readout is not None
    return [p.index for p in readout.layout.rear if p.part.id == "spacer-5"]


def test_the_second_of_two_equal_spacers_is_selected_in_light(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(with_two_equal_spacers())
    window.stations.show_station("light")
    assert places(window) == [4, 5]
    readout = window.session.readout
    assert readout is not None
    table = ledger(window, "clearance")
    for number, clearance in enumerate(readout.light.clearances):
        if clearance.placed.part.id == "spacer-5":
            table.setCurrentIndex(table.ledger.index(number, 0))
            assert window.session.selection == Selection(Side.REAR, clearance.placed.index)


def test_a_finding_points_at_the_place_it_speaks_of(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window(with_two_equal_spacers())
    told = [row for row in window.findings.findChildren(FindingRow) if row.finding and row.finding.part == "spacer-5"]
    clips = [row for row in told if row.finding is not None and row.finding.kind == "light.clip"]
    assert len({row.finding.place.index for row in clips if row.finding and row.finding.place}) == 2
    for row in clips:
        assert row.finding is not None
        assert row.finding.place is not None
        row.click()
        assert window.session.selection == Selection(Side.REAR, row.finding.place.index)


def test_the_slider_tries_the_field_the_aperture_comes_from(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("light")
    readout = window.session.readout
    assert readout is not None
    number, placed = next((n, p) for n, p in enumerate(readout.light.placed) if p.path == "window_width_mm")
    table = ledger(window, "clearance")
    table.setCurrentIndex(table.ledger.index(number, 0))
    what, slider = found(window, QComboBox, "try_what"), found(window, QSlider, "try_value")
    what.setCurrentIndex(what.count() - 1)
    before = window.session.workbook.by_id[placed.part.id]
    slider.setValue(-200)
    after = window.session.workbook.by_id[placed.part.id]
    assert after.window_width_mm.value == pytest.approx(placed.diameter.value * 2.0**-0.5, abs=0.01)  # type: ignore[attr-defined]
    assert after.clear_aperture_mm == before.clear_aperture_mm  # type: ignore[attr-defined]


def test_work_that_breaks_says_so_and_frees_its_page(window: MainWindow, qtbot: QtBot) -> None:
    work = BackgroundTask(lambda: "now", window)
    work.failed.connect(lambda error: window.session.tell_failure(error, "The search"))

    def breaks(_: Cancel) -> object:
        raise ZeroDivisionError("a slip of ours")

    with qtbot.waitSignal(work.failed):
        work.begin(breaks)
    assert not work.busy
    told = window.bar.text.text()
    assert "The search failed through an error in the program" in told
    assert "ZeroDivisionError" not in told
    log = window.session.log.path.read_text()
    assert "ZeroDivisionError: a slip of ours" in log
    assert "in breaks" in log


def test_a_broken_plan_can_be_asked_again(window: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    window.session.show_train("witch-broom-short")

    def breaks(*_: object, **__: object) -> object:
        raise RuntimeError("slip")

    with monkeypatch.context() as broken:
        broken.setattr("farrail.ui.stations.plan_panel.plan", breaks)
        window.spacing.find_plan()
        window.spacing.plan.wait()
        qtbot.waitUntil(lambda: "broke off" in label(window, "plan_text"))
    window.spacing.find_plan()
    window.spacing.plan.wait()
    qtbot.waitUntil(lambda: bool(window.spacing.plan.table.ledger.rows))
