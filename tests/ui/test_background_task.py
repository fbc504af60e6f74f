"""Answers of background work are shown only while their question is the current one."""

import os
import random
import time
from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from tests.ui.hands import label, ledger, press, rows

from farrail.cancel import Cancel
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.cameras import Camera
from farrail.planning.ask import Wish, ask
from farrail.planning.combinations import combinations_of
from farrail.planning.reach import reach_of
from farrail.planning.rings import filters_of, lenses_of, plan_rings, step_rings_of
from farrail.readouts.ranges import ranges_of
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.stations.close_up_words import answer_row
from farrail.ui.window import MainWindow
from farrail.workbook.edits.shelf import SetField, SetKitPrice
from farrail.workbook.edits.trains import RemoveTrain, SetFNumber
from farrail.workbook.workbook import Workbook, empty_workbook

MakeWindow = Callable[..., MainWindow]
# So many random actions; 3,000 take about 20 minutes.
ACTIONS = int(os.environ.get("FAR_RAIL_RUNS", "40"))


def test_an_answer_to_an_earlier_question_is_not_delivered(qtbot: QtBot) -> None:
    asked = [1]
    told: list[object] = []
    task = BackgroundTask(lambda: asked[0])
    task.answered.connect(told.append)
    task.outdated.connect(lambda: told.append("outdated"))
    task.begin(lambda _: "of one")
    asked[0] = 2
    task.wait()
    assert told == ["outdated"]
    task.begin(lambda _: "of two")
    task.wait()
    assert told == ["outdated", "of two"]
    asked[0] = 3
    assert not task.asked
    task.check()
    task.check()
    assert told == ["outdated", "of two", "outdated"]


def test_a_new_question_cancels_the_work_for_the_old(qtbot: QtBot) -> None:
    told: list[object] = []
    task = BackgroundTask(lambda: "always the same")
    task.answered.connect(told.append)
    seen: list[Cancel] = []

    def slow(cancel: Cancel) -> object:
        seen.append(cancel)
        while not cancel.is_set():
            pass
        return "late"

    task.begin(slow)
    task.begin(lambda _: "second")
    task.wait()
    qtbot.waitUntil(lambda: seen[0].is_set())
    assert told == ["second"]


def test_equal_parts_are_the_same_only_when_they_are_one() -> None:
    """A part edited and edited back is another object: what was worked out is worked out again, never wrongly kept."""
    shelf = demo_workbook().shelf
    assert Same(shelf) == Same(list(shelf))
    assert Same(shelf) != Same([*shelf[:-1], shelf[-1].model_copy()])
    assert Same(shelf) != Same(shelf[:-1])


def settled(window: MainWindow) -> None:
    window.close_up.wait()
    window.front.wait()
    QApplication.processEvents()


def begin(window: MainWindow, station: str, page: str, go: str, qtbot: QtBot) -> None:
    window.stations.show_station(station)
    press(window, page, qtbot)
    press(window, go, qtbot)


ASK = ("close_up", "show_ask", "ask_go")
RINGS = ("front", "show_rings", "plan_rings")


@pytest.mark.parametrize("waits", [True, False])
def test_a_part_set_to_wanted_removes_answers_shown_or_on_their_way(
    make_window: MakeWindow, qtbot: QtBot, waits: bool
) -> None:
    window = make_window(train="barnacles")
    begin(window, *ASK, qtbot)
    if waits:
        settled(window)
        before = rows(ledger(window, "ask_answers"))
        assert before
        # No combination contains a spacer: its note changes no answer.
        window.session.do(SetField("spacer-5", "note", "scratched"))
        assert rows(ledger(window, "ask_answers")) == before
        window.stations.show_station("parts")
    window.session.do(SetField("tube-35", "status", "wanted"))
    window.stations.show_station("close_up")
    settled(window)
    assert not rows(ledger(window, "ask_answers"))
    assert "search again" in label(window, "ask_text")


def test_a_ring_plan_is_removed_with_its_workbook(make_window: MakeWindow, qtbot: QtBot) -> None:
    window = make_window(train="sea-stacks")
    begin(window, *RINGS, qtbot)
    window.session.replace(empty_workbook(), None, None, None)
    settled(window)
    assert not rows(ledger(window, "front_rings"))


def test_fixes_return_with_their_train(make_window: MakeWindow) -> None:
    window = make_window(train="sea-stacks")
    window.stations.show_station("front")
    settled(window)
    before = rows(ledger(window, "front_remedies"))
    assert before
    window.session.do(RemoveTrain("sea-stacks"))
    settled(window)
    window.session.undo()
    window.session.show_train("sea-stacks")
    settled(window)
    assert rows(ledger(window, "front_remedies")) == before


