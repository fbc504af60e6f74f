"""What follows the first painting after an edit: it waits, is done in slices, and is undone where it breaks."""

from collections.abc import Callable, Iterator

import pytest
from pytestqt.qtbot import QtBot
from tests.ui.hands import label

from farrail.errors import BadInput
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.readouts.finding import Finding
from farrail.ui.after_paint import AfterPaint
from farrail.ui.window import MainWindow
from farrail.workbook.edits.shelf import SetReading

pytestmark = pytest.mark.after_paint


def lengthen(window: MainWindow, value_mm: float) -> bool:
    reading = Reading(value=value_mm, origin=Origin.MEASURED)
    return window.session.do(SetReading("spacer-8-7", "path_length_mm", reading))


def shown(window: MainWindow) -> list[Finding]:
    return [row.finding for row in window.findings._rows if not row.isHidden() and row.finding is not None]


def test_findings_follow_the_painting_and_only_once_for_many_edits(
    make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window()
    session = window.session
    session.after_paint.flush()
    before = shown(window)
    for step in range(5):
        assert lengthen(window, 12.0 + step)
        assert session.after_paint.waiting
        assert shown(window) == before
    headline = label(window, "spacing_headline")
    assert session.readout is not None
    assert headline == session.readout.verdict.headline
    qtbot.waitUntil(lambda: not session.after_paint.waiting)
    assert shown(window) != before
    assert {one.id for one in session.readout.findings} <= {one.id for one in shown(window)}


def test_an_edit_whose_findings_break_is_taken_back_after_it_was_painted(
    make_window: Callable[..., MainWindow], qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = make_window()
    session, said = window.session, []
    session.after_paint.flush()
    session.message.connect(lambda text, _: said.append(text))
    before = session.workbook

    def breaks(_: object) -> tuple[Finding, ...]:
        raise BadInput("A window of 1100 mm cannot be.")

    monkeypatch.setattr("farrail.readouts.read.front_findings", breaks)
    assert lengthen(window, 12.0)
    qtbot.waitUntil(lambda: session.workbook is before)
    # What broke breaks of the train before as well here, and is told again.
    assert [text for text in said if "taken back" in text and "1100" in text]


def test_steps_give_the_interface_its_turn_and_begin_again_after_a_change(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    clock = iter(range(10_000))
    # Each look at the clock is a whole slice later: one step a slice.
    monkeypatch.setattr("farrail.ui.after_paint.time.perf_counter", lambda: next(clock) * 0.0015)
    done: list[str] = []

    def long() -> Iterator[None]:
        for number in range(4):
            done.append(f"long {number}")
            yield

    queue = AfterPaint(lambda error: done.append(str(error)))
    queue.ask(long)
    queue.ask(lambda: done.append("short"))
    queue._slice()
    queue._slice()
    assert done
    assert "short" not in done
    queue.ask(long)
    queue.flush()
    assert done[-5:] == ["long 0", "long 1", "long 2", "long 3", "short"]
    assert not queue.waiting


def test_what_breaks_is_told_and_the_rest_is_done(qtbot: QtBot) -> None:
    told: list[BaseException] = []
    done: list[str] = []
    queue = AfterPaint(told.append)

    def breaks() -> None:
        raise ZeroDivisionError("by zero")

    queue.ask(breaks)
    queue.ask(lambda: done.append("after"))
    qtbot.waitUntil(lambda: not queue.waiting)
    assert [type(error) for error in told] == [ZeroDivisionError]
    assert done == ["after"]


def test_a_station_is_made_when_it_is_first_shown(make_window: Callable[..., MainWindow]) -> None:
    window = make_window()
    assert [station.key for station in window.stations.made_so_far] == ["spacing"]
    window.stations.show_station("compare")
    assert [station.key for station in window.stations.made_so_far] == ["spacing", "compare"]
    assert window.stations.current.key == "compare"
    assert [
        (entry.key, station.key) for entry, station in zip(window.stations.entries, window.stations.all, strict=True)
    ] == [(entry.key, entry.key) for entry in window.stations.entries]