# After any actions and a rest, the visible answers equal fresh ones

PARTS = ("tube-35", "tube-21", "close-up-2", "kittiwake-90", "brae-50", "spacer-5", "polariser-105")
TRAINS = ("barnacles", "sea-stacks", "witch-broom")


def act(window: MainWindow, chance: random.Random, qtbot: QtBot) -> None:
    session = window.session
    train = session.train
    owned = [part for part in PARTS if part in session.workbook.by_id]
    number = chance.randrange(9)
    if number == 0 and train is not None:
        session.do(SetFNumber(train.id, chance.choice((2.8, 4.0, 8.0, 11.0))))
    elif number in (1, 2) and owned:
        session.do(SetField(chance.choice(owned), "status", chance.choice(("owned", "wanted"))))
    elif number == 3:
        session.undo()
    elif number == 4:
        session.redo()
    elif number == 5:
        session.show_train(chance.choice(TRAINS))
    elif number == 6:
        window.stations.show_station(chance.choice(("close_up", "front", "parts", "light")))
    elif number == 7:
        session.do(SetKitPrice("ring set", chance.choice((20.0, 45.0))))
    else:
        begin(window, *chance.choice((ASK, RINGS)), qtbot)


def compare(window: MainWindow) -> None:
    """Compare every answer that is shown with one worked out here and now."""
    settled(window)
    session = window.session
    workbook, train = session.workbook, session.train
    shown = rows(ledger(window, "ask_answers"))
    if shown:
        assert train is not None
        camera = workbook.by_id[train.camera or ""]
        assert isinstance(camera, Camera)
        page = window.close_up.ask
        wish = Wish(float(page.width_.text() or page.width_.placeholderText()), 0.0, 99.0)
        fresh = ask(wish, workbook.by_id, camera, train.conditions.f_number)
        found = fresh.answers or fresh.misses
        assert [row[0] for row in shown] == [answer_row(item, n).cells[0].text for n, item in enumerate(found)]
    rings = rows(ledger(window, "front_rings"))
    if rings:
        plans = plan_rings(lenses_of(workbook.by_id), step_rings_of(workbook.by_id), workbook.kit_prices,
                           filters_of(workbook.by_id))  # fmt: skip
        assert [row[0] for row in rings][: len(plans)] == [f"{plan.main_mm:g} mm" for plan in plans]
    report = session.ranges
    if report is not None and train is not None:
        for key, spread in ranges_of(train, workbook.by_id).items():
            shown_as = report.spread_of(key)
            assert shown_as is not None, key
            assert (shown_as.low, shown_as.high) == pytest.approx((spread.low, spread.high)), key


@pytest.mark.parametrize("seed", [5])
def test_after_any_actions_what_is_shown_equals_a_fresh_answer(
    make_window: MakeWindow, qtbot: QtBot, seed: int
) -> None:
    chance = random.Random(seed)
    window = make_window(train="barnacles")
    for number in range(ACTIONS):
        act(window, chance, qtbot)
        if number % 5 == 4:
            compare(window)
    assert isinstance(window.session.workbook, Workbook)


def test_reach_can_be_stopped() -> None:
    from farrail.cancel import Cancelled

    workbook = demo_workbook()
    camera = workbook.by_id["skua-full"]
    assert isinstance(camera, Camera)
    with pytest.raises(Cancelled):
        combinations_of(workbook.by_id, camera, stopped=lambda: True)
    found = combinations_of(workbook.by_id, camera)
    with pytest.raises(Cancelled):
        reach_of(found, stopped=lambda: True)


def test_pieces_of_work_take_turns(qtbot: QtBot) -> None:
    """Never two at a time; one that looks at its flag lets a shorter one finish first, and one that raises ends."""
    at_work, most, ended = [0], [0], []

    def piece(name: str, steps: int) -> Callable[[Cancel], object]:
        def work(cancel: Cancel) -> object:
            for _ in range(steps):
                at_work[0] += 1
                most[0] = max(most[0], at_work[0])
                time.sleep(0.02)
                at_work[0] -= 1
                assert not cancel.is_set()
            ended.append(name)
            if name == "broken":
                raise ValueError(name)
            return name

        return work

    tasks = [BackgroundTask(lambda: 1) for _ in range(3)]
    for task, (name, steps) in zip(tasks, (("long", 40), ("short", 3), ("broken", 2)), strict=True):
        task.begin(piece(name, steps))
    for task in tasks:
        task.wait()
    assert most == [1]
    assert ended[-1] == "long"
    assert sorted(ended) == ["broken", "long", "short"]
